<script setup lang="ts">
import Button from 'primevue/button';
import { computed } from 'vue';
import type { Adjustment } from '@zographos/core/adjust';
import { ADJUSTMENT_LABELS, adjustmentSchema } from '@zographos/operations';
import Amount from './Amount.vue';
import { amountField, type AmountField } from './amountField.ts';
import Amounts from './Amounts.vue';
import ColorField from './ColorField.vue';
import LevelsHistogram from './LevelsHistogram.vue';

/** What is done to a map or to layers, step by step. */
const props = defineProps<{
  steps: readonly Adjustment[];
  /** Whether radii are millimetres; shares of the width otherwise. */
  inMillimetres?: boolean;
  /** How often each value from 0 to 1 occurs in what the first levels adjust. */
  histogram?: readonly number[] | null;
}>();
const emit = defineEmits<{ move: [Adjustment[]]; change: [Adjustment[]] }>();
const firstLevels = computed(() => props.steps.findIndex((step) => step.do === 'levels'));

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
  brightness: { do: 'brightness', amount: 0 },
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
  ramp: {
    do: 'ramp',
    stops: [
      { at: 0, color: '#2b2420' },
      { at: 1, color: '#d9cdb8' },
    ],
  },
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
/** Where sliders go, if not over all that the schema takes. */
const SLIDERS: Record<string, readonly [number, number]> = {
  'levels.gamma': [0.1, 5],
  'sharpen.amount': [0, 4],
  'blur.radius': [0, 0.1],
  'sharpen.radius': [0, 0.1],
  'denoise.radius': [0, 0.1],
  'high-pass.radius': [0, 0.1],
  'remap.low': [0, 1],
  'remap.high': [0, 1],
};
/** The numbers of each kind of step, each with where it may go. */
const FIELDS = Object.fromEntries(
  Object.values(NEW).map((step) => [
    step.do,
    Object.entries(step).flatMap(([name, usual]: [string, unknown]) => {
      if (typeof usual !== 'number') return [];
      const slider = SLIDERS[`${step.do}.${name}`];
      const options = { usual, digits: 3, ...(slider ? { slider } : {}) };
      return [amountField(adjustmentSchema(step.do), name, NUMBER_LABELS[name] ?? name, options)];
    }),
  ]),
) as Record<Adjustment['do'], AmountField[]>;
/** A point of a curve: what the tone `from` becomes. */
const pointField = (from: number): AmountField =>
  amountField(adjustmentSchema('curves'), 'points.0.1', `${Math.round(from * 100)} % becomes`, {
    usual: from,
    digits: 3,
  });

/** Lengths of layers are typed in millimetres, without an end that a share has. */
const fieldsOf = (step: Adjustment['do']): AmountField[] =>
  FIELDS[step].map((field) =>
    props.inMillimetres && field.name === 'radius'
      ? { ...field, label: 'Radius', min: 0, max: 1000, usual: 1, slider: [0, 20], suffix: ' mm' }
      : field,
  );

const withStep = (at: number, next: Adjustment): Adjustment[] => props.steps.map((step, i) => (i === at ? next : step));
const withPoint = (at: number, point: number, value: number): Adjustment[] =>
  props.steps.map((step, i) =>
    i === at && step.do === 'curves'
      ? { ...step, points: step.points.map((each, k) => (k === point ? ([each[0], value] as const) : each)) }
      : step,
  );
const withColor = (at: number, stop: number, color: string): Adjustment[] =>
  props.steps.map((step, i) =>
    i === at && step.do === 'ramp'
      ? { ...step, stops: step.stops.map((each, k) => (k === stop ? { ...each, color } : each)) }
      : step,
  );

function add(kind: Adjustment['do']): void {
  const step = NEW[kind];
  emit('change', [...props.steps, props.inMillimetres && 'radius' in step ? { ...step, radius: 1 } : step]);
}
</script>

<template>
  <section v-for="(step, i) in steps" :key="i">
    <h3>
      {{ ADJUSTMENT_LABELS[step.do].label }}
      <button
        type="button"
        class="plain-button"
        @click="
          emit(
            'change',
            steps.filter((_, k) => k !== i),
          )
        "
      >
        Remove
      </button>
    </h3>
    <LevelsHistogram
      v-if="step.do === 'levels' && histogram && i === firstLevels"
      :bins="histogram"
      :black="step.black"
      :white="step.white"
    />
    <Amounts
      :values="{ ...step } as Record<string, unknown>"
      :fields="fieldsOf(step.do)"
      @move="emit('move', withStep(i, $event as Adjustment))"
      @change="emit('change', withStep(i, $event as Adjustment))"
    />
    <template v-if="step.do === 'curves'">
      <Amount
        v-for="(point, k) in step.points"
        :key="k"
        :field="pointField(point[0])"
        :value="point[1]"
        @move="emit('move', withPoint(i, k, $event))"
        @change="emit('change', withPoint(i, k, $event))"
      />
    </template>
    <template v-if="step.do === 'ramp'">
      <ColorField
        v-for="(stop, k) in step.stops"
        :key="k"
        :label="`${Math.round(stop.at * 100)} % becomes`"
        :value="stop.color"
        @move="emit('move', withColor(i, k, $event))"
        @change="emit('change', withColor(i, k, $event))"
      />
    </template>
  </section>
  <p v-if="steps.length === 0" class="soft">No adjustments yet.</p>
  <div class="ways">
    <Button
      v-for="each in Object.keys(NEW) as Adjustment['do'][]"
      :key="each"
      :label="ADJUSTMENT_LABELS[each].label"
      size="small"
      outlined
      @click="add(each)"
    />
  </div>
</template>
