<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import { describeKind, type MapKind } from '@zographos/core/image';
import { percent } from '../../../controls/format.ts';
import Dropdown from '../../../controls/Dropdown.vue';
import { clearedCanvas } from '../../../map/clearedCanvas.ts';
import BrushRing from '../painting/BrushRing.vue';
import { pressureOf, radiusOfPen, type Pen } from '../painting/pen.ts';
import LassoLine from './LassoLine.vue';
import { useLasso } from './useLasso.ts';
import { MASK_KIND, type PicturesOfTile } from './layerTextures.ts';
import type { LayeredPicture } from '../preview/layersMessages.ts';

/** One map of the stack as it lies in its tile: zoomed by the wheel, moved by dragging. */
const props = defineProps<{
  tiles: readonly PicturesOfTile[];
  /** The map or mask that is looked at; the base colour, or what there is, where none is. */
  alone: MapKind | null;
  name: string;
  /** Whether dragging over the map paints instead of moving it. */
  painting: boolean;
  /** What is painted with, whose size is shown at the pointer. */
  pen: Pen | null;
  /** Whether dragging over the map draws a lasso instead of moving it. */
  lasso: boolean;
}>();
const emit = defineEmits<{
  pick: [{ u: number; v: number; tile: number; pressure: number | null; add: boolean }];
  /** The pen was put down where a pixel is so many millimetres wide. */
  penDown: [number];
  penUp: [];
  /** What was drawn around by a lasso. */
  lasso: [{ polygon: number[]; on: { tile: number }; adds: boolean }];
}>();

const holder = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(holder);
const tile = ref<number | null>(null);
const shownTile = computed(() => props.tiles.find((each) => each.tile === tile.value) ?? props.tiles[0]);
const picture = computed((): LayeredPicture | null => {
  const own = shownTile.value;
  if (!own) return null;
  if (props.alone === MASK_KIND && own.mask) return own.mask;
  return own.maps.find(({ kind }) => kind === (props.alone ?? 'basecolor')) ?? own.maps[0] ?? null;
});
/** Texel in the middle of the view, in shares of the picture, and how many times larger than fitting it is. */
const eye = ref({ x: 0.5, y: 0.5, zoom: 1 });
const scale = computed(() => {
  const own = picture.value;
  if (!own || width.value === 0) return 1;
  return Math.min((width.value - 16) / own.width, (height.value - 16) / own.height) * eye.value.zoom;
});
const title = computed(() => {
  const own = picture.value;
  if (!own) return 'No map yet';
  const what = own === shownTile.value?.mask ? 'Mask' : describeKind(own.kind).label;
  return `${what}, ${own.width === own.height ? own.width : `${own.width} × ${own.height}`} px, ${percent(scale.value)}`;
});
const tileOptions = computed(() => props.tiles.map(({ tile: number }) => ({ value: number, label: `Tile ${number}` })));
const reading = ref<string | null>(null);

let drawn: { of: LayeredPicture; canvas: HTMLCanvasElement } | null = null;
let pending = 0;

function draw(): void {
  pending ||= requestAnimationFrame(() => {
    pending = 0;
    paint();
  });
}

function paint(): void {
  const context = canvas.value && clearedCanvas(canvas.value, width.value, height.value);
  if (!context) return;
  const ratio = window.devicePixelRatio;
  const own = picture.value;
  if (!own) return;
  if (drawn && drawn.of !== own && drawn.of.rgba === own.rgba && own.version === (drawn.of.version ?? 0) + 1) {
    const whole = new ImageData(own.rgba, own.width, own.height);
    const to = drawn.canvas.getContext('2d')!;
    for (const { x, y, width: w, height: h } of own.changed ?? []) to.putImageData(whole, 0, 0, x, y, w, h);
    drawn = { of: own, canvas: drawn.canvas };
  } else if (drawn?.of !== own) {
    const made = document.createElement('canvas');
    made.width = own.width;
    made.height = own.height;
    made.getContext('2d')!.putImageData(new ImageData(own.rgba, own.width, own.height), 0, 0);
    drawn = { of: own, canvas: made };
  }
  const s = scale.value * ratio;
  context.imageSmoothingEnabled = s < 2;
  context.imageSmoothingQuality = 'high';
  const left = (width.value * ratio) / 2 - eye.value.x * own.width * s;
  const top = (height.value * ratio) / 2 - eye.value.y * own.height * s;
  context.drawImage(drawn.canvas, left, top, own.width * s, own.height * s);
}
watch([picture, width, height, eye], draw, { flush: 'post' });
onMounted(draw);

/** The place of the picture under a point of the view, in shares. */
function placeAt({ offsetX, offsetY }: { offsetX: number; offsetY: number }): { x: number; y: number } | null {
  const own = picture.value;
  if (!own) return null;
  const x = eye.value.x + (offsetX - width.value / 2) / (own.width * scale.value);
  const y = eye.value.y + (offsetY - height.value / 2) / (own.height * scale.value);
  return { x, y };
}

function zoom(factor: number, at?: MouseEvent): void {
  const under = at && placeAt(at);
  const next = Math.max(0.5, Math.min(64, eye.value.zoom * factor));
  const { x, y, zoom: before } = eye.value;
  // What lies under the pointer stays there.
  const share = 1 - before / next;
  eye.value = under ? { x: x + (under.x - x) * share, y: y + (under.y - y) * share, zoom: next } : { x, y, zoom: next };
}

function fit(): void {
  eye.value = { x: 0.5, y: 0.5, zoom: 1 };
}

