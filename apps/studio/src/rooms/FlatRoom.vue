<script setup lang="ts">
import Button from 'primevue/button';
import Select from 'primevue/select';
import { useEventListener } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { deriveSourceOf, DERIVED_KINDS, type MapKind } from '@zographos/core';
import { ENDPOINTS, PATHS, type FlatTicket, type SeamlessTicket } from '@zographos/contracts';
import { parseSettings, type SeamlessSettings } from '@zographos/operations';
import { call } from '../api/call.ts';
import AdjustEditor from '../flat/AdjustEditor.vue';
import CompareMethods from '../flat/CompareMethods.vue';
import DeriveEditor from '../flat/DeriveEditor.vue';
import FieldEditor from '../flat/FieldEditor.vue';
import FlatChooser from '../flat/FlatChooser.vue';
import FlatModel from '../flat/FlatModel.vue';
import FrameView from '../flat/FrameView.vue';
import KeepFinish from '../flat/KeepFinish.vue';
import SeamlessEditor from '../flat/SeamlessEditor.vue';
import TileView from '../flat/TileView.vue';
import type { FlatPicture } from '../flat/flatScene.ts';
import { withMethod, type Compared } from '../flat/ways.ts';
import { useFlatPreview } from '../flat/useFlatPreview.ts';
import { count, percent } from '../parts/format.ts';
import { isTyping } from '../parts/isTyping.ts';
import { CELL_WORDS, useCells } from '../stores/cells.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';

const props = defineProps<{ projectId: string; setId?: string }>();
const store = useProject();
const notices = useNotices();
const route = useRoute();
const router = useRouter();
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
  if (!own || !settings.value) return [];
  if (own.operation === 'seamless') return (settings.value as SeamlessSettings).pictures.map(({ kind }) => kind);
  return own.operation === 'derive' ? [...own.settings.maps] : own.settings.maps.map(({ kind }) => kind);
});
const chosenKind = ref<MapKind | null>(null);
const kind = computed(() => kinds.value.find((each) => each === chosenKind.value) ?? kinds.value[0]);

const FIRST_SLOT = { seamless: 'way', derive: 'height', field: 'layers' } as const;
const slotName = ref<string>('way');
watch(
  () => ticket.value?.operation,
  (operation) => {
    if (operation) slotName.value = FIRST_SLOT[operation];
  },
  { immediate: true },
);
/** A map that is spoken of is looked at. */
watch(slotName, (name) => {
  const spoken = kinds.value.find((each) => each === name);
  if (spoken) chosenKind.value = spoken;
  alone.value = null;
});
/** Slots beside those of the sentence. */
const further = computed((): string[] => {
  const own = ticket.value;
  const always = ['adjust'];
  if (own?.operation !== 'derive') return always;
  return [...DERIVED_KINDS.filter((each) => each !== 'height' && own.settings.maps.includes(each)), ...always];
});
const parts = computed(() => {
  if (!ticket.value || !settings.value) return [];
  return store.sentenceOf({ ...ticket.value, settings: settings.value });
});

const view = ref<'tile' | 'model' | 'methods'>('tile');
const side = ref(512);
const repeats = ref(2);
const divider = ref(0);
const borders = ref(false);
const marked = ref(false);
const alone = ref<number | null>(null);
const wanted = computed((): MapKind[] => {
  if (view.value === 'model') return kinds.value;
  // The height goes along for its profile.
  const extra = slotName.value === 'height' && kinds.value.includes('height') ? (['height'] as const) : [];
  return kind.value ? [...new Set([kind.value, ...extra])] : [];
});
const { compared, compare, maps, source, repetition, suggestion, depth, milliseconds, busy, problem } = useFlatPreview({
  ticket,
  settings,
  kinds: wanted,
  side,
  pick: alone,
});
const shown = computed(() => maps.value.find((map) => map.kind === kind.value) ?? null);
/** Heights along the middle row. */
const profile = computed(() => {
  const height = maps.value.find((map) => map.kind === 'height');
  if (!height?.values) return null;
  const row = Math.floor(height.height / 2) * height.width;
  return height.values.subarray(row, row + height.width);
});

