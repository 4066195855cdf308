<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue';
import type { ImageAsset } from '@zographos/contracts';
import { samplesOf } from '../../../api/samplesOf.ts';
import { colorAt, seenPixels } from './referenceImage.ts';

/** One pinned image: a click picks a colour, dragging moves it, its corner makes it larger. */
const props = defineProps<{ image: ImageAsset }>();
const emit = defineEmits<{
  color: [{ color: string; last: boolean }];
  /** By how many pixels of the screen it was dragged; `done` with the last. */
  drag: [{ dx: number; dy: number; corner: boolean; done: boolean }];
  remove: [];
}>();

/** Large enough to pick colours from a zoomed view. */
const SIDE = 1024;
const canvas = ref<HTMLCanvasElement | null>(null);
const pixels = shallowRef<ImageData | null>(null);
const problem = ref<string | null>(null);

onMounted(async () => {
  const { id, contentHash, colorSpace } = props.image;
  try {
    const image = await samplesOf(id, `${contentHash} ${colorSpace}`, SIDE);
    pixels.value = seenPixels(image, colorSpace === 'srgb');
    if (!canvas.value) return;
    canvas.value.width = image.width;
    canvas.value.height = image.height;
    canvas.value.getContext('2d')?.putImageData(pixels.value, 0, 0);
  } catch {
    problem.value = `“${props.image.name}” could not be loaded.`;
  }
});

let pressed: { x: number; y: number; corner: boolean; moved: boolean } | null = null;

function press(event: PointerEvent, corner: boolean): void {
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  pressed = { x: event.clientX, y: event.clientY, corner, moved: false };
}

function drag(event: PointerEvent, done: boolean): void {
  if (!pressed) return;
  const [dx, dy] = [event.clientX - pressed.x, event.clientY - pressed.y];
  if (!pressed.moved && Math.hypot(dx, dy) < 4) return;
  pressed = { ...pressed, x: event.clientX, y: event.clientY, moved: true };
  emit('drag', { dx, dy, corner: pressed.corner, done });
}

function release(event: PointerEvent): void {
  if (pressed?.moved) emit('drag', { dx: 0, dy: 0, corner: pressed.corner, done: true });
  else if (pressed && !pressed.corner && pixels.value) {
    const box = canvas.value!.getBoundingClientRect();
    const [u, v] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
    emit('color', { color: colorAt(pixels.value, u, v), last: event.shiftKey });
  }
  pressed = null;
}
</script>

<template>
  <figure class="reference">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="image.name"
      :style="{ aspectRatio: `${image.inspection.width} / ${image.inspection.height}` }"
      @pointerdown.stop="press($event, false)"
      @pointermove="drag($event, false)"
      @pointerup="release"
      @pointercancel="pressed = null"
    />
    <span v-if="problem" class="problem">{{ problem }}</span>
    <button type="button" class="away" :aria-label="`Take “${image.name}” away`" @click="emit('remove')">×</button>
    <span
      class="corner"
      @pointerdown.stop="press($event, true)"
      @pointermove="drag($event, false)"
      @pointerup="release"
      @pointercancel="pressed = null"
    />
  </figure>
</template>

<style scoped>
.reference {
  position: absolute;
  margin: 0;
}

canvas {
  display: block;
  width: 100%;
  background: var(--paper-raised);
  cursor: crosshair;
  touch-action: none;
}

.away,
.corner {
  position: absolute;
  right: 0;
  width: 20px;
  height: 20px;
  opacity: 0;
}

.reference:hover > .away,
.reference:hover > .corner,
.away:focus-visible {
  opacity: 1;
}

.away {
  top: 0;
  padding: 0;
  border: 0;
  background: var(--paper);
  color: inherit;
  cursor: pointer;
}

.corner {
  bottom: 0;
  background: linear-gradient(135deg, transparent 50%, var(--paper) 50%);
  cursor: nwse-resize;
  touch-action: none;
}

.problem {
  position: absolute;
  inset: 4px auto auto 4px;
  color: var(--minium);
}
</style>
