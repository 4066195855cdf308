import { randomUUID } from 'node:crypto';
import { zipSync, strToU8 } from 'fflate';
import { encodeExrLayers } from '@zographos/formats/images';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ENDPOINTS, PATHS, type ImageAsset, type MeshAsset } from '@zographos/contracts';
import { PLANE_OBJ, reliefObj } from '../testing/meshes.ts';
import { TestServer } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start({ ZOGRAPHOS_MAX_BYTES: '3000000', ZOGRAPHOS_MAX_EXPANDED_BYTES: '9000000' });
});
afterAll(() => server.stop());

const newProject = async (): Promise<string> =>
  (await server.call(ENDPOINTS.createProject, {}, { name: 'Boat store' })).id;

describe('meshes brought in', () => {
  it('become one asset for each object, with their materials and findings', async () => {
    const id = await newProject();
    const two = `mtllib store.mtl\nusemtl rope\n${PLANE_OBJ}o bare\nusemtl brass\nv 5 0 0\nv 6 0 0\nv 5 1 0\nf 5 6 7\n`;
    const { assets, failures } = await server.send(id, { 'store.obj': two, 'store.mtl': 'newmtl rope\nKd 1 0 0\n' });
    expect(failures).toEqual([]);
    const [bare, plane] = assets.toSorted((a, b) => a.name.localeCompare(b.name)) as [MeshAsset, MeshAsset];
    expect(plane).toMatchObject({ name: 'plane', inspection: { triangles: 2, uvSets: ['UV 1'], slots: ['rope'] } });
    expect(plane.inspection.bounds).toEqual({ min: [-1, -1, 0], max: [1, 1, 0] });
    const kinds = bare.inspection.findings.map(({ kind }) => kind);
    expect(kinds).toEqual(expect.arrayContaining(['no-uvs', 'missing-normals', 'open-edges']));
    const original = await server.fetch(`/api/assets/${bare.id}/original`);
    expect(await original.text()).toBe(two);
  });

  it('brought in again under the same name become the next revision, if that is what is wanted', async () => {
    const id = await newProject();
    const first = (await server.send(id, { 'relief.obj': reliefObj(4) })).assets[0]!;
    const again = (await server.send(id, { 'relief.obj': reliefObj(6) }, 'revise')).assets[0]!;
    expect(again.id).toBe(first.id);
    expect([first.revision, again.revision]).toEqual([1, 2]);
    expect((await server.send(id, { 'relief.obj': reliefObj(6) })).assets[0]!.revision).toBe(2);
  });

  it('of names that are known are asked about first; nothing of them is taken, the others come in', async () => {
    const id = await newProject();
    const first = (await server.send(id, { 'relief.obj': reliefObj(4) })).assets[0]!;
    const asked = await server.send(id, { 'relief.obj': reliefObj(6), 'plane.obj': PLANE_OBJ });
    expect(asked.revisions).toEqual([{ file: 'relief.obj', names: ['relief'] }]);
    expect(asked.assets.map(({ name }) => name)).toEqual(['plane']);
    const { assets } = await server.call(ENDPOINTS.readProject, { id });
    expect(assets.find((asset) => asset.id === first.id)!.revision).toBe(1);
    // Beside the one that is there: twice the same makes one, and another content one more.
    const [beside] = (await server.send(id, { 'relief.obj': reliefObj(6) }, 'separate')).assets;
    const [same] = (await server.send(id, { 'relief.obj': reliefObj(6) }, 'separate')).assets;
    const [third] = (await server.send(id, { 'relief.obj': reliefObj(8) }, 'separate')).assets;
    expect([beside!.name, same!.id, third!.name]).toEqual(['relief (2)', beside!.id, 'relief (3)']);
  });

  it('are shown as they come, and are no longer read once whoever sent them has gone', async () => {
    const id = await newProject();
    const events = await server.events(id);
    const leaving = new AbortController();
    const form = new FormData();
    for (let i = 0; i < 40; i++) form.append('files', new Blob([reliefObj(4 + i)]), `relief${i}.obj`);
    const sent = server.fetch(PATHS.files(id), { method: 'POST', body: form, signal: leaving.signal });
    for (let event = await events.next(); event.type !== 'changed'; event = await events.next());
    events.stop();
    leaving.abort();
    await expect(sent).rejects.toThrow();
    const countNow = async (): Promise<number> => (await server.call(ENDPOINTS.readProject, { id })).assets.length;
    let [before, now] = [-1, await countNow()];
    for (; before !== now; [before, now] = [now, await countNow()]) await new Promise((end) => setTimeout(end, 1500));
    expect(now).toBeGreaterThan(0);
    expect(now).toBeLessThan(40);
  });

  it('are told of as they are read, under the number that the sender gave', async () => {
    const id = await newProject();
    const upload = randomUUID();
    const events = await server.events(id);
    const zip = zipSync({ 'a.obj': strToU8(PLANE_OBJ), 'b.obj': strToU8(reliefObj(5)), 'c.mtl': strToU8('newmtl a') });
    const form = new FormData();
    form.append('files', new Blob([zip]), 'kit.zip');
    const sent = server.fetch(PATHS.files(id, 'ask', upload), { method: 'POST', body: form });
    const told: string[] = [];
    while (!told.includes('2 of 2: ')) {
      const event = await events.next();
      if (event.type !== 'reading') continue;
      expect(event).toMatchObject({ projectId: id, upload });
      told.push(`${event.done} of ${event.files}: ${event.now.join(' ')}`);
    }
    events.stop();
    // Each file of the archive counts; what a mesh only refers to is no file of its own.
    expect(told[0]).toMatch(/^0 of 2: a\.obj/);
    expect(told.some((each) => each.startsWith('1 of 2'))).toBe(true);
    expect((await sent).status).toBe(200);
  });

  it('are listed as they were sent, whichever was read first', async () => {
    const id = await newProject();
    const names = ['e', 'a', 'd', 'b', 'c'];
    // The first takes longest.
    const files = names.map((name, i): [string, string] => [
      `${name}.obj`,
      reliefObj(60 - 12 * i).replace('o relief', `o ${name}`),
    ]);
    await server.send(id, Object.fromEntries(files));
    const { assets } = await server.call(ENDPOINTS.readProject, { id });
    expect(assets.map(({ name }) => name)).toEqual(names);
  });

  it('meet a full disk in the words for it', async () => {
    const id = await newProject();
    await server.database.query(`CREATE FUNCTION no_room() RETURNS trigger LANGUAGE plpgsql AS
      $$ BEGIN RAISE EXCEPTION 'could not extend file' USING ERRCODE = 'disk_full'; END $$`);
    await server.database.query('CREATE TRIGGER full_disk BEFORE INSERT ON blob_chunk EXECUTE FUNCTION no_room()');
    const sent = server.send(id, { 'relief.obj': reliefObj(30) });
    await expect(sent).rejects.toMatchObject({ code: 'service/disk-full' });
    await server.database.query('DROP TRIGGER full_disk ON blob_chunk');
    expect((await server.send(id, { 'relief.obj': reliefObj(30) })).assets).toHaveLength(1);
  });

  it('that are bad are named with their reason, and the good ones beside them come in', async () => {
    const { assets, failures } = await server.send(await newProject(), {
      'plane.obj': PLANE_OBJ,
      'broken.glb': 'glTF but not really',
      'empty.stl': '',
      'notes.docx': 'x',
    });
    expect(assets.map(({ name }) => name)).toEqual(['plane']);
    expect(failures.map(({ file, code }) => [file, code])).toEqual([
      ['broken.glb', expect.stringMatching(/^input\//)],
      ['empty.stl', 'input/empty-file'],
      ['notes.docx', 'input/wrong-file-type'],
    ]);
    for (const { file, message } of failures) expect(message).toContain(file);
  });
});

describe('images brought in', () => {
  it('are guessed, and what was guessed can be corrected', async () => {
    const png = await sharp({ create: { width: 32, height: 8, channels: 3, background: '#8080ff' } })
      .png()
      .toBuffer();
    const [asset] = (await server.send(await newProject(), { 'quay wall.png': png })).assets as [ImageAsset];
    expect(asset).toMatchObject({ kind: 'image', imageKind: 'normal', colorSpace: 'linear', name: 'quay wall' });
    expect(asset.inspection).toMatchObject({ width: 32, height: 8, bits: 8 });
    const corrected = await server.call(
      ENDPOINTS.changeAsset,
      { id: asset.id },
      { version: asset.version, imageKind: 'basecolor', colorSpace: 'srgb' },
    );
    expect(corrected).toMatchObject({ imageKind: 'basecolor', colorSpace: 'srgb' });
    // Of a file that several maps share each channel is known, and can be said otherwise.
    const orm = await sharp(Buffer.from(Array.from({ length: 12 }, (_, i) => i * 20)), {
      raw: { width: 2, height: 2, channels: 3 },
    })
      .png()
      .toBuffer();
    const [packed] = (await server.send(await newProject(), { 'wall_ORM.png': orm })).assets as [ImageAsset];
    expect(packed.packing?.map((content) => content?.map)).toEqual(['ao', 'roughness', 'metallic']);
    expect(packed).toMatchObject({ imageKind: 'image', colorSpace: 'linear' });
    const packing = [packed.packing![1]!, null, { map: 'cavity' as const, channel: 0, invert: true }];
    const said = await server.call(ENDPOINTS.changeAsset, { id: packed.id }, { version: packed.version, packing });
    expect(said).toMatchObject({ packing });
    const thumbnail = await server.fetch(`/api/blobs/${asset.thumbnailHash}`);
    expect((await sharp(Buffer.from(await thumbnail.arrayBuffer())).metadata()).format).toBe('png');
  });
});

describe('archives and limits', () => {
  it('OpenEXR with layers becomes an image for each of them', async () => {
    const grey = (value: number, channels: number) => ({
      ...{ width: 16, height: 16, channels },
      data: new Float32Array(256 * channels).fill(value),
    });
    const exr = encodeExrLayers([
      ['', grey(0.5, 3)],
      ['indirect', grey(2, 3)],
      ['shadow', grey(0.25, 1)],
    ]);
    const { assets, failures } = await server.send(await newProject(), { 'quay.exr': exr });
    expect(failures).toEqual([]);
    expect(assets.map(({ name }) => name).sort()).toEqual(['quay', 'quay.indirect', 'quay.shadow']);
    const kinds = assets.map((asset) => (asset.kind === 'image' ? asset.imageKind : '')).sort();
    expect(kinds).toContain('indirect');
    expect(kinds).toContain('shadow');
  });

  it('takes the files of a ZIP with what they refer to', async () => {
    const zip = zipSync({ 'kit/relief.obj': strToU8(reliefObj(3)), 'kit/plane.obj': strToU8(PLANE_OBJ) });
    const { assets } = await server.send(await newProject(), { 'kit.zip': zip });
    expect(assets.map(({ name }) => name).sort()).toEqual(['plane', 'relief']);
  });

  it('says of a ZIP once how many files in it are of no use, however many, and takes the others', async () => {
    const notes = Object.fromEntries(Array.from({ length: 20_000 }, (_, i) => [`notes/${i}.txt`, strToU8('ebb')]));
    const zip = zipSync({ ...notes, 'plane.obj': strToU8(PLANE_OBJ) }, { level: 0 });
    const { assets, failures } = await server.send(await newProject(), { 'log.zip': zip });
    expect(assets.map(({ name }) => name)).toEqual(['plane']);
    expect(failures).toEqual([
      {
        ...{ file: 'log.zip', code: 'input/wrong-file-type' },
        message: expect.stringMatching(/20000 files, “notes\/0\.txt” among them, are neither mesh nor image/) as string,
      },
    ]);
    const many = Object.fromEntries(Array.from({ length: 2001 }, (_, i) => [`${i}.obj`, strToU8('x')]));
    const refused = await server.send(await newProject(), { 'many.zip': zipSync(many, { level: 0 }) });
    expect(refused.failures).toMatchObject([{ code: 'limit/archive' }]);
  });

  it('keeps files of one name in two folders apart, each with what lies beside it', async () => {
    const id = await newProject();
    const obj = (name: string) =>
      strToU8(`mtllib low.mtl\no ${name}\nusemtl wood\n${PLANE_OBJ.replace('o plane\n', '')}`);
    const zip = zipSync({
      'harbour/bench/low.obj': obj('bench'),
      'harbour/bench/low.mtl': strToU8('newmtl wood\nKd 1 0 0\n'),
      'harbour/lamp/low.obj': obj('lamp'),
      'harbour/lamp/low.mtl': strToU8('newmtl wood\nKd 0 1 0\n'),
    });
    const { assets, failures } = await server.send(id, { 'harbour.zip': zip });
    expect(failures).toEqual([]);
    expect(assets.map(({ name, fileName, revision }) => [name, fileName, revision]).sort()).toEqual([
      ['bench', 'bench/low.obj', 1],
      ['lamp', 'lamp/low.obj', 1],
    ]);
    const colors = new Set(assets.map(({ contentHash }) => contentHash));
    expect(colors.size).toBe(2);
  });

  it('says of an empty archive that it is, and of a name that is no text', async () => {
    const id = await newProject();
    const { assets, failures } = await server.send(id, {
      'empty.zip': zipSync({}),
      'odd.obj': PLANE_OBJ.replace('o plane', 'o pl\u0000ne'),
      'plane.obj': PLANE_OBJ,
    });
    expect(assets.map(({ name }) => name)).toEqual(['plane']);
    expect(failures.map(({ file, code }) => [file, code])).toEqual([
      ['empty.zip', 'input/empty-file'],
      ['odd.obj', 'input/unreadable-file'],
    ]);
    expect(failures[1]!.message).toContain('“pl?ne”');
  });

  it('refuses an archive that would unfold beyond the limit, before unfolding it', async () => {
    const zip = zipSync({ 'huge.obj': new Uint8Array(20_000_000) });
    expect(zip.length).toBeLessThan(100_000);
    const { failures } = await server.send(await newProject(), { 'bomb.zip': zip });
    expect(failures[0]).toMatchObject({
      code: 'limit/archive',
      message: expect.stringMatching(/9000000 bytes.*ZOGRAPHOS_MAX_EXPANDED_BYTES/) as string,
    });
  });

  it('refuses a file beyond the limit, named, and keeps nothing of it', async () => {
    const before = await server.database.query<[{ count: string }]>('SELECT count(*) FROM blob_chunk');
    await expect(server.send(await newProject(), { 'big.ply': new Uint8Array(4_000_000) })).rejects.toMatchObject({
      status: 413,
      code: 'limit/bytes',
      message: expect.stringMatching(/big\.ply.*3000000.*ZOGRAPHOS_MAX_BYTES/) as string,
    });
    expect(await server.database.query('SELECT count(*) FROM blob_chunk')).toEqual(before);
  });

  it('keeps names as they are, but for what leads elsewhere', async () => {
    const id = await newProject();
    const names = ['<script>x</script>.obj', '../../up.obj', 'C:\\kit\\low.obj', '/kit/bench.obj'];
    const { assets, failures } = await server.send(id, Object.fromEntries(names.map((name) => [name, PLANE_OBJ])));
    expect(failures).toEqual([]);
    expect(assets.map(({ fileName }) => fileName).sort()).toEqual([
      '<script>x</script>.obj',
      'kit/bench.obj',
      'low.obj',
      'up.obj',
    ]);
  });

  it('refuses what is no upload, and an upload of nothing', async () => {
    const id = await newProject();
    const plain = await server.fetch(`/api/projects/${id}/files`, { method: 'POST', body: 'x' });
    expect(await plain.json()).toMatchObject({ code: 'input/bad-request' });
    await expect(server.send(id, {})).rejects.toMatchObject({ code: 'input/bad-request' });
  });
});
