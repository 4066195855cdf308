import { directionsOf, type NormalSpace } from '../../image/convention.ts';
import { channelFor, OPAQUE, type Image } from '../../image/image.ts';
import type { ChannelPick } from '../../image/packing.ts';
import { isColor } from '../../image/kindMeaning.ts';
import { halve } from '../../image/filter/halve.ts';
import { blended, changeColor, leavesColors } from '../../image/blend.ts';
import { bilinear, wrapped } from '../../image/sample.ts';
import { linearToSrgb, srgbToLinear } from '../../color/srgb.ts';
import type { Material, MaterialChannel, PictureLayer, PictureUse } from '../../mesh/material.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import type { Scene } from '../../trace/scene.ts';
import type { Receiver } from '../receiver.ts';
import type { Size } from '../../math/size.ts';

/** The materials of a scene, laid out for looking them up. */
export interface SourceMaterials {
  materials: readonly Material[];
  /** The material of each triangle of the scene. */
  ofTriangle: Uint16Array;
  /** Each picture in full and halved again and again; colours linear. */
  pictures: readonly Image[][];
  /** u, v for each vertex of the scene, for each UV set. */
  uvSets: readonly Float32Array[];
  /** Linear r, g, b for each vertex, and 1 for each vertex that has a colour; null if none has. */
  colors: { values: Float32Array; present: Uint8Array } | null;
  /** Tangent and sign for each corner, where a material has a normal picture. */
  tangents: Float32Array | null;
}

/** A picture with its halves, down to a single texel. */
export function pictureLevels(image: Image): Image[] {
  const levels = [image];
  while (levels.at(-1)!.width > 1 || levels.at(-1)!.height > 1) levels.push(halve(levels.at(-1)!));
  return levels;
}

/**
 * Looks up materials where samples have met the source. Pictures are filtered over the footprint of a sample: its
 * width on the source, taken from the size of the receiver's texel and of the source's own layout there.
 */
export class MaterialReader {
  private readonly source: SourceMaterials;
  private readonly scene: Scene;
  /** Mesh units of a sample's width for each triangle of the receiver. */
  private readonly sampleWidths: Float32Array;
  private readonly color = new Float64Array(4);

  constructor(source: SourceMaterials, scene: Scene, receiver: Receiver, size: Size, samplesPerAxis: number) {
    this.source = source;
    this.scene = scene;
    const { positions, uvs, indices } = receiver;
    this.sampleWidths = new Float32Array(indices.length / 3);
    for (let t = 0; t < this.sampleWidths.length; t++) {
      const texels = triangleArea(uvs, 2, indices, t) * size.width * size.height;
      this.sampleWidths[t] =
        texels > 0 ? Math.sqrt(triangleArea(positions, 3, indices, t) / texels) / samplesPerAxis : 0;
    }
  }

  /** @param out told one value, or three for a colour */
  read(
    channel: MaterialChannel,
    triangle: number,
    wb: number,
    wc: number,
    receiverTriangle: number,
    out: Float64Array,
  ): void {
    const material = this.source.materials[this.source.ofTriangle[triangle]!]!;
    const values = isColor(channel) ? 3 : 1;
    const plain = channel === 'basecolor' ? material.baseColor : material[channel];
    for (let c = 0; c < values; c++) out[c] = typeof plain === 'number' ? plain : plain[c]!;
    const use = material.pictures[channel];
    if (channel === 'basecolor') this.tint(material, triangle, wb, wc, use !== undefined, out);
    if (use) {
      this.see(use, triangle, wb, wc, receiverTriangle, this.color);
      for (let c = 0; c < values; c++) out[c]! *= values === 3 ? this.color[c]! : this.color[use.channel]!;
    }
    for (const layer of material.layers?.[channel] ?? []) {
      this.see(layer.use, triangle, wb, wc, receiverTriangle, this.color);
      this.layOver(layer, values, out);
    }
  }

  /** Mixes the colour that was looked up last over another. */
  private layOver({ use, blend, opacity, change, isData }: PictureLayer, values: number, out: Float64Array): void {
    const { color } = this;
    const share = opacity * color[3]!;
    if (values === 1) {
      out[0]! += (blended(blend, out[0]!, color[use.channel]!) - out[0]!) * share;
      return;
    }
    if (isData) {
      for (let c = 0; c < 3; c++) out[c]! += (blended(blend, out[c]!, color[c]!) - out[c]!) * share;
      return;
    }
    if (share === 1 && blend === 'normal' && leavesColors(change)) {
      // What covers all that is below needs no mixing, which is done as the eye sees it and takes nine powers.
      for (let c = 0; c < 3; c++) out[c] = Math.max(0, Math.min(1, color[c]!));
      return;
    }
    for (let c = 0; c < 3; c++) color[c] = linearToSrgb(Math.max(0, color[c]!));
    changeColor(color, change);
    for (let c = 0; c < 3; c++) {
      const below = linearToSrgb(Math.max(0, out[c]!));
      out[c] = srgbToLinear(below + (blended(blend, below, color[c]!) - below) * share);
    }
  }

