import type { Receiver } from '@zographos/core/bake';
import { directionsOf, GLTF_NORMAL, type Image } from '@zographos/core/image';
import { likeness, type LikenessView } from '@zographos/core/measure';
import { hitBatch, type Tracer } from '@zographos/core/trace';
import type { BakePassSettings } from '../bake/settings.ts';
import type { BuiltScene } from '../scene/sceneCache.ts';
import { buildSceneTree, tracersOn } from '../scene/sceneTree.ts';
import type { BakedTile } from '../bake/blocks/bakedTiles.ts';

/** With more groups than this, looking at all of them takes longer than it is worth. */
const MOST_GROUPS = 64;

/** The source beside the receiver with its normal map; nothing where there is no normal map to wear that was baked from it. */
export function likenessOf(
  { scene, tracers }: BuiltScene,
  receiver: Receiver,
  bakedTiles: readonly BakedTile[],
  { maps, repeat, pictures }: BakePassSettings,
): LikenessView[] {
  const m = maps.indexOf('normal');
  // Normals of an image show what the source's surface has not.
  if (m < 0 || pictures.normal || repeat !== 'none' || tracers.length > MOST_GROUPS) return [];
  const { positions, normals, indices } = receiver;
  const body = { positions, normals, indices };
  const tiles = new Map(bakedTiles.map(({ tile, maps: images }): [number, Image] => [tile, images[m]!.image]));
  return likeness(
    { scene, tracer: tracers.length === 1 ? tracers[0]! : together(tracers) },
    { scene: body, tracer: tracersOn(buildSceneTree(body, 1), 0)[0]! },
    { receiver, tiles, space: directionsOf(bakedTiles[0]!.maps[m]!.image) ?? GLTF_NORMAL },
  );
}

/** Sees what any of several tracers sees. */
function together(tracers: readonly Tracer[]): Pick<Tracer, 'closestHits'> {
  return {
    closestHits(rays, hits, backFaces) {
      const other = hitBatch(rays.count);
      hits.triangles.fill(-1, 0, rays.count);
      for (const tracer of tracers) {
        tracer.closestHits(rays, other, backFaces);
        for (let r = 0; r < rays.count; r++) {
          const nearer = hits.triangles[r]! < 0 || other.distances[r]! < hits.distances[r]!;
          if (other.triangles[r]! < 0 || !nearer) continue;
          hits.triangles[r] = other.triangles[r]!;
          hits.distances[r] = other.distances[r]!;
          hits.weights[r * 2] = other.weights[r * 2]!;
          hits.weights[r * 2 + 1] = other.weights[r * 2 + 1]!;
        }
      }
    },
  };
}
