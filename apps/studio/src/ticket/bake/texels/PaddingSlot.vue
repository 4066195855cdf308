<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import type { BakeTicket } from '@zographos/contracts';
import { bakeSettings } from '@zographos/operations';
import CheckLine from '../../../controls/CheckLine.vue';
import { limitsOf } from '../../../controls/limits.ts';
import { useTicketChange } from '../../useTicketChange.ts';

/** How far texels beyond the islands are filled, and whether seams are mended. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
const PADDING = limitsOf(bakeSettings, 'padding');
</script>

<template>
  <div class="editor">
    <h3>Padding beyond the islands</h3>
    <div class="pair">
      <InputNumber
        :model-value="ticket.settings.padding === 'all' ? null : ticket.settings.padding"
        v-bind="PADDING"
        suffix=" px"
        size="small"
        aria-label="Padding, px"
        placeholder="Whole map"
        @update:model-value="$event !== null && change('padding', { padding: $event })"
      />
      <button
        type="button"
        class="plain-button"
        @click="change('padding', { padding: ticket.settings.padding === 'all' ? 16 : 'all' })"
      >
        {{ ticket.settings.padding === 'all' ? 'Pad 16 px only' : 'Fill the whole map' }}
      </button>
    </div>
    <CheckLine
      label="Mend seams: both sides match under texture filtering"
      :value="ticket.settings.mend"
      @change="change('seams', { mend: $event })"
    />
    <p class="soft">Texels beyond an island repeat its nearest one, so that no background bleeds in along seams.</p>
  </div>
</template>

<style scoped>
.pair {
  display: flex;
  gap: 14px;
  align-items: center;
}

.pair :deep(input) {
  width: 104px;
}
</style>
