<script setup lang="ts">
import type { FieldContent, Layer } from '@zographos/core/layers';
import type { Adjustment } from '@zographos/core/adjust';
import Amount from '../../../controls/Amount.vue';
import ColorField from '../../../controls/ColorField.vue';
import AdjustmentSteps from '../../../controls/AdjustmentSteps.vue';
import ChannelsEditor from './ChannelsEditor.vue';
import { POSITION } from './layerFields.ts';
import NoiseFields from './NoiseFields.vue';
import PictureChooser from '../../../ticket/PictureChooser.vue';
import PlaceEditor from './PlaceEditor.vue';
import PlainEditor from './PlainEditor.vue';
import TilingEditor from './TilingEditor.vue';

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

/** The layer with something of its content changed. */
const having = (part: object): Layer => ({ ...props.layer, ...part });

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
  <TilingEditor
    v-else-if="layer.content === 'tiling'"
    :tiling="layer"
    :materials="materials"
    :material="material"
    @move="emit('move', having($event))"
    @change="emit('change', having($event))"
    @material="emit('material', $event)"
  />
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
