<script setup lang="ts">
import Button from 'primevue/button';
import { useEventListener } from '@vueuse/core';
import { computed, ref } from 'vue';
import type { TileProof } from '@zographos/core/measure';
import { END_METHOD_LABELS, SEAMLESS_WAY_LABELS } from '@zographos/operations';
import Choice from '../../controls/Choice.vue';
import { percent } from '../../controls/format.ts';
import { isTyping } from '../../controls/isTyping.ts';
import { COMPARED, type Compared, type ComparedAxes } from './editors/ways.ts';
import type { PreviewMap } from './preview/flatWorker.ts';
import TileView from './preview/TileView.vue';

/** The same picture made to repeat in every way, side by side, each with its figures. */
defineProps<{
  compared: ReadonlyMap<Compared, { map: PreviewMap | null; proof: TileProof | null }>;
  repeats: number;
  name: string;
}>();
const axes = defineModel<ComparedAxes>('axes', { required: true });
const emit = defineEmits<{ take: [Compared] }>();

const AXES: { value: ComparedAxes; label: string }[] = [
  { value: 'both', label: 'Both directions' },
  { value: 'across', label: 'Horizontal' },
  { value: 'up', label: 'Vertical' },
];
/** The one that fills the room; null for all side by side. */
const large = ref<Compared | null>(null);
const shown = computed(() => COMPARED.filter((method) => large.value === null || method === large.value));
const open = (method: Compared | null): void => {
  large.value = large.value === method ? null : method;
};
// Its number opens one, and closes it again.
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event) || event.ctrlKey || event.altKey || event.metaKey) return;
  const method = COMPARED[Number(event.key) - 1];
  if (method) open(method);
  else if (event.key === 'Escape') large.value = null;
});
const labelOf = (method: Compared): string =>
  (method === 'patches' ? SEAMLESS_WAY_LABELS.patches : END_METHOD_LABELS[method]).label;
/** Beside the others, what is looked for first; alone, everything. */
const shortFigures = ({ seams, repetition }: TileProof): string =>
  seams ? `seams ${seams.visibility.toFixed(2)}` : `self-similarity ${percent(repetition.likeness)}`;
const figures = ({ seams, repetition }: TileProof): string =>
  [
    ...(seams ? [`visible seams ${seams.visibility.toFixed(2)}`] : []),
    `mirror symmetry ${percent(repetition.mirrored)}`,
    `self-similarity ${percent(repetition.likeness)}`,
  ].join('; ');
</script>

<template>
  <div class="compare" :class="{ single: large }">
    <div class="axes">
      <Choice label="Axes that are compared" :value="axes" :options="AXES" @choose="axes = $event" />
      <span class="soft">The other direction keeps its settings; patches are laid in both.</span>
      <Button v-if="large" label="All methods" size="small" outlined @click="large = null" />
    </div>
    <figure v-for="method in shown" :key="method">
      <TileView
        v-if="compared.get(method)?.map"
        :tile="compared.get(method)!.map"
        :is-draft="false"
        :before="null"
        :repeats="repeats"
        :divider="0"
        :borders="false"
        :label="`${name}, ${labelOf(method)}`"
        :telltales="[]"
        :seams="[]"
        :spots="[]"
        :brush="null"
      />
      <p v-else class="none">{{ compared.has(method) ? 'not possible with these settings' : 'working …' }}</p>
      <figcaption>
        <button
          v-tooltip="labelOf(method)"
          type="button"
          class="plain-button"
          :aria-pressed="large === method"
          :aria-label="`${labelOf(method)}, large`"
          @click="open(method)"
        >
          <kbd>{{ COMPARED.indexOf(method) + 1 }}</kbd> {{ labelOf(method) }}
        </button>
        <span v-if="compared.get(method)?.proof" v-tooltip="figures(compared.get(method)!.proof!)" class="figure">{{
          (large ? figures : shortFigures)(compared.get(method)!.proof!)
        }}</span>
        <Button
          :label="large ? 'Use this method' : 'Use'"
          size="small"
          outlined
          :aria-label="`Use ${labelOf(method)}`"
          @click="emit('take', method)"
        />
      </figcaption>
    </figure>
  </div>
</template>

<style scoped>
.compare {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) minmax(0, 1fr);
  grid-template-columns: repeat(6, minmax(0, 1fr));
  gap: 6px;
  min-height: 0;
  background: var(--surround);
}

.compare.single {
  grid-template-rows: auto minmax(0, 1fr);
}

.compare figure {
  grid-column: span 2;
}

/* Two below the three are as wide as three. */
.compare figure:nth-of-type(n + 4) {
  grid-column: span 3;
}

.compare.single figure {
  grid-column: 1 / -1;
}

figure {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  grid-template-columns: minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
  margin: 0;
}

.axes {
  display: flex;
  grid-column: 1 / -1;
  gap: 12px;
  align-items: center;
  padding: 4px 8px;
  background: var(--paper);
}

.axes > :last-child:not(.soft) {
  margin-left: auto;
}

figcaption {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 2px 6px;
  background: var(--paper);
}

figcaption > :first-child {
  min-width: 0;
  overflow: hidden;
  font-weight: 650;
  text-overflow: ellipsis;
  white-space: nowrap;
}

figcaption .figure {
  margin-left: auto;
  white-space: nowrap;
}

figcaption > :last-child:not(.figure) {
  flex: none;
}

.none {
  display: grid;
  place-items: center;
  margin: 0;
}
</style>
