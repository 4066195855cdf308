<script setup lang="ts">
import Popover from 'primevue/popover';
import Slider from 'primevue/slider';
import { ref, useId } from 'vue';
import Dropdown from '../controls/Dropdown.vue';
import { stops } from '../controls/format.ts';
import { ENVIRONMENT_LABELS, ENVIRONMENTS } from './environments.ts';
import type { ViewLook } from './Viewport.ts';

/** Light, exposure and the strength of the normal map of a view. */
defineProps<{ hasNormals: boolean }>();
const look = defineModel<ViewLook>('look', { required: true });
const emit = defineEmits<{ turnLight: [number] }>();
const id = useId();
const popover = ref<InstanceType<typeof Popover> | null>(null);
const environments = ENVIRONMENTS.map((value) => ({ value, label: ENVIRONMENT_LABELS[value] }));
const change = (part: Partial<ViewLook>): void => {
  look.value = { ...look.value, ...part };
};
</script>

<template>
  <button type="button" aria-haspopup="dialog" @click="popover?.toggle($event)">Lighting</button>
  <Popover ref="popover" aria-label="Lighting of the view">
    <div class="controls">
      <label :for="`${id}-environment`">Environment</label>
      <Dropdown
        label="Environment"
        :value="look.environment"
        :options="environments"
        :input-id="`${id}-environment`"
        @choose="change({ environment: $event })"
      />
      <span :id="`${id}-exposure`">Exposure, {{ stops(look.exposure) }} stops</span>
      <Slider
        :model-value="look.exposure"
        :min="-4"
        :max="4"
        :step="0.1"
        :aria-labelledby="`${id}-exposure`"
        @update:model-value="change({ exposure: $event as number })"
      />
      <template v-if="hasNormals">
        <span :id="`${id}-strength`">Normal map, {{ Math.round(look.normalStrength * 100) }} %</span>
        <Slider
          :model-value="look.normalStrength"
          :min="0"
          :max="2"
          :step="0.05"
          :aria-labelledby="`${id}-strength`"
          @update:model-value="change({ normalStrength: $event as number })"
        />
      </template>
      <span>Light</span>
      <span class="choices">
        <button v-tooltip="'Or drag with the right button'" type="button" @click="emit('turnLight', -15)">
          Turn left
        </button>
        <button v-tooltip="'Or drag with the right button'" type="button" @click="emit('turnLight', 15)">
          Turn right
        </button>
      </span>
    </div>
  </Popover>
</template>

<style scoped>
.controls {
  display: grid;
  grid-template-columns: auto 150px;
  gap: 10px 14px;
  align-items: center;
}
</style>
