<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core';
import { computed, onMounted, onUnmounted, ref, watch } from 'vue';
import { PATHS, type MapRevision, type MeshAsset, type Shell } from '@zographos/contracts';
import type { ReachTouch } from '@zographos/core/bake';
import { isTyping } from '../controls/isTyping.ts';
import { useLight } from '../stores/light.ts';
import { useNotices } from '../stores/notices.ts';
import { loadGeometry } from './loadGeometry.ts';
import { LOOKS, ModelScene, type Look, type NormalReading, type Place } from './modelScene.ts';
import { WORN, type Worn, type WornMaps, type WornPictures } from './wornMaps.ts';

const props = defineProps<{
  /** The meshes that carry the maps. */
  receivers: MeshAsset[];
  sources: MeshAsset[];
  /** What the receivers are lit with, and the map that can be shown alone, tile by tile. */
  maps: WornMaps[];
  /** What the chosen map is called. */
  kind?: string;
  uvSet: number;
  reading?: NormalReading;
  /** How far rays reach, shown around the receivers. */
  shell?: Shell | null;
  /** Where both sides of seams differ. */
  heat?: { heat: number[]; worst: number } | null;
  /** Dragging over the model changes the reach there. */
  brush?: { radius: number; factor: number } | null;
  /** Colours laid over the receivers: r, g, b and how much they count, for each triangle. */
  tint?: Uint8Array | null;
  /** What is shown first. */
  start?: Look;
}>();

const emit = defineEmits<{
  touch: [ReachTouch[]];
  /** A triangle of the receivers was clicked on, or the room beside them. */
  pick: [{ triangle: number | null; add: boolean }];
}>();

const PICTURE_SIDE = 2048;
const notices = useNotices();
const light = useLight();
const canvas = ref<HTMLCanvasElement | null>(null);
const holder = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(holder);
const look = ref<Look>(props.start ?? 'lit');
const edges = ref(false);
const showsSource = ref(false);
const busy = ref('');
let scene: ModelScene | null = null;
let sourceLoaded = '';
const sourceKey = computed(() => props.sources.map(({ contentHash }) => contentHash).join());

const names = (meshes: MeshAsset[]): string =>
  meshes.length > 3 ? `${meshes.length} meshes` : meshes.map(({ name }) => name).join(', ');
const hasMap = (which: Worn): boolean => props.maps.some((tile) => tile[which]);

const caption = computed(() => {
  if (showsSource.value && props.sources.length > 0) return names(props.sources);
  const title = names(props.receivers);
  if (look.value === 'map alone') return `${title}, ${props.kind ?? 'map'} alone`;
  const worn = (['color', 'normal', 'occlusion'] as const).filter(hasMap);
  if (worn.length === 0) return title;
  return `${title}, with its ${worn.join(' and ')} map${worn.length > 1 ? 's' : ''}`;
});
const mapsWanted = computed(() =>
  [
    ...props.maps.flatMap((map) => [map.tile, ...WORN.map((worn) => map[worn]?.id)]),
    props.reading?.space,
    props.reading?.y,
  ].join(),
);
const looks = computed((): readonly Look[] =>
  hasMap('chosen') ? LOOKS : LOOKS.filter((name) => name !== 'map alone'),
);

const hashesOf = (meshes: MeshAsset[]): string[] => meshes.map(({ contentHash }) => contentHash);

async function loadReceiver(): Promise<void> {
  busy.value = 'Preparing the mesh …';
  const geometry = await notices.guard(() => loadGeometry(hashesOf(props.receivers), props.uvSet));
  busy.value = '';
  if (!geometry) return;
  scene?.setBody('receiver', geometry);
  scene?.setTint(props.tint ?? null);
  showShell();
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
  const { maps } = props;
  const wanted = mapsWanted.value;
  const revisions = maps.flatMap((map) => WORN.map((worn) => map[worn]));
  if (revisions.some((revision) => revision)) busy.value = 'Loading the maps …';
  const loaded = await notices.guard(() => Promise.all(revisions.map(pictureOf)));
  if (wanted !== mapsWanted.value) return;
  busy.value = '';
  if (!loaded) return;
  const worn = revisions.map((revision) => revision?.id);
  for (const id of pictures.keys()) if (!worn.includes(id)) pictures.delete(id);
  const byTile = maps.map(({ tile }, i): [number, WornPictures] => {
    const pictureOfWorn = WORN.map((worn, k) => [worn, loaded[i * WORN.length + k] ?? null]);
    return [tile, Object.fromEntries(pictureOfWorn) as WornPictures];
  });
  scene?.setMaps(new Map(byTile), props.reading ?? { space: 'tangent', y: 'up' });
}

