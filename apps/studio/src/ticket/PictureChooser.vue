<script setup lang="ts">
import { computed } from 'vue';
import { PATHS } from '@zographos/contracts';
import FilePicker from '../controls/FilePicker.vue';
import { useProject } from '../stores/project.ts';
import { useNewPicture } from './useNewPicture.ts';

/** One of the project's images, shown as what it is; another can be brought in. */
defineProps<{ image: string | null; mayBeNone?: boolean }>();
const emit = defineEmits<{ choose: [string | null] }>();
const store = useProject();
const { keep } = useNewPicture();
const images = computed(() => store.images);

async function bringIn(files: File[]): Promise<void> {
  const id = files[0] && (await keep(files[0]));
  if (id) emit('choose', id);
}
</script>

<template>
  <ul class="pictures" aria-label="Images">
    <li v-if="mayBeNone">
      <button type="button" :aria-pressed="image === null" @click="emit('choose', null)">None</button>
    </li>
    <li v-for="each in images" :key="each.id">
      <button type="button" :aria-pressed="image === each.id" :title="each.name" @click="emit('choose', each.id)">
        <img :src="PATHS.blob(each.thumbnailHash)" :alt="each.name" />
      </button>
    </li>
    <li><FilePicker label="Import …" @files="bringIn" /></li>
  </ul>
</template>

<style scoped>
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  max-height: 128px;
  overflow: auto;
}

.pictures button {
  width: 44px;
  height: 44px;
  padding: 0;
  border: 1px solid var(--line);
  background: none;
  color: inherit;
  font-size: 12px;
  cursor: pointer;
}

.pictures button[aria-pressed='true'] {
  outline: 2px solid var(--azurite);
}

img {
  width: 100%;
  height: 100%;
  object-fit: cover;
}
</style>
