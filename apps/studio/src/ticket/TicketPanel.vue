<script setup lang="ts">
import Button from 'primevue/button';
import { useEventListener } from '@vueuse/core';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { ENDPOINTS, PATHS, type BakeTicket, type LightTicket } from '@zographos/contracts';
import { call } from '../api/call.ts';
import { percent } from '../controls/format.ts';
import { CELL_WORDS, isUnderWay, type Cell } from '../stores/cells.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import TicketSentence from './TicketSentence.vue';

/** What a room works on: a ticket as its sentence, how its maps stand, and the buttons that make them. */
const props = defineProps<{
  ticket: BakeTicket | LightTicket;
  /** What its button says, and what it does meanwhile. */
  now: string;
  doing: string;
  cost: string | null;
  /** A map of the ticket; none where it has no place yet. */
  cell: Cell | undefined;
  /** Whether it has made anything: what has not can be deleted. */
  isMade: boolean;
  /** What the way to all tickets of the room is called; null for none. */
  all: string | null;
}>();
defineSlots<{ /** Further links. */ default?(): unknown }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();
const run = computed(() => props.cell?.run);
const isRunning = computed(() => isUnderWay(run.value));
/** The room has the name of the operation. */
const room = computed(() => ({ name: props.ticket.operation, params: { projectId: store.project!.id } }));

async function start(): Promise<void> {
  await notices.guard(() => store.runTicket(props.ticket.id));
}

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (event.ctrlKey && event.key === 'Enter' && !isRunning.value) void start();
});

async function remove(): Promise<void> {
  const { id } = props.ticket;
  const to = room.value;
  const gone = await notices.guard(() => call(ENDPOINTS.deleteTicket, { id }).then(() => true));
  if (!gone) return;
  await store.reload();
  await router.push(to);
}
</script>

<template>
  <section class="panel ticket" aria-label="Ticket">
    <TicketSentence :ticket="ticket" />
    <div class="act">
      <Button :label="isRunning ? `${doing}, ${percent(run?.share ?? 0)}` : now" :disabled="isRunning" @click="start" />
      <Button v-if="isRunning" label="Cancel" outlined @click="notices.guard(() => store.cancelRun(run!.id))" />
      <span v-else-if="cell" class="mark" :class="`mark-${cell.state}`"
        ><span>{{ CELL_WORDS[cell.state] }}</span></span
      >
    </div>
    <p class="cost soft">
      {{ cost }}
      <a :href="PATHS.ticketFile(ticket.id)" download>Save the ticket</a>
      <slot />
      <button v-if="!isMade" type="button" class="plain-button" @click="remove">Delete ticket</button>
      <RouterLink v-if="all" :to="room">{{ all }}</RouterLink>
    </p>
    <p v-if="cell?.state === 'failed'" class="failed" role="alert">{{ run?.error?.message }}</p>
  </section>
</template>

<style scoped>
.cost {
  grid-column: 1 / -1;
  font-size: var(--text-small);
}

.cost > :slotted(a),
.cost > a {
  margin-left: 12px;
}
</style>
