<script setup lang="ts">
import { describeKind, type MapKind } from '@zographos/core/image';
import Dropdown from '../../controls/Dropdown.vue';
import type { PreviewView } from './editors/ways.ts';

/** What is looked at: which map, how, how often it repeats, and how large it is made. */
defineProps<{ kinds: readonly MapKind[]; canCompare: boolean }>();
const kind = defineModel<MapKind | undefined>('kind', { required: true });
const view = defineModel<PreviewView>('view', { required: true });
const repeats = defineModel<number>('repeats', { required: true });
const side = defineModel<number>('side', { required: true });

const VIEWS = [
  { value: 'tile', label: 'Tiled', title: 'The tile repeated' },
  { value: 'model', label: 'On a shape', title: 'On simple shapes or a mesh of the project (M)' },
  { value: 'methods', label: 'Compare methods', title: 'The tile made by each method, side by side' },
] as const;
const REPEATS = [1, 2, 3, 4, 6, 8].map((value) => ({ value, label: `${value} × ${value}` }));
const SIDES = [256, 512, 1024, 2048].map((value) => ({ value, label: `${value} px` }));
</script>

<template>
  <div class="bar">
    <div class="tabs" role="group" aria-label="Map">
      <button v-for="each in kinds" :key="each" type="button" :aria-pressed="each === kind" @click="kind = each">
        {{ describeKind(each).label }}
      </button>
    </div>
    <div class="tabs" role="group" aria-label="View">
      <button
        v-for="each in VIEWS.filter(({ value }) => canCompare || value !== 'methods')"
        :key="each.value"
        v-tooltip="each.title"
        type="button"
        :aria-pressed="view === each.value"
        @click="view = each.value"
      >
        {{ each.label }}
      </button>
    </div>
    <Dropdown label="Repeats" :value="repeats" :options="REPEATS" @choose="repeats = $event" />
    <Dropdown label="Size of the preview" :value="side" :options="SIDES" @choose="side = $event" />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 4px 8px;
  background: var(--paper);
}

.bar .tabs:first-child {
  margin-right: auto;
}
</style>
