import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Mesh } from '@zographos/core/mesh';
import { islandNumbers, layoutOf, shiftBy } from '@zographos/core/uv';
import { readMeshFile } from '@zographos/formats/meshes';
import { unpackMesh } from '@zographos/formats/packed-mesh';
import { DEFAULT_LAYOUT, type MeshChange } from '@zographos/operations';
import { reportOf, isBakeTicket, ENDPOINTS, PATHS, type MeshAsset } from '@zographos/contracts';
import { reliefObj, reliefProject } from '../testing/meshes.ts';
import { TestServer } from '../testing/testServer.ts';
import { WorkerProcess } from '../testing/workerProcess.ts';

let server: TestServer;
let worker: WorkerProcess;
beforeAll(async () => {
  server = await TestServer.start();
  worker = await WorkerProcess.start(server.config);
});
afterAll(async () => {
  await worker.stop();
  await server.stop();
});

async function meshOf(id: string, projectId: string): Promise<{ asset: MeshAsset; mesh: Mesh }> {
  const { assets } = await server.call(ENDPOINTS.readProject, { id: projectId });
  const asset = assets.find((each): each is MeshAsset => each.kind === 'mesh' && each.id === id)!;
  const bytes = await (await server.fetch(PATHS.blob(asset.contentHash))).arrayBuffer();
  return { asset, mesh: unpackMesh(new Uint8Array(bytes)) };
}

const settings = { ...DEFAULT_LAYOUT, size: { width: 256, height: 256 }, place: 'last' as const };

describe('a layout', () => {
  it('becomes one more UV set, and what was there stays with its tickets', async () => {
    const { projectId, plane, ticket } = await reliefProject(server);
    const before = await meshOf(plane, projectId);
    const run = await server.call(ENDPOINTS.createLayout, { id: projectId }, { meshes: [plane], settings });
    expect(run).toMatchObject({ operation: 'layout', ticketId: null, meshes: [plane] });
    const done = await server.ended(projectId, run.id);
    expect(done).toMatchObject({ state: 'done', error: null });
    expect(reportOf(done, 'layout')!.coverage).toBeGreaterThan(0.5);
    const { asset, mesh } = await meshOf(plane, projectId);
    expect(asset.inspection.uvSets).toEqual([...before.asset.inspection.uvSets, 'Layout']);
    expect(mesh.uvSets[0]!.coords).toHaveLength((mesh.positions.length / 3) * 2);
    const { tickets } = await server.call(ENDPOINTS.readProject, { id: projectId });
    expect(tickets.filter(isBakeTicket).find(({ id }) => id === ticket.id)!.settings.uvSet).toBe(0);
    const [now, first] = await server.call(ENDPOINTS.readRevisions, { id: plane });
    expect(now!.made).toMatch(/^Unwrap plane onto a new UV set Layout at 256 px/);
    expect(first!.made).toBe('Imported from plane.obj');
  });

  it('is refused on a mesh that is being laid out, and stops when it is cancelled', async () => {
    const { projectId, relief } = await reliefProject(server, {}, reliefObj(220, 0.05));
    const before = await meshOf(relief, projectId);
    const run = await server.call(ENDPOINTS.createLayout, { id: projectId }, { meshes: [relief], settings });
    await expect(
      server.call(ENDPOINTS.createLayout, { id: projectId }, { meshes: [relief], settings }),
    ).rejects.toMatchObject({ code: 'conflict/in-use' });
    await server.call(ENDPOINTS.cancelRun, { id: run.id });
    expect((await server.ended(projectId, run.id)).state).toBe('cancelled');
    expect((await meshOf(relief, projectId)).asset.contentHash).toBe(before.asset.contentHash);
  });

  it('fails when the mesh was changed while it was made', async () => {
    const { projectId, relief } = await reliefProject(server, {}, reliefObj(150, 0.05));
    const run = await server.call(ENDPOINTS.createLayout, { id: projectId }, { meshes: [relief], settings });
    const { asset } = await meshOf(relief, projectId);
    const change: MeshChange = { what: 'add-uv-set', name: 'from above', from: 'z' };
    await server.call(ENDPOINTS.changeMesh, { id: relief }, { from: asset.contentHash, change });
    const ended = await server.ended(projectId, run.id);
    expect(ended).toMatchObject({ state: 'failed', error: { code: 'conflict/changed-elsewhere' } });
    expect((await meshOf(relief, projectId)).asset.inspection.uvSets).toEqual(['from above']);
  });
});

