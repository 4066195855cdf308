<script setup lang="ts">
import { computed } from 'vue';
import type { TilingPaint } from '@zographos/core/layers';
import { optionsOf, PROJECTION_LABELS, VARY_LABELS } from '@zographos/operations';
import Amounts from '../../../controls/Amounts.vue';
import Choice from '../../../controls/Choice.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { AXIS_OPTIONS, axisOf, axisValue } from '../../../ticket/bake/maps/axisOptions.ts';
import ChannelsEditor from './ChannelsEditor.vue';
import { tilingFields } from './layerFields.ts';

/** How a tiling material is laid down. */
const props = defineProps<{
  tiling: TilingPaint;
  /** Flat sets that it can be, and which of them it is. */
  materials: readonly { id: string; name: string }[];
  material: string | null;
}>();
const emit = defineEmits<{ move: [TilingPaint]; change: [TilingPaint]; material: [string] }>();

const materialOptions = computed(() => props.materials.map(({ id, name }) => ({ value: id, label: name })));
const PROJECTIONS = optionsOf(PROJECTION_LABELS);
const VARIES = optionsOf(VARY_LABELS);

const having = (part: Partial<TilingPaint>): TilingPaint => ({ ...props.tiling, ...part });

const UP = [0, 1, 0] as const;
const PROJECTION = {
  uv: { by: 'uv' },
  triplanar: { by: 'triplanar', sharpness: 6 },
  planar: { by: 'planar', direction: UP },
  cylinder: { by: 'cylinder', axis: UP },
} as const satisfies Record<string, TilingPaint['projection']>;

const axis = computed(() => {
  const { projection } = props.tiling;
  if (projection.by === 'planar') return axisValue(projection.direction);
  return projection.by === 'cylinder' ? axisValue(projection.axis) : null;
});
const withAxis = (value: string): TilingPaint =>
  having({
    projection:
      props.tiling.projection.by === 'planar'
        ? { by: 'planar', direction: axisOf(value) }
        : { by: 'cylinder', axis: axisOf(value) },
  });
</script>

<template>
  <Dropdown
    label="Material"
    :value="material"
    :options="materialOptions"
    placeholder="Choose a material"
    @choose="emit('material', $event)"
  />
  <Choice
    label="Projection"
    :value="tiling.projection.by"
    :options="PROJECTIONS"
    @choose="emit('change', having({ projection: PROJECTION[$event] }))"
  />
  <Dropdown
    v-if="axis !== null"
    label="Axis"
    :value="axis"
    :options="AXIS_OPTIONS"
    @choose="emit('change', withAxis($event))"
  />
  <Amounts
    :values="{ ...tiling } as Record<string, unknown>"
    :fields="tilingFields()"
    @move="emit('move', $event as unknown as TilingPaint)"
    @change="emit('change', $event as unknown as TilingPaint)"
  />
  <Dropdown
    label="Offset"
    :value="tiling.varyBy"
    :options="VARIES"
    @choose="emit('change', having({ varyBy: $event }))"
  />
  <h3>Channels</h3>
  <ChannelsEditor :channels="tiling.channels" @change="emit('change', having({ channels: $event }))" />
</template>
