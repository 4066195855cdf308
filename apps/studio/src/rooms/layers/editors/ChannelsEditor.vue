<script setup lang="ts">
import { describeKind } from '@zographos/core/image';
import { LAYER_CHANNELS, type LayerChannel } from '@zographos/core/layers';
import CheckLine from '../../../controls/CheckLine.vue';

/** The channels that a layer writes; at least one. */
const props = defineProps<{ channels: readonly LayerChannel[] }>();
const emit = defineEmits<{ change: [LayerChannel[]] }>();

function toggle(channel: LayerChannel, on: boolean): void {
  const next = LAYER_CHANNELS.filter((each) => (each === channel ? on : props.channels.includes(each)));
  if (next.length > 0) emit('change', next);
}
</script>

<template>
  <CheckLine
    v-for="channel in LAYER_CHANNELS"
    :key="channel"
    :label="describeKind(channel).label"
    :value="channels.includes(channel)"
    :disabled="channels.length === 1 && channels[0] === channel"
    @change="toggle(channel, $event)"
  />
</template>
