import { NO_TWIN, sharedTriangles } from '@zographos/core/bake';
import { GLTF_NORMAL, isCategory, type ChannelPick, type MapKind, type Wrap } from '@zographos/core/image';
import { boundsOf, diagonal, type Mesh } from '@zographos/core/mesh';
import { sceneOf } from '@zographos/core/trace';
import { bakeSettings, DEFAULT_BAKE, type BakeOperationSettings } from './settings.ts';

export interface TransferOptions {
  size: BakeOperationSettings['size'];
  padding: BakeOperationSettings['padding'];
  /** Samples along each side of a texel; colours that stand for things are taken at its middle alone. */
  samples: number;
  /** UV sets of receiver and source. */
  uvSet: number;
  sourceUvSet: number;
  wrap: Wrap;
  /** `auto`: through shared triangles if all are, else by the nearest surface point. */
  aim: 'auto' | BakeOperationSettings['aim'];
  reach: BakeOperationSettings['reach'];
  normalY: 'up' | 'down';
}

/** A map that comes from an image, or from one of its channels. */
export interface MapToCarry {
  kind: MapKind;
  pick: ChannelPick | null;
}

/**
 * The bake that carries maps over from one layout to another: each map comes from one image that lies on the sources.
 * @param maps what the images hold, in the order of the ticket's pictures
 * @example bakeTicket({ settings: transferSettings(receivers, sources, [{ kind: 'basecolor', pick: null }], options), pictures, … })
 */
export function transferSettings(
  receivers: readonly Mesh[],
  sources: readonly Mesh[],
  maps: readonly MapToCarry[],
  { size, padding, samples, uvSet, sourceUvSet, wrap, aim, reach, normalY }: TransferOptions,
): BakeOperationSettings {
  const kinds = maps.map(({ kind }) => kind);
  const how = aim === 'auto' ? aimFor(receivers, sources) : aim;
  const extent = Math.max(...receivers.map(({ positions }) => diagonal(boundsOf(positions))));
  return bakeSettings.parse({
    ...DEFAULT_BAKE,
    maps: kinds,
    ...{ size, padding, uvSet, aim: how },
    samples: kinds.every(isCategory) ? 1 : samples,
    reach: how === 'rays' ? reach : { out: extent * 0.05, in: extent * 0.05 },
    pictures: Object.fromEntries(
      maps.map(({ kind, pick }, picture) => [kind, [{ picture, uvSet: sourceUvSet, wrap, ...(pick ? { pick } : {}) }]]),
    ),
    normal: { ...GLTF_NORMAL, y: normalY },
    prove: false,
  });
}

/** Meshes that are one but for their layouts share their triangles; else the nearest surface point is asked for. */
function aimFor(receivers: readonly Mesh[], sources: readonly Mesh[]): BakeOperationSettings['aim'] {
  return sharedTriangles(sceneOf(receivers), sceneOf(sources)).includes(NO_TWIN) ? 'nearest' : 'shared';
}
