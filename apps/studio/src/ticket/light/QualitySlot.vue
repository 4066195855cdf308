<script setup lang="ts">
import type { LightTicket } from '@zographos/contracts';
import { lightSettings } from '@zographos/operations';
import NumberField from '../../controls/NumberField.vue';
import { limitsOf, scaled } from '../../controls/limits.ts';
import { useTicketChange } from '../useTicketChange.ts';

/** How many paths a texel gets, when they are enough, and how far they go. */
const props = defineProps<{ ticket: LightTicket }>();
const { change } = useTicketChange(() => props.ticket);
const SAMPLES = limitsOf(lightSettings, 'samples');
const NOISE = scaled(limitsOf(lightSettings, 'noise'), 100);
const BOUNCES = limitsOf(lightSettings, 'bounces');
</script>

<template>
  <div class="editor">
    <h3>Samples of each texel</h3>
    <NumberField
      v-bind="SAMPLES"
      label="Samples"
      :value="ticket.settings.samples"
      @change="$event !== null && change('samples', { samples: $event })"
    />
    <NumberField
      v-bind="NOISE"
      label="Enough at a noise of"
      suffix=" %"
      placeholder="never"
      :digits="2"
      :value="ticket.settings.noise === 0 ? null : ticket.settings.noise * 100"
      @change="change('noise limit', { noise: ($event ?? 0) / 100 })"
    />
    <NumberField
      v-bind="BOUNCES"
      label="Bounces"
      :value="ticket.settings.bounces"
      @change="$event !== null && change('bounces', { bounces: $event })"
    />
    <p class="soft">Four times the samples halve the noise. Glass needs a bounce for each of its sides.</p>
  </div>
</template>
