<script setup lang="ts">
import Button from 'primevue/button';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { parseSettings } from '@zographos/operations';
import Dropdown from '../../controls/Dropdown.vue';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import TicketList from '../../ticket/TicketList.vue';

/** All light tickets of the project, and the way to a new one. */
const props = defineProps<{ projectId: string }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();
const isMaking = ref(false);
const tickets = computed(() => store.lightTickets);
const meshes = computed(() => store.meshes.filter(({ inspection }) => inspection.uvSets.length > 0));
/** Meshes that carry maps come first. */
const carriers = computed(() => {
  const ids = new Set(store.bakes.flatMap(({ inputs }) => inputs.receivers));
  return [...meshes.value.filter(({ id }) => ids.has(id)), ...meshes.value.filter(({ id }) => !ids.has(id))];
});
const wanted = ref<string | null>(null);
const receiver = computed(() => carriers.value.find(({ id }) => id === wanted.value) ?? carriers.value[0]);
const options = computed(() => carriers.value.map(({ id, name }) => ({ value: id, label: name })));

async function write(): Promise<void> {
  const { id, name } = receiver.value!;
  const settings = parseSettings('light', {
    size: { width: 1024, height: 1024 },
    passes: ['combined', 'direct', 'indirect', 'reflection', 'shadow', 'noise', 'groups'],
    samples: 64,
    materials: 'maps',
    environment: { kind: 'overcast' },
    tiles: 'all',
  });
  isMaking.value = true;
  await notices.guard(async () => {
    const made = await store.createTicket({
      ...{ name: `${name} light`, operation: 'light', settings, set: { name: `${name}, lit` } },
      inputs: { receivers: [id], sources: [] },
    });
    await router.push({ name: 'light', params: { projectId: props.projectId, ticketId: made.id } });
  });
  isMaking.value = false;
}
</script>

<template>
  <main class="ticket-list">
    <TicketList v-if="tickets.length" title="Light tickets" :tickets="tickets" />
    <section class="panel">
      <h2>New light ticket</h2>
      <template v-if="receiver">
        <p>
          It bakes the light that a mesh sends into maps on its UVs, whole or in passes, in an image set of its own.
        </p>
        <div class="new">
          <Dropdown label="Receiver" :value="receiver.id" :options="options" @choose="wanted = $event" />
          <Button label="New ticket" :loading="isMaking" @click="write" />
        </div>
      </template>
      <template v-else>
        <p>Light is baked onto a mesh with UVs. Import one first.</p>
        <RouterLink :to="{ name: 'intake', params: { projectId } }">Open Intake</RouterLink>
      </template>
    </section>
  </main>
</template>

<style scoped>
.new {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>
