<script setup lang="ts">
import Button from 'primevue/button';
import Popover from 'primevue/popover';
import { useElementSize } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { ENDPOINTS, type ImageSet, type Reference } from '@zographos/contracts';
import { call } from '../../../api/call.ts';
import { count } from '../../../controls/format.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useProject } from '../../../stores/project.ts';
import PictureChooser from '../../../ticket/PictureChooser.vue';
import ReferenceImage from './ReferenceImage.vue';

/** Images pinned beside the view: moved, zoomed, and colours picked from them. They stay with the image set. */
const props = defineProps<{ set: ImageSet }>();
const emit = defineEmits<{ color: [{ color: string; last: boolean }] }>();
const store = useProject();
const notices = useNotices();

const board = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(board);
/** Place of the board at the upper left of the view, and its zoom. */
const eye = ref({ x: 0, y: 0, zoom: 1 });
const scale = computed(() => Math.max(1, height.value) * eye.value.zoom);
/** References as they are being moved. */
const movedTo = shallowRef<Reference[] | null>(null);
const pinned = computed(() => movedTo.value ?? props.set.references);
watch(
  () => props.set,
  () => (movedTo.value = null),
);
const shown = computed(() =>
  pinned.value.flatMap((reference, i) => {
    const image = store.images.find(({ id }) => id === reference.image);
    return image ? [{ i, reference, image }] : [];
  }),
);
/** Those whose image has been deleted. */
const gone = computed(() => pinned.value.length - shown.value.length);
const popover = ref<InstanceType<typeof Popover> | null>(null);
const picked = ref<string | null>(null);

async function keep(references: Reference[]): Promise<void> {
  movedTo.value = references;
  const { id, version } = props.set;
  await notices.guard(() => call(ENDPOINTS.changeImageSet, { id }, { version, references }));
  await store.reload();
}

function pin(image: string | null): void {
  if (!image) return;
  popover.value?.hide();
  // Beside the last one, where it can be seen.
  const step = (shown.value.length % 5) * 0.06;
  const { x, y, zoom } = eye.value;
  const wide = (0.6 * width.value) / scale.value;
  void keep([...pinned.value, { image, x: x + (0.05 + step) / zoom, y: y + (0.08 + step) / zoom, width: wide }]);
}

function drag(i: number, { dx, dy, corner, done }: { dx: number; dy: number; corner: boolean; done: boolean }): void {
  const next = pinned.value.map((each, k) => {
    if (k !== i) return each;
    const [x, y] = [dx / scale.value, dy / scale.value];
    return corner
      ? { ...each, width: Math.max(0.02, each.width + x) }
      : { ...each, x: within(each.x + x), y: within(each.y + y) };
  });
  if (done) void keep(next);
  else movedTo.value = next;
}

/** Nothing is ever moved beyond reach. */
const within = (value: number): number => Math.max(-100, Math.min(100, value));

function zoom(event: WheelEvent): void {
  const box = board.value!.getBoundingClientRect();
  const before = scale.value;
  const next = Math.max(0.1, Math.min(40, eye.value.zoom * 2 ** (-event.deltaY / 240)));
  const after = (before / eye.value.zoom) * next;
  const [left, top] = [event.clientX - box.left, event.clientY - box.top];
  // What lies under the pointer stays there.
  eye.value = {
    x: eye.value.x + left / before - left / after,
    y: eye.value.y + top / before - top / after,
    zoom: next,
  };
}

function pan(event: PointerEvent): void {
  if (!(event.buttons & 1)) return;
  const { x, y, zoom: kept } = eye.value;
  eye.value = { x: x - event.movementX / scale.value, y: y - event.movementY / scale.value, zoom: kept };
}

function fit(): void {
  const all = shown.value;
  if (all.length === 0 || width.value === 0) return;
  const heightOf = ({ image, reference }: (typeof all)[number]): number =>
    (reference.width * image.inspection.height) / image.inspection.width;
  const low = [Math.min(...all.map((each) => each.reference.x)), Math.min(...all.map((each) => each.reference.y))];
  const right = Math.max(...all.map(({ reference }) => reference.x + reference.width));
  const bottom = Math.max(...all.map((each) => each.reference.y + heightOf(each)));
  const fitting = 0.94 * Math.min(width.value / (right - low[0]!), height.value / (bottom - low[1]!));
  const margin = (side: number, span: number): number => (side / fitting - span) / 2;
  eye.value = {
    x: low[0]! - margin(width.value, right - low[0]!),
    y: low[1]! - margin(height.value, bottom - low[1]!),
    zoom: fitting / height.value,
  };
}

function pick(told: { color: string; last: boolean }): void {
  picked.value = told.color;
  emit('color', told);
}
</script>

<template>
  <figure ref="board" class="view" @wheel.prevent="zoom" @pointermove="pan">
    <ReferenceImage
      v-for="{ i, reference, image } in shown"
      :key="`${reference.image} ${i}`"
      :image="image"
      :style="{
        left: `${(reference.x - eye.x) * scale}px`,
        top: `${(reference.y - eye.y) * scale}px`,
        width: `${reference.width * scale}px`,
      }"
      @color="pick"
      @drag="drag(i, $event)"
      @remove="keep(pinned.filter((_, k) => k !== i))"
    />
    <p v-if="gone > 0" class="gone">
      {{ count(gone, 'pinned image') }} {{ gone === 1 ? 'is' : 'are' }} not in the project any more.
      <button type="button" class="plain-button" @click="keep(shown.map(({ reference }) => reference))">Unpin</button>
    </p>
    <p v-if="pinned.length === 0" class="empty soft">
      Nothing is pinned yet. Pin photographs or drawings here, and click on them to pick colours into the chosen layer.
    </p>
    <figcaption v-if="picked" class="picked">
      <span class="swatch" :style="{ background: picked }" />{{ picked }}
    </figcaption>
    <div class="choices laid-over">
      <button type="button" @click="fit">Fit</button>
      <Button label="Pin an image" size="small" @click="popover?.toggle($event)" />
    </div>
    <Popover ref="popover"><PictureChooser :image="null" @choose="pin" /></Popover>
  </figure>
</template>

<style scoped>
.view {
  overflow: hidden;
  touch-action: none;
}

.empty {
  position: absolute;
  inset: 40% 24px auto;
  text-align: center;
}

.gone {
  position: absolute;
  top: 44px;
  left: 8px;
  padding: 2px 6px;
  background: var(--paper);
}

.picked {
  display: flex;
  gap: 6px;
  align-items: center;
}

.swatch {
  width: 14px;
  height: 14px;
  border: 1px solid var(--line);
}
</style>
