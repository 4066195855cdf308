import { until } from '@vueuse/core';
import { ENDPOINTS, type Ticket } from '@zographos/contracts';
import { call } from '../api/call.ts';
import { useCells, type Cell } from './cells.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';

/** Makes maps that are missing, out of date or failed, each after those that it is made of. */
export function useWaitingMaps() {
  const store = useProject();
  const notices = useNotices();
  const { cells, waiting } = useCells();

  /**
   * What is made of other maps comes after them: it can only be asked for once they are there.
   * @param isWanted which of the waiting maps are made; all by default
   */
  async function makeWaiting(isWanted: (cell: Cell) => boolean = () => true): Promise<void> {
    const asked = new Set<string>();
    const wanted = (): Cell[] => waiting.value.filter(isWanted);
    const sheets = new Set(wanted().flatMap(({ map, run }) => (map.ticketId === null && run ? [run.id] : [])));
    for (;;) {
      const tickets = [...new Set(wanted().flatMap(({ ticket }) => (ticket ? [ticket] : [])))];
      const makers = new Map(cells.value.map(({ map, state }) => [map.id, state]));
      const ready = tickets.filter(
        ({ id, inputs }) =>
          !asked.has(id) && (inputs.pictures ?? []).every((picture) => (makers.get(picture) ?? 'fresh') === 'fresh'),
      );
      if (ready.length === 0) break;
      for (const { id } of ready) {
        asked.add(id);
        await notices.guard(() => store.runTicket(id));
      }
      // Sheets take what their sets hold: those that wait for a bake are made again after it.
      for (const id of sheets) await notices.guard(() => call(ENDPOINTS.renewAtlas, { id }));
      sheets.clear();
      await store.reload();
      await ended(ready.filter(({ id }) => tickets.some((other) => needs(other, id))).map(({ id }) => id));
    }
  }

  /** Whether a ticket is made of maps of another. */
  const needs = (ticket: Ticket, maker: string): boolean =>
    (ticket.inputs.pictures ?? []).some((picture) =>
      cells.value.some(({ map }) => map.id === picture && map.ticketId === maker),
    );

  /** Waits until some tickets do not run any more. */
  async function ended(ids: readonly string[]): Promise<void> {
    if (ids.length === 0) return;
    await until(
      () => store.project === null || !store.activeRuns.some(({ ticketId }) => ids.includes(ticketId ?? '')),
    ).toBe(true);
  }

  return { makeWaiting };
}
