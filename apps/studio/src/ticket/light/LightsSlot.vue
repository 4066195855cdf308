<script setup lang="ts">
import { ref } from 'vue';
import type { LightTicket } from '@zographos/contracts';
import LightList from './LightList.vue';

/** The lights that are placed. */
defineProps<{ ticket: LightTicket }>();
const chosen = ref(0);
</script>

<template>
  <div class="editor">
    <h3>Lights</h3>
    <LightList v-model:chosen="chosen" :ticket="ticket" />
  </div>
</template>
