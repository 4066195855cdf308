<script setup lang="ts">
import ColorPicker from 'primevue/colorpicker';
import InputText from 'primevue/inputtext';
import { ref, watch } from 'vue';

/**
 * A colour as #rrggbb: picked on a field of colours, or typed. What it will be is told while it moves, what it is when the
 * field of colours closes.
 */
const props = defineProps<{ label: string; value: string }>();
const emit = defineEmits<{ move: [string]; change: [string] }>();
const draft = ref(props.value);
/** Counts what was typed and is no colour: a new field shows the colour that is. */
const mistakes = ref(0);
watch(
  () => props.value,
  (value) => {
    draft.value = value;
  },
);

function pick(hex: string): void {
  draft.value = `#${hex}`;
  emit('move', draft.value);
}

function keep(): void {
  if (draft.value !== props.value) emit('change', draft.value);
}

function typed(event: Event): void {
  const input = event.target as HTMLInputElement;
  const color = /^#?([0-9a-f]{6})$/i.exec(input.value.trim())?.[1];
  if (color) emit('change', `#${color.toLowerCase()}`);
  else mistakes.value++;
}
</script>

<template>
  <span class="color">
    <ColorPicker
      :model-value="draft.slice(1)"
      :pt="{ preview: { 'aria-label': label } }"
      @update:model-value="pick"
      @hide="keep"
    />
    <InputText
      :key="mistakes"
      :model-value="draft"
      size="small"
      maxlength="7"
      spellcheck="false"
      :aria-label="`${label} as #rrggbb`"
      @change="typed"
    />
  </span>
</template>

<style scoped>
.color {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}

.color :deep(.p-inputtext) {
  width: 78px;
}
</style>
