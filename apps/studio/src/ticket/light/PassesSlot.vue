<script setup lang="ts">
import type { LightTicket } from '@zographos/contracts';
import { LIGHT_PASSES, optionsOf, PASS_LABELS, type LightPass } from '@zographos/operations';
import OptionList from '../OptionList.vue';
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
    <OptionList label="Passes" :values="ticket.settings.passes" :options="OPTIONS" :height="360" @choose="setPasses" />
  </div>
</template>
