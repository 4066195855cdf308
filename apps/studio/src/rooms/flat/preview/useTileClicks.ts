import { ref, watch, type ComputedRef, type Ref } from 'vue';
import { PICKED_KINDS } from '@zographos/core/derive';
import type { FlatTicket } from '@zographos/contracts';
import type { Shown } from './flatWorker.ts';

/** What a click on the tile does: spots are painted out by two of them (what goes, and what comes), tones picked by one. */
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
  const waitingSpot = ref<[number, number] | null>(null);
  watch([slotName, () => ticket.value?.id], () => (waitingSpot.value = null));

  /** @param at in shares of the tile, y downwards */
  function clicked(at: [number, number]): void {
    const own = ticket.value;
    if (own?.operation === 'seamless' && slotName.value === 'spots') {
      if (!waitingSpot.value) {
        waitingSpot.value = at;
        return;
      }
      const spots = [...own.settings.spots, { to: waitingSpot.value, from: at, radius: 0.05, softness: 0.6 }];
      waitingSpot.value = null;
      void change({ ...own.settings, spots }, 'spots');
      return;
    }
    const picked = PICKED_KINDS.find((each) => each === slotName.value);
    if (own?.operation !== 'derive' || !source.value || !picked) return;
    const old = own.settings[picked];
    const pick = {
      ...{ color: colorAt(source.value, at), tolerance: 0.1, softness: 0.1 },
      value: picked === 'opacity' ? 0 : 1 - old.base,
    };
    void change({ ...own.settings, [picked]: { ...old, picks: [...old.picks, pick] } }, picked);
  }
  return { waitingSpot, clicked };
}

function colorAt({ width, height, rgba }: Shown, [u, v]: readonly [number, number]): string {
  const from = (Math.floor(v * height) * width + Math.floor(u * width)) * 4;
  return `#${[...rgba.subarray(from, from + 3)].map((value) => value.toString(16).padStart(2, '0')).join('')}`;
}
