import path from 'node:path';
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { cli } from '../testing/cli.ts';

const folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-combine-'));
const at = (...names: string[]): string => path.join(folder, ...names);
const samples = async (...names: string[]): Promise<Buffer> =>
  sharp(at(...names))
    .raw()
    .toBuffer();

/** Packed as occlusion, roughness and metallic. */
const ORM = sharp({ create: { width: 32, height: 16, channels: 3, background: { r: 200, g: 90, b: 10 } } });
const DISC = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><circle cx="5" cy="5" r="4"/></svg>';

describe('cli combine', () => {
  it('takes maps out of the channels of a packed file, and lays one image on another', async () => {
    await ORM.png().toFile(at('kit_orm.png'));
    writeFileSync(
      at('maps.json'),
      JSON.stringify({
        maps: [
          { kind: 'roughness', layers: [{ pick: { channel: 1, invert: true } }] },
          {
            kind: 'metallic',
            layers: [{ pick: { channel: 2 } }, { pick: { channel: 0 }, blend: 'lighten', opacity: 0.5 }],
          },
        ],
      }),
    );
    const { err, status } = cli('combine', at('maps.json'), at('kit_orm.png'), '--out', at('maps'), '--format', 'png8');
    expect([status, err]).toEqual([0, '']);
    expect(readdirSync(at('maps')).sort()).toEqual(['metallic.png', 'report.json', 'roughness.png']);
    expect((await sharp(at('maps', 'roughness.png')).metadata()).width).toBe(32);
    expect((await samples('maps', 'roughness.png'))[0]).toBe(255 - 90);
    expect((await samples('maps', 'metallic.png'))[0]).toBe(105);
  });

  it('says which setting is wrong, and which image is missing', () => {
    writeFileSync(at('wrong.json'), JSON.stringify({ maps: [{ kind: 'roughness', layers: [{ opacity: 2 }] }] }));
    expect(cli('combine', at('wrong.json'), at('kit_orm.png'), '--out', at('x')).err).toContain('layers 1 opacity');
    writeFileSync(at('missing.json'), JSON.stringify({ maps: [{ kind: 'mask', layers: [{ image: 3 }] }] }));
    expect(cli('combine', at('missing.json'), at('kit_orm.png'), '--out', at('x')).err).toContain(
      'image of this ticket',
    );
    expect(cli('combine', at('missing.json'), '--out', at('x')).err).toContain('IMAGE');
  });
});

describe('cli procedural', () => {
  it('repeats an SVG, and tells its copies apart', async () => {
    writeFileSync(at('disc.svg'), DISC);
    writeFileSync(
      at('discs.json'),
      JSON.stringify({
        layers: [{ kind: 'picture', columns: 4, rows: 4, shift: 0, thickness: 1 }],
        maps: [{ kind: 'mask' }, { kind: 'id', shows: 'elements' }],
      }),
    );
    const { err } = cli(
      ...['procedural', at('discs.json'), at('disc.svg'), '--size', '128', '--format', 'png8', '--out', at('discs')],
    );
    expect(err).toBe('');
    const mask = await samples('discs', 'mask.png');
    const covered = mask.reduce((sum, value) => sum + value, 0) / mask.length / 255;
    // Discs of radius 0.4 in their cells.
    expect(covered).toBeCloseTo(Math.PI * 0.16, 2);
    const ids = await samples('discs', 'id.png');
    const colors = new Set(Array.from({ length: 128 * 128 }, (_, i) => ids.subarray(i * 3, i * 3 + 3).join()));
    // Those of sixteen copies, and of the ground between them.
    expect(colors.size).toBe(17);
  });
});

describe('cli cut-outs', () => {
  it('packs what stands alone, with its opacity and the place of each', async () => {
    const leaves = [
      '<circle cx="20" cy="20" r="12"/>',
      '<rect x="60" y="10" width="30" height="60"/>',
      '<circle cx="25" cy="75" r="6"/>',
    ];
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><g fill="#408020">${leaves.join('')}</g></svg>`;
    await sharp(Buffer.from(svg)).resize(200, 200).png().toFile(at('leaves_basecolor.png'));
    const { err, out } = cli(
      ...['cut-outs', at('leaves_basecolor.png'), '--size', '128', '--gutter', '2', '--format', 'png8'],
      ...['--out', at('leaves')],
    );
    expect(err).toBe('');
    expect(out).toMatch(/^3 cut-outs, reduced to [\d.]+ % so that all fit/);
    const { cutouts } = JSON.parse(readFileSync(at('leaves', 'report.json'), 'utf8')) as {
      cutouts: { places: { width: number; height: number }[] };
    };
    expect(cutouts.places).toHaveLength(3);
    const color = await samples('leaves', 'basecolor.png');
    const opacity = await samples('leaves', 'opacity.png');
    const step = opacity.length / (128 * 128);
    for (let i = 0; i < 128 * 128; i++) {
      // The colour of the leaves wherever anything is seen: nothing of what was transparent.
      if (opacity[i * step]! > 0) expect(Math.abs(color[i * 3 + 1]! - 0x80)).toBeLessThan(9);
    }
    expect(cli('cut-outs', at('kit_orm.png'), '--out', at('none')).err).toMatch(/Nothing stands alone/);
  });
});
