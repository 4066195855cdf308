import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { layerById, type Layer } from '@zographos/core/layers';
import type { ImageSet, LayersTicket } from '@zographos/contracts';
import type { LayersSettings } from '@zographos/operations';
import { useProject } from '../../../stores/project.ts';
import { emptyGroup, newId } from '../adding/newLayers.ts';
import { changed, copyOf, grouped, insertedAbove, moved, movedAbove, removed, withNewIds } from './stackEdits.ts';
import { useStackPictures } from './useStackPictures.ts';

export type OpenStack = ReturnType<typeof useStack>;

/** The stack that is worked on, its chosen layer, and every change of it, each of which can be taken back. */
export function useStack(ticket: Ref<LayersTicket | undefined>) {
  const store = useProject();
  /** Settings as they are being moved; the ticket's own otherwise. */
  const movedTo = shallowRef<LayersSettings | null>(null);
  const settings = computed(() => movedTo.value ?? ticket.value?.settings);
  watch(
    () => [ticket.value?.id, ticket.value?.version],
    () => (movedTo.value = null),
  );
  const layers = computed(() => settings.value?.layers ?? []);

  const chosenId = ref<string | null>(null);
  const chosen = computed(
    () => (chosenId.value ? layerById(layers.value, chosenId.value) : undefined) ?? layers.value.at(-1),
  );
  watch(
    () => ticket.value?.id,
    () => (chosenId.value = null),
  );
  const pictures = useStackPictures(ticket, settings);

  /** Shows layers that are not kept yet. */
  function showLayers(next: Layer[]): void {
    if (settings.value) movedTo.value = { ...settings.value, layers: next };
  }

  async function changeLayers(
    next: Layer[],
    what: string,
    part: Partial<LayersSettings> = {},
    images?: string[],
  ): Promise<void> {
    if (!ticket.value || !settings.value) return;
    movedTo.value = { ...settings.value, ...part, layers: next };
    const inputs = images && { inputs: { ...ticket.value.inputs, pictures: images } };
    await store.changeTicket(ticket.value.id, what, { settings: movedTo.value, ...inputs });
  }

  /** Shows a layer as it is being moved. */
  const move = (next: Layer): void => showLayers(changed(layers.value, next.id, () => next));
  const changeLayer = (next: Layer, what = next.name): Promise<void> =>
    changeLayers(
      changed(layers.value, next.id, () => next),
      what,
    );
  const setPart = (part: Partial<LayersSettings>, what: string): Promise<void> =>
    changeLayers([...layers.value], what, part);

  /** Puts layers on the chosen one; a group that is chosen takes what is added. */
  function lay(layer: Layer, what: string, part: Partial<LayersSettings> = {}, images?: string[]): Promise<void> {
    const under = chosen.value;
    chosenId.value = layer.id;
    const next =
      under?.content === 'group'
        ? changed(layers.value, under.id, (group) =>
            group.content === 'group' ? { ...group, layers: [...group.layers, layer] } : group,
          )
        : insertedAbove(layers.value, under?.id ?? null, layer);
    return changeLayers(next, what, part, images);
  }

  /** Several layers as one that has ids of its own: a group, unless it is a single one. */
  function asOne(several: readonly Layer[], name: string): Layer {
    const own = several.map((layer) => withNewIds(layer, newId));
    return own.length === 1 ? own[0]! : { ...emptyGroup(), id: newId(), name, layers: own };
  }

  function remove(layer: Layer): void {
    chosenId.value = null;
    void changeLayers(removed(layers.value, layer.id), `removal of “${layer.name}”`);
  }

  function duplicate(layer: Layer): void {
    const copy = copyOf(layer, newId);
    chosenId.value = copy.id;
    void changeLayers(insertedAbove(layers.value, layer.id, copy), `copy of “${layer.name}”`);
  }

  const group = (layer: Layer): Promise<void> =>
    changeLayers(grouped(layers.value, layer.id, emptyGroup()), `group of “${layer.name}”`);
  const moveBy = (id: string, by: 1 | -1): Promise<void> => changeLayers(moved(layers.value, id, by), 'order');
  const moveAbove = (id: string, above: string | null): Promise<void> =>
    changeLayers(movedAbove(layers.value, id, above), 'order');
  const setVisible = (id: string, visible: boolean): Promise<void> =>
    changeLayers(
      changed(layers.value, id, (layer) => ({ ...layer, visible })),
      'visibility',
    );

  /** The number of a flat set among the materials of the stack; put there if it is not. */
  function materialOf(flat: ImageSet): { number: number; part: Partial<LayersSettings> } {
    const known = settings.value!.materials;
    const number = known.findIndex((material) => material.set === flat.id);
    if (number >= 0) return { number, part: {} };
    const material = { name: flat.name, set: flat.id, width: flat.tileWidth ?? 1000, maps: {} };
    return { number: known.length, part: { materials: [...known, material] } };
  }

  async function setMaterial(layer: Layer, flat: ImageSet): Promise<void> {
    const { number, part } = materialOf(flat);
    const next = changed(layers.value, layer.id, (each) => ({ ...each, name: flat.name, material: number }) as Layer);
    await changeLayers(next, 'material', part);
  }

  /** The flat set that a layer is made of. */
  const materialSetOf = (layer: Layer): string | null =>
    layer.content === 'tiling' ? (settings.value?.materials[layer.material]?.set ?? null) : null;

  return {
    ...{ ticket, settings, layers, chosenId, chosen, pictures },
    ...{ showLayers, changeLayers, move, changeLayer, setPart, lay, asOne },
    ...{ remove, duplicate, group, moveBy, moveAbove, setVisible, materialOf, setMaterial, materialSetOf },
  };
}
