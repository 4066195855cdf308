<script setup lang="ts">
import { computed, ref } from 'vue';
import {
  BRUSH_TOOLS,
  tilingOf,
  type Brush,
  type BrushPicture,
  type PaintedValues,
  type Variation,
  type Varying,
} from '@zographos/core/layers';
import { BRUSH_TOOL_LABELS, brushSentence, FILL_LABELS, MOST_RADIUS, optionsOf } from '@zographos/operations';
import Amount from '../../../controls/Amount.vue';
import type { AmountField } from '../../../controls/amountField.ts';
import SlotSentence from '../../../ticket/SlotSentence.vue';
import Choice from '../../../controls/Choice.vue';
import { ANGLE, LENGTH, PIXELS, SHARE } from '../editors/layerFields.ts';
import PlainEditor from '../editors/PlainEditor.vue';
import TilingEditor from '../editors/TilingEditor.vue';
import { PLAIN_PICTURE, usualPen, type Pen } from './pen.ts';
import PictureOfBrush from './PictureOfBrush.vue';
import SymmetryOfBrush from './SymmetryOfBrush.vue';
import VaryingAmount from './VaryingAmount.vue';

/** What is painted with, as a sentence: the brush, the paint on it, and where else it paints at once. */
const props = defineProps<{
  pen: Pen;
  /** Size of the receiver in millimetres, and its middle. */
  extent: number;
  middle: readonly [number, number, number];
  /** The images that the stack uses, by number: their ids, and names. */
  pictures: readonly { id: string; name: string }[];
  /** Tiling materials that can be the paint, and which of them each of the stack's is, by number. */
  materials: readonly { id: string; name: string }[];
  materialsOfStack: readonly { set: string | null; name: string }[];
  hasCloneSource: boolean;
  /** Pairs of triangles that share texels. */
  overlaps: number;
}>();
const emit = defineEmits<{
  change: [Pen];
  /** An image is chosen that has to be among those of the stack. */
  image: [string];
  /** A tiling material is chosen that has to be among those of the stack. */
  material: [string];
}>();

const TOOLS = optionsOf(BRUSH_TOOL_LABELS, BRUSH_TOOLS);
const FILLS = optionsOf(FILL_LABELS);
const slot = ref('dab');
const brush = computed(() => props.pen.brush);
const onBrush = computed(() => (brush.value.picture ? props.pictures[brush.value.picture.picture] : undefined));
const tiling = computed(() => tilingOf(props.pen));
const material = computed(() => (tiling.value ? props.materialsOfStack[tiling.value.material] : undefined));
const sentence = computed(() =>
  brushSentence(brush.value, props.pen.paint, {
    picture: brush.value.picture ? (onBrush.value?.name ?? 'that is gone') : null,
    material: material.value?.name,
    screenRadius: props.pen.screenRadius,
  }),
);
/** What can differ from dab to dab, by the slot of the sentence that it belongs to. */
const VARIED = computed((): Partial<Record<string, readonly AmountField<Varying>[]>> => ({
  dab: [radiusField.value],
  strength: [SHARE('strength', 'Strength'), SHARE('flow', 'Flow')],
  spacing: [
    { ...SHARE('spacing', 'Spacing', 0.25), min: 0.02, max: 10, slider: [0.05, 3] as const },
    { ...SHARE('scatter', 'Scatter', 0), max: 10, slider: [0, 3] as const },
  ],
}));
const radiusField = computed(() =>
  props.pen.screenRadius === null
    ? { ...LENGTH('radius', 'Radius', props.extent / 5, props.extent / 30, 0.01), max: MOST_RADIUS }
    : PIXELS('radius', 'Radius', 200, 24),
);
const varied = computed(() => VARIED.value[slot.value] ?? []);
const setBrush = (part: Partial<Brush>): void => emit('change', { ...props.pen, brush: { ...brush.value, ...part } });
const amountOf = (name: Varying): number =>
  name === 'radius' ? (props.pen.screenRadius ?? brush.value.radius) : brush.value[name];

function setAmount(name: Varying, value: number): void {
  if (name === 'radius' && props.pen.screenRadius !== null) emit('change', { ...props.pen, screenRadius: value });
  else setBrush({ [name]: value });
}

function vary(name: Varying, variation: Variation | undefined): void {
  const others = Object.entries(brush.value.varies).filter(([each]) => each !== name);
  setBrush({ varies: Object.fromEntries(variation ? [...others, [name, variation]] : others) });
}

const UNITS = [
  { value: 'mm', label: 'mm on the surface' },
  { value: 'px', label: 'px on screen' },
] as const;
const setUnit = (unit: 'mm' | 'px'): void => emit('change', { ...props.pen, screenRadius: unit === 'px' ? 24 : null });

