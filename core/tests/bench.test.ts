// Nobody runs the benchmarks but on purpose: what they take out of core has to be there all the same.
import { readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { expect, it } from 'vitest';

const BENCH = fileURLToPath(new URL('../bench', import.meta.url));

it('the benchmarks find what they measure', async () => {
  const entryPoints = readdirSync(BENCH).map((name) => `${BENCH}/${name}`);
  expect(entryPoints.length).toBeGreaterThan(4);
  const { errors, warnings } = await build({
    entryPoints,
    bundle: true,
    write: false,
    outdir: BENCH,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    logLevel: 'silent'
  });
  expect([...errors, ...warnings].map(({ text }) => text)).toEqual([]);
});
