<script setup lang="ts">
import { computed } from 'vue';
import {
  BLEND_LABELS,
  CELL_MEASURE_LABELS,
  FIELD_LABELS,
  fieldSettings,
  GRUNGE_LABELS,
  NOISE_STYLE_LABELS,
  optionsOf,
  RAMP_WAY_LABELS,
  type FieldSettings,
} from '@zographos/operations';
import Amount from '../../../../controls/Amount.vue';
import { amountField } from '../../../../controls/amountField.ts';
import Amounts from '../../../../controls/Amounts.vue';
import CheckLine from '../../../../controls/CheckLine.vue';
import Choice from '../../../../controls/Choice.vue';
import Dropdown from '../../../../controls/Dropdown.vue';
import { limitsOf } from '../../../../controls/limits.ts';
import NumberField from '../../../../controls/NumberField.vue';
import PictureChooser from '../../../../ticket/PictureChooser.vue';
import { COUNT_LABELS, fieldsOfLayer, USUAL_OF_KIND } from './layerFields.ts';

/** One layer of a procedural texture. */
type Layer = FieldSettings['layers'][number];
const props = defineProps<{
  layer: Layer;
  /** The lowest lies on nothing that it could be blended with. */
  isLowest: boolean;
  /** The images of the ticket. */
  images: string[];
}>();
const emit = defineEmits<{ move: [Partial<Layer>]; change: [Partial<Layer>]; image: [string] }>();

const PATTERNS = optionsOf(FIELD_LABELS);
const GRUNGE = optionsOf(GRUNGE_LABELS);
const STYLES = optionsOf(NOISE_STYLE_LABELS);
const MEASURES = optionsOf(CELL_MEASURE_LABELS);
const DIRECTIONS = optionsOf(RAMP_WAY_LABELS);
const BLENDS = optionsOf(BLEND_LABELS);
const THRESHOLD = [
  amountField(fieldSettings, 'layers.0.threshold.at', 'Value', { usual: 0.5 }),
  amountField(fieldSettings, 'layers.0.threshold.soft', 'Softness', { usual: 0.1 }),
];
const WARP_AMOUNT = amountField(fieldSettings, 'layers.0.warp.amount', 'Warp amount', { slider: [0, 0.3], digits: 3 });
const WARP_SCALE = amountField(fieldSettings, 'layers.0.warp.scale', 'Warp scale', { slider: [1, 32] });
const BLACK_POINT = amountField(fieldSettings, 'layers.0.levels.0', 'Black point', { usual: 0 });
const WHITE_POINT = amountField(fieldSettings, 'layers.0.levels.1', 'White point', { usual: 1 });
const OPACITY = amountField(fieldSettings, 'layers.0.opacity', 'Opacity', { percent: true });

const numbers = computed(() => fieldsOfLayer(props.layer.kind));
const isNoise = computed(() => props.layer.kind.endsWith('noise'));
</script>

<template>
  <section>
    <Dropdown
      label="Pattern of the layer"
      :value="layer.kind"
      :options="PATTERNS"
      @choose="emit('change', { ...USUAL_OF_KIND[$event], kind: $event })"
    />
    <PictureChooser
      v-if="layer.kind === 'picture'"
      :image="images[layer.picture] ?? null"
      @choose="$event && emit('image', $event)"
    />
    <Dropdown
      v-if="layer.kind === 'grunge'"
      label="Kind of grunge"
      :value="layer.grunge"
      :options="GRUNGE"
      @choose="emit('change', { grunge: $event })"
    />
    <Amounts :values="layer" :fields="numbers.amounts" @move="emit('move', $event)" @change="emit('change', $event)" />
    <Amounts
      :values="layer.elements"
      :fields="numbers.variations"
      @move="emit('move', { elements: $event })"
      @change="emit('change', { elements: $event })"
    />
    <NumberField
      v-for="name in numbers.counts"
      :key="name"
      :label="COUNT_LABELS[name]"
      :value="layer[name]"
      v-bind="limitsOf(fieldSettings, `layers.0.${name}`)"
      @change="$event !== null && emit('change', { [name]: $event })"
    />
    <Choice
      v-if="isNoise"
      label="Style"
      :value="layer.style"
      :options="STYLES"
      @choose="emit('change', { style: $event })"
    />
    <Choice
      v-if="layer.kind === 'cells'"
      label="Measure"
      :value="layer.measure"
      :options="MEASURES"
      @choose="emit('change', { measure: $event })"
    />
    <Choice
      v-if="layer.kind === 'gradient'"
      label="Direction"
      :value="layer.way"
      :options="DIRECTIONS"
      @choose="emit('change', { way: $event })"
    />
    <Amount
      :field="WARP_AMOUNT"
      :value="layer.warp.amount"
      @move="emit('move', { warp: { ...layer.warp, amount: $event } })"
      @change="emit('change', { warp: { ...layer.warp, amount: $event } })"
    />
    <Amount
      v-if="layer.warp.amount > 0"
      :field="WARP_SCALE"
      :value="layer.warp.scale"
      @move="emit('move', { warp: { ...layer.warp, scale: $event } })"
      @change="emit('change', { warp: { ...layer.warp, scale: $event } })"
    />
    <Amount
      :field="BLACK_POINT"
      :value="layer.levels[0]"
      @move="emit('move', { levels: [$event, layer.levels[1]] })"
      @change="emit('change', { levels: [$event, layer.levels[1]] })"
    />
    <Amount
      :field="WHITE_POINT"
      :value="layer.levels[1]"
      @move="emit('move', { levels: [layer.levels[0], $event] })"
      @change="emit('change', { levels: [layer.levels[0], $event] })"
    />
    <CheckLine
      label="Threshold"
      :value="layer.threshold !== null"
      @change="emit('change', { threshold: $event ? { at: 0.5, soft: 0.1 } : null })"
    />
    <Amounts
      v-if="layer.threshold"
      :values="layer.threshold"
      :fields="THRESHOLD"
      @move="emit('move', { threshold: $event })"
      @change="emit('change', { threshold: $event })"
    />
    <CheckLine label="Invert" :value="layer.invert" @change="emit('change', { invert: $event })" />
    <template v-if="!isLowest">
      <Dropdown label="Blend mode" :value="layer.blend" :options="BLENDS" @choose="emit('change', { blend: $event })" />
      <Amount
        :field="OPACITY"
        :value="layer.opacity"
        @move="emit('move', { opacity: $event })"
        @change="emit('change', { opacity: $event })"
      />
    </template>
  </section>
</template>
