import path from 'node:path';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import { afterAll, describe, expect, it } from 'vitest';
import {
  describeKind,
  isColor,
  isDirection,
  MAP_KIND_IDS,
  TexelState,
  type Image,
  type MapKind,
} from '@zographos/core/image';
import { IMAGE_FORMAT_NAMES, IMAGE_FORMATS, isFloatFormat } from '@zographos/formats/images';
import { asDeepAs, readSet, runSetOf, writeMap, writeReport, type MapFile } from './mapFolder.ts';

const root = mkdtempSync(path.join(os.tmpdir(), 'zographos-folders-'));
afterAll(() => rmSync(root, { recursive: true }));
let folders = 0;
const newFolder = (): string => path.join(root, `set ${++folders}`);
const states = new Uint8Array(12).fill(TexelState.covered);

/** A map of a kind as a bake makes it, with all that it means. */
function mapOf(kind: MapKind): Image {
  const { channels, values } = describeKind(kind);
  const data = new Float32Array(12 * channels).map((_, i) => ((i * 7) % 12) / 11);
  const isLength = values === 'length' || values === 'signed';
  return {
    ...{ width: 4, height: 3, channels, data: isLength ? data.map((value) => value * 6 - 2) : data },
    ...(isLength ? { range: [-2, 4] as const } : {}),
    ...(isColor(kind) ? { colorSpace: 'srgb' as const } : {}),
    ...(isDirection(kind)
      ? {
          convention: { of: 'direction' as const, space: 'tangent' as const, y: 'down' as const, axes: 'xzy' as const },
        }
      : {}),
  };
}

async function folderOf(kinds: readonly MapKind[], format: (typeof IMAGE_FORMAT_NAMES)[number]): Promise<string> {
  const folder = newFolder();
  const written: MapFile[] = [];
  for (const kind of kinds)
    written.push(await writeMap(folder, { kind, tile: 1001, image: mapOf(kind), states }, { format }));
  await writeReport(folder, written, { what: 'a test' });
  return folder;
}

describe('a folder of maps', () => {
  it.each(IMAGE_FORMAT_NAMES.filter((format) => format !== 'jpeg'))(
    'comes back from %s with every kind, its values and all that it means',
    async (format) => {
      const { maps } = await readSet(await folderOf(MAP_KIND_IDS, format));
      expect([...maps.keys()].sort()).toEqual([...MAP_KIND_IDS].sort());
      for (const kind of MAP_KIND_IDS) {
        const [sent, back] = [mapOf(kind), maps.get(kind)!.image];
        expect(back.convention, kind).toEqual(sent.convention);
        const [low, high] = sent.range ?? [0, 1];
        const bits = maps.get(kind)!.bits;
        // Light of a colour of 8 bits is off by up to 2.4 / 1.055 steps at white.
        const float = format === 'exr16' ? 2 ** -11 * Math.max(1, high) : 1e-6;
        const step = bits === 32 ? float : ((high - low) * 2.5) / (bits === 8 ? 255 : 65535);
        expect(bits === 32).toBe(isFloatFormat(format) || describeKind(kind).needsFloat === true);
        for (let i = 0; i < sent.data.length; i++) {
          const at = Math.floor(i / sent.channels) * back.channels + (i % sent.channels);
          expect(Math.abs(back.data[at]! - sent.data[i]!), `${kind} ${i}`).toBeLessThanOrEqual(step);
        }
      }
    },
  );

  it('without a report is told by the names of its files alone', async () => {
    const folder = await folderOf(['normal', 'ao', 'basecolor'], 'png16');
    rmSync(path.join(folder, 'report.json'));
    const { maps, name, width, height } = await readSet(folder);
    expect([...maps.keys()].sort()).toEqual(['ao', 'basecolor', 'normal']);
    expect([name, width, height]).toEqual([path.basename(folder), 4, 3]);
  });

  it('holds files named as their kind and format ask, and a report that says it all', async () => {
    const folder = await folderOf(['normal', 'height'], 'png8');
    const report = JSON.parse(readFileSync(path.join(folder, 'report.json'), 'utf8')) as {
      what: string;
      maps: MapFile[];
    };
    expect(report.what).toBe('a test');
    expect(report.maps.map(({ file }) => file)).toEqual([
      'normal.png',
      `height.${describeKind('height').needsFloat ? 'exr' : 'png'}`,
    ]);
    expect(report.maps[0]).toMatchObject({ kind: 'normal', convention: { y: 'down', axes: 'xzy' } });
    const tiled = await writeMap(
      newFolder(),
      { kind: 'ao', tile: 1012, image: mapOf('ao'), states },
      { format: 'tga', namesTiles: true },
    );
    expect(tiled.file).toBe(`ao.1012.${IMAGE_FORMATS.tga.ending}`);
  });

  it('that is not there, has nothing, or maps of several sizes, is refused in words', async () => {
    await expect(readSet(newFolder())).rejects.toThrow(/There is no folder “.*”\. Check the path\./);
    const empty = newFolder();
    await writeReport(empty, []);
    await expect(readSet(empty)).rejects.toThrow(/has no maps that can be told by their names/);
    const mixed = await folderOf(['normal'], 'png8');
    const large = { ...mapOf('ao'), width: 3, height: 4 };
    await writeMap(mixed, { kind: 'ao', tile: 1001, image: large, states }, { format: 'png8' });
    await expect(readSet(mixed)).rejects.toThrow(
      /is 4 × 3 px, the maps before it 3 × 4\. Give all maps of a set one size/,
    );
  });

  it('whose report is broken says so, with the way out', async () => {
    const folder = await folderOf(['normal'], 'png8');
    writeFileSync(path.join(folder, 'report.json'), '{');
    await expect(readSet(folder)).rejects.toThrow(/it is not JSON\. Make the maps again, or remove it/);
    writeFileSync(
      path.join(folder, 'report.json'),
      JSON.stringify({ maps: [{ file: 'normal.png', kind: 'flavour' }] }),
    );
    await expect(readSet(folder)).rejects.toThrow(/“maps\.0\.kind”/);
  });

  it('is a set for a run, with its maps as they are', async () => {
    const set = runSetOf(await readSet(await folderOf(['normal', 'height'], 'exr')), { uvSet: 1, receivers: [0] });
    expect(set).toMatchObject({ uvSet: 1, receivers: [0], hasMesh: false, tileWidth: null });
    const normal = set.maps.find(({ kind }) => kind === 'normal')!;
    expect(normal).toMatchObject({ tile: 1001, width: 4, height: 3, convention: { y: 'down' } });
    const { image, states: covered } = await set.load('normal', 1001);
    expect([image.width, new Set(covered)]).toEqual([4, new Set([TexelState.covered])]);
  });

  it('is written again as deep as its maps are', () => {
    expect(
      [
        [8, 8],
        [8, 16],
        [16, 32],
      ].map(asDeepAs),
    ).toEqual(['png8', 'png16', 'exr']);
  });
});
