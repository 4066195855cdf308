<script setup lang="ts">
import { computed } from 'vue';
import { isDirection, quantised, TexelState } from '@zographos/core/image';
import type { MapRevision, TextureMap } from '@zographos/contracts';
import { measure } from '../controls/format.ts';
import type { Texel } from './mapPainter.ts';

const props = defineProps<{ texel: Texel | null; kind: TextureMap['kind']; revision: MapRevision | null }>();

const STATE_WORDS: Record<number, string> = {
  [TexelState.background]: 'background',
  [TexelState.padding]: 'padding',
  [TexelState.covered]: 'on an island',
  [TexelState.missed]: 'missed',
};

const values = computed(() => props.texel?.values ?? null);
const length = computed(() => {
  if (!isDirection(props.kind) || !values.value) return null;
  return Math.hypot(...values.value.slice(0, 3).map((value) => value * 2 - 1));
});
/** As whole numbers of 8 bits, which is how it is on screen. */
const shown = computed(() => {
  if (!values.value || !props.revision) return null;
  const { range, colorSpace, channels } = props.revision;
  return [...quantised({ width: 1, height: 1, channels, data: Float32Array.from(values.value), range, colorSpace }, 8)];
});
const isPlain = computed(() => props.revision?.range[0] === 0 && props.revision.range[1] === 1);
const written = (value: number): string => (isPlain.value ? value.toFixed(4) : measure(value));
</script>

<template>
  <p class="readout">
    <template v-if="texel">
      <span>
        <span class="soft">Texel</span> <b class="figure">{{ texel.x }}, {{ texel.y }}</b>
      </span>
      <span v-if="values">
        <span class="soft">Value</span> <b class="figure">{{ values.map(written).join('  ') }}</b>
      </span>
      <span v-if="shown">
        <span class="soft">8-bit value</span> <b class="figure">{{ shown.join('  ') }}</b>
      </span>
      <span v-if="length !== null">
        <span class="soft">Vector length</span> <b class="figure">{{ length.toFixed(4) }}</b>
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
