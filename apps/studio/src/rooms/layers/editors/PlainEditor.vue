<script setup lang="ts">
import { computed } from 'vue';
import { describeKind } from '@zographos/core/image';
import { isColorChannel, LAYER_CHANNELS, type PlainContent } from '@zographos/core/layers';
import Amount from '../../../controls/Amount.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import ColorField from '../../../controls/ColorField.vue';
import { valueField } from './layerFields.ts';

/** One value for each channel that is written. */
type Values = PlainContent['values'];
const props = defineProps<{ values: Values }>();
const emit = defineEmits<{ move: [Values]; change: [Values] }>();

const CHANNELS = LAYER_CHANNELS.filter((channel) => channel !== 'normal');
type PlainChannel = (typeof CHANNELS)[number];
const USUAL: Record<PlainChannel, number | string> = {
  basecolor: '#8c8d8a',
  roughness: 0.5,
  metallic: 0,
  height: 0,
  opacity: 1,
  emission: '#ffffff',
  maskred: 1,
  maskgreen: 1,
  maskblue: 1,
  maskalpha: 1,
};
const rows = computed(() =>
  CHANNELS.map((channel) => ({ channel, value: props.values[channel], field: valueField(channel) })),
);
const withValue = (channel: PlainChannel, value: number | string): Values => ({ ...props.values, [channel]: value });

function toggle(channel: PlainChannel, on: boolean): void {
  const { [channel]: gone, ...rest } = props.values;
  emit('change', on ? { ...rest, [channel]: gone ?? USUAL[channel] } : rest);
}
</script>

<template>
  <div v-for="{ channel, value, field } in rows" :key="channel" class="row">
    <CheckLine :label="describeKind(channel).label" :value="value !== undefined" @change="toggle(channel, $event)" />
    <ColorField
      v-if="value !== undefined && isColorChannel(channel)"
      :label="describeKind(channel).label"
      :value="String(value)"
      @move="emit('move', withValue(channel, $event))"
      @change="emit('change', withValue(channel, $event))"
    />
    <Amount
      v-else-if="value !== undefined && field"
      :field="field"
      :value="Number(value)"
      @move="emit('move', withValue(channel, $event))"
      @change="emit('change', withValue(channel, $event))"
    />
  </div>
</template>

<style scoped>
.row {
  display: grid;
  gap: 2px;
}
</style>
