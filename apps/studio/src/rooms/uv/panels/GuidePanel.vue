<script setup lang="ts">
import { computed, ref } from 'vue';
import { PATHS, type MeshAsset } from '@zographos/contracts';
import type { Size } from '@zographos/core/math';
import { MERGED_KINDS } from '@zographos/operations';
import { useProject } from '../../../stores/project.ts';
import CheckLine from '../../../controls/CheckLine.vue';

/** The layout as a picture to paint over, and the meshes as files with all their UV sets. */
const props = defineProps<{
  meshes: readonly MeshAsset[];
  uvSets: readonly number[];
  size: Size;
  tiles: readonly number[];
}>();

const store = useProject();
const FORMATS = [
  { value: 'png', label: 'PNG' },
  { value: 'tif', label: 'TIFF' },
  { value: 'svg', label: 'SVG' },
  { value: 'ora', label: 'OpenRaster' },
  { value: 'psd', label: 'PSD' },
] as const;
const MESH_FORMATS = ['glb', 'obj', 'ply'] as const;
const format = ref<(typeof FORMATS)[number]['value']>('png');
const tile = ref(props.tiles[0]);
const [fill, inner, legend] = [ref(true), ref(true), ref(false)];

/** The image set of this layout, once it has maps that a material can have. */
const worn = computed(() =>
  store.project?.imageSets.find(
    (set) =>
      set.receiverId === props.meshes[0]?.id &&
      set.uvSet === props.uvSets[0] &&
      set.maps.some(
        ({ kind, revisions }) => revisions.length > 0 && (MERGED_KINDS as readonly string[]).includes(kind),
      ),
  ),
);
const ids = computed(() => props.meshes.map(({ id }) => id));
const address = computed(() =>
  PATHS.guide({
    meshes: ids.value,
    uvSets: props.uvSets,
    size: props.size,
    tile: props.tiles.find((each) => each === tile.value) ?? props.tiles[0]!,
    fill: fill.value,
    inner: inner.value,
    legend: legend.value,
    format: format.value,
    set: worn.value?.id,
  }),
);
const picture = computed(() => `${address.value}&look=1`);
</script>

<template>
  <section class="panel">
    <h2>UV layout image</h2>
    <img :src="picture" alt="Preview of the UV layout image" />
    <div v-if="tiles.length > 1" class="choices" role="group" aria-label="Tile of the UV layout image">
      <button v-for="each in tiles" :key="each" type="button" :aria-pressed="each === tile" @click="tile = each">
        {{ each }}
      </button>
    </div>
    <CheckLine label="Fill islands, one colour per part" :value="fill" @change="fill = $event" />
    <CheckLine label="Wireframe within islands" :value="inner" @change="inner = $event" />
    <CheckLine label="Legend" :value="legend" @change="legend = $event" />
    <div class="choices" role="group" aria-label="Format">
      <button
        v-for="{ value, label } in FORMATS"
        :key="value"
        type="button"
        :aria-pressed="format === value"
        @click="format = value"
      >
        {{ label }}
      </button>
    </div>
    <a :href="address" download>Save at {{ size.width }} × {{ size.height }} px</a>
  </section>
  <section class="panel">
    <h2>Export meshes</h2>
    <p class="soft">With all UV sets in their order, material slots and images.</p>
    <p class="files">
      <a v-for="each in MESH_FORMATS" :key="each" :href="PATHS.meshFile(ids, each)" download>{{
        each.toUpperCase()
      }}</a>
    </p>
    <template v-if="worn">
      <p class="soft">glTF with the maps of “{{ worn.name }}” as material:</p>
      <p class="files">
        <a :href="PATHS.wornMesh(worn.id, 'inside')" download>Embedded images</a>
        <a :href="PATHS.wornMesh(worn.id, 'beside')" download>Separate images</a>
      </p>
    </template>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 6px;
  justify-items: start;
}

img {
  width: 100%;
  background: var(--surround);
}

label {
  display: flex;
  gap: 6px;
  align-items: baseline;
  min-height: 24px;
}

.files {
  display: flex;
  gap: 12px;
}

a {
  min-height: 24px;
}

.choices button {
  border: 1px solid var(--line);
}
</style>
