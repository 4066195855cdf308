<script setup lang="ts">
import { computed } from 'vue';
import type { BakeTicket, LightTicket } from '@zographos/contracts';
import { aimAmong } from '@zographos/operations';
import { whole } from '../../../controls/format.ts';
import { useProject } from '../../../stores/project.ts';
import OptionList from '../../OptionList.vue';

/** The receivers or the sources of a ticket, any number of them. */
const props = defineProps<{ ticket: BakeTicket | LightTicket; slotName: string }>();
const store = useProject();
const which = computed(() => (props.slotName === 'receivers' ? 'receivers' : 'sources'));

const options = computed(() =>
  store.meshes.map(({ id, name, inspection }) => {
    const unfit = which.value === 'receivers' && inspection.uvSets.length === 0;
    return { value: id, label: name, note: unfit ? 'no UVs' : `${whole(inspection.triangles)} triangles`, unfit };
  }),
);

/** Meshes stay in the order in which they were chosen: the first receiver gives the image set its name. */
function choose(ids: string[]): void {
  if (which.value === 'receivers' && ids.length === 0) return;
  const kept = props.ticket.inputs[which.value].filter((id) => ids.includes(id));
  const added = ids.filter((id) => !kept.includes(id));
  const inputs = { ...props.ticket.inputs, [which.value]: [...kept, ...added] };
  const { settings } = props.ticket;
  const change = 'aim' in settings ? { settings: { ...settings, aim: aimAmong(inputs, settings.aim) } } : {};
  void store.changeTicket(props.ticket.id, which.value, { inputs, ...change });
}
</script>

<template>
  <div class="editor">
    <h3>{{ which === 'receivers' ? 'Receivers' : 'Sources' }}</h3>
    <OptionList
      :label="which === 'receivers' ? 'Receivers' : 'Sources'"
      :values="ticket.inputs[which]"
      :options="options"
      :height="320"
      @choose="choose"
    />
    <p v-if="which === 'receivers'" class="soft">
      Several receivers share one layout and one set of maps, named after the first.
    </p>
  </div>
</template>
