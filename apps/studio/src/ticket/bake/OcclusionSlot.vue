<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import { computed } from 'vue';
import type { BakeOperationSettings } from '@zographos/operations';
import Choice from '../../controls/Choice.vue';

type Occlusion = BakeOperationSettings['occlusion'];

const props = defineProps<{ settings: Occlusion; unit: string; sources: string[] }>();
const emit = defineEmits<{ change: [Partial<Occlusion>] }>();

const WHO = [
  { value: 'own', label: 'what a part sees' },
  { value: 'all', label: 'all sources' },
  { value: 'some', label: 'chosen ones' },
] as const;
const who = computed(() => (Array.isArray(props.settings.occluders) ? 'some' : props.settings.occluders));
const isChosen = (name: string): boolean =>
  Array.isArray(props.settings.occluders) && props.settings.occluders.includes(name);

function toggle(name: string): void {
  const now = Array.isArray(props.settings.occluders) ? props.settings.occluders : [];
  const next = now.includes(name) ? now.filter((each) => each !== name) : [...now, name];
  if (next.length > 0) emit('change', { occluders: next });
}

const SMOOTHINGS = [0, 1, 2, 4].map((value) => ({ value, label: value === 0 ? 'leave noise' : `smooth ${value} px` }));
const COUNTS = [16, 32, 64, 128, 256, 512].map((value) => ({ value, label: String(value) }));
const SPREADS = [
  { value: 'cosine', label: 'by cosine' },
  { value: 'uniform', label: 'evenly' },
] as const;
</script>

<template>
  <div class="occlusion">
    <h3>Rays for occlusion and thickness</h3>
    <Choice
      label="Rays from each sample"
      :value="settings.rays"
      :options="COUNTS"
      @choose="emit('change', { rays: $event })"
    />
    <div class="pair">
      <Choice label="Spread" :value="settings.spread" :options="SPREADS" @choose="emit('change', { spread: $event })" />
      <label class="check"
        ><input
          type="checkbox"
          :checked="settings.twoSided"
          @change="emit('change', { twoSided: !settings.twoSided })"
        />
        backs block too</label
      >
    </div>
    <div class="pair">
      <InputNumber
        :model-value="settings.distance === 'unlimited' ? null : settings.distance"
        :min="0"
        :max-fraction-digits="6"
        :suffix="` ${unit}`"
        size="small"
        aria-label="How far rays look"
        placeholder="as far as there is"
        @update:model-value="emit('change', { distance: $event || 'unlimited' })"
      />
      <label class="check"
        ><input
          type="checkbox"
          :checked="settings.fallOff"
          :disabled="settings.distance === 'unlimited'"
          @change="emit('change', { fallOff: !settings.fallOff })"
        />
        fading with distance</label
      >
    </div>
    <Choice
      label="What blocks"
      :value="who"
      :options="WHO"
      @choose="emit('change', { occluders: $event === 'some' ? [...sources] : $event })"
    />
    <ul v-if="who === 'some'">
      <li v-for="name in sources" :key="name">
        <label class="check"
          ><input type="checkbox" :checked="isChosen(name)" @change="toggle(name)" /> {{ name }}</label
        >
      </li>
    </ul>
    <Choice label="Noise" :value="settings.smooth" :options="SMOOTHINGS" @choose="emit('change', { smooth: $event })" />
    <p class="soft">Four times the rays leave about half the noise.</p>
  </div>
</template>

<style scoped>
.occlusion {
  display: grid;
  gap: 10px;
}

.pair {
  display: flex;
  gap: 14px;
  align-items: center;
}

.pair :deep(input[inputmode]) {
  width: 150px;
}

.check {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 24px;
}
</style>
