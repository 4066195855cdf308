<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';

/** A number with its name before it. */
defineProps<{
  label: string;
  value: number | null;
  min?: number;
  max?: number;
  digits?: number;
  step?: number;
  suffix?: string;
  placeholder?: string;
}>();
const emit = defineEmits<{ change: [number | null] }>();
</script>

<template>
  <label class="number-field"
    >{{ label }}
    <InputNumber
      :model-value="value"
      :min="min"
      :max="max"
      :max-fraction-digits="digits ?? 0"
      :step="step ?? 1"
      :suffix="suffix"
      :placeholder="placeholder"
      :use-grouping="false"
      size="small"
      @update:model-value="emit('change', $event)"
    />
  </label>
</template>

<style scoped>
.number-field {
  display: flex;
  gap: 14px;
  align-items: center;
  justify-content: space-between;
}

.number-field :deep(input) {
  width: 150px;
}
</style>
