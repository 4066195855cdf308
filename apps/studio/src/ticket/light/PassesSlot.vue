<script setup lang="ts">
import Listbox from 'primevue/listbox';
import type { LightTicket } from '@zographos/contracts';
import { LIGHT_PASSES, optionsOf, PASS_LABELS, type LightPass } from '@zographos/operations';
import OptionLine from '../../controls/OptionLine.vue';
import { useTicketChange } from '../useTicketChange.ts';

/** Which passes a bake of light makes; all are counted in one run. */
const props = defineProps<{ ticket: LightTicket }>();
const { change } = useTicketChange(() => props.ticket);
const OPTIONS = optionsOf(PASS_LABELS, LIGHT_PASSES).map(({ hint = '', ...option }) => ({ ...option, note: hint }));

/** Passes stay in their usual order, and one always stays. */
function setPasses(chosen: LightPass[]): void {
  if (chosen.length > 0) change('passes', { passes: LIGHT_PASSES.filter((pass) => chosen.includes(pass)) });
}
</script>

<template>
  <div class="editor">
    <h3>Passes</h3>
    <Listbox
      multiple
      :model-value="ticket.settings.passes"
      :options="OPTIONS"
      option-label="label"
      option-value="value"
      aria-label="Passes"
      scroll-height="360px"
      @update:model-value="setPasses($event)"
    >
      <template #option="{ option, selected }"><OptionLine :option="option" :ticked="selected" /></template>
    </Listbox>
  </div>
</template>
