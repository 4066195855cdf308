<script setup lang="ts">
import { computed } from 'vue';
import type { PlainContent } from '@zographos/core/layers';
import Amounts from '../../../controls/Amounts.vue';
import Choice from '../../../controls/Choice.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import { LENGTH, SHARE } from '../editors/layerFields.ts';
import PlainEditor from '../editors/PlainEditor.vue';
import Amount from '../../../controls/Amount.vue';
import type { Pen } from './pen.ts';

/** What is painted with: the brush, and the paint on it. */
const props = defineProps<{ pen: Pen; extent: number }>();
const emit = defineEmits<{ change: [Pen] }>();

const TOOLS = [
  { value: 'paint', label: 'Paint' },
  { value: 'erase', label: 'Erase' },
] as const;
const fields = computed(() => [
  LENGTH('radius', 'Radius', props.extent / 5, props.extent / 30, 0.01),
  SHARE('hardness', 'Hardness', 0.5),
  SHARE('strength', 'Strength'),
  SHARE('flow', 'Flow'),
  { ...SHARE('spacing', 'Spacing', 0.25), min: 0.02, max: 10, slider: [0.05, 3] as const },
  { ...SHARE('scatter', 'Scatter', 0), max: 10, slider: [0, 3] as const },
]);
const setBrush = (part: object): void => emit('change', { ...props.pen, brush: { ...props.pen.brush, ...part } });
const grey = computed(() => ('grey' in props.pen.paint ? props.pen.paint.grey : null));
</script>

<template>
  <div class="pen">
    <Choice label="Tool" :value="pen.brush.tool" :options="TOOLS" @choose="setBrush({ tool: $event })" />
    <Amounts
      :values="{ ...pen.brush } as Record<string, unknown>"
      :fields="fields"
      @move="setBrush($event)"
      @change="setBrush($event)"
    />
    <CheckLine
      label="Pressure changes strength"
      :value="pen.brush.pressure.strength"
      @change="setBrush({ pressure: { ...pen.brush.pressure, strength: $event } })"
    />
    <CheckLine
      label="Pressure changes radius"
      :value="pen.brush.pressure.radius"
      @change="setBrush({ pressure: { ...pen.brush.pressure, radius: $event } })"
    />
    <template v-if="pen.brush.tool === 'paint'">
      <Amount
        v-if="grey !== null"
        :field="SHARE('grey', 'Mask value')"
        :value="grey"
        @move="emit('change', { ...pen, paint: { grey: $event } })"
        @change="emit('change', { ...pen, paint: { grey: $event } })"
      />
      <PlainEditor
        v-else
        :values="pen.paint as PlainContent['values']"
        @move="emit('change', { ...pen, paint: $event })"
        @change="emit('change', { ...pen, paint: $event })"
      />
    </template>
  </div>
</template>

<style scoped>
.pen {
  display: grid;
  gap: 6px;
}
</style>
