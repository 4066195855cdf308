<script setup lang="ts">
/** One line of a list to choose from: what it is, and what to know of it. */
defineProps<{ option: { label: string; note: string }; ticked?: boolean }>();
</script>

<template>
  <span class="option"
    >{{ ticked ? '✓ ' : '' }}{{ option.label }} <span class="soft">{{ option.note }}</span></span
  >
</template>

<style scoped>
.option {
  display: flex;
  gap: 16px;
  justify-content: space-between;
  width: 100%;
}
</style>
