import { readFileSync } from 'node:fs';
import { defineConfig } from 'vitest/config';

const here = (path: string): string => new URL(path, import.meta.url).pathname;
const { exports } = JSON.parse(readFileSync(here('core/package.json'), 'utf8')) as { exports: Record<string, string> };

/** The tests of core, as the mutation runner asks them. */
export default defineConfig({
  resolve: {
    // The linked package is the tree itself, not the copy that is changed.
    alias: Object.entries(exports).map(([name, path]) => ({
      find: new RegExp(`^@lodestone/core${name.slice(1).replace('.', '\\.')}$`),
      replacement: here(`core/${path.slice(2)}`)
    }))
  },
  test: {
    setupFiles: ['core/tests/setup.ts'],
    include: ['core/tests/**/*.test.ts', 'cli/tests/golden.test.ts'],
    exclude: ['**/*.slow.test.ts'],
    // A mutant that no test notices is asked of all of them: few draws of each property, many mutants.
    env: { LODESTONE_RUNS: '40', LODESTONE_FUZZ_FITS: '150' },
    testTimeout: 30_000
  }
});
