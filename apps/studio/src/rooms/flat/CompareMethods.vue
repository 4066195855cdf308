<script setup lang="ts">
import Button from 'primevue/button';
import SelectButton from 'primevue/selectbutton';
import type { TileProof } from '@zographos/core/measure';
import { END_METHOD_LABELS, SEAMLESS_WAY_LABELS } from '@zographos/operations';
import { percent } from '../../controls/format.ts';
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
const labelOf = (method: Compared): string =>
  (method === 'patches' ? SEAMLESS_WAY_LABELS.patches : END_METHOD_LABELS[method]).label;
const figures = ({ seams, repetition }: TileProof): string =>
  [
    ...(seams ? [`visible seams ${seams.visibility.toFixed(2)}`] : []),
    `mirror symmetry ${percent(repetition.mirrored)}`,
    `self-similarity ${percent(repetition.likeness)}`,
  ].join('; ');
</script>

<template>
  <div class="compare">
    <div class="axes">
      <strong>On</strong>
      <SelectButton
        v-model="axes"
        size="small"
        aria-label="Axes that are compared"
        :options="AXES"
        option-label="label"
        option-value="value"
        :allow-empty="false"
      />
      <p class="soft">The other direction keeps its settings. Patches are laid in both.</p>
    </div>
    <figure v-for="method in COMPARED" :key="method">
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
        <strong>{{ labelOf(method) }}</strong>
        <span v-if="compared.get(method)?.proof" class="figure">{{ figures(compared.get(method)!.proof!) }}</span>
        <Button
          label="Use this method"
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
  grid-template-rows: 1fr 1fr;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6px;
  min-height: 0;
  background: var(--surround);
}

figure {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-height: 0;
  margin: 0;
}

.axes {
  display: grid;
  gap: 8px;
  align-content: center;
  justify-items: start;
  padding: 12px;
  background: var(--paper);
}

figcaption {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 8px;
  align-items: center;
  padding: 3px 6px;
  background: var(--paper);
}

figcaption .figure {
  grid-row: 2;
}

figcaption button {
  grid-row: 1 / span 2;
  grid-column: 2;
}

.none {
  display: grid;
  place-items: center;
  margin: 0;
}
</style>
