import type { Size } from '../../math/size.ts';
import type { Image } from '../image.ts';
import type { Taps } from './taps.ts';

/** `separably` without the kernel. */
export function separablyPlainly(image: Image, size: Size, across: Taps, down: Taps): Image {
  return alongRows(alongColumns(image, size.height, down), size.width, across);
}

function alongColumns(image: Image, height: number, { first, at, weight }: Taps): Image {
  const { width, channels, data: from } = image;
  const row = width * channels;
  const data = new Float32Array(row * height);
  for (let y = 0; y < height; y++) {
    const to = y * row;
    const end = first[y + 1]!;
    let i = first[y]!;
    for (; i + 4 <= end; i += 4) {
      const [a, b, c, d] = [at[i]! * row, at[i + 1]! * row, at[i + 2]! * row, at[i + 3]! * row];
      const [wa, wb, wc, wd] = [weight[i]!, weight[i + 1]!, weight[i + 2]!, weight[i + 3]!];
      for (let x = 0; x < row; x++) {
        data[to + x]! += from[a + x]! * wa + from[b + x]! * wb + from[c + x]! * wc + from[d + x]! * wd;
      }
    }
    for (; i < end; i++) {
      const [a, wa] = [at[i]! * row, weight[i]!];
      for (let x = 0; x < row; x++) data[to + x]! += from[a + x]! * wa;
    }
  }
  return { ...image, height, data };
}

function alongRows(image: Image, width: number, { first, at: texels, weight }: Taps): Image {
  const { height, channels, data: from } = image;
  const row = image.width * channels;
  const at = texels.map((texel) => texel * channels);
  const data = new Float32Array(width * height * channels);
  let to = 0;
  for (let y = 0; y < height; y++) {
    const line = y * row;
    for (let x = 0; x < width; x++, to += channels) {
      const [begin, end] = [first[x]!, first[x + 1]!];
      if (channels === 3) {
        let [r, g, b] = [0, 0, 0];
        for (let i = begin; i < end; i++) {
          const w = weight[i]!;
          const texel = line + at[i]!;
          r += from[texel]! * w;
          g += from[texel + 1]! * w;
          b += from[texel + 2]! * w;
        }
        data[to] = r;
        data[to + 1] = g;
        data[to + 2] = b;
        continue;
      }
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        for (let i = begin; i < end; i++) sum += from[line + at[i]! + c]! * weight[i]!;
        data[to + c] = sum;
      }
    }
  }
  return { ...image, width, data };
}
