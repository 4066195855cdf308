<script setup lang="ts">
import Popover from 'primevue/popover';
import { nextTick, ref } from 'vue';
import type { SentencePart } from '@zographos/operations';

/** A sentence with slots; each opens its editor, which is given in place. */
defineProps<{ parts: readonly SentencePart[]; further?: readonly Required<SentencePart>[] }>();
defineSlots<{
  /** The editor of a slot. */
  default(slot: { slotName: string }): unknown;
  /** What may stand behind the sentence; it may open slots too. */
  behind(ways: { edit: (name: string, event: Event) => void }): unknown;
}>();

const popover = ref<InstanceType<typeof Popover> | null>(null);
const slotName = ref<string | null>(null);

async function edit(name: string, event: Event): Promise<void> {
  popover.value?.hide();
  slotName.value = name;
  await nextTick();
  popover.value?.show(event, event.currentTarget);
}
</script>

<template>
  <div>
    <p class="sentence">
      <template v-for="(part, i) in parts" :key="i"
        ><button v-if="part.slot" type="button" class="slot" aria-haspopup="dialog" @click="edit(part.slot, $event)">
          {{ part.text }}</button
        ><template v-else>{{ part.text }}</template></template
      >
      <button
        v-for="part in further ?? []"
        :key="part.slot"
        type="button"
        class="plain-button"
        aria-haspopup="dialog"
        @click="edit(part.slot, $event)"
      >
        {{ part.text }}
      </button>
    </p>
    <slot name="behind" :edit="(name: string, event: Event) => void edit(name, event)" />
    <Popover ref="popover" @hide="slotName = null">
      <div v-if="slotName" :key="slotName"><slot :slot-name="slotName" /></div>
    </Popover>
  </div>
</template>
