<script setup lang="ts">
import Button from 'primevue/button';
import Select from 'primevue/select';
import { computed, ref, watch } from 'vue';
import type { Adjustment } from '@zographos/core/adjust';
import type { MapKind } from '@zographos/core/image';
import { kindOptions } from '@zographos/operations';
import Amount from './Amount.vue';

/** What is done to a map at the end, step by step. */
type Adjustments = Partial<Record<MapKind, Adjustment[]>>;
const props = defineProps<{ adjust: Adjustments; kinds: MapKind[]; kind: MapKind | undefined }>();
const emit = defineEmits<{ move: [Adjustments]; change: [Adjustments] }>();

const NEW: { [Kind in Adjustment['do']]: Extract<Adjustment, { do: Kind }> } = {
  levels: { do: 'levels', black: 0, white: 1, gamma: 1 },
  curves: {
    do: 'curves',
    points: [
      [0, 0],
      [0.5, 0.5],
      [1, 1],
    ],
  },
  contrast: { do: 'contrast', amount: 1 },
  saturation: { do: 'saturation', amount: 1 },
  hue: { do: 'hue', degrees: 0 },
  invert: { do: 'invert' },
  blur: { do: 'blur', radius: 0.004 },
  sharpen: { do: 'sharpen', radius: 0.002, amount: 0.5 },
  denoise: { do: 'denoise', radius: 0.004, edge: 0.1 },
  'high-pass': { do: 'high-pass', radius: 0.05 },
  equalise: { do: 'equalise', amount: 1 },
  clamp: { do: 'clamp', low: 0, high: 1 },
  remap: { do: 'remap', low: 0, high: 1 },
};
const ADJUSTMENT_LABELS: Record<Adjustment['do'], string> = {
  levels: 'Levels',
  curves: 'Curves',
  contrast: 'Contrast',
  saturation: 'Saturation',
  hue: 'Hue',
  invert: 'Invert',
  blur: 'Blur',
  sharpen: 'Sharpen',
  denoise: 'Denoise',
  'high-pass': 'High pass',
  equalise: 'Equalise',
  clamp: 'Clamp',
  remap: 'Remap',
};
const NUMBER_LABELS: Record<string, string> = {
  black: 'Black point',
  white: 'White point',
  gamma: 'Gamma',
  amount: 'Amount',
  degrees: 'Degrees',
  radius: 'Radius, share of the width',
  edge: 'Edge threshold',
  low: 'Low',
  high: 'High',
};
const options = computed(() => kindOptions(props.kinds));
/** The numbers of each step, with where they may go. */
const RANGES: Record<string, { min: number; max: number; usual: number; label?: string }> = {
  black: { min: 0, max: 1, usual: 0 },
  white: { min: 0, max: 1, usual: 1 },
  gamma: { min: 0.1, max: 5, usual: 1 },
  amount: { min: 0, max: 4, usual: 1 },
  degrees: { min: -180, max: 180, usual: 0 },
  radius: { min: 0, max: 0.1, usual: 0.004 },
  edge: { min: 0, max: 1, usual: 0.1 },
  low: { min: 0, max: 1, usual: 0 },
  high: { min: 0, max: 1, usual: 1 },
};

const chosen = ref<MapKind>(props.kind ?? props.kinds[0]!);
watch(
  () => props.kind,
  (kind) => {
    if (kind) chosen.value = kind;
  },
);
const steps = computed(() => props.adjust[chosen.value] ?? []);
const numbersOf = (step: Adjustment): { name: string; value: number }[] =>
  Object.entries(step).flatMap(([name, value]) => (typeof value === 'number' ? [{ name, value }] : []));

const withSteps = (list: Adjustment[]): Adjustments => ({ ...props.adjust, [chosen.value]: list });
const withNumber = (at: number, name: string, value: number): Adjustments =>
  withSteps(steps.value.map((step, i) => (i === at ? { ...step, [name]: value } : step)));
const withPoint = (at: number, point: number, value: number): Adjustments =>
  withSteps(
    steps.value.map((step, i) =>
      i === at && step.do === 'curves'
        ? { ...step, points: step.points.map((each, k) => (k === point ? ([each[0], value] as const) : each)) }
        : step,
    ),
  );

function add(kind: Adjustment['do']): void {
  emit('change', withSteps([...steps.value, NEW[kind]]));
}
</script>

<template>
  <div class="editor">
    <Select
      v-model="chosen"
      size="small"
      aria-label="Map to adjust"
      :options="options"
      option-label="label"
      option-value="value"
    />
    <section v-for="(step, i) in steps" :key="i">
      <h3>
        {{ ADJUSTMENT_LABELS[step.do] }}
        <button type="button" class="plain-button" @click="emit('change', withSteps(steps.filter((_, k) => k !== i)))">
          Remove
        </button>
      </h3>
      <Amount
        v-for="{ name, value } in numbersOf(step)"
        :key="name"
        :label="NUMBER_LABELS[name] ?? name"
        :value="value"
        :min="RANGES[name]!.min"
        :max="RANGES[name]!.max"
        :usual="RANGES[name]!.usual"
        :digits="3"
        @move="emit('move', withNumber(i, name, $event))"
        @change="emit('change', withNumber(i, name, $event))"
      />
      <template v-if="step.do === 'curves'">
        <Amount
          v-for="(point, k) in step.points"
          :key="k"
          :label="`${Math.round(point[0] * 100)} % becomes`"
          :value="point[1]"
          :min="0"
          :max="1"
          :usual="point[0]"
          :digits="3"
          @move="emit('move', withPoint(i, k, $event))"
          @change="emit('change', withPoint(i, k, $event))"
        />
      </template>
    </section>
    <p v-if="steps.length === 0" class="soft">No adjustments yet.</p>
    <div class="ways">
      <Button
        v-for="each in Object.keys(NEW) as Adjustment['do'][]"
        :key="each"
        :label="ADJUSTMENT_LABELS[each]"
        size="small"
        outlined
        @click="add(each)"
      />
    </div>
  </div>
</template>
