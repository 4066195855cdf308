import { smoothStep } from '@zographos/core/image';
import { photograph } from './photograph.ts';
import { between, grainOf, planeOf } from './planes.ts';

const SIZE = { width: 1440, height: 1080 };

const MUD = [
  [0.2, 0.155, 0.115],
  [0.31, 0.25, 0.19],
  [0.39, 0.33, 0.26],
] as const;
const SALT = [0.62, 0.59, 0.53] as const;
const DEPTHS = [0.1, 0.075, 0.055] as const;

/**
 * Dried mud of the salt marsh: plates with curled edges and finer cracks within them, salt in the hollows, in a low evening
 * sun whose light falls off strongly to the left.
 */
export function crackedMud(): Promise<Uint8Array> {
  const warp = { amount: 0.02, scale: 9, seed: 4 };
  const plates = { kind: 'cells', scale: 8.3, jitter: 1, seed: 31, octaves: 1, warp } as const;
  const border = planeOf(SIZE, { ...plates, measure: 'border' });
  const own = planeOf(SIZE, { ...plates, measure: 'flat' }, 1 / 2);
  const finer = planeOf(SIZE, { kind: 'cells', scale: 21, jitter: 1, seed: 33, octaves: 1, measure: 'border', warp });
  const swell = planeOf(SIZE, { scale: 9, octaves: 3, seed: 34 }, 1 / 4);
  const rough = planeOf(SIZE, { scale: 60, octaves: 4, gain: 0.6, seed: 35 });
  const patches = planeOf(SIZE, { scale: 5, octaves: 6, gain: 0.58, seed: 36 }, 1 / 2);
  const grain = grainOf(SIZE, 37);
  const texels = SIZE.width * SIZE.height;
  const heights = new Float32Array(texels);
  const albedo = new Float32Array(texels * 3);
  for (let at = 0; at < texels; at++) {
    const edge = border[at]! + (rough[at]! - 0.5) * 0.06;
    const width = 0.035 + 0.05 * patches[at]!;
    const plate = smoothStep(width * 0.4, width, edge);
    // Finer cracks run through some of the plates only.
    const isSplit = smoothStep(0.45, 0.6, (own[at]! * 5.3) % 1);
    const crack = plate * isSplit * (1 - smoothStep(0.015, 0.05, finer[at]! + (rough[at]! - 0.5) * 0.03));
    const curl = 1 - smoothStep(0.04, 0.3, edge);
    heights[at] =
      plate * (12 + 7 * curl * curl + 4 * (((own[at]! * 9.1) % 1) - 0.5)) -
      7 * crack +
      10 * (swell[at]! - 0.5) +
      3.4 * (rough[at]! - 0.5) +
      1.1 * (grain[at]! - 0.5);
    const salt = plate * smoothStep(0.56, 0.72, patches[at]!) * (0.35 + 0.5 * rough[at]!);
    for (let c = 0; c < 3; c++) {
      const dry = between(MUD, 0.15 + 0.7 * patches[at]! + 0.25 * (((own[at]! * 3.1) % 1) - 0.5) + 0.2 * curl, c);
      const varied = dry * (1 + 0.7 * (rough[at]! - 0.5) + 0.8 * (grain[at]! - 0.5));
      const top = varied + (SALT[c]! - varied) * salt * 0.7;
      albedo[at * 3 + c] = Math.max(0.01, DEPTHS[c]! + (top - DEPTHS[c]!) * plate * (1 - 0.7 * crack));
    }
  }
  return photograph(
    SIZE,
    { heights, albedo },
    {
      sun: { azimuth: 70, elevation: 30 },
      sky: 0.4,
      fallOff: { amount: 0.75, towards: 255 },
      noise: 0.022,
      seed: 10,
    },
  );
}
