<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { computed, onUnmounted, ref, shallowRef, watch } from 'vue';
import type { MeshAsset, Shell as ShellReach } from '@zographos/contracts';
import type { ReachTouch } from '@zographos/core/bake';
import { describeKind, type MapKind } from '@zographos/core/image';
import { isTyping } from '../controls/isTyping.ts';
import { useNotices } from '../stores/notices.ts';
import type { Vector } from './frameCamera.ts';
import type { Geometry } from './geometry/geometryWorker.ts';
import { Dressing } from './dressing.ts';
import { loadGeometry } from './geometry/loadGeometry.ts';
import { MapPictures, type LoadedTile, type TileMaps } from './materials/mapPictures.ts';
import { placeMarker, SeamHeat, Shell } from './overlays.ts';
import { Picker } from './picking.ts';
import { meshBody } from './geometry/shapes.ts';
import { setTint } from './materials/tint.ts';
import ViewControls from './ViewControls.vue';
import { LIT_KINDS } from './materials/viewMaterial.ts';
import { useViewport } from './useViewport.ts';
import { DEFAULT_LOOK, type Body, type Shading, type ViewLook } from './Viewport.ts';

const props = defineProps<{
  /** The meshes that carry the maps. */
  receivers: MeshAsset[];
  sources: MeshAsset[];
  /** What the receivers are lit with, tile by tile. */
  maps: TileMaps[];
  /** The map that can be shown without light. */
  kind?: MapKind | undefined;
  uvSet: number;
  /** How far rays reach, shown around the receivers. */
  shell?: ShellReach | null;
  /** Where both sides of seams differ. */
  heat?: { heat: number[]; worst: number } | null;
  /** Dragging over the model changes the reach there. */
  brush?: { radius: number; factor: number } | null;
  /** Colours laid over the receivers: r, g, b and how much they count, for each triangle. */
  tint?: Uint8Array | null;
  /** What is shown first. */
  start?: Shading;
}>();

const emit = defineEmits<{
  touch: [ReachTouch[]];
  /** A triangle of the receivers was clicked on, or the room beside them. */
  pick: [{ triangle: number | null; add: boolean }];
}>();

const SHADING_LABELS: Record<Shading, string> = { lit: 'Lit', map: 'Map only', checker: 'Checker' };
const notices = useNotices();
const canvas = ref<HTMLCanvasElement | null>(null);
const holder = ref<HTMLElement | null>(null);
const look = ref<ViewLook>({ ...DEFAULT_LOOK, shading: props.start ?? 'lit' });
const showsSource = ref(false);
const busy = ref('');
const receiver = shallowRef<{ geometry: Geometry; body: Body; maps: ReadonlyMap<number, LoadedTile> } | null>(null);
const source = shallowRef<{ key: string; body: Body } | null>(null);
const sourceKey = computed(() => hashesOf(props.sources).join());
const pictures = new MapPictures();
const picker = new Picker();
const reachShell = new Shell();
const seamHeat = new SeamHeat();
const marker = placeMarker();
const viewport = useViewport(
  canvas,
  holder,
  computed(() => ({ ...look.value, alone: props.kind ?? null })),
  (opened) => {
    opened.add(reachShell.group, seamHeat.points, marker);
    showHeat();
    void dress();
  },
);

const hashesOf = (meshes: MeshAsset[]): string[] => meshes.map(({ contentHash }) => contentHash);
const names = (meshes: MeshAsset[]): string =>
  meshes.length > 3 ? `${meshes.length} meshes` : meshes.map(({ name }) => name).join(', ');
/** Those that can be seen: what a lit surface is made of, and the one that is shown alone. */
const shownMaps = computed((): TileMaps[] =>
  props.maps.map(({ tile, maps }) => ({
    tile,
    maps: new Map([...maps].filter(([kind]) => LIT_KINDS.includes(kind) || kind === props.kind)),
  })),
);
const kindsShown = computed(() => [...new Set(shownMaps.value.flatMap(({ maps }) => [...maps.keys()]))]);
const hasChosen = computed(() => props.kind !== undefined && kindsShown.value.includes(props.kind));
const shadings = computed((): Shading[] => ['lit', ...(hasChosen.value ? (['map'] as const) : []), 'checker']);

