<script setup lang="ts">
import Button from 'primevue/button';
import { useEventListener } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { useRoute } from 'vue-router';
import { describeKind, type MapKind } from '@zographos/core/image';
import { arrangeTiles, sizeAfterChange } from '@zographos/core/seamless';
import type { FlatTicket, TicketOf } from '@zographos/contracts';
import { operationOf, type SeamlessSettings } from '@zographos/operations';
import { FLAT_EDITING } from './editors/flatEditors.ts';
import CompareMethods from './CompareMethods.vue';
import FlatEditor from './editors/FlatEditor.vue';
import FlatChooser from './FlatChooser.vue';
import FlatModel from './model/FlatModel.vue';
import FlatProof from './FlatProof.vue';
import FlatSets from './FlatSets.vue';
import FrameView from './preview/FrameView.vue';
import PreviewBar from './PreviewBar.vue';
import TileView from './preview/TileView.vue';
import { useTileClicks } from './preview/useTileClicks.ts';
import { useWornMaps } from './model/useWornMaps.ts';
import { withMethod, type Compared, type ComparedAxes, type PreviewView } from './editors/ways.ts';
import type { PreviewMap } from './preview/flatWorker.ts';
import { useFlatPreview } from './preview/useFlatPreview.ts';
import { percent } from '../../controls/format.ts';
import { isTyping } from '../../controls/isTyping.ts';
import { CELL_WORDS, useCells } from '../../stores/cells.ts';
import { useNotices } from '../../stores/notices.ts';
import SlotSentence from '../../ticket/SlotSentence.vue';
import { useProject } from '../../stores/project.ts';
import CheckLine from '../../controls/CheckLine.vue';

const props = defineProps<{ projectId: string; setId?: string }>();
const store = useProject();
const notices = useNotices();
const route = useRoute();
const { cells } = useCells();

const sets = computed(() => (store.project?.imageSets ?? []).filter(({ receiverId }) => receiverId === null));
const set = computed(() =>
  props.setId === 'new' ? undefined : (sets.value.find(({ id }) => id === props.setId) ?? sets.value[0]),
);
/** The steps of the set, in the order in which they were written. */
const steps = computed(() => store.flats.filter(({ imageSetId }) => imageSetId === set.value?.id));
const ticket = computed(() => steps.value.find(({ id }) => id === route.query['ticket']) ?? steps.value[0]);

/** Settings as they are being moved; the ticket's own otherwise. */
const moved = shallowRef<FlatTicket['settings'] | null>(null);
const settings = computed(() => moved.value ?? ticket.value?.settings);
watch(
  () => [ticket.value?.id, ticket.value?.version],
  () => (moved.value = null),
);

const kinds = computed((): MapKind[] => {
  const own = ticket.value;
  // Operation and settings belong together in a ticket.
  return own && settings.value ? [...operationOf(own.operation).outputs(settings.value)] : [];
});
const chosenKind = ref<MapKind | null>(null);
const kind = computed(() => kinds.value.find((each) => each === chosenKind.value) ?? kinds.value[0]);
const shownKind = computed({ get: () => kind.value, set: (next) => (chosenKind.value = next ?? null) });

const slotName = ref<string>('way');
watch(
  () => ticket.value?.operation,
  (operation) => {
    if (operation) slotName.value = FLAT_EDITING[operation].first;
  },
  { immediate: true },
);
/** A map that is spoken of is looked at. */
watch(slotName, (name) => {
  const spoken = kinds.value.find((each) => each === name);
  if (spoken) chosenKind.value = spoken;
  alone.value = null;
});
const parts = computed(() => {
  if (!ticket.value || !settings.value) return [];
  return store.sentenceOf({ ...ticket.value, settings: settings.value });
});

