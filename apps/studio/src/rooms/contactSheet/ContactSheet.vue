<script setup lang="ts">
import Button from 'primevue/button';
import { computed, inject, ref } from 'vue';
import { useRouter, type RouteLocationRaw } from 'vue-router';
import { useEventListener } from '@vueuse/core';
import type { ImageSet, Ticket } from '@zographos/contracts';
import { describeKind, inUsualOrder, type MapKind } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import { sentenceText } from '@zographos/operations';
import FilePicker from '../../controls/FilePicker.vue';
import { count, whole } from '../../controls/format.ts';
import { bringInKey } from '../../stores/bringIn.ts';
import { LAYER_CHANNELS } from '@zographos/core/layers';
import { useCells, type Cell } from '../../stores/cells.ts';
import { useWaitingMaps } from '../../stores/waitingMaps.ts';
import { useProject } from '../../stores/project.ts';
import { ticketPlace } from '../../ticket/ticketPlace.ts';
import SheetCell from './SheetCell.vue';

const store = useProject();
const router = useRouter();
const bringIn = inject(bringInKey)!;
const { cells, waiting } = useCells();
const { makeWaiting } = useWaitingMaps();
const bakeWaiting = (): Promise<void> => makeWaiting();

/** A row for each image set, and for each of its UDIM tiles; what layers have made of it stands above what was baked. */
const rows = computed(() =>
  (store.project?.imageSets ?? [])
    .toSorted((a, b) => Number(a.lit) - Number(b.lit))
    .flatMap((set) =>
      [true, false].flatMap((layered) => {
        const own = set.maps.filter((map) => map.layered === layered);
        const tiles = [...new Set(own.map(({ tile }) => tile))].sort((a, b) => a - b);
        const hasTiles = tiles.length > 1 || (tiles[0] ?? FIRST_TILE) !== FIRST_TILE;
        return tiles.map((tile, i) => ({ set, tile, layered, isFirst: i === 0, hasTiles }));
      }),
    ),
);
type Row = (typeof rows.value)[number];

/** Kinds as far as some cells have them: those of finished materials first, then as they are usually made. */
function kindsOf(of: readonly Cell[]): MapKind[] {
  const all = inUsualOrder(of.map(({ map }) => map.kind));
  const finished = LAYER_CHANNELS.filter((kind) => of.some(({ map }) => map.layered && map.kind === kind));
  return [...new Set([...finished, ...all])];
}

/** What meshes and tiles are made of, and below it how meshes look in light: they have no kinds in common. */
const sheets = computed(() =>
  [false, true].flatMap((lit) => {
    const own = rows.value.filter(({ set }) => set.lit === lit);
    if (own.length === 0) return [];
    const kinds = kindsOf(cells.value.filter(({ set }) => set.lit === lit));
    return [{ lit, kinds, rows: own, first: rows.value.indexOf(own[0]!) }];
  }),
);
const cellAt = ({ set: { id }, tile, layered }: Row, kind: string): Cell | undefined =>
  cells.value.find(
    ({ set, map }) => set.id === id && map.tile === tile && map.kind === kind && map.layered === layered,
  );

const ticketsOf = ({ set, layered }: Row): Ticket[] =>
  [...new Set(set.maps.filter((map) => map.layered === layered).map(({ ticketId }) => ticketId))]
    .map((id) => store.ticketById(id ?? ''))
    .filter((ticket) => ticket !== undefined);

/** Where a set is seen from: its receiver, the room of its light, or that of tiling material. */
const setPlace = ({ id: setId, receiverId, lit }: ImageSet): RouteLocationRaw => {
  const { id: projectId } = store.project!;
  const light = lit && store.lightTickets.find(({ imageSetId }) => imageSetId === setId);
  if (light) return ticketPlace(projectId, light);
  return receiverId
    ? { name: 'intake', params: { projectId }, query: { asset: receiverId } }
    : { name: 'flat', params: { projectId, setId } };
};

const running = computed(() => store.activeRuns.length);
const summary = computed(() => {
  const stale = waiting.value.filter(({ state }) => state === 'stale').length;
  const parts = [stale > 0 ? `${stale} out of date` : '', running.value > 0 ? `${running.value} running` : ''].filter(
    Boolean,
  );
  return parts.length > 0 ? ` – ${parts.join(', ')}` : '';
});

const buttonLabel = computed(() => `Update ${count(waiting.value.length, 'map')}`);

const grids = ref<HTMLElement | null>(null);

/** Arrow keys walk the cells; the browser's own focus is the selection. */
function walk(event: KeyboardEvent): void {
  const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
  const here = document.activeElement?.closest<HTMLElement>('[data-row]');
  if (!step || !here || !grids.value) return;
  event.preventDefault();
  const row = Number(here.dataset['row']) + step[0]!;
  const column = Number(here.dataset['column']) + step[1]!;
  grids.value.querySelector<HTMLElement>(`[data-row="${row}"][data-column="${column}"]`)?.focus();
}

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (event.ctrlKey && event.key === 'Enter' && waiting.value.length > 0) void bakeWaiting();
});

function look({ map, ticket }: Cell): void {
  const { id: projectId } = store.project!;
  if (map.revisions.length > 0) void router.push({ name: 'map', params: { projectId, mapId: map.id } });
  else if (ticket) void router.push(ticketPlace(projectId, ticket));
}
</script>

