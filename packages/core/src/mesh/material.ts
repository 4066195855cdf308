import type { BlendMode, ColorChange } from '../image/blend.ts';
import type { MapConvention } from '../image/convention.ts';
import type { Image } from '../image/image.ts';
import type { ChannelPick } from '../image/packing.ts';
import type { Wrap } from '../image/sample.ts';

/** A picture that a material names: an image file as it came. */
export interface MaterialPicture {
  name: string;
  bytes: Uint8Array;
  /** What it holds, where that is there already: the bytes are empty then. */
  image?: Image;
  /** Whether its numbers are meant as they are, even where colours are asked for. */
  isData?: boolean;
  /** How its directions or heights are written; left out, as glTF 2.0 has them. */
  convention?: MapConvention;
}

/** A picture laid on a surface. */
export interface PictureUse {
  /** Number among the mesh's pictures. */
  picture: number;
  uvSet: number;
  wrap: readonly [u: Wrap, v: Wrap];
  /** a, b, c, d, e, f: the picture is looked up at (a u + b v + c, d u + e v + f), v upwards. */
  transform: readonly [number, number, number, number, number, number];
  /** The channel that is meant, where one number is asked for. */
  channel: number;
  /** Whether texels are taken as they are, never mixed: for colours that stand for things. */
  unfiltered?: boolean;
  /** The one channel that is seen, as if the picture were grey; it has no alpha then. */
  pick?: ChannelPick;
}

/** A picture mixed over what lies below it; colours are mixed as they are stored for the eye, data as it is. */
export interface PictureLayer {
  use: PictureUse;
  blend: BlendMode;
  /** 0 to 1, beside the picture's own alpha. */
  opacity: number;
  change: ColorChange;
  /** Whether its numbers are no colour, and neither bounded nor changed. */
  isData?: boolean;
}

export const UNMOVED: PictureUse['transform'] = [1, 0, 0, 0, 1, 0];

/** What a surface is made of, in the terms of glTF 2.0; colours are linear, and pictures multiply the numbers. */
export interface Material {
  baseColor: readonly [number, number, number];
  opacity: number;
  /** The least opacity at which a place is there at all, and whole; left out where it is there in part. */
  opacityCutoff?: number;
  roughness: number;
  metallic: number;
  emission: readonly [number, number, number];
  /** Whether vertex colours multiply the base colour; otherwise they stand in its place. */
  tinted: boolean;
  /** Occlusion is kept for files; it weakens indirect light where there is no light that is computed, and no bake uses it. */
  pictures: Partial<Record<MaterialChannel | 'normal' | 'ao', PictureUse>>;
  /** Strength of the normal picture. */
  normalScale: number;
  /** What a file tells as numbers of light, where its colours are for the eye: reflectance, radiance, and whether it is nothing but diffuse. */
  lit?: MaterialLight;
  /** Times what the surface sends by itself; 1 if left out. For light alone. */
  emissionStrength?: number;
  /** What goes through it, where anything does. */
  glass?: Glass;
  /** Pictures that lie on top of all that, from below upwards. */
  layers?: Partial<Record<MaterialChannel, PictureLayer[]>>;
}

/** A dielectric that lets light through, as KHR_materials_transmission, _ior and _volume of glTF 2.0 mean it. */
export interface Glass {
  /** The share of what is not reflected that goes through, 0 to 1. */
  transmission: number;
  /** Index of refraction, 1 or above. */
  ior: number;
  /** What is left of light, in each colour, after so many mesh units within; null for all of it. */
  attenuation: { color: readonly [number, number, number]; distance: number } | null;
}

/** A material as light has it: fractions of light that are reflected, and what it sends by itself. */
export interface MaterialLight {
  reflectance: readonly [number, number, number];
  radiance: readonly [number, number, number];
  isDiffuse: boolean;
  /** Whether it sends light from its front alone. */
  isOneSided?: boolean;
}

export const MATERIAL_CHANNELS = ['basecolor', 'roughness', 'metallic', 'opacity', 'emission'] as const;
export type MaterialChannel = (typeof MATERIAL_CHANNELS)[number];

/** What is taken for a surface nothing is known of: mid grey, half rough. */
export const PLAIN_MATERIAL: Material = {
  baseColor: [0.214041, 0.214041, 0.214041],
  opacity: 1,
  roughness: 0.5,
  metallic: 0,
  emission: [0, 0, 0],
  tinted: false,
  pictures: {},
  normalScale: 1,
};

/** The same material with its pictures under other numbers. */
export function withPictures(material: Material, numberOf: (picture: number) => number): Material {
  const pictures = Object.fromEntries(
    Object.entries(material.pictures).map(([use, entry]) => [use, { ...entry, picture: numberOf(entry.picture) }]),
  );
  const layers = Object.entries(material.layers ?? {}).map(([channel, list]): [string, PictureLayer[]] => [
    channel,
    list.map((layer) => ({ ...layer, use: { ...layer.use, picture: numberOf(layer.use.picture) } })),
  ]);
  return { ...material, pictures, ...(layers.length > 0 ? { layers: Object.fromEntries(layers) } : {}) };
}
