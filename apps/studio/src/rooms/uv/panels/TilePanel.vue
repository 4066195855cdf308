<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import InputText from 'primevue/inputtext';
import { computed, ref } from 'vue';
import { DEFAULT_NAME_PATTERN, type MeshAsset, type TileOfSet } from '@zographos/contracts';
import type { Size } from '@zographos/core/math';
import { FIRST_TILE, LAST_TILE, type SplitBy } from '@zographos/core/uv';
import { CallError } from '../../../api/call.ts';
import Dropdown from '../../../controls/Dropdown.vue';
import { count } from '../../../controls/format.ts';
import { useMeshEdits } from '../../../stores/meshEdits.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useProject } from '../../../stores/project.ts';

/** The UDIM tiles of a layout: each with its size; added, removed and given other numbers. */
const props = defineProps<{
  mesh: MeshAsset;
  uvSet: number;
  /** Of maps on a tile, as tickets have them. */
  sizeOf: (tile: number) => Size;
  /** The islands in each tile. */
  islandsIn: ReadonlyMap<number, number[]>;
}>();
defineEmits<{ split: [SplitBy] }>();
const store = useProject();
const notices = useNotices();
const meshEdits = useMeshEdits();

const set = computed(() =>
  store.project?.imageSets.find(({ receiverId, uvSet }) => receiverId === props.mesh.id && uvSet === props.uvSet),
);
const tiles = computed((): TileOfSet[] => {
  if (set.value?.tiles.length) return set.value.tiles;
  const filled = [...props.islandsIn.keys()];
  return (filled.length > 0 ? filled : [FIRST_TILE]).map((number) => ({ number, ...props.sizeOf(number) }));
});
const SIZES = [256, 512, 1024, 2048, 4096, 8192];
const sizesFor = ({ width, height }: TileOfSet): { value: string; label: string }[] => {
  const all = SIZES.map((side) => ({ value: `${side}x${side}`, label: `${side} px` }));
  const own = `${width}x${height}`;
  return all.some(({ value }) => value === own) ? all : [...all, { value: own, label: `${width} × ${height}` }];
};
const fresh = ref(FIRST_TILE + 1);
/** The tile whose removal was refused, to be confirmed. */
const refused = ref<number | null>(null);
const renamed = ref<{ tile: number; to: number } | null>(null);

async function save(next: TileOfSet[], confirmed = false): Promise<void> {
  const sorted = [...next].sort((a, b) => a.number - b.number);
  await meshEdits.setTiles(props.mesh, { uvSet: props.uvSet, tiles: sorted, confirmed });
}

const resize = (tile: TileOfSet, value: string): void => {
  const [width, height] = value.split('x').map(Number);
  const next = tiles.value.map((each) => (each === tile ? { ...each, width: width!, height: height! } : each));
  void notices.guard(() => save(next));
};

const add = (): void => {
  if (tiles.value.some(({ number }) => number === fresh.value)) return;
  void notices.guard(() => save([...tiles.value, { number: fresh.value, ...props.sizeOf(fresh.value) }]));
};

async function remove(number: number, confirmed = false): Promise<void> {
  refused.value = null;
  try {
    await save(
      tiles.value.filter((tile) => tile.number !== number),
      confirmed,
    );
  } catch (error) {
    notices.say('error', error instanceof Error ? error.message : String(error));
    if (error instanceof CallError && error.code === 'conflict/tile-filled') refused.value = number;
  }
}

async function renumber(): Promise<void> {
  const { value: asked } = renamed;
  renamed.value = null;
  if (!asked || asked.tile === asked.to) return;
  const islands = props.islandsIn.get(asked.tile) ?? [];
  await notices.guard(() => meshEdits.renumber(props.mesh, { uvSet: props.uvSet, ...asked, islands }));
}

function namePattern(event: Event): void {
  const pattern = (event.target as HTMLInputElement).value.trim() || DEFAULT_NAME_PATTERN;
  void notices.guard(() =>
    meshEdits.setTiles(props.mesh, { uvSet: props.uvSet, tiles: tiles.value, namePattern: pattern }),
  );
}
</script>

<template>
  <section class="panel">
    <h2>UDIM tiles</h2>
    <ul>
      <li v-for="tile in tiles" :key="tile.number">
        <template v-if="renamed?.tile === tile.number">
          <InputNumber
            v-model="renamed.to"
            size="small"
            :min="FIRST_TILE"
            :max="LAST_TILE"
            :use-grouping="false"
            :aria-label="`New number of tile ${tile.number}`"
          />
          <button type="button" class="plain-button" @click="renumber">Renumber</button>
        </template>
        <template v-else>
          <button
            v-tooltip="`Give tile ${tile.number} another number`"
            type="button"
            class="plain-button"
            @click="renamed = { tile: tile.number, to: tile.number }"
          >
            {{ tile.number }}
          </button>
          <Dropdown
            :label="`Size of tile ${tile.number}`"
            :value="`${tile.width}x${tile.height}`"
            :options="sizesFor(tile)"
            @choose="resize(tile, $event)"
          />
          <button
            type="button"
            class="plain-button"
            :disabled="tiles.length === 1"
            :aria-label="`Remove tile ${tile.number}`"
            @click="remove(tile.number)"
          >
            Remove
          </button>
          <span class="soft">{{ count(islandsIn.get(tile.number)?.length ?? 0, 'island') }}</span>
        </template>
      </li>
    </ul>
    <p v-if="refused !== null">
      <button type="button" class="plain-button remedy" @click="remove(refused, true)">
        Remove {{ refused }} with its maps
      </button>
    </p>
    <div class="add">
      <InputNumber
        v-model="fresh"
        size="small"
        :min="FIRST_TILE"
        :max="LAST_TILE"
        :use-grouping="false"
        aria-label="Number of a new tile"
      />
      <button type="button" class="plain-button" @click="add">Add tile</button>
    </div>
  </section>
  <section class="panel">
    <h2>File names</h2>
    <InputText
      :model-value="set?.namePattern ?? DEFAULT_NAME_PATTERN"
      size="small"
      maxlength="120"
      aria-label="Name pattern"
      @change="namePattern"
    />
    <p class="soft">{set}, {map}, {tile}, or {u} and {v} counted from 1</p>
  </section>
  <section class="panel">
    <h2>Split {{ mesh.name }}</h2>
    <div class="choices">
      <button type="button" @click="$emit('split', { by: 'tile', uvSet })">By tile</button>
      <button type="button" @click="$emit('split', { by: 'slot' })">By material</button>
      <button type="button" @click="$emit('split', { by: 'part' })">By part</button>
    </div>
    <p class="soft">Makes one mesh per part, with UVs; the original stays.</p>
  </section>
</template>

<style scoped>
ul {
  display: grid;
  gap: 4px;
}

li {
  display: grid;
  grid-template-columns: 46px minmax(0, 1fr) auto;
  align-items: center;
}

li .soft {
  grid-column: 2 / -1;
  font-size: var(--text-small);
}

.add {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-top: 8px;
}

.panel :deep(input) {
  width: 100%;
  min-width: 0;
}

.choices button {
  border: 1px solid var(--line);
}

.remedy {
  padding-left: 0;
}
</style>
