import path from 'node:path';
import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { manifest } from '@zographos/operations';
import { cli } from '../testing/cli.ts';

const folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-flat-'));
const at = (...names: string[]): string => path.join(folder, ...names);

/** Stones with dark joints, seen as a colour picture. */
const FIELD = {
  layers: [
    { kind: 'bricks', columns: 4, rows: 4, line: 0.08, elements: { tone: 0.4 } },
    { kind: 'gradient-noise', scale: 16, blend: 'overlay', opacity: 0.6 },
  ],
  maps: [
    {
      kind: 'basecolor',
      ramp: [
        { at: 0, color: '#2a2622' },
        { at: 1, color: '#b5a894' },
      ],
    },
    { kind: 'height' },
  ],
};

async function samples(file: string | Uint8Array): Promise<{ data: Buffer; width: number; channels: number }> {
  const { data, info } = await sharp(file).raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { data, width: info.width, channels: info.channels };
}

beforeAll(() => {
  writeFileSync(at('field.json'), JSON.stringify(FIELD));
  const drawn = cli(
    'procedural',
    at('field.json'),
    '--wrap',
    'flat-torus',
    '--size',
    '128',
    '--format',
    'png8',
    '--out',
    at('stone'),
  );
  expect(drawn.err).toBe('');
});

describe('cli procedural', () => {
  it('draws each map of a field so that it repeats, and the same again', async () => {
    const first = readFileSync(at('stone', 'basecolor.png'));
    expect((await samples(first)).width).toBe(128);
    cli('procedural', at('field.json'), '--size', '128', '--format', 'png8', '--out', at('again'));
    expect(Buffer.compare(first, readFileSync(at('again', 'basecolor.png')))).toBe(0);
  });

  it('says which setting is wrong', () => {
    writeFileSync(at('bad.json'), JSON.stringify({ layers: [{ kind: 'marble' }] }));
    expect(cli('procedural', at('bad.json'), '--out', at('x.png')).err).toContain('layers 1 kind');
    writeFileSync(at('no.json'), '[');
    expect(cli('procedural', at('no.json'), '--out', at('x.png')).err).toContain('no JSON object');
  });
});

describe('cli derive', () => {
  it('makes every map of a material from a colour picture', async () => {
    const maps = ['height', 'normal', 'ao', 'edges', 'cavity', 'roughness', 'metallic', 'specular'];
    const { status, err } = cli(
      ...['derive', '--in', at('stone', 'basecolor.png'), '--maps', maps.join(), '--out', at('derived')],
    );
    expect([status, err]).toEqual([0, '']);
    for (const map of maps) expect(existsSync(at('derived', `${map}.png`))).toBe(true);
    const height = await samples(at('derived', 'height.png'));
    // The first row runs along a joint, which is dark: it lies lower than the middle of a stone.
    const [joint, stone] = [height.data[5 * height.channels]!, height.data[(16 * 128 + 16) * height.channels]!];
    expect(joint).toBeLessThan(stone - 60);
    const { data, channels } = await samples(at('derived', 'normal.png'));
    const mean = [0, 1, 2].map(
      (c) => data.filter((_, i) => i % channels === c).reduce((sum, value) => sum + value, 0) / (128 * 128),
    );
    // A height field that repeats comes back to where it began: slopes add up to none.
    expect(mean[0]).toBeCloseTo(127.5, -1);
    expect(mean[1]).toBeCloseTo(127.5, -1);
    expect(mean[2]).toBeGreaterThan(180);
  });

  it('goes back from normals to height', async () => {
    const { out } = cli('derive', '--in', at('derived', 'normal.png'), '--maps', 'height', '--out', at('back'));
    expect(out).toContain('1 map of 128 × 128');
    const [one, two] = [await samples(at('derived', 'height.png')), await samples(at('back', 'height.png'))];
    const [a, b] = [one, two].map(({ data, channels }) =>
      Float64Array.from({ length: 128 * 128 }, (_, i) => data[i * channels]!),
    );
    const center = (values: Float64Array): Float64Array => {
      const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
      return values.map((value) => value - mean);
    };
    const [p, q] = [center(a!), center(b!)];
    const dot = (x: Float64Array, y: Float64Array): number => x.reduce((sum, value, i) => sum + value * y[i]!, 0);
    expect(dot(p, q) / Math.sqrt(dot(p, p) * dot(q, q))).toBeGreaterThan(0.95);
  });
});

