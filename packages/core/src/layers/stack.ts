import type { Adjustment } from '../adjust/adjust.ts';
import type { ColorStop } from '../color/ramp.ts';
import type { BlendMode } from '../image/blend.ts';
import type { ColorBlendMode } from '../image/blendColor.ts';
import type { MapKind } from '../image/mapKinds.ts';
import type { SolidField } from '../pattern/solidField.ts';
import type { LayerChannel } from './channels.ts';
import { tilingOf, type Stroke } from './painting/stroke.ts';

/**
 * A stack of layers: what lies on a receiver, from the ground upwards. Lengths are in millimetres, angles in degrees,
 * shares 0 to 1, directions in the axes of the mesh.
 */
export interface Stack {
  /** Whether colours mix as they are seen (sRGB) or as light. */
  mixing: 'seen' | 'light';
  layers: readonly Layer[];
}

/** How values of one channel lie on those below. */
export type LayerBlend = BlendMode | ColorBlendMode;
/** Heights are added to what is below, take its place, or win where they are higher or lower. */
export const HEIGHT_BLENDS = ['add', 'replace', 'higher', 'lower'] as const;
export type HeightBlend = (typeof HEIGHT_BLENDS)[number];
/** Normals are laid over those below as detail, or take their place. */
export const NORMAL_BLENDS = ['detail', 'replace'] as const;
export type NormalBlend = (typeof NORMAL_BLENDS)[number];

export interface LayerBase {
  id: string;
  name: string;
  visible: boolean;
  opacity: number;
  /** Of colours and shares. */
  blend: LayerBlend;
  /** Of single channels, where they differ. */
  blends: Partial<Record<Exclude<LayerChannel, 'height' | 'normal'>, LayerBlend>>;
  heightBlend: HeightBlend;
  normalBlend: NormalBlend;
  mask: LayerMask;
}

export type Layer = LayerBase & LayerContent;

export type LayerContent =
  | PlainContent
  | TilingContent
  | PictureContent
  | FieldContent
  | PaintedContent
  | MapsContent
  | AdjustmentContent
  | GroupContent;

/** One value for each channel that it writes; colours as `#rrggbb`, heights in millimetres. */
export interface PlainContent {
  content: 'plain';
  values: Partial<Record<Exclude<LayerChannel, 'normal'>, number | string>>;
}

/** A tiling material at its size in the world. */
export interface TilingContent {
  content: 'tiling';
  /** Which of the stack's tiling materials. */
  material: number;
  channels: readonly LayerChannel[];
  projection: Projection;
  /** Size on the surface as a share of its real size. */
  scale: number;
  /** Turned about the direction it is projected along. */
  turn: number;
  /** Moved along its own axes. */
  offset: readonly [across: number, up: number];
  /** What gets another part of the material each, so that its repeats do not show. */
  varyBy: 'nothing' | 'part' | 'island';
  /** How strong its heights and normals are. */
  relief: number;
}

/** How places on the surface become places in a picture or a tiling material. */
export type Projection =
  | { by: 'uv' }
  /** Along all three axes, weighted by the normal. @param sharpness 1 blends widely, 16 hardly */
  | { by: 'triplanar'; sharpness: number }
  | { by: 'planar'; direction: Direction }
  | { by: 'cylinder'; axis: Direction };

export type Direction = readonly [x: number, y: number, z: number];

/** One picture, fitted to an island or projected onto the surface. */
export interface PictureContent {
  content: 'picture';
  picture: number;
  /** What its colours or its grey stand for. */
  channels: readonly LayerChannel[];
  place: PicturePlace;
  /** Height of white over black. */
  relief: number;
}

