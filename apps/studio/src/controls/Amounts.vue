<script setup lang="ts" generic="Values extends object">
import Amount from './Amount.vue';
import type { AmountField } from './amountField.ts';

/** Several numbers of the same settings, one below the other. */
const props = defineProps<{ values: Values; fields: readonly AmountField<Extract<keyof Values, string>>[] }>();
const emit = defineEmits<{ move: [Values]; change: [Values] }>();

const valueOf = (name: keyof Values): number => Number(props.values[name]);
const withValue = (name: keyof Values, value: number): Values => ({ ...props.values, [name]: value });
</script>

<template>
  <Amount
    v-for="field in fields"
    :key="field.name"
    :field="field"
    :value="valueOf(field.name)"
    @move="emit('move', withValue(field.name, $event))"
    @change="emit('change', withValue(field.name, $event))"
  />
</template>
