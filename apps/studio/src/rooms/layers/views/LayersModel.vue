<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, onUnmounted, ref, shallowRef, watch } from 'vue';
import { Vector3, type BufferGeometry } from 'three';
import type { MeshAsset } from '@zographos/contracts';
import { describeKind, type MapKind } from '@zographos/core/image';
import { useNotices } from '../../../stores/notices.ts';
import type { Geometry } from '../../../viewport/geometry/geometryWorker.ts';
import { loadGeometry } from '../../../viewport/geometry/loadGeometry.ts';
import { meshBody, shapeBody } from '../../../viewport/geometry/shapes.ts';
import type { Box } from '../../../viewport/frameCamera.ts';
import { Picker } from '../../../viewport/picking.ts';
import { useViewport } from '../../../viewport/useViewport.ts';
import ViewControls from '../../../viewport/ViewControls.vue';
import { DEFAULT_LOOK, type ViewLook } from '../../../viewport/Viewport.ts';
import LassoLine from './LassoLine.vue';
import { LayerTextures, MASK_KIND, type PicturesOfTile } from './layerTextures.ts';
import BrushRing from '../painting/BrushRing.vue';
import { pressureOf, radiusOfPen, type ModelView, type Pen, type PenPoint } from '../painting/pen.ts';
import { MIDDLE_FRAME, stencilRows, type StencilFrame } from '../painting/stencil.ts';
import StencilOverlay from '../painting/StencilOverlay.vue';
import type { SectionLine } from '../preview/layersMessages.ts';
import { useLasso } from './useLasso.ts';
import { lineBetween, SectionDrawing, type ViewPlace } from '../section/sectionLine.ts';

/** The finished material on its model, or on a sphere where it is flat, with the line of the section over it. */
const props = defineProps<{
  receivers: MeshAsset[];
  uvSet: number;
  tiles: readonly PicturesOfTile[];
  name: string;
  /** Whether dragging over the model paints instead of turning it. */
  painting: boolean;
  /** Whether dragging over the model draws a lasso instead of turning it. */
  lasso: boolean;
  /** What is painted with, whose size is shown at the pointer. */
  pen: Pen | null;
  /** The image that lies over the view as a stencil. */
  stencil: { thumbnail: string; aspect: number } | null;
  /** Millimetres of one unit of the meshes. */
  unit: number;
}>();
const emit = defineEmits<{
  line: [SectionLine | null];
  /** A triangle of the receivers was clicked on, at a place in the unit of the mesh. */
  pick: [{ triangle: number; add: boolean; place: [number, number, number]; normal: [number, number, number] }];
  /** What was drawn around by a lasso, and how the model is seen. */
  lasso: [{ polygon: number[]; on: { view: number[] }; adds: boolean }];
  /** The place that is to be cloned. */
  source: [PenPoint];
  /** The pen was put down where a pixel is so many millimetres wide, told at a place of the surface, and lifted. */
  penDown: [number];
  penAt: [PenPoint];
  penUp: [];
}>();
/** The map or the mask that is shown without light. */
const alone = defineModel<MapKind | null>('alone', { required: true });

const notices = useNotices();
const holder = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const look = ref<ViewLook>({ ...DEFAULT_LOOK, environment: 'overcast' });
const geometry = shallowRef<Geometry | null>(null);
const isLoading = ref(false);
const textures = new LayerTextures();
const picker = new Picker();
const drawing = new SectionDrawing();
/** Where the section begins and ends, in the view. */
let ends: [ViewPlace, ViewPlace] = [
  [0.5, 0.1],
  [0.5, 0.9],
];

const kinds = computed(() => [...new Set(props.tiles.flatMap(({ maps }) => maps.map(({ kind }) => kind)))]);
const viewport = useViewport(
  canvas,
  holder,
  computed(() => ({ ...look.value, shading: alone.value ? ('map' as const) : ('lit' as const), alone: alone.value })),
  (opened) => {
    opened.add(drawing.group);
    void load();
  },
);

const hashes = computed(() => props.receivers.map(({ contentHash }) => contentHash));
const meshKey = computed(() => [...hashes.value, props.uvSet].join());

