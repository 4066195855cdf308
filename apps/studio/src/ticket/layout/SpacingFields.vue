<script setup lang="ts">
import { layoutSettings } from '@zographos/operations';
import { limitsOf } from '../../controls/limits.ts';
import NumberField from '../../controls/NumberField.vue';

/** Room around islands, in texels. */
defineProps<{ room: { gap: number; edge: number } }>();
const emit = defineEmits<{ change: [{ gap?: number; edge?: number }] }>();
</script>

<template>
  <NumberField
    label="Island spacing"
    :value="room.gap"
    v-bind="limitsOf(layoutSettings, 'gap')"
    suffix=" px"
    @change="emit('change', { gap: $event ?? 0 })"
  />
  <NumberField
    label="Tile margin"
    :value="room.edge"
    v-bind="limitsOf(layoutSettings, 'edge')"
    suffix=" px"
    @change="emit('change', { edge: $event ?? 0 })"
  />
</template>
