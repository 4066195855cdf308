<script setup lang="ts">
import { computed, ref } from 'vue';
import { BRUSH_TOOLS, type Brush, type BrushPicture, type PlainContent } from '@zographos/core/layers';
import { BRUSH_TOOL_LABELS, brushSentence, FILL_LABELS, optionsOf } from '@zographos/operations';
import Amount from '../../../controls/Amount.vue';
import type { AmountField } from '../../../controls/amountField.ts';
import Amounts from '../../../controls/Amounts.vue';
import SlotSentence from '../../../ticket/SlotSentence.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import Choice from '../../../controls/Choice.vue';
import { ANGLE, LENGTH, SHARE } from '../editors/layerFields.ts';
import PlainEditor from '../editors/PlainEditor.vue';
import { PLAIN_PICTURE, type Pen } from './pen.ts';
import PictureOfBrush from './PictureOfBrush.vue';
import SymmetryOfBrush from './SymmetryOfBrush.vue';

/** What is painted with, as a sentence: the brush, the paint on it, and where else it paints at once. */
const props = defineProps<{
  pen: Pen;
  /** Size of the receiver in millimetres, and its middle. */
  extent: number;
  middle: readonly [number, number, number];
  /** The images that the stack uses, by number: their ids, and names. */
  pictures: readonly { id: string; name: string }[];
  hasCloneSource: boolean;
  /** Pairs of triangles that share texels. */
  overlaps: number;
}>();
const emit = defineEmits<{
  change: [Pen];
  /** An image is chosen that has to be among those of the stack. */
  image: [string];
}>();

const TOOLS = optionsOf(BRUSH_TOOL_LABELS, BRUSH_TOOLS);
const FILLS = optionsOf(FILL_LABELS);
const slot = ref('dab');
const brush = computed(() => props.pen.brush);
const onBrush = computed(() => (brush.value.picture ? props.pictures[brush.value.picture.picture] : undefined));
const sentence = computed(() =>
  brushSentence(brush.value, props.pen.paint, brush.value.picture ? (onBrush.value?.name ?? 'that is gone') : null),
);
const FIELDS = computed((): Partial<Record<string, AmountField[]>> => ({
  dab: [LENGTH('radius', 'Radius', props.extent / 5, props.extent / 30, 0.01), SHARE('hardness', 'Hardness', 0.5)],
  strength: [SHARE('strength', 'Strength'), SHARE('flow', 'Flow')],
  spacing: [
    { ...SHARE('spacing', 'Spacing', 0.25), min: 0.02, max: 10, slider: [0.05, 3] as const },
    { ...SHARE('scatter', 'Scatter', 0), max: 10, slider: [0, 3] as const },
  ],
}));
const fields = computed(() => FIELDS.value[slot.value] ?? []);
const setBrush = (part: Partial<Brush>): void => emit('change', { ...props.pen, brush: { ...brush.value, ...part } });
const grey = computed(() => ('grey' in props.pen.paint ? props.pen.paint.grey : null));

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
    <Amounts
      :values="{ ...brush } as Record<string, unknown>"
      :fields="fields"
      @move="setBrush($event as Partial<Brush>)"
      @change="setBrush($event as Partial<Brush>)"
    />
    <template v-if="slot === 'dab' || slot === 'strength'">
      <CheckLine
        label="Pressure changes strength"
        :value="brush.pressure.strength"
        @change="setBrush({ pressure: { ...brush.pressure, strength: $event } })"
      />
      <CheckLine
        label="Pressure changes radius"
        :value="brush.pressure.radius"
        @change="setBrush({ pressure: { ...brush.pressure, radius: $event } })"
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
      <PlainEditor
        v-else
        :values="pen.paint as PlainContent['values']"
        @move="emit('change', { ...pen, paint: $event })"
        @change="emit('change', { ...pen, paint: $event })"
      />
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
