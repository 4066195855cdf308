import { computed } from 'vue';
import type { BakeTicket, LightTicket } from '@zographos/contracts';
import { FIRST_TILE } from '@zographos/core/uv';
import { useProject } from '../stores/project.ts';

/** The UDIM tiles of a ticket: those its receivers have islands in, and those of them that it makes maps of. */
export function useTicketTiles(ticket: () => BakeTicket | LightTicket) {
  const store = useProject();
  const filled = computed(() => {
    const { inputs, settings } = ticket();
    const tiles = inputs.receivers.flatMap((id) => store.meshById(id)?.inspection.uvTiles[settings.uvSet] ?? []);
    return [...new Set(tiles.length > 0 ? tiles : [FIRST_TILE])].sort((a, b) => a - b);
  });

  function isTaken(tile: number): boolean {
    const { tiles } = ticket().settings;
    return tiles === 'all' || tiles.includes(tile);
  }

  /** The tiles that are taken once one of them is in or out; null where none would be left. */
  function toggled(tile: number): number[] | null {
    const next = filled.value.filter((each) => (each === tile ? !isTaken(each) : isTaken(each)));
    return next.length > 0 ? next : null;
  }

  return { filled, isTaken, toggled };
}
