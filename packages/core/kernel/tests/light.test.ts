import { describe, expect, it } from 'vitest';
import { pictureLevels } from '../../src/bake/source/sourceMaterials.ts';
import type { Image } from '../../src/image/image.ts';
import { mikkTangents } from '../../src/bake/tangents/mikkTangents.ts';
import type { Mesh } from '../../src/mesh/mesh.ts';
import { PLAIN_MATERIAL, type Glass, type Material, type PictureUse } from '../../src/mesh/material.ts';
import { litScene, matt } from '../../src/testing/litScene.ts';
import { lightAt } from './lightAt.ts';
import { meshOf, randomNumbers, reliefPlane, sphere } from '../../src/testing/shapes.ts';
import { environmentOf, skyPicture } from '../../src/light/environment.ts';
import { ACCUMULATED, GROUPS_AT } from '../../src/light/passes.ts';
import type { LightScene, PointLight, SunLight } from '../../src/light/lightScene.ts';

const sky = environmentOf(skyPicture('uniform'));
const ground = (): Mesh => reliefPlane('ground', 1, 50);
/** In the first triangle of the ground, where the plane has its middle. */
const MIDDLE = { triangle: 0, weights: [0, 0.5] } as const;
const all = (counted: Float64Array): number =>
  [0, 3, 6, 9, ACCUMULATED.refraction, ACCUMULATED.emission].reduce((sum, at) => sum + counted[at]!, 0);
const irradianceOf = (counted: Float64Array): number => counted[ACCUMULATED.irradiance]!;

/** A disc at a height above the ground, facing down. */
function disc(radius: number, height: number, parts = 256): Mesh {
  const points = Array.from({ length: parts }, (_, i) => {
    const turn = (i / parts) * 2 * Math.PI;
    return [radius * Math.cos(turn), radius * Math.sin(turn), height];
  });
  const indices = points.flatMap((_, i) => [0, 1 + ((i + 1) % parts), 1 + i]);
  const positions = Float32Array.from([[0, 0, height], ...points].flat());
  return meshOf(
    'disc',
    positions,
    positions.map((_, i) => (i % 3 === 2 ? -1 : 0)),
    Uint32Array.from(indices),
  );
}

function moved(mesh: Mesh, x: number, y: number, z: number): Mesh {
  const by = [x, y, z];
  return { ...mesh, positions: mesh.positions.map((value, i) => value + by[i % 3]!) };
}

const gloss = (metallic: number, roughness: number, base = 1): Material => ({
  ...PLAIN_MATERIAL,
  ...{ baseColor: [base, base, base], metallic, roughness },
});

describe('a furnace', () => {
  it.each([
    [0, 0.2],
    [0, 1],
    [1, 0],
    [1, 0.5],
    [1, 1],
  ])('of an even sky is not changed by what is white (metallic %f, roughness %f)', (metallic, roughness) => {
    const scene = litScene([[sphere('ball', 1, 64, 128), gloss(metallic, roughness)]], { environment: sky });
    for (const triangle of [200, 5000]) {
      const sent = all(lightAt(scene, { triangle }, { samples: 1 << 14 }));
      expect(Math.abs(sent - 1), `${sent}`).toBeLessThan(0.005);
    }
  });

  it('of an even sky is not changed by what is white and hollow, where light goes on from wall to wall', () => {
    const normal = (x: number, y: number): [number, number, number] => {
      const length = Math.hypot(1.6 * x, 1.6 * y, 1);
      return [(-1.6 * x) / length, (-1.6 * y) / length, 1 / length];
    };
    const bowl = reliefPlane('bowl', 96, 1, (x, y) => 0.8 * (x * x + y * y), normal);
    const scene = litScene([[bowl, matt(1)]], { environment: sky });
    const sent = all(
      lightAt(scene, { triangle: 96 * 96 + 20, weights: [0.3, 0.3] }, { samples: 1 << 14, bounces: 1000 }),
    );
    expect(Math.abs(sent - 1), `${sent}`).toBeLessThan(0.01);
  });

  // Energy: what a closed wall sends is what it emits, and what it reflects of that, and so on: L = E / (1 − ρ).
  it.each([
    [0.3, 1],
    [0.6, 1],
    [0.7, 0.5],
  ])('that is closed, with walls that reflect %f and send %f, sends L / (1 − ρ)', (reflectance, radiance) => {
    const scene = litScene([[sphere('room', 1, 48, 96, true), matt(reflectance, radiance)]]);
    const sent = all(lightAt(scene, { triangle: 2000 }, { samples: 1 << 16, bounces: 1000 }));
    const expected = radiance / (1 - reflectance);
    expect(Math.abs(sent / expected - 1), `${sent}, not ${expected}`).toBeLessThan(0.005);
  });
});