const caption = computed(() => {
  if (showsSource.value && props.sources.length > 0) return names(props.sources);
  const title = names(props.receivers);
  if (look.value.shading === 'map' && props.kind) return `${title}, ${describeKind(props.kind).phrase} only`;
  const count = kindsShown.value.length;
  if (look.value.shading === 'checker' || count === 0) return title;
  return `${title} with ${count === 1 ? `its ${describeKind(kindsShown.value[0]!).phrase} map` : `its ${count} maps`}`;
});

const dressing = new Dressing<Geometry, ReadonlyMap<number, LoadedTile>>(new Map(), ({ geometry, maps }) => {
  const before = receiver.value;
  if (before?.geometry === geometry) {
    receiver.value = { ...before, maps };
    return;
  }
  receiver.value = { geometry, body: bodyOf(geometry), maps };
  before?.body.geometry.dispose();
  picker.prepare(receiver.value.body.geometry);
  marker.scale.setScalar(geometry.radius * 0.02);
  marker.visible = false;
  viewport.current?.frame(geometry.box);
  tintReceiver();
  showShell();
});

async function dress(): Promise<void> {
  if (!viewport.current) return;
  const wanted = shownMaps.value;
  const mine = wantedKey.value;
  busy.value = dressing.current?.key === meshKey.value ? 'Loading the maps …' : 'Preparing the mesh …';
  await notices.guard(() =>
    dressing.wear(
      meshKey.value,
      () => loadGeometry(hashesOf(props.receivers), props.uvSet),
      () => pictures.load(wanted),
    ),
  );
  if (mine !== wantedKey.value) return;
  busy.value = '';
  pictures.keepOnly(wanted);
}

function bodyOf(geometry: Geometry): Body {
  const parts = geometry.tiles.map(({ from, count }) => ({ from, count, maps: new Map() }));
  return { geometry: meshBody(geometry).geometry, parts, hasUvs: geometry.uvs !== null };
}

const meshKey = computed(() => [...hashesOf(props.receivers), props.uvSet].join());
const wantedKey = computed(() =>
  [
    meshKey.value,
    ...shownMaps.value.flatMap(({ tile, maps }) => [tile, ...[...maps.values()].map(({ id }) => id)]),
  ].join(),
);

/** What is on screen: the receiver with its maps, or the source. */
function show(): void {
  if (!viewport.current) return;
  reachShell.group.visible = seamHeat.points.visible = !showsSource.value;
  if (showsSource.value && source.value) {
    viewport.current.setBodies([source.value.body]);
    return;
  }
  if (!receiver.value) return;
  const { geometry, body, maps } = receiver.value;
  const parts = geometry.tiles.map(({ tile, from, count }) => ({
    ...{ from, count, maps: new Map() },
    ...maps.get(tile),
  }));
  viewport.current.setBodies([{ ...body, parts }]);
}
watch([receiver, source, showsSource], show);

/** The source may be huge, so it is fetched when it is first asked for. */
async function toggleSource(on: boolean): Promise<void> {
  if (props.sources.length === 0 || on === showsSource.value) return;
  showsSource.value = on;
  const key = sourceKey.value;
  if (!on || source.value?.key === key) return;
  busy.value = 'Preparing the source …';
  const geometry = await notices.guard(() => loadGeometry(hashesOf(props.sources), 99));
  busy.value = '';
  if (!geometry) return;
  source.value?.body.geometry.dispose();
  source.value = { key, body: bodyOf(geometry) };
}

onUnmounted(() => {
  picker.close();
  pictures.dispose();
  reachShell.clear();
  seamHeat.set([], 1);
  receiver.value?.body.geometry.dispose();
  source.value?.body.geometry.dispose();
});

watch(wantedKey, dress);
watch(shadings, (possible) => {
  if (!possible.includes(look.value.shading)) change({ shading: 'lit' });
});

