<script setup lang="ts">
import { computed } from 'vue';
import type { LightTicket } from '@zographos/contracts';
import { FACES_LABELS, optionsOf } from '@zographos/operations';
import Choice from '../../controls/Choice.vue';
import { useProject } from '../../stores/project.ts';
import { useTicketChange } from '../useTicketChange.ts';
import { domeOf } from './newLight.ts';
import PlaceFields from './PlaceFields.vue';

/** From where surfaces are seen, and which of their sides. */
const props = defineProps<{ ticket: LightTicket }>();
const store = useProject();
const { change } = useTicketChange(() => props.ticket);
const FACES = optionsOf(FACES_LABELS);
const EYES = [
  { value: 'normal', label: 'Along each normal' },
  { value: 'eye', label: 'From one eye' },
] as const;
const eye = computed(() => (props.ticket.settings.seenFrom === 'normal' ? null : props.ticket.settings.seenFrom));

/** An eye stands before the receiver at first, twice as far as it is large. */
function choose(from: 'normal' | 'eye'): void {
  const { centre, radius } = domeOf([store.meshById(props.ticket.inputs.receivers[0]!)!.inspection.bounds]);
  const place: [number, number, number] = [centre[0], centre[1] + radius * 0.6, centre[2] + radius * 4];
  change('eye', { seenFrom: from === 'normal' ? 'normal' : place });
}
</script>

<template>
  <div class="editor">
    <h3>Seen from</h3>
    <Choice label="Seen from" :value="eye ? 'eye' : 'normal'" :options="EYES" @choose="choose" />
    <PlaceFields v-if="eye" label="Eye" :place="eye" @change="change('eye', { seenFrom: $event })" />
    <h3>Sides of the surface</h3>
    <Choice
      label="Sides"
      :value="ticket.settings.faces"
      :options="FACES"
      @choose="change('sides', { faces: $event })"
    />
    <p class="soft">Reflections are those that are seen from there. The eye can be dragged in the view.</p>
  </div>
</template>
