import { describe, expect, it } from 'vitest';
import { TexelState } from '../image/image.ts';
import { randomNumbers } from '../testing/shapes.ts';
import { denoise } from './denoise.ts';
import { GUIDES, type LightTarget } from './lightBaker.ts';
import { ACCUMULATED, accumulatedPerTexel } from './passes.ts';

const [width, height] = [48, 32];
const stride = accumulatedPerTexel(1);

/** A plane whose left half is dark and whose right half is light, with noise; each half may be an island, or turned. */
function lit({ islands = false, edge = true, colors = false } = {}): LightTarget {
  const texels = width * height;
  const random = randomNumbers(5);
  const target: LightTarget = {
    sums: new Float32Array(texels * stride),
    differences: new Float32Array(texels),
    buried: new Uint16Array(texels),
    states: new Uint8Array(texels).fill(TexelState.covered),
    islands: new Uint16Array(texels).fill(1),
    guides: new Float32Array(texels * GUIDES),
  };
  for (let i = 0; i < texels; i++) {
    const x = i % width;
    const isRight = x >= width / 2;
    const off = (random() - 0.5) * 0.4;
    for (let c = 0; c < 3; c++) {
      target.sums[i * stride + ACCUMULATED.diffuseDirect + c] = (isRight && edge ? 4 : 1) + off;
      target.sums[i * stride + ACCUMULATED.diffuseIndirect + c] = 0.5 - off / 2;
    }
    target.sums[i * stride + ACCUMULATED.emission] = x;
    target.differences[i] = (random() - 0.5) * 0.4;
    if (islands && isRight) target.islands![i] = 2;
    target.guides!.set(
      [x, Math.floor(i / width), 0, 0, 0, 1, ...Array<number>(3).fill(colors && isRight ? 0.9 : 0.5)],
      i * GUIDES,
    );
  }
  return target;
}

const column = ({ sums }: LightTarget, x: number, part: number): number[] =>
  Array.from({ length: height }, (_, y) => sums[(y * width + x) * stride + part]!);
const spread = (values: number[]): number => {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length);
};

describe('denoising', () => {
  it('takes most of the noise out, and keeps an edge of light', () => {
    const target = lit();
    const before = spread(column(target, 12, 0));
    denoise(target, { width, height }, stride, 1);
    expect(spread(column(target, 12, 0))).toBeLessThan(before / 4);
    for (const value of column(target, width / 2 - 1, 0)) expect(value).toBeLessThan(1.3);
    for (const value of column(target, width / 2, 0)) expect(value).toBeGreaterThan(3.7);
    // What surfaces send by themselves has no noise.
    expect(column(target, 7, ACCUMULATED.emission)[0]).toBe(7);
  });

  it.each([{ islands: true }, { colors: true }])('mixes nothing across %o', (kind) => {
    const target = lit({ ...kind });
    for (let i = 0; i < width * height; i++) target.differences[i]! *= 1000;
    denoise(target, { width, height }, stride, 1);
    for (const value of column(target, width / 2 - 1, 0)) expect(value).toBeLessThan(1.1);
    for (const value of column(target, width / 2, 0)) expect(value).toBeGreaterThan(3.9);
  });

  it('leaves the sum of passes what it is, and all alone at strength 0', () => {
    const target = lit({ edge: false });
    const untouched = target.sums.slice();
    denoise(target, { width, height }, stride, 0);
    expect(target.sums).toEqual(untouched);
    const sum = ({ sums }: { sums: Float32Array }): number => {
      let total = 0;
      for (let i = 0; i < width * height; i++)
        total += sums[i * stride]! + sums[i * stride + ACCUMULATED.diffuseIndirect]!;
      return total / width / height;
    };
    const before = sum(target);
    denoise(target, { width, height }, stride, 1);
    expect(Math.abs(sum(target) / before - 1)).toBeLessThan(0.01);
  });
});
