<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, onMounted, ref, useId, watch } from 'vue';
import type { SeamPlace, Telltale } from '@zographos/core/measure';
import type { Spot } from '@zographos/core/seamless';
import type { Shown } from './flatWorker.ts';
import { clearedCanvas } from '../../../map/clearedCanvas.ts';

/** A picture as a tile: repeated over the view, beside what it was made of. */
const props = defineProps<{
  tile: Shown | null;
  /** Whether it is smaller than it will be, and is shown as smooth as that. */
  isDraft: boolean;
  /** What it was made of, behind the divider. */
  before: Shown | null;
  repeats: number;
  /** How much of the view shows what was before, 0 to 1. */
  divider: number;
  label: string;
  /** Whether lines are drawn where tiles meet. */
  borders: boolean;
  telltales: readonly Telltale[];
  /** Where a seam shows. */
  seams: readonly SeamPlace[];
  /** What was painted over, and where its texture comes from if that was chosen. */
  spots: readonly Spot[];
  /** Radius of a brush in shares of the tile's shorter side; null where clicks are places. */
  brush: number | null;
}>();
const emit = defineEmits<{
  /** A place that was clicked on, in shares of the tile, y downwards. */
  place: [[number, number]];
  /** The way of a brush, which may go on beyond the tile it began on. */
  paint: [[number, number][]];
  divide: [number];
  read: [{ x: number; y: number; color: [number, number, number] } | null];
}>();

const clipId = useId();
const holder = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(holder);

/** The square field in the middle of the view that tiles fill, in CSS pixels. */
const field = computed(() => {
  const { tile, repeats } = props;
  if (!tile || width.value === 0) return null;
  const scale = Math.min((width.value - 24) / (tile.width * repeats), (height.value - 24) / (tile.height * repeats));
  const [w, h] = [tile.width * scale, tile.height * scale];
  return { x: (width.value - w * repeats) / 2, y: (height.value - h * repeats) / 2, w, h };
});

let source: HTMLCanvasElement | null = null;
let sourceOf: Shown | null = null;
let earlier: HTMLCanvasElement | null = null;
let earlierOf: Shown | null = null;

function canvasOf({ width: w, height: h, rgba }: Shown): HTMLCanvasElement {
  const made = document.createElement('canvas');
  made.width = w;
  made.height = h;
  made.getContext('2d')!.putImageData(new ImageData(rgba, w, h), 0, 0);
  return made;
}

function draw(): void {
  const context = canvas.value && clearedCanvas(canvas.value, width.value, height.value);
  if (!context) return;
  const ratio = window.devicePixelRatio;
  const { tile, before, repeats, divider } = props;
  if (!tile || !field.value) return;
  if (sourceOf !== tile) [source, sourceOf] = [canvasOf(tile), tile];
  if (before && earlierOf !== before) [earlier, earlierOf] = [canvasOf(before), before];
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.imageSmoothingQuality = 'high';
  const { x, y, w, h } = field.value;
  // Enlarged texels are shown as they are.
  context.imageSmoothingEnabled = props.isDraft || w * ratio < tile.width * 2;
  const snapped = (value: number): number => Math.round(value * ratio) / ratio;
  const tiles = (picture: HTMLCanvasElement): void => {
    for (let j = 0; j < repeats; j++) {
      for (let i = 0; i < repeats; i++) {
        // On whole pixels, lest a line be seen where tiles meet.
        const [left, right] = [snapped(x + i * w), snapped(x + (i + 1) * w)];
        const [top, bottom] = [snapped(y + j * h), snapped(y + (j + 1) * h)];
        context.drawImage(picture, left, top, right - left, bottom - top);
      }
    }
  };
  tiles(source!);
  if (before && earlier && divider > 0) {
    context.save();
    context.beginPath();
    context.rect(x, y, w * repeats * divider, h * repeats);
    context.clip();
    tiles(earlier);
    context.restore();
  }
}

watch(() => [props.tile, props.isDraft, props.before, props.repeats, props.divider, width.value, height.value], draw, {
  flush: 'post',
});
onMounted(draw);

const shareAt = ({ offsetX, offsetY }: { offsetX: number; offsetY: number }): [number, number] | null => {
  if (!field.value) return null;
  const { x, y, w, h } = field.value;
  const [u, v] = [(offsetX - x) / w, (offsetY - y) / h];
  if (u < 0 || v < 0 || u >= props.repeats || v >= props.repeats) return null;
  return [u % 1, v % 1];
};