<template>
  <main class="sheet">
    <template v-if="rows.length">
      <header>
        <p class="summary">
          <strong
            >{{ count(store.project?.imageSets.length ?? 0, 'image set') }}, {{ count(cells.length, 'map') }}</strong
          >
          <span class="soft">{{ summary }}</span>
        </p>
        <Button v-if="waiting.length" :label="buttonLabel" @click="bakeWaiting" />
        <RouterLink v-slot="{ navigate }" custom :to="{ name: 'bake', params: { projectId: store.project!.id } }">
          <Button label="New ticket" outlined @click="navigate()" />
        </RouterLink>
      </header>
      <div ref="grids" class="grids" @keydown="walk">
        <div
          v-for="sheet in sheets"
          :key="String(sheet.lit)"
          class="grid"
          role="grid"
          :aria-label="sheet.lit ? 'Contact sheet of light' : 'Contact sheet'"
          :style="{ '--columns': sheet.kinds.length }"
        >
          <div class="heads" role="row">
            <span role="columnheader" class="unseen">image set</span>
            <span v-for="kind in sheet.kinds" :key="kind" role="columnheader" class="head">{{
              describeKind(kind).label
            }}</span>
          </div>
          <div
            v-for="(each, row) in sheet.rows"
            :key="`${each.set.id} ${each.tile} ${each.layered}`"
            class="row"
            role="row"
          >
            <div role="rowheader" class="name">
              <RouterLink :to="setPlace(each.set)">
                {{ each.set.name }}<template v-if="each.hasTiles">, {{ each.tile }}</template>
              </RouterLink>
              <template v-if="each.isFirst">
                <span v-if="each.layered" class="soft">finished in layers</span>
                <span v-else-if="each.set.lit" class="soft">in light</span>
                <span v-else-if="each.set.receiverId" class="soft"
                  >receiver, {{ whole(store.meshById(each.set.receiverId)?.inspection.triangles ?? 0) }} triangles</span
                >
                <span v-else class="soft">tiling material</span>
                <RouterLink
                  v-for="ticket in ticketsOf(each)"
                  :key="ticket.id"
                  class="ticket"
                  :to="ticketPlace(store.project!.id, ticket)"
                >
                  {{ sentenceText(store.sentenceOf(ticket)) }}
                </RouterLink>
              </template>
              <span v-else class="soft">UDIM tile of the same set</span>
            </div>
            <template v-for="(kind, column) in sheet.kinds" :key="kind">
              <SheetCell
                v-if="cellAt(each, kind)"
                :cell="cellAt(each, kind)!"
                :data-row="sheet.first + row"
                :data-column="column"
                @look="look(cellAt(each, kind)!)"
              />
              <div
                v-else
                role="gridcell"
                class="nothing"
                :data-row="sheet.first + row"
                :data-column="column"
                tabindex="-1"
              >
                –
              </div>
            </template>
          </div>
        </div>
      </div>
    </template>

    <section v-else class="panel empty">
      <template v-if="store.meshes.length === 0">
        <h2>Import two meshes</h2>
        <p>
          Import a low-poly mesh with UVs (the receiver) and a high-poly mesh with the detail (the source). Drop the
          files anywhere on this page.
        </p>
        <FilePicker label="Choose files" @files="bringIn" />
      </template>
      <template v-else>
        <h2>Create the first ticket</h2>
        <p>
          {{ count(store.meshes.length, 'mesh', 'meshes') }} imported. A ticket says which map to bake from which mesh;
          its maps are shown here.
        </p>
        <RouterLink v-slot="{ navigate }" custom :to="{ name: 'bake', params: { projectId: store.project!.id } }">
          <Button label="New ticket" @click="navigate()" />
        </RouterLink>
      </template>
    </section>
  </main>
</template>

<style scoped>
.sheet {
  overflow: auto;
  height: 100%;
  padding: 16px 20px;
}

header {
  display: flex;
  gap: 12px;
  align-items: center;
  margin-bottom: 12px;
}

.summary {
  margin-right: auto;
  font-size: 15px;
}

/* Their heads stand out from the rows before. */
.grid + .grid {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--line-strong);
}

.grid {
  --cell: clamp(180px, calc((100vw - 300px) / var(--columns) - 12px), min(420px, calc(100vh - 250px)));
}

.heads,
.row {
  display: grid;
  grid-template-columns: 248px repeat(var(--columns), var(--cell));
  gap: 12px;
}

.head {
  grid-column: auto;
  color: var(--ink-soft);
}

.heads > .head:first-of-type,
.heads > .head:nth-child(2) {
  grid-column-start: 2;
}

.row {
  padding-top: 6px;
  padding-bottom: 10px;
}

.name {
  display: flex;
  flex-direction: column;
  gap: 4px;
  align-self: start;
  padding: 2px 12px;
  border-left: 2px solid var(--ink);
}

.name > a:first-child {
  font-size: 15px;
  font-weight: 700;
  text-decoration: none;
}

.ticket {
  margin-top: 6px;
  color: var(--ink);
  font-size: var(--text-small);
  text-decoration: none;
}

.name a:hover {
  text-decoration: underline;
}

.nothing {
  display: grid;
  place-items: center;
  border: 1px dashed var(--line);
  color: var(--ink-soft);
}

.empty {
  display: grid;
  gap: 12px;
  justify-items: start;
  max-width: 560px;
  margin: 48px auto;
  padding: 24px;
  font-size: 15px;
}

.empty > h2 {
  margin: 0;
  color: var(--ink);
  font-size: 20px;
}
</style>
