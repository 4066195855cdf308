import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ENDPOINTS, PATHS, type Ticket } from '@zographos/contracts';
import { PLAIN_BRUSH } from '@zographos/core/layers';
import {
  manifest,
  parseSettings,
  parseTicketFile,
  READY_PROFILES,
  recordOfStroke,
  strokeRecord,
  tilingSettings,
} from '@zographos/operations';
import { BlobStore } from '../blobs/blobStore.ts';
import { reliefProject, type ReliefProject } from '../testing/meshes.ts';
import { TestServer } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.startWithWorker();
});
afterAll(() => server.stop());

const size = { width: 64, height: 64 };
const read = (projectId: string) => server.call(ENDPOINTS.readProject, { id: projectId });
const paint = (id: string, values: object, mask = {}): object => ({ id, name: id, content: 'plain', values, mask });

/** A baked set, and a ticket that lays layers on it. */
async function stack(layers: object[], more: object = {}, baked: ReliefProject | null = null) {
  const project = baked ?? (await reliefProject(server));
  const { projectId, ticket } = project;
  if (!baked) await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: ticket.id })).id);
  const layered = await server.call(
    ENDPOINTS.createTicket,
    { id: projectId },
    {
      name: 'Painted',
      operation: 'layers',
      settings: parseSettings('layers', { size, layers, ...more }),
      inputs: { receivers: [], sources: [] },
      set: { id: ticket.imageSetId },
    },
  );
  return { ...project, layered };
}

