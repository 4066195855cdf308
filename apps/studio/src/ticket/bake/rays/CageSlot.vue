<script setup lang="ts">
import Listbox from 'primevue/listbox';
import { computed } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import { useProject } from '../../../stores/project.ts';
import { useTicketChange } from '../../useTicketChange.ts';

/** From where rays start: from the outer reach, or from a cage. */
const props = defineProps<{ ticket: BakeTicket }>();
const store = useProject();
const { setInput } = useTicketChange(() => props.ticket);

const cages = computed(() => {
  const { receivers } = props.ticket.inputs;
  const triangles = store.meshById(receivers[0]!)?.inspection.triangles;
  const fitting = store.meshes.filter(
    (mesh) => receivers.length === 1 && mesh.id !== receivers[0] && mesh.inspection.triangles === triangles,
  );
  return [
    { id: '', label: 'The outer reach' },
    ...fitting.map((mesh) => ({ id: mesh.id, label: `Cage ${mesh.name}` })),
  ];
});
</script>

<template>
  <div class="editor">
    <h3>Ray start (cage)</h3>
    <Listbox
      :model-value="ticket.inputs.cage ?? ''"
      :options="cages"
      option-label="label"
      option-value="id"
      aria-label="Cage"
      @update:model-value="$event !== null && setInput('cage', $event || undefined)"
    />
    <p class="soft">
      A cage is a copy of the receiver whose vertices were moved outwards. Meshes with as many triangles as the receiver
      are listed.
    </p>
  </div>
</template>
