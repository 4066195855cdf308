<script setup lang="ts">
import Splitter from 'primevue/splitter';
import SplitterPanel from 'primevue/splitterpanel';

/** Views side by side, each in the slot of its name. Their widths are dragged, and kept for the next visit of the room. */
defineProps<{
  room: string;
  /** Widths in percent of the whole: at first, and the least. */
  columns: readonly { name: string; width: number; least: number }[];
}>();
</script>

<template>
  <Splitter :state-key="`zographos columns ${room}`" state-storage="local" :gutter-size="10" class="columns">
    <SplitterPanel v-for="{ name, width, least } in columns" :key="name" :size="width" :min-size="least" class="column">
      <slot :name="name" />
    </SplitterPanel>
  </Splitter>
</template>

<style scoped>
.columns {
  min-width: 0;
  min-height: 0;
  border: 0;
  background: none;
}

.columns :deep(.p-splitter-gutter) {
  background: none;
}

.columns :deep(.p-splitter-gutter:hover) {
  background: var(--azurite-wash);
}

.column {
  display: grid;
  grid-template-rows: minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
}
</style>
