import type { ChannelPick } from '../../image/packing.ts';
import { channelFor, OPAQUE, type Image } from '../../image/image.ts';
import { addBilinear, wrapped } from '../../image/sample.ts';
import type { PictureUse } from '../../mesh/material.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import type { Size } from '../../math/size.ts';
import type { Scene } from '../../trace/scene.ts';
import type { Receiver } from '../receiver.ts';
import type { SourceMaterials } from './sourceMaterials.ts';

/** What is wanted of a picture: its colours, or the one channel that is meant; with its alpha, or without. */
export type Wanted = 'colors' | 'channel' | 'colors and alpha' | 'channel and alpha';

/** What is known of the use of a picture beforehand. */
export interface PreparedPicture {
  use: PictureUse;
  levels: readonly Image[];
  /** The channels of the picture that are wanted beside its alpha: which is the first, how many, and where they are told. */
  first: number;
  count: number;
  to: number;
  /** Whether grey is told as three colours. */
  isGrey: boolean;
  /** The picture's channel of alpha; `OPAQUE` where it has none, and null where it is not wanted. */
  alpha: number | null;
  uvs: Float32Array;
  /** Logarithm (of base 2) of texels across a unit of UVs, as the picture is laid. */
  logTexels: number;
  logSpreads: Float32Array;
}

/** Logarithm (of base 2) of mesh units of a sample's width for each triangle of a receiver. */
export function logWidthsOf({ positions, uvs, indices }: Receiver, size: Size, samplesPerAxis: number): Float32Array {
  return Float32Array.from({ length: indices.length / 3 }, (_, t) => {
    const texels = triangleArea(uvs, 2, indices, t) * size.width * size.height;
    return Math.log2(texels > 0 ? Math.sqrt(triangleArea(positions, 3, indices, t) / texels) / samplesPerAxis : 0);
  });
}

/**
 * Looks pictures up where samples have met the source. They are filtered over the footprint of a sample: its width on
 * the source, and the size of the source's own layout there.
 */
export class PictureReader {
  private readonly source: SourceMaterials;
  private readonly scene: Scene;
  /** Logarithm of units of UVs for each mesh unit, for each UV set and triangle of the source; NaN before it is asked for. */
  private readonly logSpreads = new Map<number, Float32Array>();

  constructor(source: SourceMaterials, scene: Scene) {
    this.source = source;
    this.scene = scene;
  }

  /** Lays out beforehand what `see` looks up. */
  prepare(use: PictureUse, wanted: Wanted): PreparedPicture {
    // All alike, wherever they come from: what reads them is compiled for one shape of objects.
    const levels = this.source.pictures[use.picture]!.map(({ width, height, channels, data }) => ({
      ...{ width, height, channels, data },
    }));
    const { transform, uvSet, channel } = use;
    const { width, height, channels } = levels[0]!;
    const isGrey = channels < 3;
    const isOne = !use.pick && wanted.startsWith('channel');
    const wantsAlpha = use.pick !== undefined || wanted.endsWith('alpha') || (isOne && channel === 3);
    let logSpreads = this.logSpreads.get(uvSet);
    if (!logSpreads) {
      logSpreads = new Float32Array(this.scene.indices.length / 3).fill(NaN);
      this.logSpreads.set(uvSet, logSpreads);
    }
    const scale = Math.abs(transform[0] * transform[4] - transform[1] * transform[3]);
    return {
      ...{ use, levels, uvs: this.source.uvSets[uvSet]!, logSpreads },
      first: isOne && !isGrey ? channel : 0,
      count: isOne ? (channel === 3 ? 0 : 1) : isGrey ? 1 : 3,
      to: isOne ? channel : 0,
      isGrey: isGrey && !isOne,
      alpha: wantsAlpha ? channelFor(channels, 3) : null,
      logTexels: Math.log2(scale * width * height) / 2,
    };
  }

  /**
   * @param wb, wc weights of the triangle's second and third corner
   * @param logWidth of the sample, which says how finely the picture is seen
   * @param out told red, green, blue and alpha; of these what is wanted
   */
  see(prepared: PreparedPicture, triangle: number, wb: number, wc: number, logWidth: number, out: Float64Array): void {
    const { use, levels, uvs, logTexels, logSpreads } = prepared;
    const { transform, wrap } = use;
    const { indices } = this.scene;
    const a = indices[triangle * 3]! * 2;
    const b = indices[triangle * 3 + 1]! * 2;
    const c = indices[triangle * 3 + 2]! * 2;
    const wa = 1 - wb - wc;
    const u0 = uvs[a]! * wa + uvs[b]! * wb + uvs[c]! * wc;
    const v0 = uvs[a + 1]! * wa + uvs[b + 1]! * wb + uvs[c + 1]! * wc;
    const u = transform[0] * u0 + transform[1] * v0 + transform[2];
    const v = transform[3] * u0 + transform[4] * v0 + transform[5];
    if (use.unfiltered) lookUp(levels[0]!, u, v, wrap, out);
    else {
      let spread = logSpreads[triangle]!;
      if (Number.isNaN(spread)) spread = logSpreads[triangle] = this.spreadOf(uvs, triangle);
      const level = Math.min(levels.length - 1, Math.max(0, logWidth + spread + logTexels));
      const lower = Math.floor(level);
      const share = level - lower;
      out.fill(0, 0, 4);
      addFiltered(prepared, levels[lower]!, u, v, 1 - share, out);
      if (share > 0) addFiltered(prepared, levels[lower + 1]!, u, v, share, out);
      if (prepared.isGrey) out[1] = out[2] = out[0]!;
      if (prepared.alpha === OPAQUE) out[3] = 1;
    }
    if (use.pick) showPicked(out, use.pick);
  }

  private spreadOf(uvs: Float32Array, triangle: number): number {
    const { indices, positions } = this.scene;
    return (
      Math.log2(triangleArea(uvs, 2, indices, triangle) / (triangleArea(positions, 3, indices, triangle) || 1)) / 2
    );
  }
}

/** The texel at a place. */
function lookUp(
  { width, height, channels, data }: Image,
  u: number,
  v: number,
  wrap: PictureUse['wrap'],
  out: Float64Array,
): void {
  const x = wrapped(Math.floor(u * width), width, wrap[0]);
  const y = wrapped(Math.floor((1 - v) * height), height, wrap[1]);
  for (let k = 0; k < 4; k++) {
    const from = channelFor(channels, k);
    out[k] = from === OPAQUE ? 1 : data[(y * width + x) * channels + from]!;
  }
}

function addFiltered(
  { use, first, count, to, alpha }: PreparedPicture,
  image: Image,
  u: number,
  v: number,
  share: number,
  out: Float64Array,
): void {
  if (count > 0) addBilinear(image, u, v, use.wrap, first, count, share, out, to);
  if (alpha !== null && alpha !== OPAQUE) addBilinear(image, u, v, use.wrap, alpha, 1, share, out, 3);
}

function showPicked(color: Float64Array, { channel, invert }: ChannelPick): void {
  if (channel !== 'rgb') color.fill(invert ? 1 - color[channel]! : color[channel]!, 0, 3);
  color[3] = 1;
}
