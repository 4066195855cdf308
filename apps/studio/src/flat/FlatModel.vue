<script setup lang="ts">
import Select from 'primevue/select';
import { useElementSize } from '@vueuse/core';
import { onMounted, onUnmounted, reactive, ref, watch } from 'vue';
import type { MapKind } from '@zographos/core';
import { useLight } from '../stores/light.ts';
import { FlatScene, RELIEFS, SHAPES, type FlatLook, type FlatPicture } from './flatScene.ts';
import { SURROUNDINGS } from './surroundings.ts';

/** A material on simple shapes, under light that can be turned. */
const props = defineProps<{
  maps: ReadonlyMap<MapKind, FlatPicture>;
  depth: number;
  tiling: number;
  alone: MapKind | null;
}>();

const light = useLight();
const holder = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(holder);
const look = reactive<Pick<FlatLook, 'shape' | 'relief' | 'surrounding'>>({
  shape: 'sphere',
  relief: 'normal',
  surrounding: 'studio',
});
let scene: FlatScene | null = null;

const apply = (): void => scene?.setLook({ ...look, tiling: props.tiling, depth: props.depth, alone: props.alone });
const surround = (): void =>
  scene?.setSurround(getComputedStyle(document.documentElement).getPropertyValue('--surround'));

onMounted(() => {
  scene = new FlatScene(canvas.value!);
  surround();
  if (width.value > 0) scene.resize(width.value, height.value);
  scene.setMaps(props.maps);
  apply();
});
onUnmounted(() => scene?.dispose());
watch([width, height], ([w, h]) => {
  if (w > 0 && h > 0) scene?.resize(w, h);
});
watch(
  () => props.maps,
  (maps) => scene?.setMaps(maps),
);
watch([look, () => props.tiling, () => props.depth, () => props.alone], apply);
watch(() => light.light, surround, { flush: 'post' });
</script>

<template>
  <div ref="holder" class="model">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="`The material on a ${look.shape}`"
      title="Drag to turn; with the right button, the light"
    />
    <div class="choices">
      <Select v-model="look.shape" size="small" aria-label="Shape" :options="[...SHAPES]" />
      <Select v-model="look.relief" size="small" aria-label="Relief" :options="[...RELIEFS]" />
      <Select v-model="look.surrounding" size="small" aria-label="Surroundings" :options="[...SURROUNDINGS]" />
      <button type="button" class="plain-button" title="Turn the light" @click="scene?.turn(30)">turn light</button>
    </div>
    <p v-if="look.relief === 'side by side'" class="names">
      <span>normal</span><span>bump</span><span>displacement</span>
    </p>
  </div>
</template>

<style scoped>
.model {
  position: relative;
  overflow: hidden;
  min-height: 0;
  background: var(--surround);
}

canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}

.choices {
  position: absolute;
  right: 8px;
  bottom: 8px;
  display: flex;
  gap: 6px;
  align-items: center;
  padding: 4px 6px;
  background: var(--paper);
}

.names {
  position: absolute;
  top: 8px;
  display: flex;
  justify-content: space-around;
  width: 100%;
}

.names span {
  padding: 2px 8px;
  background: var(--paper);
}
</style>
