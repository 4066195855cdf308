<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core';
import { computed, onMounted, onUnmounted, ref, watch } from 'vue';
import type { Size } from '@zographos/core/math';
import { shiftBy, tileOrigin, turnAndScale, type UvMatrix } from '@zographos/core/uv';
import { isTyping } from '../../../controls/isTyping.ts';
import { useLight } from '../../../stores/light.ts';
import { useNotices } from '../../../stores/notices.ts';
import {
  boxOf,
  islandsWithin,
  middleOf,
  mirrorAbout,
  snapped,
  triangleAt,
  type Box,
  type Move,
} from '../islandPicks.ts';
import { cornerOf, drawOverlay, gripAt, movedBox, Projection, type Grip } from './layoutOverlay.ts';
import { LayoutPainter, MARK, type Heat, type LayoutEye } from './layoutPainter.ts';
import type { LaidMeshes } from './layoutWorker.ts';

/** A layout to look at and to edit: islands are chosen, dragged, turned and scaled. */
const props = defineProps<{
  layout: LaidMeshes | null;
  /** Of the map that lies on each tile. */
  size: Size;
  tiles: readonly { number: number; note: string; inUse: boolean }[];
  heat: Heat | null;
  locked: ReadonlySet<number>;
  /** Whether islands are moved by whole texels and turned by steps. */
  snap: boolean;
  caption: string;
}>();
const chosen = defineModel<ReadonlySet<number>>('chosen', { required: true });
/** The point that islands are turned and scaled about; null for their middle. */
const pivot = defineModel<readonly [number, number] | null>('pivot', { required: true });
const emit = defineEmits<{ move: [Move[]]; place: [{ u: number; v: number } | null] }>();

const MOST_SCALE = 200_000;
const TURN_STEP = 15;

const light = useLight();
const notices = useNotices();
const holder = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const over = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(holder);
const edges = ref(false);
/** What a drag has done so far, in words. */
const doing = ref('');
let eye: LayoutEye = { u: 0.5, v: 0.5, scale: 300 };
let painter: LayoutPainter | null = null;
let moved: UvMatrix | null = null;
let lasso: Box | null = null;
let ringed: { u: number; v: number } | null = null;
let hovered = -1;
let fitted = true;
let pending = 0;

const aspect = computed(() => props.size.width / props.size.height);
const view = (): Projection => new Projection(eye, width.value, height.value, aspect.value);
const box = computed(() => props.layout && boxOf(props.layout, chosen.value));

function draw(): void {
  pending ||= requestAnimationFrame(() => {
    pending = 0;
    const context = over.value?.getContext('2d');
    if (!context || !canvas.value || width.value === 0) return;
    const ratio = window.devicePixelRatio;
    const [w, h] = [canvas.value.width, canvas.value.height];
    painter?.paint(eye, w, h, ratio, aspect.value, moved ?? undefined);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, width.value, height.value);
    const ink = getComputedStyle(document.documentElement).getPropertyValue('--ink');
    const { value: all } = box;
    const held = all && moved ? movedBox(all, moved) : all;
    drawOverlay(
      context,
      view(),
      { tiles: props.tiles, box: held, pivot: all && (pivot.value ?? middleOf(held!)), lasso, ringed },
      ink,
    );
  });
}

function fit(): void {
  const origins = props.tiles.map(({ number }) => tileOrigin(number));
  const [us, vs] = [origins.map(([u]) => u), origins.map(([, v]) => v)];
  const [u0, v0, u1, v1] = [Math.min(...us), Math.min(...vs), Math.max(...us) + 1, Math.max(...vs) + 1];
  const [free, above, below] = [width.value - 24, 36, 54];
  const scale = Math.max(10, Math.min(free / ((u1 - u0) * aspect.value), (height.value - above - below) / (v1 - v0)));
  // A little above the middle: below lie the choices.
  eye = { u: (u0 + u1) / 2, v: (v0 + v1) / 2 - (below - above) / 2 / scale, scale };
  fitted = true;
  draw();
}

function zoom(factor: number, x = width.value / 2, y = height.value / 2): void {
  const [u, v] = view().toLayout(x, y);
  const scale = Math.min(MOST_SCALE, Math.max(10, eye.scale * factor));
  eye = {
    scale,
    u: u - (x - width.value / 2) / (scale * aspect.value),
    v: v + (y - height.value / 2) / scale,
  };
  fitted = false;
  draw();
}

function pan(dx: number, dy: number): void {
  eye.u -= dx / (eye.scale * aspect.value);
  eye.v += dy / eye.scale;
  fitted = false;
  draw();
}

