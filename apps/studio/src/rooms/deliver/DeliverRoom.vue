<script setup lang="ts">
import Button from 'primevue/button';
import Checkbox from 'primevue/checkbox';
import InputText from 'primevue/inputtext';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useEventListener, useLocalStorage } from '@vueuse/core';
import { ENDPOINTS, PATHS, reportOf, type ImageSet } from '@zographos/contracts';
import { ZographosError } from '@zographos/core/errors';
import {
  type DeliveredFile,
  deliveryProfile,
  type DeliveryProfile,
  optionsOf,
  packing,
  PACKINGS,
  planDelivery,
  READY_PROFILES,
  type SetFacts,
  VIEW_TRANSFORM_LABELS,
} from '@zographos/operations';
import { call } from '../../api/call.ts';
import BackgroundField from '../../controls/BackgroundField.vue';
import CheckLine from '../../controls/CheckLine.vue';
import Dropdown from '../../controls/Dropdown.vue';
import NumberField from '../../controls/NumberField.vue';
import { bytes, clockOf, count, dayOf, percent, jsonLink } from '../../controls/format.ts';
import { lengthOf } from '../../controls/limits.ts';
import { useNotices } from '../../stores/notices.ts';
import { mapsInEffect } from '../../stores/mapsInEffect.ts';
import { useProject } from '../../stores/project.ts';
import { useAddressList } from '../../stores/useAddressList.ts';
import FileEditor from './FileEditor.vue';

const props = defineProps<{ projectId: string }>();
const store = useProject();
const notices = useNotices();
const route = useRoute();
const router = useRouter();

const sets = computed(() =>
  (store.project?.imageSets ?? []).filter(({ maps }) => maps.some(({ revisions }) => revisions[0])),
);
/** The sets to deliver; the first while the address says nothing, none if it says so. */
const { chosen: chosenIds, choose } = useAddressList(
  () => {
    const { sets: asked } = route.query;
    return typeof asked === 'string' ? asked.split(',').filter(Boolean) : sets.value.slice(0, 1).map(({ id }) => id);
  },
  (ids) => router.replace({ query: { sets: ids.join() } }),
);
const chosen = computed(() => sets.value.filter(({ id }) => chosenIds.value.includes(id)));

function toggle({ id }: ImageSet): void {
  const ids = chosenIds.value;
  choose(ids.includes(id) ? ids.filter((each) => each !== id) : [...ids, id]);
}

/** The profile on the bench, kept between visits; it is the project's once it is kept there. */
const stored = useLocalStorage<object>(`zographos.profile.${props.projectId}`, READY_PROFILES[0]!, { deep: true });
const profile = computed<DeliveryProfile>(() => {
  const read = deliveryProfile.safeParse(stored.value);
  return read.success ? read.data : READY_PROFILES[0]!;
});
const mistake = ref<string | null>(null);

function change(part: Partial<DeliveryProfile>): void {
  const next = deliveryProfile.safeParse({ ...profile.value, ...part });
  mistake.value = next.success ? null : next.error.issues[0]!.message;
  if (next.success) stored.value = next.data;
}

const kept = computed(() => store.project?.profiles ?? []);
const profiles = computed(() => [
  ...kept.value.map(({ id, settings }) => ({ value: id, label: settings.name, settings })),
  ...READY_PROFILES.filter(({ name }) => !kept.value.some(({ settings }) => settings.name === name)).map(
    (settings) => ({
      value: settings.name,
      label: `${settings.name} (ready-made)`,
      settings,
    }),
  ),
]);
const current = computed(() => kept.value.find(({ settings }) => settings.name === profile.value.name));
const isKept = computed(
  () => current.value !== undefined && JSON.stringify(current.value.settings) === JSON.stringify(profile.value),
);

async function keep(): Promise<void> {
  const settings = profile.value;
  const { value: known } = current;
  await notices.guard(() =>
    known
      ? call(ENDPOINTS.changeProfile, { id: known.id }, { version: known.version, settings })
      : call(ENDPOINTS.createProfile, { id: props.projectId }, settings),
  );
  await store.reload();
}

const files = (list: DeliveredFile[]): void => change({ files: list });
const withFile = (at: number, file: DeliveredFile): void =>
  files(profile.value.files.map((each, i) => (i === at ? file : each)));
const addOptions: { label: string; file: DeliveredFile }[] = [
  { label: 'Single map', file: { map: 'basecolor', label: 'color', format: 'png8' } },
  ...PACKINGS.map((each) => ({ label: each.label, file: { ...each, format: 'png8' as const } })),
];

