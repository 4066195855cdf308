<script setup lang="ts">
import { computed } from 'vue';
import { layoutSettings, texelsOf, type Spacing } from '@zographos/operations';
import Choice from '../../controls/Choice.vue';
import { limitsOf, scaled } from '../../controls/limits.ts';
import NumberField from '../../controls/NumberField.vue';

/** Room around islands, in texels or in percent of the tile's width. */
const props = defineProps<{ room: { gap: Spacing; edge: Spacing }; size: { width: number } }>();
const emit = defineEmits<{ change: [{ gap?: Spacing; edge?: Spacing }] }>();

const FIELDS = [
  { key: 'gap', label: 'Island spacing' },
  { key: 'edge', label: 'Tile margin' },
] as const;
const UNITS = [
  { value: 'px', label: 'px' },
  { value: 'share', label: '% of the tile' },
] as const;
/** Both are given in the unit of the first. */
const unit = computed(() => (typeof props.room.gap === 'number' ? 'px' : 'share'));
const PX = limitsOf(layoutSettings, 'gap');
const PERCENT = scaled(limitsOf(layoutSettings, 'gap.share'), 100);

const rounded = (value: number): number => Number(value.toFixed(3));
const inPercent = (room: Spacing): number => rounded((texelsOf(room, props.size) / props.size.width) * 100);
const spacing = (value: number, as = unit.value): Spacing => (as === 'px' ? value : { share: value / 100 });

function setUnit(as: 'px' | 'share'): void {
  const converted = (room: Spacing): Spacing =>
    spacing(as === 'px' ? Math.round(texelsOf(room, props.size)) : inPercent(room), as);
  emit('change', { gap: converted(props.room.gap), edge: converted(props.room.edge) });
}
</script>

<template>
  <Choice label="Unit of the spacing" :value="unit" :options="UNITS" @choose="setUnit" />
  <NumberField
    v-for="{ key, label } in FIELDS"
    :key="key"
    :label="label"
    :value="unit === 'px' ? rounded(texelsOf(room[key], size)) : inPercent(room[key])"
    v-bind="unit === 'px' ? PX : PERCENT"
    :digits="unit === 'px' ? 0 : 3"
    :suffix="unit === 'px' ? ' px' : ' %'"
    @change="emit('change', { [key]: spacing($event ?? 0) })"
  />
</template>
