import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  flatReportOf,
  reportOf,
  ENDPOINTS,
  PATHS,
  readSamplesBody,
  type NewTicket,
  type Ticket,
} from '@zographos/contracts';
import { manifest, parseSettings, parseTicketFile, READY_PROFILES } from '@zographos/operations';
import { TestServer } from '../testing/testServer.ts';

let server: TestServer;

beforeAll(async () => {
  server = await TestServer.startWithWorker();
});
afterAll(() => server.stop());

const size = { width: 64, height: 64 };

/** A project with a picture of stones whose ends do not fit, and a flat set made of it. */
async function stoneProject(): Promise<{ projectId: string; picture: string; tile: Ticket }> {
  const { id: projectId } = await server.call(ENDPOINTS.createProject, {}, { name: 'Flat' });
  const data = Uint8Array.from({ length: 96 * 96 * 3 }, (_, i) => {
    const texel = Math.floor(i / 3);
    const [x, y] = [texel % 96, Math.floor(texel / 96)];
    return 60 + x + 40 * Math.sin(x / 5) * Math.cos(y / 7) + ((i * 2654435761) % 31);
  });
  const png = await sharp(data, { raw: { width: 96, height: 96, channels: 3 } })
    .png()
    .toBuffer();
  const { assets } = await server.send(projectId, { 'stone_color.png': png });
  const picture = assets[0]!.id;
  const tile = await make(projectId, {
    name: 'Stone tile',
    operation: 'seamless',
    settings: parseSettings('seamless', { pictures: [{ kind: 'basecolor', colorSpace: 'srgb' }], size }),
    inputs: { receivers: [], sources: [], pictures: [picture] },
    set: { name: 'Stone' },
  });
  return { projectId, picture, tile };
}

const make = (projectId: string, ticket: NewTicket): Promise<Ticket> =>
  server.call(ENDPOINTS.createTicket, { id: projectId }, ticket);

const run = async (projectId: string, { id }: Ticket) =>
  server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id })).id);

const setOf = async (projectId: string, id: string) =>
  (await server.call(ENDPOINTS.readProject, { id: projectId })).imageSets.find((set) => set.id === id)!;

/** A ticket that derives from the colour of a set. */
async function derive(projectId: string, tile: Ticket): Promise<Ticket> {
  const color = (await setOf(projectId, tile.imageSetId)).maps.find(({ kind }) => kind === 'basecolor')!;
  return make(projectId, {
    name: 'Stone maps',
    operation: 'derive',
    settings: parseSettings('derive', {
      maps: ['height', 'normal', 'ao', 'roughness'],
      picture: { kind: 'basecolor', colorSpace: 'srgb' },
    }),
    inputs: { receivers: [], sources: [], pictures: [color.id] },
    set: { id: tile.imageSetId },
  });
}

