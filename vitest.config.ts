import { fileURLToPath } from 'node:url';
import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

// Files of the first three share what they import: nothing there keeps state of its own.
const isolate = false;
const resolve = { alias: { $lib: fileURLToPath(new URL('./src/lib', import.meta.url)) } };

export default defineConfig({
  test: {
    // Every core: by itself Vitest leaves one of them idle, and there are two.
    maxWorkers: '100%',
    projects: [
      {
        test: {
          name: 'unit',
          isolate,
          setupFiles: ['core/tests/setup.ts'],
          include: ['core/tests/**/*.test.ts', 'cli/tests/**/*.test.ts'],
          exclude: ['**/*.slow.test.ts'],
          testTimeout: 30_000
        }
      },
      {
        // What tries everything, or asks another solver: apart, so that the rest is quick.
        test: {
          name: 'slow',
          isolate,
          setupFiles: ['core/tests/setup.ts'],
          include: ['core/tests/**/*.slow.test.ts'],
          testTimeout: 180_000
        }
      },
      {
        plugins: [svelte()],
        resolve,
        test: {
          name: 'app',
          isolate,
          setupFiles: ['core/tests/setup.ts'],
          include: ['src/**/*.test.ts'],
          exclude: ['src/lib/server/**'],
          testTimeout: 30_000
        }
      },
      {
        resolve,
        // One database for all of them: they run one after the other. scripts/test.mjs starts it.
        test: { name: 'server', include: ['src/lib/server/**/*.test.ts'], fileParallelism: false, testTimeout: 20_000 }
      },
      {
        // The whole application as `npm start` runs it, killed, raced and fuzzed; each file has a data folder of its own.
        test: {
          name: 'system',
          include: ['tests/system/**/*.test.ts'],
          testTimeout: 300_000,
          hookTimeout: 300_000
        }
      }
    ]
  }
});
