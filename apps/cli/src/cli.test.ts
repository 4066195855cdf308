import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync, readdirSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { decode, encode } from 'fast-png';
import { FloatType } from 'three';
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bakeReport, DEFAULT_BAKE } from '@zographos/operations';
import { cli } from './testing/cli.ts';

let folder: string;

const PLANE = 'v -1 -1 0\nv 1 -1 0\nv 1 1 0\nv -1 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n';
/** A roof with its ridge along y, 0.1 high: two slopes of 1 in 10. */
const ROOF =
  'v -1 -1 0\nv 0 -1 0.1\nv 0 1 0.1\nv -1 1 0\nv 1 -1 0\nv 1 1 0\nvn -0.1 0 1\nvn 0.1 0 1\nf 1//1 2//1 3//1 4//1\nf 2//2 5//2 6//2 3//2\n';

beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-cli-'));
  writeFileSync(path.join(folder, 'low.obj'), PLANE);
  writeFileSync(path.join(folder, 'high.obj'), ROOF);
});
afterAll(() => rmSync(folder, { recursive: true }));

const file = (name: string): string => path.join(folder, name);
const bakeArgs = (...more: string[]): string[] => [
  'bake',
  '--receiver',
  file('low.obj'),
  '--source',
  file('high.obj'),
  ...more,
];

