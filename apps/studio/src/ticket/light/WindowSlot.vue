<script setup lang="ts">
import { computed } from 'vue';
import type { LightTicket } from '@zographos/contracts';
import NumberField from '../../controls/NumberField.vue';
import { useTicketChange } from '../useTicketChange.ts';

/** The part of the layout that fills the maps. */
const props = defineProps<{ ticket: LightTicket }>();
const { change } = useTicketChange(() => props.ticket);
const NAMES = ['From U', 'From V', 'Width', 'Height'] as const;
const uvWindow = computed(() => props.ticket.settings.uvWindow);

function set(at: number, value: number | null): void {
  if (value === null) return;
  const next = uvWindow.value.map((old, k) => (k === at ? value : old)) as [number, number, number, number];
  change('UV window', { uvWindow: next });
}
</script>

<template>
  <div class="editor">
    <h3>Part of the layout</h3>
    <NumberField
      v-for="(label, at) in NAMES"
      :key="label"
      :label="label"
      :value="uvWindow[at]!"
      :digits="4"
      :step="0.05"
      :min="at > 1 ? 0.001 : -100"
      :max="100"
      @change="set(at, $event)"
    />
    <button type="button" class="plain-button" @click="change('UV window', { uvWindow: [0, 0, 1, 1] })">
      The whole layout
    </button>
  </div>
</template>
