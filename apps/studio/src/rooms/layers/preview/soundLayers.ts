import {
  everyStep,
  materialsOf,
  measuredKindsOf,
  picturesOf,
  type Layer,
  type LayerInputs,
} from '@zographos/core/layers';
import { phraseOfKinds, type MapKind } from '@zographos/core/image';
import type { LayersAsk } from './layersMessages.ts';

/** What is there for layers to be made of. */
export interface There {
  tile: number;
  /** How many triangles the surface has. */
  triangles: number;
  strokes: LayerInputs['strokes'];
}

/** The layers that have all they need, and what the others lack. */
export function sound(
  { settings, pictures }: Pick<LayersAsk, 'settings' | 'pictures'>,
  there: There,
): { layers: Layer[]; problems: { id: string; message: string }[] } {
  const problems: { id: string; message: string }[] = [];
  const made = new Set(settings.measured.filter(({ tile }) => tile === there.tile).map(({ kind }) => kind));
  const lacks = (layer: Layer): boolean => {
    const lack = lackOf(layer, made, settings.materials, pictures, there);
    if (lack) problems.push({ id: layer.id, message: `“${layer.name}” ${lack}` });
    return lack !== null;
  };
  const kept = (all: readonly Layer[]): Layer[] =>
    all.flatMap((layer): Layer[] => {
      if (layer.content !== 'group') return lacks(layer) ? [] : [layer];
      const inner = { ...layer, layers: kept(layer.layers) };
      return lacks({ ...layer, layers: [] }) ? [] : [inner];
    });
  return { layers: kept(settings.layers), problems };
}

/** What a layer lacks, and the way out; null for one that has all it needs. */
function lackOf(
  layer: Layer,
  made: ReadonlySet<MapKind>,
  materials: LayersAsk['settings']['materials'],
  pictures: LayersAsk['pictures'],
  { triangles, strokes }: There,
): string | null {
  const kinds = measuredKindsOf([layer]).filter((kind) => !made.has(kind));
  if (kinds.length > 0)
    return `needs the ${phraseOfKinds(kinds)} map, which is not made yet. Run the stack to bake it.`;
  if ([...materialsOf([layer], strokes)].some((number) => Object.keys(materials[number]?.maps ?? {}).length === 0)) {
    return layer.content === 'tiling'
      ? 'has no material any more. Choose another.'
      : 'is painted with a material that has no maps any more. Run its flat set again, or undo these strokes.';
  }
  if ([...picturesOf([layer], strokes)].some((number) => (pictures[number]?.[1] ?? '') === '')) {
    return 'is made of an image that is not in the project any more. Choose another, or import it again.';
  }
  for (const step of everyStep(layer.mask)) {
    if (step.measure === 'faces' && step.of !== triangles)
      return `lies on faces that were picked on a mesh of ${step.of} triangles; it now has ${triangles}. Pick them again, or bring back the earlier mesh.`;
  }
  return null;
}
