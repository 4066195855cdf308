import { ref, watch, type ComputedRef } from 'vue';
import type { Layer, MaskStep, PicturePlace } from '@zographos/core/layers';
import { changed } from './stackEdits.ts';
import type { OpenStack } from './useStack.ts';
import { placedAt, type SurfacePlace } from './useStackPictures.ts';

/** What the next click on the model or the map does: it picks for a step of the mask, or places an image. */
export function usePlacing(stack: OpenStack, triangles: ComputedRef<number>) {
  const { chosen, chosenId, changeLayer } = stack;
  /** The step of the mask that is picked for. */
  const picking = ref<number | null>(null);
  /** The image that is placed: that of the layer, or that of a step of its mask. */
  const placing = ref<'content' | number | null>(null);
  watch(chosenId, () => {
    picking.value = null;
    placing.value = null;
  });

  function place(layer: Layer, at: 'content' | number, where: SurfacePlace): void {
    if (at === 'content') {
      if (layer.content === 'picture') void changeLayer({ ...layer, place: placedAt(layer.place, where) }, 'place');
      return;
    }
    const steps = layer.mask.steps.map((step, i) =>
      i === at && step.measure === 'picture' && step.place ? { ...step, place: placedAt(step.place, where) } : step,
    );
    void changeLayer({ ...layer, mask: { ...layer.mask, steps } }, 'place');
  }

  /** Takes a click. @param adds to what is picked already */
  function pick({ add: adds, ...where }: SurfacePlace & { add: boolean }): void {
    const layer = chosen.value;
    if (!layer) return;
    if (placing.value !== null) {
      place(layer, placing.value, where);
      return;
    }
    const step = picking.value === null ? undefined : layer.mask.steps[picking.value];
    if (!step) return;
    const steps = layer.mask.steps.map((each) =>
      each === step ? pickedInto(each, where.triangle, adds, triangles.value) : each,
    );
    void changeLayer({ ...layer, mask: { ...layer.mask, steps } }, 'mask');
  }

  /** Another image for the chosen layer, or for a step of its mask; a decal keeps its width. */
  async function setImage(
    at: 'content' | number,
    id: string,
    aspect = stack.pictures.aspectOf(id),
    name?: string,
  ): Promise<void> {
    const layer = chosen.value;
    if (!layer) return;
    const { number, change } = stack.pictures.use(id);
    const shaped = (where: PicturePlace): PicturePlace =>
      where.on === 'surface' ? { ...where, height: where.width * aspect } : where;
    const next = changed(stack.layers.value, layer.id, (own): Layer => {
      const named = name ? { ...own, name } : own;
      if (at === 'content') {
        return named.content === 'picture' ? { ...named, picture: number, place: shaped(named.place) } : named;
      }
      const steps = named.mask.steps.map((step, i) =>
        i === at && step.measure === 'picture'
          ? { ...step, picture: number, place: step.place && shaped(step.place) }
          : step,
      );
      return { ...named, mask: { ...named.mask, steps } };
    });
    await stack.changeLayers(next, 'image', change.part, change.pictures);
  }

  return { picking, placing, pick, setImage };
}

/** A step with a triangle picked into it. @param of how many triangles there are */
function pickedInto(step: MaskStep, triangle: number, adds: boolean, of: number): MaskStep {
  if (step.measure === 'part' || step.measure === 'island') {
    return { ...step, triangles: adds ? [...step.triangles, triangle] : [triangle] };
  }
  if (step.measure !== 'faces') return step;
  const kept = adds && step.of === of ? step.ranges : [];
  return { ...step, of, ranges: [...kept, [triangle, triangle + 1] as const] };
}