describe('a surface under an even sky', () => {
  /** What the ground sends to an eye at a cosine. */
  const sent = (material: Material, cosine: number): Float64Array =>
    lightAt(
      litScene([[ground(), material]], { environment: sky }),
      { ...MIDDLE, eye: [Math.sqrt(1 - cosine * cosine), 0, cosine] },
      { samples: 1 << 14, bounces: 0 },
    );

  // Conservation of energy: whatever is white sends back all of it (the white furnace of Heitz 2014).
  it.each([0, 0.1, 0.3, 0.5, 0.7, 1])('of roughness %f that is white sends all of it back', (roughness) => {
    for (const metallic of [0, 1]) {
      for (const cosine of [1, 0.7, 0.3, 0.1]) {
        const found = all(sent(gloss(metallic, roughness), cosine));
        expect(Math.abs(found - 1), `metallic ${metallic}, cosine ${cosine}: ${found}`).toBeLessThan(0.005);
      }
    }
  });

  it('never sends more than it gets, and less the darker it is', () => {
    for (const roughness of [0.05, 0.4, 0.9]) {
      const [dark, light] = [0.2, 0.6].map((base) => all(sent(gloss(0, roughness, base), 0.6)));
      expect(dark!).toBeLessThan(light!);
      expect(light!).toBeLessThan(1);
    }
  });

  it('that is nothing but diffuse sends its albedo, whichever way (Lambert)', () => {
    for (const cosine of [1, 0.2]) expect(all(sent(matt(0.37), cosine))).toBeCloseTo(0.37, 3);
  });

  it('and is smooth, reflects what glass of index 1.5 does when it is looked at straight (Fresnel: 4 %)', () => {
    expect(all(sent(gloss(0, 0, 0), 1))).toBeCloseTo(0.04, 3);
  });

  // Fresnel's equations: of both polarisations the mean; at Brewster's angle (1815) one of them is not reflected at all.
  it('and is glass, reflects what Fresnel’s equations say: straight on, at Brewster’s angle, and at 80°', () => {
    const glass: Material = { ...gloss(0, 0), glass: { transmission: 1, ior: 1.5, attenuation: null } };
    for (const angle of [0, Math.atan(1.5), (80 / 180) * Math.PI]) {
      const below = Math.asin(Math.sin(angle) / 1.5);
      const upright = angle === 0 ? 0.2 : Math.sin(angle - below) / Math.sin(angle + below);
      const level = angle === 0 ? 0.2 : Math.tan(angle - below) / Math.tan(angle + below);
      const found = sent(glass, Math.cos(angle))[ACCUMULATED.reflectionDirect]!;
      expect(Math.abs(found - (upright ** 2 + level ** 2) / 2), `${angle}: ${found}`).toBeLessThan(0.004);
    }
  });
});

