<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import { ID_LABELS, optionsOf } from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** What the colours of an ID map stand for. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
const OPTIONS = optionsOf(ID_LABELS);
</script>

<template>
  <div class="editor">
    <h3>ID colours by</h3>
    <Choice
      label="ID colours by"
      :value="ticket.settings.id"
      :options="OPTIONS"
      @choose="change('ID colours', { id: $event })"
    />
  </div>
</template>