function mark(): void {
  if (!props.layout) return;
  const marks = new Uint8Array(props.layout.boxes.length / 4);
  for (const island of chosen.value) marks[island]! |= MARK.chosen;
  for (const island of props.locked) marks[island]! |= MARK.locked;
  for (const island of props.layout.stacks.flat()) marks[island]! |= MARK.shared;
  if (hovered >= 0) marks[hovered]! |= MARK.hovered;
  painter?.setMarks(marks);
  draw();
}

function show(): void {
  moved = null;
  if (props.layout) {
    painter?.setLayout(props.layout);
    painter?.setHeat(props.heat);
  }
  mark();
}

onMounted(() => {
  try {
    painter = new LayoutPainter(canvas.value!);
  } catch (error) {
    notices.say('error', error instanceof Error ? error.message : String(error));
  }
  show();
});
onUnmounted(() => {
  cancelAnimationFrame(pending);
  painter?.close();
});
watch([width, height], ([w, h]) => {
  for (const each of [canvas.value, over.value]) {
    if (!each || w === 0 || h === 0) continue;
    each.width = Math.round(w * window.devicePixelRatio);
    each.height = Math.round(h * window.devicePixelRatio);
  }
  if (fitted) fit();
  else draw();
});
watch(() => props.layout, show);
watch(
  () => props.heat,
  (heat) => {
    painter?.setHeat(heat);
    draw();
  },
);
watch([chosen, () => props.locked], mark);
watch([pivot, aspect], draw);
watch(
  () => props.tiles.map(({ number, note, inUse }) => `${number}${note}${inUse}`).join(),
  () => (fitted ? fit() : draw()),
);
watch(edges, (on) => {
  if (painter) painter.showEdges = on;
  draw();
});
watch(() => light.light, draw, { flush: 'post' });

type Drag =
  | { what: 'pan' }
  | { what: 'move'; from: readonly [number, number] }
  | { what: 'grip'; grip: Grip; from: readonly [number, number]; about: readonly [number, number] }
  | { what: 'lasso'; from: readonly [number, number]; adding: boolean };
let drag: Drag | null = null;

function down(event: PointerEvent): void {
  over.value?.setPointerCapture(event.pointerId);
  const from = view().toLayout(event.offsetX, event.offsetY);
  if (event.button !== 0) {
    drag = { what: 'pan' };
    return;
  }
  if (!props.layout) return;
  const { value: all } = box;
  const about = pivot.value ?? (all ? middleOf(all) : from);
  const grip = all && gripAt(all, about, view(), event.offsetX, event.offsetY);
  if (grip) {
    drag = { what: 'grip', grip, from, about };
    return;
  }
  const triangle = triangleAt(props.layout, ...from);
  if (triangle < 0) {
    drag = { what: 'lasso', from, adding: event.shiftKey };
    return;
  }
  const island = props.layout.islandOf[triangle]!;
  if (event.shiftKey) {
    const next = new Set(chosen.value);
    if (!next.delete(island)) next.add(island);
    chosen.value = next;
  } else if (!chosen.value.has(island)) chosen.value = new Set([island]);
  drag = { what: 'move', from };
}

function move(event: PointerEvent): void {
  const at = view().toLayout(event.offsetX, event.offsetY);
  emit('place', { u: at[0], v: at[1] });
  if (drag?.what === 'pan') pan(event.movementX, event.movementY);
  else if (drag?.what === 'lasso') {
    const { from } = drag;
    lasso = [Math.min(from[0], at[0]), Math.min(from[1], at[1]), Math.max(from[0], at[0]), Math.max(from[1], at[1])];
    draw();
  } else if (drag?.what === 'grip' && drag.grip === 'pivot') pivot.value = at;
  else if (drag) {
    moved = drag.what === 'move' ? shifted(drag.from, at) : gripped(drag, at);
    draw();
  } else hover(at);
}

/** Islands under the pointer are lit up, as far as that can be found in time. */
function hover(at: readonly [number, number]): void {
  if (!props.layout || props.layout.islandOf.length > 200_000) return;
  const triangle = triangleAt(props.layout, ...at);
  const island = triangle < 0 ? -1 : props.layout.islandOf[triangle]!;
  if (island === hovered) return;
  hovered = island;
  mark();
}

function shifted(from: readonly [number, number], at: readonly [number, number]): UvMatrix {
  const { width: w, height: h } = props.size;
  const [du, dv] = [at[0] - from[0], at[1] - from[1]];
  // Whole texels, so that what lies on texels stays on them.
  const [u, v] = props.snap ? [snapped(du, w), snapped(dv, h)] : [du, dv];
  doing.value = `${(u * w).toFixed(props.snap ? 0 : 1)}, ${(v * h).toFixed(props.snap ? 0 : 1)} px`;
  return shiftBy(u, v);
}

