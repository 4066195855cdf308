import { describe, expect, it } from 'vitest';
import { PLAIN_MATERIAL, type Material, type PictureUse } from '../../mesh/material.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { joinMeshes } from '../../mesh/join.ts';
import { meanCurvature } from '../../mesh/curvature.ts';
import { bakeOnOneThread, testSettings } from '../../testing/bakeOnOneThread.ts';
import { meshOf, reliefPlane, sphere } from '../../testing/shapes.ts';
import type { Image } from '../../image/image.ts';
import type { BakedKind } from '../../image/mapKinds.ts';
import { USUAL_SUN, type BakeSettings, type SunPath } from '../settings.ts';
import { pictureLevels, type SourceMaterials } from '../source/sourceMaterials.ts';
import { sunAt } from './sunMap.ts';
import { mikkTangents } from '../tangents/mikkTangents.ts';

const plane = reliefPlane('plane', 1, 1);
/** The floor that rays meet: larger than the plane, so that its rim plays no part. */
const floor = reliefPlane('floor', 1, 50);

/** A flat disk of radius r at height h, facing down. */
function disk(r: number, h: number, sides = 256): Mesh {
  const positions = [0, 0, h];
  const indices: number[] = [];
  for (let i = 0; i < sides; i++) {
    const turn = (i / sides) * 2 * Math.PI;
    positions.push(r * Math.cos(turn), r * Math.sin(turn), h);
    indices.push(0, 1 + ((i + 1) % sides), 1 + i);
  }
  const normals = Float32Array.from(positions, (_, i) => (i % 3 === 2 ? -1 : 0));
  return meshOf('disk', Float32Array.from(positions), normals, Uint32Array.from(indices));
}

/** A rectangle through four corners. */
function quad(...corners: [number, number, number][]): Mesh {
  return meshOf(
    'quad',
    Float32Array.from(corners.flat()),
    new Float32Array(12).fill(0.5),
    Uint32Array.of(0, 1, 2, 0, 2, 3),
  );
}

/** Mean occlusion of the texels around the middle of the plane, under a blocker. */
function opennessBelow(blocker: Mesh, change: Partial<BakeSettings['occlusion']> = {}): number {
  const size = 17;
  const settings = testSettings(size, {
    maps: ['ao'],
    reach: { out: 0.01, in: 0.01 },
    occlusion: { rays: 1024, spread: 'cosine', distance: Infinity, fallOff: false, twoSided: true, ...change },
  });
  // A receiver so small that it is an element of the floor.
  const element = reliefPlane('element', 1, 1e-3);
  const { maps, statistics } = bakeOnOneThread(element, [floor, blocker], settings);
  expect(statistics.misses).toBe(0);
  return maps.ao!.reduce((sum, value) => sum + value, 0) / (size * size);
}

describe('ambient occlusion, cosine-weighted, is 1 − F (Howell, A Catalog of Radiation Heat Transfer Configuration Factors)', () => {
  it('under a coaxial parallel disk: F = r² / (r² + h²)', () => {
    for (const [r, h] of [
      [1, 1],
      [2, 1],
      [0.5, 1],
    ] as const) {
      expect(opennessBelow(disk(r, h))).toBeCloseTo(1 - (r * r) / (r * r + h * h), 2.3);
    }
  });

  it('under the corner of a parallel rectangle', () => {
    const [a, b, h] = [1.5, 0.8, 1];
    const side = (A: number, B: number): number => (A / Math.hypot(1, A)) * Math.atan(B / Math.hypot(1, A));
    const F = (side(a / h, b / h) + side(b / h, a / h)) / (2 * Math.PI);
    expect(Math.abs(opennessBelow(quad([0, 0, h], [0, b, h], [a, b, h], [a, 0, h])) - (1 - F))).toBeLessThan(0.005);
  });

  it('beside an endless wall: F = ½ (1 − x / √(x² + h²))', () => {
    const [x, h, far] = [0.7, 1, 1e4];
    const F = 0.5 * (1 - x / Math.hypot(x, h));
    expect(Math.abs(opennessBelow(quad([x, -far, 0], [x, far, 0], [x, far, h], [x, -far, h])) - (1 - F))).toBeLessThan(
      0.005,
    );
  });

  it('below a sphere: F = (r / d)²', () => {
    const ball = sphere('ball', 0.5, 128, 256);
    for (let i = 2; i < ball.positions.length; i += 3) ball.positions[i]! += 1.25;
    expect(Math.abs(opennessBelow(ball) - (1 - 0.4 ** 2))).toBeLessThan(0.005);
  });

  it('weighs all directions alike when asked to: the solid angle of a cone over 2π', () => {
    const [r, h] = [1, 1];
    expect(Math.abs(opennessBelow(disk(r, h), { spread: 'uniform' }) - Math.cos(Math.atan(r / h)))).toBeLessThan(0.005);
  });

  it('does not see beyond its distance, fades towards it, and looks through backs when one-sided', () => {
    expect(opennessBelow(disk(3, 1), { distance: 0.9 })).toBe(1);
    const hard = opennessBelow(disk(3, 1), { distance: 4 });
    const soft = opennessBelow(disk(3, 1), { distance: 4, fallOff: true });
    expect(soft).toBeGreaterThan(hard + 0.1);
    const turned = disk(1, 1);
    for (let t = 0; t < turned.indices.length; t += 3) turned.indices.subarray(t + 1, t + 3).reverse();
    expect(opennessBelow(turned, { twoSided: false })).toBe(1);
  });
});