  get hasNormals(): boolean {
    return this.source.tangents !== null;
  }

  get tangents(): Float32Array {
    return this.source.tangents!;
  }

  /**
   * The source's own normal picture at a place, with Y up.
   * @returns the space that it is in; null if there is none
   */
  readNormal(
    triangle: number,
    wb: number,
    wc: number,
    receiverTriangle: number,
    out: Float64Array,
  ): NormalSpace['space'] | null {
    const material = this.source.materials[this.source.ofTriangle[triangle]!]!;
    const use = material.pictures.normal;
    if (!use) return null;
    this.see(use, triangle, wb, wc, receiverTriangle, this.color);
    out[0] = (this.color[0]! * 2 - 1) * material.normalScale;
    out[1] = (this.color[1]! * 2 - 1) * material.normalScale;
    out[2] = this.color[2]! * 2 - 1;
    return directionsOf(this.source.pictures[use.picture]![0]!)?.space ?? 'tangent';
  }

  private tint(
    material: Material,
    triangle: number,
    wb: number,
    wc: number,
    pictured: boolean,
    out: Float64Array,
  ): void {
    const { colors } = this.source;
    if (!colors) return;
    const { indices } = this.scene;
    const a = indices[triangle * 3]!;
    if (!colors.present[a] || (pictured && !material.tinted)) return;
    const b = indices[triangle * 3 + 1]! * 3;
    const c = indices[triangle * 3 + 2]! * 3;
    for (let k = 0; k < 3; k++) {
      const { values } = colors;
      const color = values[a * 3 + k]! * (1 - wb - wc) + values[b + k]! * wb + values[c + k]! * wc;
      out[k] = material.tinted ? out[k]! * color : color;
    }
  }

  /** A picture at a place: all of it, or the channel that is picked. @param out told red, green, blue and alpha */
  private see(
    use: PictureUse,
    triangle: number,
    wb: number,
    wc: number,
    receiverTriangle: number,
    out: Float64Array,
  ): void {
    this.look(use, triangle, wb, wc, receiverTriangle, out);
    if (use.pick) showPicked(out, use.pick);
  }

  private look(
    { picture, uvSet, wrap, transform, unfiltered }: PictureUse,
    triangle: number,
    wb: number,
    wc: number,
    receiverTriangle: number,
    out: Float64Array,
  ): void {
    const levels = this.source.pictures[picture]!;
    const uvs = this.source.uvSets[uvSet]!;
    const { indices, positions } = this.scene;
    const a = indices[triangle * 3]! * 2;
    const b = indices[triangle * 3 + 1]! * 2;
    const c = indices[triangle * 3 + 2]! * 2;
    const wa = 1 - wb - wc;
    const u0 = uvs[a]! * wa + uvs[b]! * wb + uvs[c]! * wc;
    const v0 = uvs[a + 1]! * wa + uvs[b + 1]! * wb + uvs[c + 1]! * wc;
    const u = transform[0] * u0 + transform[1] * v0 + transform[2];
    const v = transform[3] * u0 + transform[4] * v0 + transform[5];
    const scale = Math.abs(transform[0] * transform[4] - transform[1] * transform[3]);
    const { width, height } = levels[0]!;
    if (unfiltered) {
      const { data, channels } = levels[0]!;
      const x = wrapped(Math.floor(u * width), width, wrap[0]);
      const y = wrapped(Math.floor((1 - v) * height), height, wrap[1]);
      for (let k = 0; k < 4; k++) {
        const from = channelFor(channels, k);
        out[k] = from === OPAQUE ? 1 : data[(y * width + x) * channels + from]!;
      }
      return;
    }
    const spread =
      (triangleArea(uvs, 2, indices, triangle) * scale) / (triangleArea(positions, 3, indices, triangle) || 1);
    const texels = this.sampleWidths[receiverTriangle]! * Math.sqrt(spread * width * height);
    const level = Math.min(levels.length - 1, Math.max(0, Math.log2(texels)));
    const lower = Math.floor(level);
    const share = level - lower;
    const fine = levels[lower]!;
    const coarse = levels[Math.min(lower + 1, levels.length - 1)]!;
    const { channels } = fine;
    for (let k = 0; k < 4; k++) {
      const from = channelFor(channels, k);
      if (from === OPAQUE) {
        out[k] = 1;
        continue;
      }
      const near = bilinear(fine, u, v, from, ...wrap);
      out[k] = share > 0 ? near * (1 - share) + bilinear(coarse, u, v, from, ...wrap) * share : near;
    }
  }
}

function showPicked(color: Float64Array, { channel, invert }: ChannelPick): void {
  if (channel !== 'rgb') color.fill(invert ? 1 - color[channel]! : color[channel]!, 0, 3);
  color[3] = 1;
}
