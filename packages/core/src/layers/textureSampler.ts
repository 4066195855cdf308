import type { Image } from '../image/image.ts';
import { wrapped, type Wrap } from '../image/sample.ts';
import { TEXELS } from './texelBlock.ts';

/**
 * Looks up a picture at many places, filtered over their footprint: between the two levels of its pyramid whose texels
 * are just smaller and just larger, and between the texels of each (trilinear filtering, Williams 1983).
 */
export class TextureSampler {
  readonly channels: number;
  private readonly levels: readonly Image[];
  private readonly wrap: Wrap;

  /** @param levels of `pictureLevels` */
  constructor(levels: readonly Image[], wrap: Wrap) {
    this.levels = levels;
    this.wrap = wrap;
    this.channels = levels[0]!.channels;
  }

  /**
   * @param u, v places, 0 to 1 within the picture, v upwards
   * @param footprint width of what a place stands for, as a share of the picture's width
   * @param out a plane for each channel, `TEXELS` apart
   */
  sample(u: Float64Array, v: Float64Array, count: number, footprint: number, out: Float32Array): void {
    const { levels } = this;
    const level = Math.min(levels.length - 1, Math.max(0, Math.log2(footprint * levels[0]!.width)));
    const lower = Math.floor(level);
    const share = level - lower;
    this.look(levels[lower]!, u, v, count, 1 - share, false, out);
    if (share > 0) this.look(levels[lower + 1]!, u, v, count, share, true, out);
  }

  /** One level, times a weight, put or added. */
  private look(
    { width, height, channels, data }: Image,
    u: Float64Array,
    v: Float64Array,
    count: number,
    weight: number,
    adds: boolean,
    out: Float32Array,
  ): void {
    const { wrap } = this;
    for (let i = 0; i < count; i++) {
      const x = u[i]! * width - 0.5;
      const y = (1 - v[i]!) * height - 0.5;
      const left = Math.floor(x);
      const top = Math.floor(y);
      const fx = x - left;
      const fy = y - top;
      let x0 = left;
      let x1 = left + 1;
      let y0 = top;
      let y1 = top + 1;
      if (x0 < 0 || x1 >= width) {
        x0 = wrapped(left, width, wrap);
        x1 = wrapped(left + 1, width, wrap);
      }
      if (y0 < 0 || y1 >= height) {
        y0 = wrapped(top, height, wrap);
        y1 = wrapped(top + 1, height, wrap);
      }
      const a = (y0 * width + x0) * channels;
      const b = (y0 * width + x1) * channels;
      const c = (y1 * width + x0) * channels;
      const d = (y1 * width + x1) * channels;
      const wa = (1 - fx) * (1 - fy) * weight;
      const wb = fx * (1 - fy) * weight;
      const wc = (1 - fx) * fy * weight;
      const wd = fx * fy * weight;
      for (let k = 0, to = i; k < channels; k++, to += TEXELS) {
        const value = data[a + k]! * wa + data[b + k]! * wb + data[c + k]! * wc + data[d + k]! * wd;
        out[to] = adds ? out[to]! + value : value;
      }
    }
  }
}
