<script setup lang="ts">
import type { Finding } from '@zographos/operations';
import { whole } from '../controls/format.ts';

/** What was found in a result: each with where it is so, and what to change. */
defineProps<{ findings: readonly Finding[]; canMend?: boolean }>();
defineEmits<{ show: [Finding['places'][number]]; mend: [Finding] }>();
</script>

<template>
  <ul v-if="findings.length" class="findings">
    <li v-for="finding in findings" :key="finding.sentence" :class="finding.severity">
      <p>{{ finding.sentence }}</p>
      <p class="ways">
        <button
          v-for="(place, i) in finding.places.slice(0, 3)"
          :key="i"
          type="button"
          class="plain-button"
          :aria-label="`Show ${i + 1}`"
          :title="`${whole(place.texels)} texels around ${place.x}, ${place.y}${place.part ? ` of ${place.part}` : ''}`"
          @click="$emit('show', place)"
        >
          {{ i === 0 ? 'Show 1' : i + 1 }}
        </button>
        <button
          v-if="finding.remedy && canMend"
          type="button"
          class="plain-button remedy"
          :title="finding.remedy.room ? 'Opens the UV room' : 'Changes the ticket; can be undone'"
          @click="$emit('mend', finding)"
        >
          {{ finding.remedy.label }}
        </button>
      </p>
    </li>
  </ul>
  <p v-else class="mark mark-fresh"><span>No problems found</span></p>
</template>
