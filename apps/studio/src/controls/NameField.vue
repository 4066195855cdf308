<script setup lang="ts">
import InputText from 'primevue/inputtext';

/** A name; one that is left empty becomes the usual one. */
const props = defineProps<{ value: string; label: string; usual: string; length: number }>();
const emit = defineEmits<{ change: [string] }>();

const change = ({ target }: Event): void => emit('change', (target as HTMLInputElement).value.trim() || props.usual);
</script>

<template>
  <InputText :model-value="value" :maxlength="length" size="small" :aria-label="label" @change="change" />
</template>