async function load(): Promise<void> {
  const mine = meshKey.value;
  geometry.value = null;
  emit('line', null);
  if (hashes.value.length > 0) {
    isLoading.value = true;
    const loaded = await notices.guard(() => loadGeometry(hashes.value, props.uvSet));
    if (mine !== meshKey.value) return;
    isLoading.value = false;
    if (!loaded) return;
    geometry.value = loaded;
    viewport.current?.frame(loaded.box);
  }
  show();
  if (geometry.value) picker.prepare(bodyGeometry()!, showLine);
}
watch(meshKey, load);

let body: ReturnType<typeof meshBody> | null = null;
let bodyKey = '';

function boxOf(shape: BufferGeometry): Box {
  shape.computeBoundingBox();
  const { min, max } = shape.boundingBox!;
  return { min: min.toArray(), max: max.toArray() };
}

/** Made once for each mesh. */
function bodyGeometry() {
  if (bodyKey !== meshKey.value) {
    body?.geometry.dispose();
    body = geometry.value ? meshBody(geometry.value) : shapeBody('sphere');
    bodyKey = meshKey.value;
    if (!geometry.value) viewport.current?.frame(boxOf(body.geometry));
  }
  return body?.geometry ?? null;
}

function show(): void {
  if (!viewport.current || (hashes.value.length > 0 && !geometry.value)) return;
  textures.set(props.tiles);
  const shape = bodyGeometry()!;
  const index = shape.getIndex();
  const whole = [{ tile: 1001, from: 0, count: index?.count ?? shape.getAttribute('position').count }];
  const parts = (geometry.value?.tiles ?? whole).map(({ tile, from, count }) => ({
    from,
    count,
    maps: textures.of(tile),
  }));
  viewport.current.setBodies([{ geometry: shape, parts, hasUvs: geometry.value ? geometry.value.uvs !== null : true }]);
}
watch(
  () => props.tiles,
  (tiles) => {
    if (textures.set(tiles)) show();
    else viewport.current?.draw();
  },
);

const triangleOf = (face: number): number => geometry.value?.triangles?.[face] ?? face;

/** Lays the line over the surface as it is seen now. */
function showLine(): void {
  const { current } = viewport;
  if (!current || !geometry.value) return;
  current.camera.updateMatrixWorld();
  const line = lineBetween(ends[0], ends[1], picker, current.camera, triangleOf);
  drawing.set(line?.points ?? new Float32Array(0));
  current.draw();
  emit('line', line);
}

function layLine(across: boolean): void {
  ends = across
    ? [
        [0.08, 0.5],
        [0.92, 0.5],
      ]
    : [
        [0.5, 0.08],
        [0.5, 0.92],
      ];
  showLine();
}

/** The place of the surface under the pen, in the unit of the mesh. */
const penPoint = (event: PointerEvent): PenPoint | null => surfaceAt(placeOf(event), pressureOf(event));

function surfaceAt([left, top]: ViewPlace, pressure: number): PenPoint | null {
  const { current } = viewport;
  const hit = current && picker.under(left, top, current.camera);
  if (!hit || !geometry.value) return null;
  const { normals, indices } = geometry.value;
  const normal = [0, 1, 2].map((axis) => {
    const corner = (c: number): number => indices?.[hit.face * 3 + c] ?? hit.face * 3 + c;
    return (normals[corner(0) * 3 + axis]! + normals[corner(1) * 3 + axis]! + normals[corner(2) * 3 + axis]!) / 3;
  }) as [number, number, number];
  const length = Math.hypot(...normal) || 1;
  const { x, y, z } = hit.point;
  return {
    place: [x, y, z],
    normal: [normal[0] / length, normal[1] / length, normal[2] / length],
    pressure,
  };
}

/** Width of a pixel of the screen at a place of the surface, in millimetres. */
function pixelAt({ place }: PenPoint): number {
  const { camera } = viewport.current!;
  const depth = -new Vector3(...place).applyMatrix4(camera.matrixWorldInverse).z;
  const seen = 2 * depth * Math.tan((camera.fov * Math.PI) / 360);
  return (seen / Math.max(1, viewHeight.value)) * props.unit;
}