describe('cli run', () => {
  it('runs tickets of flat material saved from the studio: a field, a tile of it, and what is derived', async () => {
    const ticket = (name: string, operation: string, settings: object, pictures: string[]): string => {
      const file = at(`${name}.ticket.json`);
      const inputs = { pictures: pictures.map((picture) => ({ file: picture })) };
      writeFileSync(file, JSON.stringify({ zographos: 'ticket', version: 2, name, operation, settings, inputs }));
      return file;
    };
    const go = (file: string, out: string) => cli('run', file, '--format', 'png8', '--out', at(out));
    const size = { width: 128, height: 128 };
    const drawn = ticket('field', 'field', { ...FIELD, wrap: 'flat-torus', size }, []);
    expect(go(drawn, 'run-field')).toMatchObject({ status: 0, err: '' });
    // The same as by its own command.
    const [one, other] = [at('run-field', 'basecolor.png'), at('stone', 'basecolor.png')].map((file) =>
      readFileSync(file),
    );
    expect(Buffer.compare(one!, other!)).toBe(0);
    const meaning = { kind: 'basecolor', colorSpace: 'srgb' };
    const tile = ticket('tile', 'seamless', { pictures: [meaning], size: { width: 96, height: 96 } }, [
      'run-field/basecolor.png',
    ]);
    expect(go(tile, 'run-tile')).toMatchObject({ status: 0, err: '' });
    expect((await samples(at('run-tile', 'basecolor.png'))).width).toBe(96);
    const derived = { maps: ['height', 'ao', 'displacement'], picture: meaning };
    expect(go(ticket('maps', 'derive', derived, ['run-tile/basecolor.png']), 'run-maps')).toMatchObject({
      status: 0,
      err: '',
    });
    for (const file of ['height.png', 'ao.png', 'displacement.exr'])
      expect(existsSync(at('run-maps', file))).toBe(true);
    const report = JSON.parse(readFileSync(at('run-maps', 'report.json'), 'utf8')) as {
      seams: Record<string, unknown>;
    };
    expect(Object.keys(report.seams)).toEqual(['height', 'ao', 'displacement']);
    expect(go(ticket('none', 'seamless', { pictures: [meaning], size }, []), 'none').err).toContain(
      'picture of this ticket is missing',
    );
  });
});

describe('pictures of odd sizes', () => {
  const odd = async (name: string, width: number, height: number): Promise<string> => {
    const raw = { width, height, channels: 3 as const };
    const data = Uint8Array.from({ length: width * height * 3 }, (_, i) => (i * 2654435761) % 251);
    await sharp(data, { raw }).png().toFile(at(name));
    return at(name);
  };

  it.each([
    ['one texel', 1, 1],
    ['two rows of thirty thousand', 30_000, 2],
  ])('%s: maps are derived of it, and a tile is made or refused in words', async (name, width, height) => {
    const file = await odd(`odd ${width}.png`, width, height);
    const out = at(`odd ${width}`);
    const maps = 'height,normal,ao,edges,cavity,roughness,metallic,specular';
    expect(cli('derive', '--in', file, '--maps', maps, '--out', out), name).toMatchObject({ status: 0, err: '' });
    const { width: w, data } = await samples(path.join(out, 'normal.png'));
    expect(w).toBe(width);
    // Directions of finite values: blue of a normal is never below one half.
    for (let i = 2; i < data.length; i += 3) expect(data[i]).toBeGreaterThanOrEqual(127);
    for (const method of ['band', 'cut', 'preserve', 'mirror', 'synthesise']) {
      const made = cli('seamless', '--in', file, '--method', method, '--out', at('odd tile.png'));
      if (made.status === 0) expect(made.err).toBe('');
      else expect(made.err).toMatch(/Choose/);
    }
  });
});

