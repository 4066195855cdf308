import { strToU8, zipSync } from 'fflate';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cli } from '../testing/cli.ts';

let folder: string;
const file = (name: string): string => path.join(folder, name);
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-layers-'));
  writeFileSync(file('ridge.obj'), RIDGE);
  writeFileSync(file('bare.obj'), RIDGE.replace(/^vt.*\n/gm, '').replace(/(\d+)\/\d+/g, '$1'));
});
afterAll(() => rmSync(folder, { recursive: true }));

/** A roof of two slopes, 100 units long, whose ridge is an edge. */
const RIDGE = `o ridge
v -50 0 -50
v 50 0 -50
v 50 30 0
v -50 30 0
v 50 0 50
v -50 0 50
vt 0 0
vt 1 0
vt 1 0.5
vt 0 0.5
vt 1 1
vt 0 1
f 1/1 4/4 3/3 2/2
f 4/4 6/6 5/5 3/3
`;

const write = (name: string, layers: object[], more: object = {}): string => {
  writeFileSync(file(name), JSON.stringify({ zographos: 'stack', version: 1, layers, ...more }));
  return file(name);
};
const texels = async (name: string): Promise<Buffer> => sharp(file(name)).raw().toBuffer();

describe('cli layers', () => {
  it('prints a stack that needs no other file, and runs it on a mesh with UVs', async () => {
    const { out, status } = cli('layers', '--example');
    expect(status).toBe(0);
    writeFileSync(file('example.json'), out);
    const args = ['--receiver', file('ridge.obj'), '--size', '64', '--out', file('example'), '--format', 'png8'];
    const run = cli('layers', file('example.json'), ...args);
    expect([run.err, run.status]).toEqual(['', 0]);
    expect(run.out).toMatch(/^6 layers into 5 maps of 64 × 64 px/);
    const report = JSON.parse(readFileSync(file('example/report.json'), 'utf8')) as { maps: { kind: string }[] };
    expect(report.maps.map(({ kind }) => kind).sort()).toEqual([
      'basecolor',
      'height',
      'metallic',
      'normal',
      'roughness',
    ]);
    // Nothing in it is bare ground.
    expect(new Set(await texels('example/basecolor.png')).size).toBeGreaterThan(20);
  });

  it('takes maps of a folder, gives the same for any number of threads, and knows units and images beside it', async () => {
    await sharp({ create: { width: 32, height: 32, channels: 3, background: '#ffffff' } })
      .png()
      .toFile(file('white.png'));
    const layers = [
      { id: 'ground', name: 'ground', content: 'plain', values: { basecolor: '#204060', roughness: 0.25 } },
      {
        ...{ id: 'low', name: 'low', content: 'plain', values: { roughness: 0.75 } },
        mask: { steps: [{ measure: 'axis', axis: [0, 1, 0], from: 151, to: 149 }] },
      },
      { id: 'white', name: 'white', content: 'picture', picture: 0, channels: ['basecolor'], opacity: 0.5 },
    ];
    const stack = write('stack.json', layers, { pictures: ['white.png'] });
    const run = (threads: string) =>
      cli(
        ...['layers', stack, '--receiver', file('ridge.obj'), '--unit', 'cm', '--size', '64', '--format', 'png8'],
        ...['--threads', threads, '--out', file(`by${threads}`)],
      );
    for (const threads of ['1', '2']) expect(run(threads).status).toBe(0);
    for (const map of ['basecolor', 'roughness']) {
      expect((await texels(`by1/${map}.png`)).equals(await texels(`by2/${map}.png`))).toBe(true);
    }
    // Half way between both colours as they are seen.
    const pixel = (await texels('by1/basecolor.png')).subarray(0, 3);
    [0x20, 0x40, 0x60].forEach((dark, k) => expect(Math.abs(pixel[k]! - (dark + 255) / 2)).toBeLessThanOrEqual(0.5));
    const roughness = await texels('by1/roughness.png');
    // The eaves lie below 150 mm, the ridge at 300 mm.
    const channels = roughness.length / 64 ** 2;
    const at = (y: number): number => roughness[(y * 64 + 32) * channels]!;
    expect([at(2), at(31), at(61)]).toEqual([191, 64, 191]);
  });

  it('takes a stack as one ZIP, with its images in it, and nothing that leads out of it', async () => {
    const white = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#ffffff' } })
      .png()
      .toBuffer();
    const layers = [{ id: 'white', name: 'white', content: 'picture', picture: 0, channels: ['basecolor'] }];
    const stack = { zographos: 'stack', version: 1, layers, pictures: ['pictures/1 white.png'] };
    const pack = (files: Record<string, Uint8Array>): string => {
      writeFileSync(file('stack.zip'), zipSync(files));
      return file('stack.zip');
    };
    const json = strToU8(JSON.stringify(stack));
    const zip = pack({ 'stack.json': json, 'pictures/1 white.png': white, '../../../escaped.png': white });
    const args = ['--receiver', file('ridge.obj'), '--size', '32', '--format', 'png8', '--out', file('zipped')];
    const run = cli('layers', zip, ...args);
    expect([run.err, run.status]).toEqual(['', 0]);
    expect((await texels('zipped/basecolor.png')).subarray(0, 3)).toEqual(Buffer.from([255, 255, 255]));
    expect(existsSync(path.join(os.tmpdir(), '../../escaped.png'))).toBe(false);
    expect(cli('layers', pack({ 'other.json': json }), ...args).err).toContain('holds no stack.json');
  });

  it('says in one sentence what is wrong', () => {
    const plain = { id: 'a', name: 'a', content: 'plain', values: { roughness: 0.5 } };
    const good = write('good.json', [plain]);
    const said = (...args: string[]): string => {
      const { err, status } = cli('layers', ...args, '--size', '32', '--out', file('never'));
      expect(status).toBe(2);
      expect(err.trim().split('\n')).toHaveLength(1);
      return err;
    };
    const receiver = ['--receiver', file('ridge.obj')];
    expect(said(...receiver)).toContain('Name the stack');
    expect(said(good)).toContain('--receiver');
    expect(said(file('none.json'), ...receiver)).toContain('no file');
    expect(said(good, '--receiver', file('bare.obj'))).toContain('has no UVs');
    expect(said(good, ...receiver, '--unit', 'ell')).toContain('unit');
    writeFileSync(file('torn.json'), '{"zographos": "stack"');
    expect(said(file('torn.json'), ...receiver)).toContain('not JSON');
    const odd = write('odd.json', [{ ...plain, content: 'velvet' }]);
    expect(said(odd, ...receiver)).toContain('not a stack that can be run');
    const cavity = { ...plain, mask: { steps: [{ measure: 'map', map: 'cavity', from: 0, to: 1 }] } };
    expect(said(write('cavity.json', [cavity]), ...receiver)).toContain('cannot be baked from the receiver alone');
    const lost = { id: 't', name: 't', content: 'picture', picture: 0, channels: ['basecolor'] };
    expect(said(write('lost.json', [lost]), ...receiver)).toContain('Image 1 of the stack');
  });
});
