import path from 'node:path';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEFAULT_LIMITS, readImageFile } from '@zographos/formats/images';
import type { Image } from '@zographos/core/image';
import { cli } from '../testing/cli.ts';

/**
 * Two bakes of one relief, Y up and Y down: whatever is made of the folders must come out the same, since each folder
 * says what it holds.
 */
const root = mkdtempSync(path.join(os.tmpdir(), 'zographos-conventions-'));
const at = (...names: string[]): string => path.join(root, ...names);
afterAll(() => rmSync(root, { recursive: true }));

const PLANE = 'v -1 -1 0\nv 1 -1 0\nv 1 1 0\nv -1 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3\nf 1/1 3/3 4/4\n';

function relief(): string {
  const [cells, lines] = [24, ['o relief']];
  for (let j = 0; j <= cells; j++) {
    for (let i = 0; i <= cells; i++) {
      const [x, y] = [(i / cells) * 2 - 1, (j / cells) * 2 - 1];
      lines.push(`v ${x} ${y} ${0.1 * Math.sin(4 * x + 2 * y) * Math.cos(3 * y)}`);
    }
  }
  for (let j = 0; j < cells; j++) {
    for (let i = 0; i < cells; i++) {
      const a = j * (cells + 1) + i + 1;
      lines.push(`f ${a} ${a + 1} ${a + cells + 2} ${a + cells + 1}`);
    }
  }
  return `${lines.join('\n')}\n`;
}

const read = (...names: string[]): Promise<Image> =>
  readImageFile(names.at(-1)!, new Uint8Array(readFileSync(at(...names))), DEFAULT_LIMITS);

/** The largest difference of two pictures, and how much green of the first varies. */
function compared(a: Image, b: Image): { off: number; varies: number } {
  const greens = [...a.data].filter((_, i) => i % a.channels === 1);
  const off = a.data.reduce((most, value, i) => Math.max(most, Math.abs(value - b.data[i]!)), 0);
  return { off, varies: Math.max(...greens) - Math.min(...greens) };
}

beforeAll(() => {
  writeFileSync(at('low.obj'), PLANE);
  writeFileSync(at('high.obj'), relief());
  for (const y of ['up', 'down']) {
    const { status, err } = cli(
      ...['bake', '--receiver', at('low.obj'), '--source', at('high.obj'), '--maps', 'normal', '--normal-y', y],
      ...['--size', '32', '--samples', '2', '--format', 'exr', '--out', at(y)],
    );
    expect([status, err]).toEqual([0, '']);
  }
});

describe('a folder baked Y down', () => {
  it('says so in its report, and holds other numbers than one baked Y up', async () => {
    const report = JSON.parse(readFileSync(at('down', 'report.json'), 'utf8')) as { maps: { convention: object }[] };
    expect(report.maps[0]!.convention).toEqual({ of: 'direction', space: 'tangent', y: 'down', axes: 'xyz' });
    const { off, varies } = compared(await read('up', 'normal.exr'), await read('down', 'normal.exr'));
    expect(varies).toBeGreaterThan(0.1);
    expect(off).toBeGreaterThan(0.1);
  });

  it.each(['up', 'down'])('is delivered Y %s to the same texels as the other', async (normalY) => {
    const profile = {
      ...{
        name: 'Plain',
        pattern: '{set}_{map}',
        normalY,
        halvings: 0,
        powerOfTwo: false,
        mesh: 'none',
        layered: false,
      },
      files: [{ map: 'normal', label: 'normal', format: 'exr' }],
    };
    writeFileSync(at(`${normalY}.json`), JSON.stringify(profile));
    for (const y of ['up', 'down']) {
      const { status, err } = cli(
        'deliver',
        at(`${normalY}.json`),
        '--set',
        at(y),
        '--out',
        at(`delivered-${normalY}-${y}`),
      );
      expect([status, err]).toEqual([0, '']);
    }
    const [up, down] = [
      await read(`delivered-${normalY}-up`, 'up_normal.exr'),
      await read(`delivered-${normalY}-down`, 'down_normal.exr'),
    ];
    const { off, varies } = compared(up, down);
    expect(varies).toBeGreaterThan(0.1);
    expect(off).toBeLessThan(1e-6);
    // And it is the bake made that way.
    expect(compared(up, await read(normalY, 'normal.exr')).off).toBeLessThan(1e-6);
  });

  it('goes into one atlas with one baked Y up, both written alike', async () => {
    const { status, err } = cli(
      'atlas',
      '--set',
      at('up'),
      '--set',
      at('down'),
      '--size',
      '64x32',
      '--out',
      at('atlas'),
    );
    expect([status, err]).toEqual([0, '']);
    const atlas = await read('atlas', 'normal.exr');
    for (let y = 0; y < 32; y++) {
      for (let x = 0; x < 32; x++) {
        for (let c = 0; c < 3; c++) {
          const left = atlas.data[(y * 64 + x) * atlas.channels + c]!;
          const right = atlas.data[(y * 64 + x + 32) * atlas.channels + c]!;
          expect(Math.abs(left - right)).toBeLessThan(1e-6);
        }
      }
    }
  });

  it('is made seamless as it is, and the new folder says what it holds', async () => {
    for (const y of ['up', 'down']) {
      const { status, err } = cli(
        'seamless',
        '--in-set',
        at(y),
        '--method',
        'band',
        '--width',
        '4',
        '--out',
        at(`tile-${y}`),
      );
      expect([status, err]).toEqual([0, '']);
    }
    const said = (y: string): { y: string } =>
      (JSON.parse(readFileSync(at(`tile-${y}`, 'report.json'), 'utf8')) as { maps: { convention: { y: string } }[] })
        .maps[0]!.convention;
    const [up, down] = [await read('tile-up', 'normal.exr'), await read('tile-down', 'normal.exr')];
    const sign = said('up').y === said('down').y ? 1 : -1;
    for (let i = 0; i < up.data.length; i++) {
      const isGreen = i % up.channels === 1;
      const other = isGreen && sign < 0 ? 1 - down.data[i]! : down.data[i]!;
      expect(Math.abs(up.data[i]! - other)).toBeLessThan(1e-5);
    }
  });
});
