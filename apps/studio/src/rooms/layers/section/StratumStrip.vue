<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { onMounted, ref, watch } from 'vue';
import { clearedCanvas } from '../../../map/clearedCanvas.ts';
import type { Stratum } from '@zographos/core/layers';

/** One layer of the section: as thick as it lies strong, in its own colour, nothing where it does not lie. */
const props = defineProps<{ stratum: Stratum | undefined }>();
const canvas = ref<HTMLCanvasElement | null>(null);
const holder = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(holder);

/** Of what has no colour of its own, such as an adjustment. */
const COLORLESS = 'rgb(118 118 118)';

function draw(): void {
  const context = canvas.value && clearedCanvas(canvas.value, width.value, height.value);
  if (!context || !canvas.value) return;
  const { stratum } = props;
  if (!stratum) return;
  const { strength, colors } = stratum;
  const [w, h] = [canvas.value.width, canvas.value.height];
  for (let i = 0; i < strength.length; i++) {
    const [left, right] = [Math.floor((i * w) / strength.length), Math.floor(((i + 1) * w) / strength.length)];
    const thick = Math.min(1, strength[i]!) * h;
    if (thick < 0.5) continue;
    const channel = (k: number): number => Math.round(Math.max(0, Math.min(1, colors![i * 3 + k]!)) * 255);
    context.fillStyle = colors ? `rgb(${channel(0)} ${channel(1)} ${channel(2)})` : COLORLESS;
    context.fillRect(left, h - thick, Math.max(1, right - left), thick);
  }
}
watch(() => [props.stratum, width.value, height.value], draw, { flush: 'post' });
onMounted(draw);
</script>

<template>
  <span ref="holder" class="strip"><canvas ref="canvas" aria-hidden="true" /></span>
</template>

<style scoped>
.strip {
  position: relative;
  display: block;
  height: 16px;
  border-bottom: 1px solid var(--line-strong);
}

canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
</style>
