<script setup lang="ts">
import { computed } from 'vue';
import { SUN_SEASONS, USUAL_SUN, type SunPath } from '@zographos/core/bake';
import type { BakeTicket } from '@zographos/contracts';
import Choice from '../../../controls/Choice.vue';
import NumberField from '../../../controls/NumberField.vue';
import { useTicketChange } from '../../useTicketChange.ts';
import { AXIS_OPTIONS, axisOf, axisValue } from './axisOptions.ts';

/** The way of the sun that a sun map follows. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
const sun = computed((): SunPath => props.ticket.settings.sun ?? USUAL_SUN);
const SEASONS = SUN_SEASONS.map((value) => ({
  value,
  label: { year: 'Year', summer: 'Summer', winter: 'Winter' }[value],
}));

function set(part: Partial<SunPath>): void {
  const { up, north, ...rest } = { ...sun.value, ...part };
  change('sun', { sun: { ...rest, up: [up[0], up[1], up[2]], north: [north[0], north[1], north[2]] } });
}
</script>

<template>
  <div class="editor">
    <h3>Sun exposure</h3>
    <Choice label="Season" :value="sun.season" :options="SEASONS" @choose="set({ season: $event })" />
    <NumberField
      label="Latitude, south below 0"
      suffix="°"
      :value="sun.latitude"
      :min="-90"
      :max="90"
      @change="set({ latitude: $event ?? USUAL_SUN.latitude })"
    />
    <Choice label="Up" :value="axisValue(sun.up)" :options="AXIS_OPTIONS" @choose="set({ up: axisOf($event) })" />
    <Choice
      label="North"
      :value="axisValue(sun.north)"
      :options="AXIS_OPTIONS"
      @choose="set({ north: axisOf($event) })"
    />
  </div>
</template>
