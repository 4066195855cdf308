import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import {
  ENDPOINTS,
  PATHS,
  serverEvent,
  type Asset,
  type ImageAsset,
  type MeshAsset,
  type Project,
  isBakeTicket,
  isFlatTicket,
  isLayersTicket,
  isLightTicket,
  type BakeTicket,
  type FlatTicket,
  type LightTicket,
  type NewTicket,
  type Run,
  type ServerEvent,
  type Ticket,
  type TextureMap,
  type TicketInputs,
} from '@zographos/contracts';
import { describeKind } from '@zographos/core/image';
import type { Size } from '@zographos/core/math';
import { operationOf, type Finding, type SentenceNames, type SentencePart } from '@zographos/operations';
import { call, CallError } from '../api/call.ts';
import { router } from '../router.ts';
import { useEdits, type Edit } from './edits.ts';
import { keepEdits, readKeptEdits, type KeptEdit } from './keptEdits.ts';

export type Connection = 'live' | 'connecting' | 'server away' | 'database away';

const RETRY_MS = 2000;

type TicketChange = { name?: string; settings?: Ticket['settings']; inputs?: TicketInputs };

/** The open project: what the server holds, kept up to date by its events, and the ways to change it. */
export const useProject = defineStore('project', () => {
  const project = shallowRef<Project | null>(null);
  const connection = ref<Connection>('connecting');
  const workerIsThere = ref(true);
  /** Bytes that are free on the disk of the database, once they are scarce. */
  const scarceBytes = ref<number | null>(null);
  /** How far the reading of the newest upload is that was told of. */
  const reading = ref<Extract<ServerEvent, { type: 'reading' }> | null>(null);
  const missing = ref<string | null>(null);
  const edits = useEdits();
  let events: EventSource | null = null;
  let reloading: Promise<void> | null = null;
  let reloadWanted = false;

  async function open(id: string): Promise<void> {
    close();
    missing.value = null;
    listen(id);
    await reload(id);
    restoreEdits(id);
  }

  /** Edits that this window made before the page was loaded again, as long as nobody has changed their tickets since. */
  function restoreEdits(id: string): void {
    const before = readKeptEdits(id);
    if (!before || project.value?.id !== id) return;
    const isSame = Object.entries(before.versions).every(
      ([ticket, version]) => ticketById(ticket)?.version === version,
    );
    if (!isSame) return;
    edits.restore({ done: before.done.map(editOf), undone: before.undone.map(editOf) });
  }

  const editOf = (kept: KeptEdit): Edit => ({
    label: kept.label,
    apply: () => sendTicketChange(kept.ticket, kept.after),
    revert: () => sendTicketChange(kept.ticket, kept.before),
    kept,
  });

  watch(
    () => edits.kept,
    ({ done, undone }) => {
      const id = project.value?.id;
      if (!id) return;
      const changed = new Set([...done, ...undone].map(({ ticket }) => ticket));
      const versions = Object.fromEntries([...changed].map((ticket) => [ticket, ticketById(ticket)?.version ?? 0]));
      keepEdits(id, { done, undone, versions });
    },
  );

  function close(): void {
    events?.close();
    events = null;
    onTheirWay.length = 0;
    project.value = null;
    edits.forget();
  }

  function listen(id: string): void {
    events = new EventSource(PATHS.events(id));
    events.onopen = () => {
      connection.value = 'live';
      void reload(id);
    };
    events.onerror = () => {
      connection.value = 'server away';
      // The browser retries by itself, but gives up on some answers; then a fresh connection is needed.
      if (events?.readyState === EventSource.CLOSED) setTimeout(() => events && listen(id), RETRY_MS);
    };
    events.onmessage = ({ data }: MessageEvent<string>) => {
      const event = serverEvent.parse(JSON.parse(data));
      if (event.type === 'changed') void reload(id);
      else if (event.type === 'database') {
        connection.value = event.up ? 'live' : 'database away';
        if (event.up) void reload(id);
      } else if (event.type === 'worker') workerIsThere.value = event.up;
      else if (event.type === 'reading') reading.value = event;
      else if (event.type === 'disk') scarceBytes.value = event.isScarce ? event.freeBytes : null;
      else patchRun(event.runId, event);
    };
  }

  /** Reads the project again; calls during a reading are joined into one more. */
  async function reload(id = project.value?.id): Promise<void> {
    if (!id) return;
    reloadWanted = true;
    reloading ??= (async () => {
      while (reloadWanted) {
        reloadWanted = false;
        try {
          const told = await call(ENDPOINTS.readProject, { id });
          project.value = { ...told, tickets: told.tickets.map(withChanges) };
        } catch (error) {
          if (error instanceof CallError && error.code === 'missing/not-found') missing.value = error.message;
          else if (error instanceof CallError && error.code === 'service/database') connection.value = 'database away';
        }
      }
      reloading = null;
    })();
    await reloading;
  }

  function patchRun(
    runId: string,
    change: Pick<Run, 'stage' | 'share' | 'secondsLeft' | 'note' | 'previewVersion'>,
  ): void {
    const current = project.value;
    if (!current) return;
    const { stage, share, secondsLeft, note, previewVersion } = change;
    const runs = current.runs.map((run) =>
      run.id === runId && (run.state === 'running' || run.state === 'queued')
        ? { ...run, state: 'running' as const, stage, share, secondsLeft, note, previewVersion }
        : run,
    );
    project.value = { ...current, runs };
  }

  const meshes = computed(() =>
    (project.value?.assets ?? []).filter((asset): asset is MeshAsset => asset.kind === 'mesh'),
  );
  const images = computed(() =>
    (project.value?.assets ?? []).filter((asset): asset is ImageAsset => asset.kind === 'image'),
  );
  const activeRuns = computed(() =>
    (project.value?.runs ?? []).filter((run) => run.state === 'running' || run.state === 'queued'),
  );
  const meshById = (id: string): MeshAsset | undefined => meshes.value.find((mesh) => mesh.id === id);
  const meshesByIds = (ids: readonly string[] | undefined): MeshAsset[] =>
    (ids ?? []).map(meshById).filter((mesh) => mesh !== undefined);
  const ticketById = (id: string): Ticket | undefined => project.value?.tickets.find((ticket) => ticket.id === id);
  const bakes = computed(() => (project.value?.tickets ?? []).filter(isBakeTicket));
  const flats = computed(() => (project.value?.tickets ?? []).filter(isFlatTicket));
  const stacks = computed(() => (project.value?.tickets ?? []).filter(isLayersTicket));
  const lightTickets = computed(() => (project.value?.tickets ?? []).filter(isLightTicket));
  const bakeById = (id: string): BakeTicket | undefined => bakes.value.find((ticket) => ticket.id === id);
  const lightById = (id: string): LightTicket | undefined => lightTickets.value.find((ticket) => ticket.id === id);
  const flatById = (id: string): FlatTicket | undefined => flats.value.find((ticket) => ticket.id === id);
  /** What a picture of a ticket is called: an image by its name, a map by its set and kind. */
  function pictureName(id: string): string {
    const image = images.value.find((asset) => asset.id === id);
    if (image) return image.name;
    const set = project.value?.imageSets.find(({ maps }) => maps.some((map) => map.id === id));
    const map = set?.maps.find((each) => each.id === id);
    return set && map ? `${set.name} ${describeKind(map.kind).phrase}` : 'deleted image';
  }
  const mapById = (id: string): TextureMap | undefined =>
    project.value?.imageSets.flatMap(({ maps }) => maps).find((each) => each.id === id);
  /** What a picture of a ticket holds now, as a name that changes with it; empty for one that is not there. */
  function pictureContent(id: string): string {
    const image = images.value.find((asset) => asset.id === id);
    return image ? `${image.contentHash} ${image.colorSpace}` : (mapById(id)?.revisions[0]?.id ?? '');
  }
  /** How large a picture of a ticket is, in texels; null for one that is not there. */
  function pictureSize(id: string): Size | null {
    const image = images.value.find((asset) => asset.id === id);
    const { width, height } = image?.inspection ?? mapById(id)?.revisions[0] ?? {};
    return width !== undefined && height !== undefined ? { width, height } : null;
  }
  const latestRunOf = (ticketId: string): Run | undefined =>
    project.value?.runs.find((run) => run.ticketId === ticketId);

  /** What the inputs of a ticket are called now. */
  function namesOf({ receivers, sources, cage, pictures }: TicketInputs): SentenceNames {
    const name = (id: string): string => meshById(id)?.name ?? 'deleted mesh';
    const uvSets = meshById(receivers[0] ?? '')?.inspection.uvSets;
    return {
      receivers: receivers.map(name),
      sources: sources.map(name),
      ...(cage ? { cage: name(cage) } : {}),
      ...(pictures ? { pictures: pictures.map(pictureName), pictureSizes: pictures.map(pictureSize) } : {}),
      ...(uvSets ? { uvSets } : {}),
    };
  }

  type Sentenced = Pick<Ticket, 'operation' | 'settings' | 'inputs'>;
  const unitOf = ({ inputs }: Sentenced): string => meshById(inputs.receivers[0] ?? '')?.unit ?? 'units';

  /** The sentence of a ticket, slot by slot. */
  const sentenceOf = (ticket: Sentenced): SentencePart[] =>
    operationOf(ticket.operation).sentence(ticket.settings, namesOf(ticket.inputs), unitOf(ticket));

  /** Its further sentences, for what is seldom changed. */
  const moreSentencesOf = (ticket: Sentenced): SentencePart[][] =>
    operationOf(ticket.operation).moreSentences(ticket.settings, namesOf(ticket.inputs), unitOf(ticket));

  /**
   * Changes of tickets that are on their way, oldest first. They count at once, whatever the server tells meanwhile, so that
   * a click that follows soon goes on from what the artist sees.
   */
  const onTheirWay: { id: string; change: TicketChange }[] = [];

  /** Changes that were made upon one that was refused, with its reason. */
  const refusals = new WeakMap<TicketChange, Error>();

  function takeOff(which: (each: (typeof onTheirWay)[number]) => boolean): typeof onTheirWay {
    const taken = onTheirWay.filter(which);
    for (const each of taken) onTheirWay.splice(onTheirWay.indexOf(each), 1);
    return taken;
  }

  function withChanges(ticket: Ticket): Ticket {
    const changes = onTheirWay.filter(({ id }) => id === ticket.id).map(({ change }) => change);
    // Settings belong to the operation of their ticket, which merging cannot show.
    return changes.length > 0 ? (Object.assign({}, ticket, ...changes) as Ticket) : ticket;
  }

  /** Makes a change count, if it does not yet. */
  function count(id: string, change: TicketChange): void {
    if (onTheirWay.some((each) => each.change === change)) return;
    onTheirWay.push({ id, change });
    const current = project.value;
    if (current) project.value = { ...current, tickets: current.tickets.map(withChanges) };
  }

  function putTicket(told: Ticket): void {
    const current = project.value;
    if (!current) return;
    const ticket = withChanges(told);
    const tickets = current.tickets.some((t) => t.id === ticket.id)
      ? current.tickets.map((t) => (t.id === ticket.id ? ticket : t))
      : [...current.tickets, ticket];
    project.value = { ...current, tickets };
  }

  function putAsset(asset: Asset): void {
    const current = project.value;
    if (current) project.value = { ...current, assets: current.assets.map((a) => (a.id === asset.id ? asset : a)) };
  }

  async function sendTicketChange(id: string, change: TicketChange): Promise<void> {
    const refused = refusals.get(change);
    if (refused) throw refused;
    const { version } = ticketById(id)!;
    count(id, change);
    try {
      const made = await call(ENDPOINTS.changeTicket, { id }, { version, ...change });
      takeOff((each) => each.change === change);
      putTicket(made);
    } catch (error) {
      // Those that follow were made upon it: sent on, they would bring with them what was refused.
      for (const gone of takeOff((each) => each.id === id)) {
        if (gone.change !== change) refusals.set(gone.change, error as Error);
      }
      await reload();
      throw error;
    }
  }

  /** Changes a ticket as an edit that can be taken back. */
  function changeTicket(id: string, what: string, change: TicketChange): Promise<void> {
    const { name, settings, inputs } = ticketById(id)!;
    const before: TicketChange = {
      ...(change.name === undefined ? {} : { name }),
      ...(change.settings ? { settings } : {}),
      ...(change.inputs ? { inputs } : {}),
    };
    count(id, change);
    return edits.perform(editOf({ label: `${what} of ${name}`, ticket: id, before, after: change }));
  }

  /** Changes a ticket as a finding proposes. */
  async function takeRemedy({ id, settings, inputs }: BakeTicket | LightTicket, { remedy }: Finding): Promise<void> {
    if (!remedy) return;
    const { receivers, sources } = inputs;
    if (remedy.room) {
      const params = { projectId: project.value!.id, meshIds: receivers.join() };
      await router.push({ name: remedy.room, params, query: { set: String(settings.uvSet) } });
      return;
    }
    await changeTicket(id, remedy.label.toLowerCase(), {
      settings: { ...settings, ...remedy.change },
      // Cage and mask belong to the receiver that was.
      ...(remedy.exchange ? { inputs: { receivers: sources, sources: receivers } } : {}),
    });
  }

  type AssetChange = { name?: string } & Partial<
    Pick<MeshAsset, 'unit'> & Pick<ImageAsset, 'imageKind' | 'colorSpace' | 'convention' | 'packing'>
  >;

  async function sendAssetChange(id: string, change: AssetChange): Promise<void> {
    const { version } = project.value!.assets.find((asset) => asset.id === id)!;
    try {
      putAsset(await call(ENDPOINTS.changeAsset, { id }, { version, ...change }));
    } catch (error) {
      await reload();
      throw error;
    }
  }

  /** Changes a mesh or image as an edit that can be taken back. */
  function changeAsset(asset: Asset, what: string, change: AssetChange): Promise<void> {
    const before = Object.fromEntries(
      Object.keys(change).map((key) => [key, asset[key as keyof Asset]]),
    ) as AssetChange;
    return edits.perform({
      label: `${what} of ${asset.name}`,
      apply: () => sendAssetChange(asset.id, change),
      revert: () => sendAssetChange(asset.id, before),
    });
  }

  async function createTicket(ticket: NewTicket): Promise<Ticket> {
    const made = await call(ENDPOINTS.createTicket, { id: project.value!.id }, ticket);
    putTicket(made);
    await reload();
    return made;
  }

  async function runTicket(id: string): Promise<Run> {
    const run = await call(ENDPOINTS.runTicket, { id });
    await reload();
    return run;
  }

  const cancelRun = (id: string): Promise<Run> => call(ENDPOINTS.cancelRun, { id });

  return {
    project,
    connection,
    workerIsThere,
    scarceBytes,
    reading,
    missing,
    meshes,
    images,
    activeRuns,
    open,
    close,
    reload,
    meshById,
    meshesByIds,
    putAsset,
    ticketById,
    bakes,
    flats,
    stacks,
    lightTickets,
    bakeById,
    lightById,
    flatById,
    pictureName,
    pictureContent,
    pictureSize,
    latestRunOf,
    sentenceOf,
    moreSentencesOf,
    changeTicket,
    takeRemedy,
    changeAsset,
    createTicket,
    runTicket,
    cancelRun,
  };
});