function change(part: Partial<ViewLook>): void {
  look.value = { ...look.value, ...part };
}

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event) || event.ctrlKey || event.altKey || event.metaKey) return;
  const { value: possible } = shadings;
  if (event.key === 's') void toggleSource(true);
  else if (event.key === 'e') change({ wireframe: !look.value.wireframe });
  else if (event.key === 'v')
    change({ shading: possible[(possible.indexOf(look.value.shading) + 1) % possible.length]! });
  else if (event.key === ',') viewport.current?.turnLight(-10, 0);
  else if (event.key === '.') viewport.current?.turnLight(10, 0);
});
useEventListener(document, 'keyup', (event: KeyboardEvent) => {
  if (event.key === 's') void toggleSource(false);
});

/** How far rays reach, laid around the receiver as far as it is known. */
function showShell(): void {
  const geometry = receiver.value?.geometry;
  const joined = (side: 'out' | 'in'): Float32Array =>
    Float32Array.from(props.shell?.receivers.flatMap((each) => each[side]) ?? []);
  if (geometry && props.shell) reachShell.set(geometry, { out: joined('out'), in: joined('in') });
  else reachShell.clear();
  viewport.current?.draw();
}
watch(() => props.shell, showShell);

function showHeat(): void {
  seamHeat.set(props.heat?.heat ?? [], props.heat?.worst ?? 1);
  viewport.current?.draw();
}
watch(() => props.heat, showHeat);

function tintReceiver(): void {
  const { body, geometry } = receiver.value ?? {};
  if (!body || !geometry?.triangles) return;
  const hadTint = body.geometry.hasAttribute('tint');
  if (!hadTint && !props.tint) return;
  setTint(body.geometry, geometry.triangles, props.tint ?? null);
  if (hadTint) viewport.current?.draw();
  else show();
}
watch(() => props.tint, tintReceiver);

/** What of the receiver lies under the pointer. */
function under(event: PointerEvent): { place: Vector; triangle: number } | null {
  if (!canvas.value || !viewport.current || showsSource.value) return null;
  const { width: w, height: h } = canvas.value.getBoundingClientRect();
  const hit = picker.under(event.offsetX / w, event.offsetY / h, viewport.current.camera);
  if (!hit) return null;
  const { x, y, z } = hit.point;
  return { place: [x, y, z], triangle: receiver.value?.geometry.triangles?.[hit.face] ?? hit.face };
}

let stroke: ReachTouch[] = [];

function paint(event: PointerEvent): void {
  if (!props.brush || !(event.buttons & 1)) return;
  const place = under(event)?.place;
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
  if (stroke.length > 0) emit('touch', stroke);
  stroke = [];
  if (!pressed || props.brush) return;
  if (Math.hypot(event.offsetX - pressed.x, event.offsetY - pressed.y) > 3) return;
  emit('pick', { triangle: under(event)?.triangle ?? null, add: event.shiftKey });
}
watch(
  () => props.brush !== null && props.brush !== undefined,
  (on) => viewport.current?.setTurning(!on),
);

/** Points a place out and turns the view so that it can be seen from outside. */
function pointAt(place: Vector | null): void {
  marker.visible = place !== null;
  if (place && receiver.value) {
    const { centre, radius } = receiver.value.geometry;
    marker.position.set(...place);
    viewport.current?.lookAt(place, [place[0] - centre[0], place[1] - centre[1], place[2] - centre[2]], radius * 0.9);
  }
  viewport.current?.draw();
}

defineExpose({ pointAt });
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
        v-tooltip="'Hold S'"
        type="button"
        :aria-pressed="showsSource"
        @click="toggleSource(!showsSource)"
      >
        Source
      </button>
      <button
        v-for="name in shadings"
        :key="name"
        type="button"
        :aria-pressed="look.shading === name"
        @click="change({ shading: name })"
      >
        {{ SHADING_LABELS[name] }}
      </button>
      <button type="button" :aria-pressed="look.wireframe" @click="change({ wireframe: !look.wireframe })">
        Wireframe
      </button>
      <ViewControls
        v-model:look="look"
        :has-normals="kindsShown.includes('normal')"
        @turn-light="viewport.current?.turnLight($event, 0)"
      />
      <slot name="choices" />
    </div>
  </figure>
</template>

<style scoped>
canvas.brushing {
  cursor: crosshair;
}
</style>
