<script setup lang="ts">
import Checkbox from 'primevue/checkbox';
import { useId } from 'vue';

/** A switch with what is on when it is ticked. */
defineProps<{ label: string; value: boolean; disabled?: boolean }>();
const emit = defineEmits<{ change: [boolean] }>();
const id = useId();
</script>

<template>
  <span class="check">
    <Checkbox
      :input-id="id"
      binary
      size="small"
      :model-value="value"
      :disabled="disabled"
      @update:model-value="emit('change', $event)"
    />
    <label :for="id">{{ label }}</label>
  </span>
</template>

<style scoped>
.check {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 24px;
}
</style>
