import path from 'node:path';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import { decode as decodePng } from 'fast-png';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { DEFAULT_LIMITS, encodeImage, readImageFile } from '@zographos/formats/images';
import { cli } from '../testing/cli.ts';

const folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-seamless-'));
const at = (...names: string[]): string => path.join(folder, ...names);

/** A slope with grain: its ends differ as much as can be. */
async function slope(file: string): Promise<void> {
  const data = Uint8Array.from({ length: 96 * 64 * 3 }, (_, i) => {
    const x = Math.floor(i / 3) % 96;
    return 40 + x * 1.6 + ((i * 2654435761) % 97) / 8;
  });
  await sharp(data, { raw: { width: 96, height: 64, channels: 3 } })
    .png()
    .toFile(file);
}

async function read(file: string): Promise<{ data: Buffer; width: number; height: number }> {
  const { data, info } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

describe('cli seamless', () => {
  it('joins both ends, by each method, and tells what the border shows', async () => {
    await slope(at('stone.png'));
    for (const method of ['band', 'cut', 'preserve', 'mirror', 'synthesise']) {
      const { status, out } = cli(
        'seamless',
        '--in',
        at('stone.png'),
        '--method',
        method,
        '--axis',
        'across',
        '--width',
        '24',
        '--out',
        at(`${method}.png`),
      );
      expect(status).toBe(0);
      const [before, after] = /across ([\d.]+) → ([\d.]+)/.exec(out)!.slice(1).map(Number);
      expect(before).toBeGreaterThan(5);
      // A slope has no patch that would fit to both of its sides.
      expect(after).toBeLessThan(method === 'synthesise' ? 4 : 2);
      const { width, height } = await read(at(`${method}.png`));
      expect([width, height]).toEqual(method === 'mirror' ? [192, 64] : method === 'synthesise' ? [96, 64] : [72, 64]);
    }
  });

  it('cuts all maps of a set alike, and resamples them so that they repeat still', async () => {
    mkdirSync(at('set'));
    await slope(at('set', 'basecolor.png'));
    await slope(at('set', 'emission.png'));
    const { status } = cli('seamless', '--in-set', at('set'), '--width', '16', '--size', '64x48', '--out', at('tiles'));
    expect(status).toBe(0);
    const [colour, other] = [await read(at('tiles', 'basecolor.png')), await read(at('tiles', 'emission.png'))];
    expect([colour.width, colour.height]).toEqual([64, 48]);
    expect(Buffer.compare(colour.data, other.data)).toBe(0);
  });

  it('joins each axis over a width of its own, keeps proportions, and says what is left and how good it is', async () => {
    await slope(at('stone.png'));
    const { out } = cli(
      'seamless',
      '--in',
      at('stone.png'),
      '--width-x',
      '24',
      '--width-y',
      '8',
      '--out',
      at('own.png'),
    );
    const { width, height } = await read(at('own.png'));
    expect([width, height]).toEqual([72, 56]);
    expect(out).toContain('75 % of the width and 87.5 % of the height, at the resolution of the image');
    expect(out).toMatch(/visible seams [\d.]+, mirror symmetry [\d.]+ %, self-similarity [\d.]+ %/);
    const squashed = cli('seamless', '--in', at('stone.png'), '--size', '32', '--out', at('small.png'));
    expect(squashed.out).toContain('so its proportions change');
  });

  it('keeps the numbers of floats in whole numbers, and each map as deep as it came', async () => {
    mkdirSync(at('deep'));
    const [width, height] = [48, 32];
    const heights = Float32Array.from({ length: width * height }, (_, i) => 3 * Math.sin(i / 5) - 1);
    writeFileSync(at('deep', 'height.exr'), await encodeImage({ width, height, channels: 1, data: heights }, 'exr'));
    await sharp({ create: { width, height, channels: 3, background: '#806040' } })
      .jpeg()
      .toFile(at('deep', 'basecolor.jpg'));
    cli('seamless', '--in-set', at('deep'), '--out', at('kept'));
    expect(readdirSync(at('kept')).sort()).toEqual(['basecolor.png', 'height.exr', 'report.json']);
    expect((await readImageFile('height.exr', readFileSync(at('kept', 'height.exr')), DEFAULT_LIMITS)).channels).toBe(
      1,
    );
    cli('seamless', '--in-set', at('deep'), '--format', 'png16', '--out', at('whole'));
    const { maps } = JSON.parse(readFileSync(at('whole', 'report.json'), 'utf8')) as {
      maps: { kind: string; range: [number, number] }[];
    };
    const [low, high] = maps.find(({ kind }) => kind === 'height')!.range;
    expect(low).toBeLessThan(-3.5);
    expect(high).toBeGreaterThan(1.5);
    // From black to white, as far as the tile has the ends of its picture: nothing is cut off, and little lies idle.
    const { data } = decodePng(readFileSync(at('whole', 'height.png')));
    expect(Math.min(...data)).toBeLessThan(100);
    expect(Math.max(...data)).toBeGreaterThan(65435);
    expect(new Set(data).size).toBeGreaterThan(500);
  });

  it('says what it cannot do', () => {
    expect(cli('seamless', '--in', at('stone.png'), '--width', '60', '--out', at('x.png')).err).toContain(
      'Choose from 1 to 48',
    );
    expect(cli('seamless', '--out', at('x.png')).err).toContain('--in-set');
  });
});

describe('cli seamless --method wang', () => {
  it('makes an atlas of sixteen tiles, and the table of their corners', async () => {
    await slope(at('rocks.png'));
    const { status, err, out } = cli(
      ...['seamless', '--in', at('rocks.png'), '--method', 'wang', '--size', '128', '--out', at('wang', 'rocks.png')],
    );
    expect([status, err]).toEqual([0, '']);
    expect(out).toContain('128 × 128 px');
    const table = JSON.parse(readFileSync(at('wang', 'tiles.json'), 'utf8')) as { tiles: { corners: number[] }[] };
    expect(new Set(table.tiles.map(({ corners }) => corners.join())).size).toBe(16);
    expect(
      cli('seamless', '--in', at('rocks.png'), '--method', 'wang', '--size', '130', '--out', at('x.png')).err,
    ).toMatch(/multiple of 4/);
  });
});
