import { createHash } from 'node:crypto';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import type { Image } from '@zographos/core/image';
import { encodeImage } from '@zographos/formats/images';
import { openDelivery } from './openDelivery.ts';

const image = (channels: number, value: (i: number) => number): Image => ({
  ...{ width: 4, height: 2, channels },
  data: new Float32Array(8 * channels).map((_, i) => value(i)),
});
const channel = (map: string | null, channelNumber: number, more: object = {}) => ({
  ...{ map, channel: channelNumber, inverted: false, constant: null },
  ...more,
});

interface Told {
  path: string;
  bytes: Uint8Array;
  entry?: object;
}

/** A ZIP with a manifest as a delivery has it. */
function deliveryOf(files: Told[], { extra = {}, corrupt = '' } = {}): Uint8Array {
  const manifest = {
    ...{ profile: 'glTF 2.0', project: 'Slip', sets: [{ name: 'Stone', tileWidth: 1200 }] },
    files: files.map(({ path, bytes, entry }) => ({
      ...{ path, set: 'Stone', tile: 1001, kind: 'map', width: 4, height: 2, colorSpace: 'linear', channels: [] },
      sha256: createHash('sha256').update(bytes).digest('hex'),
      ...entry,
    })),
  };
  const zipped = Object.fromEntries(
    files.map(({ path, bytes }) => [path, path === corrupt ? bytes.map((value) => value ^ 1) : bytes]),
  );
  return zipSync({ ...zipped, ...extra, 'manifest.json': strToU8(JSON.stringify(manifest)) });
}

const normalY = { of: 'direction', space: 'tangent', y: 'down', axes: 'xyz' };
const rgb = (map: string) => [0, 1, 2].map((k) => channel(map, k));

describe('a delivery that is opened by its files alone', () => {
  it('has its maps put together from the channels that carried them, in EXR and TGA', async () => {
    const packed = image(3, (i) => i / 24);
    for (const format of ['tga', 'exr'] as const) {
      const bytes = await encodeImage(packed, format);
      const told = {
        kind: 'packed',
        channels: [channel('ao', 0), channel('roughness', 0, { inverted: true }), channel(null, 0, { constant: 0.5 })],
      };
      const { sets, files, title } = await openDelivery(deliveryOf([{ path: `stone.${format}`, bytes, entry: told }]));
      expect(title).toBe('Slip, glTF 2.0');
      expect(files).toEqual([
        { path: `stone.${format}`, holds: 'R ambient occlusion, G 1 − roughness, B 0.5', fault: null },
      ]);
      const maps = sets.get('Stone')!;
      expect([...maps.keys()]).toEqual(['ao', 'roughness']);
      for (let i = 0; i < 8; i++) {
        expect(Math.abs(maps.get('ao')!.rgba[i * 4]! - packed.data[i * 3]! * 255)).toBeLessThan(1.1);
        expect(Math.abs(maps.get('roughness')!.rgba[i * 4]! - (1 - packed.data[i * 3 + 1]!) * 255)).toBeLessThan(1.1);
      }
    }
  });

  it.each([
    ['version 2', { conventions: { normal: normalY } }, ', Y down'],
    ['version 2, Y up', { conventions: { normal: { ...normalY, y: 'up' } } }, ', Y up'],
    ['version 2, object space', { conventions: { normal: { ...normalY, space: 'object' } } }, ', object space'],
    ['version 1', { normalY: 'down' }, ', Y down'],
    ['version 1 that says nothing', {}, ''],
  ])('has green turned up if it says that it is down: %s', async (_, entry, words) => {
    const bytes = await encodeImage(
      image(3, (i) => (i % 3 === 1 ? 0.2 : 0.6)),
      'exr',
    );
    const { sets, files } = await openDelivery(
      deliveryOf([{ path: 'n.exr', bytes, entry: { channels: rgb('normal'), ...entry } }]),
    );
    expect(files[0]!.holds).toBe(`normal${words}`);
    const green = sets.get('Stone')!.get('normal')!.rgba[1]!;
    expect(green).toBe(words === ', Y down' ? 204 : 51);
  });

  it('has heights as values beside its picture', async () => {
    const bytes = await encodeImage(
      image(1, (i) => i / 8),
      'exr',
    );
    const { sets } = await openDelivery(
      deliveryOf([{ path: 'h.exr', bytes, entry: { channels: [channel('height', 0)] } }]),
    );
    const { values } = sets.get('Stone')!.get('height')!;
    expect([...values!]).toEqual([0, 1, 2, 3, 4, 5, 6, 7].map((i) => i / 8));
  });

  it('names what was changed, what is missing, and what nobody has spoken of', async () => {
    const bytes = await encodeImage(
      image(1, () => 0.5),
      'tga',
    );
    const entry = { channels: [channel('ao', 0)] };
    const changed = deliveryOf([{ path: 'a.tga', bytes, entry }], {
      corrupt: 'a.tga',
      extra: { 'note.txt': strToU8('x') },
    });
    expect((await openDelivery(changed)).files).toEqual([
      { path: 'a.tga', holds: 'ambient occlusion', fault: expect.stringMatching(/changed on the way/) as string },
      { path: 'note.txt', holds: 'unknown', fault: 'It is not in the manifest.' },
    ]);
    const missing = zipSync({
      'manifest.json': strToU8(
        JSON.stringify({
          ...{ profile: 'A', project: 'B', sets: [] },
          files: [
            {
              path: 'b.png',
              set: 'S',
              tile: 1001,
              kind: 'mesh',
              width: 0,
              height: 0,
              colorSpace: 'linear',
              channels: [],
              sha256: '',
            },
          ],
        }),
      ),
    });
    expect((await openDelivery(missing)).files).toEqual([
      { path: 'b.png', holds: 'the mesh', fault: 'It is in the manifest, but not in the archive.' },
    ]);
  });

  it('that is no ZIP, has no manifest, or one that is none, is an error in words', async () => {
    await expect(openDelivery(strToU8('no zip'))).rejects.toThrow(/“This ZIP” cannot be unpacked/);
    await expect(openDelivery(zipSync({ 'a.png': strToU8('a') }))).rejects.toThrow(/has no manifest\.json/);
    await expect(openDelivery(zipSync({ 'manifest.json': strToU8('{"files": 3}') }))).rejects.toThrow();
  });
});