describe('glass', () => {
  const glass = (roughness: number, attenuation: Glass['attenuation'] = null): Material => ({
    ...gloss(0, roughness),
    glass: { transmission: 1, ior: 1.5, attenuation },
  });

  it('under an even sky is not seen: what it does not reflect goes through (energy)', () => {
    const scene = litScene([[sphere('ball', 1, 96, 192), glass(0)]], { environment: sky });
    for (const triangle of [300, 9000]) {
      const sent = all(lightAt(scene, { triangle }, { samples: 1 << 14, bounces: 1000 }));
      expect(Math.abs(sent - 1), `${sent}`).toBeLessThan(0.01);
    }
  });

  // Beer and Lambert, and all that is reflected to and fro within: (1 − F)² A / (1 − A F).
  it.each([0.1, 0.5, 1])(
    'of a slab that leaves %f of light lets that through, and less what its sides reflect',
    (left) => {
      const top = reliefPlane('top', 1, 50);
      const bottom = moved(top, 0, 0, -0.5);
      const turned = { ...bottom, indices: bottom.indices.slice().reverse(), normals: bottom.normals.map((n) => -n) };
      const body = glass(0, { color: [left, left, left], distance: 0.5 });
      const scene = litScene(
        [
          [top, body],
          [turned, body],
        ],
        { environment: sky },
      );
      const counted = lightAt(scene, MIDDLE, { samples: 1 << 14, bounces: 200 });
      const F = 0.04;
      const expected = ((1 - F) ** 2 * left) / (1 - left * F);
      const found = counted[ACCUMULATED.refraction]!;
      expect(Math.abs(found / expected - 1), `${found}, not ${expected}`).toBeLessThan(0.01);
      expect(counted[ACCUMULATED.reflectionDirect]).toBeCloseTo(F, 2);
    },
  );

  it('bends light: a lamp below water is seen where Snell’s law has it', () => {
    // Looking at 60° into index 1.5, light comes from 35.26° below: 0.7071 aside at a depth of 1.
    const water = reliefPlane('water', 1, 50);
    const strip = (from: number, to: number): Mesh =>
      meshOf(
        'strip',
        Float32Array.from([from, -9, -1, to, -9, -1, to, 9, -1, from, 9, -1]),
        new Float32Array(12).map((_, i) => (i % 3 === 2 ? 1 : 0)),
        new Uint32Array([0, 1, 2, 0, 2, 3]),
      );
    const eye = [-Math.sin(Math.PI / 3), 0, 0.5];
    const seen = (from: number, to: number): number => {
      const scene = litScene([
        [water, glass(0)],
        [strip(from, to), matt(0, 1)],
      ]);
      return lightAt(scene, { ...MIDDLE, eye }, { samples: 1024, bounces: 4 })[ACCUMULATED.refraction]!;
    };
    expect(seen(0.69, 0.725)).toBeGreaterThan(0.85);
    expect(seen(0.75, 3)).toBeLessThan(0.02);
    expect(seen(-3, 0.66)).toBeLessThan(0.02);
  });
});

describe('a surface that is there in part', () => {
  const veil = (opacity: number, cutoff?: number): Material => ({
    ...matt(0),
    ...{ opacity, ...(cutoff === undefined ? {} : { opacityCutoff: cutoff }) },
  });
  const under = (veils: readonly Material[], lights: Parameters<typeof litScene>[1]): Float64Array =>
    lightAt(
      litScene(
        [
          [ground(), matt(1)],
          ...veils.map((material, i) => [moved(reliefPlane('veil', 1, 5000), 0, 0, 0.1 + i), material] as const),
        ],
        lights,
      ),
      MIDDLE,
      { samples: 1 << 14, bounces: 0 },
    );

  // Each layer lets 1 − α of light through, whichever way it goes (coverage of glTF 2.0).
  it.each([[[0.3]], [[0.3, 0.3]], [[0.5, 0.25, 0.1]], [[1, 0]]])(
    'lets the rest through, layer by layer: opacities %j',
    (opacities) => {
      const left = opacities.reduce((share, opacity) => share * (1 - opacity), 1);
      const open = under(
        opacities.map((opacity) => veil(opacity)),
        { environment: sky },
      );
      expect(Math.abs(irradianceOf(open) - Math.PI * left)).toBeLessThan(0.03);
      const sun: SunLight = { kind: 'sun', towards: [0, 0.6, 0.8], halfAngle: 0, irradiance: [1, 1, 1], group: 0 };
      const sunlit = under(
        opacities.map((opacity) => veil(opacity)),
        { suns: [sun] },
      );
      expect(irradianceOf(sunlit)).toBeCloseTo(0.8 * left, 5);
      expect(sunlit[ACCUMULATED.visible]! / sunlit[ACCUMULATED.unoccluded]!).toBeCloseTo(left, 5);
    },
  );

  it('is there or not, where its material has a cutoff', () => {
    expect(irradianceOf(under([veil(0.49, 0.5)], { environment: sky }))).toBeCloseTo(Math.PI, 1);
    expect(irradianceOf(under([veil(0.5, 0.5)], { environment: sky }))).toBe(0);
  });

  it('sends as much of its own light as is there of it', () => {
    const lamp = { ...matt(0, 5), opacity: 0.4 };
    const scene = (material: Material) =>
      litScene([
        [ground(), matt(1)],
        [disc(1, 1), material],
      ]);
    const whole = irradianceOf(lightAt(scene(matt(0, 5)), MIDDLE, { samples: 1 << 14, bounces: 0 }));
    const part = irradianceOf(lightAt(scene(lamp), MIDDLE, { samples: 1 << 15, bounces: 0 }));
    expect(Math.abs(part / whole / 0.4 - 1), `${part} of ${whole}`).toBeLessThan(0.01);
  });

  it('has holes where its picture says, for light and for what is seen through them', () => {
    // Of two texels across, repeated: half of all strips are there.
    const opacity = {
      ...{ picture: 0, uvSet: 0, wrap: ['repeat', 'repeat'] as const, channel: 0, unfiltered: true },
      transform: [1, 0, 0, 0, 1, 0] as const,
    };
    const above = moved(reliefPlane('strips', 1, 5000), 0, 0, 0.5);
    const scene = litScene(
      [
        [ground(), gloss(1, 0)],
        [above, { ...matt(0), pictures: { opacity } }],
      ],
      { environment: sky },
    );
    const uvs = new Float32Array((scene.scene.positions.length / 3) * 2);
    for (let v = 0; v < uvs.length / 2; v++) uvs[v * 2] = scene.scene.positions[v * 3]! / 0.1;
    scene.materials = {
      ...scene.materials,
      pictures: [[{ width: 2, height: 1, channels: 1, data: Float32Array.of(1, 0) }]],
      uvSets: [uvs],
    };
    const counted = lightAt(scene, MIDDLE, { samples: 1 << 14, bounces: 1 });
    expect(Math.abs(irradianceOf(counted) / Math.PI - 0.5)).toBeLessThan(0.02);
    // In the mirror below, straight up: a strip that is there from 0 to 0.05, and a hole behind it.
    const seen = (x: number): number =>
      lightAt(scene, { ...MIDDLE, eye: [x, 0, Math.sqrt(1 - x * x)] }, { samples: 64 })[ACCUMULATED.reflectionDirect]!;
    expect(seen(-0.025 / 0.5)).toBeLessThan(0.01);
    expect(seen(-0.075 / 0.5)).toBeGreaterThan(0.99);
  });
});

