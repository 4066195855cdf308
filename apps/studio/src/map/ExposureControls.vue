<script setup lang="ts">
import Slider from 'primevue/slider';
import { useId } from 'vue';
import type { ScreenView } from '@zographos/core/light';
import { optionsOf, VIEW_TRANSFORM_LABELS } from '@zographos/operations';
import Choice from '../controls/Choice.vue';
import { stops } from '../controls/format.ts';

/** How light is shown: exposure, which is found for it or dragged, and the view transform. */
const screen = defineModel<ScreenView>('screen', { required: true });
const emit = defineEmits<{ fit: [] }>();
const id = useId();
const VIEWS = optionsOf(VIEW_TRANSFORM_LABELS);
</script>

<template>
  <div class="exposure">
    <span :id="id" v-tooltip="'Double click: as bright as suits it'" @dblclick="emit('fit')"
      >Exposure, {{ stops(screen.exposure) }} stops</span
    >
    <Slider
      :model-value="screen.exposure"
      :min="-12"
      :max="12"
      :step="0.1"
      :aria-labelledby="id"
      @update:model-value="screen = { ...screen, exposure: $event as number }"
    />
    <div class="line">
      <Choice
        label="View transform"
        :value="screen.view"
        :options="VIEWS"
        @choose="screen = { ...screen, view: $event }"
      />
      <button type="button" class="plain-button" @click="emit('fit')">Fit</button>
    </div>
  </div>
</template>

<style scoped>
.exposure {
  display: grid;
  gap: 6px;
}

.exposure :deep(.p-slider) {
  margin: 10px 12px;
}

.line {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: space-between;
}
</style>
