import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { TexelState, type Image } from '@zographos/core/image';
import { PLAIN_MATERIAL, type Mesh } from '@zographos/core/mesh';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { parseSettings } from '../registry.ts';
import type { Canvas } from '../runContext.ts';
import { quietly } from '../testing/collect.ts';
import { wearing } from '../scene/wornMaps.ts';
import { closeLightPool, renderLight, type LightReport, type LightSettings, type LitPass } from './index.ts';
import { placeInSky, skyDirection } from './scene/skyDirection.ts';

afterAll(closeLightPool);

const size = { width: 32, height: 32 };

/** A square from −1 to 1 in z = `at` that faces up z, on a UDIM tile, diffuse with an albedo. */
function square(name: string, { at = 0, tile = 1001, albedo = 0.5 } = {}): Mesh {
  const plane = reliefPlane(name, 1, 1, () => at);
  const [set] = plane.uvSets;
  const coords = set!.coords.map((value, i) => (i % 2 === 0 ? value + (tile - 1001) : value));
  const lit = { reflectance: [albedo, albedo, albedo] as const, radiance: [0, 0, 0] as const, isDiffuse: true };
  return { ...plane, uvSets: [{ ...set!, coords }], materials: [{ ...PLAIN_MATERIAL, lit }] };
}

async function lit(
  receivers: Mesh[],
  sources: Mesh[],
  more: object,
  onCanvas?: (canvas: Canvas) => void,
): Promise<{ passes: LitPass[]; report: LightReport; of: (name: string, tile?: number) => Image }> {
  const settings: LightSettings = parseSettings('light', {
    ...{ size, passes: ['combined'], samples: 64, environment: { kind: 'uniform' }, padding: 0 },
    ...more,
  });
  const passes: LitPass[] = [];
  const report = await renderLight({
    ...quietly(2),
    ...{ settings, receivers, sources, environment: null },
    ...(onCanvas ? { onCanvas } : {}),
    onPass: (pass) => Promise.resolve(void passes.push(pass)),
  });
  const of = (name: string, tile = 1001): Image =>
    passes.find((pass) => pass.name === name && pass.tile === tile)!.image;
  return { passes, report, of };
}

const meanOf = ({ data, channels }: Image, c = 0): number =>
  data.filter((_, i) => i % channels === c).reduce((sum, value) => sum + value, 0) / (data.length / channels);

describe('light on UDIM tiles', () => {
  it('fills each of them: an open surface under a uniform sky of radiance 1 sends its albedo', async () => {
    const receivers = [square('near'), square('far', { tile: 1002, at: 5, albedo: 0.25 })];
    // The far one would block the sky of the near one if it did not stand beside it.
    receivers[1]!.positions = receivers[1]!.positions.map((value, i) => (i % 3 === 0 ? value + 400 : value));
    const { of, report } = await lit(receivers, [], { tiles: 'all' });
    expect(meanOf(of('combined', 1001))).toBeCloseTo(0.5, 2);
    expect(meanOf(of('combined', 1002))).toBeCloseTo(0.25, 2);
    expect(report.texels).toBe(2 * 32 * 32);
    const { passes } = await lit(receivers, [], { tiles: [1002] });
    expect(passes.map(({ tile }) => tile)).toEqual([1002]);
  });

  it('shows meshes in the maps of each tile, and what no map says as their material has it', async () => {
    const grey = (value: number): Image => ({
      width: 4,
      height: 4,
      channels: 3,
      data: new Float32Array(48).fill(value),
    });
    const rough: Image = { width: 4, height: 4, channels: 1, data: new Float32Array(16).fill(1) };
    const maps = [1001, 1002].flatMap((tile) => [
      { kind: 'basecolor' as const, tile, image: grey(tile === 1001 ? 0.8 : 0.2) },
      { kind: 'roughness' as const, tile, image: rough },
    ]);
    const own = [square('near'), square('far', { tile: 1002 })];
    own[1]!.positions = own[1]!.positions.map((value, i) => (i % 3 === 0 ? value + 400 : value));
    const { of } = await lit(
      own.map((mesh) => wearing(mesh, 0, maps)),
      [],
      { tiles: 'all', passes: ['diffuse'], samples: 128 },
    );
    // What a dielectric reflects does not go below its surface: the same share of both.
    expect(meanOf(of('diffuse', 1001)) / meanOf(of('diffuse', 1002))).toBeCloseTo(4, 1);
    const [bare] = wearing(own[0]!, 0, [{ kind: 'roughness', tile: 1001, image: rough }]).materials!;
    expect(bare).toMatchObject({ baseColor: PLAIN_MATERIAL.baseColor, roughness: 1 });
    expect(wearing(own[0]!, 0, [])).toBe(own[0]);
  });
});

