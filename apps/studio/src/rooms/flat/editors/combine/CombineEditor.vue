<script setup lang="ts">
import Button from 'primevue/button';
import { computed, ref, watch } from 'vue';
import { describeKind, MAP_KIND_IDS, type MapKind } from '@zographos/core/image';
import { combineSettings, type CombineSettings } from '@zographos/operations';
import CheckLine from '../../../../controls/CheckLine.vue';
import SizeFields from '../../../../controls/SizeFields.vue';
import { useProject } from '../../../../stores/project.ts';
import { madeMaps, withImage } from '../../imagesOfTicket.ts';
import LayerList from '../LayerList.vue';
import MapHeading from '../MapHeading.vue';
import CombineLayerEditor from './CombineLayerEditor.vue';

/** What can be said about maps that are combined from images and channels, slot by slot. */
const props = defineProps<{
  settings: CombineSettings;
  slotName: string;
  images: string[];
  /** The map that is looked at. */
  kind: MapKind | undefined;
  /** The maps that the ticket makes, of which it cannot be made. */
  own: readonly string[];
}>();
/** With all images of the ticket, where another is put among them. */
const emit = defineEmits<{ move: [CombineSettings]; change: [CombineSettings, string, string[]?]; kind: [MapKind] }>();
const store = useProject();

type CombinedMap = CombineSettings['maps'][number];
type Layer = CombinedMap['layers'][number];
const at = computed(() =>
  Math.max(
    0,
    props.settings.maps.findIndex(({ kind }) => kind === props.kind),
  ),
);
const map = computed(() => props.settings.maps[at.value]!);
const chosen = ref(0);
watch(at, () => (chosen.value = 0));
const index = computed(() => Math.min(chosen.value, map.value.layers.length - 1));
const layer = computed(() => map.value.layers[index.value]!);

const nameOf = ({ image }: Layer): string =>
  props.images[image] ? store.pictureName(props.images[image]) : 'No image';
const choices = computed(() => {
  const sets = (store.project?.imageSets ?? []).flatMap((set) => madeMaps(set).map(({ id }) => id));
  const all = new Set([...props.images, ...store.images.map(({ id }) => id), ...sets]);
  return [...all].filter((id) => !props.own.includes(id)).map((id) => ({ value: id, label: store.pictureName(id) }));
});

const withMap = (part: Partial<CombinedMap>): CombineSettings => ({
  ...props.settings,
  maps: props.settings.maps.map((each, i) => (i === at.value ? { ...each, ...part } : each)),
});
const withLayer = (part: Partial<Layer>): CombineSettings =>
  withMap({ layers: map.value.layers.map((each, i) => (i === index.value ? { ...each, ...part } : each)) });

/** An image of the project for a layer: one of the ticket's, or one that is put among them. */
function useImage(id: string, part: (image: number) => Partial<Layer>): void {
  const { settings, images } = props;
  const used = store.project && withImage({ pictures: settings.pictures, images }, id, store.project);
  if (used) emit('change', { ...withLayer(part(used.number)), pictures: used.pictures }, 'layer', used.images);
}

const NEW_LAYER = combineSettings.shape.maps.element.shape.layers.unwrap().element.parse({});

function addLayer(): void {
  chosen.value = map.value.layers.length;
  emit('change', withMap({ layers: [...map.value.layers, NEW_LAYER] }), 'layers');
}

function removeLayer(): void {
  const layers = map.value.layers.filter((_, i) => i !== index.value);
  chosen.value = Math.max(0, index.value - 1);
  emit('change', withMap({ layers }), 'layers');
}

const kinds = computed(() => props.settings.maps.map(({ kind }) => kind));
const freeKind = computed(() => MAP_KIND_IDS.find((kind) => !kinds.value.includes(kind)));

function addMap(kind: MapKind): void {
  emit('change', { ...props.settings, maps: [...props.settings.maps, { kind, layers: [NEW_LAYER] }] }, 'maps');
  emit('kind', kind);
}
</script>

<template>
  <div class="editor">
    <template v-if="slotName === 'layers'">
      <LayerList
        :label="`Layers of ${describeKind(map.kind).phrase}`"
        :layers="map.layers.map((each) => ({ ...each, name: nameOf(each) }))"
        :chosen="index"
        @choose="chosen = $event"
        @add="addLayer"
        @remove="removeLayer"
      />
      <CombineLayerEditor
        :layer="layer"
        :kind="map.kind"
        :is-lowest="index === 0"
        :images="images"
        :choices="choices"
        @move="emit('move', withLayer($event))"
        @change="emit('change', withLayer($event), 'layer')"
        @image="useImage"
      />
    </template>

    <template v-else-if="slotName === 'maps'">
      <section v-for="(each, i) in settings.maps" :key="each.kind">
        <MapHeading
          :at="i"
          :kinds="kinds"
          @choose="
            emit(
              'change',
              { ...settings, maps: settings.maps.map((own, k) => (k === i ? { ...own, kind: $event } : own)) },
              'maps',
            )
          "
          @remove="emit('change', { ...settings, maps: settings.maps.filter((_, k) => k !== i) }, 'maps')"
        />
        <p class="soft">{{ each.layers.length === 1 ? '1 layer' : `${each.layers.length} layers` }}</p>
      </section>
      <Button v-if="freeKind" label="Add a map" size="small" outlined @click="addMap(freeKind)" />
    </template>

    <template v-else-if="slotName === 'pictures'">
      <p v-for="(id, i) in images" :key="id">
        <strong>{{ store.pictureName(id) }}</strong>
        <span class="soft"> {{ describeKind(settings.pictures[i]?.kind ?? 'basecolor').phrase }}</span>
      </p>
      <p class="soft">Images are brought in where a layer, a mask or a match uses them.</p>
    </template>

    <template v-else-if="slotName === 'size'">
      <SizeFields :size="settings.size" @change="emit('change', { ...settings, size: $event }, 'size')" />
      <CheckLine
        label="Images tile"
        :value="settings.repeats"
        @change="emit('change', { ...settings, repeats: $event }, 'tiling')"
      />
    </template>
  </div>
</template>
