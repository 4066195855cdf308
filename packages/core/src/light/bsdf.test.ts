import { describe, expect, it } from 'vitest';
import { fresnel } from './microfacet.ts';
import { chanceOf, pointOf } from './sampling.ts';
import { Bsdf, type SurfaceValues } from './bsdf.ts';

const values = (base: number, metallic: number, roughness: number, specular = 1): SurfaceValues => ({
  ...{ base: new Float64Array([base, base, base]), metallic, roughness, specular, transmission: 0, ior: 1.5 },
});

/** What a surface sends one way under a sky of 1: the mean of what its own picks weigh. */
function furnace(surface: SurfaceValues, z: number, samples = 1 << 14): number {
  const bsdf = new Bsdf();
  bsdf.prepare(surface, Math.sqrt(1 - z * z), 0, z);
  const [kind, place] = [new Float64Array(2), new Float64Array(2)];
  let sum = 0;
  for (let i = 0; i < samples; i++) {
    pointOf(i, 17, kind);
    pointOf(i, 23, place);
    bsdf.sample(kind[0]!, place[0]!, place[1]!);
    const [x, y, up] = bsdf.sampled;
    if (up! <= 0) continue;
    bsdf.evaluate(x!, y!, up!);
    sum += (bsdf.diffuse[0]! + bsdf.glossy[0]!) / bsdf.pdf;
  }
  return sum / samples;
}

describe('a surface under an even sky', () => {
  // Conservation of energy: whatever is white sends back all of it (the white furnace of Heitz 2014).
  it.each([0, 0.1, 0.3, 0.5, 0.7, 1])('of roughness %f that is white sends all of it back', (roughness) => {
    for (const metallic of [0, 1]) {
      for (const z of [1, 0.7, 0.3, 0.1]) {
        const sent = furnace(values(1, metallic, roughness), z);
        expect(Math.abs(sent - 1), `metallic ${metallic}, cosine ${z}: ${sent}`).toBeLessThan(0.005);
      }
    }
  });

  it('never sends more than it gets, and less the darker it is', () => {
    for (const roughness of [0.05, 0.4, 0.9]) {
      const [dark, light] = [furnace(values(0.2, 0, roughness), 0.6), furnace(values(0.6, 0, roughness), 0.6)];
      expect(dark).toBeLessThan(light);
      expect(light).toBeLessThan(1);
    }
  });

  it('that is nothing but diffuse sends its albedo, whichever way (Lambert)', () => {
    for (const z of [1, 0.2]) expect(furnace(values(0.37, 0, 0.5, 0), z)).toBeCloseTo(0.37, 5);
  });

  it('and is smooth, reflects what glass of index 1.5 does when it is looked at straight (Fresnel: 4 %)', () => {
    expect(furnace(values(0, 0, 0), 1)).toBeCloseTo(0.04, 4);
  });
});

describe('bsdf', () => {
  it('is as likely in a direction as it says: densities add up to one over the hemisphere', () => {
    const bsdf = new Bsdf();
    bsdf.prepare(values(0.5, 0.3, 0.6), 0.6, 0, 0.8);
    const point = new Float64Array(2);
    let sum = 0;
    const samples = 1 << 15;
    for (let i = 0; i < samples; i++) {
      pointOf(i, 5, point);
      const z = point[0]!;
      const r = Math.sqrt(1 - z * z);
      bsdf.evaluate(r * Math.cos(2 * Math.PI * point[1]!), r * Math.sin(2 * Math.PI * point[1]!), z);
      sum += bsdf.pdf * 2 * Math.PI;
    }
    // Some mirrors send light below the surface.
    expect(sum / samples).toBeGreaterThan(0.95);
    expect(sum / samples).toBeLessThan(1.001);
  });
});

describe('a smooth dielectric (Fresnel)', () => {
  it('of index 1.5 reflects 4 % straight on, nothing of one polarisation at Brewster’s angle, and all at grazing', () => {
    expect(fresnel(1, 1 / 1.5)).toBeCloseTo(0.04, 10);
    const cosine = Math.cos(Math.atan(1.5));
    // Of the other polarisation sin²(θ − θ′), where both angles make a right one (Brewster 1815).
    const angle = Math.atan(1.5);
    expect(fresnel(cosine, 1 / 1.5)).toBeCloseTo(Math.sin(2 * angle - Math.PI / 2) ** 2 / 2, 10);
    expect(fresnel(1e-9, 1 / 1.5)).toBeCloseTo(1, 6);
  });

  it('lets nothing out beyond the critical angle, and as much out as in before it (reciprocity)', () => {
    const critical = Math.sqrt(1 - (1 / 1.5) ** 2);
    expect(fresnel(critical * 0.99, 1.5)).toBe(1);
    const inside = Math.cos(0.5);
    const outside = Math.sqrt(1 - (1.5 * Math.sin(0.5)) ** 2);
    expect(fresnel(inside, 1.5)).toBeCloseTo(fresnel(outside, 1 / 1.5), 10);
  });
});

describe('points', () => {
  it('fill the square evenly: one in each of 64 × 64 cells, and in each strip (Sobol)', () => {
    const point = new Float64Array(2);
    for (const seed of [1, 99, 123456789]) {
      const cells = new Set<number>();
      const strips = new Set<number>();
      for (let i = 0; i < 4096; i++) {
        pointOf(i, seed, point);
        cells.add(Math.floor(point[0]! * 64) * 64 + Math.floor(point[1]! * 64));
        strips.add(Math.floor(point[0]! * 4096));
      }
      expect([cells.size, strips.size]).toEqual([4096, 4096]);
    }
  });

  it('of several uses have nothing to do with each other', () => {
    const [a, b] = [new Float64Array(2), new Float64Array(2)];
    let sum = 0;
    for (let i = 0; i < 4096; i++) {
      pointOf(i, 7, a);
      pointOf(i, 8, b);
      sum += (a[0]! - 0.5) * (b[0]! - 0.5);
    }
    expect(Math.abs(sum / 4096) * 12).toBeLessThan(0.05);
    chanceOf(3, a);
    chanceOf(4, b);
    expect(a[0]).not.toBe(b[0]);
  });
});
