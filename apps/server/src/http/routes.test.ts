import sharp from 'sharp';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { apiError, ENDPOINTS, openApiDocument, PATHS, type Endpoint, type MapRevision } from '@zographos/contracts';
import { DEFAULT_LIMITS, readMeshFile } from '@zographos/formats/meshes';
import { IMAGE_FORMAT_NAMES, IMAGE_FORMATS, readImageFile } from '@zographos/formats/images';
import { unshufflePlanes } from '@zographos/formats/tiles';
import { parseTicketFile, READY_PROFILES } from '@zographos/operations';
import { runs } from '../data/entities.ts';
import { reliefProject, type ReliefProject } from '../testing/meshes.ts';
import { TestServer } from '../testing/testServer.ts';

const NOBODY = '00000000-0000-4000-8000-000000000000';
let server: TestServer;
let made: ReliefProject & { runId: string; deliveryId: string; revision: MapRevision; setId: string };

beforeAll(async () => {
  server = await TestServer.startWithWorker();
  const relief = await reliefProject(server);
  const { projectId, ticket } = relief;
  const { id: runId } = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
  expect(await server.ended(projectId, runId)).toMatchObject({ state: 'done' });
  const { imageSets } = await server.call(ENDPOINTS.readProject, { id: projectId });
  const [set] = imageSets;
  const profile = { ...READY_PROFILES[0]!, mesh: 'none' as const };
  const { id: deliveryId } = await server.call(
    ENDPOINTS.createDelivery,
    { id: projectId },
    { profile, sets: [set!.id] },
  );
  expect(await server.ended(projectId, deliveryId)).toMatchObject({ state: 'done' });
  made = { ...relief, runId, deliveryId, revision: set!.maps[0]!.revisions[0]!, setId: set!.id };
});
afterAll(() => server.stop());

async function bytesOf(path: string): Promise<{ bytes: Uint8Array; headers: Headers }> {
  const response = await server.fetch(path);
  expect(response.status, path).toBe(200);
  return { bytes: new Uint8Array(await response.arrayBuffer()), headers: response.headers };
}

const { paths } = openApiDocument() as { paths: Record<string, Record<string, unknown>> };
const documented = Object.entries(paths).flatMap(([path, methods]) =>
  Object.keys(methods).map((method) => [method, path] as const),
);

