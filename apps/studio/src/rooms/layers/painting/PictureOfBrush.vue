<script setup lang="ts">
import { computed } from 'vue';
import type { BrushPicture } from '@zographos/core/layers';
import { optionsOf, PICTURE_LIES_LABELS } from '@zographos/operations';
import Amounts from '../../../controls/Amounts.vue';
import Choice from '../../../controls/Choice.vue';
import PictureChooser from '../../../ticket/PictureChooser.vue';
import { ANGLE, LENGTH } from '../editors/layerFields.ts';

/** The picture on a brush: what it shows, how it lies, and what it gives. */
const props = defineProps<{
  picture: BrushPicture | null;
  /** The id of the image that it shows. */
  image: string | null;
  extent: number;
}>();
const emit = defineEmits<{ change: [BrushPicture | null]; image: [string | null] }>();

const GIVES = [
  { value: 'shape', label: 'Shape' },
  { value: 'colour', label: 'Colour' },
  { value: 'normal', label: 'Normals' },
] as const;
const TURNS = [
  { value: 'fixed', label: 'Upright' },
  { value: 'along', label: 'Along the stroke' },
  { value: 'random', label: 'Random' },
  { value: 'pressure', label: 'Pressure' },
] as const;
const LIES = optionsOf(PICTURE_LIES_LABELS);
const fields = computed(() =>
  props.picture?.lies === 'surface'
    ? [LENGTH('width', 'Width', props.extent, props.extent / 5, 0.1)]
    : [ANGLE('angle', 'Rotation')],
);
const set = (part: Partial<BrushPicture>): void => {
  if (props.picture) emit('change', { ...props.picture, ...part });
};
</script>

<template>
  <PictureChooser :image="image" may-be-none @choose="emit('image', $event)" />
  <template v-if="picture">
    <Choice label="How the image lies" :value="picture.lies" :options="LIES" @choose="set({ lies: $event })" />
    <Choice label="What the image gives" :value="picture.gives" :options="GIVES" @choose="set({ gives: $event })" />
    <Choice
      v-if="picture.lies === 'dab'"
      label="Rotation"
      :value="picture.turn"
      :options="TURNS"
      @choose="set({ turn: $event })"
    />
    <Amounts
      v-if="picture.lies !== 'view'"
      :values="{ ...picture } as Record<string, unknown>"
      :fields="fields"
      @move="set($event)"
      @change="set($event)"
    />
    <p v-else class="soft">
      Drag the grip in the middle of the image to move it; the wheel over the grip changes its size, with Shift its
      rotation.
    </p>
  </template>
</template>
