<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { ENDPOINTS, PATHS, reportOf, type MeshAsset, type Shell } from '@zographos/contracts';
import type { ReachTouch } from '@zographos/core/bake';
import { describeKind } from '@zographos/core/image';
import { OPERATIONS, type Finding } from '@zographos/operations';
import { call } from '../../api/call.ts';
import DistanceChart from '../../runs/DistanceChart.vue';
import MapView from '../../map/MapView.vue';
import TexelReadout from '../../map/TexelReadout.vue';
import type { Rectangle, Texel } from '../../map/mapPainter.ts';
import type { TileMaps } from '../../viewport/materials/mapPictures.ts';
import ModelView from '../../viewport/ModelView.vue';
import FindingList from '../../runs/FindingList.vue';
import IdLegend from '../../map/IdLegend.vue';
import RunFigures from '../../runs/RunFigures.vue';
import TicketChooser from '../../ticket/TicketChooser.vue';
import TicketPanel from '../../ticket/TicketPanel.vue';
import { bytes, whole } from '../../controls/format.ts';
import { isUnderWay, useCells } from '../../stores/cells.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import Columns from '../../controls/Columns.vue';

const props = defineProps<{ projectId: string; ticketId?: string }>();
const store = useProject();
const notices = useNotices();
const route = useRoute();
const { cells } = useCells();
const texel = ref<Texel | null>(null);
const mapView = ref<{ goTo: (x: number, y: number) => void } | null>(null);

const tickets = computed(() => store.bakes);
const ticket = computed(() => (props.ticketId ? store.bakeById(props.ticketId) : undefined));
const receivers = computed(() => store.meshesByIds(ticket.value?.inputs.receivers));
const sources = computed(() => store.meshesByIds(ticket.value?.inputs.sources));
const ticketCells = computed(() => cells.value.filter(({ map }) => map.ticketId === ticket.value?.id));
/** The kind of map on the bench, and its tile; the ticket's first as long as none is chosen. */
const chosenKind = ref<string | null>(null);
const chosenTile = ref<number | null>(null);
const kinds = computed(() => [...new Set(ticketCells.value.map(({ map }) => map.kind))]);
const kind = computed(() => kinds.value.find((each) => each === chosenKind.value) ?? kinds.value[0]);
const tiles = computed(() =>
  ticketCells.value
    .filter(({ map }) => map.kind === kind.value)
    .map(({ map }) => map.tile)
    .sort((a, b) => a - b),
);
const tile = computed(() => tiles.value.find((each) => each === chosenTile.value) ?? tiles.value[0]);
const cell = computed(() => ticketCells.value.find(({ map }) => map.kind === kind.value && map.tile === tile.value));
const revision = computed(() => cell.value?.map.revisions[0] ?? null);
/** The newest baked maps of the ticket's image set, whichever ticket made them. */
const modelMaps = computed((): TileMaps[] => {
  const ofSet = cells.value.filter(({ set, map }) => set.id === ticket.value?.imageSetId && !map.layered);
  return [...new Set(ofSet.map(({ map }) => map.tile))].map((at) => ({
    tile: at,
    maps: new Map(
      ofSet.flatMap(({ map: { kind: of, tile: on, revisions } }) =>
        on === at && revisions[0] ? [[of, revisions[0]] as const] : [],
      ),
    ),
  }));
});
/** The run that made the map on screen; an older one may have been dropped from the list. */
const maker = computed(() => store.project?.runs.find(({ id }) => id === revision.value?.runId) ?? null);
const report = computed(() => reportOf(maker.value, 'bake'));
const run = computed(() => cell.value?.run);
const isRunning = computed(() => isUnderWay(run.value));
const preview = computed(() =>
  isRunning.value && run.value && run.value.previewVersion > 0
    ? PATHS.preview(run.value.id, run.value.previewVersion)
    : null,
);
const unit = computed(() => receivers.value[0]?.unit ?? 'units');

