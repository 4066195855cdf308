<script setup lang="ts">
import Button from 'primevue/button';
import InputNumber from 'primevue/inputnumber';
import Slider from 'primevue/slider';
import { computed, ref } from 'vue';
import { ENDPOINTS, type BakeTicket } from '@zographos/contracts';
import { type BakeOperationSettings, bakeSettings } from '@zographos/operations';
import { call } from '../../../api/call.ts';
import Choice from '../../../controls/Choice.vue';
import { measure, percent } from '../../../controls/format.ts';
import { limitsOf } from '../../../controls/limits.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useProject } from '../../../stores/project.ts';
import { useTicketChange } from '../../useTicketChange.ts';

type Change = Partial<Pick<BakeOperationSettings, 'reach' | 'aim' | 'touches' | 'reachOf'>>;

const props = defineProps<{ ticket: BakeTicket }>();
const store = useProject();
const { change } = useTicketChange(() => props.ticket);
const setReach = (part: Change): void => change('reach', part);
const notices = useNotices();
const measured = ref<{ out: number; in: number; found: number } | null>(null);
const measuring = ref(false);

const receiver = computed(() => store.meshById(props.ticket.inputs.receivers[0]!));
const unit = computed(() => receiver.value?.unit ?? 'units');
/** Sliders go to a tenth of the receiver's size; larger lengths can be typed. */
const most = computed(() => {
  const bounds = receiver.value?.inspection.bounds;
  return bounds ? Math.hypot(...bounds.max.map((high, axis) => high - bounds.min[axis]!)) * 0.1 : 1;
});
const lengths = computed(() => {
  const { reach } = props.ticket.settings;
  return typeof reach === 'string' ? (measured.value ?? null) : reach;
});
const digits = computed(() => Math.max(0, Math.min(6, 3 - Math.floor(Math.log10(most.value)))));

async function measureNow(): Promise<void> {
  measuring.value = true;
  const result = await notices.guard(() => call(ENDPOINTS.suggestReach, { id: props.ticket.id }));
  measuring.value = false;
  if (result) measured.value = result;
}

function set(side: 'out' | 'in', value: number | null): void {
  if (value === null || value < 0) return;
  const next = {
    out: 0,
    in: 0,
    ...(lengths.value ? { out: lengths.value.out, in: lengths.value.in } : {}),
    [side]: value,
  };
  if (next.out + next.in > 0) setReach({ reach: next, aim: 'rays' });
}

/** How far rays may go out or in. */
const LENGTH = limitsOf(bakeSettings, 'reach.out');
const WAYS = [
  { value: 'same', label: 'Fixed' },
  { value: 'auto', label: 'Automatic' },
  { value: 'fitted', label: 'Fitted per vertex' },
  { value: 'nearest', label: 'Nearest surface point' },
  { value: 'shared', label: 'Shared triangles' },
] as const;
const way = computed(() => {
  const { reach, aim } = props.ticket.settings;
  if (aim !== 'rays') return aim;
  return typeof reach === 'string' ? reach : 'same';
});

function setWay(value: (typeof WAYS)[number]['value']): void {
  if (value === 'nearest' || value === 'shared') setReach({ aim: value });
  else if (value !== 'same') setReach({ aim: 'rays', reach: value });
  else if (lengths.value) setReach({ aim: 'rays', reach: { out: lengths.value.out, in: lengths.value.in } });
}

/** Receivers with a reach of their own. */
const parts = computed(() => props.ticket.inputs.receivers.map((id) => store.meshById(id)?.name ?? ''));
function setPart(name: string, side: 'out' | 'in', value: number | null): void {
  const { reachOf } = props.ticket.settings;
  const others = Object.fromEntries(Object.entries(reachOf).filter(([key]) => key !== name));
  if (value === null) {
    setReach({ reachOf: others });
    return;
  }
  const base = reachOf[name] ?? { out: lengths.value?.out ?? 0, in: lengths.value?.in ?? 0 };
  const next = { ...base, [side]: value };
  if (next.out + next.in > 0) setReach({ reachOf: { ...others, [name]: next } });
}

void measureNow();
</script>

<template>
  <div class="reach">
    <h3>Reach from the receiver</h3>
    <Choice label="Method" :value="way" :options="WAYS" @choose="setWay" />
    <div v-for="side in ['out', 'in'] as const" :key="side" class="side">
      <span :id="`reach-${side}`">{{ side }}</span>
      <Slider
        :model-value="lengths?.[side] ?? 0"
        :min="0"
        :max="most"
        :step="most / 200"
        :aria-labelledby="`reach-${side}`"
        @slideend="set(side, $event.value as number)"
      />
      <InputNumber
        :model-value="lengths?.[side] ?? null"
        v-bind="LENGTH"
        :max-fraction-digits="digits"
        :suffix="` ${unit}`"
        size="small"
        :aria-labelledby="`reach-${side}`"
        @update:model-value="set(side, $event)"
      />
    </div>
    <details v-if="parts.length > 1 && (way === 'same' || way === 'auto')">
      <summary>Reach per receiver</summary>
      <div v-for="name in parts" :key="name" class="part">
        <span>{{ name }}</span>
        <InputNumber
          v-for="side in ['out', 'in'] as const"
          :key="side"
          :model-value="ticket.settings.reachOf[name]?.[side] ?? null"
          v-bind="LENGTH"
          :max-fraction-digits="digits"
          :suffix="` ${unit}`"
          size="small"
          :placeholder="side"
          :aria-label="`${name}, ${side}`"
          @update:model-value="setPart(name, side, $event)"
        />
      </div>
    </details>
    <p v-if="measuring" class="soft">Measuring the two meshes …</p>
    <template v-else-if="measured">
      <p v-if="measured.found > 0" class="soft">
        Measured: {{ measure(measured.out) }} {{ unit }} out and {{ measure(measured.in) }} {{ unit }} in; the source
        was found at {{ percent(measured.found) }} of the places.
      </p>
      <p v-else class="soft">
        The source was found nowhere near the receiver. Do they lie in the same place, at the same scale?
      </p>
      <div class="actions">
        <Button
          v-if="measured.found > 0"
          label="Use measured reach"
          size="small"
          outlined
          @click="setReach({ aim: 'rays', reach: { out: measured.out, in: measured.in } })"
        />
        <button
          v-if="ticket.settings.touches.length"
          type="button"
          class="plain-button"
          @click="setReach({ touches: [] })"
        >
          Remove all adjustments
        </button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.reach {
  display: grid;
  gap: 12px;
  width: 470px;
}

.side {
  display: grid;
  grid-template-columns: 28px 1fr 110px;
  gap: 14px;
  align-items: center;
}

.side :deep(input) {
  width: 110px;
}

.part {
  display: grid;
  grid-template-columns: 1fr 110px 110px;
  gap: 8px;
  align-items: center;
  margin-top: 6px;
}

.part :deep(input) {
  width: 110px;
}

.actions {
  display: flex;
  gap: 12px;
}
</style>
