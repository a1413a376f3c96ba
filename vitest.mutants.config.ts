import { defineConfig } from 'vitest/config';

/** The tests of core alone, as the mutation runner asks them. */
export default defineConfig({
  test: {
    setupFiles: ['core/tests/setup.ts'],
    include: ['core/tests/**/*.test.ts', 'cli/tests/golden.test.ts'],
    exclude: ['**/*.slow.test.ts'],
    testTimeout: 30_000
  }
});
