<script setup lang="ts">
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { deriveSourceOf } from '@zographos/core/derive';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { ENDPOINTS, PATHS, type FlatTicket, type ImageSet } from '@zographos/contracts';
import { parseSettings } from '@zographos/operations';
import { call } from '../../api/call.ts';
import { CELL_WORDS, useCells, type Cell } from '../../stores/cells.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import { useWaitingMaps } from '../../stores/waitingMaps.ts';
import { FLAT_EDITING } from './editors/flatEditors.ts';
import { meaningOfMap } from './imagesOfTicket.ts';
import KeepFinish from './KeepFinish.vue';

/** The flat sets of a project, and the steps of the one that is open. */
const props = defineProps<{
  projectId: string;
  sets: readonly ImageSet[];
  set: ImageSet | undefined;
  steps: readonly FlatTicket[];
  ticket: FlatTicket | undefined;
}>();
const store = useProject();
const notices = useNotices();
const router = useRouter();
const DEFAULT_SIZE = { width: 1024, height: 1024 };
const { cells, waiting } = useCells();
const { makeWaiting } = useWaitingMaps();

const isOwn = ({ set }: Cell): boolean => set.id === props.set?.id;
/** Steps that are not made yet, or out of date. */
const waitingSteps = computed(() => new Set(waiting.value.filter(isOwn).map(({ map }) => map.ticketId)));
/** One behind the other, as each goes on from what the one before has made. */
const runAll = (): Promise<void> => makeWaiting(isOwn);

/** The picture by which a set is known: its colour, or the first there is. */
function faceOf({ maps }: ImageSet): string | null {
  const made = maps.filter(({ revisions }) => revisions[0]);
  const map = made.find(({ kind }) => kind === 'basecolor') ?? made[0];
  return map ? PATHS.blob(map.revisions[0]!.thumbnailHash) : null;
}

const stateOf = (step: FlatTicket): string =>
  CELL_WORDS[cells.value.find(({ map }) => map.ticketId === step.id)?.state ?? 'missing'];

/** Derives the maps of a material from what a step makes. */
async function deriveFrom(own: FlatTicket): Promise<void> {
  const set = props.set!;
  const made = set.maps.filter(({ ticketId }) => ticketId === own.id);
  const map = made.find((each) => each.kind === 'basecolor') ?? made.find((each) => each.kind === 'height') ?? made[0];
  if (!map) return;
  const all = ['height', 'normal', 'ao', 'edges', 'cavity', 'roughness'] as const;
  const ticketMade = await notices.guard(() =>
    store.createTicket({
      name: `${set.name}, maps`,
      operation: 'derive',
      settings: parseSettings('derive', {
        maps: all.filter((each) => !set.maps.some((other) => other.kind === each)),
        picture: { kind: map.kind, colorSpace: map.kind === 'basecolor' ? 'srgb' : 'linear' },
        from: deriveSourceOf(map.kind),
      }),
      inputs: { receivers: [], sources: [], pictures: [map.id] },
      set: { id: own.imageSetId },
    }),
  );
  if (ticketMade) await router.replace({ query: { ticket: ticketMade.id } });
}

/** Combines another map of what a step makes. */
async function combineFrom(own: FlatTicket): Promise<void> {
  const set = props.set!;
  const map = set.maps.find(({ ticketId }) => ticketId === own.id);
  const kind = (['mask', ...MAP_KIND_IDS] as const).find((each) => !set.maps.some((other) => other.kind === each));
  if (!map || !kind) return;
  const { width, height } = store.pictureSize(map.id) ?? DEFAULT_SIZE;
  const made = await notices.guard(() =>
    store.createTicket({
      name: `${set.name}, combined`,
      operation: 'combine',
      settings: parseSettings('combine', { pictures: [meaningOfMap(map)], maps: [{ kind }], size: { width, height } }),
      inputs: { receivers: [], sources: [], pictures: [map.id] },
      set: { id: own.imageSetId },
    }),
  );
  if (made) await router.replace({ query: { ticket: made.id } });
}

