import type { BakedKind } from '../../image/image.ts';
import type { BakeSettings } from '../settings.ts';
import { coverageMap } from './coverageMap.ts';
import { heightMap } from './heightMap.ts';
import { idMap } from './idMap.ts';
import type { MapBaker } from './mapBaker.ts';
import { normalMap } from './normalMap.ts';
import { occlusionMaps } from './occlusionMaps.ts';
import { positionMap } from './positionMap.ts';
import { thicknessMap } from './thicknessMap.ts';
import { vertexMap } from './vertexMap.ts';

/** What is known of the source beside its shape, for the maps that show it. */
export interface SourceAttributes {
  /** Size of the scene in mesh units: the diagonal of its box. */
  extent: number;
  /** Mean curvature at each vertex, as the curvature map shows it. */
  curvature?: Float32Array;
  /** Linear r, g, b of the material at each vertex. */
  colors?: Float32Array;
  /** The piece that each triangle belongs to, and the linear r, g, b of each piece. */
  ids?: { pieces: Uint32Array; colors: Float32Array };
}

/** Values in each texel of a map. */
export const CHANNELS: Record<BakedKind, 1 | 3> = {
  normal: 3,
  height: 1,
  ao: 1,
  bent: 3,
  thickness: 1,
  curvature: 1,
  position: 3,
  id: 3,
  basecolor: 3,
  coverage: 1,
};

/** The bakers of a bake's maps, in their order. */
export function mapBakers(settings: BakeSettings, attributes: SourceAttributes): MapBaker[] {
  const { extent, curvature, colors, ids } = attributes;
  const occlusion = settings.maps.some((kind) => kind === 'ao' || kind === 'bent')
    ? occlusionMaps(settings, extent)
    : null;
  const make: Record<BakedKind, () => MapBaker> = {
    normal: () => normalMap(settings.normal),
    height: () => heightMap(),
    ao: () => occlusion!.ao,
    bent: () => occlusion!.bent,
    thickness: () => thicknessMap(settings, extent),
    curvature: () => vertexMap(curvature!, 1, 0),
    position: () => positionMap(),
    id: () => idMap(ids!.pieces, ids!.colors),
    basecolor: () => vertexMap(colors!, 3, 0.5),
    coverage: () => coverageMap(),
  };
  return settings.maps.map((kind) => make[kind]());
}
