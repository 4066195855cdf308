<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue';
import type { MeshAsset } from '@zographos/contracts';
import type { MapKind } from '@zographos/core/image';
import Dropdown from '../../../controls/Dropdown.vue';
import NumberField from '../../../controls/NumberField.vue';
import { useNotices } from '../../../stores/notices.ts';
import { loadGeometry } from '../../../viewport/geometry/loadGeometry.ts';
import type { BytesImage } from '../../../viewport/materials/mapTextures.ts';
import { DENSE_FACES, MOST_FACES, SHAPE_LABELS, SHAPES } from '../../../viewport/geometry/shapes.ts';
import { useViewport } from '../../../viewport/useViewport.ts';
import ViewControls from '../../../viewport/ViewControls.vue';
import { DEFAULT_LOOK, type ViewLook } from '../../../viewport/Viewport.ts';
import { FlatScene } from './flatScene.ts';
import { RELIEF_LABELS, RELIEFS, SINGLE_RELIEFS, type Relief } from './reliefs.ts';

/** A material on simple shapes or on a mesh of the project, under light that can be turned. */
const props = defineProps<{
  maps: ReadonlyMap<MapKind, BytesImage>;
  depth: number;
  tiling: number;
  alone: MapKind | null;
  /** Those that can wear it: with UVs, and not too many triangles. */
  meshes?: readonly MeshAsset[];
}>();

const notices = useNotices();
const holder = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
/** A shape, or the number of a mesh. */
const shape = ref<string>('sphere');
const relief = ref<Relief>('normal');
/** How many times as high the relief is shown, and faces along each side of a displaced shape. */
const amount = ref(1);
const faces = ref(DENSE_FACES);
const isRaised = computed(() => relief.value === 'displacement' || relief.value === 'compare');
const WHY = `At most ${MOST_FACES}: more than a million triangles are not drawn smoothly while the view turns.`;
const look = ref<ViewLook>(DEFAULT_LOOK);
const mesh = computed(() => props.meshes?.find(({ id }) => id === shape.value));
const shapes = computed(() => [
  ...SHAPES.map((name) => ({ value: name, label: SHAPE_LABELS[name] })),
  ...(props.meshes ?? []).map(({ id, name }) => ({ value: id, label: name })),
]);
const reliefs = RELIEFS.map((value) => ({ value, label: RELIEF_LABELS[value] }));
const shownOn = computed(() => mesh.value?.name ?? `a ${shape.value}`);
const isLoading = ref(false);
let scene: FlatScene | null = null;

function applyShape(): void {
  const { tiling, depth } = props;
  scene?.setLook({
    shape: SHAPES.find((name) => name === shape.value) ?? 'mesh',
    ...{ relief: relief.value, tiling, depth, amount: amount.value, faces: faces.value },
  });
}

const viewport = useViewport(
  canvas,
  holder,
  computed(() => ({ ...look.value, shading: props.alone ? ('map' as const) : ('lit' as const), alone: props.alone })),
  (opened) => {
    scene = new FlatScene(opened);
    // Maps first: bodies are made of them once it is known what to show.
    scene.setMaps(props.maps);
    applyShape();
  },
);

/** Triangles that a mesh is split into at the most: enough to follow a height, few enough to be drawn by any machine. */
const MOST_TRIANGLES = 200_000;

async function loadMesh(hash: string | undefined): Promise<void> {
  scene?.setMesh(null);
  if (!hash) return;
  isLoading.value = true;
  const geometry = await notices.guard(() => loadGeometry([hash], 0, MOST_TRIANGLES));
  isLoading.value = false;
  if (geometry && mesh.value?.contentHash === hash) scene?.setMesh(geometry);
}

onUnmounted(() => scene?.dispose());
watch(
  () => props.maps,
  (maps) => scene?.setMaps(maps),
);
watch(() => mesh.value?.contentHash, loadMesh);
watch([relief, shape, amount, faces, () => props.tiling, () => props.depth], applyShape);
</script>

<template>
  <figure ref="holder" class="view model">
    <canvas ref="canvas" role="img" :aria-label="`The material on ${shownOn}`" />
    <figcaption v-if="isLoading">Loading the mesh …</figcaption>
    <p v-if="relief === 'compare'" class="names">
      <span v-for="name in SINGLE_RELIEFS" :key="name">{{ RELIEF_LABELS[name] }}</span>
    </p>
    <div class="choices laid-over">
      <Dropdown label="Shape" :value="shape" :options="shapes" @choose="shape = $event" />
      <Dropdown label="Relief" :value="relief" :options="reliefs" @choose="relief = $event" />
      <NumberField
        v-if="relief !== 'normal'"
        label="Height ×"
        :value="amount"
        :min="0"
        :max="20"
        :digits="2"
        @change="$event !== null && (amount = $event)"
      />
      <span v-if="isRaised && !mesh" v-tooltip="WHY">
        <NumberField
          label="Subdivision"
          :value="faces"
          :min="8"
          :max="MOST_FACES"
          @change="$event && (faces = $event)"
        />
      </span>
      <ViewControls
        v-model:look="look"
        :has-normals="maps.has('normal')"
        @turn-light="viewport.current?.turnLight($event, 0)"
      />
    </div>
  </figure>
</template>

<style scoped>
.choices {
  align-items: center;
}

.choices :deep(.number-field) {
  gap: 6px;
}

.choices :deep(.number-field input) {
  width: 64px;
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
