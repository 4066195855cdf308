<script setup lang="ts">
import Message from 'primevue/message';
import { computed } from 'vue';
import type { Storage } from '@zographos/contracts';
import { bytes } from '../../controls/format.ts';

const props = defineProps<{ storage: Storage }>();

const LABELS = {
  meshes: 'Meshes',
  pictures: 'Pictures',
  maps: 'Maps',
  deliveries: 'Deliveries',
  finishes: 'Finishes',
  coatings: 'Coatings',
  strokes: 'Painting',
} as const;

const total = computed(() => {
  const { totalBytes, disk } = props.storage;
  const free = disk ? `, ${bytes(disk.freeBytes)} free on the disk of the database` : '';
  return `${bytes(totalBytes)} used${free}.`;
});

/** By what it is, largest first; what several projects share is counted for each. */
const rows = computed(() => {
  const sums = new Map<string, number>();
  for (const { what, bytes: size } of props.storage.uses) sums.set(LABELS[what], (sums.get(LABELS[what]) ?? 0) + size);
  if (props.storage.unusedBytes > 0) sums.set('No longer used, freed soon', props.storage.unusedBytes);
  const largest = Math.max(...sums.values());
  return [...sums]
    .sort((a, b) => b[1] - a[1])
    .map(([label, size]) => ({ label, size: bytes(size), share: `${(100 * size) / largest}%` }));
});
</script>

<template>
  <section class="panel storage" aria-labelledby="storage-title">
    <h2 id="storage-title">Storage</h2>
    <Message v-if="storage.disk?.isScarce" severity="warn" :closable="false">
      Only {{ bytes(storage.disk.freeBytes) }} are left on the disk of the database. Delete projects or deliveries that
      are no longer needed.
    </Message>
    <p class="soft">{{ total }}</p>
    <ul>
      <li v-for="row in rows" :key="row.label">
        <span>{{ row.label }}</span>
        <span class="bar"><span :style="{ width: row.share }" /></span>
        <span class="size">{{ row.size }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin-top: 8px;
}

li {
  display: grid;
  grid-template-columns: 200px minmax(0, 1fr) 80px;
  gap: 12px;
  align-items: center;
  padding: 4px 0;
}

.bar {
  height: 8px;
  background: color-mix(in oklch, var(--line), transparent 60%);
}

.bar span {
  display: block;
  height: 100%;
  background: var(--azurite);
}

.size {
  font-variant-numeric: tabular-nums;
  text-align: right;
}
</style>
