<script setup lang="ts">
import Select from 'primevue/select';
import { useElementSize } from '@vueuse/core';
import { computed, onMounted, onUnmounted, reactive, ref, watch } from 'vue';
import type { MapKind } from '@zographos/core/image';
import type { MeshAsset } from '@zographos/contracts';
import { loadGeometry } from '../../../viewport/loadGeometry.ts';
import { useLight } from '../../../stores/light.ts';
import { useNotices } from '../../../stores/notices.ts';
import { FlatScene, RELIEFS, type FlatLook, type FlatPicture } from './flatScene.ts';
import { SHAPES } from '../../../viewport/shapes.ts';
import { SURROUNDINGS } from '../../../viewport/environments.ts';

/** A material on simple shapes or on a mesh of the project, under light that can be turned. */
const props = defineProps<{
  maps: ReadonlyMap<MapKind, FlatPicture>;
  depth: number;
  tiling: number;
  alone: MapKind | null;
  /** Those that can wear it: with UVs, and not too many triangles. */
  meshes?: readonly MeshAsset[];
}>();

const light = useLight();
const notices = useNotices();
const holder = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(holder);
/** A shape, or the number of a mesh. */
const shape = ref<string>('sphere');
const mesh = computed(() => props.meshes?.find(({ id }) => id === shape.value));
const shapes = computed(() => [
  ...SHAPES.map((name) => ({ value: name, label: name })),
  ...(props.meshes ?? []).map(({ id, name }) => ({ value: id, label: name })),
]);
const isLoading = ref(false);
const look = reactive<Pick<FlatLook, 'relief' | 'surrounding'>>({
  relief: 'normal',
  surrounding: 'studio',
});
let scene: FlatScene | null = null;

function apply(): void {
  const named = SHAPES.find((name) => name === shape.value);
  const { tiling, depth, alone } = props;
  scene?.setLook({ ...look, shape: named ?? 'mesh', tiling, depth, alone });
}

/** Triangles that a mesh is split into at the most: enough to follow a height, few enough to be drawn by any machine. */
const MOST_TRIANGLES = 200_000;

async function wear(hash: string | undefined): Promise<void> {
  scene?.setMesh(null);
  if (!hash) return;
  isLoading.value = true;
  const geometry = await notices.guard(() => loadGeometry([hash], 0, MOST_TRIANGLES));
  isLoading.value = false;
  if (geometry && mesh.value?.contentHash === hash) scene?.setMesh(geometry);
}
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
watch(() => mesh.value?.contentHash, wear);
watch([look, shape, () => props.tiling, () => props.depth, () => props.alone], apply);
watch(() => light.light, surround, { flush: 'post' });
</script>

<template>
  <div ref="holder" class="model">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="mesh ? `The material on ${mesh.name}` : `The material on a ${shape}`"
      title="Drag to turn; with the right button, the light"
    />
    <div class="choices">
      <span v-if="isLoading" class="soft">loading …</span>
      <Select
        v-model="shape"
        size="small"
        aria-label="Shape"
        :options="shapes"
        option-label="label"
        option-value="value"
      />
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
