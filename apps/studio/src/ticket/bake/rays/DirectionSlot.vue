<script setup lang="ts">
import { computed } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import { optionsOf, RAY_DIRECTION_LABELS } from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import LengthField from '../../../controls/LengthField.vue';
import { useProject } from '../../../stores/project.ts';
import { useTicketChange } from '../../useTicketChange.ts';

/** Along which normals rays leave the receiver. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change, setInput, unit } = useTicketChange(() => props.ticket);
const store = useProject();
const masks = computed(() => [
  { value: '', label: 'By the distance from hard edges' },
  ...store.images.map(({ id, name }) => ({ value: id, label: `By the image ${name}` })),
]);
const OPTIONS = optionsOf(RAY_DIRECTION_LABELS);
</script>

<template>
  <div class="editor">
    <h3>Ray direction</h3>
    <Choice
      label="Ray direction"
      :value="ticket.settings.direction"
      :options="OPTIONS"
      @choose="change('ray direction', { direction: $event })"
    />
    <Dropdown
      v-if="ticket.settings.direction === 'blend'"
      label="Blend by"
      :value="ticket.inputs.mask ?? ''"
      :options="masks"
      @choose="setInput('mask', $event || undefined)"
    />
    <LengthField
      v-if="ticket.settings.direction === 'blend' && !ticket.inputs.mask"
      label="Blend width"
      auto="Automatic"
      :value="ticket.settings.blendWidth"
      :unit="unit"
      @change="change('blend width', { blendWidth: $event })"
    />
    <p class="soft">
      Averaged normals leave no gap at hard edges; mesh normals do not skew detail on flat faces. The third way has
      both.
    </p>
  </div>
</template>
