<script setup lang="ts">
import type { BakeTicket, LightTicket } from '@zographos/contracts';
import { bakeSettings } from '@zographos/operations';
import BackgroundField from '../../../controls/BackgroundField.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import { limitsOf } from '../../../controls/limits.ts';
import PaddingField from '../../PaddingField.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** How far texels beyond the islands are filled, what lies beyond that, and whether seams are mended. */
const props = defineProps<{ ticket: BakeTicket | LightTicket }>();
const { change } = useTicketChange(() => props.ticket);
const PADDING = limitsOf(bakeSettings, 'padding');
</script>

<template>
  <div class="editor">
    <h3>Padding beyond the islands</h3>
    <PaddingField
      v-bind="PADDING"
      :padding="ticket.settings.padding"
      @change="change('padding', { padding: $event })"
    />
    <label class="background">
      Background beyond it
      <BackgroundField
        label="Background"
        :value="ticket.settings.background ?? null"
        @change="change('background', { background: $event })"
      />
    </label>
    <CheckLine
      v-if="'mend' in ticket.settings"
      label="Mend seams: both sides match under texture filtering"
      :value="ticket.settings.mend"
      @change="change('seams', { mend: $event })"
    />
    <p class="soft">Texels beyond an island repeat its nearest one, so that no background bleeds in along seams.</p>
  </div>
</template>

<style scoped>
.background {
  display: flex;
  gap: 14px;
  align-items: center;
}
</style>
