<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import Choice from '../../../controls/Choice.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** Along which axis a position gradient grows. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);

const DIRECTIONS = ['X', 'Y', 'Z'].flatMap((axis, along) =>
  [1, -1].map((sign) => ({
    value: [0, 1, 2].map((k) => (k === along ? sign : 0)).join(),
    label: `${sign > 0 ? '+' : '−'} ${axis}`,
  })),
);
</script>

<template>
  <div class="editor">
    <h3>Direction of the position gradient</h3>
    <Choice
      label="Direction"
      :value="ticket.settings.gradient.join()"
      :options="DIRECTIONS"
      @choose="change('gradient', { gradient: $event.split(',').map(Number) as [number, number, number] })"
    />
  </div>
</template>
