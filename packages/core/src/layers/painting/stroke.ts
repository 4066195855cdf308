import type { LayerChannel } from '../channels.ts';

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

export interface Brush {
  /** Lays paint on, or takes away what has been painted. */
  tool: 'paint' | 'erase';
  /** Of a dab, in millimetres on the surface. */
  radius: number;
  /** Share of the radius over which a dab is whole; beyond it fades to nothing at the rim. */
  hardness: number;
  /** How strong the stroke becomes at most. */
  strength: number;
  /** How much each dab adds. */
  flow: number;
  /** From dab to dab, as a share of the radius. */
  spacing: number;
  /** How far dabs stray from the line, as a share of the radius. */
  scatter: number;
  /** What pressure changes. */
  pressure: { radius: boolean; strength: boolean };
}

/** What a stroke lays down: a value for each channel it writes, colours as `#rrggbb`; of a mask, its grey. */
export type Paint = Partial<Record<Exclude<LayerChannel, 'normal'>, number | string>> | { grey: number };

export const PLAIN_BRUSH: Brush = {
  tool: 'paint',
  radius: 10,
  hardness: 0.5,
  strength: 1,
  flow: 1,
  spacing: 0.25,
  scatter: 0,
  pressure: { radius: false, strength: true },
};
