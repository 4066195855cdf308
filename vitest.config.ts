import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        plugins: [vue()],
        test: {
          name: 'unit',
          include: [
            'packages/core/kernel/tests/*.test.ts',
            'packages/*/src/**/*.test.ts',
            'apps/cli/src/**/*.test.ts',
            'tools/**/*.test.ts',
            'apps/studio/src/**/*.test.ts',
          ],
          globalSetup: 'tools/buildForTests.mjs',
          // Files are many and small: threads start sooner than processes, and every core has one.
          pool: 'threads',
          maxWorkers: '100%',
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
      {
        test: {
          name: 'api',
          include: ['apps/server/src/**/*.test.ts'],
          globalSetup: 'apps/server/src/testing/setUp.ts',
          testTimeout: 180_000,
          hookTimeout: 180_000,
          // Each file has a database of its own.
          maxWorkers: 2,
        },
      },
      {
        test: {
          name: 'e2e',
          include: ['e2e/src/**/*.test.ts'],
          globalSetup: 'e2e/src/setUp.ts',
          testTimeout: 120_000,
          hookTimeout: 120_000,
          fileParallelism: false,
          // A browser that renders in software on two cores may need seconds to answer.
          expect: { poll: { timeout: 20_000 } },
        },
      },
    ],
  },
});
