import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { decode, encode } from 'fast-png';
import { validateBytes } from 'gltf-validator';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cli } from '../testing/cli.ts';

let folder: string;
const file = (name: string): string => path.join(folder, name);
const json = (name: string): unknown => JSON.parse(readFileSync(file(name), 'utf8')) as unknown;

/** A cube without UVs, its quads wound outwards. */
const CUBE =
  'v -1 -1 -1\nv 1 -1 -1\nv 1 1 -1\nv -1 1 -1\nv -1 -1 1\nv 1 -1 1\nv 1 1 1\nv -1 1 1\n' +
  'f 4 3 2 1\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n';
const PLANE = 'v -1 -1 0\nv 1 -1 0\nv 1 1 0\nv -1 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n';

beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-layout-'));
  writeFileSync(file('cube.obj'), CUBE);
  writeFileSync(file('plane.obj'), PLANE);
  // The same plane with its layout turned by half.
  writeFileSync(
    file('turned.obj'),
    PLANE.replace(/vt (\d) (\d)/g, (_, u, v) => `vt ${1 - Number(u)} ${1 - Number(v)}`),
  );
});
afterAll(() => rmSync(folder, { recursive: true }));

/** What a GLB says of itself. */
function readGlb(name: string): { meshes?: { primitives: { attributes: Record<string, number> }[] }[] } {
  const bytes = readFileSync(file(name));
  return JSON.parse(bytes.subarray(20, 20 + bytes.readUInt32LE(12)).toString()) as ReturnType<typeof readGlb>;
}

describe('cli unwrap, uv-check, uv-guide', () => {
  it('lays a mesh without UVs out, proves it, and draws it', async () => {
    expect(
      cli('unwrap', '--in', file('cube.obj'), '--size', '512', '--gap', '8', '--out', file('cube.glb')),
    ).toMatchObject({
      status: 0,
      err: '',
    });
    expect((await validateBytes(readFileSync(file('cube.glb')))).issues).toMatchObject({
      numErrors: 0,
      numWarnings: 0,
    });
    const { status, out } = cli('uv-check', '--in', file('cube.glb'), '--size', '512', '--padding', '8', '--json');
    expect(status).toBe(0);
    const check = JSON.parse(out) as Record<string, unknown> & { coverage: number; stretch: { l2: number } };
    expect(check).toMatchObject({ overlaps: 0, flipped: 0, outside: 0, tooClose: 0, triangles: 12 });
    expect(check.coverage).toBeGreaterThan(0.5);
    expect(check.stretch.l2).toBeCloseTo(1, 4);
    expect(cli('uv-guide', '--in', file('cube.glb'), '--size', '256', '--out', file('guide.png'))).toMatchObject({
      status: 0,
    });
    expect(decode(readFileSync(file('guide.png')))).toMatchObject({ width: 256, height: 256, channels: 4 });
    expect(cli('uv-guide', '--in', file('cube.glb'), '--out', file('guide.svg'), '--outline')).toMatchObject({
      status: 0,
    });
    expect(readFileSync(file('guide.svg'), 'utf8')).toMatch(/^<svg[\s\S]*<\/svg>\n$/);
  });

  it('packs what is there, and says in one sentence what is missing', () => {
    expect(cli('pack', '--in', file('plane.obj'), '--gap', '16', '--out', file('packed.obj'))).toMatchObject({
      status: 0,
    });
    expect(readFileSync(file('packed.obj'), 'utf8')).toMatch(/vt 0\.0156/);
    const bare = cli('pack', '--in', file('cube.obj'), '--out', file('no.obj'));
    expect(bare.status).toBe(2);
    expect(bare.err).toMatch(/has no UVs.*Unwrap it/);
    const crowded = cli('unwrap', '--in', file('cube.obj'), '--size', '16', '--gap', '9', '--out', file('no.glb'));
    expect(crowded.status).toBe(2);
    expect(crowded.err).toMatch(/do not fit/);
    expect(existsSync(file('no.glb'))).toBe(false);
  });
});