/** What the model wears: what is being made, and what the set has beside it. */
const stored = shallowRef(new Map<MapKind, FlatPicture>());
watch(
  () => [view.value, set.value?.maps.map(({ revisions }) => revisions[0]?.id).join()].join(),
  async () => {
    if (view.value !== 'model' || !set.value) return;
    const loaded = new Map<MapKind, FlatPicture>();
    for (const map of set.value.maps) {
      const [latest] = map.revisions;
      if (!latest) continue;
      const picture = await notices.guard(() => pictureOf(latest.id));
      if (picture) loaded.set(map.kind, picture);
    }
    stored.value = loaded;
  },
);
async function pictureOf(revisionId: string): Promise<FlatPicture> {
  const response = await fetch(PATHS.picture(revisionId, side.value));
  const bitmap = await createImageBitmap(await response.blob(), {
    colorSpaceConversion: 'none',
    premultiplyAlpha: 'none',
  });
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const { data, width, height } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  const rgba = data;
  const values = Float32Array.from({ length: width * height }, (_, i) => rgba[i * 4]! / 255);
  return { width, height, rgba, values };
}
const worn = computed(() => {
  const all = new Map(stored.value);
  for (const map of maps.value) all.set(map.kind, map);
  return all;
});
const modelDepth = computed(() => {
  const derive = steps.value.find(({ operation }) => operation === 'derive');
  const own = derive?.operation === 'derive' ? derive.settings.depth : null;
  return depth.value ?? own ?? 0.02;
});
const onlyMap = ref(false);

function move(next: FlatTicket['settings']): void {
  moved.value = next;
}

async function change(next: FlatTicket['settings'], what: string): Promise<void> {
  if (!ticket.value) return;
  moved.value = next;
  await store.changeTicket(ticket.value.id, what, { settings: next });
}

/** All ways side by side, made anew whenever something else changes. */
watch([view, settings, kind, source], () => {
  if (view.value === 'methods' && kind.value && source.value) compare(kind.value);
});
function take(method: Compared): void {
  view.value = 'tile';
  if (ticket.value?.operation === 'seamless') void change(withMethod(ticket.value.settings, method), 'way');
}
watch(
  () => ticket.value?.operation,
  (operation) => {
    if (operation !== 'seamless' && view.value === 'methods') view.value = 'tile';
  },
);

/** Spots are painted out by two clicks: what goes, and what comes. */
const waitingSpot = ref<[number, number] | null>(null);
const reading = ref<{ x: number; y: number; color: [number, number, number] } | null>(null);
const hex = (color: readonly number[]): string =>
  `#${color.map((value) => value.toString(16).padStart(2, '0')).join('')}`;

function clicked(at: [number, number]): void {
  const own = ticket.value;
  if (own?.operation === 'seamless' && slotName.value === 'spots') {
    if (!waitingSpot.value) {
      waitingSpot.value = at;
      return;
    }
    const spots = [...own.settings.spots, { to: waitingSpot.value, from: at, radius: 0.05, softness: 0.6 }];
    waitingSpot.value = null;
    void change({ ...own.settings, spots }, 'spots');
    return;
  }
  if (own?.operation !== 'derive' || !source.value) return;
  const picked = (['roughness', 'metallic', 'specular', 'opacity'] as const).find((each) => each === slotName.value);
  if (!picked) return;
  const { width, height, rgba } = source.value;
  const from = (Math.floor(at[1] * height) * width + Math.floor(at[0] * width)) * 4;
  const old = own.settings[picked];
  const pick = {
    color: hex([...rgba.subarray(from, from + 3)]),
    tolerance: 0.1,
    softness: 0.1,
    value: picked === 'opacity' ? 0 : 1 - old.base,
  };
  void change({ ...own.settings, [picked]: { ...old, picks: [...old.picks, pick] } }, picked);
}

const cell = computed(() => cells.value.find(({ map }) => map.ticketId === ticket.value?.id));
const run = computed(() => (ticket.value ? store.latestRunOf(ticket.value.id) : undefined));
const isRunning = computed(() => run.value?.state === 'running' || run.value?.state === 'queued');

