<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import { computed } from 'vue';
import {
  AXIS_ORDERS,
  GLTF_NORMAL,
  HEIGHT_UNITS,
  isDirection,
  type DirectionConvention,
  type HeightConvention,
  type MapConvention,
  type MapKind,
} from '@zographos/core/image';
import { heightConvention } from '@zographos/formats/meaning';
import { HEIGHT_UNIT_LABELS, optionsOf } from '@zographos/operations';
import Dropdown from '../../controls/Dropdown.vue';
import { limitsOf } from '../../controls/limits.ts';
import PropertySelect from './PropertySelect.vue';

/** How the directions or heights of an image are written, to be corrected. */
const props = defineProps<{ kind: MapKind; convention: MapConvention | null }>();
const emit = defineEmits<{ change: [what: string, convention: MapConvention] }>();

const SPACES = [
  { value: 'tangent', label: 'Tangent space' },
  { value: 'object', label: 'Object space' },
] as const;
const UPS = [
  { value: 'up', label: 'Y up (+Y)' },
  { value: 'down', label: 'Y down (−Y)' },
] as const;
const AXES = AXIS_ORDERS.map((value) => ({ value, label: value.toUpperCase() }));
const UNITS = optionsOf(HEIGHT_UNIT_LABELS, HEIGHT_UNITS);

const directions = computed((): DirectionConvention | null => {
  if (!isDirection(props.kind)) return null;
  return props.convention?.of === 'direction' ? props.convention : { of: 'direction', ...GLTF_NORMAL };
});
const heights = computed((): HeightConvention | null => {
  if (props.kind !== 'height' && props.kind !== 'displacement') return null;
  return props.convention?.of === 'height' ? props.convention : { of: 'height', unit: 'tile', mid: 0, span: 0.02 };
});

const direct = (what: string, change: Partial<DirectionConvention>): void =>
  emit('change', what, { ...directions.value!, ...change });
const raise = (what: string, change: Partial<HeightConvention>): void =>
  emit('change', what, { ...heights.value!, ...change });
</script>

<template>
  <template v-if="directions">
    <PropertySelect
      label="Space"
      :value="directions.space"
      :options="SPACES"
      @change="direct('space', { space: $event })"
    />
    <PropertySelect
      v-if="directions.space === 'tangent'"
      label="Green channel"
      :value="directions.y"
      :options="UPS"
      @change="direct('green channel', { y: $event })"
    />
    <PropertySelect
      label="Axes in R, G, B"
      :value="directions.axes"
      :options="AXES"
      @change="direct('order of axes', { axes: $event })"
    />
  </template>
  <template v-else-if="heights">
    <dt><label for="height-span">Height, black to white</label></dt>
    <dd class="pair">
      <InputNumber
        input-id="height-span"
        size="small"
        :model-value="heights.span"
        v-bind="limitsOf(heightConvention, 'span')"
        :max-fraction-digits="6"
        @update:model-value="$event && raise('height range', { span: $event })"
      />
      <Dropdown
        label="Unit of heights"
        :value="heights.unit"
        :options="UNITS"
        @choose="raise('unit of heights', { unit: $event })"
      />
    </dd>
    <dt><label for="height-mid">Value at the surface, 0–1</label></dt>
    <dd>
      <InputNumber
        input-id="height-mid"
        size="small"
        :model-value="heights.mid"
        :min="0"
        :max="1"
        :max-fraction-digits="3"
        @update:model-value="$event !== null && raise('value at the surface', { mid: $event })"
      />
    </dd>
  </template>
</template>

<style scoped>
.pair {
  display: flex;
  gap: 8px;
}

.pair :deep(input) {
  width: 90px;
}
</style>