/** The source may be huge, so it is fetched when it is first asked for. */
async function toggleSource(on: boolean): Promise<void> {
  if (props.sources.length === 0 || on === showsSource.value) return;
  showsSource.value = on;
  if (on && sourceLoaded !== sourceKey.value) {
    busy.value = 'Preparing the source …';
    const geometry = await notices.guard(() => loadGeometry(hashesOf(props.sources), 99));
    busy.value = '';
    if (geometry) {
      scene?.setBody('source', geometry);
      sourceLoaded = sourceKey.value;
    }
  }
  scene?.show(showsSource.value && sourceLoaded ? 'source' : 'receiver');
}

onMounted(() => {
  scene = new ModelScene(canvas.value!);
  surround();
  scene.setLook(look.value);
  showHeat();
  void loadReceiver();
});
onUnmounted(() => scene?.close());

function surround(): void {
  scene?.setSurround(getComputedStyle(document.documentElement).getPropertyValue('--surround'));
}

watch([width, height], ([w, h]) => w > 0 && h > 0 && scene?.resize(w, h));
watch(() => [...hashesOf(props.receivers), props.uvSet].join(), loadReceiver);
watch(mapsWanted, loadMaps);
watch(look, (name) => scene?.setLook(name));
watch(edges, (on) => scene?.setEdges(on));
watch(() => light.light, surround, { flush: 'post' });
watch(looks, (names) => {
  if (!names.includes(look.value)) look.value = 'lit';
});

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

/** How far rays reach, laid around the receiver as far as it is known. */
function showShell(): void {
  const { shell } = props;
  if (!shell) {
    scene?.setShell(null);
    return;
  }
  const joined = (side: 'out' | 'in'): Float32Array => Float32Array.from(shell.receivers.flatMap((each) => each[side]));
  scene?.setShell({ out: joined('out'), in: joined('in') });
}
watch(() => props.shell, showShell);
const showHeat = (): void => scene?.setHeat(props.heat?.heat ?? [], props.heat?.worst ?? 1);
watch(() => props.heat, showHeat);
watch(
  () => props.tint,
  (tint) => scene?.setTint(tint ?? null),
);

let stroke: ReachTouch[] = [];

function paint(event: PointerEvent): void {
  if (!props.brush || !canvas.value || !(event.buttons & 1)) return;
  const { width: w, height: h } = canvas.value.getBoundingClientRect();
  const place = scene?.under(event.offsetX / w, event.offsetY / h)?.place;
  if (!place) return;
  const { radius, factor } = props.brush;
  const last = stroke.at(-1)?.at;
  // A stroke sets down a touch wherever it has gone on by half the brush.
  if (last && Math.hypot(...place.map((value, k) => value - last[k]!)) < radius / 2) return;
  stroke.push({ at: [...place], radius, out: factor, in: factor });
}

/** Where the pointer went down: a click is what ends about there. */
let pressed: { x: number; y: number } | null = null;

function press(event: PointerEvent): void {
  pressed = event.button === 0 ? { x: event.offsetX, y: event.offsetY } : null;
  paint(event);
}

function release(event: PointerEvent): void {
  endStroke();
  if (!pressed || props.brush || !canvas.value) return;
  if (Math.hypot(event.offsetX - pressed.x, event.offsetY - pressed.y) > 3) return;
  const { width: w, height: h } = canvas.value.getBoundingClientRect();
  const hit = scene?.under(event.offsetX / w, event.offsetY / h);
  emit('pick', { triangle: hit?.triangle ?? null, add: event.shiftKey });
}

function endStroke(): void {
  if (stroke.length > 0) emit('touch', stroke);
  stroke = [];
}
watch(
  () => props.brush !== null && props.brush !== undefined,
  (on) => scene?.setTurning(!on),
);

defineExpose({ pointAt: (place: Place | null) => scene?.pointAt(place) });
</script>

<template>
  <figure ref="holder" class="view model">
    <canvas
      ref="canvas"
      :class="{ brushing: brush }"
      :aria-label="`${caption}, in three dimensions`"
      role="img"
      @pointerdown="press"
      @pointermove="paint"
      @pointerup="release"
    />
    <figcaption>{{ busy || caption }}</figcaption>
    <div class="choices laid-over">
      <button
        v-if="sources.length"
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
      <slot name="choices" />
    </div>
  </figure>
</template>

<style scoped>
canvas {
  position: absolute;
  width: 100%;
  height: 100%;
  touch-action: none;
}

canvas.brushing {
  cursor: crosshair;
}
</style>
