import { layerById, type Layer } from '../stack.ts';

const BINS = 64;

/**
 * How often values occur in a plane, where the layout covers it.
 * @param plane values 0 to 1; those beyond count as the first or the last
 * @param width values of a texel; of colours it is their luma that counts (ITU-R BT.709)
 * @returns 64 counts, from 0 to 1
 */
export function histogramOf(plane: Float32Array, states: Uint8Array, width: 1 | 3): number[] {
  const bins = new Array<number>(BINS).fill(0);
  for (let i = 0; i < states.length; i++) {
    if (states[i] === 0) continue;
    const at = i * width;
    const value = width === 1 ? plane[at]! : 0.2126 * plane[at]! + 0.7152 * plane[at + 1]! + 0.0722 * plane[at + 2]!;
    const bin = Math.max(0, Math.min(BINS - 1, Math.floor(value * BINS)));
    bins[bin]!++;
  }
  return bins;
}

/** The layers that lie beneath one; in its group, those beneath the group and those beneath it there. */
export function layersBeneath(layers: readonly Layer[], id: string): Layer[] {
  const at = layers.findIndex((layer) => layer.id === id || (layer.content === 'group' && layerById(layer.layers, id)));
  if (at < 0) return [...layers];
  const own = layers[at]!;
  const below = layers.slice(0, at);
  if (own.id === id || own.content !== 'group') return below;
  return [...below, { ...own, layers: layersBeneath(own.layers, id) }];
}
