import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomNumbers, sphere } from '../../src/testing/shapes.ts';
import { placeReceiver, sampleKernel, type AimedSurface, type SampleKernel } from '../../src/trace/sampleKernel.ts';
import { kernelOn } from './loadKernel.ts';

type Vector = [number, number, number];
const CORNERS = [0, 1, 2] as const;
const dot = (a: readonly number[], b: readonly number[]): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
const cross = (a: readonly number[], b: readonly number[]): Vector => [
  a[1]! * b[2]! - a[2]! * b[1]!,
  a[2]! * b[0]! - a[0]! * b[2]!,
  a[0]! * b[1]! - a[1]! * b[0]!,
];
const unit = (v: readonly number[]): Vector => {
  const length = Math.hypot(...v);
  return v.map((value) => value / length) as Vector;
};
const vectorOf = (list: ArrayLike<number>, i: number, stride = 3): Vector => [
  list[i * stride]!,
  list[i * stride + 1]!,
  list[i * stride + 2]!,
];

/** A receiver of random triangles whose normals and tangents are anything but upright, and samples on it. */
function randomSamples(seed: number, count: number): { receiver: AimedSurface; samples: SampleKernel } {
  const random = randomNumbers(seed);
  const numbers = (length: number, low: number, high: number): Float32Array =>
    Float32Array.from({ length }, () => low + random() * (high - low));
  const [vertices, triangles] = [12, 7];
  const tangents = numbers(triangles * 12, -1, 1);
  for (let t = 0; t < triangles; t++) {
    const sign = random() < 0.5 ? -1 : 1;
    for (const c of CORNERS) tangents[t * 12 + c * 4 + 3] = sign;
  }
  const receiver: AimedSurface = {
    positions: numbers(vertices * 3, -2, 2),
    directions: numbers(vertices * 3, 0.1, 1),
    indices: Uint32Array.from({ length: triangles * 3 }, () => Math.floor(random() * vertices)),
    reachOut: numbers(vertices, 0, 0.5),
    reachIn: numbers(vertices, 0, 0.5),
    normals: numbers(vertices * 3, -1, 1),
    tangents,
  };
  const { kernel, tree } = kernelOn(sphere('source', 1, 8, 16));
  const placed = placeReceiver(tree, receiver)!;
  const samples = sampleKernel(tree, kernel, 0, placed, count)!;
  for (let s = 0; s < count; s++) {
    samples.texels[s] = Math.floor(s / 4);
    // Some texels lie on one triangle, some on two.
    samples.triangles[s] = Math.floor(s / 3) % triangles;
    const [b, c] = [random(), random()];
    const sum = Math.max(1, b + c + 0.1);
    samples.weights.set([b / sum, c / sum], s * 2);
  }
  return { receiver, samples };
}

/** What lies at the corners of a sample's triangle, mixed by its weights. */
function mixed(
  list: ArrayLike<number>,
  corners: readonly number[],
  [b, c]: readonly [number, number],
  stride = 3,
): Vector {
  const weights = [1 - b - c, b, c];
  return [0, 1, 2].map((k) =>
    CORNERS.reduce((sum: number, i) => sum + weights[i]! * list[corners[i]! * stride + k]!, 0),
  ) as Vector;
}
const scalarAt = (list: ArrayLike<number>, corners: readonly number[], [b, c]: readonly [number, number]): number =>
  list[corners[0]!]! * (1 - b - c) + list[corners[1]!]! * b + list[corners[2]!]! * c;

const expectClose = (got: readonly number[], wanted: readonly number[], tolerance: number): void => {
  const apart = Math.hypot(...got.map((value, k) => value - wanted[k]!));
  expect(apart, `${got.join()} instead of ${wanted.join()}`).toBeLessThan(tolerance);
};

