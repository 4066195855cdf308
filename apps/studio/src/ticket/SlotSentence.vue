<script setup lang="ts">
import type { SentencePart } from '@zographos/operations';

/** A sentence whose slots choose what is edited beneath it. */
defineProps<{ parts: readonly SentencePart[]; chosen: string | null; small?: boolean }>();
defineEmits<{ choose: [string] }>();
</script>

<template>
  <p class="sentence" :class="{ small }">
    <template v-for="(part, i) in parts" :key="i"
      ><button
        v-if="part.slot"
        type="button"
        class="slot"
        :aria-pressed="part.slot === chosen"
        @click="$emit('choose', part.slot)"
      >
        {{ part.text }}</button
      ><template v-else>{{ part.text }}</template></template
    >
  </p>
</template>

<style scoped>
.small {
  font-size: 15px;
}

.slot[aria-pressed='true'] {
  background: var(--azurite-wash);
}
</style>
