<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import type { SeamPlace, Telltale } from '@zographos/core/measure';
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
  /** Places of spots, and where their texture comes from, in shares of the tile. */
  spots: readonly { to: readonly [number, number]; from: readonly [number, number]; radius: number }[];
}>();
const emit = defineEmits<{
  /** A place that was clicked on, in shares of the tile, y downwards. */
  place: [[number, number]];
  divide: [number];
  read: [{ x: number; y: number; color: [number, number, number] } | null];
}>();

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

function move(event: PointerEvent): void {
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

function click(event: MouseEvent): void {
  const at = shareAt(event);
  if (at) emit('place', at);
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
const spotMarks = computed(() => {
  if (!field.value) return [];
  const { x, y, w, h } = field.value;
  return props.spots.map(({ to, from, radius }) => ({
    to: [x + to[0] * w, y + to[1] * h] as const,
    from: [x + from[0] * w, y + from[1] * h] as const,
    radius: radius * Math.min(w, h),
  }));
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
      @pointermove="move"
      @pointerleave="emit('read', null)"
      @click="click"
    />
    <svg v-if="field" :viewBox="`0 0 ${width} ${height}`" aria-hidden="true">
      <line v-for="(line, i) in borderLines" :key="`b${i}`" class="border" v-bind="line" />
      <g v-for="(mark, i) in marks" :key="`m${i}`" class="mark-ring" :class="{ seam: mark.why === 'seam' }">
        <circle :cx="mark.x" :cy="mark.y" :r="mark.radius" />
        <path v-if="mark.why === 'twin'" :d="`M${mark.x - 5},${mark.y} h10`" />
      </g>
      <g v-for="(spot, i) in spotMarks" :key="`s${i}`" class="spot">
        <line :x1="spot.from[0]" :y1="spot.from[1]" :x2="spot.to[0]" :y2="spot.to[1]" />
        <circle :cx="spot.to[0]" :cy="spot.to[1]" :r="spot.radius" />
        <circle class="from" :cx="spot.from[0]" :cy="spot.from[1]" :r="spot.radius" />
      </g>
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

.spot circle {
  fill: none;
  stroke: var(--minium);
  stroke-width: 2;
}

.spot .from {
  stroke: var(--malachite);
  stroke-dasharray: 4 3;
}

.spot line {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
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
