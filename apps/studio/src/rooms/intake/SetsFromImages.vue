<script setup lang="ts">
import Button from 'primevue/button';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { PATHS } from '@zographos/contracts';
import { describeKind } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import { ticketsOfSet, type ProposedSet } from '@zographos/operations';
import CheckLine from '../../controls/CheckLine.vue';
import Dropdown from '../../controls/Dropdown.vue';
import { count } from '../../controls/format.ts';
import NameField from '../../controls/NameField.vue';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';

/** Imported images as the image sets that they are, to be corrected and made at once. */
const props = defineProps<{ proposed: ProposedSet[] }>();
const emit = defineEmits<{ close: [] }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();

interface Choice extends ProposedSet {
  isWanted: boolean;
  uvSet: number;
}
const sets = ref<Choice[]>(props.proposed.map((set) => ({ ...set, isWanted: true, uvSet: 0 })));
const wanted = computed(() => sets.value.filter(({ isWanted }) => isWanted));
const isBusy = ref(false);

const NO_MESH = 'none';
const meshes = computed(() => [
  { value: NO_MESH, label: 'No mesh (tiling material)' },
  ...store.meshes
    .filter(({ inspection }) => inspection.uvSets.length > 0)
    .map(({ id, name }) => ({ value: id, label: name })),
]);
const uvSetsOf = (meshId: string | null) =>
  (store.meshById(meshId ?? '')?.inspection.uvSets ?? []).map((label, value) => ({ value, label }));

const imageOf = (id: string) => store.images.find((image) => image.id === id);
const namesOf = (ids: readonly string[]): string => ids.map((id) => imageOf(id)?.name ?? 'deleted image').join(', ');
/** The images of a set, each with the maps that it holds. */
const imagesOf = ({ maps }: ProposedSet) =>
  [...new Set(maps.map(({ image }) => image))].map((id) => {
    const own = maps.filter(({ image }) => image === id);
    const labels = own.map(({ meaning }) => describeKind(meaning.kind).label);
    const [{ tile, width, height }] = own as [(typeof own)[number]];
    return {
      ...{ id, labels: labels.join(', '), size: `${width} × ${height} px` },
      tile: tile === FIRST_TILE ? '' : `, tile ${tile}`,
    };
  });

function carry(set: Choice, meshId: string): void {
  set.meshId = meshId === NO_MESH ? null : meshId;
  set.uvSet = 0;
}

/** Makes the tickets of all sets that are wanted, and sets them to run. */
async function make(): Promise<void> {
  isBusy.value = true;
  for (const set of wanted.value) {
    let imageSetId: string | null = null;
    for (const { name, operation, settings, pictures } of ticketsOfSet(set, set.uvSet)) {
      const made = await notices.guard(() =>
        operation === 'bake'
          ? store.createTicket({
              ...{ name, operation, settings },
              inputs: { receivers: [set.meshId!], sources: [set.meshId!], pictures },
            })
          : store.createTicket({
              ...{ name, operation, settings },
              inputs: { receivers: [], sources: [], pictures },
              set: imageSetId ? { id: imageSetId } : { name: set.name },
            }),
      );
      if (!made) {
        isBusy.value = false;
        return;
      }
      imageSetId = made.imageSetId;
      await notices.guard(() => store.runTicket(made.id));
    }
  }
  isBusy.value = false;
  await router.push({ name: 'contactSheet', params: { projectId: store.project!.id } });
}
</script>

<template>
  <section class="panel sets" aria-label="Image sets from images">
    <header>
      <h2>Image sets from images</h2>
      <p class="soft">
        Images are grouped by name. Each set can be placed in an atlas, proved and delivered as if it had been baked
        here.
      </p>
    </header>
    <ul>
      <li v-for="set in sets" :key="set.maps[0]!.image">
        <div class="head">
          <CheckLine :label="`Make ${set.name}`" :value="set.isWanted" @change="set.isWanted = $event" />
          <label v-if="!set.meshId">
            <span class="soft">Name</span>
            <NameField
              label="Name of the set"
              :value="set.name"
              :length="120"
              usual="Images"
              @change="set.name = $event"
            />
          </label>
          <label>
            <span class="soft">On</span>
            <Dropdown
              :label="`Mesh of ${set.name}`"
              :value="set.meshId ?? NO_MESH"
              :options="meshes"
              @choose="carry(set, $event)"
            />
          </label>
          <label v-if="uvSetsOf(set.meshId).length > 1">
            <span class="soft">UV set</span>
            <Dropdown
              :label="`UV set of ${set.name}`"
              :value="set.uvSet"
              :options="uvSetsOf(set.meshId)"
              @choose="set.uvSet = $event"
            />
          </label>
        </div>
        <ul class="images">
          <li v-for="{ id, labels, size, tile } in imagesOf(set)" :key="id">
            <img :src="PATHS.blob(imageOf(id)?.thumbnailHash ?? '')" alt="" />
            <span>{{ labels }}</span>
            <span class="soft">{{ imageOf(id)?.name }}, {{ size }}{{ tile }}</span>
          </li>
        </ul>
        <p v-if="set.leftOut.length" class="soft">
          Left out, because another image holds the same map: {{ namesOf(set.leftOut) }}.
        </p>
        <p v-if="set.meshId" class="soft">
          Whether these images were made for its UVs cannot be checked; look at them on the model.
        </p>
      </li>
    </ul>
    <footer>
      <Button
        :label="`Make ${count(wanted.length, 'image set')}`"
        :disabled="wanted.length === 0 || isBusy"
        :loading="isBusy"
        @click="make"
      />
      <Button label="Cancel" outlined severity="secondary" @click="emit('close')" />
    </footer>
  </section>
</template>

<style scoped>
.sets {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  grid-column: 2 / -1;
  gap: 12px;
  min-height: 0;
}

.sets > ul {
  display: grid;
  gap: 14px;
  align-content: start;
  overflow: auto;
}

.sets > ul > li {
  padding-top: 10px;
  border-top: 1px solid var(--line);
}

.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  align-items: center;
  margin-bottom: 8px;
}

.head label {
  display: flex;
  gap: 8px;
  align-items: center;
}

.images {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 10px;
}

.images li {
  display: grid;
  gap: 2px;
}

.images img {
  width: 100%;
  height: 96px;
  background: var(--surround);
  object-fit: contain;
}

footer {
  display: flex;
  gap: 10px;
}
</style>
