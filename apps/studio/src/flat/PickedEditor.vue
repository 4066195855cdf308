<script setup lang="ts">
import { ref } from 'vue';
import type { PickedMap } from '@zographos/core';
import type { DeriveSettings } from '@zographos/operations';
import Amount from './Amount.vue';

/** A map by picked tones. */
type Picked = DeriveSettings['roughness'];
const props = defineProps<{ picked: Picked; alone: number | null; what: string }>();
const emit = defineEmits<{ move: [Picked]; change: [Picked]; alone: [number | null] }>();
const colorInput = ref<HTMLInputElement | null>(null);

const withPick = (at: number, part: Partial<PickedMap['picks'][number]>): Picked => ({
  ...props.picked,
  picks: props.picked.picks.map((pick, i) => (i === at ? { ...pick, ...part } : pick)),
});
const FIELDS = [
  { name: 'value', max: 1, usual: 0.5, label: 'value' },
  { name: 'tolerance', max: 0.6, usual: 0.1, label: 'tolerance' },
  { name: 'softness', max: 0.6, usual: 0.1, label: 'softness' },
] as const;

function add(): void {
  const color = colorInput.value?.value ?? '#808080';
  emit('change', {
    ...props.picked,
    picks: [...props.picked.picks, { color, tolerance: 0.1, softness: 0.1, value: 1 - props.picked.base }],
  });
}
</script>

<template>
  <div class="editor">
    <Amount
      :label="`${what} else`"
      :value="picked.base"
      :min="0"
      :max="1"
      :usual="0.5"
      @move="emit('move', { ...picked, base: $event })"
      @change="emit('change', { ...picked, base: $event })"
    />
    <Amount
      label="fine tones"
      :value="picked.detail"
      :min="-2"
      :max="2"
      :usual="0"
      @move="emit('move', { ...picked, detail: $event })"
      @change="emit('change', { ...picked, detail: $event })"
    />
    <section v-for="(pick, i) in picked.picks" :key="i">
      <h3>
        <input
          type="color"
          :value="pick.color"
          :aria-label="`Colour of pick ${i + 1}`"
          @change="emit('change', withPick(i, { color: ($event.target as HTMLInputElement).value }))"
        />
        {{ pick.color }}
        <button
          type="button"
          class="plain-button"
          :aria-pressed="alone === i"
          @click="emit('alone', alone === i ? null : i)"
        >
          {{ alone === i ? 'see the map' : 'see it alone' }}
        </button>
        <button
          type="button"
          class="plain-button"
          @click="emit('change', { ...picked, picks: picked.picks.filter((_, k) => k !== i) })"
        >
          leave it out
        </button>
      </h3>
      <Amount
        v-for="{ name, max, usual, label } in FIELDS"
        :key="name"
        :label="label"
        :value="pick[name]"
        :min="0"
        :max="max"
        :usual="usual"
        @move="emit('move', withPick(i, { [name]: $event }))"
        @change="emit('change', withPick(i, { [name]: $event }))"
      />
    </section>
    <p class="soft">Click on a colour of the picture to pick it, or choose one here.</p>
    <div class="ways">
      <input ref="colorInput" type="color" value="#808080" aria-label="A colour to pick" />
      <button type="button" class="plain-button" @click="add">Pick this colour</button>
    </div>
  </div>
</template>