describe('what falls on a surface', () => {
  // View factor of a parallel disc seen from a place below its middle: r² / (r² + h²) (Howell, catalogue B-12).
  it.each([
    [1, 1],
    [0.2, 2],
    [3, 0.5],
  ])('from a disc of radius %f at height %f is π L F', (radius, height) => {
    const scene = litScene([
      [ground(), matt(0.5)],
      [disc(radius, height), matt(0, 2)],
    ]);
    const counted = lightAt(scene, MIDDLE, { samples: 1 << 15 });
    const expected = (Math.PI * 2 * radius ** 2) / (radius ** 2 + height ** 2);
    expect(Math.abs(irradianceOf(counted) / expected - 1), `${irradianceOf(counted)}`).toBeLessThan(0.005);
    // Lambert: a matt surface sends its albedo of that over π.
    expect(Math.abs(counted[ACCUMULATED.diffuseDirect]! / ((0.5 * expected) / Math.PI) - 1)).toBeLessThan(0.005);
  });

  it('from a rectangle is what Lambert’s formula gives (Photometria, 1760)', () => {
    const corners = [
      [0.5, -1, 1],
      [2, -1, 1.5],
      [2, 1.5, 1.5],
      [0.5, 1.5, 1],
    ];
    const panel = meshOf(
      'panel',
      Float32Array.from(corners.flat()),
      new Float32Array(12).map((_, i) => (i % 3 === 2 ? -1 : 0)),
      new Uint32Array([0, 2, 1, 0, 3, 2]),
    );
    const scene = litScene([
      [ground(), matt(0)],
      [panel, matt(0, 3)],
    ]);
    // Half the sum of each edge's angle, times how upright the plane through it and the place stands.
    let sum = 0;
    const units = corners.map((corner) => corner.map((value) => value / Math.hypot(...corner)));
    units.forEach((a, i) => {
      const b = units[(i + 1) % 4]!;
      const [cx, cy, cz] = [
        a[1]! * b[2]! - a[2]! * b[1]!,
        a[2]! * b[0]! - a[0]! * b[2]!,
        a[0]! * b[1]! - a[1]! * b[0]!,
      ];
      sum += (Math.acos(a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!) * cz) / Math.hypot(cx, cy, cz);
    });
    const expected = (3 * Math.abs(sum)) / 2;
    const found = irradianceOf(lightAt(scene, MIDDLE, { samples: 1 << 15, bounces: 0 }));
    expect(Math.abs(found / expected - 1), `${found}, not ${expected}`).toBeLessThan(0.005);
  });

  it('from a ball is π L (r / d)², whatever stands where it is (view factor of a sphere, Howell B-41)', () => {
    const ball = moved(sphere('ball', 0.5, 96, 192), 0, 0, 2);
    const scene = litScene([
      [ground(), matt(0.2)],
      [ball, matt(0, 5)],
    ]);
    const found = irradianceOf(lightAt(scene, MIDDLE, { samples: 1 << 15, bounces: 0 }));
    expect(Math.abs(found / (Math.PI * 5 * (0.5 / 2) ** 2) - 1), `${found}`).toBeLessThan(0.005);
  });

  it('from a lamp without size falls with the square of its distance and the cosine, and ends at its cone', () => {
    const lamp = (position: [number, number, number], cone: PointLight['cone'] = null): PointLight => ({
      ...{ kind: 'point', position, intensity: [8, 8, 8], cone, group: 0 },
    });
    const under = (point: PointLight): number =>
      irradianceOf(lightAt(litScene([[ground(), matt(0)]], { points: [point] }), MIDDLE, { samples: 16 }));
    expect(under(lamp([0, 0, 2]))).toBeCloseTo(2, 4);
    expect(under(lamp([0, 3, 4]))).toBeCloseTo((8 / 25) * 0.8, 4);
    const down = { axis: [0, 0, -1] as const, inner: 20, outer: 30 };
    expect(under(lamp([0, 0, 2], down))).toBeCloseTo(2, 4);
    expect(under(lamp([0, 2, 2], down))).toBe(0);
    const edge = under(lamp([0, 2 * Math.tan((25 * Math.PI) / 180), 2], down));
    expect(edge).toBeGreaterThan(0.2);
    expect(edge).toBeLessThan(1.5);
  });

  it.each([0, 0.5, 30])(
    'from a sun of half angle %f° is its irradiance times the cosine of its height',
    (halfAngle) => {
      const sun: SunLight = {
        ...{ kind: 'sun', towards: [0, Math.sin(0.6), Math.cos(0.6)], halfAngle, irradiance: [2, 1, 0.5], group: 0 },
      };
      const counted = lightAt(litScene([[ground(), matt(0.5)]], { suns: [sun] }), MIDDLE, { samples: 1 << 14 });
      for (const [c, own] of [2, 1, 0.5].entries()) {
        const found = counted[ACCUMULATED.irradiance + c]!;
        expect(Math.abs(found / (own * Math.cos(0.6)) - 1), `${found}`).toBeLessThan(0.005);
      }
    },
  );

  // Irradiance of an environment by spherical harmonics: bands weigh π, 2π/3, π/4 (Ramamoorthi and Hanrahan 2001).
  it('from an environment of bands 0, 1 and 2 is theirs, each by its factor', () => {
    const [width, height] = [256, 128];
    const picture = { width, height, channels: 3, data: new Float32Array(width * height * 3) };
    for (let y = 0; y < height; y++) {
      const up = Math.cos(((y + 0.5) / height) * Math.PI);
      for (let i = 0; i < width * 3; i++) picture.data[y * width * 3 + i] = 1 + 0.6 * up + 0.3 * (1.5 * up * up - 0.5);
    }
    const environment = environmentOf(picture, { up: [0, 0, 1], north: [0, 1, 0] });
    const facing = (towards: readonly [number, number, number]): number => {
      const plane = reliefPlane('plane', 1, 1);
      const [x, y, z] = towards;
      // The plane is turned so that it faces there.
      const turned = plane.positions.map((_, i) => {
        const [u, v] = [plane.positions[i - (i % 3)]!, plane.positions[i - (i % 3) + 1]!];
        const [ax, ay, az] = Math.abs(z) > 0.9 ? [1, 0, 0] : [-y, x, 0];
        const scale = 1 / Math.hypot(ax, ay, az);
        const a = [ax * scale, ay * scale, az * scale];
        const b = [y * a[2]! - z * a[1]!, z * a[0]! - x * a[2]!, x * a[1]! - y * a[0]!];
        return u * a[i % 3]! + v * b[i % 3]!;
      });
      const normals = plane.normals.map((_, i) => towards[i % 3]!);
      const scene = litScene([[{ ...plane, positions: turned, normals }, matt(0)]], { environment });
      return irradianceOf(lightAt(scene, { triangle: 0 }, { samples: 1 << 15 }));
    };
    for (const cosine of [1, 0.5, 0, -1]) {
      const expected = Math.PI + ((2 * Math.PI) / 3) * 0.6 * cosine + (Math.PI / 4) * 0.3 * (1.5 * cosine ** 2 - 0.5);
      const found = facing([Math.sqrt(1 - cosine ** 2), 0, cosine]);
      expect(Math.abs(found / expected - 1), `${cosine}: ${found}, not ${expected}`).toBeLessThan(0.005);
    }
  });
});