/** The way of the brush so far, in shares of the tile that it began on. */
const stroke = ref<[number, number][]>([]);
let strokeTile: [number, number] = [0, 0];
const pointer = ref<[x: number, y: number] | null>(null);
/** Points of a stroke are no closer than so much of the radius. */
const POINT_DISTANCE = 0.3;

function beginStroke(event: PointerEvent): void {
  const at = shareAt(event);
  if (props.brush === null || !at || event.button !== 0) return;
  (event.target as Element).setPointerCapture(event.pointerId);
  const { x, y, w, h } = field.value!;
  strokeTile = [Math.floor((event.offsetX - x) / w), Math.floor((event.offsetY - y) / h)];
  stroke.value = [at];
}

function goOn({ offsetX, offsetY }: PointerEvent): void {
  const { brush } = props;
  const own = field.value;
  pointer.value = [offsetX, offsetY];
  if (brush === null || !own || stroke.value.length === 0) return;
  const place = [(offsetX - own.x) / own.w, (offsetY - own.y) / own.h] as const;
  const last = stroke.value.at(-1)!;
  // Relative to the tile on which the stroke began.
  const at = place.map((value, k) => value - strokeTile[k]!) as [number, number];
  const side = Math.min(own.w, own.h);
  const far = Math.hypot((at[0] - last[0]) * own.w, (at[1] - last[1]) * own.h) / side;
  if (far >= brush * POINT_DISTANCE) stroke.value = [...stroke.value, at];
}

function endStroke(): void {
  if (stroke.value.length > 0) emit('paint', stroke.value);
  stroke.value = [];
}

function move(event: PointerEvent): void {
  goOn(event);
  const at = shareAt(event);
  const { tile } = props;
  if (!at || !tile) {
    emit('read', null);
    return;
  }
  const [x, y] = [Math.floor(at[0] * tile.width), Math.floor(at[1] * tile.height)];
  const from = (y * tile.width + x) * 4;
  emit('read', { x, y, color: [tile.rgba[from]!, tile.rgba[from + 1]!, tile.rgba[from + 2]!] });
}

function leave(): void {
  pointer.value = null;
  emit('read', null);
}

function click(event: MouseEvent): void {
  const at = shareAt(event);
  if (at && props.brush === null) emit('place', at);
}

/** Marks of the first tile, in CSS pixels. */
const marks = computed(() => {
  if (!field.value) return [];
  const { x, y, w, h } = field.value;
  const seams = props.seams.map(({ x: u, y: v, strength }) => ({ x: u, y: v, why: 'seam' as const, strength }));
  return [...seams, ...props.telltales].map(({ x: u, y: v, why, strength }) => ({
    ...{ x: x + u * w, y: y + v * h, why },
    radius: why === 'seam' ? 5 + 2 * Math.min(5, strength) : 13,
  }));
});
/** Where tiles meet, in CSS pixels. */
const borderLines = computed(() => {
  if (!field.value || !props.borders) return [];
  const { x, y, w, h } = field.value;
  const [right, bottom] = [x + w * props.repeats, y + h * props.repeats];
  return Array.from({ length: props.repeats + 1 }, (_, i) => [
    { x1: x + i * w, x2: x + i * w, y1: y, y2: bottom },
    { x1: x, x2: right, y1: y + i * h, y2: y + i * h },
  ]).flat();
});
/** Ways of brushes on all tiles that they lie on, in CSS pixels. */
const spotMarks = computed(() => {
  if (!field.value) return [];
  const { x, y, w, h } = field.value;
  const now = props.brush !== null && stroke.value.length > 0 ? [{ path: stroke.value, radius: props.brush }] : [];
  // What was painted is a thin line, so that the mend is seen; the brush is shown in full while it paints.
  const spots: { path: Spot['path']; radius: number }[] = [
    ...props.spots.map(({ path }) => ({ path, radius: 0 })),
    ...now,
  ];
  const shifts = Array.from({ length: props.repeats + 2 }, (_, i) => i - 1);
  return spots.flatMap(({ path, radius }) =>
    shifts.flatMap((i) =>
      shifts.map((j) => {
        const points = path.map(([u, v]) => `${x + (u + i) * w},${y + (v + j) * h}`);
        // A line of one point is drawn from there to itself.
        return { d: `M${[...points, points.at(-1)!].join(' L')}`, width: Math.max(2, 2 * radius * Math.min(w, h)) };
      }),
    ),
  );
});
const sourceMarks = computed(() => {
  if (!field.value) return [];
  const { x, y, w, h } = field.value;
  return props.spots.flatMap(({ path, from, radius }) => {
    if (!from) return [];
    const to = path[0]!;
    const place = ([u, v]: readonly [number, number]): [number, number] => [x + u * w, y + v * h];
    return { from: place(from), to: place(to), radius: radius * Math.min(w, h) };
  });
});
const brushMark = computed(() => {
  if (!field.value || props.brush === null || !pointer.value) return null;
  return { cx: pointer.value[0], cy: pointer.value[1], r: props.brush * Math.min(field.value.w, field.value.h) };
});
const dividerAt = computed(() => {
  if (!field.value || !props.before) return null;
  const { x, y, w, h } = field.value;
  return { x: x + w * props.repeats * props.divider, y, height: h * props.repeats };
});

