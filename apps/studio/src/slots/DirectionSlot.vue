<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import type { BakeOperationSettings } from '@zographos/operations';
import Choice from './Choice.vue';

type Direction = Pick<BakeOperationSettings, 'direction' | 'blendWidth'>;

/** Along which normals rays leave the receiver. */
defineProps<{ settings: Direction; unit: string }>();
const emit = defineEmits<{ change: [Partial<Direction>] }>();

const DIRECTIONS = [
  { value: 'smooth', label: 'smooth' },
  { value: 'split', label: 'the receiver’s own' },
  { value: 'blend', label: 'smooth at hard edges' },
] as const;
</script>

<template>
  <h3>Along which normals rays go</h3>
  <Choice
    label="Directions"
    :value="settings.direction"
    :options="DIRECTIONS"
    @choose="emit('change', { direction: $event })"
  />
  <label v-if="settings.direction === 'blend'">
    how wide the smooth rim is
    <InputNumber
      :model-value="settings.blendWidth === 'auto' ? null : settings.blendWidth"
      :min="0"
      :max-fraction-digits="6"
      :suffix="` ${unit}`"
      size="small"
      placeholder="a hundredth of the receiver"
      @update:model-value="emit('change', { blendWidth: $event || 'auto' })"
    />
  </label>
  <p class="soft">
    Smooth directions leave no gap at hard edges; the receiver’s own do not skew detail on flat faces. The third way has
    both.
  </p>
</template>

<style scoped>
label {
  display: grid;
  gap: 3px;
}
</style>
