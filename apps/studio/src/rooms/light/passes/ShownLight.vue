<script setup lang="ts">
import Slider from 'primevue/slider';
import type { MapKind } from '@zographos/core/image';
import type { ScreenView } from '@zographos/core/light';
import { optionsOf, VIEW_TRANSFORM_LABELS } from '@zographos/operations';
import CheckLine from '../../../controls/CheckLine.vue';
import Choice from '../../../controls/Choice.vue';
import type { LightPart } from './shownLight.ts';

/** How the light that was baked is shown: what it is mixed of, exposure and view transform. None of it needs a new run. */
defineProps<{ parts: readonly LightPart[]; off: ReadonlySet<MapKind> }>();
const emit = defineEmits<{ toggle: [MapKind]; auto: [] }>();
const screen = defineModel<ScreenView>('screen', { required: true });
const VIEWS = optionsOf(VIEW_TRANSFORM_LABELS);
const stops = (exposure: number): string => `${exposure > 0 ? '+' : ''}${exposure.toFixed(1)}`;
</script>

<template>
  <section class="panel">
    <h2>Shown</h2>
    <div class="shown">
      <span id="exposure" @dblclick="emit('auto')">Exposure, {{ stops(screen.exposure) }} stops</span>
      <Slider
        :model-value="screen.exposure"
        :min="-12"
        :max="12"
        :step="0.1"
        aria-labelledby="exposure"
        @update:model-value="screen = { ...screen, exposure: $event as number }"
      />
      <Choice
        label="View transform"
        :value="screen.view"
        :options="VIEWS"
        @choose="screen = { ...screen, view: $event }"
      />
      <button type="button" class="plain-button" @click="emit('auto')">Fit the exposure</button>
      <template v-if="parts.length > 1">
        <CheckLine
          v-for="{ kind, label } in parts"
          :key="kind"
          :label="label"
          :value="!off.has(kind)"
          @change="emit('toggle', kind)"
        />
      </template>
      <p v-else class="soft">With the pass “Light groups” the light of each can be switched off here.</p>
    </div>
  </section>
</template>

<style scoped>
.shown {
  display: grid;
  gap: 6px;
  justify-items: start;
}

.shown :deep(.p-slider) {
  width: 100%;
  margin: 4px 0;
}
</style>
