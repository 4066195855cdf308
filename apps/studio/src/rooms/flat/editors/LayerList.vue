<script setup lang="ts">
import Button from 'primevue/button';
import { LAYER_BLEND_LABELS } from '@zographos/operations';
import { percent } from '../../../controls/format.ts';

/** Layers from the bottom up, one of which is chosen; another can be laid on top, and the chosen one taken away. */
defineProps<{
  label: string;
  layers: readonly { name: string; blend: keyof typeof LAYER_BLEND_LABELS; opacity: number }[];
  chosen: number;
}>();
const emit = defineEmits<{ choose: [number]; add: []; remove: [] }>();
</script>

<template>
  <ol :aria-label="`${label}, from the bottom up`">
    <li v-for="({ name, blend, opacity }, i) in layers" :key="i">
      <button type="button" :aria-pressed="i === chosen" @click="emit('choose', i)">
        {{ i + 1 }} {{ name
        }}<span v-if="i > 0" class="soft"> {{ LAYER_BLEND_LABELS[blend].label }} {{ percent(opacity) }}</span>
      </button>
    </li>
  </ol>
  <div class="ways">
    <Button label="Add a layer" size="small" outlined @click="emit('add')" />
    <Button v-if="layers.length > 1" label="Remove layer" size="small" outlined @click="emit('remove')" />
  </div>
</template>

<style scoped>
.soft {
  margin-left: 8px;
}

li button {
  width: 100%;
  padding: 4px 8px;
  border: 1px solid var(--line);
  background: none;
  color: inherit;
  text-align: left;
}

li button[aria-pressed='true'] {
  border-color: var(--azurite);
  background: var(--azurite-wash);
}
</style>
