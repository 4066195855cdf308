import type { LightScene } from './lightScene.ts';
import type { MemoryParts } from './memoryParts.ts';
import { packLevel, PACKED_TEXEL_BYTES, TEXTURE_BYTES, textureRecord, type Packable } from './packedPictures.ts';

/** Pictures that the kernel looks up; levels are packed only once there is room for them. */
export class PackedTextures {
  /** Where the record of each lies, by its key; and tangents, where any is bent. */
  readonly records = new Map<string, number>();
  readonly tangents: number | null = null;
  private readonly light: LightScene;
  private readonly laid: { packable: Packable; record: number; levels: number[] }[] = [];

  constructor(parts: MemoryParts, light: LightScene, packables: readonly (Packable | null)[]) {
    this.light = light;
    const { materials } = light;
    for (const packable of packables) {
      if (!packable || this.records.has(packable.key)) continue;
      const record = parts.reserve(TEXTURE_BYTES);
      this.records.set(packable.key, record);
      const levels = packable.levels.map(({ width, height }) => parts.reserve(width * height * PACKED_TEXEL_BYTES));
      this.laid.push({ packable, record, levels });
      if (packable.uses.normal) this.tangents ??= parts.add(materials.tangents!);
    }
  }

  layInto(buffer: ArrayBufferLike, from: number): void {
    for (const { packable, record, levels } of this.laid) {
      const addresses = levels.map((at) => from + at);
      const told = textureRecord(packable, this.light.materials, addresses);
      new Uint8Array(buffer, from + record, told.byteLength).set(told);
      levels.forEach((at, level) => {
        const texels = packLevel(packable, this.light.materials, level);
        new Uint16Array(buffer, from + at, texels.length).set(texels);
      });
    }
  }
}
