import type { BlendMode, ColorBlendMode } from '@zographos/core/image';
import type {
  HeightBlend,
  LayerContent,
  MaskCombine,
  MaskMeasure,
  NormalBlend,
  Projection,
  TilingContent,
} from '@zographos/core/layers';
import type { SolidNoise } from '@zographos/core/pattern';
import { BLEND_LABELS, type Label, type Labels } from '../labels.ts';

/** What a layer lays down. */
export const CONTENT_LABELS: Labels<LayerContent['content']> = {
  plain: { label: 'Plain value', hint: 'one value for each channel' },
  tiling: { label: 'Tiling material', hint: 'a finish or flat set at its real size' },
  picture: { label: 'Image', hint: 'one image on an island or projected as a decal' },
  field: { label: 'Procedural field', hint: 'a noise in object space, without seams' },
  painted: { label: 'Painted', hint: 'strokes painted by hand' },
  maps: { label: 'Maps of the set', hint: 'baked or imported maps as they are' },
  adjustment: { label: 'Adjustment', hint: 'changes everything beneath' },
  group: { label: 'Group', hint: 'layers under one mask' },
};

/** What a step of a mask measures. */
export const MEASURE_LABELS: Labels<MaskMeasure['measure']> = {
  wear: { label: 'Worn edges', hint: 'convex and open edges up to a radius' },
  dust: { label: 'Settled dust', hint: 'level places that see the sky' },
  runs: { label: 'Runs', hint: 'drops that run down and leave what they carry' },
  spreading: { label: 'Spreading', hint: 'grown outwards from seeds over the surface' },
  sunFade: { label: 'Sun fade', hint: 'bleached where the sun shines over a year' },
  waterline: { label: 'Waterline', hint: 'below a level, with a ragged edge' },
  slot: { label: 'Material slots', hint: 'parts of the mesh by their material' },
  object: { label: 'Objects', hint: 'meshes that share the layout' },
  part: { label: 'Connected parts', hint: 'pieces of the mesh that hang together' },
  near: { label: 'Near a part', hint: 'distance to another piece of the mesh' },
  island: { label: 'UV islands' },
  tile: { label: 'UDIM tiles' },
  faces: { label: 'Faces', hint: 'picked triangles' },
  id: { label: 'ID colours', hint: 'colours of the ID map' },
  map: { label: 'Measured map', hint: 'curvature, occlusion, thickness, height' },
  axis: { label: 'Position along an axis' },
  facing: { label: 'Facing a direction' },
  painted: { label: 'Painted', hint: 'strokes painted by hand' },
  field: { label: 'Procedural field', hint: 'a noise in object space' },
  picture: { label: 'Image', hint: 'an image as a grey mask' },
};

/** How steps of a mask are combined. */
export const COMBINE_LABELS: Labels<MaskCombine> = {
  multiply: { label: 'Multiply' },
  add: { label: 'Add' },
  subtract: { label: 'Subtract' },
  least: { label: 'Minimum' },
  most: { label: 'Maximum' },
  screen: { label: 'Screen' },
  replace: { label: 'Replace' },
};

/** Blend modes of layers: those for values, and those for whole colours. */
export const LAYER_BLEND_LABELS: Labels<BlendMode | ColorBlendMode> = {
  ...BLEND_LABELS,
  hue: { label: 'Hue' },
  saturation: { label: 'Saturation' },
  color: { label: 'Colour' },
  luminosity: { label: 'Luminosity' },
};

export const HEIGHT_BLEND_LABELS: Labels<HeightBlend> = {
  add: { label: 'Add' },
  replace: { label: 'Replace' },
  higher: { label: 'Maximum' },
  lower: { label: 'Minimum' },
};

export const NORMAL_BLEND_LABELS: Labels<NormalBlend> = {
  detail: { label: 'Add as detail', hint: 'reoriented normal mapping' },
  replace: { label: 'Replace' },
};

export const PROJECTION_LABELS: Readonly<Record<Projection['by'], Label & { phrase: string }>> = {
  uv: { label: 'UVs', phrase: 'by UVs' },
  triplanar: { label: 'Triplanar', phrase: 'triplanar' },
  planar: { label: 'Planar', phrase: 'planar' },
  cylinder: { label: 'Cylindrical', phrase: 'cylindrical' },
};

export const VARY_LABELS: Labels<TilingContent['varyBy']> = {
  nothing: { label: 'The same everywhere' },
  part: { label: 'Another offset for each part' },
  island: { label: 'Another offset for each island' },
};

export const SOLID_NOISE_LABELS: Labels<SolidNoise> = {
  'gradient-noise': { label: 'Gradient noise' },
  'simplex-noise': { label: 'Simplex noise' },
  cells: { label: 'Cells' },
  cracks: { label: 'Cracks' },
};
