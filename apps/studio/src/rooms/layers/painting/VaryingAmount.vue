<script setup lang="ts">
import { computed } from 'vue';
import type { Variation } from '@zographos/core/layers';
import { VARIATION_LABELS, optionsOf } from '@zographos/operations';
import Amount from '../../../controls/Amount.vue';
import type { AmountField } from '../../../controls/amountField.ts';
import Choice from '../../../controls/Choice.vue';
import { SHARE } from '../editors/layerFields.ts';

/** A number of a brush, and how it differs from dab to dab. */
const props = defineProps<{ field: AmountField; value: number; variation: Variation | undefined }>();
const emit = defineEmits<{ change: [number]; vary: [Variation | undefined] }>();

const VARIES = [{ value: 'steady', label: 'Steady' }, ...optionsOf(VARIATION_LABELS)] as const;
const LEAST = computed(() => SHARE('least', `Least ${props.field.label.toLowerCase()}`, 0));

function vary(by: 'steady' | Variation['by']): void {
  emit('vary', by === 'steady' ? undefined : { by, least: props.variation?.least ?? 0 });
}
</script>

<template>
  <Amount :field="field" :value="value" @move="emit('change', $event)" @change="emit('change', $event)" />
  <Choice
    :label="`How ${field.label.toLowerCase()} differs`"
    :value="variation?.by ?? 'steady'"
    :options="VARIES"
    @choose="vary"
  />
  <Amount
    v-if="variation"
    :field="LEAST"
    :value="variation.least"
    @move="emit('vary', { ...variation, least: $event })"
    @change="emit('vary', { ...variation, least: $event })"
  />
</template>
