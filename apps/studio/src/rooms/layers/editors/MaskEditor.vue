<script setup lang="ts">
import { computed } from 'vue';
import type { LayerMask, MaskShaping } from '@zographos/core/layers';
import Amounts from '../../../controls/Amounts.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import BreakupEditor from './BreakupEditor.vue';
import LevelsHistogram from '../../../controls/LevelsHistogram.vue';
import { SHARE, shapingFields } from './layerFields.ts';
import MaskSteps from './MaskSteps.vue';
import type { StepSurface } from './newStep.ts';

/** Where a layer lies: steps that are combined one after the other, and what is done to them in the end. */
const props = defineProps<{
  mask: LayerMask;
  surface: StepSurface;
  /** What a click on the model adds to, if it is a step of this mask. */
  picking: number | null;
  /** The step whose image the next click places. */
  placing: number | null;
  /** Name of the layer: what its lettering says, as long as nothing else is said. */
  title: string;
  /** How steep the edges are that a click on a face goes over. */
  faceAngle: number;
  byLasso: boolean;
  /** How often values occur in the steps together. */
  histogram: readonly number[] | null;
  pictures: readonly { id: string; name: string }[];
}>();
const emit = defineEmits<{
  move: [LayerMask];
  change: [LayerMask];
  pick: [number | null];
  faceAngle: [number];
  byLasso: [boolean];
  grow: [number];
  placing: [number | null];
  image: [{ at: number; id: string }];
  lettering: [{ at: number; id: string; aspect: number; text: string }];
}>();

const withShaping = (part: Partial<MaskShaping>): LayerMask => ({
  ...props.mask,
  shaping: { ...props.mask.shaping, ...part },
});
const shaping = computed(() => props.mask.shaping);
const LEVELS = [SHARE('black', 'Black point', 0), SHARE('white', 'White point', 1)];
const withLevels = ({ black, white }: Record<string, unknown>): LayerMask =>
  withShaping({ levels: [Number(black), Number(white)] });
</script>

<template>
  <MaskSteps
    :steps="mask.steps"
    :surface="surface"
    :picking="picking"
    :placing="placing"
    :pictures="pictures"
    :title="title"
    :face-angle="faceAngle"
    :by-lasso="byLasso"
    @face-angle="emit('faceAngle', $event)"
    @by-lasso="emit('byLasso', $event)"
    @grow="emit('grow', $event)"
    @placing="emit('placing', $event)"
    @image="emit('image', $event)"
    @lettering="emit('lettering', $event)"
    @pick="emit('pick', $event)"
    @move="emit('move', { ...mask, steps: $event })"
    @change="emit('change', { ...mask, steps: $event })"
  />
  <section class="shaping">
    <h3>Shaping</h3>
    <LevelsHistogram v-if="histogram" :bins="histogram" :black="shaping.levels[0]" :white="shaping.levels[1]" />
    <Amounts
      :values="{ black: shaping.levels[0], white: shaping.levels[1] } as Record<string, unknown>"
      :fields="LEVELS"
      @move="emit('move', withLevels($event))"
      @change="emit('change', withLevels($event))"
    />
    <Amounts
      :values="{ ...shaping } as Record<string, unknown>"
      :fields="shapingFields(surface.extent)"
      @move="emit('move', withShaping($event as Partial<MaskShaping>))"
      @change="emit('change', withShaping($event as Partial<MaskShaping>))"
    />
    <BreakupEditor
      :breakup="shaping.breakup"
      :extent="surface.extent"
      @move="emit('move', withShaping({ breakup: $event }))"
      @change="emit('change', withShaping({ breakup: $event }))"
    />
    <CheckLine label="Invert mask" :value="shaping.invert" @change="emit('change', withShaping({ invert: $event }))" />
  </section>
</template>

<style scoped>
.shaping {
  display: grid;
  gap: 6px;
  padding-bottom: 8px;
}
</style>
