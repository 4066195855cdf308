import { z } from 'zod';
import { colorText } from '../colorText.ts';
import { MAP_KIND_IDS, type MapKind } from '@zographos/core/image';
import { VIEW_TRANSFORMS } from '@zographos/core/light';
import { IMAGE_FORMAT_NAMES } from '@zographos/formats/image-formats';

/** What one channel of a packed file holds. */
export const packedChannel = z.union([
  z.strictObject({ constant: z.number().min(0).max(1) }),
  z.strictObject({
    map: z.enum(MAP_KIND_IDS),
    /** 0 to 3 for red, green, blue and alpha; grey stands for all colours. */
    channel: z.int().min(0).max(3).default(0),
    invert: z.boolean().default(false),
    levels: z.tuple([z.number(), z.number()]).default([0, 1]),
  }),
]);

export type PackedChannel = z.infer<typeof packedChannel>;

/** How channels of maps come together in one file; may be saved and passed on by itself. */
export const packing = z.strictObject({
  /** What the file is called: it stands for {map}. */
  label: z.string().trim().min(1, 'A file needs a name.').max(60),
  /** One for grey, three for colour, four with alpha. */
  channels: z
    .array(packedChannel)
    .refine(({ length }) => [1, 3, 4].includes(length), 'A file has one, three or four channels.'),
});

export type Packing = z.infer<typeof packing>;

const format = z.enum(IMAGE_FORMAT_NAMES);

/** One file for each set and tile: a map as it is, or channels packed. */
export const deliveredFile = z.union([
  z.strictObject({ map: z.enum(MAP_KIND_IDS), label: z.string().trim().min(1).max(60), format }),
  z.strictObject({ ...packing.shape, format }),
]);

export type DeliveredFile = z.infer<typeof deliveredFile>;

const PLACES = /\{(project|set|map|tile|size|revision)\}/g;

