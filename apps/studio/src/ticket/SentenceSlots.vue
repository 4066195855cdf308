<script setup lang="ts">
import Popover from 'primevue/popover';
import { nextTick, ref } from 'vue';
import type { SentencePart } from '@zographos/operations';

/** A sentence with slots; each opens its editor, which is given in place. Further sentences stand below, smaller. */
const { more = [] } = defineProps<{ parts: readonly SentencePart[]; more?: readonly SentencePart[][] }>();
defineSlots<{
  /** The editor of a slot. */
  default(slot: { slotName: string }): unknown;
  /** What may stand behind the sentences. */
  behind?(): unknown;
}>();

/** The mark that ends a part of a sentence and must stay on the line of the slot before it. */
const markOf = (part: SentencePart | undefined): string =>
  (part && !part.slot && /^[.,:;)]+/.exec(part.text)?.[0]) || '';

/** A part without the mark that stands with the slot before it. */
const restOf = (sentence: readonly SentencePart[], i: number): string =>
  sentence[i - 1]?.slot ? sentence[i]!.text.slice(markOf(sentence[i]).length) : sentence[i]!.text;

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
    <p v-for="(sentence, s) in [parts, ...more]" :key="s" class="sentence" :class="{ further: s > 0 }">
      <template v-for="(part, i) in sentence" :key="i"
        ><span v-if="part.slot" class="unbroken"
          ><button type="button" class="slot" aria-haspopup="dialog" @click="edit(part.slot, $event)">
            {{ part.text }}</button
          >{{ markOf(sentence[i + 1]) }}</span
        ><template v-else>{{ restOf(sentence, i) }}</template></template
      >
    </p>
    <slot name="behind" />
    <Popover ref="popover" @hide="slotName = null">
      <div v-if="slotName" :key="slotName"><slot :slot-name="slotName" /></div>
    </Popover>
  </div>
</template>

<style scoped>
/* A line may break before and after a button, even before a full stop. */
.unbroken {
  white-space: nowrap;
}

.unbroken > .slot {
  white-space: normal;
}

.further {
  display: inline;
  margin-right: 6px;
  font-size: 15px;
}
</style>
