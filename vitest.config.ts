import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: { name: 'unit', include: ['core/tests/**/*.test.ts', 'cli/tests/**/*.test.ts', 'scripts/**/*.test.ts'] }
      },
      {
        test: { name: 'browser-free', include: ['src/**/*.test.ts'], exclude: ['src/lib/server/**', 'src/routes/**'] },
        resolve: { alias: { $lib: '/src/lib' } }
      },
      {
        test: { name: 'server', include: ['src/lib/server/**/*.test.ts'], fileParallelism: false, testTimeout: 20_000 },
        resolve: { alias: { $lib: '/src/lib' } }
      }
    ]
  }
});