describe('meshes that stand in each other', () => {
  it('leak no dark: texels that lie in part below another mesh are lit where they are open', async () => {
    const ball = { ...sphere('ball', 0.5, 48, 96), materials: square('ball').materials! };
    const { of, report } = await lit([square('floor')], [ball], { bounces: 0, samples: 256 });
    const { data } = of('combined');
    let [parts, within] = [0, 0];
    for (let texel = 0; texel < 32 * 32; texel++) {
      const inside = Array.from({ length: 16 }, (_, place) => {
        const x = ((texel % 32) + ((place % 4) + 0.5) / 4) / 16 - 1;
        const y = (Math.floor(texel / 32) + (Math.floor(place / 4) + 0.5) / 4) / 16 - 1;
        return Math.hypot(x, y) < 0.5;
      }).filter(Boolean).length;
      if (inside === 16) {
        within++;
        expect(data[texel * 3]).toBe(0);
      }
      // Beside a wall half of the sky is seen, of which the albedo is left: 0.25. A leak would be a share of that.
      else if (inside > 0) {
        parts++;
        expect(data[texel * 3]!, `${texel}: ${inside} places within`).toBeGreaterThan(0.2);
      }
    }
    expect(parts).toBeGreaterThan(20);
    expect(within).toBeGreaterThan(100);
    expect(Math.abs(report.moved - parts)).toBeLessThan(parts / 4);
    expect(report.findings.map(({ kind }) => kind)).toContain('moved');
  });

  it('are told where a lamp stands inside one of them', async () => {
    const ball = { ...sphere('ball', 0.5, 24, 48), materials: square('ball').materials! };
    const lamp = (z: number) => ({ kind: 'sphere', position: [0, 0, z], radius: 0.1, strength: [1, 1, 1] });
    const told = async (z: number): Promise<string[]> =>
      (
        await lit([square('floor', { at: -1 })], [ball], { lights: [lamp(z)], environment: { kind: 'none' } })
      ).report.findings
        .filter(({ kind }) => kind === 'shut-in')
        .map(({ sentence }) => sentence);
    expect(await told(0.1)).toEqual([
      'Light 1 (sphere) stands inside a mesh, so that its light reaches nothing outside. Move it out.',
    ]);
    expect(await told(0.9)).toEqual([]);
  });
});