async function runNow(): Promise<void> {
  if (ticket.value) await notices.guard(() => store.runTicket(ticket.value!.id));
}

/** Derives the maps of a material from what this step makes. */
async function deriveFrom(own: FlatTicket): Promise<void> {
  const made = set.value?.maps.filter(({ ticketId }) => ticketId === own.id) ?? [];
  const map = made.find((each) => each.kind === 'basecolor') ?? made.find((each) => each.kind === 'height') ?? made[0];
  if (!map) return;
  const all = ['height', 'normal', 'ao', 'edges', 'cavity', 'roughness'] as const;
  const ticketMade = await notices.guard(() =>
    store.createTicket({
      name: `${set.value!.name}, maps`,
      operation: 'derive',
      settings: parseSettings('derive', {
        maps: all.filter((each) => !set.value!.maps.some((other) => other.kind === each)),
        picture: { kind: map.kind, colorSpace: map.kind === 'basecolor' ? 'srgb' : 'linear' },
        from: deriveSourceOf(map.kind),
      }),
      inputs: { receivers: [], sources: [], pictures: [map.id] },
      set: { id: own.imageSetId },
    }),
  );
  if (ticketMade) await router.replace({ query: { ticket: ticketMade.id } });
}

async function remove(): Promise<void> {
  const { id } = set.value!;
  const gone = await notices.guard(() => call(ENDPOINTS.deleteImageSet, { id }).then(() => true));
  if (!gone) return;
  await store.reload();
  await router.push({ name: 'flat', params: { projectId: props.projectId } });
}

