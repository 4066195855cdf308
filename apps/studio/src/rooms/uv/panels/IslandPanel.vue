<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import { computed, ref } from 'vue';
import type { Size } from '@zographos/core/math';
import { FIRST_TILE, LAST_TILE, shiftBy, tileAt, tileOrigin, turnAndScale } from '@zographos/core/uv';
import Dropdown from '../../../controls/Dropdown.vue';
import { count } from '../../../controls/format.ts';
import {
  aligned,
  ALIGNMENT_LABELS,
  ALIGNMENTS,
  boxOf,
  middleOf,
  mirrorAbout,
  stacked,
  type Move,
} from '../islandPicks.ts';
import type { LaidMeshes } from '../layout/layoutWorker.ts';

/** What can be done with the chosen islands, in figures: everything that dragging does, and more. */
const props = defineProps<{
  layout: LaidMeshes;
  chosen: ReadonlySet<number>;
  locked: ReadonlySet<number>;
  size: Size;
}>();
const pivot = defineModel<readonly [number, number] | null>('pivot', { required: true });
const emit = defineEmits<{
  move: [string, Move[]];
  share: [boolean];
  lock: [boolean];
  detach: [];
}>();

const [byU, byV, angle, factor, toTile] = [ref(16), ref(0), ref(90), ref(2), ref(FIRST_TILE + 1)];
const islands = computed(() => [...props.chosen]);
const box = computed(() => boxOf(props.layout, props.chosen));
const extent = computed(() => {
  if (!box.value) return '';
  const [u0, v0, u1, v1] = box.value;
  const { width, height } = props.size;
  return `${((u1 - u0) * width).toFixed(1)} × ${((v1 - v0) * height).toFixed(1)} px`;
});
const isShared = computed(() => {
  const stacks = props.layout.stacks.filter((stack) => stack.some((island) => props.chosen.has(island)));
  return stacks.length > 0;
});
const isLocked = computed(() => islands.value.length > 0 && islands.value.every((island) => props.locked.has(island)));

type About = 'middle' | 'lower left' | 'tile' | 'point';
const about = computed<About>({
  get: () => named.value,
  set(value) {
    named.value = value;
    pivot.value = value === 'middle' ? null : placeOf(value);
  },
});
const named = ref<About>('middle');
const ABOUTS: { value: About; label: string }[] = [
  { value: 'middle', label: 'Selection centre' },
  { value: 'lower left', label: 'Selection lower left' },
  { value: 'tile', label: 'Tile lower left' },
  { value: 'point', label: 'Custom' },
];

function placeOf(value: About): readonly [number, number] | null {
  if (!box.value) return null;
  const [u, v] = middleOf(box.value);
  if (value === 'lower left') return [box.value[0], box.value[1]];
  if (value === 'tile') return [Math.floor(u), Math.floor(v)];
  return pivot.value ?? [u, v];
}

const place = computed(() => pivot.value ?? (box.value ? middleOf(box.value) : ([0, 0] as const)));
const one = (matrix: Move['matrix']): Move[] => [{ islands: islands.value, matrix }];
const aspect = computed(() => props.size.width / props.size.height);

function toAnotherTile(): void {
  if (!box.value) return;
  const [u, v] = middleOf(box.value);
  const here = tileAt(u, v);
  const [u0, v0] = here === null ? [Math.floor(u), Math.floor(v)] : tileOrigin(here);
  const [u1, v1] = tileOrigin(toTile.value);
  emit('move', `move … to tile ${toTile.value}`, one(shiftBy(u1 - u0, v1 - v0)));
}
</script>

