<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import { BACK_FACE_LABELS, optionsOf } from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** What becomes of rays that meet the source from behind. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
const OPTIONS = optionsOf(BACK_FACE_LABELS);
</script>

<template>
  <div class="editor">
    <h3>Back faces of the source</h3>
    <Choice
      label="Back faces"
      :value="ticket.settings.backFaces"
      :options="OPTIONS"
      @choose="change('back faces', { backFaces: $event })"
    />
  </div>
</template>
