<script setup lang="ts">
import Button from 'primevue/button';
import Dialog from 'primevue/dialog';
import type { Existing, IntakeResult } from '@zographos/contracts';
import { count } from '../controls/format.ts';

defineProps<{ revisions: IntakeResult['revisions'] }>();
/** What the files are to be; null leaves them out. */
const emit = defineEmits<{ answer: [existing: Exclude<Existing, 'ask'> | null] }>();

/** Names beyond these are counted. */
const SHOWN = 4;
const named = (names: readonly string[]): string =>
  names.length <= SHOWN ? names.join(', ') : `${names.slice(0, SHOWN).join(', ')} and ${names.length - SHOWN} more`;
</script>

<template>
  <Dialog
    :visible="true"
    modal
    :header="`${count(revisions.length, 'file')} ${revisions.length === 1 ? 'is' : 'are'} here already, with other content`"
    :style="{ width: '560px' }"
    @update:visible="emit('answer', null)"
  >
    <ul>
      <li v-for="{ file, names } in revisions" :key="file">
        <strong>{{ file }}</strong>
        <span class="soft">{{ named(names) }}</span>
      </li>
    </ul>
    <p class="soft">
      As new revisions they take the place of what is here: tickets and maps made from it become out of date, and
      earlier revisions are kept.
    </p>
    <template #footer>
      <Button label="Leave out" text @click="emit('answer', null)" />
      <Button label="Import beside" outlined @click="emit('answer', 'separate')" />
      <Button label="Import as new revisions" autofocus @click="emit('answer', 'revise')" />
    </template>
  </Dialog>
</template>

<style scoped>
ul {
  overflow: auto;
  max-height: 240px;
  margin-bottom: 12px;
}

li {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 4px 0;
}
</style>
