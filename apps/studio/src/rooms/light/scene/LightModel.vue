<script setup lang="ts">
import type { MeshStandardMaterial, Texture } from 'three';
import { computed, onUnmounted, ref, shallowRef, watch } from 'vue';
import type { MapRevision, MeshAsset } from '@zographos/contracts';
import { screenBytes, type ScreenView } from '@zographos/core/light';
import type { LightSettings } from '@zographos/operations';
import { useNotices } from '../../../stores/notices.ts';
import { domeOf } from '../../../ticket/light/newLight.ts';
import type { Geometry } from '../../../viewport/geometry/geometryWorker.ts';
import { loadGeometry } from '../../../viewport/geometry/loadGeometry.ts';
import { meshBody } from '../../../viewport/geometry/shapes.ts';
import { mapTexture } from '../../../viewport/materials/mapTextures.ts';
import { useViewport } from '../../../viewport/useViewport.ts';
import { DEFAULT_LOOK, type Body } from '../../../viewport/Viewport.ts';
import type { LightPictures } from '../passes/lightPictures.ts';
import { draggedTo, handlesOf, handleUnder, moved, type Handle, type Pointer } from './lightHandles.ts';
import { LightMarks } from './lightMarks.ts';

type Scene = Pick<LightSettings, 'lights' | 'up' | 'seenFrom'>;

const props = defineProps<{
  receivers: MeshAsset[];
  /** What stands about; it is shown in plain grey. */
  sources: MeshAsset[];
  settings: LightSettings;
  /** Maps whose sum lies on the receivers, tile by tile. */
  tiles: readonly { tile: number; revisions: readonly MapRevision[] }[];
  pictures: LightPictures;
  screen: ScreenView;
  /** A picture of the one tile that is growing finer, ready for the screen. */
  growing: string | null;
}>();
const chosen = defineModel<number>('chosen', { required: true });
const emit = defineEmits<{ place: [Scene] }>();

/** How many times as far as the receivers reach a light may be, to be framed with them. */
const FRAMED = 3.5;
const BACKDROP = '#3c3d3e';

const notices = useNotices();
const canvas = ref<HTMLCanvasElement | null>(null);
const holder = ref<HTMLElement | null>(null);
const marks = new LightMarks();
const marksShown = ref(true);
const busy = ref('');
/** What is being dragged, and the settings as they would be. */
const drag = shallowRef<{ handle: Handle; to: Scene } | null>(null);
const receiver = shallowRef<{ geometry: Geometry; body: Body } | null>(null);
const about = shallowRef<Body | null>(null);
const textures = shallowRef<ReadonlyMap<number, Texture>>(new Map());
const look = computed(() => ({ ...DEFAULT_LOOK, shading: 'map' as const, alone: 'combined' as const }));
const viewport = useViewport(canvas, holder, look, (opened) => {
  opened.add(marks.group);
  // What is looked at first; the worker prepares one after the other.
  void loadMeshes();
  void loadSources();
  void paint();
});

const dome = computed(() => domeOf(props.receivers.map(({ inspection }) => inspection.bounds)));
const placed = computed((): Scene => drag.value?.to ?? props.settings);
const hashes = (meshes: readonly MeshAsset[]): string[] => meshes.map(({ contentHash }) => contentHash);
const meshKey = computed(() => [...hashes(props.receivers), props.settings.uvSet].join());
const sourceKey = computed(() => hashes(props.sources).join());

async function loadMeshes(): Promise<void> {
  const key = meshKey.value;
  busy.value = 'Preparing the mesh …';
  const geometry = await notices.guard(() => loadGeometry(hashes(props.receivers), props.settings.uvSet));
  busy.value = '';
  if (!geometry || key !== meshKey.value) return;
  receiver.value?.body.geometry.dispose();
  const isFirst = receiver.value === null;
  receiver.value = {
    geometry,
    body: { geometry: meshBody(geometry).geometry, parts: [], hasUvs: geometry.uvs !== null },
  };
  if (isFirst) viewport.current?.frame(withLights(geometry.box));
}

/** A box with the lights about it, those that are not too far away to see both. */
function withLights({ min, max }: Geometry['box']): Geometry['box'] {
  const { centre, radius } = dome.value;
  const places = handlesOf(props.settings, chosen.value, dome.value)
    .map(({ at }) => at)
    .filter((at) => Math.hypot(...at.map((value, k) => value - centre[k]!)) < FRAMED * radius);
  const end = (from: readonly number[], of: (...values: number[]) => number): [number, number, number] => {
    const [x, y, z] = [0, 1, 2].map((k) => of(from[k]!, ...places.map((at) => at[k]!)));
    return [x!, y!, z!];
  };
  return { min: end(min, Math.min), max: end(max, Math.max) };
}

async function loadSources(): Promise<void> {
  const key = sourceKey.value;
  const geometry = props.sources.length > 0 ? await notices.guard(() => loadGeometry(hashes(props.sources), 99)) : null;
  if (key !== sourceKey.value) return;
  about.value?.geometry.dispose();
  const parts = geometry ? geometry.tiles.map(({ from, count }) => ({ from, count, maps: new Map() })) : [];
  about.value = geometry ? { geometry: meshBody(geometry).geometry, parts, hasUvs: false, adjust: asBackdrop } : null;
}