/** Width of a pixel of the screen on the surface, in millimetres, in the mean of the layout. */
const pixel = computed(() => (shownTile.value?.texel ?? 1) / scale.value);
/** Where the pointer is. */
const pointer = ref<{ x: number; y: number } | null>(null);
const ring = computed(() =>
  props.painting && props.pen && pointer.value && picture.value
    ? { ...pointer.value, radius: radiusOfPen(props.pen, pixel.value) / pixel.value }
    : null,
);

let pressed: { x: number; y: number } | null = null;
/** The last place that the pen was told at, in shares of the picture; kept for a straight line from there. */
let penPlace: { x: number; y: number } | null = null;
let isPenDown = false;

function penTo(event: PointerEvent): void {
  const to = placeAt(event);
  if (!to || !shownTile.value) return;
  const { tile: number } = shownTile.value;
  emit('pick', { u: to.x, v: 1 - to.y, tile: number, pressure: pressureOf(event), add: false });
  penPlace = to;
}

/** A straight line from where the pen was last. */
function lineTo(event: PointerEvent): void {
  const [from, to] = [penPlace, placeAt(event)];
  if (!from || !to || !shownTile.value) return;
  for (let i = 0; i <= LINE_POINTS; i++) {
    const share = i / LINE_POINTS;
    const [x, y] = [from.x + (to.x - from.x) * share, from.y + (to.y - from.y) * share];
    emit('pick', { u: x, v: 1 - y, tile: shownTile.value.tile, pressure: pressureOf(event), add: false });
  }
}

const LINE_POINTS = 64;

function move(event: PointerEvent): void {
  const own = picture.value;
  if (!own) return;
  pointer.value = { x: event.offsetX, y: event.offsetY };
  if (lassoPoints.value.length > 0) {
    drawnLasso.goOn(event);
    return;
  }
  if (isPenDown) {
    for (const each of event.getCoalescedEvents().length > 0 ? event.getCoalescedEvents() : [event]) penTo(each);
    return;
  }
  if (event.buttons & 1) {
    const { x, y, zoom: kept } = eye.value;
    const step = { x: event.movementX / (own.width * scale.value), y: event.movementY / (own.height * scale.value) };
    eye.value = { x: x - step.x, y: y - step.y, zoom: kept };
    return;
  }
  const at = placeAt(event);
  const [column, row] = at ? [Math.floor(at.x * own.width), Math.floor(at.y * own.height)] : [-1, -1];
  const isIn = column >= 0 && row >= 0 && column < own.width && row < own.height;
  const from = (row * own.width + column) * 4;
  reading.value = isIn ? `${column}, ${row}: ${[0, 1, 2].map((k) => own.rgba[from + k]).join(' ')}` : null;
}

const drawnLasso = useLasso(canvas);
const lassoPoints = drawnLasso.points;

/** Corners over the view as places of the picture. */
function inPicture(corners: readonly number[]): number[] {
  const places: number[] = [];
  for (let i = 0; i < corners.length; i += 2) {
    const at = placeAt({ offsetX: corners[i]! * width.value, offsetY: corners[i + 1]! * height.value });
    if (at) places.push(at.x, at.y);
  }
  return places;
}

function press(event: PointerEvent): void {
  if (props.lasso && event.button === 0) {
    drawnLasso.begin(event);
    return;
  }
  if (props.painting && event.button === 0 && !event.altKey) {
    isPenDown = true;
    canvas.value!.setPointerCapture(event.pointerId);
    emit('penDown', pixel.value);
    if (event.shiftKey) lineTo(event);
    penTo(event);
    return;
  }
  pressed = { x: event.offsetX, y: event.offsetY };
}

function leave(): void {
  reading.value = null;
  pointer.value = null;
}

function release(event: PointerEvent): void {
  if (lassoPoints.value.length > 0) {
    const corners = drawnLasso.end();
    if (corners && shownTile.value) {
      emit('lasso', { polygon: inPicture(corners), on: { tile: shownTile.value.tile }, adds: event.shiftKey });
    }
    return;
  }
  if (isPenDown) {
    isPenDown = false;
    emit('penUp');
    return;
  }
  const at = placeAt(event);
  if (!pressed || !at || Math.hypot(event.offsetX - pressed.x, event.offsetY - pressed.y) > 3) return;
  if (shownTile.value)
    emit('pick', { u: at.x, v: 1 - at.y, tile: shownTile.value.tile, pressure: null, add: event.shiftKey });
}
</script>

<template>
  <figure ref="holder" class="view">
    <canvas
      ref="canvas"
      :class="{ painting: painting || lasso }"
      role="img"
      :aria-label="`${name}, ${title}`"
      @wheel.prevent="zoom(2 ** (-$event.deltaY / 240), $event)"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="release"
      @pointercancel="release"
      @pointerleave="leave"
      @dblclick="fit"
    />
    <BrushRing v-if="ring" v-bind="ring" />
    <LassoLine v-if="lassoPoints.length > 0" :points="lassoPoints" />
    <figcaption>{{ reading ?? title }}</figcaption>
    <div class="choices laid-over">
      <button type="button" aria-label="Zoom out" @click="zoom(0.5)">−</button>
      <button type="button" aria-label="Zoom in" @click="zoom(2)">+</button>
      <button type="button" @click="fit">Fit</button>
      <Dropdown
        v-if="tiles.length > 1"
        label="Tile"
        :value="shownTile?.tile ?? null"
        :options="tileOptions"
        @choose="tile = $event"
      />
    </div>
  </figure>
</template>

<style scoped>
canvas.painting {
  cursor: crosshair;
}
</style>
