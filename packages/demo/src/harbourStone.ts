import { encodeImage } from '@zographos/formats/images';
import type { Image } from '@zographos/core/image';
import { coloured, DEFAULT_LAYER, fieldImage, type FieldLayer } from '@zographos/core/pattern';

const SIDE = 1400;

const layer = (kind: FieldLayer['kind'], more: Partial<FieldLayer>): FieldLayer => ({
  ...DEFAULT_LAYER,
  kind,
  ...more,
});

/**
 * A “photograph” of the quay's stone as a camera would have it: slabs of several tones with dark joints and grain, lit
 * from the upper left, darker in the corners, seen a little aslant, and with one stain that would give its repetition away.
 */
export async function harbourStone(): Promise<Uint8Array> {
  const size = { width: SIDE, height: SIDE };
  // Drawn flat, so that its ends do not meet.
  const tone = fieldImage(
    {
      layers: [
        layer('cells', {
          scale: 9.3,
          measure: 'flat',
          seed: 11,
          warp: { amount: 0.012, scale: 9, seed: 5 },
          levels: [0, 1],
        }),
        layer('gradient-noise', { scale: 24, octaves: 5, seed: 3, blend: 'overlay', opacity: 0.9 }),
        layer('cracks', {
          scale: 9.3,
          seed: 11,
          line: 0.06,
          bevel: 0.07,
          warp: { amount: 0.012, scale: 9, seed: 5 },
          blend: 'multiply',
        }),
        layer('gradient-noise', { scale: 3.1, octaves: 2, seed: 8, blend: 'soft-light', opacity: 0.5 }),
      ],
      wrap: 'none',
      samples: 1,
    },
    size,
  );
  const stone = coloured(tone, [
    { at: 0, color: '#2b2924' },
    { at: 0.35, color: '#6d675b' },
    { at: 0.7, color: '#a49a86' },
    { at: 1, color: '#d9d0bd' },
  ]);
  lit(stone);
  return encodeImage(stone, 'jpeg');
}

/** Light that falls off across the picture, warmer where it is bright; and the stain. */
function lit({ width, height, data }: Image): void {
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = [x / width, y / height];
      const fall = 1.25 - 0.75 * Math.hypot(u * 0.9, v * 0.8);
      const stain = 1 - 0.55 * Math.exp(-((u - 0.68) ** 2 + (v - 0.37) ** 2) / 0.0016);
      const warm = [1 + 0.06 * (fall - 0.8), 1, 1 - 0.1 * (fall - 0.8)];
      for (let c = 0; c < 3; c++) {
        const at = (y * width + x) * 3 + c;
        data[at] = Math.min(1, data[at]! * fall * stain * warm[c]!);
      }
    }
  }
}