/** A profile, or a packing alone, from a file. */
async function load(event: Event): Promise<void> {
  const [file] = (event.target as HTMLInputElement).files ?? [];
  if (!file) return;
  const json: unknown = await file
    .text()
    .then(JSON.parse)
    .catch(() => null);
  const whole = deliveryProfile.safeParse(json);
  const part = packing.safeParse(json);
  if (whole.success) stored.value = whole.data;
  else if (part.success) files([...profile.value.files, { ...part.data, format: 'png8' }]);
  else mistake.value = `“${file.name}” is neither a delivery profile nor a packing. ${whole.error.issues[0]!.message}`;
}

const asJson = computed(() => jsonLink(profile.value));

const facts = ({ name, receiverId, maps }: ImageSet): SetFacts => ({
  name,
  hasMesh: receiverId !== null,
  maps: mapsInEffect(maps).flatMap(({ kind, tile, revisions: [latest] }) =>
    latest
      ? [
          {
            kind,
            tile,
            revision: latest.number,
            width: latest.width,
            height: latest.height,
            channels: latest.channels,
            colorSpace: latest.colorSpace,
            range: latest.range,
            convention: latest.convention ?? undefined,
          },
        ]
      : [],
  ),
});
const plan = computed(() => {
  try {
    return { ...planDelivery(profile.value, store.project?.name ?? '', chosen.value.map(facts)), refusal: null };
  } catch (error) {
    return {
      files: [],
      meshes: [],
      layered: [],
      notes: [],
      refusal: error instanceof ZographosError ? error.message : String(error),
    };
  }
});
const paths = computed(() =>
  [...plan.value.files, ...plan.value.layered, ...plan.value.meshes].map((file) => file.path),
);

const runs = computed(() => (store.project?.runs ?? []).filter(({ operation }) => operation === 'deliver'));
const active = computed(() => runs.value.find(({ state }) => state === 'running' || state === 'queued'));

async function deliver(): Promise<void> {
  const body = { profile: profile.value, sets: chosen.value.map(({ id }) => id) };
  await notices.guard(() => call(ENDPOINTS.createDelivery, { id: props.projectId }, body));
  await store.reload();
}

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (event.ctrlKey && event.key === 'Enter') void deliver();
});
watch(profile, () => (mistake.value = null));
const VIEWS = optionsOf(VIEW_TRANSFORM_LABELS);
const HALVINGS = [0, 1, 2, 3, 4].map((value) => ({ value, label: value === 0 ? 'Full size' : `1/${2 ** value}` }));
const listed = computed(() =>
  chosen.value.length > 3 ? count(chosen.value.length, 'image set') : chosen.value.map(({ name }) => name).join(', '),
);
</script>

