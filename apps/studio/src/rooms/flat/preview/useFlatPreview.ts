import { computed, onUnmounted, ref, shallowRef, watch, type Ref } from 'vue';
import type { HeightSuggestion } from '@zographos/core/derive';
import { pickChannel, type ChannelPick, type Image, type MapKind } from '@zographos/core/image';
import type { TileProof } from '@zographos/core/measure';
import type { FlatTicket } from '@zographos/contracts';
import type { SeamlessSettings } from '@zographos/operations';
import { samplesOf } from '../../../api/samplesOf.ts';
import { useProject } from '../../../stores/project.ts';
import type { FlatAsk, FlatTold, MadeMaps, PreviewMap, Shown } from './flatWorker.ts';
import type { PreviewJob } from './previewMaker.ts';
import type { Compared, ComparedAxes } from '../editors/ways.ts';

export interface PreviewRequest {
  ticket: Ref<FlatTicket | undefined>;
  /** The settings as they are being moved. */
  settings: Ref<FlatTicket['settings'] | undefined>;
  /** The maps that are wanted, the one to look at first. */
  kinds: Ref<MapKind[]>;
  side: Ref<number>;
  /** A single pick of a map by picked tones. */
  pick: Ref<number | null>;
}

/** What goes in is loaded larger than what comes out, up to a size: frames and patches take their parts of it. */
const sourceSide = (side: number): number => Math.max(side, Math.min(2 * side, 2048));

