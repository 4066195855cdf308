import { defineStore } from 'pinia';
import { useLocalStorage } from '@vueuse/core';
import { watchEffect } from 'vue';

/** The light box is bright or dim, as the room around the screen is. */
export const useLight = defineStore('light', () => {
  const light = useLocalStorage<'bright' | 'dim'>('zographos.light', 'bright');
  watchEffect(() => {
    document.documentElement.dataset['light'] = light.value;
  });
  const toggle = (): void => {
    light.value = light.value === 'bright' ? 'dim' : 'bright';
  };
  return { light, toggle };
});
