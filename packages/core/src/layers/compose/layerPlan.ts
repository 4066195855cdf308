import { adjustsNeighbours } from '../content/adjustmentContent.ts';
import { isRetouching, type Stroke } from '../painting/stroke.ts';
import {
  PLAIN_SHAPING,
  shapesNeighbours,
  type AdjustmentContent,
  type Layer,
  type LayerBase,
  type PaintedContent,
} from '../stack.ts';

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
  /** Keeps what lies beneath a group or a retouching layer, and mixes what it has become with it by the group's mask. */
  | { do: 'keep'; layer: Layer }
  | { do: 'mix'; layer: Layer }
  /** Does one stroke to all that lies beneath. */
  | { do: 'retouch'; layer: LayerBase & PaintedContent; stroke: Stroke };

/** The stages of a stack's visible layers. @param strokes that they are painted with, by name */
export function layerPlan(layers: readonly Layer[], strokes: ReadonlyMap<string, Stroke>): LayerStage[] {
  const stages: LayerStage[] = [];
  let together: Layer[] = [];
  const flush = (): void => {
    if (together.length > 0) stages.push({ do: 'lay', layers: together });
    together = [];
  };
  for (const layer of layers) {
    if (!layer.visible || layer.opacity === 0) continue;
    if (isByTexel(layer, strokes)) {
      together.push(layer);
      continue;
    }
    // One plane at a time: what is laid on before need not wait for it.
    flush();
    if (shapesNeighbours(layer.mask.shaping)) stages.push({ do: 'mask', layer });
    if (layer.content === 'group' && !layer.layers.every((each) => isByTexel(each, strokes))) {
      stages.push({ do: 'keep', layer }, ...layerPlan(layer.layers, strokes), { do: 'mix', layer });
      continue;
    }
    if (layer.content === 'painted' && retouches(layer, strokes)) {
      stages.push({ do: 'keep', layer }, ...strokeStages(layer, strokes), { do: 'mix', layer });
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
const isByTexel = (layer: Layer, strokes: ReadonlyMap<string, Stroke>): boolean =>
  !layer.visible ||
  (!shapesNeighbours(layer.mask.shaping) &&
    (layer.content !== 'adjustment' || !adjustsNeighbours(layer)) &&
    (layer.content !== 'group' || layer.layers.every((each) => isByTexel(each, strokes))) &&
    (layer.content !== 'painted' || !retouches(layer, strokes)));

function retouches({ strokes: names }: PaintedContent, strokes: ReadonlyMap<string, Stroke>): boolean {
  return names.some((name) => {
    const stroke = strokes.get(name);
    return stroke && isRetouching(stroke);
  });
}

/** Strokes one after the other: those that lay paint on together, as a layer of its own that lies everywhere. */
function strokeStages(layer: LayerBase & PaintedContent, strokes: ReadonlyMap<string, Stroke>): LayerStage[] {
  const stages: LayerStage[] = [];
  let laid: string[] = [];
  const flush = (): void => {
    const whole = { ...layer, opacity: 1, mask: { steps: [], shaping: PLAIN_SHAPING }, strokes: laid };
    if (laid.length > 0) stages.push({ do: 'lay', layers: [whole] });
    laid = [];
  };
  for (const name of layer.strokes) {
    const stroke = strokes.get(name);
    if (stroke && (isRetouching(stroke) || stroke.brush.tool === 'erase')) {
      flush();
      stages.push({ do: 'retouch', layer, stroke });
    } else laid.push(name);
  }
  flush();
  return stages;
}
