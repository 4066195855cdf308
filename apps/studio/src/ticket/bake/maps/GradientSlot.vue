<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import Choice from '../../../controls/Choice.vue';
import { useTicketChange } from '../../useTicketChange.ts';
import { AXIS_OPTIONS, axisOf, axisValue } from './axisOptions.ts';

/** Along which axis a position gradient grows. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
</script>

<template>
  <div class="editor">
    <h3>Direction of the position gradient</h3>
    <Choice
      label="Direction"
      :value="axisValue(ticket.settings.gradient)"
      :options="AXIS_OPTIONS"
      @choose="change('gradient', { gradient: axisOf($event) })"
    />
  </div>
</template>
