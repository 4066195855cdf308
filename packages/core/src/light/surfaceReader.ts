import { BentNormal } from '../bake/source/normalBend.ts';
import type { MaterialReader } from '../bake/source/sourceMaterials.ts';
import type { Material } from '../mesh/material.ts';
import { radianceOf, type LightScene } from './lightScene.ts';
import type { SurfaceValues } from './bsdf.ts';

/** Looks up what surfaces are made of; those without pictures are known beforehand. */
export class SurfaceReader {
  private readonly scene: LightScene;
  private readonly reader: MaterialReader;
  private readonly bent: BentNormal | null;
  private readonly plain: (SurfaceValues | null)[];
  private readonly radiance: (Float64Array | null)[];
  private readonly values: SurfaceValues = {
    base: new Float64Array(3),
    metallic: 0,
    roughness: 1,
    specular: 1,
    transmission: 0,
    ior: 1.5,
  };
  private readonly number = new Float64Array(3);
  private readonly sent = new Float64Array(3);

  /** @param reader of the same materials */
  constructor(scene: LightScene, reader: MaterialReader) {
    this.scene = scene;
    this.reader = reader;
    this.bent = reader.hasNormals ? new BentNormal(reader) : null;
    const { materials, colors } = scene.materials;
    const hasColors = colors !== null;
    this.plain = materials.map((material) => (isPlain(material, hasColors) ? plainValues(material) : null));
    this.radiance = materials.map((material) =>
      material.pictures.emission || material.layers?.emission ? null : Float64Array.from(radianceOf(material)),
    );
  }

  /** @param receiverTriangle of the path's first place, whose texel says how finely pictures are seen */
  valuesAt(triangle: number, wb: number, wc: number, receiverTriangle: number): SurfaceValues {
    const number = this.scene.materials.ofTriangle[triangle]!;
    const plain = this.plain[number];
    if (plain) return plain;
    const { values, reader, number: single } = this;
    reader.read('basecolor', triangle, wb, wc, receiverTriangle, values.base);
    for (let c = 0; c < 3; c++) values.base[c] = Math.max(0, Math.min(1, values.base[c]!));
    reader.read('metallic', triangle, wb, wc, receiverTriangle, single);
    values.metallic = Math.max(0, Math.min(1, single[0]!));
    reader.read('roughness', triangle, wb, wc, receiverTriangle, single);
    values.roughness = Math.max(0, Math.min(1, single[0]!));
    const material = this.scene.materials.materials[number]!;
    values.specular = material.lit?.isDiffuse ? 0 : 1;
    values.transmission = material.glass?.transmission ?? 0;
    values.ior = material.glass?.ior ?? 1.5;
    return values;
  }

  /** The unit normal that a normal picture bends it to, on the side of the mesh's own; null where none does. */
  normalAt(triangle: number, wb: number, wc: number, receiverTriangle: number): Float64Array | null {
    const { bent } = this;
    return bent?.at(this.scene.scene, triangle, wb, wc, receiverTriangle) ? bent.normal : null;
  }

  /** What a surface sends by itself, either side alike. */
  radianceAt(triangle: number, wb: number, wc: number, receiverTriangle: number): Float64Array {
    const known = this.radiance[this.scene.materials.ofTriangle[triangle]!];
    if (known) return known;
    this.reader.read('emission', triangle, wb, wc, receiverTriangle, this.sent);
    const strength = this.scene.materials.materials[this.scene.materials.ofTriangle[triangle]!]!.emissionStrength ?? 1;
    for (let c = 0; c < 3; c++) this.sent[c]! *= strength;
    return this.sent;
  }
}

const isPlain = ({ pictures, layers, tinted }: Material, hasColors: boolean): boolean =>
  !hasColors &&
  !tinted &&
  (['basecolor', 'metallic', 'roughness'] as const).every((channel) => !pictures[channel] && !layers?.[channel]);

const plainValues = ({ baseColor, metallic, roughness, lit, glass }: Material): SurfaceValues => ({
  base: Float64Array.from(lit?.reflectance ?? baseColor),
  metallic,
  roughness,
  specular: lit?.isDiffuse ? 0 : 1,
  transmission: glass?.transmission ?? 0,
  ior: glass?.ior ?? 1.5,
});