describe('a mesh', () => {
  const change = async (id: string, projectId: string, what: MeshChange): Promise<void> => {
    const { asset } = await meshOf(id, projectId);
    await server.call(ENDPOINTS.changeMesh, { id }, { from: asset.contentHash, change: what });
  };

  it('has its islands moved, and is restored to the byte', async () => {
    const { projectId, plane } = await reliefProject(server);
    const before = await meshOf(plane, projectId);
    await change(plane, projectId, {
      what: 'move-islands',
      uvSet: 0,
      moves: [{ islands: [0], matrix: [...shiftBy(1, 0)] }],
    });
    const moved = await meshOf(plane, projectId);
    expect([...moved.mesh.uvSets[0]!.coords]).toEqual(
      [...before.mesh.uvSets[0]!.coords].map((x, i) => x + (i % 2 ? 0 : 1)),
    );
    expect(moved.asset.inspection.uvTiles).toEqual([[1002]]);
    const stale = { from: before.asset.contentHash, to: before.asset.contentHash };
    await expect(server.call(ENDPOINTS.restoreRevision, { id: plane }, stale)).rejects.toMatchObject({
      code: 'conflict/changed-elsewhere',
    });
    const back = { from: moved.asset.contentHash, to: before.asset.contentHash };
    const restored = await server.call(ENDPOINTS.restoreRevision, { id: plane }, back);
    expect(restored).toMatchObject({ contentHash: before.asset.contentHash, revision: 3 });
  });

  it('keeps tickets on their UV set when sets change places, and a set that is used stays', async () => {
    const { projectId, plane, ticket } = await reliefProject(server);
    await change(plane, projectId, { what: 'add-uv-set', name: 'second', from: 0 });
    await change(plane, projectId, { what: 'order-uv-sets', order: [1, 0] });
    const { tickets, imageSets } = await server.call(ENDPOINTS.readProject, { id: projectId });
    expect(tickets.filter(isBakeTicket)[0]!.settings.uvSet).toBe(1);
    expect(imageSets.find(({ id }) => id === ticket.imageSetId)!.uvSet).toBe(1);
    await expect(change(plane, projectId, { what: 'remove-uv-set', uvSet: 1 })).rejects.toMatchObject({
      code: 'conflict/in-use',
      message: expect.stringContaining('“Tide board normal”') as string,
    });
    await change(plane, projectId, { what: 'remove-uv-set', uvSet: 0 });
    const { tickets: later } = await server.call(ENDPOINTS.readProject, { id: projectId });
    expect(later.filter(isBakeTicket)[0]!.settings.uvSet).toBe(0);
  });

  it('is split and joined with all it has', async () => {
    const { projectId, plane, relief } = await reliefProject(server);
    await change(relief, projectId, { what: 'add-uv-set', name: 'flat', from: 'z' });
    const joined = await server.call(
      ENDPOINTS.joinMeshes,
      { id: projectId },
      { name: 'both', meshes: [plane, relief] },
    );
    const both = await meshOf(joined.id, projectId);
    expect(Math.max(...islandNumbers(layoutOf(both.mesh, 0)))).toBe(1);
    const how = { by: 'islands' as const, uvSet: 0, islands: [0] };
    const pieces = await server.call(ENDPOINTS.splitMesh, { id: joined.id }, { from: both.asset.contentHash, how });
    expect(pieces.map(({ name }) => name)).toEqual(['both, detached', 'both, rest']);
    const [first, whole] = [await meshOf(pieces[0]!.id, projectId), await meshOf(plane, projectId)];
    expect([...first.mesh.uvSets[0]!.coords].sort()).toEqual([...whole.mesh.uvSets[0]!.coords].sort());
    await expect(
      server.call(ENDPOINTS.splitMesh, { id: plane }, { from: whole.asset.contentHash, how: { by: 'part' } }),
    ).rejects.toMatchObject({ code: 'input/bad-request' });
  });
});

