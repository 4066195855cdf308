import { describeKind } from '../../image/kindMeaning.ts';
import type { BakedKind } from '../../image/mapKinds.ts';
import { PLAIN_MATERIAL } from '../../mesh/material.ts';
import type { Size } from '../../math/size.ts';
import type { Receiver } from '../receiver.ts';
import type { BakeSettings } from '../settings.ts';
import type { MaterialReader, SourceMaterials } from '../source/sourceMaterials.ts';
import type { BakeStatistics } from '../statistics.ts';
import { coverageMap } from './coverageMap.ts';
import { curvatureMap } from './curvatureMap.ts';
import { facingMap } from './facingMap.ts';
import { gradientMap } from './gradientMap.ts';
import { guideMap } from './guideMap.ts';
import { heightMap } from './heightMap.ts';
import { idMap, type SourcePieces } from './idMap.ts';
import type { MapBaker } from './mapBaker.ts';
import { materialMap } from './materialMap.ts';
import { normalMap } from './normalMap.ts';
import { occlusionMaps } from './occlusionMaps.ts';
import { positionMap } from './positionMap.ts';
import { skyMap } from './skyMap.ts';
import { sunMap } from './sunMap.ts';
import { thicknessMap } from './thicknessMap.ts';

/** What is known of the source beside its shape, for the maps that show it. */
export interface SourceAttributes {
  /** Size of the scene in mesh units: the diagonal of its box. */
  extent: number;
  /** Mean curvature at each vertex, as the curvature map shows it. */
  curvature?: Float32Array;
  materials?: SourceMaterials;
  ids?: SourcePieces;
}

/** What the bakers of a bake's maps are made from. */
export interface BakerSetting {
  settings: BakeSettings;
  attributes: SourceAttributes;
  receiver: Receiver;
  size: Size;
  materials: MaterialReader | null;
  statistics: BakeStatistics;
}

/** The bakers of a bake's maps, in their order. */
export function mapBakers({ settings, attributes, receiver, size, materials, statistics }: BakerSetting): MapBaker[] {
  const { extent, curvature, ids } = attributes;
  const occlusion = settings.maps.some((kind) => describeKind(kind).fans === 'above')
    ? occlusionMaps(settings, extent, statistics.noise)
    : null;
  const make: Record<BakedKind, () => MapBaker> = {
    normal: () => normalMap(settings.normal),
    height: () => heightMap(),
    ao: () => occlusion!.ao,
    bent: () => occlusion!.bent,
    sky: () => skyMap(settings, extent),
    sun: () => sunMap(settings, extent),
    thickness: () => thicknessMap(settings, extent),
    curvature: () => curvatureMap(curvature!),
    position: () => positionMap(),
    gradient: () => gradientMap(settings.gradient),
    facing: () => facingMap(),
    id: () => idMap(ids!),
    basecolor: () => materialMap('basecolor', materials!, PLAIN_MATERIAL.baseColor),
    roughness: () => materialMap('roughness', materials!, [PLAIN_MATERIAL.roughness]),
    metallic: () => materialMap('metallic', materials!, [PLAIN_MATERIAL.metallic]),
    opacity: () => materialMap('opacity', materials!, [PLAIN_MATERIAL.opacity]),
    emission: () => materialMap('emission', materials!, PLAIN_MATERIAL.emission),
    coverage: () => coverageMap(),
    guide: () => guideMap(receiver, size),
  };
  return settings.maps.map((kind) => make[kind]());
}