export type PicturePlace =
  /** Over the whole tile, as a picture that was painted over the UV guide. */
  | { on: 'layout' }
  /** Fitted into the box of an island, named by one of its triangles. */
  | { on: 'island'; triangle: number; turn: number; mirror: boolean; fill: boolean }
  /** Projected like a decal. @property angle beyond which it does not stick @property falloff over which it fades */
  | {
      on: 'surface';
      center: Direction;
      normal: Direction;
      up: Direction;
      width: number;
      height: number;
      depth: number;
      angle: number;
      falloff: number;
    };

/** A noise in space, as values of several channels. */
export interface FieldContent {
  content: 'field';
  field: SolidField;
  /** Colours from 0 to 1 of the noise. */
  ramp: readonly ColorStop[] | null;
  /** What 0 and 1 of the noise stand for. */
  values: Partial<Record<Exclude<LayerChannel, 'normal' | 'basecolor' | 'emission'>, readonly [number, number]>>;
}

/** What was painted by hand: strokes by their names, the first lowest. */
export interface PaintedContent {
  content: 'painted';
  channels: readonly LayerChannel[];
  strokes: readonly string[];
}

/** The image set's own maps as they are. */
export interface MapsContent {
  content: 'maps';
  channels: readonly LayerChannel[];
}

/** What lies beneath, changed. */
export interface AdjustmentContent {
  content: 'adjustment';
  channels: readonly LayerChannel[];
  steps: readonly Adjustment[];
}

/** Layers under one mask. */
export interface GroupContent {
  content: 'group';
  layers: readonly Layer[];
}

/** Where a layer lies: everywhere without any step. */
export interface LayerMask {
  steps: readonly MaskStep[];
  shaping: MaskShaping;
}

/** How a step is laid onto those before it; the first onto 1, or onto 0 if it is added. */
export const MASK_COMBINES = ['multiply', 'add', 'subtract', 'least', 'most', 'screen', 'replace'] as const;
export type MaskCombine = (typeof MASK_COMBINES)[number];

export interface MaskStepBase {
  combine: MaskCombine;
  invert: boolean;
  /** How much of the step counts. */
  strength: number;
}

export type MaskStep = MaskStepBase & MaskMeasure;
/** A step that can tell where a process begins: all but those processes themselves. */
export type SourceStep = MaskStepBase & SourceMeasure;

export type MaskMeasure = SourceMeasure | RunsMeasure | SpreadingMeasure;

export type SourceMeasure =
  | { measure: 'id'; colors: readonly string[]; tolerance: number }
  | { measure: 'slot'; slots: readonly string[] }
  | { measure: 'object'; objects: readonly string[] }
  /** Connected pieces of the mesh, each named by one of its triangles. */
  | { measure: 'part'; triangles: readonly number[] }
  /** How near a place is to such pieces: 1 where it touches them, 0 from a distance on. */
  | { measure: 'near'; triangles: readonly number[]; reach: number }
  /** Islands of the layout, each named by one of its triangles. */
  | { measure: 'island'; triangles: readonly number[] }
  | { measure: 'tile'; tiles: readonly number[] }
  /** @property of how many triangles the mesh had when they were picked */
  | { measure: 'faces'; ranges: readonly (readonly [from: number, to: number])[]; of: number }
  /** @property from, to the values that become 0 and 1; lengths in millimetres, curvature in 1/mm */
  | { measure: 'map'; map: MeasuredKind; from: number; to: number }
  | { measure: 'axis'; axis: Direction; from: number; to: number }
  | { measure: 'facing'; direction: Direction; angle: number; softness: number }
  | { measure: 'painted'; strokes: readonly string[] }
  | { measure: 'field'; field: SolidField }
  /** Tiled by a projection at a width; or lying once in a place, where there is one. */
  | {
      measure: 'picture';
      picture: number;
      channel: PictureChannel;
      projection: Projection;
      width: number;
      place: PicturePlace | null;
    }
  | WearMeasure
  | DustMeasure
  | SunFadeMeasure
  | WaterlineMeasure;

export type PictureChannel = 'grey' | 'red' | 'green' | 'blue' | 'alpha';