/** Bakes one kind of map onto the plane. */
function bakePlane(
  kind: BakedKind,
  sources: Mesh[],
  change: Partial<BakeSettings> = {},
  attributes = {},
): Float32Array {
  const settings = testSettings(32, { maps: [kind], ...change });
  return bakeOnOneThread(plane, sources, settings, attributes).maps[kind]!;
}

describe('bent normals', () => {
  it('lean away from a wall, and stand upright in the open', () => {
    const wall = quad([0.5, -50, 0], [0.5, 50, 0], [0.5, 50, 50], [0.5, -50, 50]);
    const bent = bakePlane('bent', [floor, wall], { maps: ['bent'] });
    // Left of the wall half the sky is open: the cosine-weighted mean of a quarter sphere leans by 45° at most.
    const at = (16 * 32 + 23) * 3;
    expect(bent[at]!).toBeLessThan(0.4);
    expect(bent[at + 2]!).toBeGreaterThan(0.75);
    const open = bakePlane('bent', [floor], {
      maps: ['bent'],
      occlusion: { ...testSettings(1).occlusion, rays: 1024 },
    });
    for (const [c, value] of [0.5, 0.5, 1].entries()) expect(open[at + c]!).toBeCloseTo(value, 2);
  });
});

describe('height', () => {
  it('is the relief itself, in mesh units', () => {
    const z = (x: number, y: number): number => 0.1 * Math.sin(3 * x) * Math.cos(2 * y);
    const height = bakePlane('height', [reliefPlane('relief', 400, 1.1, z)]);
    for (let j = 0; j < 32; j++) {
      for (let i = 0; i < 32; i++) {
        expect(height[j * 32 + i]).toBeCloseTo(z(((i + 0.5) / 32) * 2 - 1, 1 - ((j + 0.5) / 32) * 2), 4);
      }
    }
  });
});

describe('thickness', () => {
  it('of a sphere is its mean chord, 4r/3 (Cauchy: 4V/S)', () => {
    const settings = testSettings(24, {
      maps: ['thickness'],
      reach: { out: 0.05, in: 0.05 },
      occlusion: { ...testSettings(1).occlusion, rays: 256 },
    });
    const { maps, states } = bakeOnOneThread(sphere('light', 1, 32, 64), [sphere('dense', 1, 128, 256)], settings);
    let sum = 0;
    let count = 0;
    maps.thickness!.forEach((value, i) => {
      if (states[i] !== 2) return;
      sum += value;
      count++;
    });
    expect(sum / count).toBeCloseTo(4 / 3, 2);
  });
});

describe('mean curvature (differential geometry; Meyer, Desbrun, Schröder, Barr 2003)', () => {
  it('is 1/r on a sphere, 1/(2r) on a cylinder, 0 on a plane, and negative in a hollow', () => {
    const middle = (mesh: Mesh, radius = 0): number => {
      const values = meanCurvature(mesh, radius).toSorted();
      return values[values.length >> 1]!;
    };
    expect(middle(sphere('ball', 2, 64, 128))).toBeCloseTo(0.5, 2);
    expect(middle(sphere('ball', 2, 64, 128), 0.3)).toBeCloseTo(0.5, 2);
    expect(middle(sphere('hollow', 2, 64, 128, true))).toBeCloseTo(-0.5, 2);
    expect(middle(reliefPlane('flat', 8, 1))).toBeCloseTo(0, 6);
    const cylinder = reliefPlane('cylinder', 100, 1, () => 0);
    for (let i = 0; i < cylinder.positions.length; i += 3) {
      const turn = cylinder.positions[i]!;
      cylinder.positions[i] = 3 * Math.sin(turn);
      cylinder.positions[i + 2] = 3 * Math.cos(turn);
    }
    expect(middle(cylinder)).toBeCloseTo(1 / 6, 3);
  });
});

