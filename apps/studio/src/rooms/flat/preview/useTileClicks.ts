import { computed, ref, watch, type ComputedRef, type Ref } from 'vue';
import { PICKED_KINDS } from '@zographos/core/derive';
import type { FlatTicket } from '@zographos/contracts';
import type { Shown } from './flatWorker.ts';

/** What a brush or a click on the tile does: spots are painted over and their source chosen, tones are picked. */
export function useTileClicks({
  ticket,
  slotName,
  source,
  change,
}: {
  ticket: ComputedRef<FlatTicket | undefined>;
  slotName: Ref<string>;
  source: Ref<Shown | null>;
  change: (next: FlatTicket['settings'], what: string) => Promise<void>;
}) {
  /** Radius of the brush, as a share of the tile's shorter side; and the number of the spot whose source is chosen next. */
  const brush = ref(0.03);
  const sourceOf = ref<number | null>(null);
  /** Whether a tone is picked by the next click, on the image that is shown meanwhile. */
  const picking = ref(false);
  watch([slotName, () => ticket.value?.id], () => {
    sourceOf.value = null;
    picking.value = false;
  });
  const isPainting = computed(
    () => ticket.value?.operation === 'seamless' && slotName.value === 'spots' && sourceOf.value === null,
  );

  /** @param path of the brush, in shares of the tile, y downwards */
  function painted(path: [number, number][]): void {
    const own = ticket.value;
    if (own?.operation !== 'seamless') return;
    const spots = [...own.settings.spots, { path, radius: brush.value, reach: 2, from: null }];
    void change({ ...own.settings, spots }, 'spots');
  }

  /** @param at in shares of the tile, y downwards */
  function clicked(at: [number, number]): void {
    const own = ticket.value;
    if (own?.operation === 'seamless' && sourceOf.value !== null) {
      const spots = own.settings.spots.map((spot, i) => (i === sourceOf.value ? { ...spot, from: at } : spot));
      sourceOf.value = null;
      void change({ ...own.settings, spots }, 'spots');
      return;
    }
    const picked = PICKED_KINDS.find((each) => each === slotName.value);
    if (own?.operation !== 'derive' || !source.value || !picked) return;
    picking.value = false;
    const old = own.settings[picked];
    const pick = {
      ...{ color: colorAt(source.value, at), tolerance: 0.1, softness: 0.1 },
      value: picked === 'opacity' ? 0 : 1 - old.base,
    };
    void change({ ...own.settings, [picked]: { ...old, picks: [...old.picks, pick] } }, picked);
  }
  return { brush, sourceOf, picking, isPainting, painted, clicked };
}

function colorAt({ width, height, rgba }: Shown, [u, v]: readonly [number, number]): string {
  const from = (Math.floor(v * height) * width + Math.floor(u * width)) * 4;
  return `#${[...rgba.subarray(from, from + 3)].map((value) => value.toString(16).padStart(2, '0')).join('')}`;
}
