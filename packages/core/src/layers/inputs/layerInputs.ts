import type { Image } from '../../image/image.ts';
import type { MapKind } from '../../image/mapKinds.ts';
import type { LayerChannel } from '../channels.ts';
import type { PreparedProcesses } from '../process/prepareProcesses.ts';
import type { CoverageMemory } from '../painting/coverageMemory.ts';
import type { Stroke } from '../painting/stroke.ts';

/** A tiling material, made ready to be looked up. */
export interface TilingMaterial {
  name: string;
  /** Of one tile in the world, in millimetres. */
  width: number;
  /**
   * Each map in full and halved again and again: colours as light, heights in millimetres, normals as unit vectors with Y
   * up.
   */
  maps: Partial<Record<LayerChannel, readonly Image[]>>;
}

/** What layers are made of beside the surface. All samples are shared by threads. */
export interface LayerInputs {
  /**
   * Maps of the image set at the size of the tile: lengths in millimetres, curvature in 1/mm, colours as light, normals as
   * unit vectors in tangent space with Y up.
   */
  measured: Partial<Record<MapKind, Image>>;
  materials: readonly TilingMaterial[];
  /** Pictures in full and halved again and again: colours as light, data as it is. */
  pictures: readonly (readonly Image[])[];
  /** Strokes by their names. */
  strokes: ReadonlyMap<string, Stroke>;
  /** Whole planes that were made before, where a layer needs more than one texel at a time; see `LayerPlan`. */
  planes: ReadonlyMap<string, Float32Array>;
  /** Of the stroke under the pen, while it grows. */
  underPen?: { name: string; memory: CoverageMemory };
  /** Processes that go over the whole surface; see `prepareProcesses`. */
  processes: PreparedProcesses;
}
