<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue';
import { useElementSize, useEventListener } from '@vueuse/core';
import type { MapRevision, TextureMap } from '@zographos/contracts';
import { describeKind } from '@zographos/core/image';
import type { ScreenView } from '@zographos/core/light';
import { percent } from '../controls/format.ts';
import { isTyping } from '../controls/isTyping.ts';
import { useLight } from '../stores/light.ts';
import { surroundColor } from '../theme/surroundColor.ts';
import { MapPainter, type Rectangle, type Texel } from './mapPainter.ts';
import type { Channel } from './tilePicture.ts';

const props = defineProps<{
  revision: MapRevision;
  kind: TextureMap['kind'];
  /** Whether dragging marks a rectangle instead of moving the map. */
  marking?: boolean;
  /** Maps of light that are added to it. */
  added?: readonly MapRevision[];
  /** How light is shown. */
  screen?: ScreenView | null;
}>();
const emit = defineEmits<{ texel: [Texel | null]; mark: [Rectangle | null] }>();

const CHANNELS: Channel[] = ['all', 'R', 'G', 'B'];
const light = useLight();
const canvas = ref<HTMLCanvasElement | null>(null);
const holder = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(holder);
const channel = ref<Channel>('all');
const missed = ref(false);
const scale = ref(1);
let painter = painterOf(props.revision);

function painterOf(revision: MapRevision): MapPainter {
  const made = new MapPainter(revision, draw, props.added);
  made.screen = props.screen ?? null;
  return made;
}
let pointer: { x: number; y: number } | null = null;
let fitted = false;
let pending = 0;

const caption = computed(() => {
  const { width: w, height: h } = props.revision;
  return `${describeKind(props.kind).label}, ${w === h ? w : `${w} × ${h}`} px, ${percent(scale.value)}`;
});

function draw(): void {
  pending ||= requestAnimationFrame(() => {
    pending = 0;
    const context = canvas.value?.getContext('2d', { alpha: false });
    if (!context || width.value === 0) return;
    const ratio = window.devicePixelRatio;
    const surround = surroundColor();
    painter.paint(context, width.value, height.value, ratio, surround);
    scale.value = painter.eye.scale;
    emit('texel', pointer ? painter.read(pointer, width.value, height.value) : null);
  });
}

function fit(): void {
  painter.fit(width.value, height.value);
  fitted = true;
  draw();
}

function zoom(factor: number, at = { x: width.value / 2, y: height.value / 2 }): void {
  painter.zoom(factor, at, width.value, height.value);
  fitted = false;
  draw();
}

watch([width, height], ([w, h]) => {
  if (!canvas.value || w === 0 || h === 0) return;
  canvas.value.width = Math.round(w * window.devicePixelRatio);
  canvas.value.height = Math.round(h * window.devicePixelRatio);
  if (fitted || painter.eye.x === 0) fit();
  else draw();
});
const shownIds = (): string => [props.revision, ...(props.added ?? [])].map(({ id }) => id).join();
watch(
  () => [props.revision, shownIds()] as const,
  ([revision, ids], [before, idsBefore]) => {
    if (ids === idsBefore) return;
    const { eye } = painter;
    painter = painterOf(revision);
    painter.channel = channel.value;
    painter.showMissed = missed.value;
    // Looking at the same place makes revisions comparable.
    if (revision.width === before.width && revision.height === before.height) painter.eye = eye;
    else fit();
    draw();
  },
);
watch(
  () => props.screen,
  (screen) => {
    painter.screen = screen ?? null;
    draw();
  },
);
watch(channel, (value) => {
  painter.channel = value;
  draw();
});
watch(missed, (on) => {
  painter.showMissed = on;
  draw();
});
watch(() => light.light, draw, { flush: 'post' });
onMounted(draw);

function wheel(event: WheelEvent): void {
  zoom(2 ** (-event.deltaY / 240), { x: event.offsetX, y: event.offsetY });
}

function move(event: PointerEvent): void {
  pointer = { x: event.offsetX, y: event.offsetY };
  if (event.buttons & 1 && props.marking) mark(pointer);
  else if (event.buttons & 1) {
    painter.pan(event.movementX, event.movementY);
    fitted = false;
  }
  draw();
}

let corner: { x: number; y: number } | null = null;

/** Marks from where the pointer went down to where it is, in whole texels. */
function mark(at: { x: number; y: number }): void {
  const { width: w, height: h } = props.revision;
  const texel = painter.toTexel(at, width.value, height.value);
  const here = { x: Math.min(w, Math.max(0, texel.x)), y: Math.min(h, Math.max(0, texel.y)) };
  corner ??= here;
  const [left, top] = [Math.floor(Math.min(corner.x, here.x)), Math.floor(Math.min(corner.y, here.y))];
  const [right, bottom] = [Math.ceil(Math.max(corner.x, here.x)), Math.ceil(Math.max(corner.y, here.y))];
  painter.marked = { x: left, y: top, width: Math.max(1, right - left), height: Math.max(1, bottom - top) };
}

function up(): void {
  if (corner) emit('mark', painter.marked);
  corner = null;
}

watch(
  () => props.marking,
  (on) => {
    if (on) return;
    painter.marked = null;
    emit('mark', null);
    draw();
  },
);

function leave(): void {
  pointer = null;
  draw();
}

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event) || event.ctrlKey || event.altKey || event.metaKey) return;
  const step = 80;
  const actions: Record<string, () => void> = {
    '+': () => zoom(2),
    '=': () => zoom(2),
    '-': () => zoom(0.5),
    '0': fit,
    '1': () => zoom(1 / painter.eye.scale),
    ArrowLeft: () => painter.pan(step, 0),
    ArrowRight: () => painter.pan(-step, 0),
    ArrowUp: () => painter.pan(0, step),
    ArrowDown: () => painter.pan(0, -step),
    F1: () => (channel.value = 'all'),
    F2: () => (channel.value = 'R'),
    F3: () => (channel.value = 'G'),
    F4: () => (channel.value = 'B'),
    m: () => (missed.value = !missed.value),
  };
  const action = actions[event.key];
  if (!action) return;
  event.preventDefault();
  action();
  draw();
});

/** Looks at a texel from near, and rings it. */
function goTo(x: number, y: number): void {
  painter.eye = { x: x + 0.5, y: y + 0.5, scale: Math.max(4, painter.eye.scale) };
  painter.ringed = { x, y };
  fitted = false;
  draw();
}

defineExpose({ goTo });
</script>

<template>
  <figure ref="holder" class="view map">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="caption"
      @wheel.prevent="wheel"
      @pointerdown="canvas?.setPointerCapture($event.pointerId)"
      @pointermove="move"
      @pointerup="up"
      @pointerleave="leave"
      @dblclick="fit"
    />
    <figcaption>{{ caption }}</figcaption>
    <div class="choices laid-over">
      <button type="button" aria-label="Zoom out" @click="zoom(0.5)">−</button>
      <button type="button" aria-label="Zoom in" @click="zoom(2)">+</button>
      <button type="button" @click="fit">Fit</button>
      <template v-if="revision.channels > 1">
        <button
          v-for="name in CHANNELS"
          :key="name"
          type="button"
          :aria-pressed="channel === name"
          @click="channel = name"
        >
          {{ name === 'all' ? 'RGB' : name }}
        </button>
      </template>
      <button type="button" :aria-pressed="missed" @click="missed = !missed">Show missed texels</button>
      <slot name="choices" />
    </div>
  </figure>
</template>

<style scoped>
canvas {
  cursor: crosshair;
}
</style>
