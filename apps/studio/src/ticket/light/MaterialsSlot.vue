<script setup lang="ts">
import { computed } from 'vue';
import type { LightTicket } from '@zographos/contracts';
import { describeKind } from '@zographos/core/image';
import { LIT_MATERIAL_LABELS, optionsOf } from '@zographos/operations';
import Choice from '../../controls/Choice.vue';
import { useProject } from '../../stores/project.ts';
import { useTicketChange } from '../useTicketChange.ts';

/** What meshes are made of: their own materials, or the maps of their image sets. */
const props = defineProps<{ ticket: LightTicket }>();
const store = useProject();
const { change } = useTicketChange(() => props.ticket);
const OPTIONS = optionsOf(LIT_MATERIAL_LABELS);

/** What each mesh wears, by its name. */
const worn = computed(() => {
  const { receivers, sources } = props.ticket.inputs;
  return [...receivers, ...sources].map((id, mesh) => {
    const kinds = props.ticket.settings.worn.filter((map) => map.mesh === mesh).map(({ kind }) => kind);
    const words = [...new Set(kinds)].map((kind) => describeKind(kind).phrase).join(', ');
    return { name: store.meshById(id)?.name ?? 'deleted mesh', words: words || 'its own materials' };
  });
});
</script>

<template>
  <div class="editor">
    <h3>Made of</h3>
    <Choice
      label="Made of"
      :value="ticket.settings.materials"
      :options="OPTIONS"
      @choose="change('materials', { materials: $event })"
    />
    <ul v-if="ticket.settings.materials === 'maps'">
      <li v-for="{ name, words } in worn" :key="name">
        <b>{{ name }}</b> <span class="soft">{{ words }}</span>
      </li>
    </ul>
  </div>
</template>
