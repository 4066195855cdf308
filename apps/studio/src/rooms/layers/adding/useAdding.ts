import { computed, type ComputedRef } from 'vue';
import { phraseOfKinds } from '@zographos/core/image';
import { LAYER_CHANNELS, measuredKindsOf, type Layer } from '@zographos/core/layers';
import type { Coating, ImageSet } from '@zographos/contracts';
import { useProject } from '../../../stores/project.ts';
import { likelyLayers, newId, type NewLayer } from './newLayers.ts';
import { withNewIds } from '../stack/stackEdits.ts';
import type { useCoatings } from './useCoatings.ts';
import type { useReceivers } from '../useReceivers.ts';
import { decalAt, type SurfacePlace } from '../placing/decalPlace.ts';
import { letteringImage } from '../editors/lettering.ts';
import type { Offered } from '../preview/useLayersPreview.ts';
import { pictureLayer } from '../stack/useStackPictures.ts';
import type { OpenStack } from '../stack/useStack.ts';

export interface AddingRequest {
  stack: OpenStack;
  set: ComputedRef<ImageSet | undefined>;
  surface: ReturnType<typeof useReceivers>;
  coatings: ReturnType<typeof useCoatings>;
  /** The place in the middle of the view, where images are put first. */
  middle: () => SurfacePlace | null;
}

/** What can be laid on next, and its laying on. */
export function useAdding({ stack, set, surface, coatings, middle }: AddingRequest) {
  const store = useProject();
  const { ticket } = stack;
  /** Flat sets that have maps. */
  const materials = computed(() =>
    (store.project?.imageSets ?? []).filter(
      ({ receiverId, maps }) => receiverId === null && maps.some(({ revisions }) => revisions[0]),
    ),
  );
  const offers = computed(() => {
    const baked = LAYER_CHANNELS.filter((channel) =>
      set.value?.maps.some(({ kind, layered, revisions }) => kind === channel && !layered && revisions[0]),
    );
    const { slots } = surface.surface.value;
    const made = new Set(set.value?.maps.filter(({ revisions }) => revisions[0]).map(({ kind }) => kind));
    return likelyLayers(slots, materials.value, baked, surface.extent.value.upright, store.images.length > 0).map(
      (offer) => {
        const kinds = measuredKindsOf([offer.layer]).filter((kind) => !made.has(kind));
        return kinds.length > 0 ? { ...offer, bakesFirst: phraseOfKinds(kinds) } : offer;
      },
    );
  });

  /** Everything that is offered, with its materials and images, to be pictured on the model. */
  async function offered(): Promise<Offered> {
    const own = stack.settings.value!;
    const size = surface.extent.value.size;
    const known = ticket.value?.inputs.pictures?.length ?? 0;
    const all: Offered = { offers: [], materials: [], pictures: [], images: [] };
    const picture = (id: string, content: string): number => known + all.pictures.push([id, content]) - 1;
    for (const { title, layer, material, picture: shows } of offers.value) {
      let next: Layer = layer;
      if (material && layer.content === 'tiling') {
        const { number, part } = stack.materialOf(material);
        next = { ...layer, material: part.materials ? own.materials.length + all.materials.length : number };
        if (part.materials) all.materials.push({ ...part.materials.at(-1)!, maps: mapsOf(material, picture) });
      } else if (shows === 'image') {
        const image = store.images[0]!;
        const number = picture(image.id, `${image.contentHash} ${image.colorSpace}`);
        next = pictureLayer(layer, number, decalAt(null, size / 3, stack.pictures.aspectOf(image.id)));
      } else if (shows === 'lettering') {
        const { image, aspect } = await letteringImage(lettersOf(set.value), 700);
        const number = picture('', '');
        all.images.push([number, image]);
        next = pictureLayer(layer, number, decalAt(null, size / 3, aspect));
      }
      all.offers.push({ name: title, layer: next });
    }
    // Proxies of what is watched cannot be sent.
    return { ...all, offers: JSON.parse(JSON.stringify(all.offers)) as Offered['offers'] };
  }

  /** @returns where an image is to be placed: as the content of the new layer, or as a step of its mask; null otherwise */
  async function add(offer: NewLayer): Promise<'content' | 0 | null> {
    const { layer, material, title } = offer;
    const what = `adding of “${title}”`;
    if (offer.picture) {
      const pictured = await stack.pictures.pictured(offer, middle(), surface.extent.value.size, lettersOf(set.value));
      if (!pictured) return null;
      const { part, pictures } = pictured.change;
      await stack.lay({ ...pictured.layer, id: newId() }, what, part, pictures);
      return layer.content === 'picture' ? 'content' : 0;
    }
    const { number, part } = material ? stack.materialOf(material) : { number: 0, part: {} };
    const next = { ...withNewIds(layer, newId), ...(material ? { material: number } : {}) } as Layer;
    await stack.lay(next, what, part);
    return null;
  }

  /** Lays a coating of the library on, with the images and materials that it has brought into the project. */
  async function layCoating(projectId: string, coating: Coating): Promise<void> {
    const own = stack.settings.value;
    if (!own) return;
    const first = { firstPicture: stack.pictures.chosen.value.length, firstMaterial: own.materials.length };
    const used = await coatings.use(projectId, coating, first);
    if (!used) return;
    await store.reload();
    const { part, pictures } = stack.pictures.useAll(used.pictures);
    const added = used.materials.map((id) => {
      const flat = store.project?.imageSets.find((each) => each.id === id);
      return { name: flat?.name ?? coating.name, set: id, width: flat?.tileWidth ?? 1000, maps: {} };
    });
    const layer = stack.asOne(used.layers, used.name);
    const all = { ...part, materials: [...(part.materials ?? own.materials), ...added] };
    await stack.lay(layer, `coating “${used.name}”`, all, pictures);
  }

  return { materials, offers, offered, add, layCoating };
}

const lettersOf = (set: ImageSet | undefined): string => set?.name ?? 'Letters';

/** The maps of a flat set, by their numbers among the images of a stack. */
function mapsOf({ maps }: ImageSet, picture: (id: string, content: string) => number): Record<string, number> {
  const made = maps.filter(({ kind, revisions }) => revisions[0] && LAYER_CHANNELS.some((channel) => channel === kind));
  return Object.fromEntries(made.map(({ id, kind, revisions }) => [kind, picture(id, revisions[0]!.id)]));
}
