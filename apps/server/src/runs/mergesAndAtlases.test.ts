import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FIRST_TILE } from '@zographos/core/uv';
import { unpackMesh } from '@zographos/formats/packed-mesh';
import { DEFAULT_LAYOUT, DEFAULT_MERGE, proposeSets, ticketsOfSet, type AtlasSettings } from '@zographos/operations';
import { ENDPOINTS, PATHS, type ImageAsset, type MeshAsset, type Project, type Run } from '@zographos/contracts';
import sharp from 'sharp';
import { PLANE_OBJ, reliefProject } from '../testing/meshes.ts';
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

const project = (id: string): Promise<Project> => server.call(ENDPOINTS.readProject, { id });
const meshNamed = ({ assets }: Project, name: string): MeshAsset =>
  assets.find((asset): asset is MeshAsset => asset.kind === 'mesh' && asset.name === name)!;

/** The colour in the middle of the picture, or at a place of it (0 to 1 from the upper left), as 8-bit numbers. */
async function colorAt(revisionId: string, x = 0.5, y = 0.5): Promise<number[]> {
  const png = await (await server.fetch(PATHS.download(revisionId, 'png8'))).arrayBuffer();
  const { data, info } = await sharp(Buffer.from(png)).raw().toBuffer({ resolveWithObject: true });
  const at = (Math.floor(y * info.height) * info.width + Math.floor(x * info.width)) * info.channels;
  return [...data.subarray(at, at + info.channels)];
}

describe('a merge', () => {
  it('makes one mesh of one material, and a ticket that bakes the colours of the old ones', async () => {
    const { id } = await server.call(ENDPOINTS.createProject, {}, { name: 'Kit' });
    // Two squares side by side, one red and one green.
    const beside = PLANE_OBJ.replace('o plane', 'mtllib kit.mtl\no red\nusemtl red');
    const other = PLANE_OBJ.replace('o plane', 'mtllib kit.mtl\no green\nusemtl green').replace(
      /^v (\S+)/gm,
      (_, x) => `v ${Number(x) + 3}`,
    );
    const mtl = 'newmtl red\nKd 1 0 0\nnewmtl green\nKd 0 1 0\n';
    await server.send(id, { 'red.obj': beside, 'green.obj': other, 'kit.mtl': mtl });
    const before = await project(id);
    const meshes = ['red', 'green'].map((name) => meshNamed(before, name).id);
    const layout = { ...DEFAULT_LAYOUT, size: { width: 128, height: 128 }, gap: 4, edge: 4 };
    const settings = {
      ...DEFAULT_MERGE,
      name: 'pair',
      maps: ['basecolor' as const],
      layout,
      size: layout.size,
      samples: 1,
    };
    const run = await server.call(ENDPOINTS.createMerge, { id }, { meshes, settings });
    const done = await server.ended(id, run.id);
    expect(done).toMatchObject({
      state: 'done',
      report: { before: { drawCalls: 2, materials: 2 }, after: { drawCalls: 1, materials: 1 } },
    });
    const after = await project(id);
    const ticket = after.tickets.find(({ name }) => name === 'pair, merged')!;
    // Its bake is queued once the merge is over.
    const bakes = async (): Promise<Run[]> => (await project(id)).runs.filter(({ ticketId }) => ticketId === ticket.id);
    await expect.poll(async () => (await bakes()).length, { timeout: 20_000 }).toBe(1);
    const [bake] = await bakes();
    expect((await server.ended(id, bake!.id)).state).toBe('done');
    const pair = meshNamed(after, 'pair');
    expect(pair.inspection).toMatchObject({ triangles: 4, slots: ['pair'] });
    expect(after.assets).toHaveLength(before.assets.length + 1);
    const mesh = unpackMesh(new Uint8Array(await (await server.fetch(PATHS.blob(pair.contentHash))).arrayBuffer()));
    const [map] = (await project(id)).imageSets.find(({ receiverId }) => receiverId === pair.id)!.maps;
    for (const t of [0, 2]) {
      const mean = (k: number): number =>
        [0, 1, 2].reduce((sum, c) => sum + mesh.uvSets[0]!.coords[mesh.indices[t * 3 + c]! * 2 + k]! / 3, 0);
      const isRed = mesh.positions[mesh.indices[t * 3]! * 3]! < 1.5;
      expect(await colorAt(map!.revisions[0]!.id, mean(0), 1 - mean(1))).toEqual(isRed ? [255, 0, 0] : [0, 255, 0]);
    }
  });
});

