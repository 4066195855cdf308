<script setup lang="ts">
import Button from 'primevue/button';
import NumberField from '../../../controls/NumberField.vue';

/** The seed of what is made by chance, and a button for another. */
defineProps<{ seed: number; min?: number; max?: number }>();
const emit = defineEmits<{ change: [number] }>();
</script>

<template>
  <NumberField label="Seed" :value="seed" :min="min" :max="max" @change="$event !== null && emit('change', $event)" />
  <Button label="New seed" size="small" outlined @click="emit('change', seed + 1)" />
</template>
