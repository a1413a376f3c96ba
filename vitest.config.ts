import { fileURLToPath } from 'node:url';
import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

// Files of the first three share what they import: nothing there keeps state of its own.
const isolate = false;
// Limits end what hangs: a machine whose processors others use as well was seen to take ten times as long.
const PATIENCE_MS = 180_000;
const MOCKED = 'src/**/*.mocked.test.ts';
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
          testTimeout: PATIENCE_MS,
          hookTimeout: PATIENCE_MS
        }
      },
      {
        // What tries everything, or asks another solver: apart, so that the rest is quick.
        test: {
          name: 'slow',
          isolate,
          setupFiles: ['core/tests/setup.ts'],
          include: ['core/tests/**/*.slow.test.ts'],
          testTimeout: 2 * PATIENCE_MS,
          hookTimeout: 2 * PATIENCE_MS
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
          exclude: ['src/lib/server/**', MOCKED],
          testTimeout: PATIENCE_MS,
          hookTimeout: PATIENCE_MS
        }
      },
      {
        plugins: [svelte()],
        resolve,
        // A module in place of another would stay there for the next file, or come too late after the one before.
        test: {
          name: 'mocked',
          setupFiles: ['core/tests/setup.ts'],
          include: [MOCKED],
          testTimeout: PATIENCE_MS,
          hookTimeout: PATIENCE_MS
        }
      },
      {
        resolve,
        // One database for all of them: they run one after the other. scripts/test.mjs starts it.
        test: {
          name: 'server',
          setupFiles: ['src/lib/server/heard.setup.ts'],
          include: ['src/lib/server/**/*.test.ts'],
          fileParallelism: false,
          testTimeout: PATIENCE_MS,
          hookTimeout: PATIENCE_MS
        }
      },
      {
        // What is written and read, held against programs that no one here wrote.
        test: {
          name: 'interop',
          isolate,
          include: ['tests/interop/**/*.test.ts'],
          testTimeout: PATIENCE_MS,
          hookTimeout: PATIENCE_MS
        }
      },
      {
        // The whole application as `npm start` runs it, killed, raced and fuzzed; each file has a data folder of its own.
        test: {
          name: 'system',
          include: ['tests/system/**/*.test.ts'],
          testTimeout: 2 * PATIENCE_MS,
          hookTimeout: 2 * PATIENCE_MS
        }
      }
    ]
  }
});
