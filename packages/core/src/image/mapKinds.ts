/**
 * What the numbers of a map are. It decides how texels are mixed, compared, resampled and turned into whole numbers.
 *
 * - `color`: light, stored through the sRGB curve in whole-number files
 * - `direction`: a unit vector d, stored as d / 2 + 1 / 2 in three channels
 * - `share`: 0 to 1
 * - `length`: in mesh units, tile widths or millimetres, as the map's convention says
 * - `signed`: about a middle that stands for nothing, such as curvature
 * - `coordinate`: a place, or a place along an axis, in mesh units
 * - `category`: a colour or number that stands for one thing, so that a mixture of two would stand for a third
 */
export type MapValues = 'color' | 'direction' | 'share' | 'length' | 'signed' | 'coordinate' | 'category';

/**
 * Which values become black and white in whole-number files.
 *
 * - `unit`: 0 and 1
 * - `surface`: about the receiver's surface, as far as asked for or needed
 * - `symmetric`: as far below zero as above it, without outliers
 * - `from zero`: 0 to the largest
 * - `extremes`: the smallest to the largest
 */
export type RangeRule = 'unit' | 'surface' | 'symmetric' | 'from zero' | 'extremes';

/** Everything there is to know of a kind of map beside how its texels are computed. */
export interface MapKindDescriptor {
  /** As a heading or on a button, in sentence case. */
  label: string;
  /** Within a sentence. */
  phrase: string;
  /** One line that says what it shows. */
  hint: string;
  values: MapValues;
  channels: 1 | 3;
  /** The value of a texel that nothing is known of, by channel; of `length` and `signed` maps with a range, 0 instead. */
  neutral: number | readonly [number, number, number];
  range: RangeRule;
  /** Words in file names that mean it, in lower case, spaces as underscores; its id is always one of them. */
  words: readonly string[];
  /** Whether a bake can make it. */
  isBaked: boolean;
  /** Whether texels beyond the islands are filled with their nearest neighbour. */
  isPadded: boolean;
  /** Whether the two sides of a seam should show the same. */
  hasSeams: boolean;
  /** Rays that a bake casts from each sample for it, beside the one that finds the source: over the surface, below it, or to the sky. */
  fans?: 'above' | 'below' | 'sky';
  /** Of directions: whether they are in object space, whatever is asked for. */
  isInObjectSpace?: true;
  /** Whether only floats can hold it. */
  needsFloat?: true;
  /** Whether it is light: linear, without an upper end, and seen through an exposure. */
  isLight?: true;
  /** Whether any other meaning that a file name has comes before it. */
  isVague?: true;
}

const data = { range: 'unit', isBaked: false, isPadded: true, hasSeams: true } as const;
const baked = { ...data, isBaked: true } as const;
/** What layers write for themselves: where a material lies, for renderers that blend at run time. */
const ownMask = {
  ...data,
  hint: 'where layers lie that write it',
  values: 'share',
  channels: 1,
  neutral: 0,
} as const;
/** Light that a surface sends, in whole or in part. */
const lit = { ...data, values: 'color', channels: 3, neutral: 0, needsFloat: true, isLight: true } as const;
/** Light of one light group, by a letter: numbers in names of files are sizes and tiles. */
const groupOf = (letter: string) =>
  ({
    ...lit,
    label: `Light group ${letter}`,
    phrase: `light group ${letter}`,
    hint: 'light of one group alone',
    words: [`light_group_${letter.toLowerCase()}`],
  }) as const;
const FLAT: readonly [number, number, number] = [0.5, 0.5, 1];

/**
 * Every kind of map, in the order in which they are usually looked at. Whatever depends on the kind of a map asks this
 * table; a new kind is a new row, and for a baked one its computation in `bake/maps`.
 *
 * The ids stand in files, tickets and flags, and stay as they are; people are shown labels.
 */
