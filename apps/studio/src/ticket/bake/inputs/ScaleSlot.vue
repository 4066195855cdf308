<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import NumberField from '../../../controls/NumberField.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** How much larger the sources are taken than they are. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
</script>

<template>
  <div class="editor">
    <h3>Scale of the sources</h3>
    <NumberField
      label="Scale factor, ×"
      :value="ticket.settings.sourceScale"
      :min="0"
      :digits="6"
      @change="$event && change('scale of the sources', { sourceScale: $event })"
    />
    <p class="soft">For sources that come in another unit than the receivers.</p>
  </div>
</template>