<template>
  <main class="deliver">
    <section class="panel ticket" aria-label="Delivery">
      <p class="sentence">
        Deliver <strong>{{ listed || 'nothing yet' }}</strong> as <strong>{{ profile.name }}</strong>,
        {{ count(paths.length, 'file') }} in a ZIP with a manifest.
      </p>
      <div class="act">
        <Button
          :label="active ? `Delivering, ${percent(active.share)}` : 'Deliver now'"
          :disabled="active !== undefined || plan.refusal !== null"
          @click="deliver"
        />
        <Button v-if="active" label="Cancel" outlined @click="notices.guard(() => store.cancelRun(active!.id))" />
      </div>
      <p v-if="plan.refusal" class="failed" role="alert">{{ plan.refusal }}</p>
    </section>

    <section class="panel sets">
      <h2>Image sets</h2>
      <p v-if="sets.length === 0" class="soft">No maps yet. Bake some, or make flat material first.</p>
      <label v-for="set in sets" :key="set.id" class="set">
        <Checkbox binary size="small" :model-value="chosenIds.includes(set.id)" @update:model-value="toggle(set)" />
        <img
          :src="PATHS.blob(mapsInEffect(set.maps).find(({ revisions }) => revisions[0])!.revisions[0]!.thumbnailHash)"
          alt=""
        />
        <span
          >{{ set.name }}<br /><span class="soft">{{ count(set.maps.length, 'map') }}</span></span
        >
      </label>
    </section>

    <section class="panel profile">
      <div class="head">
        <Dropdown
          label="Profile"
          :value="current?.id ?? profile.name"
          :options="profiles"
          @choose="stored = profiles.find(({ value }) => value === $event)!.settings"
        />
        <InputText
          size="small"
          :model-value="profile.name"
          :maxlength="lengthOf(deliveryProfile, 'name')"
          aria-label="Name of the profile"
          @change="change({ name: ($event.target as HTMLInputElement).value })"
        />
        <Button :label="isKept ? 'Saved' : 'Save profile'" size="small" outlined :disabled="isKept" @click="keep" />
        <a :href="asJson" :download="`${profile.name}.profile.json`">Save as JSON</a>
        <label class="load">Load JSON <input type="file" accept=".json" class="unseen" @change="load" /></label>
      </div>
      <p v-if="mistake" class="mistake" role="alert">{{ mistake }}</p>
      <ul>
        <FileEditor
          v-for="(file, i) in profile.files"
          :key="i"
          :file="file"
          :set="chosen[0]"
          @change="withFile(i, $event)"
          @remove="files(profile.files.filter((_, k) => k !== i))"
        />
      </ul>
      <div class="ways">
        Add
        <button
          v-for="{ label, file } in addOptions"
          :key="label"
          type="button"
          class="plain-button"
          @click="files([...profile.files, file])"
        >
          {{ label }}
        </button>
      </div>
      <div class="settings">
        <label
          >File names
          <InputText
            size="small"
            :model-value="profile.pattern"
            :maxlength="lengthOf(deliveryProfile, 'pattern')"
            aria-label="File names"
            @change="change({ pattern: ($event.target as HTMLInputElement).value })"
        /></label>
        <span class="soft">{project} {set} {map} {tile} {size} {revision}; / makes folders</span>
        <label
          >Normals
          <Dropdown
            label="Normal maps"
            :value="profile.normalY"
            :options="[
              { value: 'up', label: 'Y up' },
              { value: 'down', label: 'Y down' },
            ]"
            @choose="change({ normalY: $event })"
        /></label>
        <label
          >Sizes
          <Dropdown label="Sizes" :value="profile.halvings" :options="HALVINGS" @choose="change({ halvings: $event })"
        /></label>
        <label
          >Light
          <Dropdown
            label="View transform of light"
            :value="profile.light.view"
            :options="VIEWS"
            @choose="change({ light: { ...profile.light, view: $event } })"
        /></label>
        <NumberField
          label="Exposure of light"
          suffix=" stops"
          :value="profile.light.exposure"
          :min="-20"
          :max="20"
          :digits="1"
          @change="change({ light: { ...profile.light, exposure: $event ?? 0 } })"
        />
        <label
          >Background
          <BackgroundField
            label="Background"
            none="As stored"
            :value="profile.background"
            @change="change({ background: $event })"
        /></label>
        <CheckLine
          label="Round sizes to powers of two"
          :value="profile.powerOfTwo"
          @change="change({ powerOfTwo: $event })"
        />
        <CheckLine
          label="Include mesh (GLB)"
          :value="profile.mesh === 'glb'"
          @change="change({ mesh: $event ? 'glb' : 'none' })"
        />
        <CheckLine
          label="Include layered file (OpenRaster)"
          :value="profile.layered"
          @change="change({ layered: $event })"
        />
      </div>
    </section>

    <aside class="figures">
      <section class="panel">
        <h2>Files</h2>
        <ul class="paths">
          <li v-for="path in paths" :key="path">{{ path }}</li>
          <li v-if="paths.length">manifest.json</li>
        </ul>
        <ul v-if="plan.notes.length" class="findings">
          <li v-for="note in plan.notes" :key="note" class="warning">{{ note }}</li>
        </ul>
      </section>
      <section class="panel">
        <h2>Delivered</h2>
        <p v-if="runs.length === 0" class="soft">Nothing yet.</p>
        <ul class="done">
          <li v-for="run in runs" :key="run.id">
            <template v-if="reportOf(run, 'deliver')">
              <a :href="PATHS.archive(run.id)" download>{{ run.title }}.zip</a>
              <span class="soft"
                >{{ count(reportOf(run, 'deliver')!.files, 'file') }}, {{ bytes(reportOf(run, 'deliver')!.bytes) }},
                {{ dayOf(run.createdAt) }}
                {{ clockOf(run.createdAt) }}</span
              >
              <RouterLink :to="{ name: 'receive', query: { from: run.id } }">Check as recipient</RouterLink>
            </template>
            <template v-else>{{ run.title }}: {{ run.error?.message ?? run.state }}</template>
          </li>
        </ul>
      </section>
    </aside>
  </main>
</template>

<style scoped>
.deliver {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  grid-template-columns: 200px minmax(0, 1fr) 300px;
  gap: 10px;
  height: 100%;
  padding: 10px 16px;
}

.sets,
.profile {
  overflow: auto;
}

.set {
  display: grid;
  grid-template-columns: auto 44px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  padding: 4px 0;
}

.set img {
  width: 44px;
  height: 44px;
  background: var(--surround);
  object-fit: cover;
}

.head,
.settings {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
}

.head {
  margin-bottom: 8px;
}

.load {
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 3px;
}

.load:focus-within {
  outline: 2px solid var(--azurite);
}

.settings {
  margin-top: 10px;
  padding-top: 10px;
  border-top: 1px solid var(--line);
}

.settings label {
  display: flex;
  gap: 6px;
  align-items: center;
}

.mistake {
  padding: 4px 8px;
  border-left: 4px solid var(--minium);
}

.paths {
  margin-bottom: 8px;
  overflow-wrap: anywhere;
}

.done li {
  display: grid;
  padding: 4px 0;
}
</style>
