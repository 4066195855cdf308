<script setup lang="ts">
import { onMounted, ref, shallowRef, watch } from 'vue';
import type { MapRevision } from '@zographos/contracts';
import { screenBytes, type ScreenView } from '@zographos/core/light';
import { useNotices } from '../../../stores/notices.ts';
import type { LightPicture, LightPictures } from './lightPictures.ts';

/** A small picture of light. */
const props = defineProps<{
  revisions: readonly MapRevision[];
  pictures: LightPictures;
  screen: ScreenView;
  label: string;
}>();
const notices = useNotices();
const canvas = ref<HTMLCanvasElement | null>(null);
const picture = shallowRef<LightPicture | null>(null);
const idsOf = (revisions: readonly MapRevision[]): string => revisions.map(({ id }) => id).join();

async function load(): Promise<void> {
  const ids = idsOf(props.revisions);
  const loaded = await notices.guard(() => props.pictures.sumOf(props.revisions));
  if (loaded && ids === idsOf(props.revisions)) picture.value = loaded;
}

function draw(): void {
  const context = canvas.value?.getContext('2d');
  if (!context || !picture.value) return;
  const { width, height } = picture.value;
  Object.assign(context.canvas, { width, height });
  context.putImageData(new ImageData(screenBytes(picture.value, props.screen), width, height), 0, 0);
}

onMounted(load);
watch(() => idsOf(props.revisions), load);
watch([picture, () => props.screen], draw);
</script>

<template>
  <canvas ref="canvas" role="img" :aria-label="label" />
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  aspect-ratio: 1;
  object-fit: contain;
  background: var(--surround);
}
</style>
