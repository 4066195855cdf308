import { computed } from 'vue';
import type { ImageSet, Run, TextureMap, Ticket } from '@zographos/contracts';
import { useProject } from './project.ts';

export type CellState = 'fresh' | 'stale' | 'running' | 'queued' | 'failed' | 'missing';

/** One place of the contact sheet: a map of an image set and how it stands. */
export interface Cell {
  set: ImageSet;
  map: TextureMap;
  ticket: Ticket | undefined;
  /** The latest run of its ticket. */
  run: Run | undefined;
  state: CellState;
}

export const CELL_WORDS: Record<CellState, string> = {
  fresh: 'up to date',
  stale: 'out of date',
  running: 'running',
  queued: 'waiting',
  failed: 'failed',
  missing: 'not made yet',
};

/** A map of an atlas has no ticket: it is as its sets are. */
function sheetState(map: TextureMap, run: Run | undefined): CellState {
  if (run?.state === 'running' || run?.state === 'queued' || run?.state === 'failed') return run.state;
  return map.isOutdated ? 'stale' : 'fresh';
}

function stateOf(map: TextureMap, ticket: Ticket | undefined, run: Run | undefined): CellState {
  if (run?.state === 'running' || run?.state === 'queued') return run.state;
  const [latest] = map.revisions;
  if (latest && latest.key === ticket?.key) return 'fresh';
  if (run?.state === 'failed' && run.key === ticket?.key) return 'failed';
  return latest ? 'stale' : 'missing';
}

/** Whether a run is queued or running. */
export const isUnderWay = (run: Run | null | undefined): boolean => run?.state === 'running' || run?.state === 'queued';

/** All places of the open project's contact sheet, row by row. */
export function useCells() {
  const store = useProject();
  const cells = computed(() =>
    (store.project?.imageSets ?? []).flatMap((set) =>
      set.maps.map((map): Cell => {
        if (map.ticketId === null) {
          const run = store.project?.runs.find(({ operation, title }) => operation === 'atlas' && title === set.name);
          return { set, map, ticket: undefined, run, state: sheetState(map, run) };
        }
        const ticket = store.ticketById(map.ticketId);
        const run = store.latestRunOf(map.ticketId);
        return { set, map, ticket, run, state: stateOf(map, ticket, run) };
      }),
    ),
  );
  /** Those that one press of the button would make. */
  const waiting = computed(() =>
    cells.value.filter(({ state }) => state === 'stale' || state === 'missing' || state === 'failed'),
  );
  return { cells, waiting };
}
