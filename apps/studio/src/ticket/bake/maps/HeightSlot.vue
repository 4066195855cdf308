<script setup lang="ts">
import type { BakeTicket } from '@zographos/contracts';
import { type BakeOperationSettings, bakeSettings } from '@zographos/operations';
import LengthField from '../../../controls/LengthField.vue';
import { limitsOf } from '../../../controls/limits.ts';
import NumberField from '../../../controls/NumberField.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** Which heights become black and white in files of whole numbers. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change, unit } = useTicketChange(() => props.ticket);

const MID = limitsOf(bakeSettings, 'height.mid');
const set = (part: Partial<BakeOperationSettings['height']>): void =>
  change('height range', { height: { ...props.ticket.settings.height, ...part } });
</script>

<template>
  <div class="editor">
    <h3>Height range in 8- and 16-bit files</h3>
    <LengthField
      label="Height range"
      auto="Automatic"
      :value="ticket.settings.height.span"
      :unit="unit"
      @change="set({ span: $event })"
    />
    <NumberField
      label="Value at the receiver’s surface, 0–1"
      :value="ticket.settings.height.mid"
      v-bind="MID"
      :digits="3"
      :step="0.05"
      @change="$event !== null && set({ mid: $event })"
    />
    <p class="soft">
      EXR keeps heights as they are, in {{ unit }}; 8 and 16 bit need a range, which stays with the map.
    </p>
  </div>
</template>
