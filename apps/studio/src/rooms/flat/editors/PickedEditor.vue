<script setup lang="ts">
import Button from 'primevue/button';
import { computed, ref } from 'vue';
import type { PickedKind, PickedMap } from '@zographos/core/derive';
import { deriveSettings, type DeriveSettings } from '@zographos/operations';
import { amountField } from '../../../controls/amountField.ts';
import Amounts from '../../../controls/Amounts.vue';
import ColorField from '../../../controls/ColorField.vue';

/** A map by picked tones. */
type Picked = DeriveSettings['roughness'];
const props = defineProps<{ picked: Picked; alone: number | null; what: PickedKind }>();
const emit = defineEmits<{ move: [Picked]; change: [Picked]; alone: [number | null] }>();
/** Whether a colour is being picked from the image, which is shown meanwhile. */
const picking = defineModel<boolean>('picking', { required: true });
const color = ref('#808080');

const withPick = (at: number, part: Partial<PickedMap['picks'][number]>): Picked => ({
  ...props.picked,
  picks: props.picked.picks.map((pick, i) => (i === at ? { ...pick, ...part } : pick)),
});
const BASE = computed(() => [
  amountField(deriveSettings, `${props.what}.base`, `Base ${props.what}`),
  amountField(deriveSettings, `${props.what}.tone`, 'By lightness', { slider: [-2, 2] }),
  amountField(deriveSettings, `${props.what}.saturation`, 'By saturation', { slider: [-1, 1] }),
  amountField(deriveSettings, `${props.what}.cavity`, 'By cavity', { slider: [-1, 1] }),
  amountField(deriveSettings, `${props.what}.detail`, 'Fine detail', { slider: [-2, 2] }),
]);
const FIELDS = [
  amountField(deriveSettings, 'roughness.picks.0.value', 'Value', { usual: 0.5 }),
  amountField(deriveSettings, 'roughness.picks.0.tolerance', 'Tolerance', { slider: [0, 0.6] }),
  amountField(deriveSettings, 'roughness.picks.0.softness', 'Softness', { slider: [0, 0.6] }),
];

function add(): void {
  emit('change', {
    ...props.picked,
    picks: [...props.picked.picks, { color: color.value, tolerance: 0.1, softness: 0.1, value: 1 - props.picked.base }],
  });
}
</script>

<template>
  <div class="editor">
    <Amounts :values="picked" :fields="BASE" @move="emit('move', $event)" @change="emit('change', $event)" />
    <section v-for="(pick, i) in picked.picks" :key="i">
      <h3>
        <ColorField
          :label="`Colour of pick ${i + 1}`"
          :value="pick.color"
          @move="emit('move', withPick(i, { color: $event }))"
          @change="emit('change', withPick(i, { color: $event }))"
        />
        <button
          type="button"
          class="plain-button"
          :aria-pressed="alone === i"
          @click="emit('alone', alone === i ? null : i)"
        >
          {{ alone === i ? 'Show map' : 'Show mask' }}
        </button>
        <button
          type="button"
          class="plain-button"
          @click="emit('change', { ...picked, picks: picked.picks.filter((_, k) => k !== i) })"
        >
          Remove
        </button>
      </h3>
      <Amounts
        :values="pick"
        :fields="FIELDS"
        @move="emit('move', withPick(i, $event))"
        @change="emit('change', withPick(i, $event))"
      />
    </section>
    <p class="soft">A picked colour gets a value of its own, whatever else it is by.</p>
    <div class="ways">
      <Button
        :label="picking ? 'Click a colour in the image …' : 'Pick from the image'"
        size="small"
        outlined
        :aria-pressed="picking"
        @click="picking = !picking"
      />
      <ColorField label="A colour to pick" :value="color" @change="color = $event" />
      <button type="button" class="plain-button" @click="add">Pick this colour</button>
    </div>
  </div>
</template>
