<script setup lang="ts">
import Button from 'primevue/button';
import Popover from 'primevue/popover';
import { ref } from 'vue';
import type { Layer } from '@zographos/core/layers';
import { PATHS, type Coating, type ImageSet } from '@zographos/contracts';
import FilePicker from '../../controls/FilePicker.vue';
import type { NewLayer } from './newLayers.ts';

/** What may be laid on next, the likely first. */
defineProps<{
  layers: readonly NewLayer[];
  /** The library of coatings. */
  coatings: readonly Coating[];
  /** Addresses of the UV guide as layered files, for each tile. */
  guides: readonly { tile: number; ora: string; psd: string }[];
}>();
const emit = defineEmits<{
  add: [NewLayer];
  lay: [Coating];
  remove: [Coating];
  bringIn: [File[]];
  layered: [File[]];
}>();
const popover = ref<InstanceType<typeof Popover> | null>(null);

function faceOf({ maps }: ImageSet): string | null {
  const made = maps.filter(({ revisions }) => revisions[0]);
  const map = made.find(({ kind }) => kind === 'basecolor') ?? made[0];
  return map ? PATHS.blob(map.revisions[0]!.thumbnailHash) : null;
}

/** The colours that a layer is known by, those of a group from the ground upwards. */
function colorsOf(layer: Layer): string[] {
  if (layer.content === 'group') return layer.layers.flatMap(colorsOf);
  if (layer.content === 'plain') return typeof layer.values.basecolor === 'string' ? [layer.values.basecolor] : [];
  return layer.content === 'field' ? (layer.ramp ?? []).map(({ color }) => color) : [];
}

function swatchOf({ layer }: NewLayer): string {
  const colors = colorsOf(layer);
  return colors.length > 1 ? `linear-gradient(135deg, ${colors.join(', ')})` : (colors[0] ?? 'transparent');
}

function lay(coating: Coating): void {
  popover.value?.hide();
  emit('lay', coating);
}

function add(layer: NewLayer): void {
  popover.value?.hide();
  emit('add', layer);
}
</script>

<template>
  <Button label="Add a layer" size="small" outlined aria-haspopup="dialog" @click="popover?.toggle($event)" />
  <Popover ref="popover" aria-label="Layers that can be added">
    <ul class="offers">
      <li v-for="each in layers" :key="each.title">
        <button type="button" @click="add(each)">
          <img v-if="each.material && faceOf(each.material)" :src="faceOf(each.material)!" alt="" />
          <span v-else class="swatch" :style="{ background: swatchOf(each) }" />
          <span>
            <strong>{{ each.title }}</strong>
            <span class="soft">{{ each.hint }}</span>
          </span>
        </button>
      </li>
    </ul>
    <h3>Kept coatings</h3>
    <ul class="kept">
      <li v-for="each in coatings" :key="each.id">
        <button type="button" class="plain-button" @click="lay(each)">{{ each.name }}</button>
        <a class="plain-button" :href="PATHS.coatingFile(each.id)">Download</a>
        <button type="button" class="plain-button" @click="emit('remove', each)">Remove</button>
      </li>
      <li v-if="coatings.length === 0" class="soft">None yet. Choose a layer or a group, and keep it as a coating.</li>
    </ul>
    <FilePicker label="Import a coating …" accept=".zip" @files="emit('bringIn', $event)" />
    <template v-if="guides.length > 0">
      <h3>Painted elsewhere</h3>
      <p class="guides">
        UV guide with maps:
        <template v-for="{ tile, ora, psd } in guides" :key="tile">
          <span v-if="guides.length > 1" class="soft">{{ tile }}</span>
          <a :href="ora" download>OpenRaster</a>
          <a :href="psd" download>PSD</a>
        </template>
      </p>
      <FilePicker label="Import a layered file …" accept=".ora,.psd" @files="emit('layered', $event)" />
    </template>
  </Popover>
</template>

<style scoped>
.offers {
  display: grid;
  grid-template-columns: repeat(2, 220px);
  gap: 2px 8px;
  max-height: 60vh;
  overflow: auto;
}

.kept {
  max-height: 120px;
  margin-bottom: 6px;
  overflow: auto;
}

.guides {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  margin: 0 0 6px;
}

.kept li {
  display: flex;
  gap: 8px;
}

.kept li > :first-child {
  flex: 1;
  text-align: left;
}

.offers button {
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  width: 100%;
  padding: 4px;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.offers button:hover {
  background: var(--azurite-wash);
}

.offers button > span:last-child {
  display: grid;
}

img,
.swatch {
  width: 40px;
  height: 40px;
  border: 1px solid var(--line);
  object-fit: cover;
}
</style>
