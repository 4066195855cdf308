import type { Image } from '../../image/image.ts';
import type { Axis } from './overlap.ts';

/**
 * A picture with its mirror image beside it, twice as long along an axis: it repeats, and shows that it does.
 * @param turned the channel whose direction turns round as well: that of the axis, for normals in tangent space
 */
export function mirrorTile(image: Image, axis: Axis, turned: number | null = null): Image {
  const { width, height, channels } = image;
  const [w, h] = axis === 'across' ? [width * 2, height] : [width, height * 2];
  const data = new Float32Array(w * h * channels);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const [fromX, fromY] = [x < width ? x : 2 * width - 1 - x, y < height ? y : 2 * height - 1 - y];
      const from = (fromY * width + fromX) * channels;
      const to = (y * w + x) * channels;
      for (let c = 0; c < channels; c++) data[to + c] = image.data[from + c]!;
      const isMirrored = axis === 'across' ? x >= width : y >= height;
      if (turned !== null && isMirrored && channels > turned) data[to + turned] = 1 - data[to + turned]!;
    }
  }
  return { ...image, width: w, height: h, data };
}
