<script setup lang="ts">
import { Redo2, SunDim, Undo2 } from '@lucide/vue';
import { useEventListener } from '@vueuse/core';
import { computed, onUnmounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import FileDrop from './FileDrop.vue';
import JobLane from '../runs/JobLane.vue';
import KeysHelp from './KeysHelp.vue';
import { ROOMS } from '../router.ts';
import { useEdits } from '../stores/edits.ts';
import { bytes } from '../controls/format.ts';
import { isTyping } from '../controls/isTyping.ts';
import { useLight } from '../stores/light.ts';
import { useProject } from '../stores/project.ts';

const props = defineProps<{ projectId: string }>();
const store = useProject();
const edits = useEdits();
const light = useLight();
const route = useRoute();
const router = useRouter();
const keysShown = ref(false);
/** Views that belong to a room. */
const PARTS_OF: Record<string, string> = { map: 'contactSheet', atlas: 'uv' };
const rooms = ROOMS.filter((room) => room.view);

watch(
  () => props.projectId,
  (id) => void store.open(id),
  { immediate: true },
);
onUnmounted(() => store.close());
watch(
  () => store.project?.name,
  (name) => {
    document.title = name ? `${name} – Zographos` : 'Zographos';
  },
);

const away = computed(() => {
  if (store.connection === 'database away') {
    return 'The database does not answer. Nothing is lost; this page reconnects automatically.';
  }
  if (store.connection === 'server away') {
    return 'The server does not answer. Nothing is lost; this page reconnects automatically.';
  }
  if (!store.workerIsThere) {
    return 'No worker is running: runs wait until it is back. Nothing is lost; npm start brings it back by itself.';
  }
  if (store.scarceBytes !== null) {
    return `The disk of the database has only ${bytes(store.scarceBytes)} left. Delete projects or deliveries that are no longer needed; the list of projects says what takes how much.`;
  }
  return null;
});

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event)) return;
  const key = event.key.toLowerCase();
  if ((event.ctrlKey || event.metaKey) && key === 'z') {
    event.preventDefault();
    void (event.shiftKey ? edits.redo() : edits.undo());
  } else if (event.key === '?') keysShown.value = true;
  else if (event.altKey && /^[1-9]$/.test(event.key)) {
    const room = rooms[Number(event.key) - 1];
    if (room) void router.push({ name: room.name, params: { projectId: props.projectId } });
  }
});
</script>

<template>
  <div class="frame">
    <header>
      <RouterLink v-tooltip="'All projects'" :to="{ name: 'projects' }" class="home">{{
        store.project?.name ?? '…'
      }}</RouterLink>
      <nav aria-label="Rooms">
        <RouterLink
          v-for="room in rooms"
          :key="room.name"
          :to="{ name: room.name, params: { projectId } }"
          :class="{ here: room.name === (PARTS_OF[String(route.name)] ?? route.name) }"
        >
          {{ room.title }}
        </RouterLink>
      </nav>
      <div class="tools">
        <button
          v-tooltip="edits.undoLabel ? `Undo ${edits.undoLabel} (Ctrl Z)` : 'Nothing to undo'"
          type="button"
          :disabled="!edits.undoLabel"
          aria-label="Undo"
          @click="edits.undo()"
        >
          <Undo2 :size="16" />
        </button>
        <button
          v-tooltip="edits.redoLabel ? `Redo ${edits.redoLabel} (Ctrl Shift Z)` : 'Nothing to redo'"
          type="button"
          :disabled="!edits.redoLabel"
          aria-label="Redo"
          @click="edits.redo()"
        >
          <Redo2 :size="16" />
        </button>
        <button
          v-tooltip="'Bright or dim light box (Alt L)'"
          type="button"
          aria-label="Bright or dim light box"
          @click="light.toggle()"
        >
          <SunDim :size="16" />
        </button>
        <button type="button" class="keys" @click="keysShown = true"><kbd>?</kbd> keys</button>
      </div>
    </header>
    <p v-if="away" class="away" role="alert">{{ away }}</p>

    <FileDrop v-if="store.project" class="room" :project-id="projectId">
      <RouterView :key="projectId" />
    </FileDrop>
    <main v-else class="room waiting">
      <p v-if="store.missing">{{ store.missing }} <RouterLink :to="{ name: 'projects' }">All projects</RouterLink></p>
      <p v-else class="soft">Reading the project …</p>
    </main>
    <JobLane :project-id="projectId" />
    <KeysHelp v-model:visible="keysShown" />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr) auto;
  grid-template-columns: minmax(0, 1fr);
  height: 100%;
}

header {
  display: flex;
  gap: 20px;
  align-items: center;
  height: 44px;
  padding: 0 20px;
  border-bottom: 1px solid var(--line);
  background: var(--paper);
}

.home {
  overflow: hidden;
  max-width: 260px;
  font-size: 15px;
  font-weight: 700;
  text-decoration: none;
  text-overflow: ellipsis;
  white-space: nowrap;
}

nav {
  display: flex;
  align-self: stretch;
}

nav a {
  display: flex;
  align-items: center;
  padding: 0 12px;
  color: var(--ink-soft);
  text-decoration: none;
}

nav a:hover {
  color: var(--ink);
}

nav a.here {
  color: var(--ink);
  font-weight: 650;
  box-shadow: inset 0 -3px var(--ink);
}

.tools {
  display: flex;
  gap: 4px;
  align-items: center;
  margin-left: auto;
}

.tools button {
  display: flex;
  gap: 6px;
  align-items: center;
  height: 28px;
  padding: 0 7px;
  border: 0;
  border-radius: var(--corner);
  background: none;
  color: var(--ink);
  cursor: pointer;
}

.tools button:hover:not(:disabled) {
  background: var(--azurite-wash);
}

.tools button:disabled {
  color: var(--line-strong);
  cursor: default;
}

.away {
  grid-row: 2;
  padding: 8px 20px;
  background: var(--minium);
  color: var(--paper-raised);
  font-weight: 600;
}

.room {
  grid-row: 3;
  min-height: 0;
}

.waiting {
  padding: 40px 20px;
}
</style>