describe('what one run makes', () => {
  const lantern = { kind: 'point', position: [0, 0, 2], strength: [3, 2, 1], group: 'lantern' };

  it('adds up: light groups to the whole, and the whole is what it was before denoising', async () => {
    const { of, report } = await lit([square('a')], [], {
      ...{ lights: [lantern], passes: ['combined', 'noisy', 'groups'], samples: 16 },
    });
    expect(report.groups).toEqual(['environment', 'surfaces', 'lantern']);
    const groups = report.groups.map((name) => of(`group-${name}`));
    of('combined').data.forEach((value, i) => {
      expect(groups.reduce((sum, { data }) => sum + data[i]!, 0)).toBeCloseTo(value, 5);
    });
    expect(of('noisy').data).toEqual(of('combined').data);
    const quiet = await lit([square('a')], [], { passes: ['combined', 'noisy'], samples: 4, denoise: 1, bounces: 0 });
    expect(quiet.report.denoised).toBeGreaterThan(0);
    expect(quiet.of('noisy').data).not.toEqual(quiet.of('combined').data);
  });

  it('has the main direction of light: that of the sun, and 2/3 along the normal under an even sky', async () => {
    // ∫ cos² dω / ∫ cos dω over the hemisphere is (2π/3) / π.
    const even = await lit([square('a')], [], { passes: ['direction', 'irradiance'], samples: 256 });
    const mean = [0, 1, 2].map((c) => meanOf(even.of('direction'), c));
    expect(mean).toEqual([expect.closeTo(0, 1), expect.closeTo(0, 1), expect.closeTo(2 / 3, 2)]);
    expect(meanOf(even.of('irradiance'))).toBeCloseTo(Math.PI, 1);
    const sun = { kind: 'sun', elevation: 50, azimuth: 70, angle: 0, strength: [2, 1, 3] };
    const settings = { up: 'z', environment: { kind: 'none' }, lights: [sun], passes: ['direction'], samples: 4 };
    const alone = await lit([square('a')], [], settings);
    skyDirection('z', 50, 70).forEach((value, c) => expect(meanOf(alone.of('direction'), c)).toBeCloseTo(value, 4));
  });

  it('is refused with nine light groups, and each group of eight has a map', () => {
    const lights = Array.from({ length: 7 }, (_, i) => ({ ...lantern, group: `g${i}` }));
    const settings = { size, passes: ['groups'], lights };
    expect(() => parseSettings('light', settings)).toThrow('at most 8 light groups');
    expect(parseSettings('light', { ...settings, lights: lights.slice(1) }).lights).toHaveLength(6);
    expect(() => parseSettings('light', { ...settings, passes: ['combined'] })).not.toThrow();
  });

  it('tells of noise, of texels that no light reaches, and of what would help', async () => {
    const below = square('below');
    // A lid so near that nothing comes in at its sides.
    const lid = square('lid', { at: 1e-4 });
    const dark = await lit([below], [lid], { samples: 8 });
    const kinds = ({ report }: { report: LightReport }): string[] => report.findings.map(({ kind }) => kind);
    expect(kinds(dark)).toContain('dark');
    const noisy = await lit([square('a')], [square('lid', { at: 0.5 })], { samples: 2 });
    const noise = noisy.report.findings.find(({ kind }) => kind === 'noise')!;
    expect(noise.sentence).toContain('8 samples would halve it');
    expect(noise.remedy!.change).toEqual({ denoise: 0.5 });
    expect(kinds(await lit([square('a')], [], { samples: 64, environment: { kind: 'overcast' } }))).not.toContain(
      'dark',
    );
  });

  it('grows finer in place: a draft first, then all texels, ever less noisy', async () => {
    let canvas: Canvas | null = null;
    const shots: number[] = [];
    const large = { width: 640, height: 640 };
    await lit([square('a')], [], { size: large, samples: 4, environment: { kind: 'overcast' } }, (shown) => {
      canvas = shown;
      shots.push(shown.states.reduce((sum, state) => sum + Number(state === TexelState.covered), 0));
    });
    const { image, states, draft } = canvas!;
    // Nothing of it was there when it was shown first, but the draft.
    expect(shots).toEqual([0]);
    expect(draft!.states.every((state) => state === TexelState.covered)).toBe(true);
    expect(states.every((state) => state === TexelState.covered)).toBe(true);
    expect(Math.max(image.width, image.height)).toBeLessThanOrEqual(512);
    expect(image.data.every((value) => value > 0 && value <= 1)).toBe(true);
  });
});

describe('a place in the sky', () => {
  it('is where it was said to be, whichever axis is up', () => {
    expect(skyDirection('y', 0, 90)).toEqual([expect.closeTo(1, 9), expect.closeTo(0, 9), expect.closeTo(0, 9)]);
    expect(skyDirection('z', 90, 0)[2]).toBeCloseTo(1, 9);
    fc.assert(
      fc.property(
        fc.constantFrom('x', 'y', 'z'),
        fc.double({ min: -89, max: 89, noNaN: true }),
        fc.double({ min: 0, max: 359.9, noNaN: true }),
        fc.double({ min: 0.1, max: 100, noNaN: true }),
        (up, elevation, azimuth, length) => {
          const [x, y, z] = skyDirection(up, elevation, azimuth);
          expect(Math.hypot(x, y, z)).toBeCloseTo(1, 9);
          const back = placeInSky(up, [x * length, y * length, z * length]);
          expect(back.elevation).toBeCloseTo(elevation, 6);
          expect(Math.cos(((back.azimuth - azimuth) * Math.PI) / 180)).toBeCloseTo(1, 9);
        },
      ),
    );
  });
});
