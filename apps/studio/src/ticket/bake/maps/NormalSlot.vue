<script setup lang="ts">
import { AXIS_ORDERS, type NormalSpace } from '@zographos/core/image';
import type { BakeTicket } from '@zographos/contracts';
import Choice from '../../../controls/Choice.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** In which space, with which sign and in which order directions are written. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);

const SPACES = [
  { value: 'tangent', label: 'Tangent space' },
  { value: 'object', label: 'Object space' },
] as const;
const UPS = [
  { value: 'up', label: 'Y up (+Y)' },
  { value: 'down', label: 'Y down (−Y)' },
] as const;
const AXES = AXIS_ORDERS.map((value) => ({ value, label: value.toUpperCase() }));

const set = (what: string, part: Partial<NormalSpace>): void =>
  change(what, { normal: { ...props.ticket.settings.normal, ...part } });
</script>

<template>
  <div class="editor">
    <h3>Normal format</h3>
    <Choice
      label="Space"
      :value="ticket.settings.normal.space"
      :options="SPACES"
      @choose="set('space', { space: $event })"
    />
    <Choice
      v-if="ticket.settings.normal.space === 'tangent'"
      label="Green channel"
      :value="ticket.settings.normal.y"
      :options="UPS"
      @choose="set('green channel', { y: $event })"
    />
    <Choice
      label="Axes in red, green and blue"
      :value="ticket.settings.normal.axes"
      :options="AXES"
      @choose="set('order of axes', { axes: $event })"
    />
    <p class="soft">Tangent space follows MikkTSpace. Deliveries convert the green channel as their profile asks.</p>
  </div>
</template>
