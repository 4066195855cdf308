<script setup lang="ts">
import { computed } from 'vue';
import type { MeshAsset } from '@zographos/contracts';
import { layoutOperation, type LayoutSettings } from '@zographos/operations';
import SentenceSlots from '../SentenceSlots.vue';
import LayoutSlot from './LayoutSlot.vue';

/** A layout as the sentence it reads as. */
const props = defineProps<{ settings: LayoutSettings; meshes: readonly MeshAsset[] }>();
defineEmits<{ change: [Partial<LayoutSettings>]; meshes: [string[]] }>();

const unit = computed(() => props.meshes[0]?.unit ?? 'units');
const parts = computed(() =>
  layoutOperation.sentence(
    props.settings,
    { receivers: props.meshes.map(({ name }) => name), sources: [] },
    unit.value,
  ),
);
/** A slot that the sentence does not name while it holds what is usual. */
const further = computed(() =>
  parts.value.some(({ slot }) => slot === 'room') ? [] : [{ text: 'in which tiles', slot: 'room' }],
);
</script>

<template>
  <SentenceSlots v-slot="{ slotName }" :parts="parts" :further="further">
    <LayoutSlot
      :settings="settings"
      :meshes="meshes.map(({ id }) => id)"
      :unit="unit"
      :slot-name="slotName"
      @change="$emit('change', $event)"
      @meshes="$emit('meshes', $event)"
    />
  </SentenceSlots>
</template>
