import type { Image } from '../../image/image.ts';
import type { Axis } from './overlap.ts';

/**
 * A picture with its mirror image beside it, twice as long along an axis: it repeats, and shows that it does.
 * @param unit whether texels are tangent normals, whose direction along the axis turns round as well
 */
export function mirrorTile(image: Image, axis: Axis, unit = false): Image {
  const { width, height, channels } = image;
  const [w, h] = axis === 'across' ? [width * 2, height] : [width, height * 2];
  const data = new Float32Array(w * h * channels);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const [fromX, fromY] = [x < width ? x : 2 * width - 1 - x, y < height ? y : 2 * height - 1 - y];
      const from = (fromY * width + fromX) * channels;
      const to = (y * w + x) * channels;
      for (let c = 0; c < channels; c++) data[to + c] = image.data[from + c]!;
      const turned = axis === 'across' ? x >= width : y >= height;
      const along = axis === 'across' ? 0 : 1;
      if (unit && turned && channels > along) data[to + along] = 1 - data[to + along]!;
    }
  }
  return { ...image, width: w, height: h, data };
}
