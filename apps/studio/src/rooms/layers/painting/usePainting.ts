import { computed, ref, shallowRef, watch, type ComputedRef, type Ref } from 'vue';
import { layerById, strokesOf, type Layer } from '@zographos/core/layers';
import { ENDPOINTS } from '@zographos/contracts';
import { recordOfStroke, type StrokeRecord } from '@zographos/operations';
import { call } from '../../../api/call.ts';
import { useNotices } from '../../../stores/notices.ts';
import { UNDER_PEN } from '../preview/underPen.ts';
import { changed } from '../stack/stackEdits.ts';
import { paintTarget, withoutPen, withStroke } from './paintedLayer.ts';
import { StrokeInHand, usualPen, type Pen, type PenPoint } from './pen.ts';

export interface PaintingRequest {
  projectId: () => string;
  layers: ComputedRef<readonly Layer[]>;
  chosen: ComputedRef<Layer | undefined>;
  extent: ComputedRef<number>;
  /** How a stencil lies over the view; null where there is none. */
  view: () => number[] | null;
  /** Shows layers that are not kept yet. */
  show: (layers: Layer[]) => void;
  /** Keeps them, as one edit. */
  keep: (layers: Layer[], what: string) => Promise<void>;
}

/** Places of one filling stroke. */
const MOST_FILLED = 64;

/** Painting into the chosen layer: a stroke is seen while it is under the pen, and kept once the pen is lifted. */
export function usePainting({ projectId, layers, chosen, extent, view, show, keep }: PaintingRequest) {
  const notices = useNotices();
  const isOn = ref(false);
  const target = computed(() => paintTarget(chosen.value));
  const pens = shallowRef<Partial<Record<'content' | 'mask', Pen>>>({});
  const into = computed(() => (target.value === 'content' ? 'content' : 'mask'));
  const pen: Ref<Pen> = computed({
    get: () => pens.value[into.value] ?? usualPen(extent.value, into.value === 'mask'),
    set: (next) => (pens.value = { ...pens.value, [into.value]: next }),
  });
  /** The stroke under the pen, as the preview takes it. */
  const underPen = shallowRef<StrokeRecord | null>(null);
  let hand: StrokeInHand | null = null;
  const isPenDown = (): boolean => hand !== null;
  let pending = 0;
  watch(target, (now) => {
    if (now === null) isOn.value = false;
  });

  /** Where what is cloned lies. */
  const cloneSource = shallowRef<PenPoint['place'] | null>(null);

  /** A stencil is kept as the view is now. */
  function withView(own: Pen): Pen {
    const { picture } = own.brush;
    const rows = picture?.lies === 'view' ? view() : null;
    return picture && rows ? { ...own, brush: { ...own.brush, picture: { ...picture, view: rows } } } : own;
  }

  /** @param pixel width of a pixel of the screen on the surface, in millimetres */
  function begin(pixel: number): void {
    hand = new StrokeInHand(withView(pen.value), Math.floor(Math.random() * 2 ** 31), pixel);
  }

  function goOn(point: PenPoint): void {
    const layer = chosen.value;
    if (!hand || !layer || target.value === null) return;
    if (hand.count === 0 && pen.value.brush.tool === 'clone') {
      if (!cloneSource.value) return;
      hand.cloneFrom(cloneSource.value, point.place);
    }
    // A face is filled once, however the pen moves on it.
    if (pen.value.brush.tool === 'fill' && hand.count >= MOST_FILLED) return;
    hand.add(point);
    // Once for each picture on screen, however many points the pen tells.
    pending ||= requestAnimationFrame(() => {
      pending = 0;
      const place = target.value;
      if (!hand || place === null) return;
      underPen.value = recordOfStroke(hand.stroke);
      // Also where the server has meanwhile told of the stroke before, which brings its own layers.
      if (strokesOf(layers.value).includes(UNDER_PEN)) return;
      const { stroke } = hand;
      show(changed(layers.value, layer.id, (own) => withStroke(own, place, UNDER_PEN, stroke)));
    });
  }

  async function end(): Promise<void> {
    const layer = chosen.value;
    const done = hand;
    const place = target.value;
    hand = null;
    cancelAnimationFrame(pending);
    pending = 0;
    if (!done || done.count === 0 || !layer || place === null) return;
    const record = recordOfStroke(done.stroke);
    underPen.value = record;
    const kept = await notices.guard(() => call(ENDPOINTS.keepStroke, { id: projectId() }, record));
    const withoutIt = (): Layer[] => changed(layers.value, layer.id, withoutPen);
    if (kept) {
      const lay = (onto: readonly Layer[]): Promise<void> =>
        keep(
          changed(onto, layer.id, (own) => withStroke(own, place, kept.hash, done.stroke)),
          'stroke',
        );
      await lay(withoutIt());
      // Refused where another window has changed the stack meanwhile: then it is laid on what is there now.
      if (!strokesOf(layers.value).includes(kept.hash) && layerById(layers.value, layer.id)) await lay(withoutIt());
    } else show(withoutIt());
    if (!isPenDown()) underPen.value = null;
  }

  return { isOn, target, pen, underPen, cloneSource, begin, goOn, end };
}
