<script setup lang="ts">
import { onMounted, ref, watch } from 'vue';
import type { OfferPicture } from '../preview/useLayersPreview.ts';

/** The model with a layer that may be added. */
const props = defineProps<{ picture: OfferPicture }>();
const canvas = ref<HTMLCanvasElement | null>(null);

function draw(): void {
  const { side, rgba } = props.picture;
  canvas.value?.getContext('2d')?.putImageData(new ImageData(rgba, side, side), 0, 0);
}
onMounted(draw);
watch(() => props.picture, draw);
</script>

<template>
  <canvas ref="canvas" :width="picture.side" :height="picture.side" />
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  height: 100%;
}
</style>
