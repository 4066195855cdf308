import type { Image } from '@zographos/core';

/** A quick small copy by picking texels: cheap enough to look at a map of any size while it fills. */
export function reducedCopy({ width, height, channels, data, ...meaning }: Image, side: number): Image {
  const step = Math.max(1, Math.max(width, height) / side);
  const w = Math.max(1, Math.floor(width / step));
  const h = Math.max(1, Math.floor(height / step));
  const copy = new Float32Array(w * h * channels);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const from = (Math.floor((y + 0.5) * step) * width + Math.floor((x + 0.5) * step)) * channels;
      for (let c = 0; c < channels; c++) copy[(y * w + x) * channels + c] = data[from + c]!;
    }
  }
  return { width: w, height: h, channels, data: copy, ...meaning };
}
