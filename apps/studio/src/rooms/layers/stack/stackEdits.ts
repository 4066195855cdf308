import { layerById, type Layer } from '@zographos/core/layers';

/** Changes of a list of layers, groups and all. Lists are never changed in place. */

/** With one layer replaced by others, or by none. */
function replaced(layers: readonly Layer[], id: string, by: (layer: Layer) => Layer[]): Layer[] {
  return layers.flatMap((layer) => {
    if (layer.id === id) return by(layer);
    return layer.content === 'group' ? [{ ...layer, layers: replaced(layer.layers, id, by) }] : [layer];
  });
}

export const changed = (layers: readonly Layer[], id: string, change: (layer: Layer) => Layer): Layer[] =>
  replaced(layers, id, (layer) => [change(layer)]);

export const removed = (layers: readonly Layer[], id: string): Layer[] => replaced(layers, id, () => []);

/** With a layer right above another, or uppermost. */
export const insertedAbove = (layers: readonly Layer[], id: string | null, layer: Layer): Layer[] =>
  id !== null && layerById(layers, id) ? replaced(layers, id, (below) => [below, layer]) : [...layers, layer];

/** The same layer under another id; of a group, its own too. */
export function withNewIds(layer: Layer, newId: () => string): Layer {
  const copy = { ...layer, id: newId() };
  return copy.content === 'group' ? { ...copy, layers: copy.layers.map((each) => withNewIds(each, newId)) } : copy;
}

export const copyOf = (layer: Layer, newId: () => string): Layer => ({
  ...withNewIds(layer, newId),
  name: `${layer.name}, copy`,
});

/**
 * With a layer moved up or down by one place: past its neighbour, into it if that is a group, or out of its own group at the
 * end of it.
 */
export function moved(layers: readonly Layer[], id: string, by: 1 | -1): Layer[] {
  const at = layers.findIndex((layer) => layer.id === id);
  if (at < 0) {
    return layers.flatMap((layer): Layer[] => {
      if (layer.content !== 'group') return [layer];
      const inner = layer.layers.findIndex((each) => each.id === id);
      const leaves = inner >= 0 && inner + by !== Math.max(0, Math.min(layer.layers.length - 1, inner + by));
      if (!leaves) return [{ ...layer, layers: moved(layer.layers, id, by) }];
      const group = { ...layer, layers: layer.layers.filter((each) => each.id !== id) };
      return by > 0 ? [group, layer.layers[inner]!] : [layer.layers[inner]!, group];
    });
  }
  const neighbour = layers[at + by];
  if (!neighbour) return [...layers];
  const rest = layers.filter((layer) => layer.id !== id);
  if (neighbour.content === 'group') {
    const inner = by > 0 ? [layers[at]!, ...neighbour.layers] : [...neighbour.layers, layers[at]!];
    return rest.map((layer) => (layer.id === neighbour.id ? { ...neighbour, layers: inner } : layer));
  }
  rest.splice(at + by, 0, layers[at]!);
  return rest;
}

/** With a layer put right above another one, or uppermost; a group cannot be put into itself. */
export function movedAbove(layers: readonly Layer[], id: string, target: string | null): Layer[] {
  const layer = layerById(layers, id);
  if (!layer || id === target) return [...layers];
  if (target !== null && layer.content === 'group' && layerById(layer.layers, target)) return [...layers];
  return insertedAbove(removed(layers, id), target, layer);
}

/** With a layer put into a group of its own. */
export const grouped = (layers: readonly Layer[], id: string, group: Layer & { content: 'group' }): Layer[] =>
  replaced(layers, id, (layer) => [{ ...group, layers: [layer] }]);
