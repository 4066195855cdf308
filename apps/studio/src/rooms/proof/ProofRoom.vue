<script setup lang="ts">
import Column from 'primevue/column';
import DataTable from 'primevue/datatable';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { ENDPOINTS, PATHS, reportOf, type Proof } from '@zographos/contracts';
import { describeKind, type MapKind } from '@zographos/core/image';
import type { Finding } from '@zographos/operations';
import { call } from '../../api/call.ts';
import DistanceChart from '../../runs/DistanceChart.vue';
import FindingList from '../../runs/FindingList.vue';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import ModelView from '../../viewport/ModelView.vue';
import LikenessViews from './LikenessViews.vue';

const props = defineProps<{ projectId: string; ticketId?: string }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();

/** Tickets with a finished run, the newest first; any of them can be proved. */
const proved = computed(() => {
  const runs = (store.project?.runs ?? []).filter(({ state, report }) => state === 'done' && report);
  return store.bakes.flatMap((ticket) => {
    const run = runs.find(({ ticketId }) => ticketId === ticket.id);
    return run ? [{ ticket, run }] : [];
  });
});
const chosen = computed(
  () =>
    proved.value.find(({ ticket }) => ticket.id === props.ticketId) ?? (props.ticketId ? undefined : proved.value[0]),
);
const report = computed(() => reportOf(chosen.value?.run, 'bake'));
const receivers = computed(() => store.meshesByIds(chosen.value?.ticket.inputs.receivers));
const sources = computed(() => store.meshesByIds(chosen.value?.ticket.inputs.sources));
const unit = computed(() => receivers.value[0]?.unit ?? 'units');

const proof = ref<Proof | null>(null);
watch(
  () => chosen.value?.run.id,
  async (id) => {
    proof.value = null;
    const read = id ? await notices.guard(() => call(ENDPOINTS.readProof, { id })) : null;
    if (read && chosen.value?.run.id === id) proof.value = read;
  },
  { immediate: true },
);

const SEAM_FIGURES = { mean: 'Mean', worst: 'Worst', before: 'Before mending' };
const seams = computed(() =>
  Object.entries(report.value?.seams ?? {})
    .map(([name, seam]) => ({ kind: name, label: describeKind(name as MapKind).label, ...seam }))
    .sort((a, b) => b.mean - a.mean),
);
const seamKind = ref<string | null>(null);
const kind = computed(
  () => seams.value.find((each) => each.kind === seamKind.value)?.kind ?? seams.value[0]?.kind ?? null,
);
const heat = computed(() => (kind.value ? (proof.value?.seams[kind.value] ?? null) : null));
const looks = ref<'likeness' | 'seams'>('likeness');
const look = computed(() => (report.value?.likeness.length ? looks.value : 'seams'));
const likeness = computed(() => {
  const views = report.value?.likeness ?? [];
  return views.length > 0 ? views.reduce((sum, { ssim }) => sum + ssim, 0) / views.length : null;
});
const modelView = ref<{ pointAt: (place: [number, number, number]) => void } | null>(null);
const fine = (share: number): string => `${(share * 100).toFixed(2)}\u2009%`;

/** Places are looked at on the bench, in the map and on the model together. */
function show(place: Finding['places'][number]): void {
  void router.push({
    name: 'bake',
    params: { projectId: props.projectId, ticketId: chosen.value!.ticket.id },
    query: { tile: place.tile, x: place.x, y: place.y, at: place.position?.join() },
  });
}
</script>

