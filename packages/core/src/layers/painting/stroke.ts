import { LAYER_CHANNELS, type LayerChannel } from '../channels.ts';
import type { Direction, TilingContent } from '../stack.ts';

/**
 * A stroke as it was painted: places on the surface, in the space of the object, and the brush. It is drawn again at any
 * size, and after a new UV layout it is where it was.
 */
export interface Stroke {
  brush: Brush;
  paint: Paint;
  /**
   * Seven numbers for each point the pen was told at: x, y, z in millimetres, the unit normal of the surface there, and
   * pressure 0 to 1.
   */
  points: Float32Array;
  /** Turns what is random in the brush. */
  seed: number;
}

/** Numbers of a point of a stroke. */
export const POINT = 7;

/**
 * What a stroke does: lays paint on, takes away what was painted, fills faces, or works on what lies beneath: softens it,
 * draws it along, or lays on what lies elsewhere.
 */
export const BRUSH_TOOLS = ['paint', 'erase', 'fill', 'blur', 'smear', 'clone'] as const;
export type BrushTool = (typeof BRUSH_TOOLS)[number];

export interface Brush {
  tool: BrushTool;
  /** Of a dab, in millimetres on the surface. */
  radius: number;
  /** Share of the radius over which a dab is whole; beyond it fades to nothing at the rim. */
  hardness: number;
  /** How strong the stroke becomes at most, however often it goes over a place. */
  strength: number;
  /** How much each dab adds. */
  flow: number;
  /** From dab to dab, as a share of the radius. */
  spacing: number;
  /** How far dabs stray from the line, as a share of the radius. */
  scatter: number;
  /** What differs from dab to dab; the rest is steady. */
  varies: Partial<Record<Varying, Variation>>;
  picture: BrushPicture | null;
  symmetry: Symmetry | null;
  /** Of filling: what belongs to a face that was clicked. */
  fill: FillReach;
  /** Of filling by angle: the steepest edge that is gone over, in degrees. */
  fillAngle: number;
  /** Of cloning: where what is laid on lies, as a step from where it is laid, in millimetres. */
  from: Direction;
}

/** What of a brush can differ from dab to dab. */
export const VARYING = ['radius', 'strength', 'flow', 'spacing', 'scatter'] as const;
export type Varying = (typeof VARYING)[number];

/** Between all of what the brush says and a least share of it: at random, or by how hard the pen is pressed. */
export interface Variation {
  by: 'random' | 'pressure';
  /** The least share of it, 0 to 1. */
  least: number;
}

/** A picture on a brush. */
export interface BrushPicture {
  /** Which of the stack's pictures. */
  picture: number;
  /** Taken anew for each dab, tiled over the surface, or fixed over the view as a stencil. */
  lies: 'dab' | 'surface' | 'view';
  /**
   * Its grey, or its alpha where it has one, shapes the dab; or its colours are the paint; or they are normals with Y up,
   * which turn with the dab, or lie as the picture does.
   */
  gives: 'shape' | 'colour' | 'normal';
  /**
   * Of one for each dab: the same way up, along the stroke, another way each time, or by pressure up to a whole turn; and
   * by how much more, in degrees.
   */
  turn: 'fixed' | 'along' | 'random' | 'pressure';
  angle: number;
  /** Of one that is tiled: its width in millimetres. */
  width: number;
  /** Of a stencil: rows that turn a place (x, y, z, 1) in millimetres into u · w, v · w and w, v upwards. */
  view: readonly number[];
}

/** Strokes that are painted several times at once, about a place in the space of the object. */
export type Symmetry =
  | { by: 'mirror'; axis: 0 | 1 | 2; at: number }
  /** Turned about an axis through a place. */
  | { by: 'turn'; axis: 0 | 1 | 2; at: Direction; times: number };

/** The face alone, those beyond edges that are not too steep, or all of its part, island, slot or object. */
export const FILL_REACHES = ['face', 'angle', 'part', 'island', 'slot', 'object'] as const;
export type FillReach = (typeof FILL_REACHES)[number];

/**
 * What a stroke lays down: a value for each channel it writes, colours as `#rrggbb`; a tiling material, which lies still
 * while strokes uncover it; of a mask, its grey.
 */
export type Paint = PaintedValues | { tiling: TilingPaint } | { grey: number };
export type PaintedValues = Partial<Record<Exclude<LayerChannel, 'normal'>, number | string>>;
export type TilingPaint = Omit<TilingContent, 'content'>;

export const PLAIN_BRUSH: Brush = {
  tool: 'paint',
  radius: 10,
  hardness: 0.5,
  strength: 1,
  flow: 1,
  spacing: 0.25,
  scatter: 0,
  varies: { strength: { by: 'pressure', least: 0 } },
  picture: null,
  symmetry: null,
  fill: 'face',
  fillAngle: 30,
  from: [0, 0, 0],
};

/** Whether a stroke works on what lies beneath, rather than laying something over it. */
export const isRetouching = ({ brush }: Pick<Stroke, 'brush'>): boolean =>
  brush.tool === 'blur' || brush.tool === 'smear' || brush.tool === 'clone';

/** The tiling material that a stroke lays down; null of one that lays down values. */
export const tilingOf = ({ paint }: Pick<Stroke, 'paint'>): TilingPaint | null =>
  'tiling' in paint && typeof paint.tiling === 'object' ? paint.tiling : null;

/** The channels that a stroke writes. */
export function channelsOfStroke(stroke: Pick<Stroke, 'brush' | 'paint'>): LayerChannel[] {
  const { paint, brush } = stroke;
  const laid = tilingOf(stroke)?.channels ?? (Object.keys(paint) as LayerChannel[]);
  return LAYER_CHANNELS.filter(
    (channel) =>
      laid.includes(channel) ||
      (channel === 'basecolor' && brush.picture?.gives === 'colour') ||
      (channel === 'normal' && givesNormals(stroke)),
  );
}

/** Whether a stroke stamps normals of the picture on its brush. */
export const givesNormals = ({ brush: { picture } }: Pick<Stroke, 'brush'>): boolean => picture?.gives === 'normal';