function gripped({ grip, from, about }: Extract<Drag, { what: 'grip' }>, at: readonly [number, number]): UvMatrix {
  const away = (place: readonly [number, number]): [number, number] => [
    (place[0] - about[0]) * aspect.value,
    place[1] - about[1],
  ];
  if (grip === 'turn') {
    const angleOf = ([x, y]: [number, number]): number => (Math.atan2(y, x) * 180) / Math.PI;
    const angle = angleOf(away(at)) - angleOf(away(from));
    const turned = props.snap ? Math.round(angle / TURN_STEP) * TURN_STEP : angle;
    doing.value = `${turned.toFixed(props.snap ? 0 : 1)}°`;
    return turnAndScale(about, turned, [1, 1], aspect.value);
  }
  const corner = cornerOf(box.value!, grip);
  const lengthOf = ([x, y]: [number, number]): number => Math.hypot(x, y);
  const start = lengthOf(away(corner));
  const factor = start > 0 ? Math.max(0.01, lengthOf(away(at)) / start) : 1;
  doing.value = `${factor.toFixed(3)} times`;
  return turnAndScale(about, 0, [factor, factor]);
}

function up(): void {
  if (drag?.what === 'lasso' && props.layout) {
    const within = lasso ? islandsWithin(props.layout, lasso) : [];
    chosen.value = new Set(drag.adding ? [...chosen.value, ...within] : within);
    lasso = null;
    draw();
  } else if (moved) finish(moved);
  drag = null;
  doing.value = '';
}

function finish(matrix: UvMatrix): void {
  const still = matrix.every((value, i) => value === [1, 0, 0, 1, 0, 0][i]);
  if (still || chosen.value.size === 0) {
    moved = null;
    draw();
    return;
  }
  emit('move', [{ islands: [...chosen.value], matrix }]);
}

function leave(): void {
  emit('place', null);
  if (hovered < 0) return;
  hovered = -1;
  mark();
}

const about = (): readonly [number, number] | null => pivot.value ?? (box.value && middleOf(box.value));
const turn = (angle: number): void => {
  const place = about();
  if (place) finish(turnAndScale(place, angle, [1, 1], aspect.value));
};
const mirror = (across: boolean): void => {
  const place = about();
  if (place) finish(mirrorAbout(place, across));
};

function step(u: number, v: number, event: KeyboardEvent): void {
  const { width: w, height: h } = props.size;
  if (chosen.value.size === 0) pan(-u * 80, v * 80);
  else if (event.ctrlKey) finish(shiftBy(u, v));
  else finish(shiftBy((u * (event.shiftKey ? 16 : 1)) / w, (v * (event.shiftKey ? 16 : 1)) / h));
}

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event) || event.altKey || event.metaKey || !props.layout) return;
  const arrows: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1],
  };
  const arrow = arrows[event.key];
  const all = (): Set<number> => new Set(Array.from({ length: props.layout!.boxes.length / 4 }, (_, i) => i));
  const actions: Record<string, () => void> = {
    '+': () => zoom(2),
    '=': () => zoom(2),
    '-': () => zoom(0.5),
    '0': fit,
    a: () => (chosen.value = all()),
    i: () => (chosen.value = new Set([...all()].filter((island) => !chosen.value.has(island)))),
    Escape: () => (chosen.value = new Set()),
    r: () => turn(90),
    R: () => turn(-90),
    x: () => mirror(true),
    y: () => mirror(false),
  };
  const action = arrow ? () => step(...arrow, event) : event.ctrlKey ? undefined : actions[event.key];
  if (!action) return;
  event.preventDefault();
  action();
});

/** Looks at a place from near, and rings it. */
function goTo(u: number, v: number): void {
  eye = { u, v, scale: Math.max(eye.scale, 1500) };
  ringed = { u, v };
  fitted = false;
  draw();
}

defineExpose({ goTo, turn, mirror });
</script>

<template>
  <figure ref="holder" class="view">
    <canvas ref="canvas" aria-hidden="true" />
    <canvas
      ref="over"
      role="img"
      tabindex="0"
      :aria-label="caption"
      @wheel.prevent="zoom(2 ** (-$event.deltaY / 240), $event.offsetX, $event.offsetY)"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @pointerleave="leave"
      @contextmenu.prevent
    />
    <figcaption>{{ doing || caption }}</figcaption>
    <div class="choices laid-over">
      <button type="button" aria-label="Zoom out" @click="zoom(0.5)">−</button>
      <button type="button" aria-label="Zoom in" @click="zoom(2)">+</button>
      <button type="button" @click="fit">Fit</button>
      <button type="button" :aria-pressed="edges" @click="edges = !edges">Wireframe</button>
      <slot name="choices" />
    </div>
  </figure>
</template>

<style scoped>
canvas:focus-visible {
  outline-offset: -2px;
}
</style>