/** Maps that are measured on the geometry, which masks can go by. */
export const MEASURED_KINDS = [
  'curvature',
  'ao',
  'thickness',
  'height',
  'sky',
  'sun',
  'edges',
  'cavity',
  'gradient',
] as const satisfies readonly MapKind[];
export type MeasuredKind = (typeof MEASURED_KINDS)[number];

/** A field that breaks up what a process would leave too even. */
export interface Breakup {
  amount: number;
  field: SolidField;
}

/** Rubbed where edges are convex and open. */
export interface WearMeasure {
  measure: 'wear';
  /** Edges that are rounder than this are left alone. */
  radius: number;
  /** 0 fades slowly away from edges, 1 ends at once. */
  hardness: number;
  /** How much less is rubbed in places that little gets at. */
  sheltered: number;
  breakup: Breakup | null;
}

/** Lies where much of the sky is seen and the surface is level. */
export interface DustMeasure {
  measure: 'dust';
  /** 0.5 for as much as a place sees of the sky, 1 for twice that. */
  amount: number;
  /** Slopes steeper than this shed it. */
  angle: number;
  softness: number;
  /** Convex edges up to this radius are blown clean; 0 for none. */
  blownOff: number;
  breakup: Breakup | null;
}

/** Bleached where the sun shines on it over its path. */
export interface SunFadeMeasure {
  measure: 'sunFade';
  /** 0.5 for as much as a place gets of what one gets that always faces the sun, 1 for twice that. */
  amount: number;
  /** Shares of sunlight that do nothing yet. */
  threshold: number;
  breakup: Breakup | null;
}

/** Drops that run down the surface from where they start, and leave what they carry. */
export interface RunsMeasure {
  measure: 'runs';
  /** Where they start: everywhere without any step. */
  from: readonly SourceStep[];
  drops: number;
  /** Of the way over which a drop leaves all but 1 / e of what it carries. */
  length: number;
  /** Of a run. */
  width: number;
  /** How much a single run covers where it begins. */
  amount: number;
  down: Direction;
  /** How far unevenness leads drops aside, as its slope; and its width. */
  wander: number;
  wanderSize: number;
  /** Drops fall off surfaces that overhang by more than this. */
  clings: number;
  seed: number;
}

/** Grown outwards over the surface from seeds. */
export interface SpreadingMeasure {
  measure: 'spreading';
  /** Where seeds lie: everywhere without any step. */
  from: readonly SourceStep[];
  seeds: number;
  /** How far it has grown from a seed, along the surface. */
  reach: number;
  /** How much less of that single seeds have reached. */
  vary: number;
  /** Share of the reach over which it fades. */
  softness: number;
  /** How ragged the edge is, as a share of the reach, and how wide its waves are. */
  roughness: number;
  roughSize: number;
  seed: number;
}

/** Below a level along an axis, with a band above it that fades. */
export interface WaterlineMeasure {
  measure: 'waterline';
  axis: Direction;
  level: number;
  /** How far the edge runs up and down, and how wide its waves are. */
  ragged: number;
  raggedSize: number;
  /** Height of the fading band. */
  band: number;
  seed: number;
}

/** What is done to a mask after all its steps. */
export interface MaskShaping {
  levels: readonly [low: number, high: number];
  contrast: number;
  /** Over the surface. */
  blur: number;
  /** Grown by so much; shrunk below zero. */
  grow: number;
  breakup: Breakup | null;
  invert: boolean;
}

export const PLAIN_SHAPING: MaskShaping = {
  levels: [0, 1],
  contrast: 1,
  blur: 0,
  grow: 0,
  breakup: null,
  invert: false,
};

/** Whether shaping looks at more than one texel at a time. */
export const shapesNeighbours = ({ blur, grow }: MaskShaping): boolean => blur > 0 || grow !== 0;

