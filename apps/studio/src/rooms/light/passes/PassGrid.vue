<script setup lang="ts">
import type { MapRevision } from '@zographos/contracts';
import type { MapKind } from '@zographos/core/image';
import type { ScreenView } from '@zographos/core/light';
import { screenFor } from '../../../map/useScreenView.ts';
import type { LightPictures } from './lightPictures.ts';
import PassPicture from './PassPicture.vue';

/** All passes side by side, each in the same exposure; one that is clicked on is looked at closer. */
defineProps<{
  passes: readonly { kind: MapKind; label: string; revision: MapRevision }[];
  pictures: LightPictures;
  screen: ScreenView;
  chosen: MapKind;
}>();
const emit = defineEmits<{ choose: [MapKind] }>();
</script>

<template>
  <ul class="passes" aria-label="Passes side by side">
    <li v-for="{ kind, label, revision } in passes" :key="kind">
      <button type="button" :aria-pressed="kind === chosen" @click="emit('choose', kind)">
        <PassPicture :revisions="[revision]" :pictures="pictures" :screen="screenFor(kind, screen)" :label="label" />
        <span>{{ label }}</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.passes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(128px, 1fr));
  gap: 8px;
  align-content: start;
  overflow: auto;
  flex: 1;
  min-height: 0;
  padding: 8px;
  background: var(--surround);
}

button {
  display: grid;
  width: 100%;
  gap: 4px;
  padding: 0 0 4px;
  border: 0;
  background: var(--paper);
  color: inherit;
  font-size: var(--text-small);
  cursor: pointer;
}

button[aria-pressed='true'] {
  outline: 2px solid var(--azurite);
}
</style>