describe('samples in the kernel', () => {
  it('are aimed from above their place against the direction there, as plain arithmetic has it', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const count = 40;
        const { receiver, samples } = randomSamples(seed, count);
        samples.aim(count);
        expect(samples.rays.count).toBe(count);
        for (let s = 0; s < count; s++) {
          const corners = [...receiver.indices.subarray(samples.triangles[s]! * 3, samples.triangles[s]! * 3 + 3)];
          const weights = [samples.weights[s * 2]!, samples.weights[s * 2 + 1]!] as const;
          const place = mixed(receiver.positions, corners, weights);
          const direction = unit(mixed(receiver.directions, corners, weights));
          const [out, into] = [
            scalarAt(receiver.reachOut, corners, weights),
            scalarAt(receiver.reachIn, corners, weights),
          ];
          const origin = place.map((value, k) => value + direction[k]! * out);
          expectClose(vectorOf(samples.rays.origins, s), origin, 1e-5);
          expectClose(
            vectorOf(samples.rays.directions, s),
            direction.map((value) => -value),
            1e-5,
          );
          expectClose([samples.rays.lengths[s]!, samples.starts[s]!], [out + into, out], 1e-5);
        }
      }),
      { numRuns: 30 },
    );
  });

  it('take the interpolated unit normal of what they met, and are counted by their height', () => {
    const ball = sphere('source', 1, 24, 48);
    const { kernel, tree } = kernelOn(ball);
    const upright: AimedSurface = {
      positions: new Float32Array(9),
      directions: new Float32Array(9).fill(1),
      indices: Uint32Array.of(0, 1, 2),
      reachOut: new Float32Array(3),
      reachIn: new Float32Array(3),
      normals: new Float32Array(9).fill(1),
      tangents: new Float32Array(12).fill(1),
    };
    const count = 300;
    const samples = sampleKernel(tree, kernel, 0, placeReceiver(tree, upright)!, count)!;
    const random = randomNumbers(5);
    const heights: (number | null)[] = [];
    for (let s = 0; s < count; s++) {
      const isMet = random() > 0.2;
      samples.hits.triangles[s] = isMet ? Math.floor((random() * ball.indices.length) / 3) : -1;
      const b = random() * 0.5;
      samples.hits.weights.set([b, random() * 0.5], s * 2);
      samples.starts[s] = random();
      samples.hits.distances[s] = random() * 2;
      heights.push(isMet ? samples.starts[s]! - samples.hits.distances[s]! : null);
    }
    const [low, scale] = [-0.5, 8];
    const bins = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
    const missed = samples.shade(count, low, scale, bins);
    expect(missed).toBe(heights.filter((height) => height === null).length);
    // Heights beyond the bins are counted in the first and the last.
    const expected = bins.map(() => 0);
    for (const height of heights) {
      if (height !== null) expected[Math.min(9, Math.max(0, Math.floor((height - low) * scale)))]!++;
    }
    expect(bins).toEqual(expected);
    for (const [s, height] of heights.entries()) {
      if (height === null) continue;
      const t = samples.hits.triangles[s]!;
      const corners = [...ball.indices.subarray(t * 3, t * 3 + 3)];
      const weights = [samples.hits.weights[s * 2]!, samples.hits.weights[s * 2 + 1]!] as const;
      expectClose(vectorOf(samples.normals, s), unit(mixed(ball.normals, corners, weights)), 1e-5);
    }
  });

  it('become normals from which a renderer gets back the mean of what was met (Mikkelsen 2008)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const count = 60;
        const { receiver, samples } = randomSamples(seed, count);
        const random = randomNumbers(seed + 1);
        for (let s = 0; s < count; s++) {
          samples.hits.triangles[s] = random() < 0.15 ? -1 : 0;
          samples.normals.set(unit([random() - 0.5, random() - 0.5, random() - 0.5]), s * 3);
        }
        samples.means.fill(7);
        samples.encode(count);
        for (let texel = 0; texel < count / 4; texel++) {
          const all = [0, 1, 2, 3].map((i) => texel * 4 + i);
          const met = all.filter((s) => samples.hits.triangles[s]! >= 0);
          const mean = vectorOf(samples.means, texel);
          if (met.length === 0) expect(mean).toEqual([0, 0, 0]);
          // Where samples lie on one triangle, there is one frame to turn back by.
          if (met.length === 0 || new Set(all.map((s) => samples.triangles[s])).size > 1) continue;
          const direction = [0, 1, 2].map((k) => met.reduce((sum, s) => sum + samples.normals[s * 3 + k]!, 0));
          const t = samples.triangles[met[0]!]!;
          const corners = [...receiver.indices.subarray(t * 3, t * 3 + 3)];
          const average = (k: number): number =>
            met.reduce((sum, s) => sum + samples.weights[s * 2 + k]!, 0) / met.length;
          const weights = [average(0), average(1)] as const;
          const n = mixed(receiver.normals, corners, weights);
          const tangent = mixed(receiver.tangents, [t * 3, t * 3 + 1, t * 3 + 2], weights, 4);
          const sign = receiver.tangents[t * 12 + 3]!;
          const bitangent = cross(n, tangent).map((value) => value * sign);
          const frame = dot(tangent, cross(bitangent, n)) / (Math.hypot(...n) * Math.hypot(...tangent)) ** 2;
          // A frame that has all but collapsed holds no direction in single precision.
          if (Math.abs(frame) < 0.05 || Math.hypot(...direction) < 0.1) continue;
          const shaded = [0, 1, 2].map((k) => mean[0] * tangent[k]! + mean[1] * bitangent[k]! + mean[2] * n[k]!);
          expectClose(unit(shaded), unit(direction), 2e-3);
          // Its length is what counts among the triangles of a texel.
          expect(Math.hypot(...mean)).toBeCloseTo(Math.hypot(...direction), 3);
        }
      }),
      { numRuns: 30 },
    );
  });

  it('are refused where a block has more than the kernel keeps, and a larger receiver takes the place of the last', () => {
    const { kernel, tree } = kernelOn(sphere('source', 1, 8, 16));
    const receiver = (vertices: number, triangles: number): AimedSurface => ({
      positions: new Float32Array(vertices * 3).fill(2),
      directions: new Float32Array(vertices * 3).fill(1),
      indices: new Uint32Array(triangles * 3).fill(vertices - 1),
      reachOut: new Float32Array(vertices).fill(0.25),
      reachIn: new Float32Array(vertices).fill(0.5),
      normals: new Float32Array(vertices * 3).fill(1),
      tangents: new Float32Array(triangles * 12).fill(1),
    });
    expect(sampleKernel(tree, kernel, 0, placeReceiver(tree, receiver(3, 1))!, 20_000)).toBeNull();
    placeReceiver(tree, receiver(3, 1));
    const placed = placeReceiver(tree, receiver(100_000, 200_000))!;
    const samples = sampleKernel(tree, kernel, 0, placed, 16)!;
    samples.triangles[0] = 199_999;
    samples.weights.set([0.2, 0.3], 0);
    samples.aim(1);
    expectClose([samples.rays.lengths[0]!, samples.starts[0]!], [0.75, 0.25], 1e-6);
    expectClose(
      vectorOf(samples.rays.origins, 0),
      [2, 2, 2].map((at) => at + 0.25 / Math.sqrt(3)),
      1e-6,
    );
  });
});
