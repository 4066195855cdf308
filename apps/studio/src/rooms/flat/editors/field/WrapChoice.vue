<script setup lang="ts">
import { WRAPS, type FieldWrap } from '@zographos/core/pattern';
import { WRAP_LABELS } from '@zographos/operations';

/** The surface that a procedural texture is laid round so that it tiles, each with a drawing of it. */
defineProps<{ wrap: FieldWrap }>();
const emit = defineEmits<{ choose: [FieldWrap] }>();

/** Each in a drawing of 96 × 64: lines of the surface, and what joins at the tile's borders. */
const DRAWINGS: Record<FieldWrap, { lines: string; joined: string }> = {
  none: { lines: 'M16 8h64v48h-64zM32 8v48M48 8v48M64 8v48M16 24h64M16 40h64', joined: '' },
  cylinder: {
    lines:
      'M28 12a20 6 0 1 0 40 0a20 6 0 1 0-40 0M28 12v40M68 12v40M28 52a20 6 0 0 0 40 0M28 26a20 6 0 0 0 40 0M28 39a20 6 0 0 0 40 0',
    joined: 'M48 18v40',
  },
  torus: {
    lines:
      'M8 32a40 22 0 1 0 80 0a40 22 0 1 0-80 0M30 30q18 12 36 0M34 32.500q14-9 28 0M48 10v18M22 17q10 4 12 13M74 17q-10 4-12 13',
    joined: 'M48 36.500q7 8 0 17.500M48 36.500q-5 8 0 17.500',
  },
  'flat-torus': {
    lines: 'M8 32a16 16 0 1 0 32 0a16 16 0 1 0-32 0M56 32a16 16 0 1 0 32 0a16 16 0 1 0-32 0M44 32h8M48 28v8',
    joined: 'M40 29v6M88 29v6',
  },
};
const EXPLAINED: Record<FieldWrap, string> = {
  none: 'Noise goes on beyond the tile. For stickers and gradients.',
  cylinder: 'Noise is cut along a cylinder: left and right join, top and bottom do not. For trims and columns.',
  torus: 'Noise is cut along a ring: all borders join, but the inner side is drawn together.',
  'flat-torus': 'A circle for each axis, in four dimensions: all borders join and nothing is distorted.',
};
</script>

<template>
  <div class="wraps" role="group" aria-label="Tiling">
    <button
      v-for="each in WRAPS"
      :key="each"
      type="button"
      class="wrap"
      :aria-pressed="wrap === each"
      @click="emit('choose', each)"
    >
      <svg viewBox="0 0 96 64" aria-hidden="true">
        <path :d="DRAWINGS[each].lines" />
        <path :d="DRAWINGS[each].joined" class="joined" />
      </svg>
      <strong>{{ WRAP_LABELS[each].label }}</strong>
      <span class="soft">{{ EXPLAINED[each] }}</span>
    </button>
    <p class="soft">
      The mark shows where borders join. Bricks, planks, scales, weave, lines, dots and images always tile.
    </p>
  </div>
</template>

<style scoped>
.wraps {
  display: grid;
  gap: 6px;
}

.wrap {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  column-gap: 10px;
  align-content: center;
  padding: 6px 8px;
  border: 1px solid var(--line);
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.wrap[aria-pressed='true'] {
  border-color: var(--azurite);
  background: var(--azurite-wash);
}

svg {
  grid-row: span 2;
  width: 96px;
  height: 64px;
  fill: none;
  stroke: currentcolor;
}

.joined {
  stroke: var(--minium);
  stroke-width: 4;
  stroke-linecap: round;
}
</style>
