<script setup lang="ts">
import { computed } from 'vue';
import type { ChannelPick } from '@zographos/core/image';
import type { CombineSettings } from '@zographos/operations';
import AdjustmentSteps from '../../../../controls/AdjustmentSteps.vue';
import Dropdown from '../../../../controls/Dropdown.vue';
import ChannelPicker from '../../../../ticket/ChannelPicker.vue';

/** An image, all of it or one channel, and what is done to it. */
type Source = Pick<CombineSettings['maps'][number]['layers'][number], 'image' | 'pick' | 'adjust'>;
const props = defineProps<{
  /** What it is for, as the label of its image. */
  label: string;
  source: Source;
  /** The images of the ticket. */
  images: string[];
  /** All that can be chosen. */
  choices: { value: string; label: string }[];
}>();
/** `image` asks for one by its id, which may not be among those of the ticket yet. */
const emit = defineEmits<{ move: [Partial<Source>]; change: [Partial<Source>]; image: [string] }>();
const image = computed(() => props.images[props.source.image] ?? null);
const withPick = (pick: ChannelPick | undefined): Partial<Source> => ({ pick: pick ?? null });
</script>

<template>
  <label class="labelled">
    <span>{{ label }}</span>
    <Dropdown :label="label" :value="image" :options="choices" @choose="emit('image', $event)" />
  </label>
  <ChannelPicker
    v-if="image"
    :image-id="image"
    :pick="source.pick ?? undefined"
    @choose="emit('change', withPick($event))"
  />
  <details :open="source.adjust.length > 0">
    <summary>Adjustments{{ source.adjust.length > 0 ? `, ${source.adjust.length}` : '' }}</summary>
    <AdjustmentSteps
      :steps="source.adjust"
      @move="emit('move', { adjust: $event })"
      @change="emit('change', { adjust: $event })"
    />
  </details>
</template>

<style scoped>
.labelled {
  display: grid;
  gap: 2px;
}
summary {
  cursor: pointer;
}
</style>