<template>
  <section class="panel">
    <template v-if="!chosen.size">
      <h2>No island selected</h2>
      <p>
        Click an island, here or on the model; <kbd>Shift</kbd> click adds to the selection. Drag over an empty area to
        select what lies within, or press <kbd>A</kbd> to select all.
      </p>
    </template>
    <template v-else>
      <h2>{{ count(chosen.size, 'island') }}, {{ extent }}</h2>
      <p v-if="pivot" class="soft">
        Pivot at
        {{ (pivot[0] * size.width).toFixed(1) }}, {{ (pivot[1] * size.height).toFixed(1) }} px
      </p>
      <div class="row">
        <InputNumber v-model="byU" size="small" suffix=" px" :max-fraction-digits="3" aria-label="To the right" />
        <InputNumber v-model="byV" size="small" suffix=" px" :max-fraction-digits="3" aria-label="Up" />
        <button type="button" @click="emit('move', 'move', one(shiftBy(byU / size.width, byV / size.height)))">
          Move
        </button>
      </div>
      <label class="row"
        ><span>Pivot</span>
        <Dropdown label="Pivot" :value="about" :options="ABOUTS" @choose="about = $event" />
      </label>
      <div class="row">
        <InputNumber v-model="angle" size="small" suffix="°" :max-fraction-digits="3" aria-label="Angle" />
        <button type="button" @click="emit('move', 'rotate', one(turnAndScale(place, angle, [1, 1], aspect)))">
          Rotate
        </button>
      </div>
      <div class="row">
        <InputNumber
          v-model="factor"
          size="small"
          suffix=" ×"
          :min="0.001"
          :max-fraction-digits="4"
          aria-label="Factor"
        />
        <button type="button" @click="emit('move', 'scale', one(turnAndScale(place, 0, [factor, factor])))">
          Scale
        </button>
      </div>
      <div class="row">
        <InputNumber
          v-model="toTile"
          size="small"
          :min="FIRST_TILE"
          :max="LAST_TILE"
          :use-grouping="false"
          aria-label="Tile to move to"
        />
        <button type="button" @click="toAnotherTile">Move to tile</button>
      </div>
      <div class="choices">
        <button type="button" @click="emit('move', 'mirror', one(mirrorAbout(place, true)))">
          Mirror horizontally
        </button>
        <button type="button" @click="emit('move', 'mirror', one(mirrorAbout(place, false)))">Mirror vertically</button>
      </div>
      <template v-if="chosen.size > 1">
        <h3>Align</h3>
        <div class="choices">
          <button
            v-for="to in ALIGNMENTS"
            :key="to"
            type="button"
            @click="emit('move', 'align', aligned(layout, islands, to))"
          >
            {{ ALIGNMENT_LABELS[to] }}
          </button>
        </div>
        <h3>Stack</h3>
        <div class="choices">
          <button type="button" @click="emit('move', 'stack', stacked(layout, islands))">Stack on the first</button>
          <button type="button" :aria-pressed="isShared" @click="emit('share', !isShared)">Mark as stacked</button>
        </div>
        <p class="soft">Stacked islands are hatched and are not reported as overlaps.</p>
      </template>
      <h3>Next layout</h3>
      <div class="choices">
        <button type="button" :aria-pressed="isLocked" @click="emit('lock', !isLocked)">Lock</button>
        <button v-tooltip="'Makes two new meshes; the original stays'" type="button" @click="emit('detach')">
          Separate into a new mesh
        </button>
      </div>
    </template>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 6px;
}

h3 {
  margin-top: 4px;
  color: var(--ink-soft);
}

.row {
  display: flex;
  gap: 4px;
  align-items: center;
}

.row :deep(input),
.row :deep(.p-select) {
  flex: 1;
  width: 100%;
  min-width: 0;
}

.row :deep(.p-inputnumber) {
  flex: 1;
  min-width: 0;
}

.row button {
  flex: none;
  min-width: 62px;
  height: 28px;
  padding: 0 8px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--paper-raised);
  color: var(--ink);
  cursor: pointer;
}

.row button:hover {
  background: var(--azurite-wash);
}

.choices button {
  border: 1px solid var(--line);
}
</style>
