<script setup lang="ts">
import Button from 'primevue/button';
import Popover from 'primevue/popover';
import { ref } from 'vue';
import type { ScreenView } from '@zographos/core/light';
import { PATHS } from '@zographos/contracts';
import { IMAGE_FORMATS } from '@zographos/formats/image-formats';
import BackgroundField from '../controls/BackgroundField.vue';
import CheckLine from '../controls/CheckLine.vue';

defineProps<{
  revisionId: string;
  /** How light is shown, and written to files that hold no floats. */
  screen?: ScreenView | null;
}>();

const FORMATS = Object.entries(IMAGE_FORMATS).map(([format, { label }]) => [format, label] as const);

const alpha = ref(false);
const dither = ref(false);
const background = ref<string | null>(null);
const menu = ref<InstanceType<typeof Popover> | null>(null);
</script>

<template>
  <Button label="Download" aria-haspopup="true" @click="menu?.toggle($event)" />
  <Popover ref="menu">
    <ul class="formats">
      <li v-for="[format, label] in FORMATS" :key="format">
        <a
          :href="
            PATHS.download(revisionId, format, { alpha, dither, background: background ?? '', screen: screen ?? null })
          "
          download
          @click="menu?.hide()"
          >{{ label }}</a
        >
      </li>
    </ul>
    <CheckLine label="UV coverage in alpha" :value="alpha" @change="alpha = $event" />
    <label
      >Background
      <BackgroundField label="Background" none="As stored" :value="background" @change="background = $event"
    /></label>
    <CheckLine
      v-tooltip="'For 8 and 16 bit: no steps in slow gradients'"
      label="Dither"
      :value="dither"
      @change="dither = $event"
    />
  </Popover>
</template>

<style scoped>
label {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 26px;
  padding: 0 8px;
}

.formats a {
  display: block;
  padding: 5px 8px;
  text-decoration: none;
}

.formats a:hover {
  background: var(--azurite-wash);
}
</style>
