import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { decode, encode } from 'fast-png';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { FloatType } from 'three';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { limitsFrom, readImageFile } from '@zographos/formats/images';
import { cli } from '../testing/cli.ts';

let folder: string;
const file = (name: string): string => path.join(folder, name);
const report = (name: string): { noise: number; texels: number; samples: number; pictures: { file: string }[] } =>
  JSON.parse(readFileSync(file(`${name}/report.json`), 'utf8')) as ReturnType<typeof report>;

/** A plane of the side 2 that faces up, with UVs over all of it; and a square of the side 0.5 that sends 10 from 1 above. */
const FLOOR =
  'mtllib room.mtl\nv -1 0 -1\nv 1 0 -1\nv 1 0 1\nv -1 0 1\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nvn 0 1 0\nusemtl grey\n' +
  'f 1/1/1 4/4/1 3/3/1\nf 1/1/1 3/3/1 2/2/1\n';
const LAMP =
  'mtllib room.mtl\nv -0.25 1 -0.25\nv 0.25 1 -0.25\nv 0.25 1 0.25\nv -0.25 1 0.25\nusemtl lamp\nf 1 2 3\nf 1 3 4\n';
const MATERIALS = 'newmtl grey\nKd 0.5 0.5 0.5\nnewmtl lamp\nKd 0 0 0\nKe 10 10 10\n';

beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-light-'));
  writeFileSync(file('floor.obj'), FLOOR);
  writeFileSync(file('lamp.obj'), LAMP);
  writeFileSync(file('room.mtl'), MATERIALS);
  writeFileSync(
    file('both.obj'),
    FLOOR +
      LAMP.replace(
        /f (\d) (\d) (\d)/g,
        (_, ...n) =>
          `f ${n
            .slice(0, 3)
            .map((v) => Number(v) + 4)
            .join(' ')}`,
      ),
  );
});
afterAll(() => rmSync(folder, { recursive: true }));

const light = (out: string, ...flags: string[]) =>
  cli('light', '--receiver', file('floor.obj'), '--size', '32', '--padding', '0', ...flags, '--out', file(out));
const lamp = (): string[] => ['--source', file('lamp.obj')];
const read = (name: string) => readImageFile(name, readFileSync(file(name)), limitsFrom({}));
/** The mean of the four texels about the middle. */
async function middleOf(name: string): Promise<number> {
  const { width, channels, data } = await read(name);
  const at = (x: number, y: number): number => data[(y * width + x) * channels]!;
  return (at(15, 15) + at(16, 15) + at(15, 16) + at(16, 16)) / 4;
}

/** Irradiance below the middle of a square of radiance 1: four times that of its quarter (Lambert; Howell, B-4). */
function belowSquare(half: number, height: number): number {
  const a = half / height;
  const one = Math.sqrt(1 + a * a);
  return 4 * (((a / one) * Math.atan(a / one) * 2) / 2);
}