/** The size of the brush about the pointer; null beside the model. */
const ring = ref<{ x: number; y: number; radius: number } | null>(null);

function moveRing(event: PointerEvent): void {
  const pen = props.painting ? props.pen : null;
  const point = pen && penPoint(event);
  if (!pen || !point) {
    ring.value = null;
    return;
  }
  const pixel = pixelAt(point);
  ring.value = { x: event.offsetX, y: event.offsetY, radius: radiusOfPen(pen, pixel) / pixel };
}

let isDown = false;

/** Beside the model dragging turns the view, also while one paints. */
function beginStroke(event: PointerEvent): boolean {
  const point = props.painting ? penPoint(event) : null;
  if (!point) return false;
  viewport.current?.setTurning(false);
  if (event.altKey) {
    emit('source', point);
    viewport.current?.setTurning(true);
    return true;
  }
  isDown = true;
  canvas.value!.setPointerCapture(event.pointerId);
  emit('penDown', pixelAt(point));
  if (event.shiftKey && lastPen) lineFrom(lastPen, placeOf(event), point.pressure);
  emit('penAt', point);
  lastPen = placeOf(event);
  return true;
}

/** Where the pen was last, in the view; kept for a straight line from there. */
let lastPen: ViewPlace | null = null;

/** Points of the surface along a straight line of the view. */
function lineFrom(from: ViewPlace, to: ViewPlace, pressure: number): void {
  for (let i = 0; i < LINE_POINTS; i++) {
    const share = i / LINE_POINTS;
    const point = surfaceAt([from[0] + (to[0] - from[0]) * share, from[1] + (to[1] - from[1]) * share], pressure);
    if (point) emit('penAt', point);
  }
}

const LINE_POINTS = 128;

function goOn(event: PointerEvent): void {
  lastPen = placeOf(event);
  // All places that the pen has been told at since the last picture on screen.
  for (const each of event.getCoalescedEvents().length > 0 ? event.getCoalescedEvents() : [event]) {
    const point = penPoint(each);
    if (point) emit('penAt', point);
  }
}

/** The end of the section that is being moved, 0 or 1. */
let held: 0 | 1 | null = null;
let pressed: { x: number; y: number } | null = null;

const placeOf = (event: PointerEvent): ViewPlace => {
  const { width, height } = canvas.value!.getBoundingClientRect();
  return [event.offsetX / width, event.offsetY / height];
};

/** Where an end of the line is seen now. */
function seenEnd(end: 0 | 1): ViewPlace | null {
  const points = drawing.points;
  if (!viewport.current || points.length < 6) return null;
  const at = end === 0 ? 0 : points.length - 3;
  const seen = new Vector3(points[at], points[at + 1], points[at + 2]).project(viewport.current.camera);
  return [(seen.x + 1) / 2, (1 - seen.y) / 2];
}

const GRIP_PX = 12;

function press(event: PointerEvent): void {
  if (event.button !== 0) return;
  const { width, height } = canvas.value!.getBoundingClientRect();
  for (const end of [0, 1] as const) {
    const seen = seenEnd(end);
    if (!seen) continue;
    if (Math.hypot(seen[0] * width - event.offsetX, seen[1] * height - event.offsetY) > GRIP_PX) continue;
    held = end;
    // The other end is where it is seen now, whatever the view was when it was laid.
    ends = [seenEnd(0)!, seenEnd(1)!];
    viewport.current?.setTurning(false);
    canvas.value!.setPointerCapture(event.pointerId);
    return;
  }
  if (props.lasso) {
    viewport.current?.setTurning(false);
    drawn.begin(event);
    return;
  }
  if (beginStroke(event)) return;
  pressed = { x: event.offsetX, y: event.offsetY };
}

function move(event: PointerEvent): void {
  if (drawn.points.value.length > 0) drawn.goOn(event);
  moveRing(event);
  if (isDown) goOn(event);
  if (held === null) return;
  ends = held === 0 ? [placeOf(event), ends[1]] : [ends[0], placeOf(event)];
  showLine();
}

