<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import { computed } from 'vue';
import type { BakeOperationSettings } from '@zographos/operations';
import Choice from '../../controls/Choice.vue';

type Repeat = BakeOperationSettings['repeat'];

/** Whether the source is repeated over the receiver's tile, so that the map tiles exactly. */
const props = defineProps<{ repeat: Repeat }>();
const emit = defineEmits<{ change: [Repeat] }>();

const GRIDS = [
  { value: 'none', label: 'as it is' },
  { value: 'square', label: 'square' },
  { value: 'staggered', label: 'staggered' },
  { value: 'hexagonal', label: 'hexagonal' },
] as const;
const counts = computed(() => (props.repeat === 'none' ? { columns: 1, rows: 1 } : props.repeat));

function set(grid: (typeof GRIDS)[number]['value'], { columns, rows }: { columns: number; rows: number }): void {
  if (grid === 'none') emit('change', 'none');
  else emit('change', { grid, columns, rows: grid === 'staggered' ? Math.max(2, rows + (rows % 2)) : rows });
}
</script>

<template>
  <h3>Repeat the source over the tile</h3>
  <Choice
    label="Pattern"
    :value="repeat === 'none' ? 'none' : repeat.grid"
    :options="GRIDS"
    @choose="set($event, counts)"
  />
  <div v-if="repeat !== 'none'" class="counts">
    <label>
      times across
      <InputNumber
        :model-value="repeat.columns"
        :min="1"
        :max="64"
        show-buttons
        size="small"
        @update:model-value="$event && set(repeat.grid, { ...repeat, columns: $event })"
      />
    </label>
    <label v-if="repeat.grid !== 'hexagonal'">
      times up
      <InputNumber
        :model-value="repeat.rows"
        :min="1"
        :max="64"
        :step="repeat.grid === 'staggered' ? 2 : 1"
        show-buttons
        size="small"
        @update:model-value="$event && set(repeat.grid, { ...repeat, rows: $event })"
      />
    </label>
  </div>
  <p class="soft">
    What leaves the tile on one side comes in again on the other, so that a flat receiver’s map tiles without a seam.
  </p>
</template>

<style scoped>
.counts {
  display: flex;
  gap: 16px;
}

label {
  display: grid;
  gap: 3px;
}

label :deep(input) {
  width: 84px;
}
</style>
