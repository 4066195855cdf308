import { computed, ref, watch, type ComputedRef } from 'vue';
import type { Layer, MaskStep, PicturePlace } from '@zographos/core/layers';
import type { LassoAsk, PlaceFacts } from '../preview/layersMessages.ts';
import { changed } from '../stack/stackEdits.ts';
import type { OpenStack } from '../stack/useStack.ts';
import { placedAt, type SurfacePlace } from './decalPlace.ts';

export interface PlacingRequest {
  stack: OpenStack;
  /** How many triangles the receivers have. */
  triangles: ComputedRef<number>;
  /** Ask for faces; answered by `takeFaces`. */
  findFaces: (triangle: number, angle: number) => void;
  growFaces: (ranges: readonly FaceRange[]) => void;
  lassoFaces: (lasso: Omit<LassoAsk, 'what'>) => void;
}

type FaceRange = readonly [from: number, to: number];

/** Ranges of faces that one step can have. */
const MOST_RANGES = 100_000;

/** What the next click on the model or the map does: it picks for a step of the mask, or places an image. */
export function usePlacing({ stack, triangles, findFaces, growFaces, lassoFaces }: PlacingRequest) {
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

  /** How steep the edges are that a click on a face goes over, in degrees; 0 for that face alone. */
  const faceAngle = ref(0);
  /** Whether dragging draws a lasso about faces, in place of clicking them. */
  const byLasso = ref(false);
  /** The step that is picked for. */
  const pickedStep = computed(() => (picking.value === null ? undefined : chosen.value?.mask.steps[picking.value]));
  const isLasso = computed(() => byLasso.value && pickedStep.value?.measure === 'faces');

  /** Takes the faces within a lasso. @param adds to what is picked already */
  function pickWithin({ adds, ...lasso }: Omit<LassoAsk, 'what'> & { adds: boolean }): void {
    const step = pickedStep.value;
    if (step?.measure !== 'faces') return;
    kept = adds && step.of === triangles.value ? step.ranges : [];
    lassoFaces(lasso);
  }

  /** The faces that a click adds to, while those that hang together with it are looked for. */
  let kept: readonly FaceRange[] = [];

  /** Takes faces that were looked for into the step that is picked for. */
  function takeFaces({ ranges, of }: { ranges: readonly FaceRange[]; of: number }): void {
    const layer = chosen.value;
    const at = picking.value ?? layer?.mask.steps.findIndex(({ measure }) => measure === 'faces') ?? -1;
    if (!layer || layer.mask.steps[at]?.measure !== 'faces') return;
    const all = joined([...kept, ...ranges]).slice(0, MOST_RANGES);
    const steps = layer.mask.steps.map((step, i) =>
      i === at && step.measure === 'faces' ? { ...step, of, ranges: all } : step,
    );
    void changeLayer({ ...layer, mask: { ...layer.mask, steps } }, 'faces');
  }

  /** Takes a click. @param adds to what is picked already */
  function pick({ add: adds, facts, ...where }: SurfacePlace & { add: boolean; facts?: PlaceFacts }): void {
    const layer = chosen.value;
    if (!layer) return;
    if (placing.value !== null) {
      place(layer, placing.value, where);
      return;
    }
    const step = pickedStep.value;
    if (!step) return;
    if (step.measure === 'faces' && faceAngle.value > 0) {
      kept = adds && step.of === triangles.value ? step.ranges : [];
      findFaces(where.triangle, faceAngle.value);
      return;
    }
    const steps = layer.mask.steps.map((each) =>
      each === step ? pickedInto(each, where.triangle, adds, triangles.value, facts) : each,
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

  /** Adds the faces that touch those of a step. */
  function grow(at: number): void {
    const step = chosen.value?.mask.steps[at];
    if (step?.measure !== 'faces') return;
    picking.value = at;
    kept = [];
    growFaces(step.ranges);
  }

  return { picking, placing, faceAngle, byLasso, isLasso, pick, pickWithin, setImage, takeFaces, grow };
}

/** Ranges in their order, without what they have in common. */
function joined(ranges: readonly FaceRange[]): FaceRange[] {
  const all: [number, number][] = [];
  for (const [from, to] of [...ranges].sort((a, b) => a[0] - b[0])) {
    const last = all.at(-1);
    if (last && from <= last[1]) last[1] = Math.max(last[1], to);
    else all.push([from, to]);
  }
  return all;
}

/** What is picked, with one more or without it; that alone where nothing is added. */
function toggled<T>(all: readonly T[], one: T, adds: boolean): T[] {
  if (!adds) return [one];
  const rest = all.filter((each) => each !== one);
  return rest.length < all.length && rest.length > 0 ? rest : [...rest, one];
}

/** A step with what was clicked picked into it. @param of how many triangles there are */
function pickedInto(step: MaskStep, triangle: number, adds: boolean, of: number, facts?: PlaceFacts): MaskStep {
  switch (step.measure) {
    case 'part':
    case 'near':
    case 'island':
      return { ...step, triangles: adds ? [...step.triangles, triangle] : [triangle] };
    case 'faces': {
      const kept = adds && step.of === of ? step.ranges : [];
      return { ...step, of, ranges: joined([...kept, [triangle, triangle + 1]]) };
    }
    case 'slot':
      return facts ? { ...step, slots: toggled(step.slots, facts.slot, adds) } : step;
    case 'object':
      return facts ? { ...step, objects: toggled(step.objects, facts.object, adds) } : step;
    case 'tile':
      return facts ? { ...step, tiles: toggled(step.tiles, facts.tile, adds) } : step;
    case 'id':
      return facts?.idColor ? { ...step, colors: toggled(step.colors, facts.idColor, adds) } : step;
    default:
      return step;
  }
}