describe('an atlas', () => {
  it('holds its sets texel for texel, moves UVs by the same placement, and knows when it is out of date', async () => {
    const { projectId, ticket, plane } = await reliefProject(server, { maps: ['normal', 'coverage'] });
    const first = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    await server.ended(projectId, first.id);
    const { imageSets } = await project(projectId);
    const [set] = imageSets;
    const placed = { imageSet: set!.id, name: set!.name, width: 64, height: 64 };
    const settings: AtlasSettings = {
      name: 'Quay atlas',
      sets: [placed],
      size: { width: 128, height: 128 },
      arrangement: [{ x: 64, y: 0, width: 64, height: 64 }],
      halvings: null,
      resample: false,
    };
    const run = await server.call(ENDPOINTS.createAtlas, { id: projectId }, settings);
    expect(await server.ended(projectId, run.id)).toMatchObject({
      state: 'done',
      report: { maps: ['normal', 'coverage'], neutral: [] },
    });
    const after = await project(projectId);
    const atlas = after.imageSets.find(({ name }) => name === 'Quay atlas')!;
    const mesh = meshNamed(after, 'Quay atlas');
    expect(atlas).toMatchObject({ receiverId: mesh.id, uvSet: 0 });
    const normal = (maps: typeof atlas.maps): string => maps.find(({ kind }) => kind === 'normal')!.revisions[0]!.id;
    // The lower right quarter is the set itself; the rest is the flat normal (common practice, no source).
    expect(await colorAt(normal(atlas.maps), 0.25, 0.25)).toEqual([128, 128, 255]);
    for (const [x, y] of [
      [0.1, 0.2],
      [0.7, 0.9],
    ] as const) {
      expect(await colorAt(normal(atlas.maps), 0.5 + x / 2, 0.5 + y / 2)).toEqual(
        await colorAt(normal(set!.maps), x, y),
      );
    }
    // Scaled 0.5 and moved by half a tile, exactly (common practice, no source).
    const [was, is] = await Promise.all(
      [meshNamed(after, 'plane'), mesh].map(async ({ contentHash }) => {
        const bytes = await (await server.fetch(PATHS.blob(contentHash))).arrayBuffer();
        return unpackMesh(new Uint8Array(bytes)).uvSets[0]!.coords;
      }),
    );
    expect([...is!]).toEqual([...was!].map((value, i) => value / 2 + (i % 2 === 0 ? 0.5 : 0)));
    expect(
      atlas.maps.every(({ isOutdated, ticketId, tile }) => !isOutdated && ticketId === null && tile === FIRST_TILE),
    ).toBe(true);

    // Baked anew with other settings, the atlas is out of date; made again, it is the next revision of the same.
    const { version, settings: bake } = (await project(projectId)).tickets.find(({ id }) => id === ticket.id)!;
    await server.call(ENDPOINTS.changeTicket, { id: ticket.id }, { version, settings: { ...bake, samples: 2 } });
    const second = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    await server.ended(projectId, second.id);
    const outdated = (await project(projectId)).imageSets.find(({ id }) => id === atlas.id)!;
    expect(outdated.maps.every(({ isOutdated }) => isOutdated)).toBe(true);
    const again = await server.call(ENDPOINTS.createAtlas, { id: projectId }, settings);
    await server.ended(projectId, again.id);
    const renewed = (await project(projectId)).imageSets.find(({ id }) => id === atlas.id)!;
    expect(renewed.maps.map(({ revisions, isOutdated }) => [revisions.length, isOutdated])).toEqual([
      [2, false],
      [2, false],
    ]);
    expect(meshNamed(await project(projectId), 'plane').id).toBe(plane);
  });

  it('of sets that no mesh carries, made of an imported image, is a set without a mesh', async () => {
    const { id } = await server.call(ENDPOINTS.createProject, {}, { name: 'Quay' });
    const data = Buffer.from(Array.from({ length: 16 * 16 * 3 }, (_, i) => (i * 37 + (i % 3) * 90) % 256));
    const png = await sharp(data, { raw: { width: 16, height: 16, channels: 3 } })
      .png()
      .toBuffer();
    const [asset] = (await server.send(id, { 'deck_ORM.png': png })).assets as [ImageAsset];
    const [proposed] = proposeSets([{ ...asset, kind: asset.imageKind, ...asset.inspection }], []);
    const [made] = ticketsOfSet(proposed!);
    if (made?.operation !== 'seamless') throw new Error('A tile was expected.');
    const ticket = await server.call(
      ENDPOINTS.createTicket,
      { id },
      {
        ...{ name: made.name, operation: made.operation, settings: made.settings, set: { name: proposed!.name } },
        inputs: { receivers: [], sources: [], pictures: made.pictures },
      },
    );
    await server.ended(id, (await server.call(ENDPOINTS.runTicket, { id: ticket.id })).id);
    const run = await server.call(
      ENDPOINTS.createAtlas,
      { id },
      {
        ...{ name: 'Trims', size: { width: 32, height: 32 }, halvings: null, resample: false },
        sets: [{ imageSet: ticket.imageSetId, name: 'deck', width: 16, height: 16 }],
        arrangement: [{ x: 16, y: 16, width: 16, height: 16 }],
      },
    );
    expect(await server.ended(id, run.id)).toMatchObject({ state: 'done', error: null });
    const { imageSets, assets } = await project(id);
    expect(assets.filter(({ kind }) => kind === 'mesh')).toEqual([]);
    const atlas = imageSets.find(({ name }) => name === 'Trims')!;
    expect(atlas).toMatchObject({ receiverId: null });
    // Each channel of the file is a map of its own; the place lies at the upper right.
    for (const [c, kind] of (['ao', 'roughness', 'metallic'] as const).entries()) {
      const { revisions } = atlas.maps.find((map) => map.kind === kind)!;
      const value = data[(3 * 16 + 5) * 3 + c]!;
      expect(await colorAt(revisions[0]!.id, (16 + 5.5) / 32, 3.5 / 32)).toEqual([value, value, value]);
    }
  });

  it('refuses places over the edge, and sets of which there is nothing yet', async () => {
    const { projectId, ticket } = await reliefProject(server);
    const sets = [{ imageSet: ticket.imageSetId, name: 'plane', width: 64, height: 64 }];
    const settings: AtlasSettings = {
      name: 'x',
      sets,
      size: { width: 64, height: 64 },
      arrangement: 'rows',
      halvings: null,
      resample: false,
    };
    await expect(server.call(ENDPOINTS.createAtlas, { id: projectId }, settings)).rejects.toMatchObject({
      code: 'input/bad-settings',
    });
    await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: ticket.id })).id);
    const over = { ...settings, arrangement: [{ x: 1, y: 0, width: 64, height: 64 }] };
    await expect(server.call(ENDPOINTS.createAtlas, { id: projectId }, over)).rejects.toMatchObject({
      message: expect.stringContaining('over the edge') as string,
    });
  });
});
