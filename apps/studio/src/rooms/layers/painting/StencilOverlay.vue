<script setup lang="ts">
import { computed, ref } from 'vue';
import { PATHS } from '@zographos/contracts';
import type { StencilFrame } from './stencil.ts';

/** The image of a stencil over the view: dragged to move it, turned with Shift and the wheel, sized by the wheel. */
const props = defineProps<{ thumbnail: string; aspect: number; frame: StencilFrame; width: number; height: number }>();
const emit = defineEmits<{ change: [StencilFrame] }>();

const held = ref(false);
const style = computed(() => {
  const { x, y, size, turn } = props.frame;
  const wide = size * props.height;
  return {
    left: `${x * props.width}px`,
    top: `${y * props.height}px`,
    width: `${wide}px`,
    height: `${wide * props.aspect}px`,
    transform: `translate(-50%, -50%) rotate(${-turn}deg)`,
  };
});

function move({ movementX, movementY }: PointerEvent): void {
  if (!held.value) return;
  const { x, y } = props.frame;
  emit('change', { ...props.frame, x: x + movementX / props.width, y: y + movementY / props.height });
}

function wheel(event: WheelEvent): void {
  const { size, turn } = props.frame;
  // Shift turns the wheel sideways in some browsers.
  const by = event.deltaY || event.deltaX;
  if (event.shiftKey) emit('change', { ...props.frame, turn: turn + by / 20 });
  else emit('change', { ...props.frame, size: Math.max(0.02, Math.min(4, size * 2 ** (-by / 480))) });
}

function hold(event: PointerEvent): void {
  held.value = true;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
</script>

<template>
  <img class="stencil" :src="PATHS.blob(thumbnail)" alt="Stencil" :style="style" />
  <button
    type="button"
    class="grip"
    aria-label="Move the stencil; wheel: size, Shift and wheel: rotation"
    :style="{ left: `${frame.x * width}px`, top: `${frame.y * height}px` }"
    @pointerdown="hold"
    @pointermove="move"
    @pointerup="held = false"
    @wheel.prevent="wheel"
  >
    ✥
  </button>
</template>

<style scoped>
.stencil {
  position: absolute;
  opacity: 0.35;
  pointer-events: none;
}

.grip {
  position: absolute;
  width: 28px;
  height: 28px;
  padding: 0;
  border: 1px solid var(--ink);
  border-radius: 50%;
  background: var(--paper);
  color: var(--ink);
  cursor: move;
  transform: translate(-50%, -50%);
  touch-action: none;
}
</style>
