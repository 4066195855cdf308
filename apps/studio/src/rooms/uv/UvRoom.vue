<script setup lang="ts">
import Button from 'primevue/button';
import InputNumber from 'primevue/inputnumber';
import Popover from 'primevue/popover';
import { computed, inject, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { reportOf, type Run } from '@zographos/contracts';
import type { Size } from '@zographos/core/math';
import { tileAt, type SplitBy } from '@zographos/core/uv';
import {
  DEFAULT_LAYOUT,
  DEFAULT_MERGE,
  layoutSettings,
  mergeOperation,
  mergeSettings,
  texelsOf,
  type LayoutFinding,
  type LayoutSettings,
} from '@zographos/operations';
import ModelView from '../../viewport/ModelView.vue';
import FilePicker from '../../controls/FilePicker.vue';
import { bringInKey } from '../../stores/bringIn.ts';
import SentenceSlots from '../../ticket/SentenceSlots.vue';
import { count, percent } from '../../controls/format.ts';
import MergeSlot from '../../ticket/merge/MergeSlot.vue';
import { useMeshEdits } from '../../stores/meshEdits.ts';
import { useNotices } from '../../stores/notices.ts';
import { useDraft } from '../../stores/useDraft.ts';
import { useProject } from '../../stores/project.ts';
import { useAddressList } from '../../stores/useAddressList.ts';
import CheckPanel from './panels/CheckPanel.vue';
import GuidePanel from './panels/GuidePanel.vue';
import IslandPanel from './panels/IslandPanel.vue';
import LayoutSentence from '../../ticket/layout/LayoutSentence.vue';
import LayoutView from './layout/LayoutView.vue';
import MergePanel from './panels/MergePanel.vue';
import RevisionList from './panels/RevisionList.vue';
import TilePanel from './panels/TilePanel.vue';
import UvSetList from './panels/UvSetList.vue';
import { HEAT_LABELS, heatOf, HEATS, tintOf, type HeatName } from './layout/layoutHeat.ts';
import { useIslandEdits } from './useIslandEdits.ts';
import { useLayoutOnScreen } from './layout/useLayoutOnScreen.ts';
import Columns from '../../controls/Columns.vue';

const props = defineProps<{ projectId: string; meshIds?: string }>();
const store = useProject();
const meshEdits = useMeshEdits();
const notices = useNotices();
const route = useRoute();
const router = useRouter();
const bringIn = inject(bringInKey)!;
const USUAL: LayoutSettings = { ...DEFAULT_LAYOUT, place: 'last' };
const { settings, change } = useDraft(`layout.${props.projectId}`, layoutSettings, USUAL);
const merge = useDraft(`merge.${props.projectId}`, mergeSettings, DEFAULT_MERGE);

const { chosen: chosenIds, choose: chooseMeshes } = useAddressList(
  () => props.meshIds?.split(',') ?? [],
  (ids) => router.replace({ params: { projectId: props.projectId, meshIds: ids.join() }, query: route.query }),
);
/** The meshes that are looked at; they share a layout, or are to share one. */
const meshes = computed(() => {
  const named = store.meshesByIds(chosenIds.value);
  if (named.length > 0) return named;
  const first = store.meshes.find(({ inspection }) => inspection.uvSets.length > 0) ?? store.meshes[0];
  return first ? [first] : [];
});
const mesh = computed(() => meshes.value[0]);
const uvSet = computed(() => {
  const asked = Number(route.query['set'] ?? 0);
  const length = mesh.value?.inspection.uvSets.length ?? 0;
  return Number.isInteger(asked) && asked >= 0 && asked < length ? asked : 0;
});
/** Of those that have the set, each with the one of this number, or its first. */
const onLayout = computed(() => {
  const having = meshes.value.filter(({ inspection }) => inspection.uvSets.length > 0);
  return {
    meshes: having,
    contentHashes: having.map(({ contentHash }) => contentHash),
    uvSets: having.map(({ inspection }) => (uvSet.value < inspection.uvSets.length ? uvSet.value : 0)),
  };
});
const setName = computed(() => mesh.value?.inspection.uvSets[uvSet.value] ?? 'no UV set');
const unit = computed(() => mesh.value?.unit ?? 'units');

/** What is to be done with the meshes: lay them out, or merge their materials. */
const job = computed(() => (route.query['job'] === 'merge' ? 'merge' : 'layout'));
const PANEL_LABELS = {
  merge: 'Before and after',
  checks: 'Checks',
  islands: 'Islands',
  tiles: 'Tiles',
  guide: 'Export',
};
type Panel = keyof typeof PANEL_LABELS;
const PANELS = computed((): Panel[] => [
  ...(job.value === 'merge' ? (['merge'] as const) : []),
  ...(['checks', 'islands', 'tiles', 'guide'] as const),
]);
const panel = computed(() => PANELS.value.find((name) => name === route.query['panel']) ?? PANELS.value[0]);
const go = (query: Record<string, string>): void => void router.replace({ query: { ...route.query, ...query } });

const padding = ref(8);
const size = computed(() => settings.value.size);
const imageSet = computed(() =>
  store.project?.imageSets.find((set) => set.receiverId === mesh.value?.id && set.uvSet === uvSet.value),
);
/** Of maps on a tile, as a ticket has it that bakes onto this layout. */
function sizeOf(tile: number): Size {
  const ticket = store.bakes.find(({ imageSetId }) => imageSetId === imageSet.value?.id);
  return ticket?.settings.tileSizes[tile] ?? ticket?.settings.size ?? size.value;
}
const screen = useLayoutOnScreen(onLayout, size, sizeOf, padding, imageSet);
const { layout, checked, tiles, tilesInUse, islandsIn } = screen;
const { chosen, pivot, locked, byMesh, pick, move, share, lock, mend } = useIslandEdits(screen, onLayout, tilesInUse, {
  lock: (lists) => change({ locked: lists }),
  propose(how) {
    if (how === 'pack') {
      const { gap, size } = settings.value;
      change({ method: 'pack', gap: texelsOf(gap, size) < padding.value ? padding.value : gap });
    } else change({ method: 'unwrap' });
    notices.say('done', 'The sentence above says it now. Press “Lay out”.');
  },
});
const snap = ref(true);

const heatName = ref<HeatName>('findings');
const heat = computed(() => (checked.value ? heatOf(heatName.value, checked.value.check) : null));
const tint = computed(() => (layout.value ? tintOf(layout.value, chosen.value, heat.value) : null));

const HEAT_WORDS: Record<HeatName, string> = {
  findings: '',
  density: ': blue half as dense as the mean, red twice',
  stretch: ': red where stretched twice',
};
const caption = computed(() => {
  const names =
    meshes.value.length > 2 ? `${meshes.value.length} meshes` : meshes.value.map(({ name }) => name).join(' and ');
  return `${setName.value} of ${names}${HEAT_WORDS[heatName.value]}`;
});

const place = ref<{ u: number; v: number } | null>(null);
const placeWords = computed(() => {
  if (!place.value) return '';
  const { u, v } = place.value;
  const tile = tileAt(u, v);
  const { width, height } = size.value;
  const [x, y] = [(u - Math.floor(u)) * width, (1 - (v - Math.floor(v))) * height];
  return `u ${u.toFixed(4)}, v ${v.toFixed(4)}, texel ${Math.floor(x)}, ${Math.floor(y)} of ${tile ?? 'no tile'}`;
});

const layoutView = ref<{ goTo: (u: number, v: number) => void } | null>(null);
const modelView = ref<{ pointAt: (place: [number, number, number] | null) => void } | null>(null);

function show({ u, v, triangle }: LayoutFinding['places'][number], finding: LayoutFinding): void {
  if (finding.islands.length > 0) chosen.value = new Set(finding.islands);
  layoutView.value?.goTo(u, v);
  if (triangle === null || !layout.value) return;
  const [x, y, z] = layout.value.places.subarray(triangle * 3, triangle * 3 + 3);
  modelView.value?.pointAt([x!, y!, z!]);
}

/** The run that lays out one of these meshes now. */
const run = computed(() =>
  store.activeRuns.find(
    ({ operation, meshes: ids }) =>
      (operation === 'layout' || operation === 'merge') &&
      ids.some((id) => meshes.value.some((each) => each.id === id)),
  ),
);
const lastOf = (what: Run['operation']): Run | undefined =>
  store.project?.runs.find(({ operation, meshes: ids }) => operation === what && ids.includes(mesh.value?.id ?? ''));
const failed = computed(() => {
  const last = lastOf(job.value);
  return last?.state === 'failed' ? last.error?.message : null;
});
const mergeParts = computed(() => {
  const names = { receivers: meshes.value.map(({ name }) => name), sources: [] };
  return mergeOperation.sentence(merge.settings.value, names, unit.value);
});
const lastMerge = computed(() => {
  const last = lastOf('merge');
  return reportOf(last, 'merge') ? last! : null;
});
const mergeTicket = computed(
  () => store.bakes.find(({ name }) => name === `${lastMerge.value?.title}, merged`)?.id ?? null,
);

async function mergeThem(): Promise<void> {
  await notices.guard(() => meshEdits.merge(meshes.value, { ...merge.settings.value, uvSet: uvSet.value }));
}

/** What each mesh was before the run that this window has asked for. */
let asked: { run: string; before: Map<string, string>; sets: number } | null = null;

async function layOut(): Promise<void> {
  const { value: list } = meshes;
  const made = await notices.guard(() =>
    meshEdits.layOut(list, { ...settings.value, uvSet: onLayout.value.uvSets[0] ?? 0 }),
  );
  if (!made) return;
  const before = new Map(list.map(({ id, contentHash }) => [id, contentHash]));
  asked = { run: made.id, before, sets: mesh.value?.inspection.uvSets.length ?? 0 };
}

watch(
  () => store.project?.runs.find(({ id }) => id === asked?.run)?.state,
  (state) => {
    if (!asked || state !== 'done') return;
    meshEdits.recordLayout(asked.before);
    go({ set: String(asked.sets) });
    asked = null;
  },
);

async function split(how: SplitBy): Promise<void> {
  if (!mesh.value) return;
  const made = await notices.guard(() => meshEdits.split(mesh.value!, how));
  if (made)
    notices.say(
      'done',
      `${count(made.length, 'mesh', 'meshes')} made: ${made
        .map(({ name }) => name)
        .slice(0, 4)
        .join('; ')}.`,
    );
}

const detach = (): void => {
  byMesh([...chosen.value], (islands, at) => {
    const how: SplitBy = { by: 'islands', uvSet: onLayout.value.uvSets[at]!, islands };
    void notices.guard(() => meshEdits.split(onLayout.value.meshes[at]!, how));
  });
};

async function join(): Promise<void> {
  const made = await notices.guard(() => meshEdits.join(`${mesh.value!.name} and others`, meshes.value));
  if (made) chooseMeshes([made.id]);
}

const setsOpen = ref<InstanceType<typeof Popover> | null>(null);
const paddingOpen = ref<InstanceType<typeof Popover> | null>(null);
const historyOpen = ref<InstanceType<typeof Popover> | null>(null);
const COLUMNS = [
  { name: 'model', width: 30, least: 15 },
  { name: 'layout', width: 50, least: 20 },
  { name: 'panel', width: 20, least: 15 },
];
</script>

<template>
  <main v-if="mesh" class="uv">
    <section class="panel ticket" aria-label="Layout to come">
      <div>
        <p class="here">
          Showing UV set
          <button type="button" class="slot" aria-haspopup="dialog" @click="setsOpen?.toggle($event)">
            {{ setName }}</button>, checked for
          <button type="button" class="slot" aria-haspopup="dialog" @click="paddingOpen?.toggle($event)">
            {{ padding }} px
          </button>
          of padding.
          <button type="button" class="plain-button" aria-haspopup="dialog" @click="historyOpen?.toggle($event)">
            Revisions
          </button>
          <button v-if="meshes.length > 1" type="button" class="plain-button" @click="join">Join into one mesh</button>
          <RouterLink class="plain-button" :to="{ name: 'atlas', params: { projectId } }">Make an atlas</RouterLink>
        </p>
        <LayoutSentence
          v-if="job === 'layout'"
          :settings="settings"
          :meshes="meshes"
          @change="change"
          @meshes="chooseMeshes"
        />
        <SentenceSlots v-else v-slot="{ slotName }" :parts="mergeParts">
          <MergeSlot
            :settings="merge.settings.value"
            :meshes="meshes.map(({ id }) => id)"
            :slot-name="slotName"
            @change="merge.change"
            @meshes="chooseMeshes"
          />
        </SentenceSlots>
      </div>
      <div class="act">
        <Button
          v-if="job === 'layout'"
          :label="run ? `Laying out, ${percent(run.share)}` : 'Lay out'"
          :disabled="!!run"
          @click="layOut"
        />
        <Button v-else :label="run ? `Merging, ${percent(run.share)}` : 'Merge'" :disabled="!!run" @click="mergeThem" />
        <button
          v-if="!run"
          type="button"
          class="plain-button"
          @click="go({ job: job === 'merge' ? 'layout' : 'merge', panel: '' })"
        >
          {{ job === 'merge' ? 'or lay out UVs' : 'or merge materials' }}
        </button>
        <template v-if="run">
          <p class="soft">{{ run.note ?? (run.state === 'queued' ? 'Queued' : 'Starting') }}</p>
          <span class="two">
            <Button
              v-tooltip="'Keeps the best layout found so far'"
              label="Stop and keep the best"
              outlined
              size="small"
              :disabled="!run.note"
              @click="notices.guard(() => meshEdits.finishRun(run!.id))"
            />
            <Button label="Cancel" outlined size="small" @click="notices.guard(() => store.cancelRun(run!.id))" />
          </span>
        </template>
      </div>
      <p v-if="failed && !run" class="failed" role="alert">{{ failed }}</p>
      <Popover ref="setsOpen">
        <UvSetList :mesh="mesh" :uv-set="uvSet" @choose="go({ set: String($event) })" />
      </Popover>
      <Popover ref="paddingOpen">
        <label class="padding"
          >Padding between islands, px
          <InputNumber v-model="padding" :min="0" :max="256" suffix=" px" size="small" />
        </label>
      </Popover>
      <Popover ref="historyOpen">
        <RevisionList :mesh="mesh" />
      </Popover>
    </section>

    <Columns room="uv" :columns="COLUMNS">
      <template #model>
        <ModelView
          ref="modelView"
          :receivers="meshes"
          :sources="[]"
          :maps="[]"
          :uv-set="uvSet"
          :tint="tint"
          start="checker"
          @pick="pick"
        />
      </template>
      <template #layout>
        <LayoutView
          ref="layoutView"
          v-model:chosen="chosen"
          v-model:pivot="pivot"
          :layout="layout"
          :size="size"
          :tiles="tiles"
          :heat="heat"
          :locked="locked"
          :snap="snap"
          :caption="caption"
          @move="move('move', $event)"
          @place="place = $event"
        >
          <template #choices>
            <button
              v-tooltip="'Whole texels, rotation by 15°'"
              type="button"
              :aria-pressed="snap"
              @click="snap = !snap"
            >
              Snap to texels
            </button>
            <button
              v-for="name in HEATS"
              :key="name"
              type="button"
              :aria-pressed="heatName === name"
              @click="heatName = name"
            >
              {{ HEAT_LABELS[name] }}
            </button>
          </template>
        </LayoutView>
      </template>
      <template #panel>
        <aside class="figures" aria-label="About this layout" tabindex="0">
          <div class="choices" role="group" aria-label="Panel">
            <button
              v-for="name in PANELS"
              :key="name"
              type="button"
              :aria-pressed="panel === name"
              @click="go({ panel: name })"
            >
              {{ PANEL_LABELS[name] }}
            </button>
          </div>
          <p v-if="!layout" class="panel">
            {{ onLayout.meshes.length ? 'Reading the layout …' : 'No UVs yet. Unwrap it with the button above.' }}
          </p>
          <template v-else>
            <MergePanel
              v-if="panel === 'merge'"
              :meshes="meshes"
              :last="lastMerge"
              :project-id="projectId"
              :ticket-id="mergeTicket"
            />
            <CheckPanel v-else-if="panel === 'checks'" :checked="checked" :unit="unit" @show="show" @mend="mend" />
            <IslandPanel
              v-else-if="panel === 'islands'"
              v-model:pivot="pivot"
              :layout="layout"
              :chosen="chosen"
              :locked="locked"
              :size="size"
              @move="move"
              @share="share"
              @lock="lock"
              @detach="detach"
            />
            <TilePanel
              v-else-if="panel === 'tiles'"
              :mesh="mesh"
              :uv-set="uvSet"
              :size-of="sizeOf"
              :islands-in="islandsIn"
              @split="split"
            />
            <GuidePanel
              v-else
              :meshes="onLayout.meshes"
              :uv-sets="onLayout.uvSets"
              :size="size"
              :tiles="tiles.map(({ number }) => number)"
            />
          </template>
        </aside>
      </template>
    </Columns>
    <p class="readout panel">
      <span class="figure">{{ placeWords || count(layout ? layout.boxes.length / 4 : 0, 'island') }}</span>
      <span v-if="chosen.size" class="soft">{{ count(chosen.size, 'island') }} selected</span>
      <span class="soft hold"
        ><kbd>← →</kbd> one texel, <kbd>Ctrl</kbd> one tile, <kbd>R</kbd> quarter turn, <kbd>A</kbd> all</span
      >
    </p>
  </main>
  <main v-else class="empty">
    <p>No mesh yet. Import one, and its layout appears here.</p>
    <FilePicker label="Import files" @files="bringIn" />
  </main>
</template>

<style scoped>
.uv {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  height: 100%;
  padding: 10px 20px;
}

.here {
  font-size: 15px;
}

.two {
  display: flex;
  gap: 6px;
}

.readout {
  display: flex;
  grid-column: 1 / -1;
  gap: 20px;
  align-items: center;
  height: 30px;
  padding: 0 12px;
}

.hold {
  margin-left: auto;
}

.padding {
  display: flex;
  gap: 14px;
  align-items: center;
}

.empty {
  display: grid;
  gap: 12px;
  justify-items: start;
  padding: 40px 20px;
}
</style>
