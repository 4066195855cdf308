<script setup lang="ts">
import type { Ticket } from '@zographos/contracts';
import { sentenceText } from '@zographos/operations';
import { useProject } from '../stores/project.ts';
import { ticketPlace } from './ticketPlace.ts';

/** Tickets by their names and sentences, each with the way to its room. */
defineProps<{ title: string; tickets: readonly Ticket[] }>();
const store = useProject();
</script>

<template>
  <section class="panel">
    <h2>{{ title }}</h2>
    <ul>
      <li v-for="each in tickets" :key="each.id">
        <RouterLink :to="ticketPlace(store.project!.id, each)">{{ each.name }}</RouterLink>
        <p class="soft">{{ sentenceText(store.sentenceOf(each)) }}</p>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  padding: 8px 0;
}

li a {
  font-size: 15px;
  font-weight: 650;
}
</style>
