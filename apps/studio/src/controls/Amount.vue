<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import Slider from 'primevue/slider';
import { computed } from 'vue';
import type { AmountField } from './amountField.ts';

/**
 * A number that is dragged or typed: what it will be is told while it moves, what it is at the end. A double click on its
 * name sets it back.
 */
const props = defineProps<{ field: AmountField; value: number }>();
const emit = defineEmits<{ move: [number]; change: [number] }>();

const shown = computed(() => props.value * props.field.factor);
const slider = computed(() => props.field.slider.map((end) => end * props.field.factor) as [number, number]);
</script>

<template>
  <div class="amount">
    <span
      v-tooltip="`Double click: back to ${field.usual * field.factor}${field.suffix}`"
      class="name"
      @dblclick="emit('change', field.usual)"
      >{{ field.label }}</span
    >
    <Slider
      :model-value="shown"
      :min="slider[0]"
      :max="slider[1]"
      :step="(slider[1] - slider[0]) / 200"
      :aria-label="field.label"
      @update:model-value="emit('move', ($event as number) / field.factor)"
      @slideend="emit('change', ($event.value as number) / field.factor)"
    />
    <InputNumber
      :model-value="shown"
      :min="field.min * field.factor"
      :max="field.max * field.factor"
      :max-fraction-digits="field.digits"
      :suffix="field.suffix"
      :use-grouping="false"
      size="small"
      :aria-label="`${field.label}, typed`"
      @update:model-value="$event !== null && emit('change', $event / field.factor)"
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
