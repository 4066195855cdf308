import type { Receiver } from '@zographos/core/bake';
import type { BakedKind } from '@zographos/core/image';
import { mendSeams, seamError, type SeamError, type TiledMap } from '@zographos/core/measure';
import type { BakeOperationSettings } from '../bake/settings.ts';
import type { RunReport } from '../report.ts';
import type { Sheet } from '../bake/blocks/bakedTiles.ts';

/** Maps whose two sides have nothing to agree on. */
const APART: readonly BakedKind[] = ['id', 'coverage', 'guide', 'facing'];

/** Measures, and if asked mends, the seams of all maps of a bake. @returns the figures, and where seams differ */
export function proveSeams(
  receiver: Receiver,
  sheets: readonly Sheet[],
  settings: BakeOperationSettings,
): { seams: RunReport['seams']; details: Record<string, SeamError> } {
  const seams: RunReport['seams'] = {};
  const details: Record<string, SeamError> = {};
  settings.maps.forEach((kind, m) => {
    if (APART.includes(kind)) return;
    const isDirection = kind === 'normal' || kind === 'bent';
    const map: TiledMap = {
      tiles: new Map(sheets.map(({ tile, maps }) => [tile, maps[m]!.image])),
      tangentSpace: isDirection && settings.normal.space === 'tangent' ? settings.normal : null,
    };
    const { range = [0, 1] } = sheets[0]!.maps[m]!.image;
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
