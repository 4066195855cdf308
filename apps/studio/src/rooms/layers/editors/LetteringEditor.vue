<script setup lang="ts">
import Button from 'primevue/button';
import InputText from 'primevue/inputtext';
import { ref } from 'vue';
import Choice from '../../../controls/Choice.vue';
import { letteringFile, type LetterWeight } from './lettering.ts';
import { useNewPicture } from '../../../ticket/useNewPicture.ts';

/** Sets lettering in the typeface that comes with Zographos, as an image whose alpha is the letters. */
const props = defineProps<{ text: string }>();
const emit = defineEmits<{ made: [{ id: string; aspect: number; text: string }] }>();

const { keep } = useNewPicture();
const text = ref(props.text);
const weight = ref<LetterWeight>(700);
const isBusy = ref(false);
const WEIGHTS = [
  { value: 400, label: 'Regular' },
  { value: 700, label: 'Bold' },
  { value: 900, label: 'Black' },
] as const;

async function make(): Promise<void> {
  isBusy.value = true;
  const { file, aspect } = await letteringFile(text.value, weight.value);
  const id = await keep(file);
  isBusy.value = false;
  if (id) emit('made', { id, aspect, text: text.value });
}
</script>

<template>
  <label>Letters<InputText v-model="text" size="small" maxlength="200" @keydown.enter="make" /></label>
  <Choice label="Weight" :value="weight" :options="WEIGHTS" @choose="weight = $event" />
  <Button
    label="Set the letters"
    size="small"
    outlined
    :disabled="text.trim() === '' || isBusy"
    :loading="isBusy"
    @click="make"
  />
</template>
