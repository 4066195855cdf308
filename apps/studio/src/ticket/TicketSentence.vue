<script setup lang="ts">
import { computed, ref } from 'vue';
import type { BakeTicket, LightTicket } from '@zographos/contracts';
import SentenceSlots from './SentenceSlots.vue';
import { slotEditorOf } from './slotEditors.ts';
import { useProject } from '../stores/project.ts';

/** A ticket as the sentence it reads as, with what is seldom changed folded away below. */
const props = defineProps<{ ticket: BakeTicket | LightTicket }>();
const store = useProject();
const folded = ref(true);

const parts = computed(() => store.sentenceOf(props.ticket));
const more = computed(() => store.moreSentencesOf(props.ticket));
</script>

<template>
  <SentenceSlots :parts="parts" :more="folded ? [] : more">
    <template #default="{ slotName }">
      <component :is="slotEditorOf(ticket.operation, slotName)" :ticket="ticket" :slot-name="slotName" />
    </template>
    <template #behind>
      <button type="button" class="plain-button fold" :aria-expanded="!folded" @click="folded = !folded">
        {{ folded ? 'More settings' : 'Fewer settings' }}
      </button>
    </template>
  </SentenceSlots>
</template>

<style scoped>
.fold {
  padding-left: 0;
  color: var(--ink-soft);
}
</style>