/** What stands about shows where it is, and does not outshine what is looked at. */
function asBackdrop(material: MeshStandardMaterial): void {
  material.color.set(BACKDROP);
  material.roughness = 1;
}

/** The light as textures, in the exposure that is chosen. */
async function paint(): Promise<void> {
  const key = paintKey.value;
  const made = await notices.guard(async () =>
    props.growing ? [await growingTexture(props.growing)] : bakedTextures(),
  );
  if (!made || key !== paintKey.value) return;
  for (const texture of textures.value.values()) texture.dispose();
  textures.value = new Map(made.flatMap((each) => (each ? [each] : [])));
}

async function growingTexture(url: string): Promise<[number, Texture]> {
  const bitmap = await createImageBitmap(await (await fetch(url)).blob());
  return [props.tiles[0]!.tile, windowed(mapTexture('basecolor', bitmap))];
}

async function bakedTextures(): Promise<([number, Texture] | null)[]> {
  return Promise.all(
    props.tiles.map(async ({ tile, revisions }): Promise<[number, Texture] | null> => {
      const picture = await props.pictures.sumOf(revisions);
      if (!picture) return null;
      const { width, height } = picture;
      const rgba = screenBytes(picture, props.screen);
      return [tile, windowed(mapTexture('basecolor', { width, height, rgba, values: null }))];
    }),
  );
}

/** Rows of textures run downwards, and V of the layout up. */
function windowed(texture: Texture): Texture {
  const [left, lower, width, height] = props.settings.uvWindow;
  texture.repeat.set(1 / width, 1 / height);
  texture.offset.set(-left / width, 1 - (1 - lower) / height);
  return texture;
}

const paintKey = computed(() =>
  [
    props.growing ?? props.tiles.flatMap(({ tile, revisions }) => [tile, ...revisions.map(({ id }) => id)]).join(),
    props.screen.view,
    props.screen.exposure,
    props.settings.uvWindow.join(),
  ].join(' '),
);

function show(): void {
  if (!viewport.current || !receiver.value) return;
  const { geometry, body } = receiver.value;
  const parts = geometry.tiles.map(({ tile, from, count }) => {
    const texture = textures.value.get(tile);
    return { from, count, maps: new Map(texture ? [['combined' as const, texture]] : []) };
  });
  viewport.current.setBodies([{ ...body, parts }, ...(about.value ? [about.value] : [])]);
}

function mark(): void {
  marks.group.visible = marksShown.value;
  marks.set(placed.value, chosen.value, dome.value);
  viewport.current?.draw();
}

watch([receiver, about, textures], show);
watch(paintKey, paint);
watch(meshKey, loadMeshes);
watch(sourceKey, loadSources);
watch([placed, chosen, dome, marksShown], mark, { immediate: true });

const pointerOf = ({ offsetX: x, offsetY: y }: PointerEvent): Pointer => {
  const { width, height } = canvas.value!.getBoundingClientRect();
  return { x, y, width, height };
};

function press(event: PointerEvent): void {
  if (event.button !== 0 || !viewport.current || !marksShown.value) return;
  const handles = handlesOf(props.settings, chosen.value, dome.value);
  const handle = handleUnder(handles, pointerOf(event), viewport.current.camera);
  if (!handle) return;
  if (handle.of !== 'eye') chosen.value = handle.of;
  drag.value = { handle, to: props.settings };
  viewport.current.setTurning(false);
  canvas.value?.setPointerCapture(event.pointerId);
}

function move(event: PointerEvent): void {
  if (!drag.value || !viewport.current) return;
  const { handle } = drag.value;
  const light = handle.of === 'eye' ? null : props.settings.lights[handle.of];
  const sky = light?.kind === 'sun' ? dome.value : null;
  const to = draggedTo(handle, pointerOf(event), viewport.current.camera, sky);
  if (to) drag.value = { handle, to: moved(props.settings, handle, to, dome.value) };
}

function release(): void {
  viewport.current?.setTurning(true);
  const { to } = drag.value ?? {};
  drag.value = null;
  if (to && to !== props.settings) emit('place', { lights: to.lights, up: to.up, seenFrom: to.seenFrom });
}

onUnmounted(() => {
  marks.dispose();
  for (const texture of textures.value.values()) texture.dispose();
  receiver.value?.body.geometry.dispose();
  about.value?.geometry.dispose();
});

const caption = computed(() => {
  const names = props.receivers.map(({ name }) => name).join(', ');
  if (props.growing) return `${names}, growing finer`;
  return textures.value.size > 0 ? `${names} in its light` : `${names}, not lit yet`;
});
</script>

<template>
  <figure ref="holder" class="view model">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="`${caption}, in three dimensions`"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="release"
      @pointercancel="release"
    />
    <figcaption>{{ busy || caption }}</figcaption>
    <div class="choices laid-over">
      <button
        v-tooltip="'Drag a ball to move a light, its target or the eye'"
        type="button"
        :aria-pressed="marksShown"
        @click="marksShown = !marksShown"
      >
        Lights
      </button>
      <slot name="choices" />
    </div>
  </figure>
</template>
