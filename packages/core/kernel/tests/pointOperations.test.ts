import { converter } from 'culori';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { adjust, type Adjustment } from '../../src/adjust/adjust.ts';
import { linearToSrgb, srgbToLinear } from '../../src/color/srgb.ts';
import { labOf } from '../../src/derive/toneMask.ts';
import type { Image } from '../../src/image/image.ts';
import { tone } from '../../src/image/planes.ts';
import { pointOperationsInKernel, type PointOperation } from '../../src/image/pointOperations.ts';
import { KernelTeam, useKernelTeam } from '../../src/kernel/kernelTeam.ts';
import { randomNumbers } from '../../src/testing/shapes.ts';
import { largestDifference, loadKernel } from './loadKernel.ts';

let team: KernelTeam;
beforeEach(() => {
  team = new KernelTeam(loadKernel(65536), 1);
  useKernelTeam(team);
});
afterEach(() => void useKernelTeam(null));

function plainly<Result>(work: () => Result): Result {
  useKernelTeam(null);
  try {
    return work();
  } finally {
    useKernelTeam(team);
  }
}

/** Of more texels than one task has; of a large one, runs of operations are done by tables. */
function noise(channels: number, colorSpace: 'srgb' | 'linear', [width, height] = [131, 97]): Image {
  const random = randomNumbers(channels);
  // The darkest too, where the sRGB curve is steep.
  const data = Float32Array.from({ length: width * height * channels }, (_, i) => random() ** (i % 3 === 0 ? 6 : 1));
  return { width, height, channels, data, colorSpace };
}

const STEPS: Adjustment[] = [
  { do: 'levels', black: 0.1, white: 0.8, gamma: 1.7 },
  { do: 'levels', black: 0, white: 1, gamma: 1 },
  {
    do: 'curves',
    points: [
      [0, 0.1],
      [0.3, 0.2],
      [0.35, 0.7],
      [1, 0.9],
    ],
  },
  { do: 'curves', points: [[0.5, 0.25]] },
  { do: 'contrast', amount: 1.6 },
  { do: 'saturation', amount: 0.4 },
  { do: 'hue', degrees: 75 },
  { do: 'invert' },
  { do: 'clamp', low: 0.2, high: 0.6 },
  { do: 'remap', low: 0.3, high: 0.4 },
];

describe('the kernel', () => {
  it.each(STEPS.map((step) => [step.do, step] as const))('does %s as plain code does', (_, step) => {
    for (const channels of [1, 2, 3, 4]) {
      for (const colorSpace of ['srgb', 'linear'] as const) {
        const image = noise(channels, colorSpace);
        const own = adjust(image, [step], 'clamp').data;
        const plain = plainly(() => adjust(image, [step], 'clamp').data);
        // Single precision, twelve times as far off where the sRGB curve is steepest, near black.
        expect(largestDifference(own, plain), `${channels} channels, ${colorSpace}`).toBeLessThan(2e-5);
      }
    }
  });

  it.each([
    ['a power between light and screen', [STEPS[0]!]],
    ['a power that is steepest at black', [{ do: 'levels', black: 0.2, white: 0.7, gamma: 4 }]],
    ['several', [STEPS[0]!, STEPS[1]!, STEPS[7]!, STEPS[0]!]],
    // No table does for a kink in the middle of it.
    ['a kink', [STEPS[0]!, STEPS[8]!, STEPS[0]!, STEPS[2]!]],
  ] as [string, Adjustment[]][])('does %s on many texels as on few', (_, steps) => {
    for (const channels of [1, 4]) {
      const image = noise(channels, 'srgb', [401, 307]);
      const own = adjust(image, steps, 'clamp').data;
      // Beyond white and below black too.
      image.data.forEach((value, i) => (image.data[i] = value * 1.2 - 0.1));
      const beyond = adjust(image, steps, 'clamp').data;
      const plain = plainly(() => adjust(image, steps, 'clamp').data);
      expect(largestDifference(beyond, plain), `${channels} channels`).toBeLessThan(4e-5);
      expect(largestDifference(own, beyond)).toBeGreaterThan(1e-3);
    }
  });

  it('does many steps together, with those between that look at neighbours', () => {
    const image = noise(3, 'srgb');
    const steps: Adjustment[] = [STEPS[0]!, { do: 'invert' }, { do: 'blur', radius: 0.02 }, STEPS[2]!, STEPS[5]!];
    const plain = plainly(() => adjust(image, steps, 'repeat').data);
    expect(largestDifference(adjust(image, steps, 'repeat').data, plain)).toBeLessThan(2e-5);
  });

  it('has the sRGB curve of IEC 61966-2-1, both ways', () => {
    const data = Float32Array.from({ length: 4099 }, (_, i) => i / 4096);
    const image: Image = { width: data.length, height: 1, channels: 1, data };
    const through = (what: 'to-screen' | 'to-light') => pointOperationsInKernel(team, image, [{ do: what }]);
    expect(largestDifference(through('to-screen'), data.map(linearToSrgb))).toBeLessThan(1e-6);
    expect(largestDifference(through('to-light'), data.map(srgbToLinear))).toBeLessThan(1e-6);
  });

  it('has the OKLab of culori (Ottosson 2020), and comes back', () => {
    const image = noise(3, 'linear');
    const lab = labOf(image);
    const reference = converter('oklab');
    for (let i = 0; i < 300; i += 3) {
      const [r, g, b] = image.data.subarray(i, i + 3) as unknown as [number, number, number];
      const expected = reference({ mode: 'lrgb', r, g, b });
      expect(largestDifference(lab.data.subarray(i, i + 3), [expected.l, expected.a, expected.b])).toBeLessThan(2e-6);
    }
    const back = pointOperationsInKernel(team, lab, [{ do: 'from-oklab' }]);
    expect(largestDifference(back, image.data)).toBeLessThan(5e-6);
    expect(
      largestDifference(
        lab.data,
        plainly(() => labOf(image).data),
      ),
    ).toBeLessThan(2e-6);
  });

  it('tells tones as plain code does', () => {
    for (const channels of [1, 3, 4]) {
      const image = noise(channels, 'srgb');
      expect(
        largestDifference(
          tone(image).data,
          plainly(() => tone(image).data),
        ),
      ).toBeLessThan(2e-6);
    }
  });

  it('takes powers of numbers near 0 and far above 1', () => {
    const data = Float32Array.from({ length: 400 }, (_, i) => 2 ** (i / 4 - 60));
    const image: Image = { width: 400, height: 1, channels: 1, data };
    const operations: PointOperation[] = [{ do: 'power', exponent: 0.45 }];
    pointOperationsInKernel(team, image, operations).forEach((value, i) => {
      expect(Math.abs(value / data[i]! ** 0.45 - 1)).toBeLessThan(3e-6);
    });
  });
});
