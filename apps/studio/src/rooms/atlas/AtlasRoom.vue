<script setup lang="ts">
import Button from 'primevue/button';
import Checkbox from 'primevue/checkbox';
import InputNumber from 'primevue/inputnumber';
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import { PATHS, type ImageSet } from '@zographos/contracts';
import type { Placement } from '@zographos/core/atlas';
import { describeKind, inUsualOrder, phraseOfKinds } from '@zographos/core/image';
import {
  ARRANGEMENT_LABELS,
  atlasOperation,
  atlasPlaces,
  atlasSettings,
  type AtlasSettings,
  gutterOf,
  optionsOf,
  placement,
} from '@zographos/operations';
import Choice from '../../controls/Choice.vue';
import { count, percent } from '../../controls/format.ts';
import { lengthOf, limitsOf } from '../../controls/limits.ts';
import NameField from '../../controls/NameField.vue';
import NumberField from '../../controls/NumberField.vue';
import SizeFields from '../../controls/SizeFields.vue';
import { useMeshEdits } from '../../stores/meshEdits.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import { useDraft } from '../../stores/useDraft.ts';
import SentenceSlots from '../../ticket/SentenceSlots.vue';
import AtlasPlan from './AtlasPlan.vue';

/** Whole image sets placed into one atlas. */
const ARRANGEMENTS = optionsOf(ARRANGEMENT_LABELS);
const props = defineProps<{ projectId: string }>();
const store = useProject();
const meshEdits = useMeshEdits();
const notices = useNotices();
const route = useRoute();

const draft = atlasSettings
  .omit({ sets: true })
  .extend({ chosen: atlasSettings.shape.sets.element.shape.imageSet.array().nullable() });
const { settings: kept, change } = useDraft(`atlas.${props.projectId}`, draft, {
  name: String(route.query['atlas'] ?? 'Atlas'),
  chosen: null,
  size: { width: 2048, height: 2048 },
  arrangement: 'rows',
  halvings: null,
  resample: false,
});

/** Sets with maps, but for atlases themselves: how large their maps are, and what they look like. */
const sets = computed(() =>
  (store.project?.imageSets ?? []).flatMap((set) => {
    const made = set.maps.filter(({ revisions, ticketId }) => revisions.length > 0 && ticketId !== null);
    const first = made.find(({ kind }) => kind === 'basecolor') ?? made[0];
    if (!first) return [];
    const { width, height, thumbnailHash } = first.revisions[0]!;
    const tiles = new Set(set.maps.map(({ tile }) => tile)).size;
    return [
      {
        set,
        hasMesh: set.receiverId !== null,
        width,
        height,
        picture: PATHS.blob(thumbnailHash),
        kinds: inUsualOrder(made.map(({ kind }) => kind)),
        tiles,
      },
    ];
  }),
);
/** As long as none was chosen: those on meshes of one size, of which there are most. */
const usual = computed(() => {
  const bySize = new Map<string, string[]>();
  for (const { set, hasMesh, width, height, tiles } of sets.value) {
    if (hasMesh && tiles === 1) bySize.set(`${width} ${height}`, [...(bySize.get(`${width} ${height}`) ?? []), set.id]);
  }
  return [...bySize.values()].sort((a, b) => b.length - a.length)[0] ?? [];
});
const chosenIds = computed(() => kept.value.chosen ?? usual.value);
const chosen = computed(() => chosenIds.value.flatMap((id) => sets.value.find(({ set }) => set.id === id) ?? []));
const settings = computed((): AtlasSettings => {
  const { name, size, arrangement, halvings, resample } = kept.value;
  const placed = chosen.value.map(({ set, width, height }) => ({ imageSet: set.id, name: set.name, width, height }));
  return { name, size, arrangement, halvings, resample, sets: placed };
});
const parts = computed(() => atlasOperation.sentence(settings.value, { receivers: [], sources: [] }, 'px'));

/** Where each set lies, or why that cannot be. */
const plan = computed((): { places: Placement[]; trouble: string | null } => {
  if (chosen.value.length === 0) return { places: [], trouble: null };
  try {
    return { places: atlasPlaces(settings.value), trouble: null };
  } catch (error) {
    const { arrangement } = kept.value;
    const places = Array.isArray(arrangement) ? arrangement : [];
    return { places, trouble: error instanceof Error ? error.message : String(error) };
  }
});

