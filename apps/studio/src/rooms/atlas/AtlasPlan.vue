<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import type { Placement } from '@zographos/core/atlas';
import type { Size } from '@zographos/core/math';

/** An atlas as it will be: each set where it lies, to be dragged; arrow keys move the one in focus. */
const props = defineProps<{
  size: Size;
  places: readonly Placement[];
  sets: readonly { name: string; picture: string }[];
  gutter: number;
  /** Texels by which dragging moves. */
  snap: number;
}>();
const emit = defineEmits<{ place: [number, Partial<Placement>] }>();

const holder = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(holder);
const scale = computed(() => Math.min((width.value - 32) / props.size.width, (height.value - 48) / props.size.height));
const atlas = computed(() => ({
  width: `${props.size.width * scale.value}px`,
  height: `${props.size.height * scale.value}px`,
}));
const boxOf = ({ x, y, width: w, height: h }: Placement, around = 0): Record<string, string> => ({
  left: `${(x - around) * scale.value}px`,
  bottom: `${(y - around) * scale.value}px`,
  width: `${(w + 2 * around) * scale.value}px`,
  height: `${(h + 2 * around) * scale.value}px`,
});

let drag: { at: number; from: { x: number; y: number }; place: Placement } | null = null;

function down(event: PointerEvent, at: number): void {
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  drag = { at, from: { x: event.clientX, y: event.clientY }, place: { ...props.places[at]! } };
}

function moved(event: PointerEvent): void {
  if (!drag) return;
  const { at, from, place } = drag;
  set(at, place.x + (event.clientX - from.x) / scale.value, place.y - (event.clientY - from.y) / scale.value);
}

/** On whole steps, and never over the edge. */
function set(at: number, x: number, y: number): void {
  const { width: w, height: h } = props.places[at]!;
  const step = (value: number, most: number): number =>
    Math.max(0, Math.min(most, Math.round(value / props.snap) * props.snap));
  emit('place', at, { x: step(x, props.size.width - w), y: step(y, props.size.height - h) });
}

function walk(event: KeyboardEvent, at: number): void {
  const steps: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1],
  };
  const step = steps[event.key];
  if (!step) return;
  event.preventDefault();
  const { x, y } = props.places[at]!;
  set(at, x + step[0] * props.snap, y + step[1] * props.snap);
}
</script>

<template>
  <figure ref="holder" class="view plan">
    <figcaption>{{ size.width }} × {{ size.height }} px</figcaption>
    <div class="atlas" :style="atlas">
      <template v-for="(place, i) in places" :key="i">
        <span v-if="gutter" class="gutter" :style="boxOf(place, gutter)" />
        <button
          type="button"
          class="set"
          :style="{
            ...boxOf(place),
            backgroundImage: `url(${sets[i]?.picture})`,
            backgroundSize: `${100 / (place.across ?? 1)}% 100%`,
          }"
          :aria-label="`${sets[i]?.name} at ${place.x}, ${place.y}`"
          @pointerdown="down($event, i)"
          @pointermove="moved"
          @pointerup="drag = null"
          @keydown="walk($event, i)"
        >
          <span>{{ sets[i]?.name }}</span>
        </button>
      </template>
    </div>
  </figure>
</template>

<style scoped>
.plan {
  display: grid;
  place-items: center;
}

.atlas {
  position: relative;
  background: oklch(0.72 0 0);
  outline: 1px solid var(--ink);
}

.gutter {
  position: absolute;
  border: 1px dashed var(--line-strong);
}

.set {
  position: absolute;
  padding: 0;
  border: 1px solid var(--ink);
  cursor: grab;
  touch-action: none;
}

.set span {
  position: absolute;
  bottom: 4px;
  left: 4px;
  padding: 1px 6px;
  background: var(--paper);
  color: var(--ink);
}
</style>
