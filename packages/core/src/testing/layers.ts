import type { LayerChannel } from '../layers/channels.ts';
import { composeTile } from '../layers/compose/composeTile.ts';
import { onThisThread } from '../layers/compose/onThisThread.ts';
import type { LayerInputs } from '../layers/inputs/layerInputs.ts';
import { PLAIN_SHAPING, type Layer, type LayerBase } from '../layers/stack.ts';
import { layeredTile, type LayeredSurface } from '../layers/surface/layeredSurface.ts';

/** Of layers that are made of nothing but themselves. */
export const NO_INPUTS: LayerInputs = {
  ...{ measured: {}, materials: [], pictures: [] },
  ...{ strokes: new Map(), planes: new Map(), processes: new Map() },
};

/** What a layer has beside its content. */
export const layerBase = (id: string): LayerBase => ({
  ...{ id, name: id, visible: true, opacity: 1, blend: 'normal', blends: {} },
  ...{ heightBlend: 'add', normalBlend: 'detail', mask: { steps: [], shaping: PLAIN_SHAPING } },
});

/** The maps of one tile with these layers. */
export async function composed(
  layers: readonly Layer[],
  channels: readonly LayerChannel[],
  surface: LayeredSurface,
  side: number,
  made: Partial<LayerInputs> = {},
): Promise<Awaited<ReturnType<typeof composeTile>>> {
  const tile = layeredTile(surface, 1001, { width: side, height: side });
  return composeTile({ mixing: 'seen', layers }, channels, {
    ...{ tile, inputs: { ...NO_INPUTS, ...made } },
    options: { doBlocks: onThisThread(tile, 'seen') },
  });
}
