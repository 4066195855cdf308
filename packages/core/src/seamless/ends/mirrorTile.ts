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
  const row = width * channels;
  const end = data.length - row;
  for (let y = 0; y < height; y++) {
    const own = image.data.subarray(y * row, (y + 1) * row);
    if (axis === 'up') {
      data.set(own, y * row);
      data.set(own, end - y * row);
    } else {
      data.set(own, 2 * y * row);
      mirrorRow(own, channels, data, (2 * y + 1) * row);
    }
  }
  if (turned !== null && channels > turned) {
    for (let y = axis === 'up' ? height : 0; y < h; y++) {
      for (let x = axis === 'up' ? 0 : width; x < w; x++) {
        const at = (y * w + x) * channels + turned;
        data[at] = 1 - data[at]!;
      }
    }
  }
  return { ...image, width: w, height: h, data };
}

function mirrorRow(row: Float32Array, channels: number, to: Float32Array, at: number): void {
  for (let from = row.length - channels; from >= 0; from -= channels) {
    for (let c = 0; c < channels; c++) to[at++] = row[from + c]!;
  }
}
