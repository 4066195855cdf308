import { measuredKindsOf, type Layer } from '@zographos/core/layers';
import { phraseOfKinds } from '@zographos/core/image';
import type { LayersAsk } from './layersMessages.ts';

/** The layers that have all they need, and what the others lack. */
export function sound(
  { layers, measured, materials }: LayersAsk['settings'],
  tile: number,
): { layers: Layer[]; problems: { id: string; message: string }[] } {
  const there = new Set(measured.filter((map) => map.tile === tile).map(({ kind }) => kind));
  const problems: { id: string; message: string }[] = [];
  const kept = (all: readonly Layer[]): Layer[] =>
    all.flatMap((layer): Layer[] => {
      if (layer.content === 'group') {
        const inner = { ...layer, layers: kept(layer.layers) };
        return lacks({ ...layer, layers: [] }) ? [] : [inner];
      }
      return lacks(layer) ? [] : [layer];
    });
  const lacks = (layer: Layer): boolean => {
    const kinds = measuredKindsOf([layer]).filter((kind) => !there.has(kind));
    let message = '';
    if (kinds.length > 0)
      message = `needs the ${phraseOfKinds(kinds)} map, which is not made yet. Run the stack to bake it.`;
    else if (layer.content === 'tiling' && Object.keys(materials[layer.material]?.maps ?? {}).length === 0) {
      message = 'has no material any more. Choose another.';
    }
    if (message) problems.push({ id: layer.id, message: `“${layer.name}” ${message}` });
    return message !== '';
  };
  return { layers: kept(layers), problems };
}
