<script setup lang="ts">
import { useNotices } from '../stores/notices.ts';

const store = useNotices();
</script>

<template>
  <div class="notices" role="status" aria-live="polite">
    <div v-for="notice in store.notices" :key="notice.id" class="notice" :class="notice.kind">
      <p>{{ notice.text }}</p>
      <button type="button" class="plain-button" @click="store.close(notice.id)">Close</button>
    </div>
  </div>
</template>

<style scoped>
.notices {
  position: fixed;
  right: 20px;
  bottom: 48px;
  z-index: 2000;
  display: grid;
  gap: 8px;
  width: min(420px, calc(100vw - 40px));
}

.notice {
  display: flex;
  gap: 12px;
  justify-content: space-between;
  align-items: start;
  padding: 10px 12px;
  border-left: 4px solid var(--malachite);
  background: var(--paper-raised);
  box-shadow: 0 2px 10px oklch(0 0 0 / 0.3);
}

.notice.error {
  border-color: var(--minium);
}
</style>
