<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import type { Layer, Stratum } from '@zographos/core/layers';
import StratumStrip from './StratumStrip.vue';

/** The section through the stack: its strata are the list of layers, the last coat on top. */
const props = defineProps<{
  layers: readonly Layer[];
  strata: ReadonlyMap<string, Stratum>;
  chosen: string | null;
  /** What layers lack, by their ids. */
  problems: ReadonlyMap<string, string>;
}>();
const emit = defineEmits<{
  choose: [string];
  show: [{ id: string; visible: boolean }];
  rename: [{ id: string; name: string }];
  move: [{ id: string; by: 1 | -1 }];
  /** Dragged onto another, to lie right above it. */
  drop: [{ id: string; above: string }];
}>();

const list = ref<HTMLElement | null>(null);
/** What is chosen stays in sight, also where the list becomes shorter. */
watch(
  () => [props.chosen, props.layers.length],
  async () => {
    await nextTick();
    list.value?.querySelector('.chosen')?.scrollIntoView({ block: 'nearest' });
  },
);

interface Row {
  layer: Layer;
  depth: number;
}

const rows = computed(() => rowsOf(props.layers, 0));

function rowsOf(layers: readonly Layer[], depth: number): Row[] {
  return layers
    .toReversed()
    .flatMap((layer) => [{ layer, depth }, ...(layer.content === 'group' ? rowsOf(layer.layers, depth + 1) : [])]);
}

/** Where a layer lies, in two or three words. */
function placeOf({ content, mask }: Layer): string {
  if (content === 'adjustment' && mask.steps.length === 0) return 'adjusts all beneath';
  if (mask.steps.length === 0) return 'everywhere';
  return [...new Set(mask.steps.map(({ measure }) => PLACES[measure]))].slice(0, 2).join(', ');
}

const PLACES: Record<Layer['mask']['steps'][number]['measure'], string> = {
  id: 'ID colours',
  slot: 'slots',
  object: 'objects',
  part: 'parts',
  near: 'near a part',
  island: 'islands',
  tile: 'tiles',
  faces: 'faces',
  map: 'measured map',
  axis: 'along an axis',
  facing: 'facing',
  painted: 'painted',
  field: 'noise',
  picture: 'image',
  wear: 'worn edges',
  dust: 'dust from above',
  runs: 'runs',
  spreading: 'spread from seeds',
  sunFade: 'where the sun shines',
  waterline: 'below a level',
};

function key(event: KeyboardEvent, { layer }: Row, i: number): void {
  const { id } = layer;
  if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
    emit('move', { id, by: event.key === 'ArrowUp' ? 1 : -1 });
  } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
    const next = rows.value[i + (event.key === 'ArrowUp' ? -1 : 1)];
    if (next) emit('choose', next.layer.id);
  } else return;
  event.preventDefault();
}

function dropOn(event: DragEvent, above: string): void {
  const id = event.dataTransfer?.getData('application/x-layer');
  if (id && id !== above) emit('drop', { id, above });
}
</script>

<template>
  <ol ref="list" class="section" aria-label="Layers, the uppermost first">
    <li
      v-for="({ layer, depth }, i) in rows"
      :key="layer.id"
      class="row"
      :class="{ chosen: layer.id === chosen, off: !layer.visible }"
      :style="{ paddingLeft: `${6 + depth * 14}px` }"
      draggable="true"
      @dragstart="$event.dataTransfer?.setData('application/x-layer', layer.id)"
      @dragover.prevent
      @drop.prevent="dropOn($event, layer.id)"
    >
      <input
        type="checkbox"
        :checked="layer.visible"
        :aria-label="`Show ${layer.name}`"
        @change="emit('show', { id: layer.id, visible: ($event.target as HTMLInputElement).checked })"
      />
      <button
        type="button"
        class="pick"
        :aria-pressed="layer.id === chosen"
        @click="emit('choose', layer.id)"
        @keydown="key($event, { layer, depth }, i)"
      >
        <span class="head">
          <strong>{{ layer.name }}</strong>
          <span class="soft">{{ placeOf(layer) }}</span>
        </span>
        <StratumStrip :stratum="strata.get(layer.id)" />
        <span v-if="problems.has(layer.id)" class="problem">{{ problems.get(layer.id) }}</span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.section {
  display: grid;
  gap: 1px;
  align-content: start;
  overflow: auto;
}

.row {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  padding: 3px 8px 4px 6px;
  border-left: 3px solid transparent;
}

.row.chosen {
  border-left-color: var(--azurite);
  background: var(--paper-raised);
}

.row.off .pick {
  opacity: 0.55;
}

.pick {
  display: grid;
  gap: 1px;
  min-width: 0;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.head {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  min-width: 0;
}

.head > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.problem {
  color: var(--minium);
  font-size: var(--text-small);
}

input {
  width: 16px;
  height: 16px;
  accent-color: var(--ink);
}
</style>
