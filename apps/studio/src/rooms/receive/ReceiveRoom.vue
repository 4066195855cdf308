<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue';
import { useRoute } from 'vue-router';
import { describeKind, isMapKind, type MapKind } from '@zographos/core/image';
import { PATHS } from '@zographos/contracts';
import FlatModel from '../flat/model/FlatModel.vue';
import type { BytesImage } from '../../viewport/materials/mapTextures.ts';
import { count } from '../../controls/format.ts';
import { openDelivery, type Delivery } from './openDelivery.ts';

/** Opens a delivery with nothing at hand but its files. */
const route = useRoute();
const delivery = shallowRef<Delivery | null>(null);
const problem = ref<string | null>(null);
const busy = ref('');
const chosenSet = ref<string | null>(null);
const alone = ref<MapKind | null>(null);

async function open(bytes: Promise<ArrayBuffer>, name: string): Promise<void> {
  busy.value = `Opening ${name} …`;
  problem.value = null;
  try {
    delivery.value = await openDelivery(new Uint8Array(await bytes));
    chosenSet.value = [...delivery.value.sets.keys()][0] ?? null;
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error);
  }
  busy.value = '';
}

onMounted(() => {
  const { from } = route.query;
  if (typeof from !== 'string' || !/^[0-9a-f-]{36}$/.test(from)) return;
  void open(
    fetch(PATHS.archive(from)).then((response) => {
      if (!response.ok) throw new Error('This delivery is no longer stored. Deliver it again.');
      return response.arrayBuffer();
    }),
    'the delivery',
  );
});

function drop(event: DragEvent): void {
  const [file] = event.dataTransfer?.files ?? [];
  if (file) void open(file.arrayBuffer(), file.name);
}

function pick(event: Event): void {
  const [file] = (event.target as HTMLInputElement).files ?? [];
  if (file) void open(file.arrayBuffer(), file.name);
}

const maps = computed(
  () => (delivery.value?.sets.get(chosenSet.value ?? '') ?? new Map()) as ReadonlyMap<MapKind, BytesImage>,
);
/** A kind that this version does not know keeps its own name. */
const labelOf = (kind: string): string => (isMapKind(kind) ? describeKind(kind).label : kind);
const faults = computed(() => (delivery.value?.files ?? []).filter(({ fault }) => fault));
</script>

<template>
  <main class="receive" @dragover.prevent @drop.prevent="drop">
    <header>
      <h1>Check a delivery</h1>
      <span class="soft">Reads only the delivered files and their manifest.</span>
      <label class="pick">Open a ZIP <input type="file" accept=".zip" class="unseen" @change="pick" /></label>
      <RouterLink :to="{ name: 'projects' }">All projects</RouterLink>
    </header>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <p v-else-if="busy" role="status">{{ busy }}</p>
    <p v-else-if="!delivery">Drop a delivery here: a ZIP with its manifest.json.</p>
    <template v-if="delivery">
      <FlatModel :maps="maps" :depth="0.02" :tiling="1" :alone="alone" />
      <aside class="figures">
        <section class="panel">
          <h2>{{ delivery.title }}</h2>
          <p class="mark" :class="faults.length ? 'mark-failed' : 'mark-fresh'" role="status">
            <span>{{
              faults.length
                ? `${count(faults.length, 'file')} ${faults.length === 1 ? 'differs' : 'differ'} from the manifest`
                : `${count(delivery.files.length, 'file')}, all match the manifest`
            }}</span>
          </p>
          <p v-if="delivery.sets.size > 1" class="ways">
            <button
              v-for="[name] in delivery.sets"
              :key="name"
              type="button"
              class="plain-button"
              :aria-pressed="name === chosenSet"
              @click="chosenSet = name"
            >
              {{ name }}
            </button>
          </p>
          <p class="ways">
            <button type="button" class="plain-button" :aria-pressed="alone === null" @click="alone = null">
              All maps
            </button>
            <button
              v-for="[name] in maps"
              :key="name"
              type="button"
              class="plain-button"
              :aria-pressed="alone === name"
              @click="alone = name"
            >
              {{ labelOf(name) }}
            </button>
          </p>
        </section>
        <section class="panel">
          <h2>Files</h2>
          <ul>
            <li v-for="file in delivery.files" :key="file.path">
              <strong>{{ file.path }}</strong> <span class="soft">{{ file.holds }}</span>
              <span v-if="file.fault" class="problem">{{ file.fault }}</span>
              <span v-else class="soft">, checksum OK</span>
            </li>
          </ul>
        </section>
      </aside>
    </template>
  </main>
</template>

<style scoped>
.receive {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 10px;
  height: 100%;
  padding: 0 16px 16px;
}

header {
  display: flex;
  grid-column: 1 / -1;
  gap: 16px;
  align-items: center;
  height: 48px;
}

h1 {
  margin: 0;
  font-size: 17px;
}

.pick {
  margin-left: auto;
  cursor: pointer;
  text-decoration: underline;
}

.pick:focus-within {
  outline: 2px solid var(--azurite);
}

.problem {
  color: var(--minium);
}

li {
  padding: 4px 0;
  overflow-wrap: anywhere;
}

button[aria-pressed='true'] {
  font-weight: 700;
}
</style>
