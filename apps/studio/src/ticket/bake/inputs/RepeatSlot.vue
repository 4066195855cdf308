<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import { computed } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import {
  type BakeOperationSettings,
  bakeSettings,
  optionsOf,
  REPEAT_GRIDS,
  REPEAT_LABELS,
} from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import { limitsOf } from '../../../controls/limits.ts';
import { useTicketChange } from '../../useTicketChange.ts';

type Repeat = BakeOperationSettings['repeat'];

/** Whether the source is repeated over the receiver's tile, so that the map tiles exactly. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
const repeat = computed(() => props.ticket.settings.repeat);
const setRepeat = (next: Repeat): void => change('repetition', { repeat: next });

const COUNT = limitsOf(bakeSettings, 'repeat.columns');
const GRIDS = [{ value: 'none' as const, label: 'Not repeated' }, ...optionsOf(REPEAT_LABELS, REPEAT_GRIDS)];
const counts = computed(() => (repeat.value === 'none' ? { columns: 1, rows: 1 } : repeat.value));

function set(grid: (typeof GRIDS)[number]['value'], { columns, rows }: { columns: number; rows: number }): void {
  if (grid === 'none') setRepeat('none');
  else setRepeat({ grid, columns, rows: grid === 'staggered' ? Math.max(2, rows + (rows % 2)) : rows });
}
</script>

<template>
  <div class="editor">
    <h3>Repeat the source over the tile</h3>
    <Choice
      label="Pattern"
      :value="repeat === 'none' ? 'none' : repeat.grid"
      :options="GRIDS"
      @choose="set($event, counts)"
    />
    <div v-if="repeat !== 'none'" class="counts">
      <label>
        Repeats, horizontal
        <InputNumber
          :model-value="repeat.columns"
          v-bind="COUNT"
          show-buttons
          size="small"
          @update:model-value="$event && set(repeat.grid, { ...repeat, columns: $event })"
        />
      </label>
      <label v-if="repeat.grid !== 'hexagonal'">
        Repeats, vertical
        <InputNumber
          :model-value="repeat.rows"
          v-bind="COUNT"
          :step="repeat.grid === 'staggered' ? 2 : 1"
          show-buttons
          size="small"
          @update:model-value="$event && set(repeat.grid, { ...repeat, rows: $event })"
        />
      </label>
    </div>
    <p class="soft">
      Geometry that crosses the tile border wraps round to the other side, so the map of a flat receiver tiles
      seamlessly.
    </p>
  </div>
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
