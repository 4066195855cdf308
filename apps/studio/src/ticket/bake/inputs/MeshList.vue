<script setup lang="ts">
import Listbox from 'primevue/listbox';
import { computed } from 'vue';
import { whole } from '../../../controls/format.ts';
import { useProject } from '../../../stores/project.ts';
import OptionLine from '../../../controls/OptionLine.vue';

/** Meshes to choose from, any number of them; they stay in the order in which they were chosen, and one always stays. */
const props = defineProps<{ meshes: readonly string[]; label: string }>();
const emit = defineEmits<{ choose: [string[]] }>();
const store = useProject();

const options = computed(() =>
  store.meshes.map(({ id, name, inspection }) => ({
    id,
    label: name,
    note: `${whole(inspection.triangles)} triangles`,
  })),
);

function choose(ids: string[]): void {
  if (ids.length === 0) return;
  const kept = props.meshes.filter((id) => ids.includes(id));
  emit('choose', [...kept, ...ids.filter((id) => !kept.includes(id))]);
}
</script>

<template>
  <Listbox
    multiple
    :model-value="[...meshes]"
    :options="options"
    option-label="label"
    option-value="id"
    :aria-label="label"
    scroll-height="320px"
    @update:model-value="choose($event)"
  >
    <template #option="{ option, selected }"><OptionLine :option="option" :ticked="selected" /></template>
  </Listbox>
</template>