describe('an environment of dark and bright texels', () => {
  const [width, height] = [16, 8];
  /** A plane that faces a direction. */
  const facing = (towards: readonly number[]): Mesh => {
    const plane = reliefPlane('plane', 1, 1);
    const [x, y, z] = towards as [number, number, number];
    const [ax, ay, az] = Math.abs(z) > 0.9 ? [1, 0, 0] : [-y / Math.hypot(x, y), x / Math.hypot(x, y), 0];
    const b = [y * az - z * ay, z * ax - x * az, x * ay - y * ax];
    const a = [b[1]! * z - b[2]! * y, b[2]! * x - b[0]! * z, b[0]! * y - b[1]! * x];
    const positions = plane.positions.map((_, i) => {
      const at = i - (i % 3);
      return plane.positions[at]! * a[i % 3]! + plane.positions[at + 1]! * b[i % 3]!;
    });
    return { ...plane, positions, normals: plane.normals.map((_, i) => towards[i % 3]!) };
  };
  const lightOn = (towards: readonly number[], data: Float32Array): Float64Array => {
    const environment = environmentOf({ width, height, channels: 3, data });
    const length = Math.hypot(...towards);
    const unit = towards.map((value) => value / length);
    return lightAt(litScene([[facing(unit), matt(0.5)]], { environment }), { triangle: 0 }, { samples: 1 << 15 });
  };
  /** North in the middle and east to the right, the zenith at the top: with y up and north at −z. */
  const directionOf = (x: number, y: number): [number, number, number] => {
    const [turn, down] = [(x / width - 0.5) * 2 * Math.PI, (y / height) * Math.PI];
    return [Math.sin(down) * Math.sin(turn), Math.cos(down), -Math.sin(down) * Math.cos(turn)];
  };

  it('gives a surface what its texels send, each by its solid angle and the cosine law', () => {
    const data = new Float32Array(width * height * 3);
    for (let i = 0; i < data.length; i++) data[i] = ((Math.floor(i / 3) * 7) % 5) * (i % 3 === 0 ? 1 : 0.5);
    data[(2 * width + 11) * 3] = 50;
    for (const towards of [
      [0, 1, 0],
      [1, 0.5, -0.3],
      [-0.2, -1, 0.4],
    ]) {
      let sum = 0;
      const fine = 24;
      const unit = towards.map((value) => value / Math.hypot(...towards));
      for (let y = 0; y < height * fine; y++) {
        const solid =
          ((2 * Math.PI) / (width * fine)) *
          (Math.cos((y * Math.PI) / (height * fine)) - Math.cos(((y + 1) * Math.PI) / (height * fine)));
        for (let x = 0; x < width * fine; x++) {
          const from = directionOf((x + 0.5) / fine, (y + 0.5) / fine);
          const cosine = from[0] * unit[0]! + from[1] * unit[1]! + from[2] * unit[2]!;
          sum += data[(Math.floor(y / fine) * width + Math.floor(x / fine)) * 3]! * Math.max(0, cosine) * solid;
        }
      }
      const found = irradianceOf(lightOn(towards, data));
      expect(Math.abs(found / sum - 1), `${found}, not ${sum}`).toBeLessThan(0.005);
    }
  });

  it('has north in its middle, east to the right and the zenith at its top', () => {
    for (const [x, y] of [
      [8, 2],
      [12, 3],
      [3, 1],
      [15, 5],
    ] as const) {
      const data = new Float32Array(width * height * 3);
      data.fill(10, (y * width + x) * 3, (y * width + x) * 3 + 3);
      const towards = directionOf(x + 0.5, y + 0.5);
      const counted = lightOn(towards, data);
      const mean = [0, 1, 2].map((k) => counted[ACCUMULATED.direction + k]! / (3 * irradianceOf(counted)));
      expect(mean[0]! * towards[0] + mean[1]! * towards[1] + mean[2]! * towards[2]).toBeGreaterThan(0.97);
    }
  });
});

