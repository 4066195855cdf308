<script setup lang="ts" generic="T extends string | number">
import Select from 'primevue/select';

/** One of many choices, in a list that drops down. */
defineProps<{
  label: string;
  value: T | null;
  options: readonly { value: T; label: string }[];
  placeholder?: string;
  disabled?: boolean;
  /** Of the label that stands elsewhere. */
  inputId?: string;
}>();
const emit = defineEmits<{ choose: [T] }>();
</script>

<template>
  <Select
    :model-value="value"
    :options="[...options]"
    option-label="label"
    option-value="value"
    size="small"
    :input-id="inputId"
    :placeholder="placeholder"
    :disabled="disabled"
    :aria-label="label"
    @update:model-value="emit('choose', $event as T)"
  />
</template>