async function remove(): Promise<void> {
  const { id } = props.set!;
  const gone = await notices.guard(() => call(ENDPOINTS.deleteImageSet, { id }).then(() => true));
  if (!gone) return;
  await store.reload();
  await router.push({ name: 'flat', params: { projectId: props.projectId } });
}

async function rename(event: Event): Promise<void> {
  const name = (event.target as HTMLInputElement).value.trim();
  const { id, version } = props.set!;
  if (name) await notices.guard(() => call(ENDPOINTS.changeImageSet, { id }, { version, name }));
  await store.reload();
}
</script>

<template>
  <nav class="panel sets" aria-label="Tiling materials">
    <RouterLink
      v-for="each in sets"
      :key="each.id"
      :to="{ name: 'flat', params: { projectId, setId: each.id } }"
      :class="{ here: each.id === set?.id }"
    >
      <img v-if="faceOf(each)" :src="faceOf(each)!" alt="" />
      <span v-else class="bare" />
      <span>{{ each.name }}</span>
    </RouterLink>
    <RouterLink :to="{ name: 'flat', params: { projectId, setId: 'new' } }" :class="{ here: !set }" class="new">
      New material
    </RouterLink>
    <template v-if="set">
      <h2>Steps</h2>
      <ol>
        <li v-for="(step, i) in steps" :key="step.id">
          <RouterLink :to="{ query: { ticket: step.id } }" :class="{ here: step.id === ticket?.id }">
            {{ i + 1 }} {{ FLAT_EDITING[step.operation].step }}
            <span class="soft">{{ stateOf(step) }}</span>
          </RouterLink>
        </li>
      </ol>
      <button v-if="waitingSteps.size > 1" type="button" class="plain-button" @click="runAll">Run all steps</button>
      <button
        v-if="ticket && !steps.some(({ operation }) => operation === 'derive')"
        type="button"
        class="plain-button"
        @click="deriveFrom(ticket)"
      >
        Derive maps
      </button>
      <button v-if="ticket" type="button" class="plain-button" @click="combineFrom(ticket)">Combine maps</button>
      <a v-if="ticket" :href="PATHS.ticketFile(ticket.id)" download>Save the ticket</a>
      <KeepFinish :set="set" />
      <RouterLink :to="{ name: 'deliver', params: { projectId }, query: { sets: set.id } }">Deliver</RouterLink>
      <label class="rename">Name <input :value="set.name" maxlength="120" @change="rename" /></label>
      <button type="button" class="plain-button" @click="remove">Delete material</button>
    </template>
  </nav>
</template>

<style scoped>
.sets {
  display: grid;
  grid-row: 1 / -1;
  gap: 6px;
  align-content: start;
  justify-items: start;
  overflow: auto;
}

.sets > a:has(> img),
.sets > a:has(> .bare) {
  display: grid;
  grid-template-columns: 36px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  width: 100%;
  padding: 3px;
  border-left: 3px solid transparent;
  text-decoration: none;
}

.sets a.here {
  border-left-color: var(--azurite);
  font-weight: 650;
}

.sets > a.new {
  padding: 3px 5px;
  border-left: 3px solid transparent;
}

.sets img,
.sets .bare {
  width: 36px;
  height: 36px;
  background: var(--surround);
  object-fit: cover;
}

.sets h2 {
  margin: 8px 0 0;
  color: var(--ink-soft);
  font-weight: 650;
}

.sets li a {
  display: block;
  padding: 3px 6px;
  border-left: 3px solid transparent;
  text-decoration: none;
}

.rename {
  display: grid;
  width: 100%;
}

.rename input {
  width: 100%;
  padding: 3px 6px;
  border: 1px solid var(--line-strong);
  background: var(--paper-raised);
  color: inherit;
  font: inherit;
}
</style>
