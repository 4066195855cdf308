<script setup lang="ts">
import type { LightTicket } from '@zographos/contracts';
import { lightSettings } from '@zographos/operations';
import Amount from '../../controls/Amount.vue';
import { amountField } from '../../controls/amountField.ts';
import { useTicketChange } from '../useTicketChange.ts';

/** How much noise is taken out over the surface. */
const props = defineProps<{ ticket: LightTicket }>();
const { change } = useTicketChange(() => props.ticket);
const FIELD = amountField(lightSettings, 'denoise', 'Strength', { percent: true });
</script>

<template>
  <div class="editor">
    <h3>Denoise</h3>
    <Amount :field="FIELD" :value="ticket.settings.denoise" @change="change('denoising', { denoise: $event })" />
    <p class="soft">
      Texels take from those about them that lie on the same island, face the same way and have the same colour. The
      pass “Before denoising” shows what was there before.
    </p>
  </div>
</template>
