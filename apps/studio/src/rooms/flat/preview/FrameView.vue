<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import type { Corners } from '@zographos/core/seamless';
import type { Shown } from './flatWorker.ts';

/** The picture a tile is made of, with the four corners of what is used; they are dragged, or moved by arrow keys. */
const props = defineProps<{ picture: Shown | null; corners: Corners }>();
const emit = defineEmits<{ move: [Corners]; change: [Corners] }>();

const NAMES = ['upper left', 'upper right', 'lower right', 'lower left'] as const;
const STEP = 0.005;
const holder = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(holder);

const field = computed(() => {
  const { picture } = props;
  if (!picture || width.value === 0) return null;
  const scale = Math.min((width.value - 40) / picture.width, (height.value - 40) / picture.height);
  const [w, h] = [picture.width * scale, picture.height * scale];
  return { x: (width.value - w) / 2, y: (height.value - h) / 2, w, h };
});

watch(
  [() => props.picture, canvas],
  ([picture, on]) => {
    if (!picture || !on) return;
    on.width = picture.width;
    on.height = picture.height;
    on.getContext('2d')!.putImageData(new ImageData(picture.rgba, picture.width, picture.height), 0, 0);
  },
  { flush: 'post' },
);

const points = computed(() =>
  field.value
    ? props.corners.map(([u, v]) => [field.value!.x + u * field.value!.w, field.value!.y + v * field.value!.h] as const)
    : [],
);

const moved = (corner: number, to: readonly [number, number]): Corners =>
  props.corners.map((each, i) =>
    i === corner ? to.map((value) => Math.max(0, Math.min(1, value))) : each,
  ) as unknown as Corners;

function placeOf(event: PointerEvent): readonly [number, number] {
  const { left, top } = holder.value!.getBoundingClientRect();
  const { x, y, w, h } = field.value!;
  return [(event.clientX - left - x) / w, (event.clientY - top - y) / h];
}

function drag(corner: number, event: PointerEvent): void {
  if (event.buttons & 1) emit('move', moved(corner, placeOf(event)));
}

function grab(event: PointerEvent): void {
  (event.target as Element).setPointerCapture(event.pointerId);
}

function step(corner: number, event: KeyboardEvent): void {
  const by = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] }[event.key];
  if (!by) return;
  event.preventDefault();
  const [u, v] = props.corners[corner]!;
  emit('change', moved(corner, [u + by[0]!, v + by[1]!]));
}
</script>

<template>
  <div ref="holder" class="frame-view">
    <canvas
      v-show="field"
      ref="canvas"
      role="img"
      aria-label="The picture, with its frame"
      :style="field ? { left: `${field.x}px`, top: `${field.y}px`, width: `${field.w}px`, height: `${field.h}px` } : {}"
    />
    <svg v-if="field" :viewBox="`0 0 ${width} ${height}`" aria-hidden="true">
      <path
        class="outside"
        fill-rule="evenodd"
        :d="`M${field.x},${field.y} h${field.w} v${field.h} h${-field.w} z M${points.map((point) => point.join()).join(' L')} z`"
      />
      <polygon :points="points.map((point) => point.join()).join(' ')" />
    </svg>
    <button
      v-for="(point, i) in points"
      :key="i"
      type="button"
      class="handle"
      :aria-label="`Corner, ${NAMES[i]}`"
      :style="{ left: `${point[0] - 9}px`, top: `${point[1] - 9}px` }"
      @pointerdown="grab"
      @pointermove="drag(i, $event)"
      @pointerup="emit('change', corners)"
      @keydown="step(i, $event)"
    />
  </div>
</template>

<style scoped>
.frame-view {
  position: relative;
  overflow: hidden;
  min-height: 0;
  background: var(--surround);
}

canvas,
svg {
  position: absolute;
}

svg {
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}

.outside {
  fill: var(--surround);
  opacity: 0.7;
}

polygon {
  fill: none;
  stroke: var(--azurite);
  stroke-width: 2;
}

.handle {
  position: absolute;
  width: 18px;
  height: 18px;
  border: 2px solid var(--azurite);
  border-radius: 50%;
  background: var(--paper);
  cursor: move;
  touch-action: none;
}
</style>