export const MAP_KINDS = {
  normal: {
    ...baked,
    label: 'Normal',
    phrase: 'normal',
    hint: 'surface direction of the source',
    values: 'direction',
    channels: 3,
    neutral: FLAT,
    words: ['normals', 'normal_map', 'nrm', 'norm', 'nor', 'nml'],
  },
  height: {
    ...baked,
    label: 'Height',
    phrase: 'height',
    hint: 'distance of the source from the receiver’s surface',
    values: 'length',
    channels: 1,
    neutral: 0.5,
    range: 'surface',
    words: ['bump', 'height_map', 'heightmap'],
  },
  ao: {
    ...baked,
    label: 'Ambient occlusion',
    phrase: 'ambient occlusion',
    hint: 'how much ambient light reaches each point',
    values: 'share',
    channels: 1,
    neutral: 1,
    words: ['occlusion', 'ambientocclusion', 'ambient_occlusion'],
    fans: 'above',
  },
  bent: {
    ...baked,
    label: 'Bent normal',
    phrase: 'bent normal',
    hint: 'mean unoccluded direction',
    values: 'direction',
    channels: 3,
    neutral: FLAT,
    words: ['bentnormal', 'bent_normal', 'bent_normals', 'bentnormals'],
    fans: 'above',
  },
  sky: {
    ...baked,
    label: 'Sky visibility',
    phrase: 'sky visibility',
    hint: 'how much of the sky above each point sees',
    values: 'share',
    channels: 1,
    neutral: 1,
    words: ['sky_visibility', 'skyvisibility'],
    fans: 'sky',
  },
  sun: {
    ...baked,
    label: 'Sun exposure',
    phrase: 'sun exposure',
    hint: 'how much direct sunlight each point gets over a year',
    values: 'share',
    channels: 1,
    neutral: 1,
    words: ['sun_exposure', 'sunexposure'],
    fans: 'sky',
  },
  thickness: {
    ...baked,
    label: 'Thickness',
    phrase: 'thickness',
    hint: 'depth of material below the surface',
    values: 'length',
    channels: 1,
    neutral: 0,
    range: 'from zero',
    words: ['thick'],
    fans: 'below',
  },
  curvature: {
    ...baked,
    label: 'Curvature',
    phrase: 'curvature',
    hint: 'convex and concave places of the source',
    values: 'signed',
    channels: 1,
    neutral: 0.5,
    range: 'symmetric',
    words: ['curv'],
  },
  position: {
    ...baked,
    label: 'Position',
    phrase: 'position',
    hint: 'object-space coordinates',
    values: 'coordinate',
    channels: 3,
    neutral: 0,
    range: 'extremes',
    words: ['pos'],
  },
  gradient: {
    ...baked,
    label: 'Position gradient',
    phrase: 'position gradient',
    hint: 'position along a direction',
    values: 'coordinate',
    channels: 1,
    neutral: 0,
    range: 'extremes',
    words: ['position_gradient', 'positiongradient'],
  },
  facing: {
    ...baked,
    label: 'Face normal',
    phrase: 'face normal',
    hint: 'face normals in object space, not smoothed',
    values: 'direction',
    isInObjectSpace: true,
    channels: 3,
    neutral: 0.5,
    hasSeams: false,
    words: ['facenormal', 'face_normal', 'face_normals', 'facenormals'],
  },
  id: {
    ...baked,
    label: 'ID map',
    phrase: 'ID',
    hint: 'one colour per part',
    values: 'category',
    channels: 3,
    neutral: 0,
    hasSeams: false,
    words: ['ids', 'idmap', 'id_map', 'id_mask'],
  },
  basecolor: {
    ...baked,
    label: 'Base colour',
    phrase: 'base colour',
    hint: 'colour of the material, without light',
    values: 'color',
    channels: 3,
    neutral: 0.2,
    words: ['basecolour', 'base_color', 'base_colour', 'albedo', 'diffuse', 'diff', 'color', 'colour', 'col'],
  },
  roughness: {
    ...baked,
    label: 'Roughness',
    phrase: 'roughness',
    hint: 'roughness of the material',
    values: 'share',
    channels: 1,
    neutral: 0.5,
    words: ['rough'],
  },
  metallic: {
    ...baked,
    label: 'Metallic',
    phrase: 'metallic',
    hint: 'metal or not, mostly 1 or 0',
    values: 'share',
    channels: 1,
    neutral: 0,
    words: ['metalness', 'metal'],
  },
  opacity: {
    ...baked,
    label: 'Opacity',
    phrase: 'opacity',
    hint: 'opacity of the material',
    values: 'share',
    channels: 1,
    neutral: 1,
    words: ['alpha'],
  },
  emission: {
    ...baked,
    label: 'Emission',
    phrase: 'emission',
    hint: 'light that the material gives off',
    values: 'color',
    channels: 3,
    neutral: 0,
    words: ['emissive', 'glow'],
  },
  coverage: {
    ...baked,
    label: 'UV coverage',
    phrase: 'UV coverage',
    hint: 'white inside islands',
    values: 'share',
    channels: 1,
    neutral: 0,
    isPadded: false,
    hasSeams: false,
    words: ['uv_coverage'],
  },
  guide: {
    ...baked,
    label: 'UV layout',
    phrase: 'UV layout',
    hint: 'islands and wireframe as a painting guide',
    values: 'share',
    channels: 1,
    neutral: 0,
    isPadded: false,
    hasSeams: false,
    words: ['uv_guide', 'uv_layout', 'uvlayout'],
  },
  edges: {
    ...data,
    label: 'Curvature (from height)',
    phrase: 'curvature from height',
    hint: 'convex and concave places of the relief',
    values: 'signed',
    channels: 1,
    neutral: 0.5,
    words: ['edge', 'curvature_from_height'],
  },
  cavity: {
    ...data,
    label: 'Cavity',
    phrase: 'cavity',
    hint: 'dark in narrow recesses',
    values: 'share',
    channels: 1,
    neutral: 1,
    words: ['cavities'],
  },
  specular: {
    ...data,
    label: 'Specular',
    phrase: 'specular',
    hint: 'strength of the reflection of what is not metal',
    values: 'share',
    channels: 1,
    neutral: 0.5,
    words: ['spec'],
  },
  displacement: {
    ...data,
    label: 'Displacement',
    phrase: 'displacement',
    hint: 'height in real units, as floats',
    values: 'length',
    channels: 1,
    neutral: 0,
    needsFloat: true,
    words: ['disp'],
  },
  mask: {
    ...data,
    label: 'Mask',
    phrase: 'mask',
    hint: 'where something applies',
    values: 'category',
    channels: 1,
    neutral: 0,
    words: [],
    isVague: true,
  },
  combined: {
    ...lit,
    label: 'Combined light',
    phrase: 'combined light',
    hint: 'all light that the surface sends',
    words: ['lit', 'combined_light', 'light_combined'],
  },
  direct: {
    ...lit,
    label: 'Direct light',
    phrase: 'direct light',
    hint: 'light that comes straight from lights and environment',
    words: ['direct_light', 'light_direct'],
  },
  indirect: {
    ...lit,
    label: 'Indirect light',
    phrase: 'indirect light',
    hint: 'light that comes by way of other surfaces',
    words: ['indirect_light', 'light_indirect'],
  },
  diffuselight: {
    ...lit,
    label: 'Diffuse light',
    phrase: 'diffuse light',
    hint: 'light that the surface scatters all around',
    words: ['diffuse_light', 'light_diffuse'],
  },
  diffusedirect: {
    ...lit,
    label: 'Diffuse direct light',
    phrase: 'diffuse direct light',
    hint: 'direct light, scattered all around',
    words: ['diffuse_direct'],
  },
  diffuseindirect: {
    ...lit,
    label: 'Diffuse indirect light',
    phrase: 'diffuse indirect light',
    hint: 'indirect light, scattered all around',
    words: ['diffuse_indirect'],
  },
  reflection: {
    ...lit,
    label: 'Reflection',
    phrase: 'reflection',
    hint: 'light that the surface mirrors',
    words: ['reflections'],
  },
  refraction: {
    ...lit,
    label: 'Refraction',
    phrase: 'refraction',
    hint: 'light that comes through the surface',
    words: ['refractions'],
  },
  emitted: {
    ...lit,
    label: 'Emitted light',
    phrase: 'emitted light',
    hint: 'light that the surface sends by itself',
    words: ['emitted_light', 'light_emission'],
  },
  irradiance: {
    ...lit,
    label: 'Irradiance',
    phrase: 'irradiance',
    hint: 'light that falls on the surface, without its colour',
    words: ['lightmap', 'light_map'],
  },
  lightdirection: {
    ...data,
    label: 'Light direction',
    phrase: 'light direction',
    hint: 'mean direction of the irradiance, in object space; longer the more it comes from one side',
    values: 'coordinate',
    channels: 3,
    neutral: 0,
    range: 'symmetric',
    needsFloat: true,
    words: ['light_direction', 'dominant_direction'],
  },
  shadow: {
    ...data,
    label: 'Shadow',
    phrase: 'shadow',
    hint: 'share of the light of lights that is blocked',
    values: 'share',
    channels: 1,
    neutral: 0,
    words: ['shadows'],
  },
  noisylight: {
    ...lit,
    label: 'Before denoising',
    phrase: 'combined light before denoising',
    hint: 'all light that the surface sends, with its noise',
    words: ['noisy_light'],
  },
  lightnoise: {
    ...lit,
    label: 'Noise',
    phrase: 'noise',
    hint: 'standard error of the combined light',
    channels: 1,
    words: ['light_noise', 'standard_error'],
  },
  lightgroupa: groupOf('A'),
  lightgroupb: groupOf('B'),
  lightgroupc: groupOf('C'),
  lightgroupd: groupOf('D'),
  lightgroupe: groupOf('E'),
  lightgroupf: groupOf('F'),
  lightgroupg: groupOf('G'),
  lightgrouph: groupOf('H'),
  maskred: { ...ownMask, label: 'Red mask', phrase: 'red mask', words: ['mask_red'] },
  maskgreen: { ...ownMask, label: 'Green mask', phrase: 'green mask', words: ['mask_green'] },
  maskblue: { ...ownMask, label: 'Blue mask', phrase: 'blue mask', words: ['mask_blue'] },
  maskalpha: { ...ownMask, label: 'Alpha mask', phrase: 'alpha mask', words: ['mask_alpha'] },
  image: {
    ...data,
    label: 'Other image',
    phrase: 'other image',
    hint: 'anything else',
    values: 'color',
    channels: 3,
    neutral: 0,
    words: [],
    isVague: true,
  },
} as const satisfies Record<string, MapKindDescriptor>;

/** The id of a kind of map. */
export type MapKind = keyof typeof MAP_KINDS;

/** The kinds that a bake can make: one run makes any number of them from the same rays. */
export type BakedKind = {
  [Kind in MapKind]: (typeof MAP_KINDS)[Kind]['isBaked'] extends true ? Kind : never;
}[MapKind];
