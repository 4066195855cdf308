<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import { bakeSettings } from '@zographos/operations';
import { limitsOf } from '../../../controls/limits.ts';
import NumberField from '../../../controls/NumberField.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** How much larger the sources are taken than they are. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
const SCALE = limitsOf(bakeSettings, 'sourceScale');
</script>

<template>
  <div class="editor">
    <h3>Scale of the sources</h3>
    <NumberField
      label="Scale factor, ×"
      :value="ticket.settings.sourceScale"
      v-bind="SCALE"
      :digits="6"
      @change="$event && change('scale of the sources', { sourceScale: $event })"
    />
    <p class="soft">For sources that come in another unit than the receivers.</p>
  </div>
</template>
