<script setup lang="ts">
import ProgressBar from 'primevue/progressbar';
import { provide, ref } from 'vue';
import { useRouter } from 'vue-router';
import { sendFiles } from '../api/call.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { bringInKey, type BringIn } from '../stores/bringIn.ts';
import { count, percent } from '../controls/format.ts';

const props = defineProps<{ projectId: string }>();
const notices = useNotices();
const store = useProject();
const router = useRouter();
const over = ref(false);
const sending = ref<{ files: number; share: number; cancel: () => void } | null>(null);

const bringIn: BringIn = async (files) => {
  if (files.length === 0) return;
  const { done, cancel } = sendFiles(props.projectId, files, (share) => {
    if (sending.value) sending.value.share = share;
  });
  sending.value = { files: files.length, share: 0, cancel };
  const result = await notices.guard(() => done);
  sending.value = null;
  if (!result) return;
  for (const { message } of result.failures) notices.say('error', message);
  await store.reload();
  const [first] = result.assets;
  if (first) await router.push({ name: 'intake', params: { projectId: props.projectId }, query: { asset: first.id } });
};
provide(bringInKey, bringIn);

function drop(event: DragEvent): void {
  over.value = false;
  void bringIn([...(event.dataTransfer?.files ?? [])]);
}
</script>

<template>
  <div class="drop" @dragover.prevent="over = true" @dragleave.self="over = false" @drop.prevent="drop">
    <slot />
    <div v-if="over" class="veil">Drop meshes and images to import them</div>
    <div v-if="sending" class="sending" role="status">
      <span v-if="sending.share < 1">Sending {{ count(sending.files, 'file') }}, {{ percent(sending.share) }}</span>
      <span v-else>Reading {{ count(sending.files, 'file') }} …</span>
      <ProgressBar
        :mode="sending.share < 1 ? 'determinate' : 'indeterminate'"
        :value="sending.share * 100"
        :show-value="false"
      />
      <button type="button" class="plain-button" @click="sending.cancel()">Cancel</button>
    </div>
  </div>
</template>

<style scoped>
.drop {
  position: relative;
  min-height: 0;
}

.veil {
  position: absolute;
  inset: 8px;
  z-index: 20;
  display: grid;
  place-items: center;
  border: 2px dashed var(--azurite);
  background: color-mix(in oklch, var(--paper), transparent 12%);
  font-size: 20px;
  pointer-events: none;
}

.sending {
  position: absolute;
  bottom: 12px;
  left: 50%;
  z-index: 21;
  display: grid;
  grid-template-columns: auto 180px auto;
  gap: 12px;
  align-items: center;
  padding: 8px 14px;
  background: var(--paper-raised);
  box-shadow: 0 2px 10px oklch(0 0 0 / 0.3);
  translate: -50%;
}

.sending :deep(.p-progressbar) {
  height: 6px;
}
</style>
