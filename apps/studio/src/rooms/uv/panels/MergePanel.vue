<script setup lang="ts">
import Column from 'primevue/column';
import DataTable from 'primevue/datatable';
import { computed } from 'vue';
import { reportOf, type MeshAsset, type Run } from '@zographos/contracts';
import type { DrawCost } from '@zographos/operations';
import { bytes, whole } from '../../../controls/format.ts';

/** What merging saves: as counted by the last merge, or as the meshes are told now. */
const props = defineProps<{
  meshes: readonly MeshAsset[];
  last: Run | null;
  projectId: string;
  ticketId: string | null;
}>();

const report = computed(() => reportOf(props.last, 'merge'));

const LINES: { title: string; figure: keyof DrawCost; show: (value: number) => string }[] = [
  { title: 'Draw calls', figure: 'drawCalls', show: whole },
  { title: 'Objects', figure: 'objects', show: whole },
  { title: 'Materials', figure: 'materials', show: whole },
  { title: 'Images', figure: 'images', show: whole },
  { title: 'Texture memory', figure: 'textureBytes', show: bytes },
];
/** Of so many materials the first are listed. */
const LISTED = 40;
const slots = computed(() =>
  props.meshes.flatMap(({ name, inspection }) => inspection.slots.map((slot) => ({ mesh: name, slot }))),
);
</script>

<template>
  <section class="panel">
    <h2>{{ report ? `Before and after merging “${last?.title}”` : 'To be merged' }}</h2>
    <DataTable v-if="report" :value="LINES" size="small" aria-label="Before and after merging">
      <Column field="title" header="Figure" />
      <Column header="Before" class="number">
        <template #body="{ data }">{{ data.show(report.before[data.figure as keyof DrawCost]) }}</template>
      </Column>
      <Column header="After" class="number">
        <template #body="{ data }">
          <strong>{{ data.show(report.after[data.figure as keyof DrawCost]) }}</strong>
        </template>
      </Column>
    </DataTable>
    <p v-else>{{ whole(slots.length) }} draw calls now, one for each material of each mesh.</p>
    <RouterLink v-if="ticketId" :to="{ name: 'bake', params: { projectId, ticketId } }">Open ticket</RouterLink>
  </section>
  <section class="panel">
    <h2>Materials</h2>
    <ul>
      <li v-for="{ mesh, slot } in slots.slice(0, LISTED)" :key="`${mesh} ${slot}`">
        {{ slot }} <span class="soft">{{ mesh }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  display: flex;
  gap: 12px;
  justify-content: space-between;
}
</style>
