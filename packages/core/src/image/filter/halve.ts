import type { Image } from '../image.ts';

/**
 * Halves an image by the 2 × 2 box; an odd last row or column counts double, so a constant stays constant.
 * @returns an image of ⌈width/2⌉ × ⌈height/2⌉
 */
export function halve({ width, height, channels, data, ...meaning }: Image): Image {
  const w = Math.ceil(width / 2);
  const h = Math.ceil(height / 2);
  const half = new Float32Array(w * h * channels);
  for (let y = 0; y < h; y++) {
    const top = y * 2 * width;
    const bottom = Math.min(y * 2 + 1, height - 1) * width;
    for (let x = 0; x < w; x++) {
      const left = x * 2;
      const right = Math.min(left + 1, width - 1);
      for (let c = 0; c < channels; c++) {
        half[(y * w + x) * channels + c] =
          (data[(top + left) * channels + c]! +
            data[(top + right) * channels + c]! +
            data[(bottom + left) * channels + c]! +
            data[(bottom + right) * channels + c]!) /
          4;
      }
    }
  }
  return { width: w, height: h, channels, data: half, ...meaning };
}

export const SKETCH_SIDE = 256;

/** A small copy by which a picture is known whatever size it is worked on at: halved until it is no longer than 256 texels. */
export function sketchOf(image: Image): Image {
  let sketch = image;
  while (Math.max(sketch.width, sketch.height) > SKETCH_SIDE) sketch = halve(sketch);
  return sketch;
}

/** Halves a plane of texel states, keeping the largest of four, so that a single missed texel stays visible. */
export function halveStates(width: number, height: number, states: Uint8Array): Uint8Array {
  const w = Math.ceil(width / 2);
  const h = Math.ceil(height / 2);
  const half = new Uint8Array(w * h);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = (y >> 1) * w + (x >> 1);
      const state = states[y * width + x]!;
      if (state > half[at]!) half[at] = state;
    }
  }
  return half;
}
