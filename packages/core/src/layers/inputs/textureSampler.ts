import type { Image } from '../../image/image.ts';
import { wrapped, type Wrap } from '../../image/sample.ts';
import { TEXELS } from '../surface/texelBlock.ts';

/**
 * Places in pictures of one shape, of the texels of a block: where they lie between the texels of a picture is found once,
 * for however many maps of one size are looked up there.
 */
export class SamplePlaces {
  /** Within the picture 0 to 1, v upwards; beyond it as the wrap says. */
  readonly u = new Float64Array(TEXELS);
  readonly v = new Float64Array(TEXELS);
  private readonly found = new Map<number, TexelAddresses>();

  /** Told when u and v are others. */
  moved(): void {
    for (const addresses of this.found.values()) addresses.count = -1;
  }

  addresses(width: number, height: number, wrap: Wrap, count: number): TexelAddresses {
    const key = (width * 65536 + height) * 4 + (wrap === 'repeat' ? 0 : wrap === 'clamp' ? 1 : 2);
    let known = this.found.get(key);
    if (!known) {
      known = new TexelAddresses();
      this.found.set(key, known);
    }
    if (known.count !== count) known.find(this.u, this.v, count, width, height, wrap);
    return known;
  }
}

/** The four texels about each place, and how far it lies between them. */
class TexelAddresses {
  count = -1;
  readonly upperLeft = new Int32Array(TEXELS);
  readonly upperRight = new Int32Array(TEXELS);
  readonly lowerLeft = new Int32Array(TEXELS);
  readonly lowerRight = new Int32Array(TEXELS);
  readonly across = new Float32Array(TEXELS);
  readonly down = new Float32Array(TEXELS);

  find(u: Float64Array, v: Float64Array, count: number, width: number, height: number, wrap: Wrap): void {
    const repeats = wrap === 'repeat';
    this.count = count;
    for (let i = 0; i < count; i++) {
      let us = u[i]!;
      let vs = 1 - v[i]!;
      if (repeats) {
        us -= Math.floor(us);
        vs -= Math.floor(vs);
      }
      const x = us * width - 0.5;
      const y = vs * height - 0.5;
      const left = Math.floor(x);
      const top = Math.floor(y);
      this.across[i] = x - left;
      this.down[i] = y - top;
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
      this.upperLeft[i] = y0 * width + x0;
      this.upperRight[i] = y0 * width + x1;
      this.lowerLeft[i] = y1 * width + x0;
      this.lowerRight[i] = y1 * width + x1;
    }
  }
}

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
   * @param footprint width of what a place stands for, as a share of the picture's width
   * @param out a plane for each channel, `TEXELS` apart
   */
  sample(places: SamplePlaces, count: number, footprint: number, out: Float32Array): void {
    const { levels } = this;
    const level = Math.min(levels.length - 1, Math.max(0, Math.log2(footprint * levels[0]!.width)));
    const lower = Math.floor(level);
    const share = level - lower;
    this.look(levels[lower]!, places, count, out);
    if (share === 0) return;
    const coarse = scratch;
    this.look(levels[lower + 1]!, places, count, coarse);
    for (let k = 0; k < this.channels * TEXELS; k += TEXELS) {
      for (let i = k; i < k + count; i++) out[i]! += (coarse[i]! - out[i]!) * share;
    }
  }

  /** One level, between its texels. */
  private look({ width, height, channels, data }: Image, places: SamplePlaces, count: number, out: Float32Array): void {
    const addresses = places.addresses(width, height, this.wrap, count);
    if (channels === 3) {
      lookAtThree(data, addresses, count, out);
      return;
    }
    const { upperLeft, upperRight, lowerLeft, lowerRight, across, down } = addresses;
    for (let k = 0; k < channels; k++) {
      const to = k * TEXELS;
      for (let i = 0; i < count; i++) {
        const fx = across[i]!;
        const a = data[upperLeft[i]! * channels + k]!;
        const c = data[lowerLeft[i]! * channels + k]!;
        const above = a + (data[upperRight[i]! * channels + k]! - a) * fx;
        const below = c + (data[lowerRight[i]! * channels + k]! - c) * fx;
        out[to + i] = above + (below - above) * down[i]!;
      }
    }
  }
}

/** Three channels at once: most maps have so many, and their texels lie side by side. */
function lookAtThree(
  data: Float32Array,
  { upperLeft, upperRight, lowerLeft, lowerRight, across, down }: TexelAddresses,
  count: number,
  out: Float32Array,
): void {
  for (let i = 0; i < count; i++) {
    const a = upperLeft[i]! * 3;
    const b = upperRight[i]! * 3;
    const c = lowerLeft[i]! * 3;
    const d = lowerRight[i]! * 3;
    const fx = across[i]!;
    const fy = down[i]!;
    const r = data[a]! + (data[b]! - data[a]!) * fx;
    const g = data[a + 1]! + (data[b + 1]! - data[a + 1]!) * fx;
    const s = data[a + 2]! + (data[b + 2]! - data[a + 2]!) * fx;
    const rBelow = data[c]! + (data[d]! - data[c]!) * fx;
    const gBelow = data[c + 1]! + (data[d + 1]! - data[c + 1]!) * fx;
    const sBelow = data[c + 2]! + (data[d + 2]! - data[c + 2]!) * fx;
    out[i] = r + (rBelow - r) * fy;
    out[TEXELS + i] = g + (gBelow - g) * fy;
    out[TEXELS * 2 + i] = s + (sBelow - s) * fy;
  }
}

/** What the coarser of two levels is looked up into. */
const scratch = new Float32Array(TEXELS * 4);
