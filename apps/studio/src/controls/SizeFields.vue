<script setup lang="ts">
import type { Size } from '@zographos/core/math';
import { mapSize } from '@zographos/operations';
import Choice from './Choice.vue';
import { limitsOf } from './limits.ts';
import NumberField from './NumberField.vue';

/** The size of a map: one of the usual squares, or any width and height. */
defineProps<{ size: Size }>();
const emit = defineEmits<{ change: [Size] }>();

const SQUARES = [256, 512, 1024, 2048, 4096, 8192].map((value) => ({ value, label: String(value) }));
const SIDES = [
  { side: 'width', label: 'wide' },
  { side: 'height', label: 'high' },
] as const;
const SIDE = limitsOf(mapSize, 'width');
</script>

<template>
  <Choice
    label="Square size"
    :value="size.width === size.height ? size.width : null"
    :options="SQUARES"
    @choose="emit('change', { width: $event, height: $event })"
  />
  <NumberField
    v-for="{ side, label } in SIDES"
    :key="side"
    :label="label"
    :value="size[side]"
    v-bind="SIDE"
    suffix=" px"
    @change="$event && emit('change', { ...size, [side]: $event })"
  />
</template>