/** Shows what a ticket would make while its settings move; the newest request is the one that counts. */
export function useFlatPreview({ ticket, settings, kinds, side, pick }: PreviewRequest) {
  const store = useProject();
  const worker = new Worker(new URL('./flatWorker.ts', import.meta.url), { type: 'module' });
  onUnmounted(() => worker.terminate());

  const maps = shallowRef<PreviewMap[]>([]);
  const source = shallowRef<Shown | null>(null);
  const proof = shallowRef<TileProof | null>(null);
  const suggestion = shallowRef<HeightSuggestion | null>(null);
  const depth = ref<number | null>(null);
  const milliseconds = ref<number | null>(null);
  const busy = ref(false);
  /** Whether what is shown is small, and will be made in full once nothing moves. */
  const isDraft = ref(false);
  const problem = ref<string | null>(null);
  const compared = shallowRef(new Map<Compared, { map: PreviewMap | null; proof: TileProof | null }>());
  let comparison = 0;
  let turn = 0;
  /** The turn asked for last, where the worker can see it while it computes. */
  const newest = globalThis.crossOriginIsolated ? new Int32Array(new SharedArrayBuffer(4)) : null;
  /** What came last, for what is kept of it. */
  const last: Record<'draft' | 'full', PreviewMap[]> = { draft: [], full: [] };
  let asked: FlatAsk | null = null;
  let loadedTicket: string | undefined;
  /** Turns up to this one were asked of another ticket. */
  let outdated = 0;
  /** Whether the worker has what the ticket is made of, and not what another one was. */
  let isLoaded = false;

  const tell = (ask: FlatAsk): void => worker.postMessage(ask);
  if (newest) tell({ what: 'newest', newest });

  worker.onmessage = ({ data }: MessageEvent<FlatTold>): void => {
    if (data.what === 'source') {
      source.value = data;
      return;
    }
    if (data.what === 'compared') {
      const { method, map } = data;
      if (data.turn === comparison) compared.value = new Map([...compared.value, [method, { map, proof: null }]]);
      return;
    }
    if (data.what === 'compared proof') {
      const { method, proof } = data;
      const known = compared.value.get(method);
      if (data.turn === comparison && known) {
        compared.value = new Map([...compared.value, [method, { ...known, proof }]]);
      }
      return;
    }
    if (data.what === 'proof') {
      if (data.turn === turn) proof.value = data.proof;
      return;
    }
    if (data.what === 'refined') {
      last.full = last.full.map((map) => (map.kind === data.map.kind ? data.map : map));
      if (!isDraft.value && maps.value.length > 0) maps.value = last.full;
      return;
    }
    if (data.what === 'finished') {
      const made = unfolded(data, 'full');
      if (data.turn === turn) show(data, made, false);
      return;
    }
    // What was asked for meanwhile comes next; what lies between is left out.
    busy.value = asked !== null;
    if (asked) {
      tell(asked);
      asked = null;
    }
    if (data.what === 'failed') {
      problem.value = data.message;
      return;
    }
    const made = unfolded(data, data.isDraft ? 'draft' : 'full');
    if (data.turn > outdated) show(data, made, data.isDraft);
  };

  /** All maps that were made, with those that are the same as before. */
  function unfolded({ maps: told }: MadeMaps, of: 'draft' | 'full'): PreviewMap[] {
    const before = last[of];
    last[of] = told.map((map) => ('kept' in map ? before.find(({ kind }) => kind === map.kind)! : map));
    return last[of];
  }

  function show(made: MadeMaps, shown: PreviewMap[], draft: boolean): void {
    problem.value = null;
    maps.value = shown;
    isDraft.value = draft;
    proof.value = null;
    suggestion.value = made.suggestion ?? suggestion.value;
    depth.value = made.depth;
    // Maps that are there already were made when they were told first.
    if (made.maps.some((map) => !('kept' in map))) milliseconds.value = made.milliseconds;
    else milliseconds.value = shown.length > 0 ? (milliseconds.value ?? made.milliseconds) : null;
  }
  worker.onerror = ({ message }): void => {
    busy.value = false;
    problem.value = `The preview stopped: ${message}. Change a setting to try again; the ticket can be run all the same.`;
  };

  /** What the ticket is made of, named by its content, so that it is fetched again when that changes. */
  const sourceNames = computed((): [string, string][] =>
    (ticket.value?.inputs.pictures ?? []).map((id) => [id, store.pictureContent(id)]),
  );

  /** The channels that are taken of images, in the order of the ticket. */
  const picks = computed((): (ChannelPick | undefined)[] => {
    const own = settings.value;
    if (!own) return [];
    if ('pictures' in own) return own.pictures.map((each) => each.pick);
    return 'picture' in own ? [own.picture.pick] : [];
  });

  async function load(): Promise<void> {
    const names = sourceNames.value;
    const asWanted = (): string => JSON.stringify([sourceNames.value, picks.value, side.value]);
    const wanted = asWanted();
    isLoaded = false;
    source.value = null;
    milliseconds.value = null;
    // What is still being made is of another ticket, and its maps are no preview of this one.
    if (ticket.value?.id !== loadedTicket) {
      outdated = turn;
      turn++;
      maps.value = [];
    }
    loadedTicket = ticket.value?.id;
    if (names.some(([, content]) => content === '')) {
      problem.value = 'What this ticket is made of is not there yet. Run the step before it first.';
      maps.value = [];
      return;
    }
    try {
      const isTile = ticket.value?.operation === 'seamless';
      const all = (wide: number | 'sketch'): Promise<Image[]> =>
        Promise.all(
          names.map(async ([id, content], i) => pickChannel(await samplesOf(id, content, wide), picks.value[i])),
        );
      const [pictures, sketches] = await Promise.all([
        all(isTile ? sourceSide(side.value) : side.value),
        isTile ? all('sketch') : [],
      ]);
      if (wanted !== asWanted()) return;
      tell({ what: 'pictures', pictures, sketches });
      isLoaded = true;
      ask();
    } catch (error) {
      problem.value = `What this ticket is made of could not be loaded: ${error instanceof Error ? error.message : String(error)}`;
    }
  }

  function ask(): void {
    if (!isLoaded || !ticket.value || !settings.value) return;
    const { operation } = ticket.value;
    // Operation and settings belong together in a ticket.
    const job = { operation, settings: JSON.parse(JSON.stringify(settings.value)) as unknown } as PreviewJob;
    const next: FlatAsk = {
      ...{ what: 'make', turn: ++turn, job, kinds: [...kinds.value], side: side.value, pick: pick.value },
    };
    if (newest) Atomics.store(newest, 0, turn);
    if (busy.value) asked = next;
    else {
      busy.value = true;
      tell(next);
    }
  }

  /** Makes the tile in every way, at a small size. */
  function compare(kind: MapKind, axes: ComparedAxes): void {
    if (ticket.value?.operation !== 'seamless' || !settings.value) return;
    compared.value = new Map();
    const copy = JSON.parse(JSON.stringify(settings.value)) as SeamlessSettings;
    tell({ what: 'compare', turn: ++comparison, settings: copy, axes, kind, side: side.value / 2 });
  }

  watch([() => JSON.stringify([sourceNames.value, picks.value]), side, () => ticket.value?.id], () => void load(), {
    immediate: true,
  });
  watch([settings, kinds, pick], ask);

  return { compared, compare, maps, source, proof, suggestion, depth, milliseconds, busy, isDraft, problem };
}
