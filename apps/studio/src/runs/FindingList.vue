<script setup lang="ts">
import type { Finding } from '@zographos/operations';
import { whole } from '../controls/format.ts';
import PlaceButtons from './PlaceButtons.vue';

/** What was found in a result: each with where it is so, and what to change. */
defineProps<{ findings: readonly Finding[]; canMend?: boolean }>();
defineEmits<{ show: [Finding['places'][number]]; mend: [Finding] }>();

const titleOf = ({ texels, x, y, part }: Finding['places'][number]): string =>
  `${whole(texels)} texels around ${x}, ${y}${part ? ` of ${part}` : ''}`;
</script>

<template>
  <ul v-if="findings.length" class="findings">
    <li v-for="finding in findings" :key="finding.sentence" :class="finding.severity">
      <p>{{ finding.sentence }}</p>
      <p class="ways">
        <PlaceButtons :places="finding.places" :title-of="titleOf" @show="$emit('show', $event)" />
        <button
          v-if="finding.remedy && canMend"
          v-tooltip="finding.remedy.room ? 'Opens the UV room' : 'Changes the ticket; can be undone'"
          type="button"
          class="plain-button remedy"
          @click="$emit('mend', finding)"
        >
          {{ finding.remedy.label }}
        </button>
      </p>
    </li>
  </ul>
  <p v-else class="mark mark-fresh"><span>No problems found</span></p>
</template>