const cost = computed(() => {
  if (!ticket.value || sources.value.length === 0) return null;
  const facts = (mesh: MeshAsset) => ({ name: mesh.name, ...mesh.inspection });
  const estimate = OPERATIONS.bake.estimate(ticket.value.settings, {
    receivers: receivers.value.map(facts),
    sources: sources.value.map(facts),
  });
  return `up to ${whole(estimate.rays)} rays, about ${bytes(estimate.memoryBytes)} of memory`;
});

const modelView = ref<{ pointAt: (place: [number, number, number] | null) => void } | null>(null);

/** Goes to a place in the map and on the model. */
async function show(place: Finding['places'][number]): Promise<void> {
  chosenTile.value = place.tile;
  await nextTick();
  mapView.value?.goTo(place.x, place.y);
  modelView.value?.pointAt(place.position);
}

/** A place that is named in the address: where the proof has sent one. */
watch(
  [() => route.query, mapView, modelView],
  () => {
    const [x, y, at] = ['x', 'y', 'tile'].map((key) => Number(route.query[key]));
    if (!mapView.value || route.query['x'] === undefined) return;
    const position = String(route.query['at'] ?? '')
      .split(',')
      .map(Number);
    const place = position.length === 3 ? (position as [number, number, number]) : null;
    void show({ x: x!, y: y!, tile: at!, texels: 1, part: null, position: place });
  },
  { flush: 'post' },
);

/** A rectangle of the map that alone is baked again. */
const marking = ref(false);
const marked = ref<Rectangle | null>(null);

async function bakePart(): Promise<void> {
  if (!ticket.value || !marked.value || tile.value === undefined) return;
  const { id } = ticket.value;
  const { x, y, width, height } = marked.value;
  const part = { tile: tile.value, x, y, width, height };
  marking.value = false;
  await notices.guard(() => call(ENDPOINTS.runRegion, { id }, part));
  await store.reload();
}

/** How far rays reach, laid around the model; measured when it is first asked for, and anew for a changed ticket. */
const shellShown = ref(false);
const shell = ref<Shell | null>(null);
const brushFactor = ref<number | null>(null);
const brush = computed(() => {
  const bounds = receivers.value[0]?.inspection.bounds;
  if (!shellShown.value || brushFactor.value === null || !bounds) return null;
  const size = Math.hypot(...bounds.max.map((high, k) => high - bounds.min[k]!));
  return { radius: size * brushSize.value, factor: brushFactor.value };
});
const brushSize = ref(0.12);
watch(
  () => [shellShown.value, ticket.value?.key].join(),
  async () => {
    if (!shellShown.value || !ticket.value?.key) {
      shell.value = null;
      return;
    }
    const { id, key } = ticket.value;
    const measured = await notices.guard(() => call(ENDPOINTS.readShell, { id }));
    if (measured && ticket.value.key === key) shell.value = measured;
  },
);

function touch(touches: ReachTouch[]): void {
  if (!ticket.value) return;
  const { id, settings } = ticket.value;
  const all = [
    ...settings.touches,
    ...touches.map((each) => ({ ...each, at: [...each.at] as [number, number, number] })),
  ];
  void store.changeTicket(id, 'reach', { settings: { ...settings, touches: all } });
}

const COLUMNS = [
  { name: 'model', width: 37, least: 15 },
  { name: 'map', width: 44, least: 15 },
  { name: 'figures', width: 19, least: 14 },
];
</script>

