<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import Slider from 'primevue/slider';
import { computed } from 'vue';
import type { AmountField } from './amountField.ts';

/**
 * A number that is dragged or typed: what it will be is told while it moves, what it is at the end. A double click on its
 * name sets it back.
 */
const props = defineProps<Omit<AmountField, 'name'> & { value: number }>();
const emit = defineEmits<{ move: [number]; change: [number] }>();

const factor = computed(() => props.factor ?? 1);
const shown = computed(() => props.value * factor.value);
const step = computed(() => ((props.max - props.min) * factor.value) / 200);
</script>

<template>
  <div class="amount">
    <span
      v-tooltip="`Double click: back to ${usual * factor}${suffix ?? ''}`"
      class="name"
      @dblclick="emit('change', usual)"
      >{{ label }}</span
    >
    <Slider
      :model-value="shown"
      :min="min * factor"
      :max="max * factor"
      :step="step"
      :aria-label="label"
      @update:model-value="emit('move', ($event as number) / factor)"
      @slideend="emit('change', ($event.value as number) / factor)"
    />
    <InputNumber
      :model-value="shown"
      :min="min * factor"
      :max="max * factor"
      :max-fraction-digits="digits ?? 2"
      :suffix="suffix ?? ''"
      :use-grouping="false"
      size="small"
      :aria-label="`${label}, typed`"
      @update:model-value="$event !== null && emit('change', $event / factor)"
    />
  </div>
</template>

<style scoped>
.amount {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr) 74px;
  gap: 12px;
  align-items: center;
}

.name {
  cursor: default;
}

.amount :deep(input) {
  width: 74px;
  text-align: right;
}
</style>
