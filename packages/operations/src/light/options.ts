import { describeKind, type MapKind } from '@zographos/core/image';
import type { SKIES, VIEW_TRANSFORMS } from '@zographos/core/light';
import type { Label, Labels } from '../labels.ts';

/** Pictures that one run can make of light. */
export const LIGHT_PASSES = [
  'combined',
  'direct',
  'indirect',
  'diffuse',
  'diffuse-direct',
  'diffuse-indirect',
  'reflection',
  'refraction',
  'emission',
  'shadow',
  'sky',
  'irradiance',
  /** The main direction that irradiance comes from. */
  'direction',
  /** The combined light before noise was taken out. */
  'noisy',
  /** Standard error of the combined light. */
  'noise',
  /** One for each light group. */
  'groups',
] as const;
export type LightPass = (typeof LIGHT_PASSES)[number];

/** The kind of map that each pass is kept as. */
export const KIND_OF_PASS = {
  combined: 'combined',
  direct: 'direct',
  indirect: 'indirect',
  diffuse: 'diffuselight',
  'diffuse-direct': 'diffusedirect',
  'diffuse-indirect': 'diffuseindirect',
  reflection: 'reflection',
  refraction: 'refraction',
  emission: 'emitted',
  shadow: 'shadow',
  sky: 'sky',
  irradiance: 'irradiance',
  direction: 'lightdirection',
  noisy: 'noisylight',
  noise: 'lightnoise',
} as const satisfies Record<Exclude<LightPass, 'groups'>, MapKind>;

/** The kinds of map that light groups are kept as, in their order. */
export const GROUP_KINDS = [
  ...['lightgroupa', 'lightgroupb', 'lightgroupc', 'lightgroupd'],
  ...['lightgroupe', 'lightgroupf', 'lightgroupg', 'lightgrouph'],
] as readonly MapKind[];

const ofKind = (pass: keyof typeof KIND_OF_PASS): Label => {
  const { label, hint } = describeKind(KIND_OF_PASS[pass]);
  return { label, hint };
};

/** Passes by the labels of the maps that they are kept as. */
export const PASS_LABELS: Labels<LightPass> = {
  combined: ofKind('combined'),
  direct: ofKind('direct'),
  indirect: ofKind('indirect'),
  diffuse: ofKind('diffuse'),
  'diffuse-direct': ofKind('diffuse-direct'),
  'diffuse-indirect': ofKind('diffuse-indirect'),
  reflection: ofKind('reflection'),
  refraction: ofKind('refraction'),
  emission: ofKind('emission'),
  shadow: ofKind('shadow'),
  sky: ofKind('sky'),
  irradiance: ofKind('irradiance'),
  direction: ofKind('direction'),
  noisy: ofKind('noisy'),
  noise: ofKind('noise'),
  groups: { label: 'Light groups', hint: 'one map for each, to be mixed without a new run' },
};

/** Lights that are placed. */
export const LIGHT_LABELS: Labels<'sun' | 'point' | 'sphere' | 'disk' | 'rectangle' | 'spot'> = {
  sun: { label: 'Sun', hint: 'from one side of the sky' },
  point: { label: 'Point light', hint: 'without size, all around' },
  sphere: { label: 'Sphere light', hint: 'a ball that shines' },
  disk: { label: 'Disk light', hint: 'a disk that shines to one side' },
  rectangle: { label: 'Rectangle light', hint: 'a rectangle that shines to one side' },
  spot: { label: 'Spot light', hint: 'without size, within a cone' },
};

/** What lies all around. */
export const ENVIRONMENT_LABELS: Labels<(typeof SKIES)[number] | 'none' | 'picture'> = {
  none: { label: 'No environment' },
  uniform: { label: 'Uniform sky', hint: 'the same from everywhere' },
  overcast: { label: 'Overcast sky', hint: 'three times as bright overhead as at the horizon (CIE)' },
  clear: { label: 'Clear sky', hint: 'blue, without its sun, which is a light of its own' },
  studio: { label: 'Studio', hint: 'bright panels in a dark room' },
  picture: { label: 'An image', hint: 'longitude across, the zenith at the top' },
};

/** Which sides of the receiver are looked at. */
export const FACES_LABELS: Labels<'front' | 'back' | 'both'> = {
  front: { label: 'Front' },
  back: { label: 'Back' },
  both: { label: 'Both sides' },
};

/** What meshes are made of. */
export const LIT_MATERIAL_LABELS: Labels<'mesh' | 'maps'> = {
  mesh: { label: 'Materials of the meshes' },
  maps: { label: 'Maps of their image sets', hint: 'baked and layered maps, where a mesh has some' },
};

/** How light becomes a picture for a screen. */
export const VIEW_TRANSFORM_LABELS: Labels<(typeof VIEW_TRANSFORMS)[number]> = {
  srgb: { label: 'Plain sRGB', hint: 'cuts off what is brighter than white' },
  filmic: { label: 'Filmic', hint: 'rolls bright light off' },
};