describe('position, ID and colour', () => {
  it('tell where each texel lies on the source', () => {
    const position = bakePlane('position', [reliefPlane('raised', 1, 1.1, () => 0.05)]);
    const at = (5 * 32 + 9) * 3;
    expect(position[at]).toBeCloseTo((9.5 / 32) * 2 - 1, 5);
    expect(position[at + 1]).toBeCloseTo(1 - (5.5 / 32) * 2, 5);
    expect(position[at + 2]).toBeCloseTo(0.05, 5);
  });

  it('never blend the colours of two pieces', () => {
    const halves = joinMeshes('halves', [
      quad([-1.1, -1.1, 0], [0.02, -1.1, 0], [0.02, 1.1, 0], [-1.1, 1.1, 0]),
      quad([0.02, -1.1, 0], [1.1, -1.1, 0], [1.1, 1.1, 0], [0.02, 1.1, 0]),
    ]);
    const colors = Float32Array.of(1, 0, 0, 0, 0, 1);
    const ids = { of: 'triangle', pieces: Uint32Array.of(0, 0, 1, 1), colors };
    const id = bakePlane('id', [halves], { samplesPerAxis: 4 }, { ids });
    for (let i = 0; i < id.length; i += 3) {
      const red = (i / 3) % 32 < 16;
      expect([...id.subarray(i, i + 3)]).toEqual(red ? [1, 0, 0] : [0, 0, 1]);
    }
  });

  it('tell vertex colours apart, whichever vertex is nearest', () => {
    const source = reliefPlane('coloured', 1, 1);
    const ids = {
      of: 'vertex',
      pieces: Uint32Array.of(0, 1, 1, 1),
      colors: Float32Array.of(1, 0, 0, 0, 1, 0),
    };
    const id = bakePlane('id', [source], { samplesPerAxis: 2 }, { ids });
    const seen = new Set(Array.from({ length: id.length / 3 }, (_, i) => id.slice(i * 3, i * 3 + 3).join()));
    expect([...seen].sort()).toEqual(['0,1,0', '1,0,0']);
    expect([...id.subarray((31 * 32 + 1) * 3, (31 * 32 + 1) * 3 + 3)]).toEqual([1, 0, 0]);
  });
});

