<script setup lang="ts" generic="T">
/** The first places of a finding, to be gone to. */
defineProps<{ places: readonly T[]; titleOf?: (place: T) => string }>();
defineEmits<{ show: [T] }>();

const SHOWN = 3;
</script>

<template>
  <button
    v-for="(place, i) in places.slice(0, SHOWN)"
    :key="i"
    v-tooltip="titleOf?.(place)"
    type="button"
    class="plain-button"
    :aria-label="`Show ${i + 1}`"
    @click="$emit('show', place)"
  >
    {{ i === 0 ? 'Show 1' : i + 1 }}
  </button>
</template>
