import { computed, type ComputedRef, type Ref } from 'vue';
import type { Layer, PicturePlace } from '@zographos/core/layers';
import type { LayersTicket } from '@zographos/contracts';
import { chosenPictures, withPicture, type LayersSettings } from '@zographos/operations';
import { useProject } from '../../../stores/project.ts';
import { decalAt, type SurfacePlace } from '../placing/decalPlace.ts';
import { letteringFile } from '../editors/lettering.ts';
import { useNewPicture } from '../../../ticket/useNewPicture.ts';
import { made, type NewLayer } from '../adding/newLayers.ts';

/** A change of a ticket that has other images. */
export interface PictureChange {
  part: Partial<LayersSettings>;
  pictures: string[];
}

/** The images that layers and brushes of a stack use. */
export function useStackPictures(
  ticket: Ref<LayersTicket | undefined>,
  settings: ComputedRef<LayersSettings | undefined>,
) {
  const store = useProject();
  const { keep } = useNewPicture();

  /** Those that an artist has chosen, by their numbers. */
  const chosen = computed(() =>
    ticket.value && settings.value
      ? chosenPictures(settings.value, ticket.value.inputs.pictures ?? []).map((id) => ({
          id,
          name: store.pictureName(id),
        }))
      : [],
  );
  const aspectOf = (id: string): number => {
    const image = store.images.find((each) => each.id === id);
    return image ? image.inspection.height / image.inspection.width : 1;
  };

  /** The number of an image of the project, which is put among those of the stack. */
  function use(id: string): { number: number; change: PictureChange } {
    const own = settings.value!;
    const { number, settings: next, pictures } = withPicture(own, ticket.value?.inputs.pictures ?? [], id);
    return { number, change: { part: { measured: next.measured, materials: next.materials }, pictures } };
  }

  /** Puts several images among those of the stack, in their order. */
  function useAll(ids: readonly string[]): PictureChange & { numbers: number[] } {
    let next = settings.value!;
    let pictures = ticket.value?.inputs.pictures ?? [];
    const numbers = ids.map((id) => {
      const used = withPicture(next, pictures, id);
      ({ settings: next, pictures } = used);
      return used.number;
    });
    return { part: { measured: next.measured, materials: next.materials }, pictures: [...pictures], numbers };
  }

  /** A layer that shows an image, or lettering, where the view is looked at. @returns null where there is no image */
  async function pictured(
    { layer, picture }: NewLayer,
    where: SurfacePlace | null,
    extent: number,
    text: string,
  ): Promise<{ layer: Layer; change: PictureChange } | null> {
    let id = store.images[0]?.id ?? null;
    let aspect = id ? aspectOf(id) : 1;
    if (picture === 'lettering') {
      const lettering = await letteringFile(text, 700);
      aspect = lettering.aspect;
      id = await keep(lettering.file);
    }
    if (id === null) return null;
    const { number, change } = use(id);
    return { layer: pictureLayer(layer, number, decalAt(where, extent / 3, aspect)), change };
  }

  return { chosen, aspectOf, use, useAll, pictured };
}

/** A layer that shows an image, or lies where the alpha of one is. */
export function pictureLayer(layer: Layer, picture: number, place: PicturePlace): Layer {
  if (layer.content === 'picture') return made({ ...layer, picture, place });
  return made({ ...layer, mask: { steps: [{ measure: 'picture', picture, channel: 'alpha', place }] } });
}
