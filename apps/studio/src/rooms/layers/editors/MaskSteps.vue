<script setup lang="ts">
import Button from 'primevue/button';
import InputText from 'primevue/inputtext';
import { computed } from 'vue';
import { MASK_COMBINES, MEASURED_KINDS, type MaskMeasure, type MaskStep } from '@zographos/core/layers';
import { describeKind } from '@zographos/core/image';
import { COMBINE_LABELS, MEASURE_LABELS, optionsOf } from '@zographos/operations';
import Amount from '../../../controls/Amount.vue';
import Amounts from '../../../controls/Amounts.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import Choice from '../../../controls/Choice.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { AXIS_OPTIONS, axisOf, axisValue } from '../../../ticket/bake/maps/axisOptions.ts';
import { ANGLE, measureFields, SHARE } from './layerFields.ts';
import { isPicked, newStep, type StepSurface } from './newStep.ts';
import BreakupEditor from './BreakupEditor.vue';
import LetteringEditor from './LetteringEditor.vue';
import NoiseFields from './NoiseFields.vue';
import PictureChooser from '../../../ticket/PictureChooser.vue';
import PlaceEditor from './PlaceEditor.vue';

/** Steps of a mask, which are combined one after the other; those that tell where a process begins lie within its own. */
const props = defineProps<{
  steps: readonly MaskStep[];
  surface: StepSurface;
  /** What a click on the model adds to, if it is a step of these. */
  picking: number | null;
  /** The step whose image the next click places. */
  placing?: number | null;
  /** How steep the edges are that a click on a face goes over. */
  faceAngle?: number;
  /** Whether faces are picked by a lasso. */
  byLasso?: boolean;
  title?: string;
  pictures?: readonly { id: string; name: string }[];
  /** Whether these tell where a process begins. */
  areSources?: boolean;
}>();
const emit = defineEmits<{
  move: [MaskStep[]];
  change: [MaskStep[]];
  pick: [number | null];
  faceAngle: [number];
  byLasso: [boolean];
  grow: [number];
  placing: [number | null];
  image: [{ at: number; id: string }];
  lettering: [{ at: number; id: string; aspect: number; text: string }];
}>();

const measures = computed(() =>
  optionsOf(MEASURE_LABELS).filter(
    ({ value }) => !(props.areSources && ['runs', 'spreading', 'picture', ...PICKED].includes(value)),
  ),
);
/** Where a process begins nothing is picked by clicks: a group’s mask, or a painted one, is as good. */
const PICKED = ['part', 'near', 'island', 'faces', 'tile'];
const COMBINES = optionsOf(COMBINE_LABELS, MASK_COMBINES);
const CHANNELS = (['grey', 'alpha', 'red', 'green', 'blue'] as const).map((value) => ({
  value,
  label: value[0]!.toUpperCase() + value.slice(1),
}));
const MAPS = MEASURED_KINDS.map((value) => ({ value, label: describeKind(value).label }));
const withStep = (at: number, part: object): MaskStep[] =>
  props.steps.map((step, i) => (i === at ? { ...step, ...part } : step));
const without = (at: number): MaskStep[] => props.steps.filter((_, i) => i !== at);

function add(measure: MaskMeasure['measure']): void {
  emit('change', [...props.steps, newStep(measure, props.surface)]);
  if (isPicked({ measure })) emit('pick', props.steps.length);
}

/** The direction of a step that has one, and its name. */
function axisOfStep(step: MaskStep): { name: 'axis' | 'direction' | 'down'; value: string } | null {
  if (step.measure === 'axis' || step.measure === 'waterline') return { name: 'axis', value: axisValue(step.axis) };
  if (step.measure === 'runs') return { name: 'down', value: axisValue(step.down) };
  return step.measure === 'facing' ? { name: 'direction', value: axisValue(step.direction) } : null;
}

/** Names that a step picks from a list. */
function namesOfStep(step: MaskStep): { all: readonly string[]; chosen: readonly string[]; name: string } | null {
  if (step.measure === 'slot') return { all: props.surface.slots, chosen: step.slots, name: 'slots' };
  return step.measure === 'object' ? { all: props.surface.objects, chosen: step.objects, name: 'objects' } : null;
}

function toggleName(at: number, step: MaskStep, name: string, on: boolean): void {
  const names = namesOfStep(step)!;
  const next = on ? [...names.chosen, name] : names.chosen.filter((each) => each !== name);
  if (next.length > 0) emit('change', withStep(at, { [names.name]: next }));
}