describe('pictures', () => {
  it('that the kernel looks up are what the reader of materials tells, by level, border and tangents', () => {
    const random = randomNumbers(7);
    const noise = (channels: number): Image[] =>
      pictureLevels({
        ...{ width: 32, height: 16, channels },
        data: Float32Array.from({ length: 32 * 16 * channels }, () =>
          channels === 3 ? 0.3 + 0.7 * random() : random(),
        ),
      });
    const plane = reliefPlane('plane', 6, 1, (x, y) => 0.2 * Math.sin(3 * x) * y);
    const uvs = plane.uvSets[0]!.coords.map((value, i) => value * (i % 2 === 0 ? 3 : 2) - 0.7);
    for (const wrap of ['repeat', 'mirror', 'clamp'] as const) {
      const use = (picture: number, channel = 0): PictureUse => ({
        ...{ picture, uvSet: 0, wrap: [wrap, 'repeat'], transform: [0.9, 0.2, 0.1, -0.1, 1.1, 0.3], channel },
      });
      const pictures = { basecolor: use(0), roughness: use(1, 1), metallic: use(1, 2), normal: use(2) };
      const made = (layers: Material['layers']): LightScene => {
        const material = { ...gloss(0.9, 0.8, 0.7), pictures, normalScale: 0.6, ...(layers ? { layers } : {}) };
        const scene = litScene([[plane, material]], {
          suns: [{ kind: 'sun', towards: [0.48, 0.36, 0.8], halfAngle: 0, irradiance: [3, 2, 1], group: 0 }],
        });
        const tangents = mikkTangents({ ...plane, uvs });
        scene.materials = { ...scene.materials, pictures: [noise(3), noise(3), noise(3)], uvSets: [uvs], tangents };
        return scene;
      };
      // Layers, be they none, are told.
      const scenes = [made(undefined), made({ roughness: [] })];
      scenes[1]!.materials = { ...scenes[1]!.materials, pictures: scenes[0]!.materials.pictures };
      let sum = 0;
      for (let k = 0; k < 12; k++) {
        const place = { triangle: k * 5, weights: [0.2, 0.5] as const, width: [0, 0.02, 0.1, 0.4][k % 4]! };
        const [packed, told] = scenes.map((scene) => lightAt(scene, place, { samples: 1, bounces: 0 }));
        sum += told![0]! + told![6]!;
        for (let c = 0; c < 12; c++) expect(Math.abs(packed![c]! - told![c]!)).toBeLessThan(0.01 * (0.05 + told![c]!));
      }
      expect(sum).toBeGreaterThan(1);
    }
  });
});