function release(event: PointerEvent): void {
  if (drawn.points.value.length > 0) {
    const polygon = drawn.end();
    const view = wholeView();
    viewport.current?.setTurning(true);
    if (polygon && view) emit('lasso', { polygon, on: { view }, adds: event.shiftKey });
    return;
  }
  if (isDown) {
    isDown = false;
    viewport.current?.setTurning(true);
    emit('penUp');
    return;
  }
  if (held !== null) {
    held = null;
    viewport.current?.setTurning(true);
    return;
  }
  if (!pressed || Math.hypot(event.offsetX - pressed.x, event.offsetY - pressed.y) > 3) return;
  const [x, y] = placeOf(event);
  const hit = viewport.current && picker.under(x, y, viewport.current.camera);
  const point = surfaceAt([x, y], 1);
  if (!hit || !point) return;
  const [px, py, pz] = point.place;
  const [nx, ny, nz] = point.normal;
  emit('pick', { triangle: triangleOf(hit.face), add: event.shiftKey, place: [px, py, pz], normal: [nx, ny, nz] });
}

const frame = ref<StencilFrame>(MIDDLE_FRAME);
const { width: viewWidth, height: viewHeight } = useElementSize(holder);

const drawn = useLasso(canvas);
const lassoPoints = drawn.points;

/** How the model is seen now, over the whole view. */
function wholeView(): number[] | null {
  const { current } = viewport;
  if (!current || viewHeight.value === 0) return null;
  const aspect = viewWidth.value / viewHeight.value;
  return stencilRows({ ...MIDDLE_FRAME, size: aspect }, 1 / aspect, aspect, current.camera, props.unit);
}

/** How the stencil lies over the view now; null without one. */
function stencilView(): number[] | null {
  const { current } = viewport;
  if (!props.stencil || !current || viewHeight.value === 0) return null;
  const aspect = viewWidth.value / viewHeight.value;
  return stencilRows(frame.value, props.stencil.aspect, aspect, current.camera, props.unit);
}

defineExpose<ModelView>({ layLine, stencilView, middle: () => surfaceAt([0.5, 0.5], 1) });

onUnmounted(() => {
  textures.dispose();
  drawing.dispose();
  picker.close();
  body?.geometry.dispose();
});
</script>

<template>
  <figure ref="holder" class="view model">
    <canvas
      ref="canvas"
      :class="{ painting: painting || lasso }"
      role="img"
      :aria-label="`${name}, finished, in three dimensions`"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="release"
      @pointercancel="release"
      @pointerleave="ring = null"
    />
    <BrushRing v-if="ring && painting" v-bind="ring" />
    <StencilOverlay
      v-if="stencil"
      :thumbnail="stencil.thumbnail"
      :aspect="stencil.aspect"
      :frame="frame"
      :width="viewWidth"
      :height="viewHeight"
      @change="frame = $event"
    />
    <LassoLine v-if="lassoPoints.length > 0" :points="lassoPoints" />
    <figcaption>
      {{
        isLoading
          ? 'Preparing the mesh …'
          : alone
            ? `${name}, ${alone === MASK_KIND ? 'mask' : describeKind(alone).phrase}`
            : name
      }}
    </figcaption>
    <div class="choices laid-over">
      <button type="button" :aria-pressed="alone === null" @click="alone = null">Finished</button>
      <button v-for="kind in kinds" :key="kind" type="button" :aria-pressed="alone === kind" @click="alone = kind">
        {{ describeKind(kind).label }}
      </button>
      <button v-if="kinds.length > 0" type="button" :aria-pressed="alone === MASK_KIND" @click="alone = MASK_KIND">
        Mask
      </button>
      <ViewControls
        v-model:look="look"
        :has-normals="kinds.includes('normal')"
        @turn-light="viewport.current?.turnLight($event, 0)"
      />
    </div>
  </figure>
</template>

<style scoped>
canvas.painting {
  cursor: crosshair;
}
</style>
