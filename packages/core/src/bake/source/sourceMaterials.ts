import { directionsOf, type NormalSpace } from '../../image/convention.ts';
import type { Image } from '../../image/image.ts';
import { isColor } from '../../image/kindMeaning.ts';
import { halve } from '../../image/filter/halve.ts';
import { blended, changeColor, leavesColors } from '../../image/blend.ts';
import { linearToSrgb, srgbToLinear } from '../../color/srgb.ts';
import { MATERIAL_CHANNELS, type Material, type MaterialChannel, type PictureLayer } from '../../mesh/material.ts';
import type { Scene } from '../../trace/scene.ts';
import { PictureReader, type PreparedPicture } from './pictureReader.ts';

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

/** What is looked up for one channel of a material, laid out beforehand. */
interface ChannelPlan {
  material: Material;
  plain: readonly number[];
  /** Whether vertices have a say. */
  isTinted: boolean;
  picture: PreparedPicture | null;
  layers: readonly { layer: PictureLayer; picture: PreparedPicture }[];
}

/** The normal picture of a material, and the space it is in. */
interface NormalPlan {
  picture: PreparedPicture;
  scale: number;
  space: NormalSpace['space'];
}

/** Looks up materials where samples have met the source. */
export class MaterialReader {
  readonly logWidths: Float32Array;
  private readonly source: SourceMaterials;
  private readonly scene: Scene;
  private readonly pictures: PictureReader;
  private readonly color = new Float64Array(4);
  private readonly plans: Record<MaterialChannel, readonly ChannelPlan[]>;
  private readonly normals: readonly (NormalPlan | null)[];

  /** @param logWidths of samples, for each triangle of the receiver (see `logWidthsOf`) */
  constructor(source: SourceMaterials, scene: Scene, logWidths: Float32Array) {
    this.source = source;
    this.logWidths = logWidths;
    this.scene = scene;
    this.pictures = new PictureReader(source, scene);
    const { materials } = source;
    this.plans = Object.fromEntries(
      MATERIAL_CHANNELS.map((channel) => [channel, materials.map((material) => this.planOf(material, channel))]),
    ) as Record<MaterialChannel, ChannelPlan[]>;
    this.normals = materials.map(({ pictures: { normal }, normalScale }) => {
      if (!normal) return null;
      const space = directionsOf(source.pictures[normal.picture]![0]!)?.space ?? 'tangent';
      return { picture: this.pictures.prepare(normal, 'colors'), scale: normalScale, space };
    });
  }

  private planOf(material: Material, channel: MaterialChannel): ChannelPlan {
    const plain = channel === 'basecolor' ? material.baseColor : material[channel];
    const wanted = isColor(channel) ? 'colors' : 'channel';
    const use = material.pictures[channel];
    return {
      material,
      plain: typeof plain === 'number' ? [plain] : plain,
      isTinted: channel === 'basecolor' && this.source.colors !== null,
      picture: use ? this.pictures.prepare(use, wanted) : null,
      layers: (material.layers?.[channel] ?? []).map((layer) => ({
        layer,
        picture: this.pictures.prepare(layer.use, `${wanted} and alpha`),
      })),
    };
  }

  /**
   * @param logWidth of the sample (see `logWidthsOf`), over which pictures are filtered
   * @param out told one value, or three for a colour
   */
  read(channel: MaterialChannel, triangle: number, wb: number, wc: number, logWidth: number, out: Float64Array): void {
    const plan = this.plans[channel][this.source.ofTriangle[triangle]!]!;
    const { plain, picture, layers } = plan;
    const values = plain.length;
    for (let c = 0; c < values; c++) out[c] = plain[c]!;
    if (plan.isTinted) this.tint(plan.material, triangle, wb, wc, picture !== null, out);
    if (picture) {
      this.pictures.see(picture, triangle, wb, wc, logWidth, this.color);
      if (values === 1) out[0]! *= this.color[picture.use.channel]!;
      else for (let c = 0; c < 3; c++) out[c]! *= this.color[c]!;
    }
    for (let l = 0; l < layers.length; l++) {
      this.pictures.see(layers[l]!.picture, triangle, wb, wc, logWidth, this.color);
      this.layOver(layers[l]!.layer, values, out);
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
    logWidth: number,
    out: Float64Array,
  ): NormalSpace['space'] | null {
    const plan = this.normals[this.source.ofTriangle[triangle]!];
    if (!plan) return null;
    this.pictures.see(plan.picture, triangle, wb, wc, logWidth, this.color);
    out[0] = (this.color[0]! * 2 - 1) * plan.scale;
    out[1] = (this.color[1]! * 2 - 1) * plan.scale;
    out[2] = this.color[2]! * 2 - 1;
    return plan.space;
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
}
