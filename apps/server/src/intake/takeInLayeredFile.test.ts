import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { encodeOpenRaster, encodePsd, readLayeredFile } from '@zographos/formats/images';
import { DEFAULT_LIMITS } from '@zographos/formats/meshes';
import { ENDPOINTS, layeredFile, PATHS, type LayeredFileTaken } from '@zographos/contracts';
import { TestServer } from '../testing/testServer.ts';
import { reliefProject, type ReliefProject } from '../testing/meshes.ts';

let server: TestServer;
let project: ReliefProject;
beforeAll(async () => {
  server = await TestServer.startWithWorker();
  project = await reliefProject(server);
});
afterAll(() => server.stop());

const size = { width: 64, height: 64 };
const painted = (background: { r: number; g: number; b: number; alpha: number }): Promise<Buffer> =>
  sharp({ create: { ...size, channels: 4, background } })
    .png()
    .toBuffer();
const red = await painted({ r: 200, g: 30, b: 20, alpha: 1 });
const clear = await painted({ r: 0, g: 0, b: 0, alpha: 0 });

async function send(name: string, bytes: Uint8Array): Promise<Response> {
  const form = new FormData();
  form.append('files', new Blob([Buffer.from(bytes)]), name);
  return server.fetch(PATHS.layeredFile(project.projectId), { method: 'POST', body: form });
}
const taken = async (name: string, bytes: Uint8Array): Promise<LayeredFileTaken> => {
  const response = await send(name, bytes);
  expect(response.status).toBe(200);
  return layeredFile.parse(await response.json());
};

describe('the UV guide as a layered file', () => {
  it.each(['ora', 'psd'] as const)(
    'as %s holds maps of the set, islands, a layer to paint on, and edges',
    async (format) => {
      const { id: runId } = await server.call(ENDPOINTS.runTicket, { id: project.ticket.id });
      expect(await server.ended(project.projectId, runId)).toMatchObject({ state: 'done' });
      const { imageSets } = await server.call(ENDPOINTS.readProject, { id: project.projectId });
      const look = { fill: true, inner: true, legend: false };
      const set = imageSets[0]!.id;
      const path = PATHS.guide({ meshes: [project.plane], uvSets: [0], size, tile: 1001, ...look, format, set });
      const response = await server.fetch(path);
      expect(response.status).toBe(200);
      const bytes = new Uint8Array(await response.arrayBuffer());
      const { layers, width } = await readLayeredFile(`guide.${format}`, bytes, DEFAULT_LIMITS);
      expect(width).toBe(64);
      // The empty one is left out by whoever reads it.
      expect(layers.map(({ name, visible }) => [name, visible])).toEqual([
        ['Guide: Normal', true],
        ['Guide: islands', false],
        ['Guide: edges', true],
      ]);
      // The normal of a plane is a flat one nearly everywhere.
      const texels = await sharp(layers[0]!.png).removeAlpha().raw().toBuffer();
      expect(texels[2]).toBeGreaterThan(200);
      // What comes back without anything painted is told so.
      const back = await send(`guide.${format}`, bytes);
      expect([back.status, await back.text()]).toEqual([422, expect.stringContaining('Paint on a layer of its own')]);
    },
  );
});

describe('a layered file', () => {
  it('comes in layer by layer, and again as their next revisions', async () => {
    const layers = [
      { name: 'Guide: edges', visible: true, png: red },
      { name: 'Signs', visible: true, png: red },
      { name: 'Signs', visible: false, png: red },
      { name: 'Empty', visible: true, png: clear },
    ];
    const first = await taken('plane.1001.ora', await encodeOpenRaster(size, layers));
    expect(first).toMatchObject({ name: 'plane.1001', notes: [] });
    expect(first.layers.map(({ name, visible }) => [name, visible])).toEqual([
      ['Signs', true],
      ['Signs', false],
    ]);
    const [{ image } = { image: '' }] = first.layers;
    expect(await server.call(ENDPOINTS.readRevisions, { id: image })).toHaveLength(1);
    const green = await painted({ r: 20, g: 200, b: 30, alpha: 1 });
    const again = await taken(
      'plane.1001.ora',
      await encodeOpenRaster(size, [...layers.slice(0, 1), { name: 'Signs', visible: true, png: green }]),
    );
    expect(again.layers.map((layer) => layer.image)).toEqual([image]);
    expect(await server.call(ENDPOINTS.readRevisions, { id: image })).toHaveLength(2);
    const { assets } = await server.call(ENDPOINTS.readProject, { id: project.projectId });
    expect(assets.find(({ id }) => id === image)).toMatchObject({ name: 'plane.1001, Signs', colorSpace: 'srgb' });
  });

  it('that cannot be read is refused with the way out', async () => {
    const psd = encodePsd(size, [{ name: 'a', visible: true, rgba: new Uint8ClampedArray(64 * 64 * 4).fill(255) }]);
    psd[25] = 4;
    const response = await send('a.psd', psd);
    expect([response.status, await response.text()]).toEqual([
      422,
      expect.stringContaining('only RGB and grey are read'),
    ]);
    expect((await send('a.tif', psd)).status).toBe(422);
  });
});
