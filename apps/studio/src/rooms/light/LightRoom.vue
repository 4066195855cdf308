<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { PATHS, reportOf, type MapRevision } from '@zographos/contracts';
import { describeKind, isLight, type MapKind } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import { groupNames, GROUP_KINDS, OPERATIONS, type Finding, type LightSettings } from '@zographos/operations';
import Columns from '../../controls/Columns.vue';
import { bytes, whole } from '../../controls/format.ts';
import MapView from '../../map/MapView.vue';
import TexelReadout from '../../map/TexelReadout.vue';
import type { Texel } from '../../map/mapPainter.ts';
import { screenFor, useScreenView } from '../../map/useScreenView.ts';
import FindingList from '../../runs/FindingList.vue';
import { isUnderWay, useCells } from '../../stores/cells.ts';
import { useProject } from '../../stores/project.ts';
import LightList from '../../ticket/light/LightList.vue';
import TicketPanel from '../../ticket/TicketPanel.vue';
import LightChooser from './LightChooser.vue';
import LightFigures from './LightFigures.vue';
import { LightPictures } from './passes/lightPictures.ts';
import PassGrid from './passes/PassGrid.vue';
import ShownLight from './passes/ShownLight.vue';
import { kindsShown, partsOfLight } from './passes/shownLight.ts';
import LightModel from './scene/LightModel.vue';

const props = defineProps<{ projectId: string; ticketId?: string }>();
const store = useProject();
const { cells } = useCells();

const ticket = computed(() => (props.ticketId ? store.lightById(props.ticketId) : undefined));
const receivers = computed(() => store.meshesByIds(ticket.value?.inputs.receivers));
const sources = computed(() => store.meshesByIds(ticket.value?.inputs.sources));
const ticketCells = computed(() => cells.value.filter(({ map }) => map.ticketId === ticket.value?.id));
const tiles = computed(() => [...new Set(ticketCells.value.map(({ map }) => map.tile))].sort((a, b) => a - b));
const chosenTile = ref<number | null>(null);
const tile = computed(() => tiles.value.find((each) => each === chosenTile.value) ?? tiles.value[0] ?? FIRST_TILE);

/** Maps that are made, of one tile. */
const madeOn = (at: number): Map<MapKind, MapRevision> =>
  new Map(
    ticketCells.value.flatMap(({ map: { kind, tile: on, revisions } }) =>
      on === at && revisions[0] ? [[kind, revisions[0]] as const] : [],
    ),
  );
const made = computed(() => madeOn(tile.value));
const groups = computed(() => (ticket.value ? groupNames(ticket.value.settings) : []));
const labelOf = (kind: MapKind): string => {
  const group = groups.value[GROUP_KINDS.indexOf(kind)];
  return group ? `Group ${group}` : describeKind(kind).label;
};
const passes = computed(() => [...made.value].map(([kind, revision]) => ({ kind, label: labelOf(kind), revision })));

/** The pass that is looked at; all light at first. */
const chosenKind = ref<MapKind>('combined');
const kind = computed(() =>
  made.value.has(chosenKind.value) ? chosenKind.value : (passes.value[0]?.kind ?? 'combined'),
);
const sideBySide = ref(false);
const off = ref<ReadonlySet<MapKind>>(new Set());
const parts = computed(() => (ticket.value ? partsOfLight(ticket.value.settings, new Set(made.value.keys())) : []));
const shownOn = (at: number): MapRevision[] => {
  const there = madeOn(at);
  return kindsShown(kind.value, parts.value, off.value).flatMap((each) => there.get(each) ?? []);
};
const shown = computed(() => shownOn(tile.value));
const onModel = computed(() => tiles.value.map((at) => ({ tile: at, revisions: shownOn(at) })));

function toggle(part: MapKind): void {
  chosenKind.value = 'combined';
  const next = new Set(off.value);
  if (!next.delete(part)) next.add(part);
  off.value = next;
}

const cell = computed(() => ticketCells.value.find(({ map }) => map.kind === kind.value && map.tile === tile.value));
const state = computed(() => cell.value ?? ticketCells.value[0]);
const run = computed(() => state.value?.run);
const isRunning = computed(() => isUnderWay(run.value));
/** The run that made what is on screen; an older one may have been dropped from the list. */
const maker = computed(() => store.project?.runs.find(({ id }) => id === shown.value[0]?.runId) ?? null);
const report = computed(() => reportOf(maker.value, 'light'));
const { screen, fit } = useScreenView(() => report.value?.mean ?? null);
const growing = computed(() =>
  isRunning.value && run.value && run.value.previewVersion > 0
    ? PATHS.preview(run.value.id, run.value.previewVersion)
    : null,
);

const pictures = new LightPictures(1024);
const small = new LightPictures(256);
watch(ticketCells, () => {
  const all = ticketCells.value.flatMap(({ map }) => map.revisions.slice(0, 1));
  pictures.keepOnly(all);
  small.keepOnly(all);
});

