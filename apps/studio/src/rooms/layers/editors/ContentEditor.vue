<script setup lang="ts">
import { computed } from 'vue';
import type { FieldContent, Layer, TilingContent } from '@zographos/core/layers';
import type { Adjustment } from '@zographos/core/adjust';
import { optionsOf, PROJECTION_LABELS, VARY_LABELS } from '@zographos/operations';
import Amount from '../../../controls/Amount.vue';
import Amounts from '../../../controls/Amounts.vue';
import Choice from '../../../controls/Choice.vue';
import ColorField from '../../../controls/ColorField.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import AdjustmentSteps from '../../../controls/AdjustmentSteps.vue';
import { AXIS_OPTIONS, axisOf, axisValue } from '../../../ticket/bake/maps/axisOptions.ts';
import ChannelsEditor from './ChannelsEditor.vue';
import { POSITION, tilingFields } from './layerFields.ts';
import NoiseFields from './NoiseFields.vue';
import PictureChooser from './PictureChooser.vue';
import PlaceEditor from './PlaceEditor.vue';
import PlainEditor from './PlainEditor.vue';

/** What a layer lays down. */
const props = defineProps<{
  layer: Layer;
  /** Flat sets that it can be made of, and which of them it is. */
  materials: readonly { id: string; name: string }[];
  material: string | null;
  /** Size of the receiver in millimetres. */
  extent: number;
  /** The images of the stack, by number. */
  pictures: readonly { id: string; name: string }[];
  /** Whether the next click places the image. */
  placing: boolean;
  /** How often values occur in what is adjusted. */
  histogram: readonly number[] | null;
}>();
const emit = defineEmits<{
  move: [Layer];
  change: [Layer];
  material: [string];
  image: [string];
  placing: [boolean];
}>();

const materialOptions = computed(() => props.materials.map(({ id, name }) => ({ value: id, label: name })));
const PROJECTIONS = optionsOf(PROJECTION_LABELS);
const VARIES = optionsOf(VARY_LABELS);

/** The layer with something of its content changed. */
const having = (part: object): Layer => ({ ...props.layer, ...part });

const UP = [0, 1, 0] as const;
const PROJECTION = {
  uv: { by: 'uv' },
  triplanar: { by: 'triplanar', sharpness: 6 },
  planar: { by: 'planar', direction: UP },
  cylinder: { by: 'cylinder', axis: UP },
} as const satisfies Record<string, TilingContent['projection']>;

function axisOfProjection({ projection }: TilingContent): string | null {
  if (projection.by === 'planar') return axisValue(projection.direction);
  return projection.by === 'cylinder' ? axisValue(projection.axis) : null;
}
const withAxis = ({ projection }: TilingContent, value: string): Layer =>
  having({
    projection:
      projection.by === 'planar' ? { by: 'planar', direction: axisOf(value) } : { by: 'cylinder', axis: axisOf(value) },
  });

const withStop = ({ ramp }: FieldContent, at: number, color: string): Layer =>
  having({ ramp: (ramp ?? []).map((stop, i) => (i === at ? { ...stop, color } : stop)) });
</script>

<template>
  <PlainEditor
    v-if="layer.content === 'plain'"
    :values="layer.values"
    @move="emit('move', having({ values: $event }))"
    @change="emit('change', having({ values: $event }))"
  />
  <template v-else-if="layer.content === 'tiling'">
    <Dropdown
      label="Material"
      :value="material"
      :options="materialOptions"
      placeholder="Choose a material"
      @choose="emit('material', $event)"
    />
    <Choice
      label="Projection"
      :value="layer.projection.by"
      :options="PROJECTIONS"
      @choose="emit('change', having({ projection: PROJECTION[$event] }))"
    />
    <Dropdown
      v-if="axisOfProjection(layer)"
      label="Axis"
      :value="axisOfProjection(layer)"
      :options="AXIS_OPTIONS"
      @choose="emit('change', withAxis(layer, $event))"
    />
    <Amounts
      :values="{ ...layer } as Record<string, unknown>"
      :fields="tilingFields()"
      @move="emit('move', $event as unknown as Layer)"
      @change="emit('change', $event as unknown as Layer)"
    />
    <Dropdown
      label="Offset"
      :value="layer.varyBy"
      :options="VARIES"
      @choose="emit('change', having({ varyBy: $event }))"
    />
    <h3>Channels</h3>
    <ChannelsEditor :channels="layer.channels" @change="emit('change', having({ channels: $event }))" />
  </template>
  <template v-else-if="layer.content === 'field'">
    <NoiseFields
      :field="layer.field"
      :extent="extent"
      @move="emit('move', having({ field: $event }))"
      @change="emit('change', having({ field: $event }))"
    />
    <ColorField
      v-for="(stop, i) in layer.ramp ?? []"
      :key="i"
      :label="`${Math.round(stop.at * 100)} % becomes`"
      :value="stop.color"
      @move="emit('move', withStop(layer, i, $event))"
      @change="emit('change', withStop(layer, i, $event))"
    />
  </template>
  <template v-else-if="layer.content === 'adjustment'">
    <AdjustmentSteps
      :steps="[...layer.steps]"
      :histogram="histogram"
      in-millimetres
      @move="emit('move', having({ steps: $event as Adjustment[] }))"
      @change="$event.length > 0 && emit('change', having({ steps: $event as Adjustment[] }))"
    />
    <h3>Channels</h3>
    <ChannelsEditor :channels="layer.channels" @change="emit('change', having({ channels: $event }))" />
  </template>
  <template v-else-if="layer.content === 'picture'">
    <PictureChooser :image="pictures[layer.picture]?.id ?? null" @choose="$event && emit('image', $event)" />
    <PlaceEditor
      :place="layer.place"
      :extent="extent"
      :placing="placing"
      @placing="emit('placing', $event)"
      @move="emit('move', having({ place: $event }))"
      @change="emit('change', having({ place: $event }))"
    />
    <Amount
      v-if="layer.channels.includes('height')"
      :field="POSITION('relief', 'Height of white', extent / 50)"
      :value="layer.relief"
      @move="emit('move', having({ relief: $event }))"
      @change="emit('change', having({ relief: $event }))"
    />
    <h3>Channels</h3>
    <ChannelsEditor :channels="layer.channels" @change="emit('change', having({ channels: $event }))" />
  </template>
  <ChannelsEditor
    v-else-if="layer.content === 'maps' || layer.content === 'painted'"
    :channels="layer.channels"
    @change="emit('change', having({ channels: $event }))"
  />
  <p v-else class="soft">Add layers while this group is chosen; they go into it.</p>
</template>
