<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';

/** How far texels beyond the islands are filled: so many, or everywhere. */
defineProps<{ padding: number | 'all'; min?: number; max?: number }>();
const emit = defineEmits<{ change: [number | 'all'] }>();

/** What is padded where it is no longer everywhere, px. */
const USUAL = 16;
</script>

<template>
  <div class="pair">
    <InputNumber
      :model-value="padding === 'all' ? null : padding"
      :min="min"
      :max="max"
      suffix=" px"
      size="small"
      aria-label="Padding, px"
      placeholder="Whole map"
      @update:model-value="$event !== null && emit('change', $event)"
    />
    <button type="button" class="plain-button" @click="emit('change', padding === 'all' ? USUAL : 'all')">
      {{ padding === 'all' ? `Pad ${USUAL} px only` : 'Fill the whole map' }}
    </button>
  </div>
</template>

<style scoped>
.pair {
  display: flex;
  gap: 14px;
  align-items: center;
}

.pair :deep(input) {
  width: 104px;
}
</style>