describe('flat material', () => {
  it('goes from a picture to a tile to its maps, each step a ticket, and knows what is out of date', async () => {
    const { projectId, tile } = await stoneProject();
    expect(tile.key).not.toBeNull();
    const maps = await derive(projectId, tile);
    // What it is made of is not there yet.
    await expect(server.call(ENDPOINTS.runTicket, { id: maps.id })).rejects.toMatchObject({
      code: 'input/bad-settings',
    });
    const made = await run(projectId, tile);
    expect(made).toMatchObject({ state: 'done', error: null });
    expect(flatReportOf(made)!.seams['basecolor']!.across).toBeLessThan(2);
    expect(await run(projectId, maps)).toMatchObject({ state: 'done' });
    const set = await setOf(projectId, tile.imageSetId);
    expect(set).toMatchObject({ name: 'Stone', receiverId: null });
    expect(set.maps.map(({ kind, revisions }) => [kind, revisions[0]?.width]).sort()).toEqual([
      ['ao', 64],
      ['basecolor', 64],
      ['height', 64],
      ['normal', 64],
      ['roughness', 64],
    ]);
    // The same settings give the same bytes, and nothing is computed twice.
    const again = await run(projectId, maps);
    expect(again.key).toBe(set.maps.find(({ kind }) => kind === 'height')!.revisions[0]!.key);
    // Saved as a file, a step names the files that what it is made of is downloaded as.
    const saved = async ({ id, name }: Ticket) =>
      parseTicketFile(name, await (await server.fetch(PATHS.ticketFile(id))).text()).inputs;
    expect(await saved(tile)).toEqual({ pictures: [{ file: 'stone_color.png' }] });
    expect(await saved(maps)).toEqual({ pictures: [{ file: 'Stone_basecolor.png' }] });
    // Another tile makes what was derived from it out of date.
    const settings = parseSettings('seamless', {
      pictures: [{ kind: 'basecolor', colorSpace: 'srgb' }],
      size,
      ends: { across: { method: 'mirror' } },
    });
    await server.call(ENDPOINTS.changeTicket, { id: tile.id }, { version: tile.version, settings });
    await run(projectId, tile);
    const { tickets } = await server.call(ENDPOINTS.readProject, { id: projectId });
    const stale = await setOf(projectId, tile.imageSetId);
    const height = stale.maps.find(({ kind }) => kind === 'height')!;
    expect(tickets.find(({ id }) => id === maps.id)!.key).not.toBe(height.revisions[0]!.key);
    expect(stale.maps.find(({ kind }) => kind === 'basecolor')!.revisions).toHaveLength(2);
  });

  it('draws fields, the same on every number of threads', async () => {
    const { id: projectId } = await server.call(ENDPOINTS.createProject, {}, { name: 'Field' });
    const settings = parseSettings('field', { layers: [{ kind: 'weave' }], size, maps: [{ kind: 'height' }] });
    const ticket = await make(projectId, {
      ...{ name: 'Sailcloth', operation: 'field', settings },
      inputs: { receivers: [], sources: [] },
      set: { name: 'Sailcloth' },
    });
    expect(await run(projectId, ticket)).toMatchObject({ state: 'done' });
    const [map] = (await setOf(projectId, ticket.imageSetId)).maps;
    const response = await server.fetch(PATHS.samples(map!.id, 'x', 64));
    const image = readSamplesBody(await response.arrayBuffer());
    const { fieldImage } = await import('@zographos/core/pattern');
    expect([...image.data]).toEqual([...fieldImage(settings, size).data]);
  });

  it('is refused with the figure when it would not fit into memory', async () => {
    const { id: projectId } = await server.call(ENDPOINTS.createProject, {}, { name: 'Large' });
    const settings = parseSettings('field', {
      layers: [{ kind: 'grid' }],
      size: { width: 16384, height: 16384 },
      maps: ['height', 'mask', 'roughness'].map((kind) => ({ kind })),
    });
    const ticket = await make(projectId, {
      ...{ name: 'Net', operation: 'field', settings },
      inputs: { receivers: [], sources: [] },
      set: { name: 'Net' },
    });
    const failed = await run(projectId, ticket);
    expect(failed).toMatchObject({ state: 'failed', error: { code: 'limit/memory' } });
    expect(failed.error!.message).toMatch(/16384 × 16384 px would need about 3\d\.\d GB/);
  });

  it('is given as light for previews, reduced to what is asked for', async () => {
    const { picture } = await stoneProject();
    const image = readSamplesBody(await (await server.fetch(PATHS.samples(picture, 'x', 32))).arrayBuffer());
    expect([image.width, image.height, image.channels, image.colorSpace]).toEqual([32, 32, 3, 'srgb']);
    // About 100 of 255 through the sRGB curve is 0.13 of light.
    const mean = image.data.reduce((sum, value) => sum + value, 0) / image.data.length;
    expect(mean).toBeGreaterThan(0.08);
    expect(mean).toBeLessThan(0.3);
  });
});

