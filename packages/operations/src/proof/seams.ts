import type { Receiver } from '@zographos/core/bake';
import { describeKind, directionsOf } from '@zographos/core/image';
import { mendSeams, seamError, type SeamError, type TiledMap } from '@zographos/core/measure';
import type { BakePassSettings } from '../bake/settings.ts';
import type { BakeReport } from '../bake/report.ts';
import type { BakedTile } from '../bake/blocks/bakedTiles.ts';

/** Measures, and if asked mends, the seams of all maps of a bake. @returns the figures, and where seams differ */
export function proveSeams(
  receiver: Receiver,
  bakedTiles: readonly BakedTile[],
  settings: BakePassSettings,
): { seams: BakeReport['seams']; details: Record<string, SeamError> } {
  const seams: BakeReport['seams'] = {};
  const details: Record<string, SeamError> = {};
  settings.maps.forEach((kind, m) => {
    if (!describeKind(kind).hasSeams) return;
    const { image } = bakedTiles[0]!.maps[m]!;
    const directions = directionsOf(image);
    const map: TiledMap = {
      tiles: new Map(bakedTiles.map(({ tile, maps }) => [tile, maps[m]!.image])),
      tangentSpace: directions?.space === 'tangent' ? directions : null,
    };
    const { range = [0, 1] } = image;
    const scale = range[1] - range[0] || 1;
    let error = seamError(receiver, map, scale);
    if (error.points === 0) return;
    let before: number | null = null;
    if (settings.mend) {
      before = error.mean;
      mendSeams(receiver, map);
      error = seamError(receiver, map, scale);
    }
    seams[kind] = { mean: error.mean, worst: error.worst, before };
    details[kind] = error;
  });
  return { seams, details };
}