/** A change that lets a ticket fill one more tile. */
async function onTile(projectId: string, ticketId: string, tile: number) {
  const { tickets } = await server.call(ENDPOINTS.readProject, { id: projectId });
  const { version, settings } = tickets.filter(isBakeTicket).find(({ id }) => id === ticketId)!;
  const tiles = settings.tiles === 'all' ? [] : settings.tiles;
  return { version, settings: { ...settings, tiles: [...tiles, tile] } };
}

describe('the tiles of a layout', () => {
  it('stay as long as islands or maps are in them, and take their maps along to another number', async () => {
    const { projectId, plane, ticket } = await reliefProject(server, { size: { width: 32, height: 32 } });
    const { id: runId } = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    await server.ended(projectId, runId);
    const two = [1001, 1002].map((number) => ({ number, width: 64, height: 64 }));
    const set = await server.call(ENDPOINTS.setTiles, { id: plane }, { uvSet: 0, tiles: two });
    expect(set.tiles).toEqual(two);
    const { tickets } = await server.call(ENDPOINTS.readProject, { id: projectId });
    expect(tickets.filter(isBakeTicket)[0]!.settings.tileSizes).toMatchObject({ 1001: { width: 64, height: 64 } });
    const without = { uvSet: 0, tiles: [two[1]!] };
    await expect(server.call(ENDPOINTS.setTiles, { id: plane }, without)).rejects.toMatchObject({
      code: 'conflict/tile-filled',
      message: expect.stringContaining('islands and 1 map') as string,
    });
    const { asset } = await meshOf(plane, projectId);
    const change = { from: asset.contentHash, uvSet: 0, tile: 1001, to: 1011, islands: [0] };
    const moved = await server.call(ENDPOINTS.renumberTile, { id: plane }, change);
    expect(moved.kind === 'mesh' && moved.inspection.uvTiles).toEqual([[1011]]);
    const [renumbered] = (await server.call(ENDPOINTS.readProject, { id: projectId })).imageSets;
    expect(renumbered!.maps.map(({ tile, revisions }) => [tile, revisions.length])).toEqual([[1011, 1]]);
    expect(renumbered!.tiles.map(({ number }) => number)).toEqual([1011, 1002]);
    // A tile that maps are in is no place to go, and a refusal moves nothing.
    await server.call(ENDPOINTS.changeTicket, { id: ticket.id }, await onTile(projectId, ticket.id, 1013));
    const { contentHash } = (await meshOf(plane, projectId)).asset;
    const there = { from: contentHash, uvSet: 0, tile: 1011, to: 1013, islands: [0] };
    await expect(server.call(ENDPOINTS.renumberTile, { id: plane }, there)).rejects.toMatchObject({
      code: 'conflict/tile-filled',
    });
    expect((await meshOf(plane, projectId)).asset.contentHash).toBe(contentHash);
  });
});

describe('a mesh as a file', () => {
  it('wears the maps of its layout, and none of another', async () => {
    const { projectId, plane, ticket } = await reliefProject(server, { size: { width: 32, height: 32 } });
    const { id: runId } = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    await server.ended(projectId, runId);
    const glb = await server.fetch(PATHS.wornMesh(ticket.imageSetId, 'inside'));
    const bytes = new Uint8Array(await glb.arrayBuffer());
    const { objects } = await readMeshFile({
      ...{ name: 'plane.glb', bytes, limits: server.config.limits },
      companion: () => Promise.resolve(null),
    });
    expect(objects[0]!.mesh.materials![0]!.pictures.normal).toBeDefined();
    const { asset } = await meshOf(plane, projectId);
    const moves = [
      { islands: [0], matrix: [0.5, 0, 0, 0.5, 0, 0] as [number, number, number, number, number, number] },
    ];
    const change: MeshChange = { what: 'move-islands', uvSet: 0, moves };
    await server.call(ENDPOINTS.changeMesh, { id: plane }, { from: asset.contentHash, change });
    const refused = await server.fetch(PATHS.wornMesh(ticket.imageSetId, 'beside'));
    expect(await refused.json()).toMatchObject({ code: 'input/other-layout' });
  });
});
