import { describe, expect, it } from 'vitest';
import { TexelState } from '../../image/image.ts';
import { randomNumbers } from '../../testing/shapes.ts';
import { padIslands } from './padding.ts';

/** A picture with scattered island texels, each of its own value. */
function scattered(width: number, height: number, share: number, seed: number) {
  const random = randomNumbers(seed);
  const states = new Uint8Array(width * height).map(() =>
    random() < share ? (random() < 0.8 ? TexelState.covered : TexelState.missed) : 0,
  );
  const data = Float32Array.from(states, (state, i) => (state ? i + 1 : -1));
  return { image: { width, height, channels: 1, data }, states };
}

/** Squared distance to the nearest island texel, by looking at all of them. */
function bruteForceDistance(width: number, states: Uint8Array, x: number, y: number): number {
  let nearest = Infinity;
  states.forEach((state, i) => {
    if (state < TexelState.covered) return;
    nearest = Math.min(nearest, ((i % width) - x) ** 2 + (Math.floor(i / width) - y) ** 2);
  });
  return nearest;
}

describe('padding', () => {
  it.each([
    [61, 47, 0.01, 7],
    [40, 64, 0.05, Infinity],
    [33, 20, 0.003, 16],
    [16, 16, 0, 8],
  ])(
    'of %i × %i equals brute force (exact Euclidean distance: Felzenszwalb & Huttenlocher 2012)',
    (width, height, share, reach) => {
      const { image, states } = scattered(width, height, share, width + height);
      const before = { data: image.data.slice(), states: states.slice() };
      padIslands([image], states, reach);
      for (let y = 0; y < height; y++) {
        for (let x = 0; x < width; x++) {
          const at = y * width + x;
          if (before.states[at]! >= TexelState.covered) {
            expect(image.data[at]).toBe(before.data[at]);
            continue;
          }
          const nearest = bruteForceDistance(width, before.states, x, y);
          if (nearest > reach * reach) {
            expect(image.data[at]).toBe(-1);
            expect(states[at]).toBe(TexelState.background);
          } else {
            const from = image.data[at]! - 1;
            const distance = ((from % width) - x) ** 2 + (Math.floor(from / width) - y) ** 2;
            expect(distance).toBe(nearest);
            expect(states[at]).toBe(TexelState.padding);
          }
        }
      }
    },
  );

  it('of 0 changes nothing', () => {
    const { image, states } = scattered(20, 20, 0.1, 3);
    const before = image.data.slice();
    padIslands([image], states, 0);
    expect(image.data).toEqual(before);
  });
});
