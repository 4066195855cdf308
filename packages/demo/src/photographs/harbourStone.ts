import { smoothStep } from '@zographos/core/image';
import { photograph } from './photograph.ts';
import { between, grainOf, planeOf } from './planes.ts';

const SIDE = 1400;
const SIZE = { width: SIDE, height: SIDE };

/** Tones of the stones, and of what fills their joints. */
const STONES = [
  [0.13, 0.12, 0.11],
  [0.25, 0.23, 0.2],
  [0.215, 0.22, 0.218],
  [0.34, 0.3, 0.25],
  [0.28, 0.26, 0.23],
  [0.4, 0.37, 0.32],
  [0.3, 0.24, 0.2],
] as const;
const SAND = [0.2, 0.175, 0.14] as const;
const LICHEN = [
  [0.48, 0.47, 0.38],
  [0.42, 0.36, 0.12],
] as const;

/**
 * The quay's paving: worn stones of several tones in sandy joints, with pits, veins and lichen, in a low morning sun from
 * the upper left that is blocked towards the lower right; with one oil stain that would give its repetition away.
 */
export function harbourStone(): Promise<Uint8Array> {
  const cells = {
    kind: 'cells',
    scale: 10.7,
    jitter: 0.8,
    seed: 11,
    octaves: 1,
    warp: { amount: 0.01, scale: 12, seed: 5 },
  } as const;
  const border = planeOf(SIZE, { ...cells, measure: 'border' });
  const own = planeOf(SIZE, { ...cells, measure: 'flat' }, 1 / 2);
  const swell = planeOf(SIZE, { scale: 17, octaves: 3, seed: 21 }, 1 / 4);
  const rough = planeOf(SIZE, { scale: 70, octaves: 4, gain: 0.62, seed: 22 });
  const grain = grainOf(SIZE, 23);
  const pits = planeOf(SIZE, { kind: 'cells', scale: 130, octaves: 1, seed: 24, measure: 'nearest' }, 1 / 2);
  const patches = planeOf(SIZE, { scale: 7, octaves: 6, gain: 0.6, seed: 25 }, 1 / 2);
  const lichen = planeOf(SIZE, { scale: 26, octaves: 4, gain: 0.58, seed: 26 }, 1 / 2);
  const heights = new Float32Array(SIDE * SIDE);
  const albedo = new Float32Array(SIDE * SIDE * 3);
  for (let at = 0; at < heights.length; at++) {
    const edge = border[at]! + (rough[at]! - 0.5) * 0.05;
    const stone = smoothStep(0.03, 0.09, edge);
    const dome = Math.sqrt(smoothStep(0.02, 0.3, edge));
    const tone = own[at]!;
    const pit = (1 - smoothStep(0.12, 0.3, pits[at]!)) * smoothStep(0.45, 0.7, rough[at]!);
    // Some stones have sunk, and all are uneven.
    heights[at] =
      stone *
        (9 * dome + 5 * (((tone * 7.31) % 1) - 0.5) + 9 * (swell[at]! - 0.5) + 5 * (rough[at]! - 0.5) - 2.2 * pit) +
      (1 - stone) * 3 * (rough[at]! - 0.5) +
      1.3 * (grain[at]! - 0.5);
    const [x, y] = [(at % SIDE) / SIDE, Math.floor(at / SIDE) / SIDE];
    const stain =
      0.6 * (1 - smoothStep(0.02, 0.075, Math.hypot(x - 0.66, (y - 0.36) * 1.2) + (patches[at]! - 0.5) * 0.08));
    const grown = stone * smoothStep(0.6, 0.68, lichen[at]!) * 0.75;
    for (let c = 0; c < 3; c++) {
      const base = between(STONES, (tone * 3.7) % 1, c);
      const varied = base * (1 + 0.75 * (patches[at]! - 0.5) + 0.9 * (rough[at]! - 0.5) + 1.1 * (grain[at]! - 0.5));
      const bare = varied * stone + SAND[c]! * (0.75 + grain[at]! * 0.6) * (1 - stone);
      const alive = between(LICHEN, smoothStep(0.4, 0.7, patches[at]!), c) * (0.7 + 0.6 * grain[at]!);
      albedo[at * 3 + c] = Math.max(0.01, (bare + (alive - bare) * grown) * (1 - stain));
    }
  }
  return photograph(
    SIZE,
    { heights, albedo },
    {
      sun: { azimuth: 318, elevation: 42 },
      sky: 0.45,
      fallOff: { amount: 0.45, towards: 130 },
      noise: 0.02,
      seed: 9,
    },
  );
}
