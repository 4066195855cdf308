<script setup lang="ts">
import type { BakeTicket, LightTicket } from '@zographos/contracts';
import SizeFields from '../../../controls/SizeFields.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** How large the maps of a bake are. */
const props = defineProps<{ ticket: BakeTicket | LightTicket }>();
const { change } = useTicketChange(() => props.ticket);
</script>

<template>
  <div class="editor">
    <h3>Map size</h3>
    <SizeFields :size="ticket.settings.size" @change="change('size', { size: $event })" />
  </div>
</template>
