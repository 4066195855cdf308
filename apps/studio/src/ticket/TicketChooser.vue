<script setup lang="ts">
import Button from 'primevue/button';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { DEFAULT_BAKE } from '@zographos/operations';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';

/** All tickets of the project, and the way to a new one. */
const props = defineProps<{ projectId: string }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();
const tickets = computed(() => store.bakes);

/** A first guess at who carries and who gives: the lightest mesh with UVs, and the heaviest other one. */
const guess = computed(() => {
  const byWeight = [...store.meshes].sort((a, b) => a.inspection.triangles - b.inspection.triangles);
  const carries = byWeight.find((mesh) => mesh.inspection.uvSets.length > 0);
  const gives = byWeight.toReversed().find((mesh) => mesh.id !== carries?.id);
  return { carries, gives };
});

async function write(): Promise<void> {
  const { carries, gives } = guess.value;
  if (!carries) return;
  const made = await notices.guard(() =>
    store.createTicket({
      name: `${carries.name} normal`,
      operation: 'bake',
      settings: DEFAULT_BAKE,
      inputs: { receivers: [carries.id], sources: gives ? [gives.id] : [] },
    }),
  );
  if (made) await router.push({ name: 'bake', params: { projectId: props.projectId, ticketId: made.id } });
}
</script>

<template>
  <main class="choose">
    <section v-if="tickets.length" class="panel">
      <h2>Tickets</h2>
      <ul>
        <li v-for="each in tickets" :key="each.id">
          <RouterLink :to="{ name: 'bake', params: { projectId, ticketId: each.id } }">{{ each.name }}</RouterLink>
          <p class="soft">
            {{
              store
                .sentenceOf(each)
                .map((part) => part.text)
                .join('')
            }}
          </p>
        </li>
      </ul>
    </section>
    <section class="panel">
      <h2>New ticket</h2>
      <template v-if="guess.carries">
        <p>
          A ticket says what to bake. It starts with <strong>{{ guess.carries.name }}</strong> as receiver<template
            v-if="guess.gives"
          >
            and <strong>{{ guess.gives.name }}</strong> as source</template
          >; every part of it can be changed.
        </p>
        <Button label="New ticket" @click="write" />
      </template>
      <template v-else>
        <p>Baking needs a mesh with UVs as receiver. Import one first.</p>
        <RouterLink :to="{ name: 'intake', params: { projectId } }">Open Intake</RouterLink>
      </template>
    </section>
  </main>
</template>

<style scoped>
.choose {
  display: grid;
  gap: 12px;
  align-content: start;
  overflow: auto;
  height: 100%;
  max-width: 860px;
  padding: 20px;
}

.choose .panel {
  display: grid;
  gap: 10px;
  justify-items: start;
}

.choose li {
  padding: 8px 0;
}

.choose li a {
  font-size: 15px;
  font-weight: 650;
}
</style>
