<script setup lang="ts">
import Listbox from 'primevue/listbox';
import { computed } from 'vue';
import type { BakeTicket, LightTicket } from '@zographos/contracts';
import { useProject } from '../../../stores/project.ts';
import { useTicketChange } from '../../useTicketChange.ts';

/** The UV set of the receiver that the maps lie on. */
const props = defineProps<{ ticket: BakeTicket | LightTicket }>();
const store = useProject();
const { change } = useTicketChange(() => props.ticket);

const options = computed(() =>
  (store.meshById(props.ticket.inputs.receivers[0]!)?.inspection.uvSets ?? []).map((label, value) => ({
    label,
    value,
  })),
);
</script>

<template>
  <div class="editor">
    <h3>UV set of the receiver</h3>
    <Listbox
      :model-value="ticket.settings.uvSet"
      :options="options"
      option-label="label"
      option-value="value"
      aria-label="UV set"
      @update:model-value="$event !== null && change('UV set', { uvSet: $event })"
    />
  </div>
</template>
