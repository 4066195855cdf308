<script setup lang="ts">
import type { LayersSettings } from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import SizeFields from '../../../controls/SizeFields.vue';
import PaddingField from '../../../ticket/PaddingField.vue';

/** What is said of a stack as a whole. */
defineProps<{ slotName: string; settings: LayersSettings }>();
const emit = defineEmits<{ change: [Partial<LayersSettings>] }>();
const MIXING = [
  { value: 'seen', label: 'As seen (sRGB)' },
  { value: 'light', label: 'Linear light' },
] as const;
const OVERSIZE = [
  { value: 1, label: '1 sample per texel' },
  { value: 2, label: '2 × supersampling' },
] as const;
</script>

<template>
  <div class="slot-editor">
    <SizeFields v-if="slotName === 'size'" :size="settings.size" @change="emit('change', { size: $event })" />
    <PaddingField
      v-else-if="slotName === 'padding'"
      :padding="settings.padding"
      @change="emit('change', { padding: $event })"
    />
    <Choice
      v-else-if="slotName === 'oversize'"
      label="Samples"
      :value="settings.oversize"
      :options="OVERSIZE"
      @choose="emit('change', { oversize: $event })"
    />
    <Choice
      v-else-if="slotName === 'mixing'"
      label="How colours mix"
      :value="settings.mixing"
      :options="MIXING"
      @choose="emit('change', { mixing: $event })"
    />
    <Choice
      v-else-if="slotName === 'tiles'"
      label="UDIM tiles"
      :value="settings.tiles === 'all' ? 'all' : 'first'"
      :options="[
        { value: 'all', label: 'All tiles' },
        { value: 'first', label: 'Tile 1001' },
      ]"
      @choose="emit('change', { tiles: $event === 'all' ? 'all' : [1001] })"
    />
    <p v-else-if="slotName === 'uvSet'">The stack lies on the UV set of its image set.</p>
    <p v-else>Layers are added, chosen and moved in the section at the right.</p>
  </div>
</template>
