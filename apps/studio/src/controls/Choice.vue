<script setup lang="ts" generic="T extends string | number">
import SelectButton from 'primevue/selectbutton';

/** A few choices side by side, one of which holds; a click on that one changes nothing. */
defineProps<{ label: string; value: T | null; options: readonly { value: T; label: string }[] }>();
const emit = defineEmits<{ choose: [T] }>();
</script>

<template>
  <SelectButton
    class="choice"
    :model-value="value"
    :options="[...options]"
    option-label="label"
    option-value="value"
    size="small"
    :aria-label="label"
    @update:model-value="$event !== null && emit('choose', $event as T)"
  />
</template>

<style scoped>
/* Many choices go on in the next row of a narrow panel. */
.choice {
  flex-wrap: wrap;
  max-width: 100%;
}
</style>
