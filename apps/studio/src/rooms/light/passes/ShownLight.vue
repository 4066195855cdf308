<script setup lang="ts">
import type { MapKind } from '@zographos/core/image';
import type { ScreenView } from '@zographos/core/light';
import CheckLine from '../../../controls/CheckLine.vue';
import ExposureControls from '../../../map/ExposureControls.vue';
import type { LightPart } from './shownLight.ts';

/** How the light that was baked is shown: exposure, and what it is mixed of. None of it needs a new run. */
defineProps<{ parts: readonly LightPart[]; off: ReadonlySet<MapKind> }>();
const emit = defineEmits<{ toggle: [MapKind]; fit: [] }>();
const screen = defineModel<ScreenView>('screen', { required: true });
</script>

<template>
  <section class="panel">
    <h2>Shown</h2>
    <ExposureControls v-model:screen="screen" @fit="emit('fit')" />
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
  </section>
</template>