describe('cli transfer and merge', () => {
  it('carry a picture over to another layout, texel for texel', () => {
    const data = Uint8Array.from({ length: 32 * 32 * 3 }, (_, i) => (i * 37) % 256);
    writeFileSync(file('old.png'), encode({ width: 32, height: 32, channels: 3, data }));
    const flags = ['--size', '32', '--samples', '1', '--padding', '0', '--format', 'png8', '--out', file('carried')];
    expect(
      cli(
        'transfer',
        '--receiver',
        file('turned.obj'),
        '--source',
        file('plane.obj'),
        '--image',
        `basecolor=${file('old.png')}`,
        ...flags,
      ),
    ).toMatchObject({ status: 0, err: '' });
    const back = decode(readFileSync(file('carried/basecolor.png'))).data;
    // Turned by half: the last texel comes first.
    for (let texel = 0; texel < 32 * 32; texel++) {
      for (let c = 0; c < 3; c++) expect(back[texel * 3 + c]).toBe(data[(32 * 32 - 1 - texel) * 3 + c]);
    }
    const bare = cli(
      'transfer',
      '--receiver',
      file('plane.obj'),
      '--source',
      file('cube.obj'),
      '--image',
      `ao=${file('old.png')}`,
      '--out',
      file('no'),
    );
    expect(bare).toMatchObject({ status: 2, err: expect.stringMatching(/has no UV set 1/) as string });
  });

  it('carry over the channels of a packed file, known by its name or said', () => {
    const data = Uint8Array.from({ length: 32 * 32 * 3 }, (_, i) => (i * 37 + (i % 3) * 80) % 256);
    writeFileSync(file('quay_ORM.png'), encode({ width: 32, height: 32, channels: 3, data }));
    const images = [`ao=${file('quay_ORM.png')}`, `metallic=${file('quay_ORM.png')}:g:invert`];
    const flags = ['--size', '32', '--samples', '1', '--padding', '0', '--format', 'png8', '--out', file('unpacked')];
    const meshes = ['--receiver', file('turned.obj'), '--source', file('plane.obj')];
    const ran = cli('transfer', ...meshes, ...images.flatMap((image) => ['--image', image]), ...flags);
    expect(ran).toMatchObject({ status: 0, err: '' });
    const [ao, metallic] = ['ao', 'metallic'].map((kind) => decode(readFileSync(file(`unpacked/${kind}.png`))).data);
    for (let texel = 0; texel < 32 * 32; texel++) {
      const from = (32 * 32 - 1 - texel) * 3;
      expect([ao![texel], metallic![texel]]).toEqual([data[from], 255 - data[from + 1]!]);
    }
  });

  it('melt materials, write one mesh, and count draw calls before and after', async () => {
    writeFileSync(file('two.mtl'), 'newmtl red\nKd 1 0 0\nPr 0.5\nnewmtl blue\nKd 0 0 1\n');
    writeFileSync(
      file('two.obj'),
      `mtllib two.mtl\n${CUBE.replace('f 4', 'usemtl red\nf 4').replace('f 2 3', 'usemtl blue\nf 2 3')}`,
    );
    const { status, err } = cli(
      'merge',
      '--in',
      file('two.obj'),
      '--maps',
      'basecolor,roughness,metallic,normal',
      '--size',
      '128',
      '--out',
      file('merged'),
    );
    expect({ status, err }).toEqual({ status: 0, err: '' });
    expect(json('merged/report.json')).toMatchObject({
      before: { drawCalls: 2 },
      after: { drawCalls: 1, materials: 1 },
    });
    for (const kind of ['basecolor', 'roughness', 'metallic', 'normal'])
      expect(existsSync(file(`merged/${kind}.png`))).toBe(true);
    const { issues } = await validateBytes(readFileSync(file('merged/merged.glb')));
    expect(issues).toMatchObject({ numErrors: 0, numWarnings: 0 });
  });
});

