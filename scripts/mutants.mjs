/**
 * Changes lines of core one by one and runs its tests on each change (Stryker): what no test notices is listed.
 *
 *   npm run mutants -- [folder of core/src] [--count N] [--seed S]
 *
 * A sample of so many lines (each can be changed in two or three ways), drawn by the seed, so that two runs look at the same
 * ones. Not part of `npm test`: 120 lines take about twenty minutes on two cores.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';

const root = new URL('..', import.meta.url).pathname;
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { count: { type: 'string', default: '120' }, seed: { type: 'string', default: '1' } }
});
const folder = join('core/src', positionals[0] ?? '');
const count = Number(values.count);
let state = Number(values.seed) >>> 0;

/** Mulberry32: a sample that two runs draw alike. */
function random() {
  state = (state + 0x6d2b79f5) >>> 0;
  let t = state;
  t = Math.imul(t ^ (t >>> 15), t | 1);
  t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
}

const files = readdirSync(join(root, folder), { recursive: true })
  .map((name) => join(folder, String(name)))
  .filter((name) => name.endsWith('.ts') && !name.includes('generated') && !name.endsWith('.d.ts'))
  .filter((name) => !name.endsWith('index.ts') && statSync(join(root, name)).isFile());
if (files.length === 0) {
  console.error(`${folder}: no source there`);
  process.exit(2);
}

// Lines that hold something to change, by file: a mutant is drawn by drawing its line.
const lines = files.flatMap((file) =>
  readFileSync(join(root, file), 'utf8')
    .split('\n')
    .flatMap((text, index) =>
      /[<>=!&|?+\-*/%]|true|false|\d/.test(text) &&
      !/^\s*(\*|\/\/|\/\*|import|export (type|\{)|type |interface )/.test(text)
        ? [`${file}:${index + 1}-${index + 1}`]
        : []
    )
);
const drawn = new Set();
while (drawn.size < Math.min(count, lines.length)) drawn.add(lines[Math.floor(random() * lines.length)]);

const report = join(mkdtempSync(join(tmpdir(), 'lodestone-mutants-')), 'report.json');
const config = {
  testRunner: 'vitest',
  plugins: ['@stryker-mutator/vitest-runner', join(root, 'scripts/mutants-reporter.mjs')],
  vitest: { configFile: 'vitest.mutants.config.ts', related: true },
  mutate: [...drawn],
  // Words are read by golden texts, not by their letters; what a test cannot see of an object is its own matter.
  mutator: { excludedMutations: ['StringLiteral', 'ObjectLiteral'] },
  coverageAnalysis: 'perTest',
  // What runs once at load would have to ask every test each time: a third of the mutants took nine tenths of the time.
  ignoreStatic: true,
  concurrency: 2,
  timeoutMS: 20_000,
  reporters: ['progress-append-only', 'survivors', 'json'],
  jsonReporter: { fileName: report },
  // Types are read through what `svelte-kit sync` wrote, which the runner would leave behind.
  ignorePatterns: ['!.svelte-kit', '!.svelte-kit/**', 'build', 'docs', 'e2e', 'demo/screens'],
  tempDirName: 'stryker-tmp',
  allowEmpty: true
};
const configFile = join(root, 'stryker.conf.json');
writeFileSync(configFile, JSON.stringify(config));
try {
  execFileSync(process.execPath, [join(root, 'node_modules/@stryker-mutator/core/bin/stryker.js'), 'run', configFile], {
    cwd: root,
    stdio: 'inherit'
  });
} finally {
  rmSync(configFile, { force: true });
  rmSync(join(root, 'stryker-tmp'), { recursive: true, force: true });
}

// The survivors' names stand above, each printed as it was known.
const { files: told } = JSON.parse(readFileSync(report, 'utf8'));
const tally = {};
for (const { status } of Object.values(told).flatMap(({ mutants }) => mutants))
  tally[status] = (tally[status] ?? 0) + 1;
const killed = (tally.Killed ?? 0) + (tally.Timeout ?? 0);
const all = killed + (tally.Survived ?? 0) + (tally.NoCoverage ?? 0);
console.log(
  `${killed} of ${all} killed, ${((100 * killed) / Math.max(1, all)).toFixed(1)} % (${JSON.stringify(tally)})`
);