const view = ref<PreviewView>('tile');
const side = ref(512);
const repeats = ref(2);
const divider = ref(0);
const borders = ref(false);
const marked = ref(false);
/** Whether tiles that match are shown at random, as an engine shows them, and not their atlas. */
const arranged = ref(true);
const alone = ref<number | null>(null);
const wanted = computed((): MapKind[] => {
  if (view.value === 'model') return kinds.value;
  // The height goes along for its profile.
  const extra = slotName.value === 'height' && kinds.value.includes('height') ? (['height'] as const) : [];
  return kind.value ? [...new Set([kind.value, ...extra])] : [];
});
const { compared, compare, maps, source, proof, suggestion, depth, milliseconds, busy, isDraft, problem } =
  useFlatPreview({
    ticket,
    settings,
    kinds: wanted,
    side,
    pick: alone,
  });
const shown = computed(() => maps.value.find((map) => map.kind === kind.value) ?? null);
const isWang = computed(
  () => ticket.value?.operation === 'seamless' && (settings.value as SeamlessSettings).way === 'wang',
);
/** Whether what is made should repeat, so that it is proved. */
const isTiling = computed(() => ticket.value?.operation !== 'derive' && ticket.value?.operation !== 'cutouts');
/** A plane of tiles repeats in itself, cut-outs not at all. */
const shownRepeats = computed(() => {
  if (ticket.value?.operation === 'cutouts') return 1;
  return isWang.value && arranged.value ? Math.ceil(repeats.value / 2) : repeats.value;
});
const plane = computed((): PreviewMap | null => {
  const atlas = shown.value;
  if (!atlas || !isWang.value || !arranged.value) return atlas;
  const { width, height, data } = arrangeTiles({ ...atlas, data: atlas.rgba }, 4, PLANE_TILES, PLANE_TILES, 1);
  return { ...atlas, width, height, rgba: data };
});
/** Whether the shown map is the same everywhere. */
const oneValue = computed(() => {
  const texels =
    shown.value && new Uint32Array(shown.value.rgba.buffer, shown.value.rgba.byteOffset, shown.value.rgba.length / 4);
  return texels !== null && alone.value === null && texels.every((texel) => texel === texels[0]);
});
/** A tile is never previewed larger than it will be. */
const previewSide = computed(() => (shown.value ? Math.max(shown.value.width, shown.value.height) : side.value));
/** Heights along the middle row. */
const profile = computed(() => {
  const height = maps.value.find((map) => map.kind === 'height');
  if (!height?.values) return null;
  const row = Math.floor(height.height / 2) * height.width;
  return height.values.subarray(row, row + height.width);
});

const { worn, modelDepth } = useWornMaps({
  set,
  steps,
  maps,
  depth,
  side,
  isWanted: computed(() => view.value === 'model'),
});
const meshes = computed(() =>
  store.meshes.filter(({ inspection }) => inspection.uvSets.length > 0 && inspection.triangles <= MOST_TRIANGLES),
);
const onlyMap = ref(false);

function move(next: FlatTicket['settings']): void {
  moved.value = withSize(next);
}

/** @param pictures all images of the ticket, where others are among them */
async function change(next: FlatTicket['settings'], what: string, pictures?: string[]): Promise<void> {
  if (!ticket.value) return;
  const settings = withSize(next);
  moved.value = settings;
  const inputs = pictures && { inputs: { ...ticket.value.inputs, pictures } };
  await store.changeTicket(ticket.value.id, what, { settings, ...inputs });
}

/** A tile that keeps the proportions and resolution of its picture goes on doing so. */
function withSize(next: FlatTicket['settings']): FlatTicket['settings'] {
  const own = ticket.value;
  const picture = store.pictureSize(own?.inputs.pictures?.[0] ?? '');
  if (own?.operation !== 'seamless' || !picture) return next;
  const [before, after] = [settings.value as SeamlessSettings, next as SeamlessSettings];
  return { ...after, size: sizeAfterChange(picture, before, after) };
}

/** All ways side by side, made anew whenever something else changes. */
const axes = ref<ComparedAxes>('both');
watch([view, settings, kind, source, axes], () => {
  if (view.value === 'methods' && kind.value && source.value) compare(kind.value, axes.value);
});
function take(method: Compared): void {
  view.value = 'tile';
  if (ticket.value?.operation === 'seamless') void change(withMethod(ticket.value.settings, method, axes.value), 'way');
}
watch(
  () => ticket.value?.operation,
  (operation) => {
    if (operation !== 'seamless' && view.value === 'methods') view.value = 'tile';
  },
);

