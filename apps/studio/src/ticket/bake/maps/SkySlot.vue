<script setup lang="ts">
import { computed } from 'vue';
import { OPEN_SKY } from '@zographos/core/bake';
import type { BakeTicket } from '@zographos/contracts';
import Choice from '../../../controls/Choice.vue';
import NumberField from '../../../controls/NumberField.vue';
import { useTicketChange } from '../../useTicketChange.ts';
import { AXIS_OPTIONS, axisOf, axisValue } from './axisOptions.ts';

/** Which part of the sky a sky map counts. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
const sky = computed(() => props.ticket.settings.sky ?? { up: [...OPEN_SKY.up], angle: OPEN_SKY.angle });

const set = (part: Partial<{ up: [number, number, number]; angle: number }>): void => {
  const [x, y, z] = sky.value.up as [number, number, number];
  change('sky', { sky: { up: [x, y, z], angle: sky.value.angle, ...part } });
};
</script>

<template>
  <div class="editor">
    <h3>Sky visibility</h3>
    <Choice label="Up" :value="axisValue(sky.up)" :options="AXIS_OPTIONS" @choose="set({ up: axisOf($event) })" />
    <NumberField
      label="Half angle of the cone"
      suffix="°"
      :value="sky.angle"
      :min="1"
      :max="90"
      @change="set({ angle: $event ?? OPEN_SKY.angle })"
    />
  </div>
</template>
