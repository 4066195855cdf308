import { BentNormal } from '../bake/source/normalBend.ts';
import type { MaterialReader } from '../bake/source/sourceMaterials.ts';
import type { Material } from '../mesh/material.ts';
import { radianceOf, type LightScene } from './lightScene.ts';

/** What a surface is made of, in the terms of glTF 2.0; colours are light. */
export interface SurfaceValues {
  base: readonly number[];
  metallic: number;
  roughness: number;
  /** How much of the reflection of a dielectric there is: 1, or 0 for a surface that is nothing but diffuse. */
  specular: number;
  /** The share of what a dielectric does not reflect that goes through, and its index of refraction. */
  transmission: number;
  ior: number;
}

/** What a material is made of where pictures have no say. */
export const plainValues = ({ baseColor, metallic, roughness, lit, glass }: Material): SurfaceValues => ({
  base: lit?.reflectance ?? baseColor,
  metallic,
  roughness,
  specular: lit?.isDiffuse ? 0 : 1,
  transmission: glass?.transmission ?? 0,
  ior: glass?.ior ?? 1.5,
});

/** Whether what a material is made of differs from place to place. @param hasColors whether vertices have colours */
export const varies = ({ pictures, layers }: Material, hasColors: boolean): boolean =>
  hasColors ||
  pictures.normal !== undefined ||
  (['basecolor', 'metallic', 'roughness'] as const).some((channel) => pictures[channel] ?? layers?.[channel]);

/** Whether what a material sends differs from place to place; what is not there sends nothing. */
export const sendsVarying = (material: Material): boolean =>
  material.pictures.emission !== undefined ||
  material.layers?.emission !== undefined ||
  (holesVary(material) && radianceOf(material).some((value) => value > 0));

/** Whether some of a material is not there, and whether that differs from place to place. */
export const holesVary = ({ pictures, layers }: Material): boolean =>
  pictures.opacity !== undefined || layers?.opacity !== undefined;
export const hasHoles = (material: Material): boolean => holesVary(material) || cutOff(material, material.opacity) < 1;

/** How much of a place is there: all or nothing, where the material has a limit for that. */
export const cutOff = ({ opacityCutoff }: Material, opacity: number): number =>
  opacityCutoff === undefined ? Math.max(0, Math.min(1, opacity)) : opacity >= opacityCutoff ? 1 : 0;

/** 1 for each material of which any triangle has vertex colours. */
export function coloredMaterials({ materials, scene }: LightScene): Uint8Array {
  const colored = new Uint8Array(materials.materials.length);
  if (!materials.colors) return colored;
  const { present } = materials.colors;
  const { indices } = scene;
  for (let t = 0; t < indices.length / 3; t++) if (present[indices[t * 3]!]) colored[materials.ofTriangle[t]!] = 1;
  return colored;
}

/** Of each material: 1 where its vertices have colours, and where it is told from outside what its places are made of. */
export interface ToldMaterials {
  colored: Uint8Array;
  told: Uint8Array;
}

/** Looks up what surfaces are made of where that differs from place to place. */
export class SurfaceReader {
  /** Whether any material is to be told, and whether what any sends is. */
  readonly anyTold: boolean;
  readonly anySendsVarying: boolean;
  /** Whether some of any material is not there. */
  readonly anyHoles: boolean;
  private readonly scene: LightScene;
  private readonly reader: MaterialReader;
  private readonly bent: BentNormal | null;
  private readonly colored: Uint8Array;
  private readonly told: Uint8Array;
  private readonly varying: readonly boolean[];
  private readonly sending: readonly boolean[];
  private readonly holes: readonly boolean[];
  private readonly color = new Float64Array(3);
  private readonly number = new Float64Array(1);

  /** @param reader of the same materials @param laid which of them are told */
  constructor(scene: LightScene, reader: MaterialReader, { colored, told }: ToldMaterials) {
    this.scene = scene;
    this.reader = reader;
    this.bent = reader.hasNormals ? new BentNormal(reader) : null;
    this.colored = colored;
    this.told = told;
    const { materials } = scene.materials;
    this.varying = materials.map((material, m) => varies(material, colored[m] === 1));
    this.holes = materials.map(holesVary);
    this.anyHoles = materials.some(hasHoles);
    this.sending = materials.map(sendsVarying);
    this.anyTold = this.told.includes(1);
    this.anySendsVarying = this.sending.includes(true);
  }

  private numberAt(triangle: number): number {
    return this.scene.materials.ofTriangle[triangle]!;
  }

  isTold(triangle: number): boolean {
    return this.told[this.numberAt(triangle)] === 1;
  }

  sendsVarying(triangle: number): boolean {
    return this.sending[this.numberAt(triangle)]!;
  }

  holesVary(triangle: number): boolean {
    return this.holes[this.numberAt(triangle)]!;
  }

  /** How much of a place is there, 0 to 1. */
  opacityAt(triangle: number, wb: number, wc: number, logWidth: number): number {
    this.reader.read('opacity', triangle, wb, wc, logWidth, this.number);
    return cutOff(this.scene.materials.materials[this.numberAt(triangle)]!, this.number[0]!);
  }

  /** Base colour at a place. @param logWidth of the sample, which says how finely pictures are seen */
  baseAt(triangle: number, wb: number, wc: number, logWidth: number): Float64Array {
    const { color } = this;
    const number = this.numberAt(triangle);
    const { lit, baseColor } = this.scene.materials.materials[number]!;
    if (!this.varying[number]) color.set(lit?.reflectance ?? baseColor);
    else {
      this.reader.read('basecolor', triangle, wb, wc, logWidth, color);
      // What a file tells as a number of light is that beside pictures too; colours of vertices stand in its place.
      if (lit && this.colored[number] === 0) {
        for (let c = 0; c < 3; c++) color[c]! *= baseColor[c]! > 0 ? lit.reflectance[c]! / baseColor[c]! : 0;
      }
    }
    for (let c = 0; c < 3; c++) color[c] = Math.max(0, Math.min(1, color[c]!));
    return color;
  }

  /**
   * Tells what a place is made of.
   * @param out told base colour (four floats), metallic, roughness, whether a normal picture bends it, and at 8 the normal
   */
  tell(triangle: number, wb: number, wc: number, logWidth: number, out: Float32Array, at: number): void {
    const { number, bent } = this;
    const color = this.baseAt(triangle, wb, wc, logWidth);
    for (let c = 0; c < 3; c++) out[at + c] = color[c]!;
    out[at + 3] = 0;
    this.reader.read('metallic', triangle, wb, wc, logWidth, number);
    out[at + 4] = Math.max(0, Math.min(1, number[0]!));
    this.reader.read('roughness', triangle, wb, wc, logWidth, number);
    out[at + 5] = Math.max(0, Math.min(1, number[0]!));
    const isBent = bent?.at(this.scene.scene, triangle, wb, wc, logWidth) ?? false;
    out[at + 6] = isBent ? 1 : 0;
    if (isBent) for (let k = 0; k < 3; k++) out[at + 8 + k] = bent!.normal[k]!;
  }

  /** What a surface sends by itself, either side alike. */
  radianceAt(triangle: number, wb: number, wc: number, logWidth: number): Float64Array {
    const { color } = this;
    this.reader.read('emission', triangle, wb, wc, logWidth, color);
    const strength = this.scene.materials.materials[this.numberAt(triangle)]!.emissionStrength ?? 1;
    for (let c = 0; c < 3; c++) color[c]! *= strength;
    return color;
  }
}
