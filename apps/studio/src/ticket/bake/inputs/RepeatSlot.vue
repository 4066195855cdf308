<script setup lang="ts">
import Checkbox from 'primevue/checkbox';
import InputNumber from 'primevue/inputnumber';
import { computed } from 'vue';
import { computedAsync } from '@vueuse/core';
import { ENDPOINTS, type BakeTicket } from '@zographos/contracts';
import {
  type BakeOperationSettings,
  bakeSettings,
  optionsOf,
  REPEAT_GRIDS,
  REPEAT_LABELS,
} from '@zographos/operations';
import { call } from '../../../api/call.ts';
import Choice from '../../../controls/Choice.vue';
import { percent } from '../../../controls/format.ts';
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
type Counts = Pick<Exclude<Repeat, 'none'>, 'columns' | 'rows'>;
const counts = computed((): Counts => (repeat.value === 'none' ? { columns: 1, rows: 'follow' } : repeat.value));
const isMoved = computed(() => repeat.value !== 'none' && repeat.value.grid !== 'square');

function set(grid: (typeof GRIDS)[number]['value'], { columns, rows }: Counts): void {
  if (grid === 'none') setRepeat('none');
  else if (rows === 'follow' || grid === 'square') setRepeat({ grid, columns, rows });
  // Rows that are moved by half a step close only if their number is even.
  else setRepeat({ grid, columns, rows: Math.max(2, rows + (rows % 2)) });
}

/** As it will come to lie on the tile; null until that is known, and where it cannot be. */
const lattice = computedAsync(async () => {
  const { id, settings } = props.ticket;
  if (settings.repeat === 'none') return null;
  // A ticket without a source, or a receiver that is not flat: the run says so, and nothing is lost here.
  return call(ENDPOINTS.measureRepeat, { id }).catch(() => null);
}, null);

/** Below this, nobody sees it. */
const REGULAR = 0.005;
const proportion = computed(() => {
  if (!lattice.value) return '';
  const { columns, rows, stretch } = lattice.value;
  const said = `${columns} × ${rows}`;
  if (Math.abs(stretch - 1) < REGULAR) return `${said}, evenly spaced.`;
  const farther = stretch > 1 ? 'farther apart' : 'closer together';
  return `${said}: rows lie ${percent(Math.abs(stretch - 1))} ${farther} than evenly spaced ones. The part itself is not stretched.`;
});
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
      <label v-if="repeat.rows !== 'follow'">
        Repeats, vertical
        <InputNumber
          :model-value="repeat.rows"
          v-bind="COUNT"
          :step="isMoved ? 2 : 1"
          show-buttons
          size="small"
          @update:model-value="$event && set(repeat.grid, { ...repeat, rows: $event })"
        />
      </label>
      <label class="follow">
        <Checkbox
          :model-value="repeat.rows === 'follow'"
          binary
          @update:model-value="
            set(repeat.grid, { ...repeat, rows: $event ? 'follow' : (lattice?.rows ?? repeat.columns) })
          "
        />
        Rows follow from columns
      </label>
    </div>
    <p v-if="proportion" role="status">{{ proportion }}</p>
    <p class="soft">
      Geometry that crosses the tile border wraps round to the other side, so the map of a flat receiver tiles
      seamlessly.
    </p>
  </div>
</template>

<style scoped>
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 16px;
}

label.follow {
  display: flex;
  gap: 8px;
  align-items: center;
}

label {
  display: grid;
  gap: 3px;
}

label :deep(input) {
  width: 84px;
}
</style>
