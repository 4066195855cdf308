<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import Choice from '../../../controls/Choice.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** How many samples each texel has, and at how many times the size is baked. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);

const SAMPLES = [1, 2, 3, 4, 6, 8].map((value) => ({ value, label: `${value} × ${value}` }));
const SUPERSAMPLINGS = [
  { value: 1, label: 'Off' },
  { value: 2, label: '2 ×' },
  { value: 4, label: '4 ×' },
] as const;
</script>

<template>
  <div class="editor">
    <h3>Samples per texel, n × n</h3>
    <Choice
      label="Samples per texel"
      :value="ticket.settings.samples"
      :options="SAMPLES"
      @choose="change('samples', { samples: $event })"
    />
    <h3>Supersampling</h3>
    <Choice
      label="Supersampling"
      :value="ticket.settings.oversize"
      :options="SUPERSAMPLINGS"
      @choose="change('supersampling', { oversize: $event })"
    />
    <p class="soft">
      4 × 4 samples give clean edges; 1 × 1 is a quick look. Supersampling bakes at 2 or 4 times the size and scales
      down.
    </p>
  </div>
</template>