/** All layers of a stack, those in groups too, the lowest first; a group comes before its own. */
export function* everyLayer(layers: readonly Layer[]): Generator<Layer> {
  for (const layer of layers) {
    yield layer;
    if (layer.content === 'group') yield* everyLayer(layer.layers);
  }
}

/** All steps of a mask, and those that tell where its processes begin. */
export function* everyStep({ steps }: LayerMask): Generator<MaskStep> {
  for (const step of steps) {
    yield step;
    if (step.measure === 'runs' || step.measure === 'spreading') yield* step.from;
  }
}

/** The layer of an id, whatever group it is in. */
export function layerById(layers: readonly Layer[], id: string): Layer | undefined {
  for (const layer of layers) {
    if (layer.id === id) return layer;
    const inner = layer.content === 'group' ? layerById(layer.layers, id) : undefined;
    if (inner) return inner;
  }
  return undefined;
}

/** The channels that a layer writes; those of a group are its layers'. */
export function channelsOf(layer: Layer): LayerChannel[] {
  switch (layer.content) {
    case 'plain':
      return Object.keys(layer.values) as LayerChannel[];
    case 'field':
      return [...(layer.ramp ? (['basecolor'] as const) : []), ...(Object.keys(layer.values) as LayerChannel[])];
    case 'group':
      return [...new Set(layer.layers.filter(({ visible }) => visible).flatMap(channelsOf))];
    default:
      return [...layer.channels];
  }
}

/** The pictures that layers use: of their content, of their masks, and of the brushes they are painted with. */
export function picturesOf(layers: readonly Layer[], strokes: ReadonlyMap<string, Stroke>): Set<number> {
  const numbers = new Set<number>();
  for (const { mask, ...layer } of everyLayer(layers)) {
    if (layer.content === 'picture') numbers.add(layer.picture);
    for (const step of everyStep(mask)) if (step.measure === 'picture') numbers.add(step.picture);
  }
  for (const name of strokesOf(layers)) {
    const picture = strokes.get(name)?.brush.picture;
    if (picture) numbers.add(picture.picture);
  }
  return numbers;
}

/** The tiling materials that layers lay down, and strokes of theirs. */
export function materialsOf(layers: readonly Layer[], strokes: ReadonlyMap<string, Stroke>): Set<number> {
  const numbers = new Set<number>();
  for (const layer of everyLayer(layers)) if (layer.content === 'tiling') numbers.add(layer.material);
  for (const name of strokesOf(layers)) {
    const stroke = strokes.get(name);
    const tiling = stroke && tilingOf(stroke);
    if (tiling) numbers.add(tiling.material);
  }
  return numbers;
}

/** The strokes that layers are painted with, by their names. */
export function strokesOf(layers: readonly Layer[]): string[] {
  const names = new Set<string>();
  for (const { mask, ...layer } of everyLayer(layers)) {
    if (layer.content === 'painted') for (const name of layer.strokes) names.add(name);
    for (const step of everyStep(mask))
      if (step.measure === 'painted') for (const name of step.strokes) names.add(name);
  }
  return [...names];
}

/** Maps of the image set that a stack cannot do without, in the order of the table of kinds. */
export function measuredKindsOf(layers: readonly Layer[]): MapKind[] {
  const kinds = new Set<MapKind>();
  for (const { mask, ...layer } of everyLayer(layers)) {
    if (layer.content === 'maps') for (const channel of layer.channels) kinds.add(channel);
    for (const step of everyStep(mask)) for (const kind of kindsOfStep(step)) kinds.add(kind);
  }
  return [...kinds];
}

function kindsOfStep(step: MaskStep): MapKind[] {
  switch (step.measure) {
    case 'id':
      return ['id'];
    case 'map':
      return [step.map];
    case 'wear':
      return step.sheltered > 0 ? ['curvature', 'ao'] : ['curvature'];
    case 'dust':
      return step.blownOff > 0 ? ['sky', 'curvature'] : ['sky'];
    case 'sunFade':
      return ['sun'];
    default:
      return [];
  }
}
