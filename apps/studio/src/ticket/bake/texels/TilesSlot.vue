<script setup lang="ts">
import { computed } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import type { BakeOperationSettings } from '@zographos/operations';
import BackgroundField from '../../../controls/BackgroundField.vue';
import CheckLine from '../../../controls/CheckLine.vue';
import Choice from '../../../controls/Choice.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { useTicketChange } from '../../useTicketChange.ts';
import { useTicketTiles } from '../../useTicketTiles.ts';

type Tiles = Partial<Pick<BakeOperationSettings, 'tiles' | 'tileSizes' | 'tileBackgrounds'>>;

/** Which UDIM tiles are baked, and how large each is. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);
const set = (part: Tiles): void => change('tiles', part);

const settings = computed(() => props.ticket.settings);
const { filled, isTaken, toggled } = useTicketTiles(() => props.ticket);

function toggle(tile: number): void {
  const tiles = toggled(tile);
  if (tiles) set({ tiles });
}

const SIZES = [256, 512, 1024, 2048, 4096, 8192];
const sizes = computed(() => [
  { value: 0, label: 'Size of the ticket' },
  ...SIZES.map((value) => ({ value, label: `${value} px` })),
]);

function setSize(tile: number, side: number): void {
  const others = Object.fromEntries(Object.entries(settings.value.tileSizes).filter(([key]) => key !== String(tile)));
  set({ tileSizes: side === 0 ? others : { ...others, [tile]: { width: side, height: side } } });
}

function setBackground(tile: number, color: string | null): void {
  const others = Object.entries(settings.value.tileBackgrounds ?? {}).filter(([key]) => key !== String(tile));
  set({ tileBackgrounds: Object.fromEntries(color === null ? others : [...others, [String(tile), color]]) });
}
</script>

<template>
  <div class="editor">
    <h3>UDIM tiles to bake</h3>
    <Choice
      label="Tiles"
      :value="settings.tiles === 'all' ? 'all' : 'some'"
      :options="[
        { value: 'all', label: 'All with islands' },
        { value: 'some', label: 'Selected' },
      ]"
      @choose="set({ tiles: $event === 'all' ? 'all' : filled })"
    />
    <ul>
      <li v-for="tile in filled" :key="tile">
        <CheckLine
          :label="String(tile)"
          :value="isTaken(tile)"
          :disabled="settings.tiles === 'all'"
          @change="toggle(tile)"
        />
        <Dropdown
          :label="`Size of tile ${tile}`"
          :value="settings.tileSizes[tile]?.width ?? 0"
          :options="sizes"
          @choose="setSize(tile, $event)"
        />
        <BackgroundField
          :label="`Background of tile ${tile}`"
          none="Background of the ticket"
          :value="settings.tileBackgrounds?.[tile] ?? null"
          @change="setBackground(tile, $event)"
        />
      </li>
    </ul>
    <p class="soft">UDIM tiles that are not baked keep the maps they have.</p>
  </div>
</template>

<style scoped>
ul {
  display: grid;
  gap: 6px;
  overflow: auto;
  max-height: 300px;
}

li {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 4px;
  align-items: center;
}

li > :last-child {
  grid-column: 2;
}
</style>