function toggle({ id }: ImageSet): void {
  const { arrangement } = kept.value;
  const now = chosenIds.value;
  const next = now.includes(id) ? now.filter((each) => each !== id) : [...now, id];
  // Places by hand belong to the sets they were made for.
  change({ chosen: next, ...(Array.isArray(arrangement) ? { arrangement: 'rows' as const } : {}) });
}

function place(at: number, part: Partial<Placement>): void {
  const own = plan.value.places.map((each, i) => (i === at ? { ...each, ...part } : each));
  change({ chosen: chosenIds.value, arrangement: own });
}

const kinds = computed(() => inUsualOrder(chosen.value.flatMap((each) => each.kinds)));
const lacking = computed(() =>
  kinds.value.flatMap((kind) =>
    chosen.value
      .filter((each) => !each.kinds.includes(kind))
      .map(({ set }) => `${describeKind(kind).phrase} of ${set.name}`),
  ),
);
const last = computed(() =>
  store.project?.runs.find(({ operation, title }) => operation === 'atlas' && title === kept.value.name),
);
const isRunning = computed(() => last.value?.state === 'running' || last.value?.state === 'queued');
const atlas = computed(() =>
  store.project?.imageSets.find(
    ({ name, maps }) => name === kept.value.name && maps.some(({ ticketId }) => ticketId === null),
  ),
);

async function make(): Promise<void> {
  await notices.guard(() => meshEdits.placeAtlas(settings.value));
}

const snap = ref(64);
</script>