async function rename(event: Event): Promise<void> {
  const name = (event.target as HTMLInputElement).value.trim();
  const { id, version } = set.value!;
  if (name) await notices.guard(() => call(ENDPOINTS.changeImageSet, { id }, { version, name }));
  await store.reload();
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

const figure = (value: number): string => (value > 99 ? 'over 99' : value.toFixed(2));
const REPEATS = [1, 2, 3, 4, 6, 8].map((value) => ({ value, label: `${value} × ${value}` }));
const SIDES = [256, 512, 1024].map((value) => ({ value, label: `${value} px` }));
const asTile = (own: FlatTicket): own is SeamlessTicket => own.operation === 'seamless';
const STEP_WORDS = { seamless: 'tile', derive: 'maps', field: 'field' } as const;
</script>

<template>
  <main class="flat">
    <nav class="panel sets" aria-label="Flat material">
      <RouterLink
        v-for="each in sets"
        :key="each.id"
        :to="{ name: 'flat', params: { projectId, setId: each.id } }"
        :class="{ here: each.id === set?.id }"
      >
        <img
          v-if="each.maps.some(({ revisions }) => revisions[0])"
          :src="
            PATHS.blob(
              (each.maps.find(({ kind: k, revisions }) => k === 'basecolor' && revisions[0]) ??
                each.maps.find(({ revisions }) => revisions[0]))!.revisions[0]!.thumbnailHash,
            )
          "
          alt=""
        />
        <span v-else class="bare" />
        <span>{{ each.name }}</span>
      </RouterLink>
      <RouterLink :to="{ name: 'flat', params: { projectId, setId: 'new' } }" :class="{ here: !set }" class="new">
        New material
      </RouterLink>
      <template v-if="set">
        <h2>Its steps</h2>
        <ol>
          <li v-for="(step, i) in steps" :key="step.id">
            <RouterLink :to="{ query: { ticket: step.id } }" :class="{ here: step.id === ticket?.id }">
              {{ i + 1 }} {{ STEP_WORDS[step.operation] }}
              <span class="soft">{{
                CELL_WORDS[cells.find(({ map }) => map.ticketId === step.id)?.state ?? 'missing']
              }}</span>
            </RouterLink>
          </li>
        </ol>
        <button
          v-if="ticket && !steps.some(({ operation }) => operation === 'derive')"
          type="button"
          class="plain-button"
          @click="deriveFrom(ticket)"
        >
          Derive its maps
        </button>
        <KeepFinish :set="set" />
        <RouterLink :to="{ name: 'deliver', params: { projectId }, query: { sets: set.id } }">Deliver it</RouterLink>
        <label class="rename">name <input :value="set.name" maxlength="120" @change="rename" /></label>
        <button type="button" class="plain-button" @click="remove">Remove it</button>
      </template>
    </nav>

    <FlatChooser v-if="!set || !ticket || !settings" :project-id="projectId" class="wide" />
    <template v-else>
      <section class="panel ticket" aria-label="Ticket">
        <p class="sentence">
          <template v-for="(part, i) in parts" :key="i"
            ><button
              v-if="part.slot"
              type="button"
              class="slot"
              :aria-pressed="part.slot === slotName"
              @click="slotName = part.slot"
            >
              {{ part.text }}</button
            ><template v-else>{{ part.text }}</template></template
          >
        </p>
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
        <div class="bar">
          <div class="tabs" role="group" aria-label="Map">
            <button
              v-for="each in kinds"
              :key="each"
              type="button"
              :aria-pressed="each === kind"
              @click="chosenKind = each"
            >
              {{ each }}
            </button>
          </div>
          <div class="tabs" role="group" aria-label="View">
            <button type="button" :aria-pressed="view === 'tile'" @click="view = 'tile'">repeated</button>
            <button type="button" :aria-pressed="view === 'model'" title="On simple shapes (M)" @click="view = 'model'">
              on a shape
            </button>
            <button
              v-if="asTile(ticket)"
              type="button"
              :aria-pressed="view === 'methods'"
              title="The same picture in every way, side by side"
              @click="view = 'methods'"
            >
              every way
            </button>
          </div>
          <Select
            v-model="repeats"
            size="small"
            aria-label="Repeats"
            :options="REPEATS"
            option-label="label"
            option-value="value"
          />
          <Select
            v-model="side"
            size="small"
            aria-label="Size of the preview"
            :options="SIDES"
            option-label="label"
            option-value="value"
          />
        </div>
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
        />
        <TileView
          v-else
          :tile="shown"
          :before="ticket.operation === 'field' ? null : source"
          :repeats="repeats"
          :divider="divider"
          :borders="borders"
          :label="`${set.name} ${kind}, ${repeats} × ${repeats}`"
          :telltales="marked ? (repetition?.telltales ?? []) : []"
          :spots="slotName === 'spots' && asTile(ticket) ? (settings as SeamlessSettings).spots : []"
          @place="clicked"
          @divide="divider = $event"
          @read="reading = $event"
        />
        <p class="foot">
          <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
          <template v-else>
            <span v-if="waitingSpot">Now click on texture that may take its place.</span>
            <span v-else-if="reading" class="figure"
              >{{ reading.x }}, {{ reading.y }}: {{ reading.color.join(' ') }}</span
            >
            <span v-else class="soft"
              >Preview of {{ side }} px{{
                milliseconds === null ? '' : `, made in ${Math.round(milliseconds)} ms`
              }}</span
            >
          </template>
          <label v-if="view === 'model'"><input v-model="onlyMap" type="checkbox" /> this map alone</label>
          <template v-else-if="view === 'tile'">
            <label><input v-model="borders" type="checkbox" /> borders</label>
            <label><input v-model="marked" type="checkbox" /> what gives it away</label>
          </template>
          <span v-if="busy" class="soft">working …</span>
        </p>
      </section>

      <aside class="figures">
        <section class="panel">
          <div class="chips" role="group" aria-label="Further settings">
            <button
              v-for="name in further"
              :key="name"
              type="button"
              :aria-pressed="slotName === name"
              @click="slotName = name"
            >
              {{ name }}
            </button>
          </div>
          <h2>{{ slotName }}</h2>
          <AdjustEditor
            v-if="slotName === 'adjust'"
            :adjust="settings.adjust"
            :kinds="kinds"
            :kind="kind"
            @move="move({ ...settings, adjust: $event } as FlatTicket['settings'])"
            @change="change({ ...settings, adjust: $event } as FlatTicket['settings'], 'adjustments')"
          />
          <SeamlessEditor
            v-else-if="ticket.operation === 'seamless'"
            :settings="settings as SeamlessSettings"
            :slot-name="slotName"
            :names="(ticket.inputs.pictures ?? []).map(store.pictureName)"
            @move="move"
            @change="change"
          />
          <DeriveEditor
            v-else-if="ticket.operation === 'derive'"
            :settings="settings as typeof ticket.settings"
            :slot-name="slotName"
            :suggestion="suggestion"
            :profile="profile"
            :depth="depth"
            :alone="alone"
            @move="move"
            @change="change"
            @alone="alone = $event"
          />
          <FieldEditor
            v-else
            :settings="settings as typeof ticket.settings"
            :slot-name="slotName"
            @move="move"
            @change="change"
          />
        </section>
        <section v-if="shown" class="panel proof">
          <h2>Proof</h2>
          <dl>
            <dt>border across</dt>
            <dd :class="{ warn: shown.seams.across > 1.6 }">{{ figure(shown.seams.across) }}</dd>
            <dt>border up</dt>
            <dd :class="{ warn: shown.seams.up > 1.6 }">{{ figure(shown.seams.up) }}</dd>
            <template v-if="repetition">
              <dt>like itself when moved</dt>
              <dd :class="{ warn: repetition.likeness > 0.35 }">{{ percent(repetition.likeness) }}</dd>
              <dt>gives it away</dt>
              <dd>{{ count(repetition.telltales.length, 'place') }}</dd>
            </template>
          </dl>
          <p class="soft">The jump across a border over that between neighbours within: 1 where it cannot be told.</p>
        </section>
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

.sets {
  display: grid;
  grid-row: 1 / -1;
  gap: 6px;
  align-content: start;
  justify-items: start;
  overflow: auto;
}

.sets > a:has(> img),
.sets > a:has(> .bare) {
  display: grid;
  grid-template-columns: 36px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  width: 100%;
  padding: 3px;
  border-left: 3px solid transparent;
  text-decoration: none;
}

.sets a.here {
  border-left-color: var(--azurite);
  font-weight: 650;
}

.sets > a.new {
  padding: 3px 5px;
  border-left: 3px solid transparent;
}

.sets img,
.sets .bare {
  width: 36px;
  height: 36px;
  background: var(--surround);
  object-fit: cover;
}

.sets h2 {
  margin: 8px 0 0;
  color: var(--ink-soft);
  font-weight: 650;
}

.sets li a {
  display: block;
  padding: 3px 6px;
  border-left: 3px solid transparent;
  text-decoration: none;
}

.rename {
  display: grid;
  width: 100%;
}

.rename input {
  width: 100%;
  padding: 3px 6px;
  border: 1px solid var(--line-strong);
  background: var(--paper-raised);
  color: inherit;
  font: inherit;
}

.wide {
  grid-row: 1 / -1;
  grid-column: 2 / -1;
}

.panel.ticket {
  grid-column: 2 / -1;
}

.slot[aria-pressed='true'] {
  background: var(--azurite-wash);
}

.stage {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-width: 0;
  min-height: 0;
}

.bar,
.foot {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 4px 8px;
  background: var(--paper);
}

.bar .tabs:first-child {
  margin-right: auto;
}

.tabs {
  display: flex;
  flex-wrap: wrap;
}

.tabs button,
.chips button {
  min-height: 26px;
  padding: 2px 8px;
  border: 0;
  border-bottom: 2px solid transparent;
  background: none;
  color: inherit;
  cursor: pointer;
}

.tabs button[aria-pressed='true'],
.chips button[aria-pressed='true'] {
  border-bottom-color: var(--azurite);
  font-weight: 650;
}

.chips {
  display: flex;
  flex-wrap: wrap;
  margin: -4px -6px 6px;
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

.proof dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 12px;
}

.proof dd {
  margin: 0;
  font-weight: 650;
}

.proof dd.warn::before {
  content: '▲ ';
  color: var(--ochre);
}
</style>

<style>
/* What the editors of flat material share. */
.editor {
  display: grid;
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