const { brush, sourceOf, picking, isPainting, painted, clicked } = useTileClicks({ ticket, slotName, source, change });
const reading = ref<{ x: number; y: number; color: [number, number, number] } | null>(null);

const cell = computed(() => cells.value.find(({ map }) => map.ticketId === ticket.value?.id));
const run = computed(() => (ticket.value ? store.latestRunOf(ticket.value.id) : undefined));
const isRunning = computed(() => run.value?.state === 'running' || run.value?.state === 'queued');

async function runNow(): Promise<void> {
  if (ticket.value) await notices.guard(() => store.runTicket(ticket.value!.id));
}

/** What was before is held while the key is down. */
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event)) return;
  if (event.ctrlKey && event.key === 'Enter') void runNow();
  else if (event.key === 'b') divider.value = 1;
  else if (event.key === 'm') view.value = view.value === 'tile' ? 'model' : 'tile';
});
useEventListener(document, 'keyup', (event: KeyboardEvent) => {
  if (event.key === 'b') divider.value = 0;
});

/** Tiles along each side of a plane of them. */
const PLANE_TILES = 8;
/** A mesh that is worn is split further, for displacement; larger ones would only be slow. */
const MOST_TRIANGLES = 200_000;
const asTile = (own: FlatTicket): own is TicketOf<'seamless'> => own.operation === 'seamless';
</script>