describe('cli atlas', () => {
  it('keeps packed files packed, and fills each channel with its neutral value', () => {
    const noise = (n: number) => Uint8Array.from({ length: 16 * 16 * 4 }, (_, i) => (i * i * 7 + n * 50) % 256);
    const save = (name: string, channels: 3 | 4, n: number): Uint8Array => {
      mkdirSync(path.dirname(file(name)), { recursive: true });
      const data = noise(n).slice(0, 16 * 16 * channels);
      writeFileSync(file(name), encode({ width: 16, height: 16, channels, data }));
      return data;
    };
    const orm = save('first/first_ORM.png', 3, 1);
    // Packed in another order.
    const rma = save('second/second_MRA.png', 3, 3);
    const third = save('third/third_basecolor.png', 3, 4);
    const sets = ['first', 'second', 'third'].flatMap((name) => ['--set', file(name)]);
    const { status, err } = cli('atlas', ...sets, '--size', '32', '--out', file('packed atlas'));
    expect(status).toBe(0);
    expect(err).toMatch(/third: ambient occlusion/);
    expect(existsSync(file('packed atlas/roughness.png'))).toBe(false);
    const atlas = decode(readFileSync(file('packed atlas/ao-roughness-metallic.png')));
    const texel = (x: number, y: number): number[] => [...atlas.data.slice((y * 32 + x) * 3, (y * 32 + x) * 3 + 3)];
    const own = (data: Uint8Array, x: number, y: number): number[] => [
      ...data.slice((y * 16 + x) * 3, (y * 16 + x) * 3 + 3),
    ];
    // Rows of an atlas begin at the bottom left.
    expect(texel(5, 16 + 3)).toEqual(own(orm, 5, 3));
    const [m, r, a] = own(rma, 9, 7);
    expect(texel(16 + 9, 16 + 7)).toEqual([a, r, m]);
    // Occlusion 1, roughness 0.5, metallic 0.
    expect(texel(5, 3)).toEqual([255, 128, 0]);
    expect(decode(readFileSync(file('packed atlas/basecolor.png'))).data.slice(0, 48)).toEqual(third.slice(0, 48));
    // What the folder says of itself is enough to take it apart again.
    const again = cli('atlas', '--set', file('packed atlas'), '--size', '32', '--out', file('again'));
    expect(again.status).toBe(0);
    expect(decode(readFileSync(file('again/ao-roughness-metallic.png'))).data).toEqual(atlas.data);
  });

  it('puts sets into one atlas, texel for texel, and moves UVs to match', () => {
    ['a', 'b', 'c'].forEach((name, n) => {
      mkdirSync(file(name));
      const data = Uint8Array.from({ length: 16 * 16 * 3 }, (_, i) => (i * 7 + n * 50) % 256);
      writeFileSync(file(`${name}/basecolor.png`), encode({ width: 16, height: 16, channels: 3, data }));
      if (name !== 'c') {
        const deep = Uint16Array.from({ length: 256 }, (_, i) => i * 250 + n);
        writeFileSync(
          file(`${name}/${name}_ao.png`),
          encode({ width: 16, height: 16, channels: 1, depth: 16, data: deep }),
        );
      }
    });
    const sets = ['a', 'b', 'c'].flatMap((name) => ['--set', file(name), '--meshes', file('plane.obj')]);
    const { status, err } = cli('atlas', ...sets, '--size', '32', '--layout', 'grid', '--out', file('atlas'));
    expect(status).toBe(0);
    expect(err).toBe('Filled with the neutral value: c: ambient occlusion.');
    const colour = decode(readFileSync(file('atlas/basecolor.png')));
    const old = decode(readFileSync(file('b/basecolor.png')));
    // The second set lies at the bottom right.
    for (let y = 0; y < 16; y++) {
      const row = ((16 + y) * 32 + 16) * 3;
      expect(colour.data.slice(row, row + 48)).toEqual(old.data.slice(y * 48, y * 48 + 48));
    }
    const ao = decode(readFileSync(file('atlas/ao.png')));
    expect(ao.depth).toBe(16);
    expect(ao.data[(16 + 3) * 32 + 16 + 5]).toBe((3 * 16 + 5) * 250 + 1);
    expect(ao.data[0]).toBe(65535);
    expect(json('atlas/report.json')).toMatchObject({
      sets: [{}, { uv: { scale: [0.5, 0.5], offset: [0.5, 0] } }, { uv: { offset: [0, 0.5] } }],
    });
    for (const name of ['a', 'b', 'c']) expect(existsSync(file(`atlas/${name}_plane.glb`))).toBe(true);
    const joined = cli('atlas', ...sets, '--size', '32', '--join', '--out', file('joined'));
    expect(joined.status).toBe(0);
    const document = readGlb('joined/joined.glb');
    expect(document.meshes).toHaveLength(1);
    expect(document.meshes![0]!.primitives).toHaveLength(1);
    expect(existsSync(file('joined/a_plane.glb'))).toBe(false);
    const small = cli('atlas', ...sets, '--size', '16', '--out', file('none'));
    expect(small).toMatchObject({
      status: 2,
      err: expect.stringMatching(/3 image sets do not fit.*32 px would do/) as string,
    });
    expect(existsSync(file('none'))).toBe(false);
  });
});