const FACE_PICKS = [
  { value: 'click', label: 'Clicks' },
  { value: 'lasso', label: 'Lasso' },
] as const;

function pickBy(at: number, by: 'click' | 'lasso'): void {
  emit('byLasso', by === 'lasso');
  if (props.picking !== at) emit('pick', at);
}

const pickingText = ({ measure }: MaskStep): string =>
  measure === 'faces' && props.byLasso
    ? 'Picking: draw around faces of the model or the map, with Shift to add'
    : 'Picking: click the model or the map, with Shift to add';

const colorsText = (step: MaskStep): string => (step.measure === 'id' ? step.colors.join(' ') : '');
function setColors(at: number, text: string): void {
  const colors = text.match(/#[0-9a-f]{6}/gi);
  if (colors) emit('change', withStep(at, { colors }));
}
</script>

<template>
  <section v-for="(step, i) in steps" :key="i" class="step">
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
      :label="step.measure === 'runs' ? 'Down' : 'Direction'"
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
      v-if="isPicked(step) && !areSources"
      type="button"
      class="plain-button"
      :aria-pressed="picking === i"
      @click="emit('pick', picking === i ? null : i)"
    >
      {{ picking === i ? pickingText(step) : 'Pick on the model or the map' }}
    </button>
    <template v-if="step.measure === 'faces' && !areSources">
      <Choice
        label="Pick faces by"
        :value="byLasso ? 'lasso' : 'click'"
        :options="FACE_PICKS"
        @choose="pickBy(i, $event)"
      />
      <Amount
        v-if="!byLasso"
        :field="ANGLE('faceAngle', 'Click goes over edges up to', 0, 180, 0)"
        :value="faceAngle ?? 0"
        @move="emit('faceAngle', $event)"
        @change="emit('faceAngle', $event)"
      />
      <button type="button" class="plain-button" @click="emit('grow', i)">Grow by the faces around</button>
    </template>
    <template v-if="step.measure === 'picture' && !areSources">
      <PictureChooser
        :image="pictures?.[step.picture]?.id ?? null"
        @choose="$event && emit('image', { at: i, id: $event })"
      />
      <LetteringEditor v-if="step.place" :text="title ?? ''" @made="emit('lettering', { at: i, ...$event })" />
      <PlaceEditor
        v-if="step.place"
        :place="step.place"
        :extent="surface.extent"
        :placing="placing === i"
        @placing="emit('placing', $event ? i : null)"
        @move="emit('move', withStep(i, { place: $event }))"
        @change="emit('change', withStep(i, { place: $event }))"
      />
      <Choice
        label="What of the image counts"
        :value="step.channel"
        :options="CHANNELS"
        @choose="emit('change', withStep(i, { channel: $event }))"
      />
    </template>
    <NoiseFields
      v-if="step.measure === 'field'"
      :field="step.field"
      :extent="surface.extent"
      @move="emit('move', withStep(i, { field: $event }))"
      @change="emit('change', withStep(i, { field: $event }))"
    />
    <Amounts
      :values="{ ...step } as Record<string, unknown>"
      :fields="[...measureFields(step.measure, surface.extent), SHARE('strength', 'Strength')]"
      @move="emit('move', withStep(i, $event))"
      @change="emit('change', withStep(i, $event))"
    />
    <BreakupEditor
      v-if="'breakup' in step"
      :breakup="step.breakup"
      :extent="surface.extent"
      @move="emit('move', withStep(i, { breakup: $event }))"
      @change="emit('change', withStep(i, { breakup: $event }))"
    />
    <div v-if="step.measure === 'runs' || step.measure === 'spreading'" class="sources">
      <h4>{{ step.measure === 'runs' ? 'Drops start where' : 'Seeds lie where' }}</h4>
      <MaskSteps
        :steps="step.from"
        :surface="surface"
        :picking="null"
        are-sources
        @move="emit('move', withStep(i, { from: $event }))"
        @change="emit('change', withStep(i, { from: $event }))"
      />
    </div>
  </section>
  <p v-if="steps.length === 0" class="soft">
    {{ areSources ? 'Anywhere. Limit it by:' : 'The layer lies everywhere. Add what it depends on:' }}
  </p>
  <div class="ways adds">
    <Button
      v-for="{ value, label } in measures"
      :key="value"
      :label="label"
      size="small"
      outlined
      @click="add(value)"
    />
  </div>
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

.sources {
  display: grid;
  gap: 6px;
  padding-left: 10px;
  border-left: 2px solid var(--line);
}
</style>
