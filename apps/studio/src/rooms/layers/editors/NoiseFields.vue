<script setup lang="ts">
import type { SolidField } from '@zographos/core/pattern';
import { optionsOf, SOLID_NOISE_LABELS } from '@zographos/operations';
import Amounts from '../../../controls/Amounts.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { noiseFields } from './layerFields.ts';

/** A procedural field in object space. */
const props = defineProps<{ field: SolidField; extent: number }>();
const emit = defineEmits<{ move: [SolidField]; change: [SolidField] }>();
const NOISES = optionsOf(SOLID_NOISE_LABELS);
</script>

<template>
  <Dropdown
    label="Noise"
    :value="props.field.noise"
    :options="NOISES"
    @choose="emit('change', { ...props.field, noise: $event })"
  />
  <Amounts
    :values="props.field"
    :fields="noiseFields(extent)"
    @move="emit('move', $event)"
    @change="emit('change', $event)"
  />
</template>
