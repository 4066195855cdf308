<script setup lang="ts" generic="T extends string">
import Listbox from 'primevue/listbox';
import OptionLine from '../controls/OptionLine.vue';

/** Any number of options, each with a note behind its label. */
defineProps<{
  label: string;
  values: readonly T[];
  options: readonly { value: T; label: string; note: string; unfit?: boolean }[];
  /** How high it is before it scrolls, px. */
  height: number;
}>();
const emit = defineEmits<{ choose: [T[]] }>();
</script>

<template>
  <Listbox
    multiple
    :model-value="[...values]"
    :options="[...options]"
    option-label="label"
    option-value="value"
    option-disabled="unfit"
    :aria-label="label"
    :scroll-height="`${height}px`"
    @update:model-value="emit('choose', $event as T[])"
  >
    <template #option="{ option, selected }"><OptionLine :option="option" :ticked="selected" /></template>
  </Listbox>
</template>
