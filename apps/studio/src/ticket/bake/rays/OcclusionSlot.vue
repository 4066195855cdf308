<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import { computed } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import { optionsOf, RAY_SPREAD_LABELS, type BakeOperationSettings } from '@zographos/operations';
import { whole } from '../../../controls/format.ts';
import { useProject } from '../../../stores/project.ts';
import CheckLine from '../../../controls/CheckLine.vue';
import Choice from '../../../controls/Choice.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** The rays of occlusion, bent normals and thickness. */
const props = defineProps<{ ticket: BakeTicket }>();
const store = useProject();
const { change, unit } = useTicketChange(() => props.ticket);

const settings = computed(() => props.ticket.settings.occlusion);
const sources = computed(() => store.meshesByIds(props.ticket.inputs.sources).map(({ name }) => name));
const set = (part: Partial<BakeOperationSettings['occlusion']>): void =>
  change('occlusion rays', { occlusion: { ...settings.value, ...part } });

const OCCLUDERS = [
  { value: 'own', label: 'Matched sources' },
  { value: 'all', label: 'All sources' },
  { value: 'some', label: 'Selected sources' },
] as const;
const named = computed(() => (Array.isArray(settings.value.occluders) ? settings.value.occluders : null));
const who = computed(() => (Array.isArray(settings.value.occluders) ? 'some' : settings.value.occluders));

function toggle(name: string): void {
  const now = named.value ?? [];
  const next = now.includes(name) ? now.filter((each) => each !== name) : [...now, name];
  if (next.length > 0) set({ occluders: next });
}

const COUNTS = [16, 32, 64, 128, 256, 512].map((value) => ({ value, label: String(value) }));
const SPREADS = optionsOf(RAY_SPREAD_LABELS);
const DENOISING = [0, 1, 2, 4].map((value) => ({ value, label: value === 0 ? 'Off' : `${value} px` }));
</script>

<template>
  <div class="editor">
    <h3>Rays per sample</h3>
    <Choice label="Rays per sample" :value="settings.rays" :options="COUNTS" @choose="set({ rays: $event })" />
    <p class="soft">
      {{ whole(settings.rays * ticket.settings.samples ** 2) }} rays per texel, with {{ ticket.settings.samples }} ×
      {{ ticket.settings.samples }} samples. Four times the rays leave about half the noise.
    </p>
    <h3>Ray distribution</h3>
    <div class="pair">
      <Choice label="Ray distribution" :value="settings.spread" :options="SPREADS" @choose="set({ spread: $event })" />
      <CheckLine label="Back faces occlude" :value="settings.twoSided" @change="set({ twoSided: $event })" />
    </div>
    <h3>Max. distance</h3>
    <div class="pair">
      <InputNumber
        :model-value="settings.distance === 'unlimited' ? null : settings.distance"
        :min="0"
        :max-fraction-digits="6"
        :suffix="` ${unit}`"
        size="small"
        aria-label="Max. distance"
        placeholder="Unlimited"
        @update:model-value="set({ distance: $event || 'unlimited' })"
      />
      <CheckLine
        label="Distance fall-off"
        :value="settings.fallOff"
        :disabled="settings.distance === 'unlimited'"
        @change="set({ fallOff: $event })"
      />
    </div>
    <h3>Occluders</h3>
    <Choice
      label="Occluders"
      :value="who"
      :options="OCCLUDERS"
      @choose="set({ occluders: $event === 'some' ? [...sources] : $event })"
    />
    <ul v-if="named">
      <li v-for="name in sources" :key="name">
        <CheckLine :label="name" :value="named.includes(name)" @change="toggle(name)" />
      </li>
    </ul>
    <h3>Denoise</h3>
    <Choice label="Denoise" :value="settings.smooth" :options="DENOISING" @choose="set({ smooth: $event })" />
  </div>
</template>

<style scoped>
.pair {
  display: flex;
  gap: 14px;
  align-items: center;
}

.pair :deep(input[inputmode]) {
  width: 150px;
}
</style>
