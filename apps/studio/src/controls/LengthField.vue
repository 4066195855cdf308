<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';

/** A length that is typed, or left to be found when the field is empty; 0 means the same unless it is a length too. */
defineProps<{ label: string; value: number | 'auto'; unit: string; auto: string; mayBeZero?: boolean }>();
const emit = defineEmits<{ change: [number | 'auto'] }>();
</script>

<template>
  <label
    >{{ label }}
    <InputNumber
      :model-value="value === 'auto' ? null : value"
      :min="0"
      :max-fraction-digits="6"
      :suffix="` ${unit}`"
      size="small"
      :placeholder="auto"
      @update:model-value="emit('change', $event === 0 && mayBeZero ? 0 : $event || 'auto')"
    />
  </label>
</template>

<style scoped>
label {
  display: flex;
  gap: 14px;
  align-items: center;
  justify-content: space-between;
}

label :deep(input) {
  width: 170px;
}
</style>
