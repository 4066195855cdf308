<script setup lang="ts">
import Column from 'primevue/column';
import DataTable from 'primevue/datatable';
import InputText from 'primevue/inputtext';
import { computed } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import { pairUp, USUAL_ENDINGS, type BakeOperationSettings } from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import { useProject } from '../../../stores/project.ts';
import { useTicketChange } from '../../useTicketChange.ts';

type Match = BakeOperationSettings['match'];

/** Which sources each receiver is baked from: all of them, or those whose names match. */
const props = defineProps<{ ticket: BakeTicket }>();
const store = useProject();
const { change } = useTicketChange(() => props.ticket);
const setMatch = (next: Match): void => change('matching', { match: next });

const match = computed(() => props.ticket.settings.match);
const nameOf = (id: string): string => store.meshById(id)?.name ?? 'deleted mesh';
/** Of so many rows only those in view are drawn. */
const MANY = 8;
const LONG = { scrollable: true, scrollHeight: '260px', virtualScrollerOptions: { itemSize: 31 } };
const names = computed(() => ({
  receivers: props.ticket.inputs.receivers.map(nameOf),
  sources: props.ticket.inputs.sources.map(nameOf),
}));
const pairing = computed(() => pairUp(names.value.receivers, names.value.sources, match.value));
const rows = computed(() =>
  names.value.receivers.map((receiver, i) => {
    const group = pairing.value.groupOf[i];
    const seen = group === null || group === undefined ? [] : pairing.value.groups[group]!;
    return { receiver, sees: seen.map((source) => names.value.sources[source]!).join(', ') };
  }),
);

function setEndings(side: 'receiverEndings' | 'sourceEndings', text: string): void {
  const endings = text
    .split(',')
    // A space belongs to an ending such as “ light”, but only parts those that begin with a mark of their own.
    .map((ending) =>
      ending
        .trimEnd()
        .replace(/^ +(?=[_.-])/, '')
        .replace(/^ +/, ' '),
    )
    .filter((ending) => ending.trim());
  if (match.value !== 'all' && endings.length > 0) setMatch({ ...match.value, [side]: endings });
}
</script>

<template>
  <div class="editor">
    <h3>Matching</h3>
    <Choice
      label="Matching"
      :value="match === 'all' ? 'all' : 'name'"
      :options="[
        { value: 'all', label: 'All sources' },
        { value: 'name', label: 'By name' },
      ]"
      @choose="
        setMatch(
          $event === 'all'
            ? 'all'
            : { receiverEndings: [...USUAL_ENDINGS.receiverEndings], sourceEndings: [...USUAL_ENDINGS.sourceEndings] },
        )
      "
    />
    <div v-if="match !== 'all'" class="endings">
      <label v-for="side in ['receiverEndings', 'sourceEndings'] as const" :key="side">
        {{ side === 'receiverEndings' ? 'Receiver suffixes' : 'Source suffixes' }}
        <InputText
          :model-value="match[side].join(',')"
          size="small"
          @change="setEndings(side, ($event.target as HTMLInputElement).value)"
        />
      </label>
    </div>
    <DataTable :value="rows" size="small" v-bind="rows.length > MANY ? LONG : {}" aria-label="Sources of each receiver">
      <Column field="receiver" header="Receiver" />
      <Column header="Sources">
        <template #body="{ data }">
          <span :class="{ alone: !data.sees }">{{ data.sees || 'No match' }}</span>
        </template>
      </Column>
    </DataTable>
    <p v-if="pairing.unseen.length" class="alone">
      Unused sources: {{ pairing.unseen.map((i) => names.sources[i]).join(', ') }}
    </p>
  </div>
</template>

<style scoped>
.endings {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}

.endings label {
  display: grid;
  gap: 3px;
}

.alone {
  padding-left: 8px;
  border-left: 3px solid var(--ochre);
}
</style>