describe('a delivery', () => {
  it('is a ZIP with its manifest, named and packed by a profile', async () => {
    const { projectId, tile } = await stoneProject();
    await run(projectId, tile);
    const maps = await derive(projectId, tile);
    await run(projectId, maps);
    const gltf = READY_PROFILES.find(({ name }) => name === 'glTF 2.0')!;
    const kept = await server.call(ENDPOINTS.createProfile, { id: projectId }, gltf);
    const profile = { ...kept.settings, layered: true };
    const queued = await server.call(ENDPOINTS.createDelivery, { id: projectId }, { profile, sets: [tile.imageSetId] });
    const done = await server.ended(projectId, queued.id);
    expect(done).toMatchObject({ state: 'done', title: 'glTF 2.0' });
    expect(reportOf(done, 'deliver')!.notes.join(' ')).toContain('has no metallic');
    const response = await server.fetch(PATHS.archive(queued.id));
    expect(response.headers.get('content-disposition')).toContain('.zip');
    const files = unzipSync(new Uint8Array(await response.arrayBuffer()));
    const told = manifest.parse(JSON.parse(Buffer.from(files['manifest.json']!).toString()));
    expect(told.files.map(({ path }) => path).sort()).toEqual([
      'Stone/Stone_basecolor.png',
      'Stone/Stone_layers.ora',
      'Stone/Stone_normal.png',
      'Stone/Stone_occlusion-roughness-metallic.png',
    ]);
    const color = told.files.find(({ path }) => path.includes('basecolor'))!;
    expect(color).toMatchObject({ colorSpace: 'srgb', width: 64 });
    expect(color.made[0]).toContain('Make a tile of stone_color');
    const layers = unzipSync(files['Stone/Stone_layers.ora']!);
    expect(Buffer.from(layers['mimetype']!).toString()).toBe('image/openraster');
    expect(Object.keys(layers)[0]).toBe('mimetype');
    expect(Object.keys(layers).filter((name) => name.startsWith('data/'))).toHaveLength(5);
  });

  it('says so when the disk is full, leaves no half of an archive, and is made once there is room', async () => {
    const { projectId, tile } = await stoneProject();
    await run(projectId, tile);
    const profile = READY_PROFILES.find(({ name }) => name === 'glTF 2.0')!;
    const deliver = async () => {
      const { id } = await server.call(
        ENDPOINTS.createDelivery,
        { id: projectId },
        { profile, sets: [tile.imageSetId] },
      );
      return server.ended(projectId, id);
    };
    // What PostgreSQL says when it cannot make its files larger.
    await server.database.query(`CREATE FUNCTION no_room() RETURNS trigger LANGUAGE plpgsql AS
      $$ BEGIN RAISE EXCEPTION 'could not extend file' USING ERRCODE = 'disk_full'; END $$`);
    await server.database.query('CREATE TRIGGER full_disk BEFORE INSERT ON blob_chunk EXECUTE FUNCTION no_room()');
    const failed = await deliver();
    await server.database.query('DROP TRIGGER full_disk ON blob_chunk');
    expect(failed).toMatchObject({ state: 'failed', error: { code: 'service/disk-full' } });
    expect(failed.error!.message).toContain('Make room');
    const [left] = await server.database.query<{ count: string }[]>(
      `SELECT count(*) FROM blob_chunk WHERE owner LIKE 'writing:%'`,
    );
    expect(left!.count).toBe('0');
    expect((await deliver()).state).toBe('done');
  });

  it('is refused at once when it cannot be', async () => {
    const { projectId, tile } = await stoneProject();
    const profile = READY_PROFILES[0]!;
    const refused = server.call(ENDPOINTS.createDelivery, { id: projectId }, { profile, sets: [tile.imageSetId] });
    await expect(refused).rejects.toMatchObject({ code: 'input/bad-settings' });
  });
});

describe('a finish', () => {
  it('outlives its project, and comes into another one as a flat set that is what was kept', async () => {
    const { projectId, tile } = await stoneProject();
    await run(projectId, tile);
    const samplesOf = async (mapId: string) =>
      readSamplesBody(await (await server.fetch(PATHS.samples(mapId, 'any', 64))).arrayBuffer()).data;
    const before = await samplesOf((await setOf(projectId, tile.imageSetId)).maps[0]!.id);
    const finish = await server.call(
      ENDPOINTS.keepFinish,
      { id: tile.imageSetId },
      { name: 'Quay stone', tags: ['stone', 'harbour'], tileWidth: 800 },
    );
    expect(finish.maps).toMatchObject([{ kind: 'basecolor', width: 64 }]);
    await server.call(ENDPOINTS.deleteProject, { id: projectId });
    await server.running.services.blobs.sweep('0 seconds');
    const { id: other } = await server.call(ENDPOINTS.createProject, {}, { name: 'Other' });
    const ticket = await server.call(ENDPOINTS.useFinish, { id: other, finishId: finish.id });
    const again = await server.call(ENDPOINTS.readProject, { id: other });
    const [set] = again.imageSets;
    expect(again.assets).toMatchObject([{ kind: 'image', imageKind: 'basecolor', colorSpace: 'srgb' }]);
    expect(set).toMatchObject({
      id: ticket.imageSetId,
      name: finish.name,
      receiverId: null,
      tileWidth: finish.tileWidth,
    });
    // It runs by itself, and is what was kept.
    await server.ended(other, again.runs[0]!.id);
    const [map] = (await server.call(ENDPOINTS.readProject, { id: other })).imageSets[0]!.maps;
    expect(map!.revisions[0]).toMatchObject({ width: 64, height: 64, key: ticket.key });
    const after = await samplesOf(map!.id);
    after.forEach((value, i) => expect(value).toBeCloseTo(before[i]!, 4));
    const tagged = await server.call(ENDPOINTS.changeFinish, { id: finish.id }, { tags: ['stone'] });
    expect(tagged.tags).toEqual(['stone']);
    await server.call(ENDPOINTS.deleteFinish, { id: finish.id });
    expect(await server.call(ENDPOINTS.listFinishes)).toEqual([]);
  });
});
