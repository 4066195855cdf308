<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import ConfirmDialog from 'primevue/confirmdialog';
import NoticeToasts from './frame/NoticeToasts.vue';
import { useLight } from './stores/light.ts';

const light = useLight();
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (event.altKey && event.key.toLowerCase() === 'l') light.toggle();
});
</script>

<template>
  <RouterView />
  <NoticeToasts />
  <ConfirmDialog />
</template>
