<script setup lang="ts">
import { computed } from 'vue';
import { TexelState } from '@zographos/core';
import type { TextureMap } from '@zographos/contracts';
import type { Texel } from './mapPainter.ts';

const props = defineProps<{ texel: Texel | null; kind: TextureMap['kind'] }>();

const STATE_WORDS: Record<number, string> = {
  [TexelState.background]: 'background',
  [TexelState.padding]: 'padding',
  [TexelState.covered]: 'on an island',
  [TexelState.missed]: 'missed',
};

const values = computed(() => props.texel?.values ?? null);
const length = computed(() => {
  if (props.kind !== 'normal' || !values.value) return null;
  return Math.hypot(...values.value.slice(0, 3).map((value) => value * 2 - 1));
});
</script>

<template>
  <p class="readout">
    <template v-if="texel">
      <span>
        <span class="soft">texel</span> <b class="figure">{{ texel.x }}, {{ texel.y }}</b>
      </span>
      <span v-if="values">
        <span class="soft">stored</span> <b class="figure">{{ values.map((value) => value.toFixed(4)).join('  ') }}</b>
      </span>
      <span v-if="values">
        <span class="soft">shown</span>
        <b class="figure">{{ values.map((value) => Math.round(value * 255)).join('  ') }}</b>
      </span>
      <span v-if="length !== null">
        <span class="soft">length</span> <b class="figure">{{ length.toFixed(4) }}</b>
      </span>
      <span v-if="texel.state !== null">{{ STATE_WORDS[texel.state] }}</span>
    </template>
    <span v-else class="soft">Point at a texel to read it.</span>
    <span class="end"><slot /></span>
  </p>
</template>

<style scoped>
.readout {
  display: flex;
  gap: 24px;
  align-items: center;
  height: 30px;
  padding: 0 12px;
  background: var(--paper);
  white-space: pre;
}

b {
  font-weight: 600;
}

.end {
  margin-left: auto;
}
</style>