const chosen = ref(0);
const texel = ref<Texel | null>(null);
const mapView = ref<{ goTo: (x: number, y: number) => void } | null>(null);

const cost = computed(() => {
  if (!ticket.value) return '';
  const facts = (mesh: (typeof receivers.value)[number]) => ({ name: mesh.name, ...mesh.inspection });
  const { settings } = ticket.value;
  const inputs = { receivers: receivers.value.map(facts), sources: sources.value.map(facts) };
  const { rays, memoryBytes } = OPERATIONS.light.estimate(OPERATIONS.light.resolve(settings, inputs), inputs);
  return `about ${whole(rays / 1e6)} million rays and ${bytes(memoryBytes)} of memory`;
});

function place(part: Partial<LightSettings>): void {
  const { id, settings } = ticket.value!;
  void store.changeTicket(id, 'place', { settings: { ...settings, ...part } });
}

async function show({ x, y, tile: at }: Finding['places'][number]): Promise<void> {
  chosenTile.value = at;
  sideBySide.value = false;
  await nextTick();
  mapView.value?.goTo(x, y);
}

function choosePass(pass: MapKind): void {
  chosenKind.value = pass;
  sideBySide.value = false;
}

const COLUMNS = [
  { name: 'model', width: 42, least: 20 },
  { name: 'map', width: 36, least: 15 },
  { name: 'figures', width: 22, least: 18 },
];
</script>

<template>
  <main v-if="ticket && receivers.length" class="ticket-room">
    <TicketPanel
      now="Light now"
      doing="Lighting"
      all="All light tickets"
      :ticket="ticket"
      :cost="cost"
      :cell="state"
      :is-made="passes.length > 0"
    >
      <a
        v-if="passes.length > 0"
        v-tooltip="'All passes as layers of one OpenEXR, as floats'"
        :href="PATHS.lightLayers(ticket.imageSetId, tile, 'float')"
        download
        >Download all passes</a
      >
    </TicketPanel>

    <Columns room="light" :columns="COLUMNS">
      <template #model>
        <LightModel
          v-model:chosen="chosen"
          :receivers="receivers"
          :sources="sources"
          :settings="ticket.settings"
          :tiles="onModel"
          :pictures="pictures"
          :screen="screenFor(kind, screen)"
          :growing="tiles.length === 1 ? growing : null"
          @place="place"
        />
      </template>
      <template #map>
        <div class="chosen-map">
          <div v-if="passes.length > 0" class="choices" role="group" aria-label="Pass">
            <button v-if="passes.length > 1" type="button" :aria-pressed="sideBySide" @click="sideBySide = !sideBySide">
              Side by side
            </button>
            <button
              v-for="pass in passes"
              :key="pass.kind"
              type="button"
              :aria-pressed="!sideBySide && pass.kind === kind"
              @click="choosePass(pass.kind)"
            >
              {{ pass.label }}
            </button>
            <template v-if="tiles.length > 1">
              <button
                v-for="each in tiles"
                :key="each"
                type="button"
                :aria-pressed="each === tile"
                @click="chosenTile = each"
              >
                {{ each }}
              </button>
            </template>
          </div>
          <figure v-if="growing" class="filling-map"><img :src="growing" alt="The light as it grows finer" /></figure>
          <PassGrid
            v-else-if="sideBySide"
            :passes="passes"
            :pictures="small"
            :screen="screen"
            :chosen="kind"
            @choose="choosePass"
          />
          <MapView
            v-else-if="shown[0]"
            ref="mapView"
            :revision="shown[0]"
            :added="shown.slice(1)"
            :kind="kind"
            :screen="isLight(kind) ? screen : null"
            @texel="texel = $event"
          />
          <figure v-else class="filling-map">
            <figcaption v-if="isRunning">The light appears here as it grows finer.</figcaption>
            <figcaption v-else-if="passes.length > 0">All parts of the light are switched off.</figcaption>
            <figcaption v-else>No light yet. Place lights in the view, and light the model.</figcaption>
          </figure>
        </div>
      </template>
      <template #figures>
        <aside class="figures" aria-label="Figures" tabindex="0">
          <section class="panel">
            <h2>Lights</h2>
            <LightList v-model:chosen="chosen" :ticket="ticket" />
          </section>
          <ShownLight
            v-if="passes.length > 0"
            v-model:screen="screen"
            :parts="parts"
            :off="off"
            @toggle="toggle"
            @fit="fit"
          />
          <LightFigures v-if="report" :report="report">
            <template #findings>
              <FindingList :findings="report.findings" can-mend @show="show" @mend="store.takeRemedy(ticket, $event)" />
            </template>
          </LightFigures>
        </aside>
      </template>
    </Columns>
    <TexelReadout class="readout" :texel="texel" :kind="kind" :revision="shown[0] ?? null">
      <RouterLink v-if="cell && shown[0]" :to="{ name: 'map', params: { projectId, mapId: cell.map.id } }"
        >Open map</RouterLink
      >
    </TexelReadout>
  </main>

  <LightChooser v-else :project-id="projectId" />
</template>
