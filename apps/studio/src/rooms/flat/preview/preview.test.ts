import { computed, ref } from 'vue';
import { describe, expect, it, vi } from 'vitest';
import { parseSettings } from '@zographos/operations';
import type { FlatTicket } from '@zographos/contracts';
import { fullProject, IDS } from '../../../testing/fullProject.ts';
import type { Shown } from './flatWorker.ts';
import { useTileClicks } from './useTileClicks.ts';

const ticketOf = (id: string): FlatTicket => fullProject().tickets.find((ticket) => ticket.id === id) as FlatTicket;

function clicks(ticket: FlatTicket, slot: string) {
  const change = vi.fn(() => Promise.resolve());
  const source = ref<Shown | null>({
    ...{ width: 2, height: 2 },
    rgba: Uint8ClampedArray.from([255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255, 18, 52, 86, 255]),
  });
  const slotName = ref(slot);
  return { change, slotName, ...useTileClicks({ ticket: computed(() => ticket), slotName, source, change }) };
}

describe('clicks on the tile', () => {
  it('paint out a spot by two of them: what goes, and what comes', () => {
    const { clicked, waitingSpot, change } = clicks(ticketOf(IDS.tile), 'spots');
    clicked([0.25, 0.5]);
    expect(waitingSpot.value).toEqual([0.25, 0.5]);
    expect(change).not.toHaveBeenCalled();
    clicked([0.75, 0.1]);
    expect(waitingSpot.value).toBeNull();
    const [settings, what] = change.mock.calls[0]! as unknown as [{ spots: unknown[] }, string];
    expect([what, settings.spots]).toEqual([
      'spots',
      [{ to: [0.25, 0.5], from: [0.75, 0.1], radius: 0.05, softness: 0.6 }],
    ]);
    expect(() => parseSettings('seamless', settings)).not.toThrow();
  });

  it('forget the first when something else is looked at', async () => {
    const { clicked, waitingSpot, slotName } = clicks(ticketOf(IDS.tile), 'spots');
    clicked([0.25, 0.5]);
    slotName.value = 'way';
    await Promise.resolve();
    expect(waitingSpot.value).toBeNull();
  });

  it('pick the tone under them for a map by tones', () => {
    const { clicked, change } = clicks(ticketOf(IDS.maps), 'roughness');
    clicked([0.9, 0.9]);
    const [settings] = change.mock.calls[0]! as unknown as [
      { roughness: { base: number; picks: { color: string; value: number }[] } },
    ];
    expect(settings.roughness.picks[0]).toMatchObject({ color: '#123456', value: 1 - settings.roughness.base });
    expect(() => parseSettings('derive', settings)).not.toThrow();
  });

  it('do nothing elsewhere', () => {
    const { clicked, change } = clicks(ticketOf(IDS.maps), 'normal');
    clicked([0.1, 0.1]);
    expect(change).not.toHaveBeenCalled();
  });
});
