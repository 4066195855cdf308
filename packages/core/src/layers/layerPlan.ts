import { adjustsNeighbours } from './content/adjustmentContent.ts';
import { shapesNeighbours, type AdjustmentContent, type GroupContent, type Layer, type LayerBase } from './stack.ts';

/**
 * What is done one after the other to compose a stack. Most layers go texel by texel, several of them in one pass over the
 * blocks; what looks further needs whole planes, which are made before and dropped after.
 */
export type LayerStage =
  /** Lays layers on, block by block. */
  | { do: 'lay'; layers: readonly Layer[] }
  /** Makes the mask of a layer as a plane, grown and blurred. */
  | { do: 'mask'; layer: Layer }
  /** Adjusts all that lies beneath as planes, one for each channel. */
  | { do: 'adjust'; layer: LayerBase & AdjustmentContent }
  /** Keeps what lies beneath a group, and mixes what it has become with it by the group's mask. */
  | { do: 'keep'; layer: LayerBase & GroupContent }
  | { do: 'mix'; layer: LayerBase & GroupContent };

/** The stages of a stack's visible layers. */
export function layerPlan(layers: readonly Layer[]): LayerStage[] {
  const stages: LayerStage[] = [];
  let together: Layer[] = [];
  const flush = (): void => {
    if (together.length > 0) stages.push({ do: 'lay', layers: together });
    together = [];
  };
  for (const layer of layers) {
    if (!layer.visible || layer.opacity === 0) continue;
    if (isByTexel(layer)) {
      together.push(layer);
      continue;
    }
    // One plane at a time: what is laid on before need not wait for it.
    flush();
    if (shapesNeighbours(layer.mask.shaping)) stages.push({ do: 'mask', layer });
    if (layer.content === 'group' && !layer.layers.every(isByTexel)) {
      stages.push({ do: 'keep', layer }, ...layerPlan(layer.layers), { do: 'mix', layer });
      continue;
    }
    if (layer.content === 'adjustment' && adjustsNeighbours(layer)) stages.push({ do: 'adjust', layer });
    together.push(layer);
    flush();
  }
  flush();
  return stages;
}

/** Whether a layer can be laid on block by block without anything made before. */
const isByTexel = (layer: Layer): boolean =>
  !layer.visible ||
  (!shapesNeighbours(layer.mask.shaping) &&
    (layer.content !== 'adjustment' || !adjustsNeighbours(layer)) &&
    (layer.content !== 'group' || layer.layers.every(isByTexel)));