describe('materials', () => {
  const vertexColors = {
    values: Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0]),
    present: new Uint8Array(4).fill(1),
  };
  const plainly = (material: Partial<Material>, more: Partial<SourceMaterials> = {}) => ({
    materials: {
      materials: [{ ...PLAIN_MATERIAL, ...material }],
      ofTriangle: new Uint16Array(2),
      pictures: [],
      uvSets: [plane.uvSets[0]!.coords],
      colors: null,
      tangents: null,
      ...more,
    },
  });
  const laid = (repeats: number): PictureUse => ({
    picture: 0,
    uvSet: 0,
    wrap: ['repeat', 'repeat'],
    transform: [repeats, 0, 0, 0, repeats, 0],
    channel: 0,
  });
  /** Black and white squares, one texel each. */
  const checker = (side: number): Image => ({
    width: side,
    height: side,
    channels: 3,
    data: Float32Array.from({ length: side * side * 3 }, (_, i) => (Math.floor(i / 3) + Math.floor(i / 3 / side)) % 2),
  });

  it('are vertex colours, interpolated; they multiply the colour of a material that says so', () => {
    const source = reliefPlane('coloured', 1, 1);
    const at = (7 * 32 + 20) * 3;
    const color = bakePlane('basecolor', [source], {}, plainly({}, { colors: vertexColors }));
    expect(color[at]).toBeCloseTo(20.5 / 32, 4);
    expect(color[at + 1]).toBeCloseTo(1 - 7.5 / 32, 4);
    const half = plainly({ baseColor: [0.5, 0.5, 0.5], tinted: true }, { colors: vertexColors });
    expect(bakePlane('basecolor', [source], {}, half)[at]).toBeCloseTo(20.5 / 64, 4);
  });

  it('are numbers and pictures multiplied, as in glTF 2.0', () => {
    const data = new Float32Array(3).fill(0.5);
    const pictures = [[{ width: 1, height: 1, channels: 3, data }]];
    const use = { roughness: { ...laid(1), channel: 1 } };
    const roughness = bakePlane('roughness', [plane], {}, plainly({ roughness: 0.8, pictures: use }, { pictures }));
    expect(roughness[500]).toBeCloseTo(0.4, 6);
    expect(bakePlane('metallic', [plane], {}, plainly({ metallic: 0.25 }))[500]).toBe(0.25);
  });

  it('show a picture texel for texel, moved and repeated', () => {
    const pictures = [pictureLevels(checker(32))];
    const color = bakePlane(
      'basecolor',
      [plane],
      {},
      plainly({ baseColor: [1, 1, 1], pictures: { basecolor: laid(1) } }, { pictures }),
    );
    for (let i = 0; i < color.length; i++) expect(color[i]).toBeCloseTo(pictures[0]![0]!.data[i]!, 4);
  });

  it('filter a picture over the footprint of the sample: a checker much finer than the map is its mean', () => {
    const pictures = [pictureLevels(checker(32))];
    const fine = plainly({ baseColor: [1, 1, 1], pictures: { basecolor: laid(8) } }, { pictures });
    for (const value of bakePlane('basecolor', [plane], {}, fine)) expect(value).toBeCloseTo(0.5, 3);
  });

  it('bend the normal by the own normal picture of the source', () => {
    const lean = [0.6, 0, 0.8];
    const data = Float32Array.from(lean, (value) => value / 2 + 0.5);
    const pictures = [[{ width: 1, height: 1, channels: 3, data }]];
    const { positions, normals, indices, uvSets } = plane;
    const tangents = mikkTangents({ positions, normals, indices, uvs: uvSets[0]!.coords });
    const normal = bakePlane('normal', [plane], {}, plainly({ pictures: { normal: laid(1) } }, { pictures, tangents }));
    for (let c = 0; c < 3; c++) expect(normal[600 * 3 + c]).toBeCloseTo(data[c]!, 5);
  });
});

describe('sky visibility, by view factors (Howell, A Catalog of Radiation Heat Transfer Configuration Factors)', () => {
  const sky = (receiver: Mesh, sources: Mesh[], angle = 90): number => {
    const settings = testSettings(9, {
      maps: ['sky'],
      reach: { out: 0.001, in: 0.001 },
      sky: { up: [0, 0, 1], angle },
      occlusion: { rays: 4096, spread: 'uniform', distance: 0.01, fallOff: true, twoSided: true },
    });
    const { maps } = bakeOnOneThread(receiver, sources, settings);
    return maps.sky!.reduce((sum, value) => sum + value, 0) / 81;
  };
  const element = reliefPlane('element', 1, 1e-3);

  it.each([0, 30, 60, 90, 120])('of a slope of %i° is (1 + cos β) / 2', (degrees) => {
    const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    const turn = (values: Float32Array): Float32Array =>
      values.map((_, i, all) => {
        const at = i - (i % 3);
        const [x, y, z] = [all[at]!, all[at + 1]!, all[at + 2]!];
        return [x, y * cos - z * sin, y * sin + z * cos][i % 3]!;
      });
    const slope = { ...element, positions: turn(element.positions), normals: turn(element.normals) };
    expect(sky(slope, [slope])).toBeCloseTo((1 + cos) / 2, 2);
  });

  it('under a roof, a coaxial disk, misses r² / (r² + h²), however short occlusion rays are', () => {
    for (const [r, h] of [
      [1, 1],
      [1, 2],
    ] as const)
      expect(sky(element, [floor, disk(r, h)])).toBeCloseTo(1 - r ** 2 / (r ** 2 + h ** 2), 2);
  });

  it('within a cone is 1 where nothing blocks it, and 0 where a roof fills it', () => {
    expect(sky(element, [floor], 45)).toBeCloseTo(1, 2);
    // The roof reaches 60° from the zenith: beyond a cone of 45°.
    expect(sky(element, [floor, disk(Math.tan(Math.PI / 3), 1)], 45)).toBe(0);
  });
});