describe('every route', () => {
  it.each(documented.filter(([, path]) => path.includes('{') && !path.endsWith('/events')))(
    '%s %s answers what it does not know with what, why and the way out',
    async (method, path) => {
      for (const id of [NOBODY, 'not-an-id']) {
        const address = path
          .replace(/\{plane\}/, 'map')
          .replace(/\{(level|column|row)\}/g, '0')
          .replace(/\{hash\}/, 'f'.repeat(64))
          .replace(/\{\w+\}/g, id);
        const isBare = method === 'get' || method === 'delete';
        const response = await server.fetch(address, {
          method: method.toUpperCase(),
          ...(isBare ? {} : { body: '{}', headers: { 'Content-Type': 'application/json' } }),
        });
        const text = await response.text();
        expect(response.status, `${address}: ${text}`).toBeGreaterThanOrEqual(400);
        expect(response.status, `${address}: ${text}`).toBeLessThan(500);
        const { code, message } = apiError.parse(JSON.parse(text));
        expect(code).toMatch(/^(missing|input|conflict)\//);
        expect(message).toMatch(/[.…]$/);
      }
    },
  );

  const taking = Object.entries(ENDPOINTS).filter(([, { body }]) => (body as z.ZodType) instanceof z.ZodObject) as [
    string,
    Endpoint,
  ][];
  it.each(taking)('%s refuses a body that it does not know, by name', async (_, { method, path }) => {
    for (const body of ['{"flavour": 1}', '[]', 'null', '{']) {
      const response = await server.fetch(path.replace(/:\w+/g, NOBODY), {
        ...{ method: method.toUpperCase(), body, headers: { 'Content-Type': 'application/json' } },
      });
      expect(response.status).toBe(422);
      expect(apiError.parse(await response.json()).code).toBe('input/bad-request');
    }
  });

  it('that takes files refuses what is none', async () => {
    const path = PATHS.files(made.projectId);
    const json = await server.fetch(path, {
      method: 'POST',
      body: '{}',
      headers: { 'Content-Type': 'application/json' },
    });
    expect(apiError.parse(await json.json()).message).toContain('multipart/form-data');
    const empty = await server.fetch(path, { method: 'POST', body: new FormData() });
    expect(empty.status).toBe(422);
  });

  it('of a path that is none says so, in JSON', async () => {
    const response = await server.fetch('/api/wharf', { method: 'POST' });
    expect(response.status).toBe(404);
    expect(apiError.parse(await response.json()).code).toBe('missing/not-found');
  });
});

describe('addresses that answer bytes', () => {
  const FOR_EVER = /max-age=31536000.*immutable|immutable.*max-age=31536000/;

  it.each(IMAGE_FORMAT_NAMES)('download as %s is the map, under its name and type', async (format) => {
    const { bytes, headers } = await bytesOf(PATHS.download(made.revision.id, format));
    const { ending, mime } = IMAGE_FORMATS[format];
    expect(headers.get('content-type')).toContain(mime);
    expect(headers.get('content-disposition')).toMatch(new RegExp(`\\.${ending}"?$`));
    const image = await readImageFile(`a.${ending}`, bytes, DEFAULT_LIMITS);
    expect([image.width, image.height]).toEqual([64, 64]);
  });

  it('downloads are given alpha, dither and a background, and refuse other words', async () => {
    const { bytes } = await bytesOf(
      PATHS.download(made.revision.id, 'png8', { alpha: true, dither: true, background: '#ff0000' }),
    );
    expect((await sharp(bytes).metadata()).channels).toBe(4);
    for (const wrong of [{ format: 'bmp' }, { format: 'png8', background: 'mauve' }]) {
      const response = await server.fetch(
        `/api/map-revisions/${made.revision.id}/download?${new URLSearchParams(wrong as Record<string, string>).toString()}`,
      );
      expect(response.status).toBe(422);
    }
  });

  it('tiles are zlib streams for ever, of the map and of its states', async () => {
    const map = await bytesOf(PATHS.tile(made.revision.id, 'map', 0, 0, 0));
    expect(map.headers.get('cache-control')).toMatch(FOR_EVER);
    const samples = unshufflePlanes(map.bytes);
    expect(samples).toHaveLength(64 * 64 * 3);
    for (const value of samples) expect(value >= 0 && value <= 1).toBe(true);
    expect((await bytesOf(PATHS.tile(made.revision.id, 'states', 0, 0, 0))).bytes).toHaveLength(64 * 64);
    for (const [level, column, row] of [
      [9, 0, 0],
      [0, 1, 0],
      [0, 0, -1],
      [0, 0.5, 0],
    ] as const) {
      expect((await server.fetch(PATHS.tile(made.revision.id, 'map', level, column, row))).status).toBe(404);
    }
  });

  it('pictures are PNG of at most the side that is asked for', async () => {
    const { bytes, headers } = await bytesOf(PATHS.picture(made.revision.id, 32));
    expect(headers.get('content-type')).toContain('image/png');
    expect(await sharp(bytes).metadata()).toMatchObject({ width: 32, height: 32, format: 'png' });
    expect((await sharp((await bytesOf(PATHS.picture(made.revision.id, 100_000))).bytes).metadata()).width).toBe(64);
  });

  it('the likeness of a bake is a picture of its views', async () => {
    const { bytes, headers } = await bytesOf(PATHS.likeness(made.runId));
    const { width, height } = await sharp(bytes).metadata();
    // Source, receiver and difference side by side, view below view.
    expect(width % 3).toBe(0);
    expect(height % (width / 3)).toBe(0);
    expect(headers.get('cache-control')).toMatch(FOR_EVER);
  });

  it('a delivery is a ZIP with its manifest, as long as it is said to be', async () => {
    const { bytes, headers } = await bytesOf(PATHS.archive(made.deliveryId));
    expect(Number(headers.get('content-length'))).toBe(bytes.length);
    expect(headers.get('content-disposition')).toMatch(/Tide_board.*\.zip/);
    expect(Object.keys(unzipSync(bytes))).toContain('manifest.json');
    expect((await server.fetch(PATHS.archive(made.runId))).status).toBe(404);
  });

  it('a ticket is a file that the command line reads', async () => {
    const { bytes } = await bytesOf(PATHS.ticketFile(made.ticket.id));
    const ticket = parseTicketFile('a.json', new TextDecoder().decode(bytes));
    expect(ticket).toMatchObject({ operation: 'bake', name: 'Tide board normal' });
  });

  it('blobs and originals are the bytes that came in', async () => {
    const { bytes, headers } = await bytesOf(PATHS.original(made.plane));
    expect(new TextDecoder().decode(bytes)).toContain('o plane');
    expect(headers.get('content-disposition')).toContain('plane.obj');
    const thumbnail = await bytesOf(PATHS.blob(made.revision.thumbnailHash));
    expect(await sharp(thumbnail.bytes).metadata()).toMatchObject({ format: 'png' });
    expect(Number(thumbnail.headers.get('content-length'))).toBe(thumbnail.bytes.length);
  });

  it.each(['glb', 'ply'] as const)('meshes as %s are the meshes', async (format) => {
    const { bytes } = await bytesOf(PATHS.meshFile([made.plane], format));
    const companion = () => Promise.resolve(null);
    const { objects } = await readMeshFile({ name: `a.${format}`, bytes, companion, limits: DEFAULT_LIMITS });
    expect(objects[0]!.mesh.indices).toHaveLength(6);
    expect(objects[0]!.mesh.uvSets).toHaveLength(1);
  });

  it('meshes of a set wear its maps, inside or beside', async () => {
    const inside = await bytesOf(PATHS.wornMesh(made.setId, 'inside'));
    expect(new TextDecoder().decode(inside.bytes.subarray(0, 4))).toBe('glTF');
    const beside = await bytesOf(PATHS.wornMesh(made.setId, 'beside'));
    expect(Object.keys(unzipSync(beside.bytes)).some((name) => name.endsWith('.glb'))).toBe(true);
  });

  it.each([
    ['png', 'image/png'],
    ['tif', 'image/tiff'],
    ['svg', 'image/svg+xml'],
  ] as const)('a layout is drawn as %s', async (format, mime) => {
    const asked = {
      meshes: [made.plane],
      uvSets: [0],
      size: { width: 128, height: 64 },
      tile: 1001,
      fill: true,
      inner: true,
      legend: false,
      format,
    };
    const { bytes, headers } = await bytesOf(PATHS.guide(asked));
    expect(headers.get('content-type')).toContain(mime);
    expect(await sharp(bytes).metadata()).toMatchObject({ width: 128, height: 64 });
  });

  it('a layout or a mesh that is asked for wrongly is refused by the name of what is wrong', async () => {
    for (const [path, name] of [
      [`/api/guide?meshes=${made.plane}&uvSets=0&width=8&height=64&tile=1001&format=png`, 'width'],
      [`/api/guide?meshes=${made.plane}&uvSets=0&width=64&height=64&tile=7&format=png`, 'tile'],
      ['/api/mesh-file?meshes=abc&format=glb', 'meshes'],
      [`/api/mesh-file?meshes=${made.plane}&format=fbx`, 'format'],
      [`/api/mesh-file/worn?set=${made.setId}&pictures=around`, 'pictures'],
    ] as const) {
      const response = await server.fetch(path);
      expect(response.status, path).toBe(422);
      expect(apiError.parse(await response.json()).message, path).toContain(`“${name}`);
    }
  });

  it('the preview of a run is a picture of how far it has come', async () => {
    // A run as short as this one may be over before its first preview is due.
    const preview = await sharp({ create: { width: 8, height: 8, channels: 3, background: 'gray' } })
      .png()
      .toBuffer();
    await server.database.getRepository(runs).update({ id: made.runId }, { preview });
    const { bytes, headers } = await bytesOf(PATHS.preview(made.runId, 1));
    expect(headers.get('content-type')).toContain('image/png');
    expect((await sharp(bytes).metadata()).format).toBe('png');
    expect((await server.fetch(PATHS.preview(made.deliveryId, 1))).status).toBe(404);
  });
});

describe('JSON of the contract', () => {
  it('is described by the server itself, as the contract has it', async () => {
    const response = await server.fetch('/api/openapi.json');
    expect(await response.json()).toEqual(JSON.parse(JSON.stringify(openApiDocument())));
  });

  it('too large is refused before it is read', async () => {
    const before = await server.call(ENDPOINTS.listProjects, {});
    // The answer may come while much is still to be sent, and the connection then ends before it is heard.
    const status = await server
      .fetch('/api/projects', {
        ...{ method: 'POST', headers: { 'Content-Type': 'application/json' } },
        body: JSON.stringify({ name: 'x'.repeat(40_000_000) }),
      })
      .then((response) => response.status)
      .catch(() => 413);
    expect(status).toBeGreaterThanOrEqual(400);
    expect(status).toBeLessThan(500);
    expect(await server.call(ENDPOINTS.listProjects, {})).toEqual(before);
  });

  it('revisions of a mesh, its tiles and its image set are read and changed', async () => {
    const revisions = await server.call(ENDPOINTS.readRevisions, { id: made.plane });
    expect(revisions.map(({ number }) => number)).toEqual([1]);
    const set = (await server.call(ENDPOINTS.readProject, { id: made.projectId })).imageSets.find(
      ({ id }) => id === made.setId,
    )!;
    const named = await server.call(
      ENDPOINTS.changeImageSet,
      { id: made.setId },
      { version: set.version, namePattern: 'T_{set}_{map}_{tile}' },
    );
    expect(named.namePattern).toBe('T_{set}_{map}_{tile}');
    const references = [{ image: NOBODY, x: 0.1, y: -0.2, width: 0.5 }];
    const { version, ...pinned } = await server.call(
      ENDPOINTS.changeImageSet,
      { id: made.setId },
      { version: named.version, references },
    );
    expect([version, pinned.references]).toEqual([named.version + 1, references]);
    const { headers } = await bytesOf(PATHS.download(made.revision.id, 'png8'));
    expect(headers.get('content-disposition')).toMatch(/T_plane_normal_1001\.png/);
    await expect(
      server.call(ENDPOINTS.changeImageSet, { id: made.setId }, { version: set.version, name: 'Late' }),
    ).rejects.toMatchObject({ status: 409 });
  });

  it('finishes are listed, renamed and removed', async () => {
    expect(await server.call(ENDPOINTS.listFinishes, {})).toEqual([]);
    await expect(server.call(ENDPOINTS.changeFinish, { id: NOBODY }, { name: 'Slate' })).rejects.toMatchObject({
      status: 404,
    });
    await expect(
      server.call(ENDPOINTS.keepFinish, { id: made.setId }, { name: 'A', tags: [], tileWidth: null }),
    ).rejects.toMatchObject({
      status: 404,
    });
  });
});