const grey = computed(() => ('grey' in props.pen.paint ? props.pen.paint.grey : null));
const PAINTS = [
  { value: 'values', label: 'Values' },
  { value: 'material', label: 'Tiling material' },
] as const;
function paintWith(what: 'values' | 'material'): void {
  if (what === 'values') emit('change', { ...props.pen, paint: usualPen(props.extent, false).paint });
  else if (props.materials[0]) emit('material', props.materials[0].id);
}

function setTool(tool: Brush['tool']): void {
  setBrush({ tool });
  slot.value = tool === 'fill' ? 'fill' : 'dab';
}

function setImage(id: string | null): void {
  if (id) emit('image', id);
  else setBrush({ picture: null });
}
const setPicture = (picture: BrushPicture | null): void =>
  setBrush({ picture: picture && { ...PLAIN_PICTURE, ...picture } });
</script>

<template>
  <div class="pen">
    <div class="choices tools" role="group" aria-label="Tool">
      <button
        v-for="{ value, label, hint } in TOOLS"
        :key="value"
        type="button"
        :aria-pressed="brush.tool === value"
        :title="hint"
        @click="setTool(value)"
      >
        {{ label }}
      </button>
    </div>
    <p v-if="overlaps > 0" class="note">
      {{ overlaps === 1 ? 'One pair of triangles overlaps' : `${overlaps} pairs of triangles overlap` }} in the layout:
      what is painted on one appears on the other. Pack the islands apart in UV to paint them by themselves.
    </p>
    <SlotSentence small :parts="sentence" :chosen="slot" @choose="slot = $event" />
    <p v-if="brush.tool === 'clone' && !hasCloneSource" class="note">
      Hold Alt and click the place that is to be cloned.
    </p>
    <VaryingAmount
      v-for="field in varied"
      :key="field.name"
      :field="field"
      :value="amountOf(field.name)"
      :variation="brush.varies[field.name]"
      @change="setAmount(field.name, $event)"
      @vary="vary(field.name, $event)"
    />
    <template v-if="slot === 'dab'">
      <Choice
        label="Unit of the radius"
        :value="pen.screenRadius === null ? 'mm' : 'px'"
        :options="UNITS"
        @choose="setUnit"
      />
      <Amount
        :field="SHARE('hardness', 'Hardness', 0.5)"
        :value="brush.hardness"
        @move="setBrush({ hardness: $event })"
        @change="setBrush({ hardness: $event })"
      />
    </template>
    <template v-else-if="slot === 'fill'">
      <Choice label="What is filled" :value="brush.fill" :options="FILLS" @choose="setBrush({ fill: $event })" />
      <Amount
        v-if="brush.fill === 'angle'"
        :field="ANGLE('fillAngle', 'Steepest edge', 0, 180, 30)"
        :value="brush.fillAngle"
        @move="setBrush({ fillAngle: $event })"
        @change="setBrush({ fillAngle: $event })"
      />
    </template>
    <PictureOfBrush
      v-else-if="slot === 'picture'"
      :picture="brush.picture"
      :image="onBrush?.id ?? null"
      :extent="extent"
      @image="setImage"
      @change="setPicture"
    />
    <SymmetryOfBrush
      v-else-if="slot === 'symmetry'"
      :symmetry="brush.symmetry"
      :middle="middle"
      :extent="extent"
      @change="setBrush({ symmetry: $event })"
    />
    <template v-else-if="slot === 'paint'">
      <Amount
        v-if="grey !== null"
        :field="SHARE('grey', 'Mask value')"
        :value="grey"
        @move="emit('change', { ...pen, paint: { grey: $event } })"
        @change="emit('change', { ...pen, paint: { grey: $event } })"
      />
      <template v-else>
        <Choice
          v-if="materials.length > 0"
          label="Paint"
          :value="tiling ? 'material' : 'values'"
          :options="PAINTS"
          @choose="paintWith"
        />
        <TilingEditor
          v-if="tiling"
          :tiling="tiling"
          :materials="materials"
          :material="material?.set ?? null"
          @move="emit('change', { ...pen, paint: { tiling: $event } })"
          @change="emit('change', { ...pen, paint: { tiling: $event } })"
          @material="emit('material', $event)"
        />
        <PlainEditor
          v-else
          :values="pen.paint as PaintedValues"
          @move="emit('change', { ...pen, paint: $event })"
          @change="emit('change', { ...pen, paint: $event })"
        />
      </template>
    </template>
    <p class="soft">Shift: a straight line from the last place.</p>
  </div>
</template>

<style scoped>
.pen {
  display: grid;
  gap: 6px;
}

.tools {
  flex-wrap: wrap;
}

.note {
  color: var(--minium);
}
</style>