describe('cli light', () => {
  it('gives what Lambert’s formula does below a lamp, in all its passes', async () => {
    const passes = 'combined,direct,indirect,diffuse,reflection,refraction,emission,irradiance,shadow';
    const { status, out, err } = light('whole', ...lamp(), '--samples', '1024', '--passes', passes);
    expect([status, err]).toEqual([0, '']);
    expect(out).toMatch(/^9 passes of 32 × 32 px, 1024 samples, noise \d+\.\d %/);
    const irradiance = 10 * belowSquare(0.25, 1);
    const sent = (0.5 * irradiance) / Math.PI;
    expect(Math.abs((await middleOf('whole/irradiance.exr')) / irradiance - 1)).toBeLessThan(0.01);
    expect(Math.abs((await middleOf('whole/combined.exr')) / sent - 1)).toBeLessThan(0.01);
    expect(await middleOf('whole/reflection.exr')).toBe(0);
    expect(await middleOf('whole/emission.exr')).toBe(0);
    expect(await middleOf('whole/shadow.exr')).toBe(0);
    expect(report('whole')).toMatchObject({ samples: 1024, texels: 1024 });
  });

  it('has passes that add up to the whole, and less noise the more samples there are', async () => {
    const passes = 'combined,direct,indirect,emission';
    light('few', ...lamp(), '--samples', '16', '--passes', passes);
    const [whole, ...parts] = await Promise.all(passes.split(',').map((pass) => read(`few/${pass}.exr`)));
    for (let i = 0; i < whole!.data.length; i++) {
      // Alpha is 1 in each.
      if (i % 4 === 3) continue;
      const sum = parts.reduce((total, { data }) => total + data[i]!, 0);
      expect(Math.abs(sum - whole!.data[i]!)).toBeLessThan(1e-6);
    }
    expect(report('few').noise).toBeGreaterThan(report('whole').noise * 2);
  });

  it('is the same bytes for one thread and for two, and for a source that has the receiver in it', () => {
    for (const [name, threads] of [
      ['one', '1'],
      ['two', '2'],
    ] as const) {
      light(name, ...lamp(), '--samples', '16', '--threads', threads);
    }
    expect(readFileSync(file('one/combined.exr')).equals(readFileSync(file('two/combined.exr')))).toBe(true);
    light('both', '--source', file('both.obj'), '--samples', '16');
    expect(readFileSync(file('both/combined.exr')).equals(readFileSync(file('one/combined.exr')))).toBe(true);
  });

  it('stops once there is little enough noise, and tells of islands that overlap', () => {
    light('enough', ...lamp(), '--samples', '4096', '--noise', '0.1');
    const { samples, noise } = report('enough');
    expect(samples).toBeLessThan(4096);
    expect(noise).toBeLessThan(0.1);
    const { status, err } = light('twice', '--receiver', file('floor.obj'), ...lamp(), '--samples', '4');
    expect([status, err]).toEqual([
      0,
      expect.stringMatching(/^1.024 texels lie in two triangles .* choose another UV set\.$/m),
    ]);
  });

  it('lights by suns, skies, points and spots, without any surface that sends light', async () => {
    const { status, err } = light('sky', '--environment', 'overcast', '--samples', '256', '--passes', 'irradiance');
    expect([status, err]).toEqual([0, '']);
    expect(Math.abs((await middleOf('sky/irradiance.exr')) / Math.PI - 1)).toBeLessThan(0.02);
    light('sun', '--light', 'sun:30,90,0.5,2', '--samples', '16', '--passes', 'irradiance');
    expect(await middleOf('sun/irradiance.exr')).toBeCloseTo(1, 2);
    light('point', '--light', 'point:0,2,0,8,4,2', '--samples', '16', '--passes', 'irradiance');
    expect(Math.abs((await middleOf('point/irradiance.exr')) - 2)).toBeLessThan(0.01);
    light('spot', '--light', 'spot:0,2,0,1,0,0,20,8', '--samples', '16', '--passes', 'irradiance');
    expect(await middleOf('spot/irradiance.exr')).toBe(0);
  });

  it('tells how much of the surroundings is open, takes noise out, and shows a part of the layout', async () => {
    light('open', ...lamp(), '--samples', '256', '--passes', 'sky,combined');
    // The lamp covers as much as it would light, were it of radiance 1.
    const open = 1 - belowSquare(0.25, 1) / Math.PI;
    expect(Math.abs((await middleOf('open/sky.exr')) / open - 1)).toBeLessThan(0.01);
    const large = [...lamp(), '--size', '128', '--samples'];
    light('truth', ...large, '256');
    light('rough', ...large, '16');
    light('smooth', ...large, '16', '--denoise', '1');
    const best = await read('truth/combined.exr');
    const off = async (name: string): Promise<number> => {
      const { data } = await read(`${name}/combined.exr`);
      return data.reduce((sum, value, i) => sum + (value - best.data[i]!) ** 2, 0);
    };
    expect(await off('smooth')).toBeLessThan((await off('rough')) / 4);
    const truth = await read('open/combined.exr');
    light('part', ...lamp(), '--samples', '256', '--uv-window', '0.25,0.25,0.5,0.5');
    // The corner of the part is a quarter of the way into the whole.
    const { data } = await read('part/combined.exr');
    const corner = truth.data[(7 * 32 + 7) * 4]!;
    const next = truth.data[(8 * 32 + 8) * 4]!;
    expect(data[0]).toBeGreaterThan(Math.min(corner, next) * 0.97);
    expect(data[0]).toBeLessThan(Math.max(corner, next) * 1.03);
  });

  it('lights by lamps with a size, from their front alone, and tells groups apart that add up to the whole', async () => {
    // From far away a lamp gives its strength by the square of its distance (checked at 10, where a radius of 0.2 is as good as none).
    for (const lamp of ['sphere:0,10,0,0.2,300', 'disk:0,10,0,0,0,0,0.2,300', 'rectangle:0,10,0,0,0,0,0.3,0.2,300']) {
      light('lamp', '--light', lamp, '--samples', '64', '--passes', 'irradiance');
      expect(Math.abs((await middleOf('lamp/irradiance.exr')) / 3 - 1), lamp).toBeLessThan(0.01);
    }
    light('away', '--light', 'disk:0,10,0,0,20,0,0.2,300', '--samples', '16', '--passes', 'irradiance');
    expect(await middleOf('away/irradiance.exr')).toBe(0);
    const lights = ['--light', 'lantern=sphere:0,1,0,0.1,2', '--light', 'sun:40,0,1,1', '--environment', 'overcast'];
    light('groups', ...lamp(), ...lights, '--samples', '16', '--passes', 'combined,groups');
    const names = ['environment', 'surfaces', 'lantern', 'sun-2'];
    const groups = await Promise.all(names.map((name) => read(`groups/group-${name}.exr`)));
    const whole = await read('groups/combined.exr');
    for (let i = 0; i < whole.data.length; i++) {
      if (i % 4 === 3) continue;
      const sum = groups.reduce((total, { data }) => total + data[i]!, 0);
      expect(Math.abs(sum - whole.data[i]!)).toBeLessThan(1e-5);
    }
    for (const { data } of groups) expect(Math.max(...data.filter((_, i) => i % 4 < 3))).toBeGreaterThan(0.01);
  });

  it('lights what wears a set: its colour, and its normals', async () => {
    const set = file('set');
    mkdirSync(set, { recursive: true });
    const pixels = (r: number, g: number, b: number) => ({
      ...{ width: 2, height: 2, channels: 3 as const, depth: 8 as const },
      data: Uint8Array.from({ length: 12 }, (_, i) => [r, g, b][i % 3]!),
    });
    writeFileSync(path.join(set, 'basecolor.png'), encode(pixels(188, 188, 188)));
    writeFileSync(path.join(set, 'roughness.png'), encode(pixels(255, 255, 255)));
    const sun = ['--light', 'sun:90,0,0,1', '--samples', '64', '--passes', 'diffuse,irradiance', '--set', set];
    light('worn', ...sun);
    // Of 188 on screen half of the light is left (IEC 61966-2-1), less what the surface reflects above.
    const diffuse = (await middleOf('worn/diffuse.exr')) * Math.PI;
    expect(diffuse).toBeGreaterThan(0.46);
    expect(diffuse).toBeLessThan(0.5);
    expect(await middleOf('worn/irradiance.exr')).toBeCloseTo(1, 2);
    writeFileSync(path.join(set, 'normal.png'), encode(pixels(191, 128, 238)));
    light('bent', ...sun);
    expect(await middleOf('bent/irradiance.exr')).toBeCloseTo(Math.cos(Math.PI / 6), 1);
  });

  it('writes all passes as layers of one file, which another reader takes (three)', () => {
    light('layers', ...lamp(), '--samples', '4', '--passes', 'combined,direct,shadow', '--multilayer');
    const bytes = readFileSync(file('layers/light.exr'));
    expect(existsSync(file('layers/combined.exr'))).toBe(false);
    for (const name of ['direct.R', 'shadow.Y']) expect(bytes.includes(name)).toBe(true);
    const loader = new EXRLoader().setDataType(FloatType);
    const texture = loader.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length)) as {
      width: number;
      height: number;
    };
    expect([texture.width, texture.height]).toEqual([32, 32]);
  });

  it('puts light through a view transform for a screen, with exposure', () => {
    light('png', ...lamp(), '--samples', '64', '--format', 'png8');
    light('darker', ...lamp(), '--samples', '64', '--format', 'png8', '--exposure=-1');
    light('bright', ...lamp(), '--samples', '64', '--format', 'png8', '--exposure', '5');
    light('filmic', ...lamp(), '--samples', '64', '--format', 'png8', '--exposure', '5', '--view', 'filmic');
    const value = (name: string): number => {
      const { data, width, channels } = decode(readFileSync(file(`${name}/combined.png`)));
      return data[(15 * width + 15) * channels]!;
    };
    expect(value('darker')).toBeLessThan(value('png'));
    // What is far brighter than white is cut off, or rolled off.
    expect(value('bright')).toBe(255);
    expect(value('filmic')).toBeLessThan(255);
    expect(value('filmic')).toBeGreaterThan(value('png'));
  });

  it.each([
    ['There is no light', []],
    ['must be at least 1; 0 was given', ['--source', 'lamp', '--samples', '0']],
    ['must be at most 65536', ['--source', 'lamp', '--samples', '1000000000']],
    ['takes 3 numbers and a strength', ['--light', 'sun:1,2']],
    ['rectangle:… or spot:…, not “moon:1”', ['--light', 'moon:1']],
    ['must be at most 1000000000', ['--light', 'point:0,1,0,1e12']],
    ['There is no file', ['--environment', 'nowhere.hdr']],
    ['needs --format exr', ['--source', 'lamp', '--multilayer', '--format', 'png8']],
    ['so there is no number 4', ['--source', 'lamp', '--uv-set', '4']],
  ])('says %s', (message, flags) => {
    const { status, err } = light('bad', ...flags.map((flag) => (flag === 'lamp' ? file('lamp.obj') : flag)));
    expect(status).toBe(2);
    expect(err).toContain(message);
    expect(existsSync(file('bad'))).toBe(false);
  });
});
