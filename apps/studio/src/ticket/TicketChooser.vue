<script setup lang="ts">
import Button from 'primevue/button';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { ENDPOINTS } from '@zographos/contracts';
import { DEFAULT_BAKE, proposeInputs } from '@zographos/operations';
import { call } from '../api/call.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import TicketList from './TicketList.vue';

/** All tickets of the project, and the way to a new one. */
const props = defineProps<{ projectId: string }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();
const tickets = computed(() => store.bakes);

/** What a new ticket begins with: meshes that belong together by name or place. */
const proposal = computed(() => {
  const taken = new Set(tickets.value.flatMap(({ inputs }) => [...inputs.receivers, ...inputs.sources]));
  const facts = store.meshes.map(({ id, name, inspection: { triangles, uvSets, bounds } }) => ({
    ...{ id, name, triangles, bounds },
    uvSets: uvSets.length,
  }));
  return proposeInputs(facts, (id) => taken.has(id));
});
const names = computed(() => ({
  receivers: namesOf(proposal.value?.receivers ?? []),
  sources: namesOf(proposal.value?.sources ?? []),
}));
const isMaking = ref(false);

/** The first of some meshes, and how many more there are. */
function namesOf(ids: readonly string[]): string {
  const [first] = store.meshesByIds(ids);
  return first ? `${first.name}${ids.length > 1 ? ` and ${ids.length - 1} more` : ''}` : '';
}

/** The UV set of the newest layout of a mesh; the first where it has none. */
function newestUvSet(id: string): number {
  for (const run of store.project?.runs ?? []) {
    if (run.operation === 'layout' && run.state === 'done' && run.meshes.includes(id)) return run.report?.uvSet ?? 0;
  }
  return 0;
}

async function write(): Promise<void> {
  if (!proposal.value) return;
  const { receivers, sources, match } = proposal.value;
  const settings = { ...DEFAULT_BAKE, match, reach: 'fitted' as const, uvSet: newestUvSet(receivers[0]!) };
  isMaking.value = true;
  await notices.guard(async () => {
    const inputs = { receivers, sources };
    const made = await store.createTicket({
      name: `${names.value.receivers} normal`,
      operation: 'bake',
      settings,
      inputs,
    });
    if (sources.length > 0) {
      // Fitted, unless one reach for all was measured to serve better; what cannot be measured is told by the ticket itself.
      const measured = await call(ENDPOINTS.suggestReach, { id: made.id }).catch(() => null);
      if (measured?.better === 'auto')
        await store.changeTicket(made.id, 'reach', { settings: { ...settings, reach: 'auto' } });
    }
    await router.push({ name: 'bake', params: { projectId: props.projectId, ticketId: made.id } });
  });
  isMaking.value = false;
}
</script>

<template>
  <main class="ticket-list">
    <TicketList v-if="tickets.length" title="Tickets" :tickets="tickets" />
    <section class="panel">
      <h2>New ticket</h2>
      <template v-if="proposal">
        <p>
          A ticket says what to bake. It starts with <strong>{{ names.receivers }}</strong> as receiver<template
            v-if="proposal.sources.length"
          >
            and <strong>{{ names.sources }}</strong> as source{{
              proposal.match === 'all' ? '' : ', matched by name'
            }}</template
          >; every part of it can be changed.
        </p>
        <Button label="New ticket" :loading="isMaking" @click="write" />
      </template>
      <template v-else>
        <p>Baking needs a mesh with UVs as receiver. Import one first.</p>
        <RouterLink :to="{ name: 'intake', params: { projectId } }">Open Intake</RouterLink>
      </template>
    </section>
  </main>
</template>