/** Runs a ticket, with whatever has to be made before. */
async function run(projectId: string, { id }: Ticket): Promise<void> {
  await server.call(ENDPOINTS.runTicket, { id });
  for (;;) {
    const { runs } = await read(projectId);
    const own = runs.find(({ ticketId }) => ticketId === id);
    const failed = runs.find(({ state }) => state === 'failed');
    if (failed) throw new Error(failed.error!.message);
    if (own?.state === 'done') return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

describe('layers', () => {
  it('lie over the baked maps, which stay: each place may hold both', async () => {
    const maps = { id: 'maps', name: 'Baked', content: 'maps', channels: ['normal'] };
    const { projectId, layered, plane } = await stack([maps, paint('red', { basecolor: '#8f3b2a', height: 0.2 })]);
    expect(layered.inputs.receivers).toEqual([plane]);
    await run(projectId, layered);
    const { imageSets, tickets } = await read(projectId);
    const kinds = imageSets[0]!.maps.map(({ kind, layered: isLayered }) => `${kind}${isLayered ? ' layered' : ''}`);
    expect(kinds.sort()).toEqual(['basecolor layered', 'height layered', 'normal', 'normal layered']);
    // Nothing is out of date: the layers go by the baked map, not by what they have made of it.
    const keyOf = (kind: string, isLayered: boolean) =>
      imageSets[0]!.maps.find((map) => map.kind === kind && map.layered === isLayered)!.revisions[0]!.key;
    const ticketKeys = tickets.map(({ key }) => key);
    expect(ticketKeys).toContain(keyOf('normal', true));
    expect(ticketKeys).toContain(keyOf('normal', false));
    const { id } = imageSets[0]!.maps.find(({ kind }) => kind === 'basecolor')!.revisions[0]!;
    const response = await server.fetch(PATHS.download(id, 'png8'));
    const raw = await sharp(new Uint8Array(await response.arrayBuffer()))
      .raw()
      .toBuffer();
    expect([...raw.subarray(0, 3)]).toEqual([0x8f, 0x3b, 0x2a]);
  });

  it('have what their masks go by baked first, as an ordinary map of the set', async () => {
    const worn = {
      steps: [
        { measure: 'wear', radius: 2 },
        { measure: 'dust', amount: 0.5, combine: 'screen' },
      ],
    };
    const { projectId, layered } = await stack([
      paint('red', { roughness: 0.5 }),
      paint('bare', { roughness: 0.2 }, worn),
    ]);
    await run(projectId, layered);
    const { imageSets, tickets } = await read(projectId);
    const baked = imageSets[0]!.maps.filter((map) => !map.layered).map(({ kind }) => kind);
    expect(baked.sort()).toEqual(['ao', 'curvature', 'normal', 'sky']);
    const bake = tickets.find(({ name }) => name.endsWith('for its layers'))!;
    expect(bake.settings).toMatchObject({ maps: ['curvature', 'ao', 'sky'], size });
    // Baked as the set is: from the same source.
    expect(bake.inputs.sources).toEqual(tickets[0]!.inputs.sources);
    const now = tickets.find(({ id }) => id === layered.id)!;
    expect(now.settings).toMatchObject({ measured: [{ kind: 'ao' }, { kind: 'curvature' }, { kind: 'sky' }] });
  });

  it('are out of date once a map that they go by is another', async () => {
    const { projectId, layered, ticket } = await stack([
      { id: 'maps', name: 'Baked', content: 'maps', channels: ['normal'] },
    ]);
    await run(projectId, layered);
    const changed = { version: ticket.version, settings: { ...ticket.settings, samples: 2 } };
    const bake = await server.call(ENDPOINTS.changeTicket, { id: ticket.id }, changed);
    await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: bake.id })).id);
    const { imageSets, tickets } = await read(projectId);
    const [newest] = imageSets[0]!.maps.find(({ layered: is }) => is)!.revisions;
    expect(tickets.find(({ id }) => id === layered.id)!.key).not.toBe(newest!.key);
    await run(projectId, layered);
    const after = await read(projectId);
    expect(after.imageSets[0]!.maps.find(({ layered: is }) => is)!.revisions).toHaveLength(2);
  });

  it('painted with a tiling material are kept as a coating, and laid on elsewhere with that material', async () => {
    const project = await reliefProject(server);
    const { projectId } = project;
    const oak = await server.call(
      ENDPOINTS.createTicket,
      { id: projectId },
      {
        ...{ name: 'Oak', operation: 'field' as const, set: { name: 'Oak' } },
        settings: parseSettings('field', { layers: [{ kind: 'bricks' }], size, maps: [{ kind: 'roughness' }] }),
        inputs: { receivers: [], sources: [], pictures: [] },
      },
    );
    await run(projectId, oak);
    const tiling = tilingSettings.parse({ material: 0, channels: ['roughness'], projection: { by: 'uv' } });
    const stroke = recordOfStroke({
      ...{ brush: { ...PLAIN_BRUSH, radius: 200, hardness: 1 }, paint: { tiling }, seed: 1 },
      points: Float32Array.of(0, 0, 0, 0, 0, 1, 1),
    });
    const { hash } = await server.call(ENDPOINTS.keepStroke, { id: projectId }, stroke);
    const painted = { id: 'p', name: 'Painted', content: 'painted', channels: ['roughness'], strokes: [hash] };
    const { layered } = await stack([painted], { materials: [{ name: '', set: oak.imageSetId }] }, project);
    await run(projectId, layered);
    const { imageSets } = await read(projectId);
    const own = imageSets.find(({ id }) => id === layered.imageSetId)!;
    expect(own.maps.find(({ kind, layered: is }) => kind === 'roughness' && is)!.revisions).toHaveLength(1);
    const kept = await server.call(ENDPOINTS.keepCoating, { id: layered.id }, { layerId: 'p', name: 'Oak patches' });
    const other = await server.call(ENDPOINTS.createProject, {}, { name: 'Another quay' });
    const used = await server.call(
      ENDPOINTS.useCoating,
      { id: other.id, coatingId: kept.id },
      { firstPicture: 0, firstMaterial: 2 },
    );
    expect(used.materials).toHaveLength(1);
    const [layer] = used.layers;
    const [name] = layer?.content === 'painted' ? layer.strokes : [];
    const moved = strokeRecord.parse(await (await server.fetch(PATHS.blob(name!))).json());
    expect(moved.paint).toEqual({ tiling: { ...tiling, material: 2 } });
  });

  it('are delivered as masks in one file, the tiling materials beside it, and the manifest says which is which', async () => {
    const project = await reliefProject(server);
    const { projectId } = project;
    const field = (settings: object) => ({
      ...{ name: 'Rust', operation: 'field' as const, set: { name: 'Rust' } },
      settings: parseSettings('field', { layers: [{ kind: 'bricks' }], size, ...settings }),
      inputs: { receivers: [], sources: [], pictures: [] },
    });
    const rust = await server.call(ENDPOINTS.createTicket, { id: projectId }, field({ maps: [{ kind: 'roughness' }] }));
    await run(projectId, rust);
    await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: project.ticket.id })).id);
    const half = { steps: [{ measure: 'axis', axis: [1, 0, 0], from: -1e-3, to: 1e-3 }] };
    const { layered } = await stack(
      [
        { id: 't', name: 'Rust', content: 'tiling', material: 0, channels: ['roughness'] },
        paint('rust lies here', { maskred: 1 }, half),
        paint('moss lies here', { maskalpha: 0.25 }),
      ],
      { materials: [{ name: '', set: rust.imageSetId }] },
      project,
    );
    await run(projectId, layered);
    const profile = READY_PROFILES.find(({ name }) => name.startsWith('Masks and tiling'))!;
    const sets = [layered.imageSetId, rust.imageSetId];
    const { id } = await server.call(ENDPOINTS.createDelivery, { id: projectId }, { profile, sets });
    expect(await server.ended(projectId, id)).toMatchObject({ state: 'done' });
    const files = unzipSync(new Uint8Array(await (await server.fetch(PATHS.archive(id))).arrayBuffer()));
    const told = manifest.parse(JSON.parse(Buffer.from(files['manifest.json']!).toString()));
    const masks = told.files.find(({ path }) => path.endsWith('_own-masks.png'))!;
    expect(told.files.some(({ path }) => path.startsWith('Rust/'))).toBe(true);
    expect(masks.made.join(' ')).toMatch(/rust lies here.*moss lies here|moss lies here.*rust lies here/s);
    const { data, info } = await sharp(files[masks.path]).raw().toBuffer({ resolveWithObject: true });
    expect(info).toMatchObject({ width: 64, height: 64, channels: 4 });
    const texel = (x: number): number[] => [...data.subarray((32 * 64 + x) * 4, (32 * 64 + x) * 4 + 4)];
    // Red where the first lies, nothing in green and blue, a quarter everywhere in alpha; colours are not touched by it.
    expect([texel(4), texel(59)]).toEqual([
      [0, 0, 0, 64],
      [255, 0, 0, 64],
    ]);
  });

  it('lay flat sets down at their real size, and say what is gone', async () => {
    const project = await reliefProject(server);
    const { projectId } = project;
    const field = await server.call(
      ENDPOINTS.createTicket,
      { id: projectId },
      {
        name: 'Grain',
        operation: 'field',
        settings: parseSettings('field', { maps: [{ kind: 'roughness' }], layers: [{ kind: 'bricks' }], size }),
        inputs: { receivers: [], sources: [], pictures: [] },
        set: { name: 'Grain' },
      },
    );
    await run(projectId, field);
    await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: project.ticket.id })).id);
    const tiling = { id: 't', name: 'Grain', content: 'tiling', material: 0, channels: ['roughness'] };
    const { layered } = await stack([tiling], { materials: [{ name: '', set: field.imageSetId }] }, project);
    expect(layered.settings).toMatchObject({ materials: [{ name: 'Grain', maps: { roughness: 0 } }] });
    await run(projectId, layered);
    const gone = await stack([tiling], { materials: [{ name: 'Lost', set: layered.id }] }, project);
    await expect(run(projectId, gone.layered)).rejects.toThrow('“Lost” has no maps any more');
  });

  it('are painted with strokes that are kept with the project, once however often they are sent', async () => {
    const points = (value: number): Float32Array => Float32Array.of(value, 0, 0, 0, 0, 1, 1);
    const brush = { ...PLAIN_BRUSH, radius: 0.4, hardness: 1 };
    const record = recordOfStroke({ brush, paint: { roughness: 1 }, points: points(0.5), seed: 0 });
    const project = await reliefProject(server);
    const { projectId } = project;
    await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: project.ticket.id })).id);
    const keep = () => server.call(ENDPOINTS.keepStroke, { id: projectId }, record);
    const { hash } = await keep();
    expect(await keep()).toEqual({ hash });
    const painted = { id: 'p', name: 'p', content: 'painted', channels: ['roughness'], strokes: [hash] };
    const { layered } = await stack([paint('ground', { roughness: 0 }), painted], {}, project);
    await run(projectId, layered);
    const { imageSets } = await read(projectId);
    const { histograms } = imageSets[0]!.maps.find(({ kind }) => kind === 'roughness')!.revisions[0]!;
    // A disk of 0.4 in a square of 2.
    expect(histograms[0]!.mean).toBeCloseTo((Math.PI * 0.16) / 4, 1.9);
    // The bytes are not swept while the project is there.
    await new BlobStore(server.database).sweep('0 seconds');
    expect((await server.fetch(PATHS.blob(hash))).status).toBe(200);
    const { layered: lost } = await stack([{ ...painted, strokes: ['0'.repeat(64)] }], {}, project);
    await expect(run(projectId, lost)).rejects.toThrow('A stroke that was painted is not there');
    const bad = { ...record, points: 'AAAA' };
    await expect(server.call(ENDPOINTS.keepStroke, { id: projectId }, bad)).rejects.toThrow('finite numbers');
  });

  it('are saved as a ticket for the command line', async () => {
    const { layered } = await stack([paint('red', { basecolor: '#8f3b2a' })]);
    const response = await server.fetch(PATHS.ticketFile(layered.id));
    const file = parseTicketFile('ticket.json', await response.text());
    expect(file).toMatchObject({ operation: 'layers', inputs: { receivers: [{ file: 'plane.obj' }], pictures: [] } });
  });
});
