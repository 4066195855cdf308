import type { Image } from '@zographos/core/image';
import type { Canvas } from '@zographos/operations/run-context';

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

/** A small copy of a map as it fills; its draft shows wherever it has not been filled. */
export function reducedCanvas({ image, states, draft }: Canvas, side: number): Image {
  const copy = reducedCopy(image, side);
  if (!draft) return copy;
  const { width, height, channels, data } = copy;
  const from = draft.image;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = [(x + 0.5) / width, (y + 0.5) / height];
      if (states[Math.floor(v * image.height) * image.width + Math.floor(u * image.width)] !== 0) continue;
      const texel = Math.floor(v * from.height) * from.width + Math.floor(u * from.width);
      if (draft.states[texel] === 0) continue;
      for (let c = 0; c < channels; c++) data[(y * width + x) * channels + c] = from.data[texel * channels + c]!;
    }
  }
  return copy;
}