describe('sun exposure', () => {
  const sun = (normal: 'up' | 'down' | 'to the equator' | 'to the pole', path: Partial<SunPath> = {}): number => {
    const element = reliefPlane('element', 1, 1e-3);
    const to = { up: [0, 1, 0], down: [0, -1, 0], 'to the equator': [0, 0, 1], 'to the pole': [0, 0, -1] }[normal];
    // The plane turned to face that way; its own tangent frame does not matter here.
    const positions = element.positions.map((_, i, all) => {
      const [x, y] = [all[i - (i % 3)]!, all[i - (i % 3) + 1]!];
      const flips = to[1]! + to[2]! < 0 ? -1 : 1;
      return (to[1] === 0 ? [x * flips, y, 0] : [x * flips, 0, -y])[i % 3]!;
    });
    const normals = element.normals.map((_, i) => to[i % 3]!);
    const facing = { ...element, positions, normals };
    const { maps } = bakeOnOneThread(
      facing,
      [facing],
      testSettings(9, {
        maps: ['sun'],
        reach: { out: 0.001, in: 0.001 },
        sun: { ...USUAL_SUN, ...path },
        occlusion: { ...testSettings(1).occlusion, rays: 1024 },
      }),
    );
    return maps.sun!.reduce((sum, value) => sum + value, 0) / 81;
  };

  it('stands where the almanac has it (Duffie and Beckman, chapter 1)', () => {
    // At solar noon the height is 90° − latitude + declination; at the equinox the sun rises due east.
    const height = (latitude: number, day: number): number => (Math.asin(sunAt(latitude, day, 12)[2]) * 180) / Math.PI;
    expect(height(50, 172)).toBeCloseTo(90 - 50 + 23.45, 1);
    expect(height(-35, 355)).toBeCloseTo(90 - 35 + 23.45, 1);
    const [east, north, up] = sunAt(50, 81, 6);
    expect(east).toBeCloseTo(1, 3);
    expect([Math.abs(north), Math.abs(up)].every((value) => value < 0.01)).toBe(true);
  });

  it('is the mean cosine of the sun’s angle, weighted by what the air lets through', () => {
    // The same integral on a fine grid of times, here without the map's own tables.
    const mean = (cosine: (east: number, north: number, up: number) => number): number => {
      let [sum, all] = [0, 0];
      for (let day = 1; day <= 365; day += 4) {
        for (let time = 0; time < 24; time += 0.1) {
          const [e, n, u] = sunAt(50, day, time);
          const strength = u > 0.01 ? 0.7 ** ((1 / u) ** 0.678) : 0;
          sum += strength * Math.max(0, cosine(e, n, u));
          all += strength;
        }
      }
      return sum / all;
    };
    expect(sun('up')).toBeCloseTo(
      mean((_e, _n, u) => u),
      2,
    );
    expect(sun('to the equator')).toBeCloseTo(
      mean((_e, n) => -n),
      2,
    );
    expect(sun('to the pole')).toBeCloseTo(
      mean((_e, n) => n),
      2,
    );
    expect(sun('down')).toBe(0);
  });

  it('in the south comes from the north, and is less in winter', () => {
    expect(sun('to the pole', { latitude: -50 })).toBeCloseTo(sun('to the equator'), 1);
    expect(sun('up', { season: 'winter' })).toBeLessThan(sun('up', { season: 'summer' }));
  });
});

describe('gradient, face direction and guide', () => {
  it('grow along their direction, and show faces without smoothing', () => {
    const roof = quad([-1.1, -1.1, -0.11], [1.1, -1.1, 0.11], [1.1, 1.1, 0.11], [-1.1, 1.1, -0.11]);
    const along = bakePlane('gradient', [roof], { gradient: [0, 0, 1] });
    expect(along[16 * 32 + 24]).toBeCloseTo(((24.5 / 32) * 2 - 1) * 0.1, 5);
    const smooth = { ...roof, normals: Float32Array.from(roof.normals, (_, i) => (i % 3 === 2 ? 1 : 0)) };
    const facing = bakePlane('facing', [smooth]);
    const n = [-0.1, 0, 1].map((value) => value / Math.hypot(0.1, 1) / 2 + 0.5);
    for (let c = 0; c < 3; c++) expect(facing[100 * 3 + c]).toBeCloseTo(n[c]!, 5);
  });

  it('draw borders brighter than inner edges, and those brighter than the rest', () => {
    const guide = bakePlane('guide', [plane], { samplesPerAxis: 4 });
    const [border, diagonal, inside] = [guide[16 * 32]!, guide[16 * 32 + 15]!, guide[4 * 32 + 10]!];
    expect(border).toBeGreaterThan(0.6);
    expect(Math.max(diagonal, guide[16 * 32 + 16]!)).toBeGreaterThan(0.3);
    expect(inside).toBeLessThan(0.2);
  });
});
