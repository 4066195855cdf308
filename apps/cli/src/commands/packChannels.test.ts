import path from 'node:path';
import { mkdtempSync } from 'node:fs';
import os from 'node:os';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { cli } from '../testing/cli.ts';

const folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-pack-'));
const at = (name: string): string => path.join(folder, name);

async function grey(name: string, side: number, value: (i: number) => number): Promise<string> {
  const data = Uint8Array.from({ length: side * side }, (_, i) => value(i));
  await sharp(data, { raw: { width: side, height: side, channels: 1 } })
    .png()
    .toFile(at(name));
  return at(name);
}

async function read(name: string): Promise<{ data: Buffer; channels: number; width: number }> {
  const { data, info } = await sharp(at(name)).raw().toBuffer({ resolveWithObject: true });
  return { data, channels: info.channels, width: info.width };
}

describe('cli pack with channels', () => {
  it('packs occlusion, roughness and metallic, and smoothness as one minus roughness (common practice, no source)', async () => {
    const ao = await grey('ao.png', 16, (i) => i % 256);
    const roughness = await grey('roughness.png', 16, (i) => (i * 7) % 256);
    const metallic = await grey('metallic.png', 16, (i) => (i % 2) * 255);
    const { status, err } = cli(
      'pack',
      '--r',
      ao,
      '--g',
      roughness,
      '--b',
      metallic,
      '--a',
      `${roughness}:invert`,
      '--out',
      at('orm.png'),
    );
    expect([status, err]).toEqual([0, '']);
    const { data, channels } = await read('orm.png');
    expect(channels).toBe(4);
    for (let i = 0; i < 256; i++) {
      const rough = (i * 7) % 256;
      expect([...data.subarray(i * 4, i * 4 + 4)]).toEqual([i, rough, (i % 2) * 255, 255 - rough]);
    }
  });

  it('takes a channel of another file, with levels, and constants; and says what it resampled', async () => {
    await grey('small.png', 8, () => 128);
    const { err } = cli(
      'pack',
      '--r',
      `${at('orm.png')}:a:levels=0.25-0.75`,
      '--g',
      '0.5',
      '--b',
      at('small.png'),
      '--out',
      at('mixed.png'),
    );
    expect(err).toContain('“small.png” was resampled from 8 × 8 to 16 × 16 px.');
    const { data, channels, width } = await read('mixed.png');
    expect([channels, width]).toEqual([3, 16]);
    const alpha = (255 - 7) / 255;
    expect(data[3]).toBe(Math.round(Math.max(0, Math.min(1, (alpha - 0.25) / 0.5)) * 255));
    expect([data[1], data[2]]).toEqual([128, 128]);
  });

  it('asks whether a colour is meant as data, and refuses what is no source', async () => {
    await sharp({ create: { width: 4, height: 4, channels: 3, background: '#804020' } })
      .png()
      .toFile(at('bell_basecolor.png'));
    const { status, err } = cli('pack', '--r', at('bell_basecolor.png'), '--out', at('red.png'));
    expect(status).toBe(0);
    expect(err).toContain('written unconverted, as data');
    expect(cli('pack', '--r', '1.5', '--out', at('x.png')).status).toBe(2);
    expect(cli('pack', '--r', at('nothing.png'), '--out', at('x.png')).err).toContain('There is no file');
  });
});