<template>
  <main class="place">
    <section class="panel ticket" aria-label="Atlas">
      <SentenceSlots v-slot="{ slotName }" :parts="parts">
        <div class="slot-editor">
          <template v-if="slotName === 'sets'">
            <h3>Image sets</h3>
            <p>Tick them in the list on the left; they are placed in that order.</p>
          </template>
          <template v-else-if="slotName === 'name'">
            <h3>Name of the atlas</h3>
            <NameField
              label="Name of the atlas"
              :value="kept.name"
              :length="lengthOf(atlasSettings, 'name')"
              usual="Atlas"
              @change="change({ name: $event })"
            />
          </template>
          <template v-else-if="slotName === 'size'">
            <h3>Size of the atlas</h3>
            <SizeFields :size="kept.size" @change="change({ size: $event })" />
          </template>
          <template v-else-if="slotName === 'arrangement'">
            <h3>Arrangement</h3>
            <Choice
              label="Arrangement"
              :value="typeof kept.arrangement === 'string' ? kept.arrangement : 'own'"
              :options="ARRANGEMENTS"
              @choose="change({ arrangement: $event === 'own' ? plan.places : $event })"
            />
          </template>
          <template v-else-if="slotName === 'halvings'">
            <h3>Gutters between sets</h3>
            <p>Edge texels are repeated into the gutter, so that this many mip levels do not bleed.</p>
            <NumberField
              label="Clean mip levels"
              :value="kept.halvings"
              v-bind="limitsOf(atlasSettings, 'halvings')"
              placeholder="none"
              @change="change({ halvings: $event })"
            />
            <p class="soft">{{ gutterOf(kept) }} px around each set</p>
          </template>
          <template v-else>
            <h3>Sizes that do not fit</h3>
            <Choice
              label="Resampling"
              :value="kept.resample ? 'yes' : 'no'"
              :options="[
                { value: 'no', label: 'No resampling' },
                { value: 'yes', label: 'Resample to fit' },
              ]"
              @choose="change({ resample: $event === 'yes' })"
            />
          </template>
        </div>
      </SentenceSlots>
      <div class="act">
        <Button
          :label="isRunning ? `Making atlas, ${percent(last?.share ?? 0)}` : 'Make atlas'"
          :disabled="isRunning || chosen.length === 0 || plan.trouble !== null"
          @click="make"
        />
        <Button
          v-if="isRunning"
          label="Cancel"
          outlined
          size="small"
          @click="notices.guard(() => store.cancelRun(last!.id))"
        />
        <RouterLink v-else-if="atlas" :to="{ name: 'map', params: { projectId, mapId: atlas.maps[0]!.id } }"
          >Open atlas</RouterLink
        >
      </div>
      <p v-if="plan.trouble ?? (last?.state === 'failed' ? last.error?.message : null)" class="failed" role="alert">
        {{ plan.trouble ?? last?.error?.message }}
      </p>
    </section>

    <section class="panel sets" aria-label="Image sets">
      <p v-if="!sets.length">No image set has a map yet. Bake some first.</p>
      <ul>
        <li v-for="each in sets" :key="each.set.id">
          <label>
            <Checkbox
              binary
              size="small"
              :model-value="chosenIds.includes(each.set.id)"
              @update:model-value="toggle(each.set)"
            />
            <img :src="each.picture" alt="" />
            <span
              ><strong>{{ each.set.name }}</strong
              ><span class="soft"
                >{{ each.width }} × {{ each.height }} px{{ each.tiles > 1 ? `, ${each.tiles} tiles` : ''
                }}{{ each.hasMesh ? '' : ', no mesh' }}<br />{{ phraseOfKinds(each.kinds) }}</span
              ></span
            >
          </label>
        </li>
      </ul>
    </section>

    <AtlasPlan
      :size="kept.size"
      :places="plan.places"
      :sets="chosen.map(({ set, picture }) => ({ name: set.name, picture }))"
      :gutter="gutterOf(kept)"
      :snap="snap"
      @place="place"
    />

    <aside class="figures" aria-label="Places" tabindex="0">
      <section class="panel">
        <h2>Position from the lower left, px</h2>
        <p v-if="!plan.places.length" class="soft">Tick image sets on the left.</p>
        <ul class="places">
          <li v-for="(each, i) in plan.places" :key="i">
            <strong>{{ chosen[i]?.set.name }}</strong>
            <span class="row">
              <InputNumber
                :model-value="each.x"
                v-bind="limitsOf(placement, 'x')"
                size="small"
                :use-grouping="false"
                :aria-label="`${chosen[i]?.set.name}, from the left`"
                @update:model-value="place(i, { x: $event ?? 0 })"
              />
              <InputNumber
                :model-value="each.y"
                v-bind="limitsOf(placement, 'x')"
                size="small"
                :use-grouping="false"
                :aria-label="`${chosen[i]?.set.name}, from below`"
                @update:model-value="place(i, { y: $event ?? 0 })"
              />
              <span class="soft">{{ each.width }} px</span>
            </span>
          </li>
        </ul>
        <label v-if="plan.places.length" class="row"
          ><span class="soft">Snap</span>
          <InputNumber v-model="snap" :min="1" :max="1024" suffix=" px" size="small" aria-label="Snap, px" />
        </label>
      </section>
      <section v-if="kinds.length" class="panel">
        <h2>{{ count(kinds.length, 'map') }}</h2>
        <p>{{ phraseOfKinds(kinds) }}</p>
        <p v-if="lacking.length" class="soft">
          Filled with the neutral value: {{ lacking.slice(0, 8).join('; ') }}{{ lacking.length > 8 ? ' …' : '.' }}
        </p>
      </section>
    </aside>
  </main>
</template>

<style scoped>
.place {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  grid-template-columns: 230px minmax(0, 1fr) 244px;
  gap: 10px;
  height: 100%;
  padding: 10px 20px;
}

.sets {
  overflow: auto;
}

.sets label {
  display: grid;
  grid-template-columns: auto 48px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  padding: 6px 0;
}

.sets img {
  width: 48px;
  height: 48px;
  object-fit: cover;
}

.sets strong,
.sets .soft {
  display: block;
  overflow-wrap: anywhere;
}

.sets .soft {
  font-size: var(--text-small);
}

.places {
  display: grid;
  gap: 8px;
  margin-bottom: 8px;
}

.row {
  display: flex;
  gap: 6px;
  align-items: center;
}

.row :deep(.p-inputnumber) {
  flex: 1;
  min-width: 0;
}

.row :deep(input) {
  width: 100%;
  min-width: 0;
}
</style>
