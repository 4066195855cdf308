<script setup lang="ts">
import { computed } from 'vue';
import ColorField from './ColorField.vue';
import Dropdown from './Dropdown.vue';

/** What stands beyond the padding of islands: the neutral value of each map, or a colour as it is written in files. */
const props = withDefaults(defineProps<{ label: string; value: string | null; none?: string }>(), { none: 'Neutral' });
const emit = defineEmits<{ change: [string | null] }>();

const BLACK = '#000000';
const WHITE = '#ffffff';
const OWN = '#8a7f6c';
const options = computed(() => [
  { value: 'none', label: props.none },
  { value: BLACK, label: 'Black' },
  { value: WHITE, label: 'White' },
  { value: 'own', label: 'Colour' },
]);
const isOwn = computed(() => props.value !== null && props.value !== BLACK && props.value !== WHITE);
const choose = (value: string): void => emit('change', value === 'none' ? null : value === 'own' ? OWN : value);
</script>

<template>
  <span class="background">
    <Dropdown :label="label" :value="isOwn ? 'own' : (value ?? 'none')" :options="options" @choose="choose" />
    <ColorField v-if="isOwn" :label="label" :value="value!" @change="emit('change', $event)" />
  </span>
</template>

<style scoped>
.background {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
</style>
