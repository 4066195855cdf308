<script setup lang="ts" generic="T extends string">
import Select from 'primevue/select';
import { useId } from 'vue';

/** A property of a file that is chosen from a list, as a row of its list of properties. */
defineProps<{ label: string; value: T; options: readonly { value: T; label: string }[] }>();
const emit = defineEmits<{ change: [T] }>();
const id = useId();
</script>

<template>
  <dt>
    <label :for="id">{{ label }}</label>
  </dt>
  <dd>
    <Select
      :input-id="id"
      size="small"
      :model-value="value"
      :options="[...options]"
      option-label="label"
      option-value="value"
      @update:model-value="emit('change', $event as T)"
    />
  </dd>
</template>
