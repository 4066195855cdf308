<script setup lang="ts">
import ProgressBar from 'primevue/progressbar';
import { computed, provide, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { Existing, IntakeResult } from '@zographos/contracts';
import { namesText } from '@zographos/operations';
import { sendFiles } from '../api/call.ts';
import { droppedFiles, type DroppedFile } from './droppedFiles.ts';
import RevisionQuestion from './RevisionQuestion.vue';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { bringInKey, type BringIn } from '../stores/bringIn.ts';
import { count, percent } from '../controls/format.ts';

const props = defineProps<{ projectId: string }>();
const notices = useNotices();
const store = useProject();
const router = useRouter();
const over = ref(false);
const sending = ref<{ files: number; share: number; cancel: () => void; upload: string } | null>(null);
/** How far the server is with what was sent; files of archives count each for itself. */
const reading = computed(() => (store.reading?.upload === sending.value?.upload ? store.reading : null));
const readShare = computed(() => (reading.value ? reading.value.done / Math.max(1, reading.value.files) : null));

const question = ref<{ files: DroppedFile[]; revisions: IntakeResult['revisions'] } | null>(null);

const bringIn: BringIn = (files) => send(files.map((file) => ({ file, path: file.name })));
provide(bringInKey, bringIn);

async function send(files: DroppedFile[], existing?: Existing): Promise<void> {
  if (files.length === 0) return;
  const { done, cancel, upload } = sendFiles(
    props.projectId,
    files,
    (share) => {
      if (sending.value) sending.value.share = share;
    },
    existing,
  );
  sending.value = { files: files.length, share: 0, cancel, upload };
  const result = await notices.guard(() => done);
  sending.value = null;
  await store.reload();
  if (!result) return;
  for (const { message } of result.failures) notices.say('error', message);
  // Sent once more with the answer: what was taken already is the same content, and stays as it is.
  if (result.revisions.length > 0) question.value = { files, revisions: result.revisions };
  const [first] = result.assets;
  if (first) await router.push({ name: 'intake', params: { projectId: props.projectId }, query: { asset: first.id } });
}

function settle(existing: Exclude<Existing, 'ask'> | null): void {
  const files = question.value?.files ?? [];
  question.value = null;
  if (existing) void send(files, existing);
}

async function drop({ dataTransfer }: DragEvent): Promise<void> {
  over.value = false;
  if (!dataTransfer) return;
  const files = await notices.guard(() => droppedFiles(dataTransfer));
  if (files) await send(files);
}
</script>

<template>
  <div class="drop" @dragover.prevent="over = true" @dragleave.self="over = false" @drop.prevent="drop">
    <slot />
    <RevisionQuestion v-if="question" :revisions="question.revisions" @answer="settle" />
    <div v-if="over" class="veil">Drop meshes, images or folders of them to import them</div>
    <div v-if="sending" class="sending" role="status">
      <span v-if="sending.share < 1">Sending {{ count(sending.files, 'file') }}, {{ percent(sending.share) }}</span>
      <span v-else-if="reading"
        >Read {{ reading.done }} of {{ count(reading.files, 'file') }}
        <span v-if="reading.now.length" class="soft">{{ namesText(reading.now, 'file') }}</span></span
      >
      <span v-else>Reading {{ count(sending.files, 'file') }} …</span>
      <ProgressBar
        :mode="sending.share < 1 || readShare !== null ? 'determinate' : 'indeterminate'"
        :value="(sending.share < 1 ? sending.share : (readShare ?? 0)) * 100"
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
