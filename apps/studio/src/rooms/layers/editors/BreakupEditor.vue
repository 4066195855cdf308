<script setup lang="ts">
import type { Breakup } from '@zographos/core/layers';
import Amounts from '../../../controls/Amounts.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import { SHARE } from './layerFields.ts';
import { brokenUp } from './newStep.ts';
import NoiseFields from './NoiseFields.vue';

/** The noise that breaks up a mask, or a step of one; null for none. */
const props = defineProps<{
  breakup: Breakup | null;
  /** Size of the receiver in millimetres. */
  extent: number;
}>();
const emit = defineEmits<{ move: [Breakup]; change: [Breakup | null] }>();

const having = (part: object): Breakup => ({ ...props.breakup!, ...part });
const AMOUNT = [SHARE('amount', 'Amount', 0.5)];
</script>

<template>
  <CheckLine
    label="Broken up by noise"
    :value="breakup !== null"
    @change="emit('change', $event ? brokenUp(extent) : null)"
  />
  <template v-if="breakup">
    <Amounts
      :values="{ ...breakup } as Record<string, unknown>"
      :fields="AMOUNT"
      @move="emit('move', having($event))"
      @change="emit('change', having($event))"
    />
    <NoiseFields
      :field="breakup.field"
      :extent="extent"
      @move="emit('move', having({ field: $event }))"
      @change="emit('change', having({ field: $event }))"
    />
  </template>
</template>
