<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import SelectButton from 'primevue/selectbutton';
import type { BakeOperationSettings } from '@zographos/operations';

type Occlusion = BakeOperationSettings['occlusion'];

defineProps<{ settings: Occlusion; unit: string }>();
const emit = defineEmits<{ change: [Partial<Occlusion>] }>();

const COUNTS = [16, 32, 64, 128, 256, 512];
const SPREADS = [
  { value: 'cosine', label: 'by cosine' },
  { value: 'uniform', label: 'evenly' },
];
</script>

<template>
  <div class="occlusion">
    <h3>Rays for occlusion and thickness</h3>
    <SelectButton
      :model-value="settings.rays"
      :options="COUNTS"
      size="small"
      aria-label="Rays from each sample"
      @update:model-value="$event && emit('change', { rays: $event })"
    />
    <div class="pair">
      <SelectButton
        :model-value="settings.spread"
        :options="SPREADS"
        option-label="label"
        option-value="value"
        size="small"
        aria-label="Spread"
        @update:model-value="$event && emit('change', { spread: $event })"
      />
      <label class="check"
        ><input
          type="checkbox"
          :checked="settings.twoSided"
          @change="emit('change', { twoSided: !settings.twoSided })"
        />
        backs block too</label
      >
    </div>
    <div class="pair">
      <InputNumber
        :model-value="settings.distance === 'unlimited' ? null : settings.distance"
        :min="0"
        :max-fraction-digits="6"
        :suffix="` ${unit}`"
        size="small"
        aria-label="How far rays look"
        placeholder="as far as there is"
        @update:model-value="emit('change', { distance: $event || 'unlimited' })"
      />
      <label class="check"
        ><input
          type="checkbox"
          :checked="settings.fallOff"
          :disabled="settings.distance === 'unlimited'"
          @change="emit('change', { fallOff: !settings.fallOff })"
        />
        fading with distance</label
      >
    </div>
    <p class="soft">Four times the rays leave about half the noise.</p>
  </div>
</template>

<style scoped>
.occlusion {
  display: grid;
  gap: 10px;
}

.pair {
  display: flex;
  gap: 14px;
  align-items: center;
}

.pair :deep(input[inputmode]) {
  width: 150px;
}

.check {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 24px;
}
</style>