<template>
  <main v-if="chosen && report" class="proof">
    <header>
      <div class="choices" role="group" aria-label="Bake to prove">
        <button
          v-for="each in proved"
          :key="each.ticket.id"
          type="button"
          :aria-pressed="each === chosen"
          @click="router.push({ name: 'proof', params: { projectId, ticketId: each.ticket.id } })"
        >
          {{ each.ticket.name }}
        </button>
      </div>
      <RouterLink :to="{ name: 'bake', params: { projectId, ticketId: chosen.ticket.id } }">Open ticket</RouterLink>
    </header>

    <section class="stage" aria-label="Proof">
      <div class="choices" role="group" aria-label="What to look at">
        <button
          v-if="report.likeness.length"
          type="button"
          :aria-pressed="look === 'likeness'"
          @click="looks = 'likeness'"
        >
          Compare with source
        </button>
        <button v-if="seams.length" type="button" :aria-pressed="look === 'seams'" @click="looks = 'seams'">
          Seams on the model
        </button>
      </div>
      <LikenessViews
        v-if="look === 'likeness'"
        :views="report.likeness"
        :picture="proof?.hasLikeness ? PATHS.likeness(chosen.run.id) : null"
      />
      <ModelView
        v-else-if="seams.length"
        ref="modelView"
        :receivers="receivers"
        :sources="sources"
        :maps="[]"
        :uv-set="chosen.ticket.settings.uvSet"
        :heat="heat"
      />
      <p v-else class="nothing">
        Nothing to compare: this bake has no seams and no normal map. Add a normal map to the ticket to compare it with
        the source.
      </p>
    </section>

    <aside aria-label="Figures" tabindex="0">
      <section class="panel">
        <h2>Findings</h2>
        <FindingList
          :findings="report.findings"
          can-mend
          @show="show"
          @mend="store.takeRemedy(chosen.ticket, $event)"
        />
      </section>
      <section class="panel">
        <h2>Measured</h2>
        <dl>
          <template v-if="likeness !== null">
            <dt>Similarity (SSIM)</dt>
            <dd class="figure">{{ likeness.toFixed(3) }}</dd>
          </template>
          <template v-if="report.noise !== null">
            <dt>Occlusion noise</dt>
            <dd class="figure">{{ fine(report.noise) }}</dd>
          </template>
          <dt>Missed texels</dt>
          <dd class="figure">{{ fine(report.texels.missed / (report.texels.covered || 1)) }}</dd>
        </dl>
      </section>
      <section v-if="seams.length" class="panel">
        <h2>Difference across seams</h2>
        <DataTable
          :value="seams"
          size="small"
          sort-field="mean"
          :sort-order="-1"
          data-key="kind"
          aria-label="Difference across seams of each map"
        >
          <Column field="label" header="Map" sortable>
            <template #body="{ data }">
              <button
                type="button"
                class="plain-button"
                :aria-pressed="look === 'seams' && kind === data.kind"
                @click="
                  seamKind = data.kind;
                  looks = 'seams';
                "
              >
                {{ data.label }}
              </button>
            </template>
          </Column>
          <Column
            v-for="(header, field) in SEAM_FIGURES"
            :key="field"
            :field="field"
            :header="header"
            class="number"
            sortable
          >
            <template #body="{ data }">{{ data[field] === null ? '–' : fine(data[field]) }}</template>
          </Column>
        </DataTable>
        <p v-if="look === 'seams' && heat?.places.length" class="ways">
          <button
            v-for="(place, i) in heat.places.slice(0, 4)"
            :key="i"
            type="button"
            class="plain-button"
            @click="modelView?.pointAt(place.position)"
          >
            {{ i === 0 ? 'Worst place' : `place ${i + 1}` }}
          </button>
        </p>
        <button
          v-if="!chosen.ticket.settings.mend"
          type="button"
          class="plain-button"
          @click="
            store.changeTicket(chosen.ticket.id, 'seams', { settings: { ...chosen.ticket.settings, mend: true } })
          "
        >
          Mend seams at the next run
        </button>
      </section>
      <DistanceChart v-if="report.aim !== 'shared'" :report="report" :unit="unit" />
    </aside>
  </main>
  <main v-else class="nothing">
    <p>
      No bake to check yet.
      <RouterLink :to="{ name: 'bake', params: { projectId } }">Open Bake</RouterLink>
    </p>
  </main>
</template>

<style scoped>
.proof {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 10px;
  height: 100%;
  padding: 10px 20px;
}

header {
  display: flex;
  grid-column: 1 / -1;
  gap: 20px;
  align-items: center;
}

header a {
  margin-left: auto;
}

.stage {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 4px;
  min-width: 0;
  min-height: 0;
}

aside {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  align-content: start;
  overflow: auto;
}

dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 8px;
}

dt {
  color: var(--ink-soft);
}

[aria-pressed='true'] {
  font-weight: 680;
}

.ways {
  display: flex;
  gap: 12px;
}

.nothing {
  padding: 40px 20px;
}
</style>
