<script setup lang="ts">
import Button from 'primevue/button';
import InputText from 'primevue/inputtext';
import { computed } from 'vue';
import {
  MASK_COMBINES,
  MEASURED_KINDS,
  type Breakup,
  type LayerMask,
  type MaskMeasure,
  type MaskShaping,
  type MaskStep,
} from '@zographos/core/layers';
import { describeKind } from '@zographos/core/image';
import { COMBINE_LABELS, MEASURE_LABELS, optionsOf } from '@zographos/operations';
import Amounts from '../../../controls/Amounts.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { AXIS_OPTIONS, axisOf, axisValue } from '../../../ticket/bake/maps/axisOptions.ts';
import { madeStep } from '../newLayers.ts';
import { measureFields, SHARE, shapingFields } from './layerFields.ts';
import NoiseFields from './NoiseFields.vue';

/** Where a layer lies: steps that are combined one after the other, and what is done to them in the end. */
const props = defineProps<{
  mask: LayerMask;
  extent: number;
  slots: readonly string[];
  objects: readonly string[];
  /** What a click on the model adds to, if it is a step of this mask. */
  picking: number | null;
}>();
const emit = defineEmits<{ move: [LayerMask]; change: [LayerMask]; pick: [number | null] }>();

const MEASURES = optionsOf(MEASURE_LABELS).filter(({ value }) => !['picture', 'tile'].includes(value));
const COMBINES = optionsOf(COMBINE_LABELS, MASK_COMBINES);
const MAPS = MEASURED_KINDS.map((value) => ({ value, label: describeKind(value).label }));
const BREAKUP: Breakup = {
  amount: 0.5,
  field: { noise: 'gradient-noise', size: 10, octaves: 5, style: 'smooth', levels: [0, 1], seed: 1 },
};

const withStep = (at: number, part: object): LayerMask => ({
  ...props.mask,
  steps: props.mask.steps.map((step, i) => (i === at ? { ...step, ...part } : step)),
});
const without = (at: number): LayerMask => ({ ...props.mask, steps: props.mask.steps.filter((_, i) => i !== at) });
const withShaping = (part: Partial<MaskShaping>): LayerMask => ({
  ...props.mask,
  shaping: { ...props.mask.shaping, ...part },
});

/** Steps that go by what is clicked on the model. */
const PICKED = ['part', 'island', 'faces'] as const;
const isPicked = ({ measure }: MaskStep): boolean => (PICKED as readonly string[]).includes(measure);

function newStep(measure: MaskMeasure['measure']): MaskStep {
  const { extent } = props;
  switch (measure) {
    case 'slot':
      return madeStep({ measure, slots: props.slots.slice(0, 1) });
    case 'object':
      return madeStep({ measure, objects: props.objects.slice(0, 1) });
    case 'part':
    case 'island':
      return madeStep({ measure, triangles: [0] });
    case 'faces':
      return madeStep({ measure, ranges: [[0, 1]], of: 1 });
    case 'id':
      return madeStep({ measure, colors: ['#ff0000'] });
    case 'map':
      return madeStep({ measure, map: 'ao', from: 1, to: 0.5 });
    case 'axis':
      return madeStep({ measure, axis: [0, 1, 0], from: -extent / 2, to: extent / 2 });
    case 'facing':
      return madeStep({ measure, direction: [0, 1, 0] });
    case 'field':
      return madeStep({ measure, field: { size: extent / 10 } });
    case 'waterline':
      return madeStep({ measure, level: 0, band: extent / 12, ragged: extent / 40, raggedSize: extent / 8 });
    case 'wear':
      return madeStep({ measure, radius: extent / 80 });
    default:
      return madeStep({ measure });
  }
}

function add(measure: MaskMeasure['measure']): void {
  emit('change', { ...props.mask, steps: [...props.mask.steps, newStep(measure)] });
  if ((PICKED as readonly string[]).includes(measure)) emit('pick', props.mask.steps.length);
}

/** The direction of a step that has one, and its name. */
function axisOfStep(step: MaskStep): { name: 'axis' | 'direction'; value: string } | null {
  if (step.measure === 'axis' || step.measure === 'waterline') return { name: 'axis', value: axisValue(step.axis) };
  return step.measure === 'facing' ? { name: 'direction', value: axisValue(step.direction) } : null;
}

/** Names that a step picks from a list. */
function namesOfStep(step: MaskStep): { all: readonly string[]; chosen: readonly string[]; name: string } | null {
  if (step.measure === 'slot') return { all: props.slots, chosen: step.slots, name: 'slots' };
  return step.measure === 'object' ? { all: props.objects, chosen: step.objects, name: 'objects' } : null;
}

function toggleName(at: number, step: MaskStep, name: string, on: boolean): void {
  const names = namesOfStep(step)!;
  const next = on ? [...names.chosen, name] : names.chosen.filter((each) => each !== name);
  if (next.length > 0) emit('change', withStep(at, { [names.name]: next }));
}