<template>
  <main class="flat">
    <FlatSets :project-id="projectId" :sets="sets" :set="set" :steps="steps" :ticket="ticket" />
    <FlatChooser v-if="!set || !ticket || !settings" :project-id="projectId" class="wide" />
    <template v-else>
      <section class="panel ticket" aria-label="Ticket">
        <SlotSentence :parts="parts" :chosen="slotName" @choose="slotName = $event" />
        <div class="act">
          <Button
            :label="isRunning ? `Running, ${percent(run?.share ?? 0)}` : 'Run now'"
            :disabled="isRunning"
            @click="runNow"
          />
          <Button v-if="isRunning" label="Cancel" outlined @click="notices.guard(() => store.cancelRun(run!.id))" />
          <span v-else-if="cell" class="mark" :class="`mark-${cell.state}`"
            ><span>{{ CELL_WORDS[cell.state] }}</span></span
          >
        </div>
        <p v-if="cell?.state === 'failed'" class="failed" role="alert">{{ run?.error?.message }}</p>
      </section>

      <section class="stage" aria-label="Preview">
        <PreviewBar
          v-model:kind="shownKind"
          v-model:view="view"
          v-model:repeats="repeats"
          v-model:side="side"
          :kinds="kinds"
          :can-compare="asTile(ticket)"
        />
        <FrameView
          v-if="asTile(ticket) && slotName === 'frame'"
          :picture="source"
          :corners="(settings as SeamlessSettings).corners"
          @move="move({ ...(settings as SeamlessSettings), corners: $event as SeamlessSettings['corners'] })"
          @change="
            change({ ...(settings as SeamlessSettings), corners: $event as SeamlessSettings['corners'] }, 'frame')
          "
        />
        <CompareMethods
          v-else-if="view === 'methods'"
          v-model:axes="axes"
          :compared="compared"
          :repeats="repeats"
          :name="set.name"
          @take="take"
        />
        <FlatModel
          v-else-if="view === 'model'"
          :maps="worn"
          :depth="modelDepth"
          :tiling="repeats"
          :alone="onlyMap ? (kind ?? null) : null"
          :meshes="meshes"
        />
        <TileView
          v-else
          :tile="picking ? source : plane"
          :is-draft="isDraft && !picking"
          :before="picking || ticket.operation === 'field' || isWang ? null : source"
          :repeats="shownRepeats"
          :divider="divider"
          :borders="borders"
          :label="`${set.name} ${kind ? describeKind(kind).phrase : ''}, ${repeats} × ${repeats}`"
          :telltales="marked ? (proof?.repetition.telltales ?? []) : []"
          :seams="marked ? (proof?.seams?.places ?? []) : []"
          :spots="slotName === 'spots' && asTile(ticket) ? (settings as SeamlessSettings).spots : []"
          :brush="isPainting ? brush : null"
          @place="clicked"
          @paint="painted"
          @divide="divider = $event"
          @read="reading = $event"
        />
        <p class="foot">
          <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
          <template v-else>
            <span v-if="sourceOf !== null">Click the area to copy from.</span>
            <span v-else-if="picking">Click a colour in the image.</span>
            <span v-else-if="oneValue">The whole map has one value: it needs no image.</span>
            <span v-else-if="reading" class="figure"
              >{{ reading.x }}, {{ reading.y }}: {{ reading.color.join(' ') }}</span
            >
            <span v-else-if="milliseconds === null" class="soft">Loading the image …</span>
            <span v-else class="soft"
              >{{ isDraft ? 'Draft' : 'Preview' }} of {{ previewSide }} px, made in
              {{ Math.round(milliseconds) }} ms</span
            >
          </template>
          <CheckLine v-if="view === 'model'" label="Map only" :value="onlyMap" @change="onlyMap = $event" />
          <template v-else-if="view === 'tile'">
            <CheckLine v-if="isWang" label="Arrange at random" :value="arranged" @change="arranged = $event" />
            <CheckLine label="Show borders" :value="borders" @change="borders = $event" />
            <CheckLine label="Mark seams and noticeable features" :value="marked" @change="marked = $event" />
          </template>
          <span v-if="busy || isDraft" class="soft">working …</span>
        </p>
      </section>

      <aside class="figures">
        <FlatEditor
          v-model:slot-name="slotName"
          v-model:brush="brush"
          v-model:source-of="sourceOf"
          v-model:picking="picking"
          v-model:alone="alone"
          :ticket="ticket"
          :settings="settings"
          :set="set"
          :kinds="kinds"
          :kind="kind"
          :run="run"
          :proof="proof"
          :suggestion="suggestion"
          :profile="profile"
          :depth="depth"
          @move="move"
          @change="change"
          @kind="chosenKind = $event"
        />
        <FlatProof v-if="shown && isTiling" :proof="proof" />
      </aside>
    </template>
  </main>
</template>

<style scoped>
.flat {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  grid-template-columns: 168px minmax(0, 1fr) 332px;
  gap: 10px;
  height: 100%;
  padding: 10px 16px;
}

.wide {
  grid-row: 1 / -1;
  grid-column: 2 / -1;
}

.panel.ticket {
  grid-column: 2 / -1;
}

.stage {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-width: 0;
  min-height: 0;
}

.foot {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 4px 8px;
  background: var(--paper);
}

.foot {
  min-height: 32px;
}

.foot > :first-child {
  margin-right: auto;
}

.foot label {
  display: flex;
  gap: 6px;
  align-items: center;
}

.problem {
  color: var(--minium);
}

.figures {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  align-content: stretch;
  overflow: hidden;
}

.figures > .panel {
  overflow: auto;
}
</style>

<style>
/* What the parts of flat material share. */
.flat .tabs {
  display: flex;
  flex-wrap: wrap;
}

.flat .tabs button {
  min-height: 26px;
  padding: 2px 8px;
  border: 0;
  border-bottom: 2px solid transparent;
  background: none;
  color: inherit;
  cursor: pointer;
}

.flat .tabs button[aria-pressed='true'] {
  border-bottom-color: var(--azurite);
  font-weight: 650;
}

.editor {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  justify-items: stretch;
}

.editor section {
  display: grid;
  gap: 6px;
  padding-top: 6px;
  border-top: 1px solid var(--line);
}

.editor h3 {
  margin: 0;
  font-size: var(--text);
  font-weight: 650;
}
</style>
