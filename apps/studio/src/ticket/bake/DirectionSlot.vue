<script setup lang="ts">
import Select from 'primevue/select';
import { computed } from 'vue';
import type { BakeOperationSettings } from '@zographos/operations';
import { useProject } from '../../stores/project.ts';
import Choice from '../../controls/Choice.vue';
import LengthField from '../../controls/LengthField.vue';

type Direction = Pick<BakeOperationSettings, 'direction' | 'blendWidth'>;

/** Along which normals rays leave the receiver. */
defineProps<{ settings: Direction; unit: string; mask?: string | undefined }>();
const emit = defineEmits<{ change: [Partial<Direction>]; mask: [string | undefined] }>();
const store = useProject();
const masks = computed(() => [
  { id: '', label: 'by the distance from hard edges' },
  ...store.images.map(({ id, name }) => ({ id, label: `by the picture ${name}` })),
]);

const DIRECTIONS = [
  { value: 'smooth', label: 'smooth' },
  { value: 'split', label: 'the receiver’s own' },
  { value: 'blend', label: 'smooth at hard edges' },
] as const;
</script>

<template>
  <h3>Along which normals rays go</h3>
  <Choice
    label="Directions"
    :value="settings.direction"
    :options="DIRECTIONS"
    @choose="emit('change', { direction: $event })"
  />
  <Select
    v-if="settings.direction === 'blend'"
    :model-value="mask ?? ''"
    :options="masks"
    option-label="label"
    option-value="id"
    size="small"
    aria-label="What blends"
    @update:model-value="emit('mask', $event || undefined)"
  />
  <LengthField
    v-if="settings.direction === 'blend' && !mask"
    label="how wide the smooth rim is"
    auto="a hundredth of the receiver"
    :value="settings.blendWidth"
    :unit="unit"
    @change="emit('change', { blendWidth: $event })"
  />
  <p class="soft">
    Smooth directions leave no gap at hard edges; the receiver’s own do not skew detail on flat faces. The third way has
    both.
  </p>
</template>
