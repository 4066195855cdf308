<script setup lang="ts">
import { computed } from 'vue';
import type { MeshAsset } from '@zographos/contracts';
import { layoutOperation, type LayoutSettings, type SentenceNames } from '@zographos/operations';
import SentenceSlots from '../SentenceSlots.vue';
import LayoutSlot from './LayoutSlot.vue';

/** A layout as the sentence it reads as. */
const props = defineProps<{ settings: LayoutSettings; meshes: readonly MeshAsset[] }>();
defineEmits<{ change: [Partial<LayoutSettings>]; meshes: [string[]] }>();

const unit = computed(() => props.meshes[0]?.unit ?? 'units');
const names = computed((): SentenceNames => ({ receivers: props.meshes.map(({ name }) => name), sources: [] }));
const parts = computed(() => layoutOperation.sentence(props.settings, names.value, unit.value));
const more = computed(() => layoutOperation.moreSentences(props.settings, names.value, unit.value));
</script>

<template>
  <SentenceSlots v-slot="{ slotName }" :parts="parts" :more="more">
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