describe('cli deliver', () => {
  const profile = (more: object): string => {
    const file = at('profile.json');
    const base = {
      name: 'test',
      files: [
        { map: 'basecolor', label: 'color', format: 'jpeg' },
        {
          label: 'orm',
          channels: [{ map: 'ao' }, { map: 'roughness', invert: true }, { constant: 0.25 }],
          format: 'png8',
        },
        { map: 'normal', label: 'normal', format: 'png8' },
        { map: 'height', label: 'height', format: 'tiff32' },
      ],
      pattern: '{project}/{set}_{map}_{size}',
    };
    writeFileSync(file, JSON.stringify({ ...base, ...more }));
    return file;
  };

  it('packs, names and describes what it delivers, so that it can be unpacked again', async () => {
    const [set, zip] = [at('derived'), at('out.zip')];
    const { status, err } = cli(
      'deliver',
      profile({ normalY: 'down' }),
      '--set',
      set,
      '--project',
      'Quay',
      '--out',
      zip,
    );
    expect(status).toBe(0);
    expect(err).toContain('has no base colour map');
    const files = unzipSync(readFileSync(zip));
    expect(Object.keys(files).sort()).toEqual([
      'Quay/derived_height_128.tif',
      'Quay/derived_normal_128.png',
      'Quay/derived_orm_128.png',
      'manifest.json',
    ]);
    const told = manifest.parse(JSON.parse(Buffer.from(files['manifest.json']!).toString()));
    for (const { path: name, sha256, bytes } of told.files) {
      expect(createHash('sha256').update(files[name]!).digest('hex')).toBe(sha256);
      expect(files[name]!.length).toBe(bytes);
    }
    const orm = told.files.find(({ path: name }) => name.includes('orm'))!;
    expect(orm.channels.map(({ map, inverted, constant }) => [map, inverted, constant])).toEqual([
      ['ao', false, null],
      ['roughness', true, null],
      [null, false, 0.25],
    ]);
    const packed = await samples(files['Quay/derived_orm_128.png']!);
    const roughness = await samples(at('derived', 'roughness.png'));
    expect(Math.abs(packed.data[1]! + roughness.data[0]! - 255)).toBeLessThanOrEqual(1);
    expect(packed.data[2]).toBe(64);
    // Green of a normal with Y down is that of one with Y up, turned round.
    const [down, up] = [
      await samples(files['Quay/derived_normal_128.png']!),
      await samples(at('derived', 'normal.png')),
    ];
    for (let i = 1; i < down.data.length; i += 997 * 3)
      expect(Math.abs(down.data[i]! + up.data[i]! - 255)).toBeLessThanOrEqual(1);
  });

  it('refuses names that leave the folder or meet, and leaves nothing behind', () => {
    const run = (more: object) => cli('deliver', profile(more), '--set', at('derived'), '--out', at('never.zip'));
    expect(run({ pattern: '../{map}' }).err).toContain('must stay in its folder');
    expect(run({ pattern: 'all' }).err).toContain('needs {map}');
    const two = ['normal', 'height'].map((map) => ({ map, label: 'same', format: 'png8' }));
    expect(run({ files: two }).err).toContain('Two files would be called');
    expect(existsSync(at('never.zip'))).toBe(false);
  });

  it('leaves an earlier archive alone when the disk is full', () => {
    const zip = at('full.zip');
    writeFileSync(zip, 'the one before');
    // A device that has no room, wherever the system has one.
    symlinkSync('/dev/full', `${zip}.part`);
    const { status, err } = cli('deliver', profile({}), '--set', at('derived'), '--out', zip);
    expect(status).not.toBe(0);
    expect(err).toMatch(/could not be written.*Make room/s);
    expect(readFileSync(zip, 'utf8')).toBe('the one before');
    expect(existsSync(`${zip}.part`)).toBe(false);
  });

  it('warns when colour is written as data, and halves sizes', async () => {
    const files = [
      { label: 'mixed', channels: [{ map: 'basecolor' }, { map: 'height' }, { constant: 0 }], format: 'webp' },
    ];
    const { err } = cli('deliver', profile({ files, halvings: 1 }), '--set', at('stone'), '--out', at('small'));
    expect(err).toContain('packs base colour, which is sRGB, together with linear data');
    expect((await samples(at('small', 'delivery', 'stone_mixed_64.webp'))).width).toBe(64);
  });
});
