<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import { CURVATURE_LABELS, optionsOf, type BakeOperationSettings } from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import LengthField from '../../../controls/LengthField.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** What a curvature map shows, and how smooth it is. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change, unit } = useTicketChange(() => props.ticket);
const OPTIONS = optionsOf(CURVATURE_LABELS);

const set = (part: Partial<BakeOperationSettings['curvature']>): void =>
  change('curvature', { curvature: { ...props.ticket.settings.curvature, ...part } });
</script>

<template>
  <div class="editor">
    <h3>Curvature</h3>
    <Choice
      label="Curvature shown"
      :value="ticket.settings.curvature.show"
      :options="OPTIONS"
      @choose="set({ show: $event })"
    />
    <LengthField
      label="Radius"
      may-be-zero
      auto="Automatic"
      :value="ticket.settings.curvature.radius"
      :unit="unit"
      @change="set({ radius: $event })"
    />
  </div>
</template>