<template>
  <main v-if="ticket && receivers.length" class="ticket-room">
    <TicketPanel
      now="Bake now"
      doing="Baking"
      :all="tickets.length > 1 ? 'All tickets' : null"
      :ticket="ticket"
      :cost="cost"
      :cell="cell"
      :is-made="revision !== null"
    />

    <Columns room="bake" :columns="COLUMNS">
      <template #model>
        <ModelView
          ref="modelView"
          :receivers="receivers"
          :sources="sources"
          :maps="modelMaps"
          :kind="cell?.map.kind"
          :uv-set="ticket.settings.uvSet"
          :shell="shell"
          :brush="brush"
          @touch="touch"
        >
          <template #choices>
            <button
              v-tooltip="'How far rays reach'"
              type="button"
              :aria-pressed="shellShown"
              @click="shellShown = !shellShown"
            >
              {{ shellShown && !shell ? 'measuring …' : 'Show reach' }}
            </button>
            <template v-if="shellShown && shell">
              <button
                v-tooltip="'Drag over the model: rays reach farther there'"
                type="button"
                :aria-pressed="brushFactor === 1.25"
                @click="brushFactor = brushFactor === 1.25 ? null : 1.25"
              >
                Increase reach
              </button>
              <button
                v-tooltip="'Drag over the model: rays reach less far there'"
                type="button"
                :aria-pressed="brushFactor === 0.8"
                @click="brushFactor = brushFactor === 0.8 ? null : 0.8"
              >
                Reduce reach
              </button>
              <button
                v-if="brush"
                v-tooltip="'Size of the brush'"
                type="button"
                @click="brushSize = brushSize > 0.2 ? 0.04 : brushSize * 1.7"
              >
                Brush {{ Math.round(brushSize * 100) }} %
              </button>
            </template>
          </template>
        </ModelView>
      </template>
      <template #map>
        <div class="chosen-map">
          <div v-if="ticketCells.length > 1" class="lines">
            <div v-if="kinds.length > 1" class="choices" role="group" aria-label="Map on the bench">
              <button
                v-for="each in kinds"
                :key="each"
                type="button"
                :aria-pressed="each === kind"
                @click="chosenKind = each"
              >
                {{ describeKind(each).label }}
              </button>
            </div>
            <div v-if="tiles.length > 1" class="choices" role="group" aria-label="Tile on the bench">
              <button
                v-for="each in tiles"
                :key="each"
                type="button"
                :aria-pressed="each === tile"
                @click="chosenTile = each"
              >
                {{ each }}
              </button>
            </div>
          </div>
          <MapView
            v-if="revision && cell && !preview"
            ref="mapView"
            :revision="revision"
            :kind="cell.map.kind"
            :marking="marking"
            @texel="texel = $event"
            @mark="marked = $event"
          >
            <template #choices>
              <button
                v-tooltip="'Drag a rectangle to bake only that'"
                type="button"
                :aria-pressed="marking"
                @click="marking = !marking"
              >
                Bake a region
              </button>
              <button v-if="marked" type="button" @click="bakePart">
                Bake region, {{ marked.width }} × {{ marked.height }} px
              </button>
            </template>
          </MapView>
          <figure v-else class="filling-map">
            <img v-if="preview" :src="preview" alt="The map as it fills" />
            <figcaption v-else-if="isRunning">The map fills here as it is traced.</figcaption>
            <figcaption v-else>No map yet. Bake it, and it appears here.</figcaption>
          </figure>
        </div>
      </template>
      <template #figures>
        <aside class="figures" aria-label="Figures" tabindex="0">
          <template v-if="report">
            <IdLegend v-if="cell?.map.kind === 'id' && report.legend.length" :legend="report.legend" />
            <RunFigures :report="report" :unit="unit">
              <template #findings>
                <FindingList
                  :findings="report.findings"
                  can-mend
                  @show="show"
                  @mend="store.takeRemedy(ticket, $event)"
                />
                <RouterLink class="onward" :to="{ name: 'proof', params: { projectId, ticketId: ticket.id } }"
                  >Proof of this bake</RouterLink
                >
              </template>
            </RunFigures>
            <DistanceChart v-if="report.aim !== 'shared'" :report="report" :unit="unit" />
          </template>
          <section v-else class="panel">
            <h2>After the run</h2>
            <p>Missed texels, where rays hit, and the time of each stage.</p>
          </section>
        </aside>
      </template>
    </Columns>
    <TexelReadout class="readout" :texel="texel" :kind="cell?.map.kind ?? 'normal'" :revision="revision">
      <RouterLink v-if="cell && revision" :to="{ name: 'map', params: { projectId, mapId: cell.map.id } }"
        >Open map</RouterLink
      >
      <span v-if="sources.length" class="soft hold">hold <kbd>S</kbd> for the source</span>
    </TexelReadout>
  </main>

  <TicketChooser v-else :project-id="projectId" />
</template>

<style scoped>
.onward {
  display: inline-block;
  min-height: 26px;
  padding-top: 6px;
}

.lines {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
}

.hold {
  margin-left: 20px;
}
</style>
