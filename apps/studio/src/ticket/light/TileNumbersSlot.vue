<script setup lang="ts">
import type { LightTicket } from '@zographos/contracts';
import CheckLine from '../../controls/CheckLine.vue';
import Choice from '../../controls/Choice.vue';
import { useTicketChange } from '../useTicketChange.ts';
import { useTicketTiles } from '../useTicketTiles.ts';

/** Which UDIM tiles are lit. */
const props = defineProps<{ ticket: LightTicket }>();
const { change } = useTicketChange(() => props.ticket);
const { filled, isTaken, toggled } = useTicketTiles(() => props.ticket);

function toggle(tile: number): void {
  const tiles = toggled(tile);
  if (tiles) change('tiles', { tiles });
}
</script>

<template>
  <div class="editor">
    <h3>UDIM tiles</h3>
    <Choice
      label="Tiles"
      :value="ticket.settings.tiles === 'all' ? 'all' : 'some'"
      :options="[
        { value: 'all', label: 'All with islands' },
        { value: 'some', label: 'Selected' },
      ]"
      @choose="change('tiles', { tiles: $event === 'all' ? 'all' : filled })"
    />
    <CheckLine
      v-for="tile in filled"
      :key="tile"
      :label="String(tile)"
      :value="isTaken(tile)"
      :disabled="ticket.settings.tiles === 'all'"
      @change="toggle(tile)"
    />
  </div>
</template>
