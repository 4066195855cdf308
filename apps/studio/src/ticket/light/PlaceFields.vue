<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';

/** A place in the units of the meshes, axis by axis. */
const props = defineProps<{ label: string; place: readonly [number, number, number] }>();
const emit = defineEmits<{ change: [[number, number, number]] }>();
const AXES = ['X', 'Y', 'Z'] as const;

function set(axis: number, value: number | null): void {
  if (value === null || value === props.place[axis]) return;
  emit('change', props.place.map((old, k) => (k === axis ? value : old)) as [number, number, number]);
}
</script>

<template>
  <div class="place" role="group" :aria-label="label">
    <span>{{ label }}</span>
    <InputNumber
      v-for="(name, axis) in AXES"
      :key="name"
      :model-value="place[axis]"
      :prefix="`${name} `"
      :max-fraction-digits="4"
      :use-grouping="false"
      size="small"
      :aria-label="`${label}, ${name}`"
      @update:model-value="set(axis, $event)"
    />
  </div>
</template>

<style scoped>
.place {
  display: grid;
  grid-template-columns: minmax(50px, auto) repeat(3, minmax(0, 1fr));
  gap: 4px;
  align-items: center;
}

.place :deep(input) {
  width: 100%;
  min-width: 0;
  padding-inline: 6px;
}
</style>
