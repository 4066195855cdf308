import { directionsOf } from '../image/convention.ts';
import type { Image } from '../image/image.ts';
import type { SourceMaterials } from '../bake/source/sourceMaterials.ts';
import type { Material, PictureUse } from '../mesh/material.ts';

/** Channels of a material that share texels: what lies in the lanes of one, in their order. */
const PACKED = ['basecolor', 'roughness', 'normal', 'metallic'] as const;
const LANES = { basecolor: 0, roughness: 3, normal: 4, metallic: 7 } as const;
/** Lanes of a texel: whole numbers of 16 bits. */
const TEXEL = 8;
export const PACKED_TEXEL_BYTES = TEXEL * 2;
const WRAPS = { clamp: 0, repeat: 1, mirror: 2 } as const;
/** Bytes of a texture's record, and where its parts lie: as kernel/light/texture.ts reads it. */
export const TEXTURE_BYTES = 72 + 16 * 16;

type Uses = Partial<Record<(typeof PACKED)[number], PictureUse>>;

/** Pictures of a material that the kernel can look up together. */
export interface Packable {
  /** The same for materials whose texels are the same. */
  key: string;
  uses: Uses;
  /** One of them, for all lie alike. */
  use: PictureUse;
  levels: readonly Image[];
  normalScale: number;
}

/**
 * Whether pictures are all that a material's look differs by, they lie alike and are of one size, and their numbers are 0
 * to 1: then the kernel can look them up, side by side in each texel.
 * @param hasColors whether its vertices have colours
 */
export function packableOf(material: Material, { pictures }: SourceMaterials, hasColors: boolean): Packable | null {
  const { layers } = material;
  if (hasColors || PACKED.some((channel) => channel !== 'normal' && layers?.[channel])) return null;
  const uses: Uses = {};
  for (const channel of PACKED) {
    const use = material.pictures[channel];
    if (use) uses[channel] = use;
  }
  const all = Object.values(uses);
  const [use] = all;
  if (!use || all.some(({ pick, unfiltered }) => pick ?? unfiltered)) return null;
  const levels = pictures[use.picture]!;
  const liesAlike = all.every((other) => {
    const [own, its] = [levels[0]!, pictures[other.picture]![0]!];
    return placed(other) === placed(use) && own.width === its.width && own.height === its.height;
  });
  if (!liesAlike || !all.every(({ picture }) => isBounded(pictures[picture]![0]!))) return null;
  const key = PACKED.map((channel) =>
    uses[channel] ? `${uses[channel].picture}.${uses[channel].channel}` : '',
  ).join();
  return { key: `${key} ${placed(use)} ${material.normalScale}`, uses, use, levels, normalScale: material.normalScale };
}

const placed = ({ uvSet, wrap, transform }: PictureUse): string => [uvSet, ...wrap, ...transform].join();

function isBounded({ data }: Image): boolean {
  for (let i = 0; i < data.length; i++) if (!(data[i]! >= 0 && data[i]! <= 1)) return false;
  return true;
}

/** The texels of one level, eight numbers each: what no picture tells is 1. */
export function packLevel({ uses, levels }: Packable, { pictures }: SourceMaterials, level: number): Uint16Array {
  const { width, height } = levels[level]!;
  const texels = new Uint16Array(width * height * TEXEL).fill(65535);
  for (const channel of PACKED) {
    const use = uses[channel];
    if (!use) continue;
    const { data, channels } = pictures[use.picture]![level]!;
    const lane = LANES[channel];
    const count = channel === 'basecolor' || channel === 'normal' ? 3 : 1;
    for (let c = 0; c < count; c++) {
      const from = channels < 3 ? 0 : count === 3 ? c : use.channel;
      for (let i = 0; i < width * height; i++) {
        texels[i * TEXEL + lane + c] = Math.round(data[i * channels + from]! * 65535);
      }
    }
  }
  return texels;
}

/**
 * A texture's record.
 * @param addresses of the levels
 */
export function textureRecord(
  { uses, use, levels, normalScale }: Packable,
  { pictures }: SourceMaterials,
  addresses: readonly number[],
): Uint8Array {
  const record = new DataView(new ArrayBuffer(TEXTURE_BYTES));
  const { transform, wrap } = use;
  const { width, height } = levels[0]!;
  const scale = Math.abs(transform[0] * transform[4] - transform[1] * transform[3]);
  const space = uses.normal && (directionsOf(pictures[uses.normal.picture]![0]!)?.space ?? 'tangent');
  record.setUint32(0, levels.length, true);
  wrap.forEach((each, i) => record.setUint32(4 + i * 4, WRAPS[each], true));
  record.setFloat32(12, scale * width * height, true);
  record.setFloat32(16, normalScale, true);
  record.setUint32(20, space === undefined ? 0 : space === 'object' ? 2 : 1, true);
  transform.forEach((value, i) => record.setFloat64(24 + i * 8, value, true));
  levels.forEach((image, i) =>
    [addresses[i]!, image.width, image.height].forEach((value, k) =>
      record.setUint32(72 + i * 16 + k * 4, value, true),
    ),
  );
  return new Uint8Array(record.buffer);
}