describe('a surface with a normal picture', () => {
  it('is lit as if it lay as the picture says (the cosine law)', () => {
    const plane = ground();
    const { coords } = plane.uvSets[0]!;
    // Turned by 30° towards where u grows.
    const pixel = [0.5 + Math.sin(Math.PI / 6) / 2, 0.5, 0.5 + Math.cos(Math.PI / 6) / 2];
    const normal = {
      picture: 0,
      uvSet: 0,
      wrap: ['repeat', 'repeat'],
      transform: [1, 0, 0, 0, 1, 0],
      channel: 0,
    } as const;
    const under = (x: number, z: number): number => {
      const sun: SunLight = { kind: 'sun', towards: [x, 0, z], halfAngle: 0, irradiance: [1, 1, 1], group: 0 };
      const scene = litScene([[plane, { ...matt(0), pictures: { normal } }]], { suns: [sun] });
      scene.materials = {
        ...scene.materials,
        pictures: [[{ width: 1, height: 1, channels: 3, data: Float32Array.from(pixel) }]],
        uvSets: [coords],
        tangents: mikkTangents({ ...plane, uvs: coords }),
      };
      return irradianceOf(lightAt(scene, MIDDLE, { samples: 4 }));
    };
    expect(under(0, 1)).toBeCloseTo(Math.cos(Math.PI / 6), 4);
    expect(under(Math.sin(Math.PI / 6), Math.cos(Math.PI / 6))).toBeCloseTo(1, 4);
    expect(under(-Math.sin(Math.PI / 3), Math.cos(Math.PI / 3))).toBeCloseTo(0, 4);
  });
});