/** How files and their folders are named. */
const pattern = z
  .string()
  .trim()
  .min(1)
  .max(200)
  .refine((text) => text.includes('{map}'), 'A name needs {map}, or all files would get one name.')
  .refine(
    (text) => !/[\\:*?"<>|]/.test(text.replace(PLACES, '')),
    'A name holds no backslashes, colons, quotes or wildcards. Part folders by /.',
  )
  .refine(
    (text) => !text.startsWith('/') && !text.split('/').some((part) => part === '..' || part === '.' || part === ''),
    'A name must stay in its folder: no leading slash, no empty parts, no “..”.',
  );

/** How a receiving program wants a material. */
export const deliveryProfile = z.strictObject({
  name: z.string().trim().min(1, 'A profile needs a name.').max(100),
  files: z.array(deliveredFile).min(1, 'A delivery needs at least one file.').max(64),
  pattern: pattern.default('{set}/{set}_{map}'),
  normalY: z.enum(['up', 'down']).default('up'),
  /** Sizes are halved so many times, and made powers of two. */
  halvings: z.int().min(0).max(8).default(0),
  powerOfTwo: z.boolean().default(false),
  /** Whether the mesh goes along that wears the maps; flat sets have none. */
  mesh: z.enum(['none', 'glb']).default('none'),
  /** What stands beyond the padding of islands, as it is written in files; null for what the maps have there. */
  background: colorText.nullable().default(null),
  /** How light becomes whole numbers: through which view transform, and how many doublings before that. Floats stay light. */
  light: z
    .strictObject({ view: z.enum(VIEW_TRANSFORMS), exposure: z.number().min(-20).max(20) })
    .default({ view: 'srgb', exposure: 0 }),
  /** Whether all maps of a set go along as one layered file as well. */
  layered: z.boolean().default(false),
});

export type DeliveryProfile = z.infer<typeof deliveryProfile>;

const of = (map: MapKind, more: Partial<Exclude<PackedChannel, { constant: number }>> = {}): PackedChannel => ({
  map,
  channel: 0,
  invert: false,
  levels: [0, 1],
  ...more,
});
const rgb = (map: MapKind): PackedChannel[] => [0, 1, 2].map((channel) => of(map, { channel }));

/** Packings that are often asked for (common practice, no source). */
export const PACKINGS: readonly Packing[] = [
  { label: 'occlusion-roughness-metallic', channels: [of('ao'), of('roughness'), of('metallic')] },
  {
    label: 'metallic-occlusion-cavity-smoothness',
    channels: [of('metallic'), of('ao'), of('cavity'), of('roughness', { invert: true })],
  },
  { label: 'color-roughness', channels: [...rgb('basecolor'), of('roughness')] },
  { label: 'color-opacity', channels: [...rgb('basecolor'), of('opacity')] },
  { label: 'masks', channels: [of('edges'), of('cavity'), of('ao'), of('height')] },
  { label: 'own-masks', channels: [of('maskred'), of('maskgreen'), of('maskblue'), of('maskalpha')] },
];

const packed = (label: string, format: DeliveredFile['format']): DeliveredFile => ({
  ...PACKINGS.find((each) => each.label === label)!,
  format,
});

const PLAIN = {
  pattern: '{set}/{set}_{map}',
  normalY: 'up',
  halvings: 0,
  powerOfTwo: false,
  mesh: 'none',
  background: null,
  layered: false,
  light: { view: 'srgb', exposure: 0 },
} as const;

const LIGHT_PASSES: readonly MapKind[] = [
  'combined',
  'diffusedirect',
  'diffuseindirect',
  'reflection',
  'refraction',
  'emitted',
];

/** Profiles to begin with. */
export const READY_PROFILES: readonly DeliveryProfile[] = [
  {
    ...PLAIN,
    name: 'glTF 2.0',
    files: [
      { map: 'basecolor', label: 'basecolor', format: 'png8' },
      packed('occlusion-roughness-metallic', 'png8'),
      { map: 'normal', label: 'normal', format: 'png8' },
      { map: 'emission', label: 'emission', format: 'png8' },
    ],
    powerOfTwo: true,
    mesh: 'glb',
  },
  {
    ...PLAIN,
    name: 'Every map by itself',
    files: [
      { map: 'basecolor', label: 'basecolor', format: 'png8' },
      { map: 'normal', label: 'normal', format: 'png16' },
      { map: 'height', label: 'height', format: 'png16' },
      { map: 'ao', label: 'occlusion', format: 'png8' },
      { map: 'roughness', label: 'roughness', format: 'png8' },
      { map: 'metallic', label: 'metallic', format: 'png8' },
      { map: 'displacement', label: 'displacement', format: 'exr' },
    ],
  },
  {
    ...PLAIN,
    name: 'Masks and tiling materials, to blend at run time',
    files: [
      packed('own-masks', 'png8'),
      { map: 'normal', label: 'normal', format: 'png8' },
      { map: 'basecolor', label: 'basecolor', format: 'png8' },
      packed('occlusion-roughness-metallic', 'png8'),
      { map: 'height', label: 'height', format: 'png16' },
    ],
    powerOfTwo: true,
  },
  {
    ...PLAIN,
    name: 'Smoothness in alpha, Y down',
    files: [
      { map: 'basecolor', label: 'color', format: 'tga' },
      packed('metallic-occlusion-cavity-smoothness', 'tga'),
      { map: 'normal', label: 'normal', format: 'tga' },
    ],
    pattern: '{set}_{map}',
    normalY: 'down',
    powerOfTwo: true,
    mesh: 'glb',
  },
  {
    ...PLAIN,
    name: 'Light in passes, to be put together',
    files: LIGHT_PASSES.map((map) => ({ map, label: map, format: 'exr16' as const })),
  },
  {
    ...PLAIN,
    name: 'Light to be looked at',
    files: [{ map: 'combined', label: 'light', format: 'png8' }],
    light: { view: 'filmic', exposure: 0 },
  },
];

/** A delivery: which sets, and how. */
export const deliverSettings = z.strictObject({
  profile: deliveryProfile,
  sets: z.array(z.uuid()).min(1, 'Choose at least one image set.').max(200),
});

export type DeliverSettings = z.infer<typeof deliverSettings>;
