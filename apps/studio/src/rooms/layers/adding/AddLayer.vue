<script setup lang="ts">
import Button from 'primevue/button';
import Popover from 'primevue/popover';
import { ref } from 'vue';
import type { Layer } from '@zographos/core/layers';
import { PATHS, type Coating, type ImageSet } from '@zographos/contracts';
import OfferPicture from './OfferPicture.vue';
import type { OfferPicture as OfferPictureBytes } from '../preview/useLayersPreview.ts';
import FilePicker from '../../../controls/FilePicker.vue';
import type { NewLayer } from './newLayers.ts';

/** What may be laid on next, the likely first. */
defineProps<{
  layers: readonly NewLayer[];
  /** The library of coatings. */
  coatings: readonly Coating[];
  /** Addresses of the UV guide as layered files, for each tile. */
  guides: readonly { tile: number; ora: string; psd: string }[];
  /** How the model would look with them, by title, as far as that is known. */
  pictures: ReadonlyMap<string, OfferPictureBytes>;
}>();
const emit = defineEmits<{
  open: [];
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
  <Popover ref="popover" aria-label="Layers that can be added" @show="emit('open')">
    <ul class="offers">
      <li v-for="each in layers" :key="each.title">
        <button type="button" :title="each.hint" @click="add(each)">
          <OfferPicture
            v-if="pictures.get(each.title)"
            class="picture"
            :picture="pictures.get(each.title)!"
            aria-hidden="true"
          />
          <img
            v-else-if="each.material && faceOf(each.material)"
            class="picture"
            :src="faceOf(each.material)!"
            alt=""
          />
          <span v-else class="picture swatch" :style="{ background: swatchOf(each) }">
            <span v-if="each.bakesFirst">a run bakes {{ each.bakesFirst }} first</span>
          </span>
          <span class="title">{{ each.title }}</span>
        </button>
      </li>
    </ul>
    <div class="besides">
      <section>
        <h3>Kept coatings</h3>
        <ul class="kept">
          <li v-for="each in coatings" :key="each.id">
            <button type="button" class="plain-button" @click="lay(each)">{{ each.name }}</button>
            <a class="plain-button" :href="PATHS.coatingFile(each.id)">Download</a>
            <button type="button" class="plain-button" @click="emit('remove', each)">Remove</button>
          </li>
          <li v-if="coatings.length === 0" class="soft">
            None yet. Choose a layer or a group, and keep it as a coating.
          </li>
        </ul>
        <FilePicker label="Import a coating …" accept=".zip" outlined @files="emit('bringIn', $event)" />
      </section>
      <section v-if="guides.length > 0">
        <h3>Painted elsewhere</h3>
        <p class="guides">
          <span>Paint over the UV guide with its maps, and import the file again whenever it is newer:</span>
          <template v-for="{ tile, ora, psd } in guides" :key="tile">
            <span v-if="guides.length > 1" class="soft">{{ tile }}</span>
            <a :href="ora" download>OpenRaster</a>
            <a :href="psd" download>PSD</a>
          </template>
        </p>
        <FilePicker label="Import a layered file …" accept=".ora,.psd" outlined @files="emit('layered', $event)" />
      </section>
    </div>
  </Popover>
</template>

<style scoped>
.offers {
  display: grid;
  grid-template-columns: repeat(7, 84px);
  gap: 2px 4px;
  max-height: 54vh;
  overflow: auto;
}

/* As wide as the offers above it, whatever it says. */
.besides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  width: 0;
  min-width: 100%;
  gap: 24px;
  padding-top: 8px;
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
  gap: 2px;
  align-content: start;
  justify-items: center;
  width: 100%;
  height: 100%;
  padding: 4px 2px;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}

.offers button:hover {
  background: var(--azurite-wash);
}

.title {
  font-size: var(--text-small);
  line-height: 1.2;
  text-align: center;
}

.picture {
  width: 72px;
  height: 72px;
  object-fit: cover;
}

.swatch {
  display: grid;
  place-items: center;
  border: 1px solid var(--line);
  color: var(--ink-soft);
  font-size: 11px;
  line-height: 1.2;
}
</style>
