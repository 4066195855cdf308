import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [vue()],
  build: {
    outDir: '../../build/studio',
    emptyOutDir: true,
    target: 'es2023',
    chunkSizeWarningLimit: 1500,
    // Fonts and pictures as files: the page's policy allows no data: fonts.
    assetsInlineLimit: 0,
  },
  worker: { format: 'es' },
});
