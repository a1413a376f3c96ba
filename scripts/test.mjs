// `npm test`: everything that must hold, on a machine with Node.js only. With words, only those parts:
// `npm test -- unit`, `npm test -- slow`, `npm test -- server`, `npm test -- system kills`, `npm test -- browser e2e/story.spec.ts`.
import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuild } from './setup/build.mjs';
import { ADMIN, APP, OWNER, makeDatabase, startCluster } from './setup/cluster.mjs';
import {
  checkNode,
  ensureChromium,
  ensureFonts,
  ensureFrameJudges,
  ensureNpmPackages,
  ensurePostgres,
  ensureRealFrames
} from './setup/packages.mjs';
import { ROOT, SetupError } from './setup/paths.mjs';

const TEST_BUILD = 'build-test';
const say = (line) => console.log(`\n── ${line}`);

function run(title, program, words, env = {}) {
  say(title);
  const { status } = spawnSync(process.execPath, [join(ROOT, 'node_modules', program), ...words], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, ...env }
  });
  if (status !== 0) throw new SetupError(`${title}: failed.`);
}

const VITEST = 'vitest/vitest.mjs';
const SOURCES = ['core/src', 'cli/src', 'src'];
const [only, ...more] = process.argv.slice(2);
const wants = (part) => only === undefined || only === part;

let cluster;
let folder;
try {
  checkNode();
  ensureNpmPackages(say);
  if (wants('lint')) {
    run('Lint', 'eslint/bin/eslint.js', ['.']);
    run('Format', 'prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']);
    run('Layers', 'dependency-cruiser/bin/dependency-cruise.mjs', ['--config', 'scripts/layers.cjs', ...SOURCES]);
  }
  // Compilers, Vitest and the build (which writes settings of its own elsewhere) read what this writes.
  if (only !== 'lint') run('Sync', '@sveltejs/kit/svelte-kit.js', ['sync']);
  if (wants('types')) {
    run('Types of the application', 'svelte-check/bin/svelte-check', ['--fail-on-warnings']);
    run('Types of core', 'typescript/bin/tsc', ['-p', 'core']);
    run('Types of the command line', 'typescript/bin/tsc', ['-p', 'cli']);
  }
  if (wants('server')) ensureFonts(say);
  if (wants('unit')) run('Unit tests', VITEST, ['run', '--project', 'unit', '--project', 'app', ...more]);
  if (wants('slow')) {
    ensureFrameJudges(say);
    ensureRealFrames(say);
  }
  if (wants('slow')) run('Slow unit tests', VITEST, ['run', '--project', 'slow', ...more]);
  if (wants('server') || wants('browser')) {
    const programs = ensurePostgres(say);
    folder = mkdtempSync(join(tmpdir(), 'lodestone-test-'));
    chmodSync(folder, 0o711);
    cluster = await startCluster({ folder, programs, say, throwaway: true });
  }
  if (wants('server')) {
    await makeDatabase(cluster.url(ADMIN, 'postgres'), 'server_tests');
    run('Server tests', VITEST, ['run', '--project', 'server', ...more], {
      DATABASE_URL: cluster.url(APP, 'server_tests'),
      LODESTONE_MIGRATE_URL: cluster.url(OWNER, 'server_tests')
    });
  }
  if (wants('system')) {
    ensurePostgres(say);
    ensureBuild(TEST_BUILD, say);
    run('System tests', VITEST, ['run', '--project', 'system', ...more]);
  }
  if (wants('browser')) {
    const chromium = ensureChromium(say);
    ensureBuild(TEST_BUILD, say);
    run('Browser tests', '@playwright/test/cli.js', ['test', ...more], {
      LODESTONE_BUILD: TEST_BUILD,
      LODESTONE_CHROMIUM: chromium,
      LODESTONE_TEST_ADMIN_URL: cluster.url(ADMIN, 'postgres'),
      LODESTONE_TEST_OWNER_URL: cluster.url(OWNER, 'DATABASE'),
      LODESTONE_TEST_APP_URL: cluster.url(APP, 'DATABASE')
    });
  }
  say('All passed.');
} catch (error) {
  console.error(error instanceof SetupError ? `\n${error.message}` : error);
  process.exitCode = 1;
} finally {
  cluster?.stop();
  if (folder) rmSync(folder, { recursive: true, force: true });
}
