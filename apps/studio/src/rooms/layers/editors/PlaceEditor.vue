<script setup lang="ts">
import { computed } from 'vue';
import type { PicturePlace } from '@zographos/core/layers';
import Amounts from '../../../controls/Amounts.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import Choice from '../../../controls/Choice.vue';
import { turnOfUp, upOfTurn } from './decalTurn.ts';
import { ANGLE, LENGTH } from './layerFields.ts';

/** Where one image lies: projected onto the surface as a decal, fitted to an island, or over the whole layout. */
const props = defineProps<{
  place: PicturePlace;
  extent: number;
  /** Whether the next click on the model says where. */
  placing: boolean;
}>();
const emit = defineEmits<{ move: [PicturePlace]; change: [PicturePlace]; placing: [boolean] }>();

const WAYS = [
  { value: 'surface', label: 'Decal' },
  { value: 'island', label: 'Island' },
  { value: 'layout', label: 'Layout' },
] as const;

function choose(on: PicturePlace['on']): void {
  const { extent } = props;
  if (on === 'layout') emit('change', { on });
  else if (on === 'island') emit('change', { on, triangle: 0, turn: 0, mirror: false, fill: false });
  else {
    const size = { width: extent / 4, height: extent / 4, depth: extent / 4, angle: 80, falloff: 20 };
    emit('change', { on, center: [0, 0, 0], normal: [0, 0, 1], up: [0, 1, 0], ...size });
  }
  emit('placing', on !== 'layout');
}

/** A decal by its width, for it keeps its proportions; and how it is turned about its direction. */
const decal = computed(() =>
  props.place.on === 'surface' ? { ...props.place, turn: turnOfUp(props.place.normal, props.place.up) } : null,
);
const decalFields = computed(() => [
  LENGTH('width', 'Width', props.extent, props.extent / 4, 0.1),
  ANGLE('turn', 'Rotation'),
  LENGTH('depth', 'Depth', props.extent, props.extent / 4, 0.1),
  ANGLE('angle', 'Sticks up to', 1, 180, 80),
  ANGLE('falloff', 'Fades over', 0, 180, 20),
]);

function decalWith({ turn, ...rest }: Record<string, unknown>): PicturePlace {
  const before = props.place as Extract<PicturePlace, { on: 'surface' }>;
  const next = { ...before, ...rest } as typeof before;
  const height = (before.height / before.width) * next.width;
  return { ...next, height, up: upOfTurn(next.normal, Number(turn)) };
}
</script>

<template>
  <Choice label="Where the image lies" :value="place.on" :options="WAYS" @choose="choose" />
  <button
    v-if="place.on !== 'layout'"
    type="button"
    class="plain-button"
    :aria-pressed="placing"
    @click="emit('placing', !placing)"
  >
    {{ placing ? 'Placing: click the model or the map' : 'Place it by a click on the model or the map' }}
  </button>
  <Amounts
    v-if="decal"
    :values="{ ...decal } as Record<string, unknown>"
    :fields="decalFields"
    @move="emit('move', decalWith($event))"
    @change="emit('change', decalWith($event))"
  />
  <template v-else-if="place.on === 'island'">
    <Amounts
      :values="{ ...place } as Record<string, unknown>"
      :fields="[ANGLE('turn', 'Rotation')]"
      @move="emit('move', $event as unknown as PicturePlace)"
      @change="emit('change', $event as unknown as PicturePlace)"
    />
    <CheckLine label="Mirrored" :value="place.mirror" @change="emit('change', { ...place, mirror: $event })" />
    <CheckLine label="Fills the island" :value="place.fill" @change="emit('change', { ...place, fill: $event })" />
  </template>
</template>