describe('cli bake', () => {
  it('writes the map and its report', () => {
    const out = file('out');
    const flags =
      '--maps normal --size 64 --reach-out 0.2 --reach-in 0.2 --samples 4 --padding 16 --normal-y up --format png16';
    expect(cli(...bakeArgs(...flags.split(' '), '--out', out))).toMatchObject({ status: 0, err: '' });
    const { width, depth, data } = decode(readFileSync(path.join(out, 'normal.png')));
    expect([width, depth]).toEqual([64, 16]);
    // The left slope leans to −u, the right one to +u, by the roof's gradient (calculus).
    const lean = 0.1 / Math.hypot(1, 0.1);
    expect((data[(10 * 64 + 10) * 3]! / 65535) * 2 - 1).toBeCloseTo(-lean, 4);
    expect((data[(10 * 64 + 50) * 3]! / 65535) * 2 - 1).toBeCloseTo(lean, 4);
    const report = bakeReport.parse(JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')));
    expect(report.rays).toBe(64 * 64 * 16);
    expect(report.texels).toEqual({ covered: 4096, missed: 0, overlapping: 0 });
    expect(report.seconds.total).toBeGreaterThan(0);
    expect(report.peakMemoryBytes).toBeGreaterThan(1e7);
  });

  it('says in one sentence what the system will not let it write', () => {
    const { status, err } = cli(
      ...bakeArgs('--size', '16', '--samples', '1', '--out', path.join(file('low.obj'), 'in')),
    );
    expect(status).toBe(2);
    expect(err).toMatch(/low\.obj.*: A part of its path is a file, not a folder\. Choose another place\.$/);
  });

  it('writes every map asked for, and starts from a cage', () => {
    const out = file('several');
    writeFileSync(file('cage.obj'), PLANE.replace(/^v (\S+) (\S+) 0$/gm, 'v $1 $2 0.5'));
    const flags = '--maps height,ao,bent,thickness,curvature,position,id,coverage --size 32 --samples 2 --rays 32';
    const more = `--max-distance 1 --direction split --seed 3 --id object --cage ${file('cage.obj')} --reach-in 0.2`;
    const args = [...flags.split(' '), ...more.split(' '), '--reach-out', '0', '--format', 'exr', '--out', out];
    expect(cli(...bakeArgs(...args))).toMatchObject({ status: 0, err: '' });
    const exr = new EXRLoader().setDataType(FloatType);
    const height = exr.parse(Uint8Array.from(readFileSync(path.join(out, 'height.exr'))).buffer);
    // Rows of the loader run upwards; the roof is 0.1 high in the middle and falls to its sides.
    const at = 16 * 32 + 15;
    expect((height.data as Float32Array)[at * 4]).toBeCloseTo(0.1 * (1 - 1 / 32), 5);
    const report = bakeReport.parse(JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')));
    expect(report.legend.map(({ name }) => name)).toHaveLength(1);
    for (const kind of ['ao', 'bent', 'thickness', 'curvature', 'position', 'id', 'coverage']) {
      expect(existsSync(path.join(out, `${kind}.exr`))).toBe(true);
    }
    writeFileSync(file('torn.obj'), ROOF);
    const torn = cli(...bakeArgs('--cage', file('torn.obj'), '--reach', 'auto', '--out', out));
    expect(torn).toMatchObject({
      status: 2,
      err: expect.stringMatching(/cage .* 4 triangles, but .* has 2/) as string,
    });
  });

  it('bakes each tile, and names files by their numbers', () => {
    const right = PLANE.replace(/^vt (\d) (\d)$/gm, (_, u: string, v: string) => `vt ${Number(u) + 1} ${v}`);
    writeFileSync(file('right.obj'), right);
    const out = file('tiles');
    const flags = '--tiles all --tile-size 1002=32x16 --size 64 --reach fitted --maps height --samples 1';
    expect(cli(...bakeArgs('--receiver', file('right.obj'), ...flags.split(' '), '--out', out))).toMatchObject({
      status: 0,
    });
    const sizes = ['height.1001.png', 'height.1002.png'].map((name) => {
      const { width, height } = decode(readFileSync(path.join(out, name)));
      return [width, height];
    });
    expect(sizes).toEqual([
      [64, 64],
      [32, 16],
    ]);
    expect(cli(...bakeArgs('--tiles', '3000', '--out', out)).err).toMatch(/1001 to 2000/);
  });

  it('matches objects by name, within one file as well', () => {
    const named = (name: string, z: number): string =>
      PLANE.replace(/^/, `o ${name}\n`).replace(/^(v \S+ \S+) 0$/gm, `$1 ${z}`);
    const second = (text: string): string => text.replace(/^f .*$/m, 'f 5/5 6/6 7/7 8/8');
    const half = (text: string, from: number): string =>
      text.replace(/^vt (\S+)/gm, (_, u: string) => `vt ${Number(u) * 0.4 + from}`);
    writeFileSync(file('parts_low.obj'), half(named('a_low', 0), 0.05) + second(half(named('b_low', 0), 0.55)));
    writeFileSync(file('parts_high.obj'), named('a_high', 0.1) + second(named('b_high', 0.2)));
    const out = file('matched');
    const flags = '--match-by-name --maps height,id --id object --size 32 --samples 1 --padding 0 --format exr';
    const reach = ['--reach-out', '0.5', '--reach-in', '0.5'];
    const meshes = ['--receiver', file('parts_low.obj'), '--source', file('parts_high.obj')];
    expect(cli('bake', ...meshes, ...flags.split(' '), ...reach, '--out', out)).toMatchObject({ status: 0, err: '' });
    const exr = new EXRLoader().setDataType(FloatType);
    const { data } = exr.parse(Uint8Array.from(readFileSync(path.join(out, 'height.exr'))).buffer);
    expect((data as Float32Array)[(16 * 32 + 8) * 4]).toBeCloseTo(0.1, 5);
    expect((data as Float32Array)[(16 * 32 + 24) * 4]).toBeCloseTo(0.2, 5);
    const ending = cli('bake', ...meshes, ...flags.split(' '), ...reach, '--source-ending', '_dense', '--out', out);
    expect(ending).toMatchObject({
      status: 2,
      err: expect.stringMatching(/No receiver matches a source by name/) as string,
    });
  });

  it('takes colours from materials and their pictures, and writes coverage as alpha', () => {
    const blue = encode({ width: 1, height: 1, data: Uint8Array.of(0, 0, 255), channels: 3 });
    writeFileSync(file('slate.png'), blue);
    writeFileSync(file('dense.mtl'), 'newmtl slate\nKd 1 1 1\nPr 0.25\nmap_Kd slate.png\n');
    writeFileSync(file('dense.obj'), `mtllib dense.mtl\n${PLANE.replace('f ', 'usemtl slate\nf ')}`);
    const out = file('coloured');
    const flags =
      '--maps basecolor,roughness --size 32 --samples 1 --reach-out 0.1 --reach-in 0.1 --format png8 --alpha --dither';
    const meshes = ['--receiver', file('low.obj'), '--source', file('dense.obj')];
    expect(cli('bake', ...meshes, ...flags.split(' '), '--out', out)).toMatchObject({ status: 0, err: '' });
    const { channels, data } = decode(readFileSync(path.join(out, 'basecolor.png')));
    expect([channels, ...data.slice(0, 4)]).toEqual([4, 0, 0, 255, 255]);
    const roughness = decode(readFileSync(path.join(out, 'roughness.png'))).data;
    // Dithered: a quarter of 255 lies between 63 and 64, and both are there.
    expect(new Set(roughness.filter((_, i) => i % 4 === 0))).toEqual(new Set([63, 64]));
  });

  it('takes --reach auto and every format', () => {
    for (const [format, name] of [
      ['png8', 'normal.png'],
      ['exr', 'normal.exr'],
      ['tiff16', 'normal.tif'],
      ['tga', 'normal.tga'],
    ] as const) {
      expect(
        cli(...bakeArgs('--reach', 'auto', '--size', '32', '--format', format, '--out', file(format))),
      ).toMatchObject({ status: 0 });
      expect(readFileSync(path.join(folder, format, name)).length).toBeGreaterThan(100);
    }
  });

  it.each([
    [['bake', '--out', 'x'], /--receiver is missing/],
    [['bake', '--receiver', 'no.obj', '--source', 'no.obj', '--out', 'x'], /no file “no\.obj”/],
    [['bake', '--wobble', '3'], /wobble/],
    [['dance'], /no command “dance”/],
    [['run', 'no.json', '--out', 'x'], /no ticket/],
  ])('%j ends with 2 and one sentence', (args, sentence) => {
    const { status, err } = cli(...args);
    expect(status).toBe(2);
    expect(err).toMatch(sentence);
    expect(err.split('\n')).toHaveLength(1);
  });

  it.each([
    [['--samples', '99'], /samples/],
    [['--size', 'big'], /not a size/],
    [['--maps', 'warmth'], /maps/],
    [['--format', 'gif'], /no format “gif”/],
    [['--reach-out', '1'], /reach-in is missing/],
    [['--reach-out', '0', '--reach-in', '0'], /some reach/],
    [['--uv-set', '4'], /UV set/],
    [['--normal-y', 'sideways'], /“normal y” must be up or down/],
    [['--repeat', 'round'], /not a pattern/],
    [['--repeat', 'staggered:2x3'], /even; 3 is odd/],
    [['--axes', 'xyw'], /axes/],
    [['--background', 'mauve'], /not a colour/],
  ])('bake … %j ends with 2 and one sentence', (more, sentence) => {
    const { status, err } = cli(...bakeArgs('--out', file('never'), ...more));
    expect(status).toBe(2);
    expect(err).toMatch(sentence);
    expect(err.split('\n')).toHaveLength(1);
  });
});

describe('cli run', () => {
  it('runs a ticket with the files beside it, to the same bytes as the flags', () => {
    const settings = { ...DEFAULT_BAKE, size: { width: 64, height: 64 }, reach: { out: 0.2, in: 0.2 } };
    const inputs = { receiver: { file: 'low.obj' }, sources: [{ file: 'high.obj', object: 'high' }] };
    const ticket = { zographos: 'ticket', version: 1, name: 'Roof', operation: 'bake', settings, inputs };
    writeFileSync(file('roof.ticket.json'), JSON.stringify(ticket));
    expect(cli('run', file('roof.ticket.json'), '--out', file('ran'))).toMatchObject({ status: 0 });
    const dressed = ['--format', 'tiff8', '--alpha', '--background', 'white', '--dither'];
    expect(cli('run', file('roof.ticket.json'), '--out', file('dressed'), ...dressed)).toMatchObject({ status: 0 });
    expect(readdirSync(file('dressed')).some((name) => name.endsWith('.tif'))).toBe(true);
    const flags = ['--size', '64', '--reach-out', '0.2', '--reach-in', '0.2'];
    expect(cli(...bakeArgs(...flags, '--out', file('flags')))).toMatchObject({ status: 0 });
    expect(readFileSync(file('ran/normal.png')).equals(readFileSync(file('flags/normal.png')))).toBe(true);
  });
});
