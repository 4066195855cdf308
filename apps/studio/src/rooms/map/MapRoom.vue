<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { reportOf } from '@zographos/contracts';
import { describeKind, isLight } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import type { Finding } from '@zographos/operations';
import Dropdown from '../../controls/Dropdown.vue';
import { clockOf, dayOf } from '../../controls/format.ts';
import DownloadMenu from '../../map/DownloadMenu.vue';
import ExposureControls from '../../map/ExposureControls.vue';
import HistogramChart from '../../map/HistogramChart.vue';
import IdLegend from '../../map/IdLegend.vue';
import type { Texel } from '../../map/mapPainter.ts';
import MapView from '../../map/MapView.vue';
import { useScreenView } from '../../map/useScreenView.ts';
import TexelReadout from '../../map/TexelReadout.vue';
import DistanceChart from '../../runs/DistanceChart.vue';
import FindingList from '../../runs/FindingList.vue';
import RunFigures from '../../runs/RunFigures.vue';
import { CELL_WORDS, useCells } from '../../stores/cells.ts';
import { useProject } from '../../stores/project.ts';
import { ticketPlace } from '../../ticket/ticketPlace.ts';

const props = defineProps<{ projectId: string; mapId: string }>();
const store = useProject();
const route = useRoute();
const router = useRouter();
const { cells } = useCells();
const texel = ref<Texel | null>(null);
const view = ref<{ goTo: (x: number, y: number) => void } | null>(null);

const cell = computed(() => cells.value.find(({ map }) => map.id === props.mapId));
const revisions = computed(() => cell.value?.map.revisions ?? []);
const revision = computed(
  () => revisions.value.find(({ number }) => String(number) === route.query['revision']) ?? revisions.value[0],
);
const { screen, fit } = useScreenView(() => revision.value?.histograms.map(({ mean }) => mean) ?? null);
const report = computed(() =>
  reportOf(
    store.project?.runs.find((run) => run.id === revision.value?.runId),
    'bake',
  ),
);
const unit = computed(() =>
  cell.value ? (store.meshById(cell.value.set.receiverId ?? '')?.unit ?? 'units') : 'units',
);

const options = computed(() =>
  revisions.value.map(({ number, createdAt }) => ({
    value: number,
    label: `Revision ${number}, ${dayOf(createdAt)} ${clockOf(createdAt)}`,
  })),
);
/** Goes to a place, which may lie on another tile of the same set. */
async function show({ tile, x, y }: Finding['places'][number]): Promise<void> {
  const here = cell.value!;
  const { kind: own, layered: isLayered } = here.map;
  const other = here.set.maps.find(
    ({ kind, tile: at, layered }) => kind === own && at === tile && layered === isLayered,
  );
  if (other && other.id !== props.mapId) {
    await router.push({ name: 'map', params: { projectId: props.projectId, mapId: other.id } });
  }
  view.value?.goTo(x, y);
}

const choose = (number: number): void => void router.replace({ query: { revision: number } });
</script>

<template>
  <main v-if="cell && revision" class="closer">
    <header>
      <h1>
        {{ cell.set.name }}, {{ describeKind(cell.map.kind).phrase
        }}<template v-if="cell.map.tile !== FIRST_TILE">, {{ cell.map.tile }}</template>
      </h1>
      <span class="mark" :class="`mark-${cell.state}`"
        ><span>{{ CELL_WORDS[cell.state] }}</span></span
      >
      <Dropdown label="Revision" :value="revision.number" :options="options" @choose="choose" />
      <RouterLink v-if="cell.ticket" :to="ticketPlace(projectId, cell.ticket)">Open ticket</RouterLink>
      <RouterLink v-else :to="{ name: 'atlas', params: { projectId }, query: { atlas: cell.set.name } }"
        >Open atlas</RouterLink
      >
      <DownloadMenu :revision-id="revision.id" :screen="isLight(cell.map.kind) ? screen : null" />
    </header>
    <MapView
      ref="view"
      :revision="revision"
      :kind="cell.map.kind"
      :screen="isLight(cell.map.kind) ? screen : null"
      @texel="texel = $event"
    />
    <aside aria-label="Figures" tabindex="0">
      <section v-if="isLight(cell.map.kind)" class="panel">
        <h2>Shown</h2>
        <ExposureControls v-model:screen="screen" @fit="fit" />
      </section>
      <HistogramChart :revision="revision" />
      <template v-if="report">
        <IdLegend v-if="cell.map.kind === 'id' && report.legend.length" :legend="report.legend" />
        <RunFigures :report="report" :unit="unit">
          <template #findings><FindingList :findings="report.findings" @show="show" /></template>
        </RunFigures>
        <DistanceChart v-if="report.aim !== 'shared'" :report="report" :unit="unit" />
      </template>
    </aside>
    <TexelReadout class="readout" :texel="texel" :kind="cell.map.kind" :revision="revision" />
  </main>
  <main v-else class="nothing">
    <p>
      This map has not been made yet, or was deleted.
      <RouterLink :to="{ name: 'contactSheet', params: { projectId } }">Back to the contact sheet</RouterLink>
    </p>
  </main>
</template>

<style scoped>
.closer {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  grid-template-columns: minmax(0, 1fr) 256px;
  gap: 10px;
  height: 100%;
  padding: 10px 20px;
}

header {
  display: flex;
  grid-column: 1 / -1;
  gap: 18px;
  align-items: center;
}

h1 {
  font-size: 17px;
}

header > :nth-child(3) {
  margin-left: auto;
}

aside {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  align-content: start;
  overflow: auto;
}

.readout {
  grid-column: 1 / -1;
}

.nothing {
  padding: 40px 20px;
}
</style>
