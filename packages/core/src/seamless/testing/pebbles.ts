import type { Image } from '../../image/image.ts';
import { randomNumbers } from '../../math/randomNumbers.ts';

export const grey = (width: number, height: number, of: (x: number, y: number) => number): Image => ({
  width,
  height,
  channels: 1,
  data: Float32Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width))),
});

/** Pebbles: lumps of several tones scattered about. */
export function pebbles(side: number, seed: number): Image {
  const random = randomNumbers(seed);
  const stones = Array.from(
    { length: (side * side) / 60 },
    () => [random() * side, random() * side, random()] as const,
  );
  return grey(side, side, (x, y) => {
    let [least, tone] = [Infinity, 0];
    for (const [sx, sy, value] of stones) {
      const far = (sx - x) ** 2 + (sy - y) ** 2;
      if (far < least) [least, tone] = [far, value];
    }
    return 0.2 + 0.6 * tone - Math.min(0.2, least / 300);
  });
}
