<script setup lang="ts">
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { PATHS, type ImageAsset } from '@zographos/contracts';
import { screenByte } from '@zographos/core/color';
import { CHANNEL_NAMES, describeKind, pickChannel, type Image } from '@zographos/core/image';
import { samplesOf } from '../../api/samplesOf.ts';
import Choice from '../../controls/Choice.vue';

/** An imported image as a whole, or one of its channels as a grey picture. */
const props = defineProps<{ image: ImageAsset }>();

const SIDE = 1024;
const ALL = 'all';
const shown = ref(ALL);
const samples = shallowRef<Image | null>(null);
const problem = ref<string | null>(null);
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');

const options = computed(() => {
  const { channels } = props.image.inspection;
  const own = channels < 3 ? [0, 3].slice(0, channels) : [0, 1, 2, 3].slice(0, channels);
  const names = own.map((c) => {
    const content = props.image.packing?.[channels < 3 && c === 3 ? 1 : c];
    const name = channels < 3 && c === 0 ? 'Grey' : CHANNEL_NAMES[c]!;
    return { value: String(c), label: content ? `${name}: ${describeKind(content.map).phrase}` : name };
  });
  return [{ value: ALL, label: 'All channels' }, ...names];
});

watch(
  () => [props.image.id, props.image.contentHash, props.image.colorSpace],
  () => {
    samples.value = null;
    shown.value = ALL;
  },
);

/** Samples are fetched once a single channel is asked for; the thumbnail is enough for the whole. */
watch([shown, samples, canvas], async () => {
  if (shown.value === ALL) return;
  const { id, contentHash, colorSpace } = props.image;
  if (!samples.value) {
    try {
      const loaded = await samplesOf(id, `${contentHash} ${colorSpace}`, SIDE);
      if (id === props.image.id) samples.value = loaded;
    } catch (error) {
      problem.value = `The channels of “${props.image.name}” could not be loaded: ${error instanceof Error ? error.message : String(error)}. Choose the channel again.`;
      shown.value = ALL;
    }
    return;
  }
  problem.value = null;
  draw(samples.value, Number(shown.value));
});

function draw(image: Image, channel: number): void {
  const context = canvas.value?.getContext('2d');
  if (!context || !canvas.value) return;
  const { width, height, data } = pickChannel(image, { channel });
  canvas.value.width = width;
  canvas.value.height = height;
  const pixels = context.createImageData(width, height);
  // Samples come as light; colours are shown as they are stored, through their curve.
  const isLight = props.image.colorSpace === 'srgb' && channel < 3;
  for (let i = 0; i < data.length; i++) {
    pixels.data.fill(isLight ? screenByte(data[i]!) : Math.round(data[i]! * 255), i * 4, i * 4 + 3);
    pixels.data[i * 4 + 3] = 255;
  }
  context.putImageData(pixels, 0, 0);
}
</script>

<template>
  <div class="image">
    <Choice
      v-if="image.inspection.channels > 1"
      label="Channel"
      :value="shown"
      :options="options"
      @choose="shown = $event"
    />
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <canvas v-if="shown !== ALL" ref="canvas" role="img" :aria-label="`A channel of ${image.name}`" />
    <img v-else :src="PATHS.blob(image.thumbnailHash)" :alt="`Thumbnail of ${image.name}`" />
  </div>
</template>

<style scoped>
.image {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
  padding: 8px;
}

.image > :deep(.p-selectbutton) {
  justify-self: center;
}

canvas,
img {
  grid-row: 2;
  place-self: center;
  width: 100%;
  height: 100%;
  object-fit: contain;
}

.problem {
  padding: 8px;
  background: var(--paper-raised);
  color: var(--minium);
}
</style>
