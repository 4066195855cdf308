import { computed, ref } from 'vue';
import { describe, expect, it, vi } from 'vitest';
import { parseSettings } from '@zographos/operations';
import type { FlatTicket, TicketOf } from '@zographos/contracts';
import { fullProject, IDS } from '../../../testing/fullProject.ts';
import type { Shown } from './flatWorker.ts';
import { useTileClicks } from './useTileClicks.ts';

const ticketOf = (id: string): FlatTicket => fullProject().tickets.find((ticket) => ticket.id === id) as FlatTicket;

const PAINTED = {
  path: [
    [0.95, 0.5],
    [1.02, 0.5],
  ] as [number, number][],
  radius: 0.05,
  reach: 2,
};

function clicks(ticket: FlatTicket, slot: string) {
  const change = vi.fn(() => Promise.resolve());
  const source = ref<Shown | null>({
    ...{ width: 2, height: 2 },
    rgba: Uint8ClampedArray.from([255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255, 18, 52, 86, 255]),
  });
  const slotName = ref(slot);
  return { change, slotName, ...useTileClicks({ ticket: computed(() => ticket), slotName, source, change }) };
}

describe('on the tile', () => {
  it('a brush paints over what is to vanish, and a click chooses its source', () => {
    const { painted, clicked, change, sourceOf, isPainting, brush } = clicks(ticketOf(IDS.tile), 'spots');
    expect(isPainting.value).toBe(true);
    brush.value = 0.05;
    painted([
      [0.95, 0.5],
      [1.02, 0.5],
    ]);
    const [settings, what] = change.mock.calls[0]! as unknown as [{ spots: { path: unknown }[] }, string];
    expect(what).toBe('spots');
    expect(settings.spots.at(-1)).toEqual({ ...PAINTED, from: null });
    expect(() => parseSettings('seamless', settings)).not.toThrow();
    clicked([0.1, 0.1]);
    expect(change).toHaveBeenCalledTimes(1);
    sourceOf.value = 0;
    expect(isPainting.value).toBe(false);
  });

  it('the spot whose source is chosen is forgotten when something else is looked at', async () => {
    const { sourceOf, slotName } = clicks(ticketOf(IDS.tile), 'spots');
    sourceOf.value = 0;
    slotName.value = 'way';
    await Promise.resolve();
    expect(sourceOf.value).toBeNull();
  });

  it('a click chooses the source of a spot', () => {
    const ticket = ticketOf(IDS.tile) as TicketOf<'seamless'>;
    const { clicked, change, sourceOf } = clicks(
      { ...ticket, settings: { ...ticket.settings, spots: [{ ...PAINTED, from: null }] } },
      'spots',
    );
    sourceOf.value = 0;
    clicked([0.25, 0.75]);
    const [settings] = change.mock.calls[0]! as unknown as [{ spots: unknown[] }];
    expect(settings.spots).toEqual([{ ...PAINTED, from: [0.25, 0.75] }]);
    expect(sourceOf.value).toBeNull();
  });

  it('a click picks the tone under it for a map by tones', () => {
    const { clicked, change } = clicks(ticketOf(IDS.maps), 'roughness');
    clicked([0.9, 0.9]);
    const [settings] = change.mock.calls[0]! as unknown as [
      { roughness: { base: number; picks: { color: string; value: number }[] } },
    ];
    expect(settings.roughness.picks[0]).toMatchObject({ color: '#123456', value: 1 - settings.roughness.base });
    expect(() => parseSettings('derive', settings)).not.toThrow();
  });

  it('a click does nothing elsewhere', () => {
    const { clicked, change } = clicks(ticketOf(IDS.maps), 'normal');
    clicked([0.1, 0.1]);
    expect(change).not.toHaveBeenCalled();
  });
});
