<script setup lang="ts">
import { ref, watch } from 'vue';
import { ENDPOINTS, type MeshAsset, type MeshRevision } from '@zographos/contracts';
import { call } from '../../../api/call.ts';
import { clockOf, dayOf } from '../../../controls/format.ts';
import { useMeshEdits } from '../../../stores/meshEdits.ts';
import { useNotices } from '../../../stores/notices.ts';

/** All states a mesh has been in; any of them can be gone back to. */
const props = defineProps<{ mesh: MeshAsset }>();
const notices = useNotices();
const meshEdits = useMeshEdits();
const revisions = ref<MeshRevision[]>([]);

watch(
  () => props.mesh.contentHash,
  async () => {
    revisions.value = (await notices.guard(() => call(ENDPOINTS.readRevisions, { id: props.mesh.id }))) ?? [];
  },
  { immediate: true },
);
</script>

<template>
  <section>
    <h3>Revisions of {{ mesh.name }}</h3>
    <ol>
      <li v-for="revision in revisions" :key="revision.number">
        <time class="figure soft">{{ dayOf(revision.createdAt) }}, {{ clockOf(revision.createdAt) }}</time>
        <p>{{ revision.made }}</p>
        <span v-if="revision.contentHash === mesh.contentHash" class="soft">Current</span>
        <button v-else type="button" class="plain-button" @click="meshEdits.goBack(mesh, revision.contentHash)">
          Restore
        </button>
      </li>
    </ol>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  width: 420px;
}

ol {
  display: grid;
  gap: 8px;
  overflow: auto;
  max-height: 360px;
}

li {
  padding-left: 8px;
  border-left: 3px solid var(--line);
}

.plain-button {
  padding-left: 0;
}
</style>