const colorsText = (step: MaskStep): string => (step.measure === 'id' ? step.colors.join(' ') : '');
function setColors(at: number, text: string): void {
  const colors = text.match(/#[0-9a-f]{6}/gi);
  if (colors) emit('change', withStep(at, { colors }));
}

const breakupOf = (step: MaskStep): Breakup | null | undefined => ('breakup' in step ? step.breakup : undefined);
const shaping = computed(() => props.mask.shaping);
</script>

<template>
  <section v-for="(step, i) in mask.steps" :key="i" class="step">
    <h3>
      {{ MEASURE_LABELS[step.measure].label }}
      <button type="button" class="plain-button" @click="emit('change', without(i))">Remove</button>
    </h3>
    <div class="ways">
      <Dropdown
        label="Combine"
        :value="step.combine"
        :options="COMBINES"
        @choose="emit('change', withStep(i, { combine: $event }))"
      />
      <CheckLine label="Invert" :value="step.invert" @change="emit('change', withStep(i, { invert: $event }))" />
    </div>
    <Dropdown
      v-if="step.measure === 'map'"
      label="Map"
      :value="step.map"
      :options="MAPS"
      @choose="emit('change', withStep(i, { map: $event }))"
    />
    <Dropdown
      v-if="axisOfStep(step)"
      label="Direction"
      :value="axisOfStep(step)!.value"
      :options="AXIS_OPTIONS"
      @choose="emit('change', withStep(i, { [axisOfStep(step)!.name]: axisOf($event) }))"
    />
    <template v-if="namesOfStep(step)">
      <CheckLine
        v-for="name in namesOfStep(step)!.all"
        :key="name"
        :label="name"
        :value="namesOfStep(step)!.chosen.includes(name)"
        @change="toggleName(i, step, name, $event)"
      />
    </template>
    <label v-if="step.measure === 'id'"
      >Colours
      <InputText
        :model-value="colorsText(step)"
        size="small"
        placeholder="#ff0000 #00ff00"
        @change="setColors(i, ($event.target as HTMLInputElement).value)"
      />
    </label>
    <button
      v-if="isPicked(step)"
      type="button"
      class="plain-button"
      :aria-pressed="picking === i"
      @click="emit('pick', picking === i ? null : i)"
    >
      {{ picking === i ? 'Picking: click the model or the map' : 'Pick on the model or the map' }}
    </button>
    <NoiseFields
      v-if="step.measure === 'field'"
      :field="step.field"
      :extent="extent"
      @move="emit('move', withStep(i, { field: $event }))"
      @change="emit('change', withStep(i, { field: $event }))"
    />
    <Amounts
      :values="{ ...step } as Record<string, unknown>"
      :fields="[...measureFields(step.measure, extent), SHARE('strength', 'Strength')]"
      @move="emit('move', withStep(i, $event))"
      @change="emit('change', withStep(i, $event))"
    />
    <template v-if="breakupOf(step) !== undefined">
      <CheckLine
        label="Broken up by noise"
        :value="breakupOf(step) !== null"
        @change="emit('change', withStep(i, { breakup: $event ? BREAKUP : null }))"
      />
      <template v-if="breakupOf(step)">
        <Amounts
          :values="{ ...breakupOf(step)! } as Record<string, unknown>"
          :fields="[SHARE('amount', 'Amount', 0.5)]"
          @move="emit('move', withStep(i, { breakup: $event }))"
          @change="emit('change', withStep(i, { breakup: $event }))"
        />
        <NoiseFields
          :field="breakupOf(step)!.field"
          :extent="extent"
          @move="emit('move', withStep(i, { breakup: { ...breakupOf(step)!, field: $event } }))"
          @change="emit('change', withStep(i, { breakup: { ...breakupOf(step)!, field: $event } }))"
        />
      </template>
    </template>
  </section>
  <p v-if="mask.steps.length === 0" class="soft">The layer lies everywhere. Add what it depends on:</p>
  <div class="ways adds">
    <Button
      v-for="{ value, label } in MEASURES"
      :key="value"
      :label="label"
      size="small"
      outlined
      @click="add(value)"
    />
  </div>
  <section class="step">
    <h3>Shaping</h3>
    <Amounts
      :values="{ ...shaping } as Record<string, unknown>"
      :fields="shapingFields(extent)"
      @move="emit('move', withShaping($event as Partial<MaskShaping>))"
      @change="emit('change', withShaping($event as Partial<MaskShaping>))"
    />
    <CheckLine label="Invert mask" :value="shaping.invert" @change="emit('change', withShaping({ invert: $event }))" />
  </section>
</template>

<style scoped>
.step {
  display: grid;
  gap: 6px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line);
}

h3 {
  display: flex;
  justify-content: space-between;
}

.adds {
  gap: 4px;
}
</style>
