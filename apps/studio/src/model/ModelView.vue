<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core';
import { computed, onMounted, onUnmounted, ref, watch } from 'vue';
import { PATHS, type MapRevision, type MeshAsset } from '@zographos/contracts';
import { useLight } from '../stores/light.ts';
import { useNotices } from '../stores/notices.ts';
import { loadGeometry } from './loadGeometry.ts';
import { LOOKS, ModelScene, type Look, type NormalReading } from './modelScene.ts';

const props = defineProps<{
  receiver: MeshAsset;
  source: MeshAsset | null;
  /** What the receiver is lit with, and the map that can be shown alone. */
  maps: { normal: MapRevision | null; occlusion: MapRevision | null; chosen: MapRevision | null };
  /** What the chosen map is called. */
  kind?: string;
  uvSet: number;
  reading?: NormalReading;
}>();

const PICTURE_SIDE = 2048;
const notices = useNotices();
const light = useLight();
const canvas = ref<HTMLCanvasElement | null>(null);
const holder = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(holder);
const look = ref<Look>('lit');
const edges = ref(false);
const showsSource = ref(false);
const busy = ref('');
let scene: ModelScene | null = null;
let sourceLoaded = '';

const caption = computed(() => {
  if (showsSource.value && props.source) return props.source.name;
  if (look.value === 'map alone') return `${props.receiver.name}, ${props.kind ?? 'map'} alone`;
  const worn = [props.maps.normal && 'normal', props.maps.occlusion && 'occlusion'].filter(Boolean);
  if (worn.length === 0) return props.receiver.name;
  return `${props.receiver.name}, with its ${worn.join(' and ')} map${worn.length > 1 ? 's' : ''}`;
});
const mapsWanted = computed(() =>
  [
    props.maps.normal?.id,
    props.maps.occlusion?.id,
    props.maps.chosen?.id,
    props.reading?.space,
    props.reading?.y,
  ].join(),
);
const looks = computed((): readonly Look[] =>
  props.maps.chosen ? LOOKS : LOOKS.filter((name) => name !== 'map alone'),
);

async function loadReceiver(): Promise<void> {
  busy.value = 'Preparing the mesh …';
  const geometry = await notices.guard(() => loadGeometry(props.receiver.contentHash, props.uvSet));
  busy.value = '';
  if (!geometry) return;
  scene?.setBody('receiver', geometry);
  await loadMaps();
}

/** The pictures of the maps on the receiver: a map that is worn and chosen is fetched once. */
const pictures = new Map<string, Promise<ImageBitmap>>();

function pictureOf(map: MapRevision | null): Promise<ImageBitmap | null> {
  if (!map) return Promise.resolve(null);
  const known = pictures.get(map.id);
  if (known) return known;
  const picture = fetch(PATHS.picture(map.id, PICTURE_SIDE))
    .then((response) => response.blob())
    .then((blob) => createImageBitmap(blob, { colorSpaceConversion: 'none', premultiplyAlpha: 'none' }));
  // One that could not be had is asked for again next time.
  picture.catch(() => pictures.delete(map.id));
  pictures.set(map.id, picture);
  return picture;
}

async function loadMaps(): Promise<void> {
  const { normal, occlusion, chosen } = props.maps;
  const wanted = mapsWanted.value;
  if (normal ?? occlusion ?? chosen) busy.value = 'Loading the maps …';
  const loaded = await notices.guard(() => Promise.all([normal, occlusion, chosen].map(pictureOf)));
  if (wanted !== mapsWanted.value) return;
  busy.value = '';
  if (!loaded) return;
  const worn = [normal?.id, occlusion?.id, chosen?.id];
  for (const id of pictures.keys()) if (!worn.includes(id)) pictures.delete(id);
  const [normalPicture = null, occlusionPicture = null, chosenPicture = null] = loaded;
  scene?.setMaps(
    { normal: normalPicture, occlusion: occlusionPicture, chosen: chosenPicture },
    props.reading ?? { space: 'tangent', y: 'up' },
  );
}

/** The source may be huge, so it is fetched when it is first asked for. */
async function toggleSource(on: boolean): Promise<void> {
  if (!props.source || on === showsSource.value) return;
  showsSource.value = on;
  if (on && sourceLoaded !== props.source.contentHash) {
    busy.value = 'Preparing the source …';
    const geometry = await notices.guard(() => loadGeometry(props.source!.contentHash, 99));
    busy.value = '';
    if (geometry) {
      scene?.setBody('source', geometry);
      sourceLoaded = props.source.contentHash;
    }
  }
  scene?.show(showsSource.value && sourceLoaded ? 'source' : 'receiver');
}

onMounted(() => {
  scene = new ModelScene(canvas.value!);
  surround();
  void loadReceiver();
});
onUnmounted(() => scene?.close());

function surround(): void {
  scene?.setSurround(getComputedStyle(document.documentElement).getPropertyValue('--surround'));
}

watch([width, height], ([w, h]) => w > 0 && h > 0 && scene?.resize(w, h));
watch(() => [props.receiver.contentHash, props.uvSet].join(), loadReceiver);
watch(mapsWanted, loadMaps);
watch(look, (name) => scene?.setLook(name));
watch(edges, (on) => scene?.setEdges(on));
watch(() => light.light, surround, { flush: 'post' });
watch(looks, (names) => {
  if (!names.includes(look.value)) look.value = 'lit';
});

const isTyping = (event: KeyboardEvent): boolean =>
  event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [role="dialog"]') !== null;

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event) || event.ctrlKey || event.altKey || event.metaKey) return;
  if (event.key === 's') void toggleSource(true);
  else if (event.key === 'e') edges.value = !edges.value;
  else if (event.key === 'v') look.value = looks.value[(looks.value.indexOf(look.value) + 1) % looks.value.length]!;
  else if (event.key === ',') scene?.turnLight(-10, 0);
  else if (event.key === '.') scene?.turnLight(10, 0);
});
useEventListener(document, 'keyup', (event: KeyboardEvent) => {
  if (event.key === 's') void toggleSource(false);
});
</script>

<template>
  <figure ref="holder" class="model">
    <canvas ref="canvas" :aria-label="`${caption}, in three dimensions`" role="img" />
    <figcaption>{{ busy || caption }}</figcaption>
    <div class="choices laid-over">
      <button
        v-if="source"
        type="button"
        :aria-pressed="showsSource"
        title="Hold S"
        @click="toggleSource(!showsSource)"
      >
        source
      </button>
      <button v-for="name in looks" :key="name" type="button" :aria-pressed="look === name" @click="look = name">
        {{ name }}
      </button>
      <button type="button" :aria-pressed="edges" @click="edges = !edges">edges</button>
    </div>
  </figure>
</template>

<style scoped>
.model {
  position: relative;
  overflow: hidden;
  min-width: 0;
  min-height: 0;
  margin: 0;
  background: var(--surround);
}

canvas {
  position: absolute;
  width: 100%;
  height: 100%;
  touch-action: none;
}

figcaption {
  position: absolute;
  top: 8px;
  left: 10px;
  padding: 1px 6px;
  background: var(--paper);
}
</style>
