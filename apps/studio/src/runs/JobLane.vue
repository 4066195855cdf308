<script setup lang="ts">
import ProgressBar from 'primevue/progressbar';
import { computed, ref } from 'vue';
import { flatReportOf, reportOf, type Run } from '@zographos/contracts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { bytes, count, clockOf, percent, seconds } from '../controls/format.ts';

defineProps<{ projectId: string }>();
const store = useProject();
const notices = useNotices();
const open = ref(false);

const STAGE_WORDS = {
  load: 'reading the meshes',
  build: 'building the BVH',
  trace: 'tracing',
  pad: 'padding',
  cut: 'cutting islands',
  pack: 'packing islands',
  encode: 'saving',
} as const;

const current = computed(() => store.activeRuns.find((run) => run.state === 'running') ?? store.activeRuns[0]);
const others = computed(() => store.activeRuns.length - (current.value ? 1 : 0));
const lastFailed = computed(() => {
  const [last] = store.project?.runs ?? [];
  return last?.state === 'failed' ? last : null;
});

function nameOf({ operation, ticketId, meshes, title }: Run): string {
  if (operation === 'deliver') return `Delivery as ${title}`;
  if (title !== null) return operation === 'merge' ? `Merge into ${title}` : `Atlas ${title}`;
  if (operation === 'layout') {
    const names = store.meshesByIds(meshes).map(({ name }) => name);
    return `Layout of ${names.length > 2 ? `${names.length} meshes` : names.join(' and ')}`;
  }
  return store.ticketById(ticketId ?? '')?.name ?? 'Deleted ticket';
}

function progressWords(run: Run): string {
  if (run.state === 'queued') return 'queued';
  const stage = run.stage ? STAGE_WORDS[run.stage] : 'starting';
  const left = run.secondsLeft === null ? '' : `, about ${seconds(run.secondsLeft)} left`;
  const note = run.note ? `, ${run.note}` : '';
  return `${stage}, ${percent(run.share)}${note}${left}`;
}

function outcome(run: Run): string {
  if (run.state === 'failed') return run.error?.message ?? 'failed';
  if (run.state === 'cancelled') return 'cancelled';
  if (run.state !== 'done') return progressWords(run);
  const flat = flatReportOf(run);
  if (flat) return `done in ${seconds(flat.seconds)}`;
  const delivery = reportOf(run, 'deliver');
  if (delivery) return `${count(delivery.files, 'file')}, ${bytes(delivery.bytes)}, in ${seconds(delivery.seconds)}`;
  const merge = reportOf(run, 'merge');
  if (merge) return `draw calls ${merge.before.drawCalls} → ${merge.after.drawCalls}, in ${seconds(merge.seconds)}`;
  const atlas = reportOf(run, 'atlas');
  if (atlas) {
    return `${count(atlas.maps.length, 'map')} of ${count(atlas.places.length, 'image set')}, in ${seconds(atlas.seconds)}`;
  }
  const layout = reportOf(run, 'layout');
  if (layout) {
    return `${count(layout.islands, 'island')}, coverage ${percent(layout.coverage)}, in ${seconds(layout.seconds)}`;
  }
  const bake = reportOf(run, 'bake');
  return bake ? `done in ${seconds(bake.seconds.total)}` : 'done';
}

const cancel = (run: Run): Promise<unknown> => notices.guard(() => store.cancelRun(run.id));
</script>

<template>
  <footer class="lane">
    <ol v-if="open" class="history" aria-label="Runs, newest first">
      <li v-for="run in store.project?.runs" :key="run.id">
        <time class="figure">{{ clockOf(run.createdAt) }}</time>
        <div>
          <p>{{ run.sentence }}</p>
          <p class="outcome" :class="run.state">{{ outcome(run) }}</p>
        </div>
        <button
          v-if="run.state === 'running' || run.state === 'queued'"
          type="button"
          class="plain-button"
          @click="cancel(run)"
        >
          cancel
        </button>
      </li>
      <li v-if="!store.project?.runs.length">No run yet.</li>
    </ol>
    <div class="now">
      <template v-if="current">
        <strong>{{ nameOf(current) }}</strong>
        <ProgressBar
          class="bar"
          :value="Math.round(current.share * 100)"
          :show-value="false"
          :aria-label="`Progress of ${nameOf(current)}`"
        />
        <span>{{ progressWords(current) }}{{ others ? `, ${others} more waiting` : '' }}</span>
      </template>
      <span v-else-if="lastFailed" class="failed">{{ nameOf(lastFailed) }}: {{ lastFailed.error?.message }}</span>
      <span v-else class="quiet">Nothing is running.</span>
      <span class="end">
        <button v-if="current" type="button" class="plain-button" @click="cancel(current)">cancel</button>
        <button type="button" class="plain-button" :aria-expanded="open" @click="open = !open">history</button>
      </span>
    </div>
  </footer>
</template>

<style scoped>
.lane {
  grid-row: 4;
  background: var(--lamp-black);
  color: var(--lead-white);
}

.lane :focus-visible {
  outline-color: var(--azurite-on-black);
}

.now {
  display: flex;
  gap: 14px;
  align-items: center;
  height: 34px;
  padding: 0 20px;
  white-space: nowrap;
}

.bar {
  flex: none;
  width: 220px;
  height: 5px;
  background: oklch(0.4 0 0);
}

.bar :deep(.p-progressbar-value) {
  background: var(--azurite-on-black);
}

.end {
  display: flex;
  gap: 12px;
  margin-left: auto;
}

.failed {
  overflow: hidden;
  text-overflow: ellipsis;
}

.outcome.failed,
.now > .failed {
  color: var(--minium-on-black);
}

.quiet,
.outcome {
  color: oklch(0.78 0 0);
}

.history {
  overflow: auto;
  max-height: 40vh;
  padding: 8px 20px;
  border-bottom: 1px solid oklch(0.36 0 0);
}

.history li {
  display: grid;
  grid-template-columns: 48px 1fr auto;
  gap: 12px;
  padding: 6px 0;
}
</style>
