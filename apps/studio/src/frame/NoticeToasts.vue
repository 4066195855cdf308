<script setup lang="ts">
import Toast from 'primevue/toast';
import { useToast } from 'primevue/usetoast';
import { watch } from 'vue';
import { useNotices } from '../stores/notices.ts';

/** The notices as toasts: errors are announced at once and stay until they are closed, the others go by themselves. */
const notices = useNotices();
const toast = useToast();
const DONE_MS = 5000;

watch(
  () => [...notices.notices],
  (now, before = []) => {
    for (const { kind, text } of now.filter((notice) => !before.includes(notice))) {
      if (kind === 'error') toast.add({ severity: 'error', detail: text });
      else toast.add({ severity: 'success', detail: text, life: DONE_MS });
    }
  },
  { immediate: true },
);
const gone = ({ message }: { message: { detail?: string } }): void => notices.closed(message.detail ?? '');
</script>

<template>
  <Toast position="bottom-right" @close="gone" @life-end="gone" />
</template>
