<script setup lang="ts">
import { computed } from 'vue';
import type { LightTicket } from '@zographos/contracts';
import { FIRST_TILE } from '@zographos/core/uv';
import CheckLine from '../../controls/CheckLine.vue';
import Choice from '../../controls/Choice.vue';
import { useProject } from '../../stores/project.ts';
import { useTicketChange } from '../useTicketChange.ts';

/** Which UDIM tiles are lit. */
const props = defineProps<{ ticket: LightTicket }>();
const store = useProject();
const { change } = useTicketChange(() => props.ticket);
const settings = computed(() => props.ticket.settings);
/** The tiles in which the receivers have islands. */
const filled = computed(() => {
  const tiles = props.ticket.inputs.receivers.flatMap(
    (id) => store.meshById(id)?.inspection.uvTiles[settings.value.uvSet] ?? [],
  );
  return [...new Set(tiles.length > 0 ? tiles : [FIRST_TILE])].sort((a, b) => a - b);
});
const isLit = (tile: number): boolean => settings.value.tiles === 'all' || settings.value.tiles.includes(tile);

function toggle(tile: number): void {
  const next = filled.value.filter((each) => (each === tile ? !isLit(each) : isLit(each)));
  if (next.length > 0) change('tiles', { tiles: next });
}
</script>

<template>
  <div class="editor">
    <h3>UDIM tiles</h3>
    <Choice
      label="Tiles"
      :value="settings.tiles === 'all' ? 'all' : 'some'"
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
      :value="isLit(tile)"
      :disabled="settings.tiles === 'all'"
      @change="toggle(tile)"
    />
  </div>
</template>