function drag(event: PointerEvent): void {
  if (!field.value || !(event.buttons & 1)) return;
  const { left } = holder.value!.getBoundingClientRect();
  const { x, w } = field.value;
  emit('divide', Math.max(0, Math.min(1, (event.clientX - left - x) / (w * props.repeats))));
}

function grab(event: PointerEvent): void {
  (event.target as Element).setPointerCapture(event.pointerId);
}

function step(event: KeyboardEvent): void {
  const by = { ArrowLeft: -0.05, ArrowRight: 0.05 }[event.key];
  if (by !== undefined) emit('divide', Math.max(0, Math.min(1, props.divider + by)));
}
</script>

<template>
  <div ref="holder" class="view">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="label"
      @pointerdown="beginStroke"
      @pointermove="move"
      @pointerup="endStroke"
      @pointercancel="stroke = []"
      @pointerleave="leave"
      @click="click"
    />
    <svg v-if="field" :viewBox="`0 0 ${width} ${height}`" aria-hidden="true">
      <line v-for="(line, i) in borderLines" :key="`b${i}`" class="border" v-bind="line" />
      <g v-for="(mark, i) in marks" :key="`m${i}`" class="mark-ring" :class="{ seam: mark.why === 'seam' }">
        <circle :cx="mark.x" :cy="mark.y" :r="mark.radius" />
        <path v-if="mark.why === 'twin'" :d="`M${mark.x - 5},${mark.y} h10`" />
      </g>
      <clipPath :id="clipId">
        <rect :x="field.x" :y="field.y" :width="field.w * repeats" :height="field.h * repeats" />
      </clipPath>
      <g :clip-path="`url(#${clipId})`">
        <path v-for="(spot, i) in spotMarks" :key="`s${i}`" class="spot" :d="spot.d" :stroke-width="spot.width" />
      </g>
      <g v-for="(mark, i) in sourceMarks" :key="`f${i}`" class="source">
        <line :x1="mark.from[0]" :y1="mark.from[1]" :x2="mark.to[0]" :y2="mark.to[1]" />
        <circle :cx="mark.from[0]" :cy="mark.from[1]" :r="mark.radius" />
      </g>
      <circle v-if="brushMark" class="brush" v-bind="brushMark" />
    </svg>
    <div
      v-if="dividerAt"
      v-tooltip="'Drag: what it was made of'"
      class="divider"
      role="slider"
      tabindex="0"
      aria-label="Divider between before and after"
      :aria-valuenow="Math.round(divider * 100)"
      aria-valuemin="0"
      aria-valuemax="100"
      :style="{ left: `${dividerAt.x - 7}px`, top: `${dividerAt.y}px`, height: `${dividerAt.height}px` }"
      @pointerdown="grab"
      @pointermove="drag"
      @keydown="step"
    />
  </div>
</template>

<style scoped>
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}

.mark-ring circle,
.mark-ring path {
  fill: none;
  stroke: var(--ochre);
  stroke-width: 2.5;
}

.mark-ring.seam circle {
  stroke: var(--minium);
  stroke-width: 2;
}

.border {
  stroke: var(--azurite);
  stroke-dasharray: 6 4;
}

.spot {
  fill: none;
  stroke: var(--minium);
  stroke-linecap: round;
  stroke-linejoin: round;
  opacity: 0.5;
}

.source circle {
  fill: none;
  stroke: var(--malachite);
  stroke-width: 2;
  stroke-dasharray: 4 3;
}

.source line {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
}

.brush {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}

.divider {
  position: absolute;
  width: 14px;
  cursor: ew-resize;
  touch-action: none;
}

.divider::before {
  position: absolute;
  top: 0;
  left: 6px;
  width: 2px;
  height: 100%;
  background: var(--azurite);
  content: '';
}
</style>