describe('passes', () => {
  const scene = () =>
    litScene(
      [
        [ground(), { ...gloss(0.2, 0.4, 0.6), emission: [0.1, 0.2, 0.3] }],
        [moved(sphere('ball', 0.5, 24, 48), 0.4, 0, 0.8), matt(0.7)],
        [disc(0.5, 3), matt(0, 6)],
      ],
      {
        environment: sky,
        environmentGroup: 1,
        groupOf: new Uint8Array([0, 0, 2]),
        suns: [{ kind: 'sun', towards: [0.6, 0, 0.8], halfAngle: 1, irradiance: [3, 2, 1], group: 3 }],
      },
    );

  it('of all light groups add up to all passes: nothing is counted twice or left out', () => {
    const counted = lightAt(scene(), MIDDLE, { samples: 4096, groups: 4 });
    for (let c = 0; c < 3; c++) {
      const byWay = [0, 3, 6, 9, ACCUMULATED.refraction, ACCUMULATED.emission].reduce(
        (sum, at) => sum + counted[at + c]!,
        0,
      );
      const byGroup = [0, 1, 2, 3].reduce((sum, group) => sum + counted[GROUPS_AT + group * 3 + c]!, 0);
      expect(Math.abs(byWay / byGroup - 1)).toBeLessThan(1e-12);
      for (const group of [1, 2, 3]) expect(counted[GROUPS_AT + group * 3 + c]).toBeGreaterThan(0);
    }
    expect(counted[ACCUMULATED.emission]).toBeCloseTo(0.1, 6);
    expect(counted[ACCUMULATED.visible]!).toBeLessThan(counted[ACCUMULATED.unoccluded]!);
  });

  it('of one lamp alone are what its group has among others', () => {
    const both = lightAt(scene(), MIDDLE, { samples: 1 << 15, groups: 4 });
    const alone = { ...scene(), environment: null, suns: [] };
    const own = lightAt(alone, MIDDLE, { samples: 1 << 15, groups: 4 });
    const [among, single] = [both[GROUPS_AT + 6]!, own[GROUPS_AT + 6]!];
    expect(Math.abs(among / single - 1), `${among} and ${single}`).toBeLessThan(0.02);
  });

  it('of a mirror show what stands there', () => {
    // Seen at 45°, a mirror on the ground shows a wall that sends 4, and beside it nothing.
    const wall = meshOf(
      'wall',
      Float32Array.from([20, -9, 0.1, 20, 9, 0.1, 20, 9, 40, 20, -9, 40]),
      new Float32Array(12).map((_, i) => (i % 3 === 0 ? -1 : 0)),
      new Uint32Array([0, 2, 1, 0, 3, 2]),
    );
    const mirror = litScene([
      [ground(), gloss(1, 0)],
      [wall, matt(0, 4)],
    ]);
    const seen = (x: number, y: number): number =>
      all(lightAt(mirror, { ...MIDDLE, eye: [x, y, Math.SQRT1_2] }, { samples: 1024 }));
    expect(seen(-Math.SQRT1_2, 0)).toBeCloseTo(4, 1);
    expect(seen(Math.SQRT1_2, 0)).toBeLessThan(1e-3);
  });

  it('fall in error at least as 1 / √n (the central limit), and are the same bytes again', () => {
    const open = litScene([
      [ground(), matt(0)],
      [disc(0.5, 3), matt(0, 6)],
    ]);
    const truth = (Math.PI * 6 * 0.25) / 9.25;
    const error = (samples: number): number => {
      const squares = Array.from({ length: 48 }, (_, seed) => {
        const found = lightAt(open, { ...MIDDLE, seed }, { samples, bounces: 0 });
        return (irradianceOf(found) / truth - 1) ** 2;
      });
      return Math.sqrt(squares.reduce((sum, value) => sum + value, 0) / 48);
    };
    expect(error(1024)).toBeLessThan(error(64) / 4);
    const place = { ...MIDDLE, seed: 9 };
    expect(lightAt(scene(), place, { samples: 64, groups: 4 })).toEqual(
      lightAt(scene(), place, { samples: 64, groups: 4 }),
    );
  });
});
