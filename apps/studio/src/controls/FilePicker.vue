<script setup lang="ts">
import Button from 'primevue/button';
import { ref } from 'vue';

defineProps<{
  label: string;
  /** Endings of the files that are meant; meshes, images and ZIPs if left out. */
  accept?: string;
  /** Where it is not the first thing to do. */
  outlined?: boolean;
}>();
const emit = defineEmits<{ files: [File[]] }>();
const input = ref<HTMLInputElement | null>(null);
const ACCEPT = '.obj,.mtl,.gltf,.glb,.bin,.ply,.stl,.png,.jpg,.jpeg,.tif,.tiff,.exr,.hdr,.tga,.webp,.svg,.zip';

function chosen(): void {
  emit('files', [...(input.value?.files ?? [])]);
  if (input.value) input.value.value = '';
}
</script>

<template>
  <span>
    <Button :label="label" :outlined="outlined" :size="outlined ? 'small' : undefined" @click="input?.click()" />
    <input
      ref="input"
      type="file"
      multiple
      hidden
      :accept="accept ?? ACCEPT"
      aria-label="Files to import"
      @change="chosen"
    />
  </span>
</template>
