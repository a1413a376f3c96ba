// `npm test`: everything that must hold, on a machine with Node.js only. With words, only those parts:
// `npm test -- changed`, `npm test -- changed HEAD~3`, `npm test -- unit`, `npm test -- slow`, `npm test -- server`,
// `npm test -- system kills`, `npm test -- browser e2e/story.spec.ts`.
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuild } from './setup/build.mjs';
import { ADMIN, APP, OWNER, makeDatabase, startCluster } from './setup/cluster.mjs';
import {
  CHROMIUM,
  checkDebian,
  checkNode,
  ensureDebian,
  ensureNpmPackages,
  ensurePostgres,
  ensureRealFrames
} from './setup/packages.mjs';
import { ROOT, SetupError } from './setup/paths.mjs';

const TEST_BUILD = 'build-test';
/** So much of what a failure said is said again at the end, where somebody looks, characters. */
const TOLD_AGAIN = 6000;
const say = (line) => console.log(`\n── ${line}`);

const inRoot = (program) => join(ROOT, 'node_modules', program);

function run(title, program, words, env = {}) {
  say(title);
  const { status } = spawnSync(process.execPath, [inRoot(program), ...words], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, ...env }
  });
  if (status !== 0) throw new SetupError(`${title}: failed.`);
}

/** Runs a program whose words are shown once it has ended, so that another may run beside it. */
async function runQuietly(title, program, words, env = {}) {
  const began = Date.now();
  const running = spawn(process.execPath, [inRoot(program), ...words], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, FORCE_COLOR: process.stdout.isTTY ? '1' : '0', ...env }
  });
  let said = '';
  for (const stream of [running.stdout, running.stderr]) stream.on('data', (chunk) => (said += chunk));
  const [status] = await once(running, 'close');
  say(`${title} (${Math.round((Date.now() - began) / 1000)} s)`);
  process.stdout.write(said);
  if (status !== 0) throw new SetupError(`${title}: failed.\n${said.slice(-TOLD_AGAIN)}`);
}

/** Runs jobs in their order, as many at once as there are cores; all end before the first failure is told. */
async function together(jobs) {
  const waiting = [...jobs];
  const failures = [];
  const worker = async () => {
    for (let job = waiting.shift(); job; job = waiting.shift()) await job().catch((error) => failures.push(error));
  };
  await Promise.all(Array.from({ length: availableParallelism() }, worker));
  if (failures.length > 0) throw new SetupError(failures.map(({ message }) => message).join('\n\n'));
}

const VITEST = 'vitest/vitest.mjs';
/** TypeScript’s own native compiler: it checks in a tenth of the time. */
const TSGO = '@typescript/native-preview/bin/tsgo';
const SOURCES = ['core/src', 'cli/src', 'src'];
const [only, ...more] = process.argv.slice(2);
const wants = (part) => only === undefined || only === part;

const types = [
  () => runQuietly('Types of the application', 'svelte-check/bin/svelte-check', ['--tsgo', '--fail-on-warnings']),
  () => runQuietly('Types of core', TSGO, ['-p', 'core']),
  () => runQuietly('Types of the command line', TSGO, ['-p', 'cli']),
  () => runQuietly('Types of the service worker', TSGO, ['-p', 'tsconfig.worker.json'])
];
const lint = (files) => () => runQuietly('Lint', 'eslint/bin/eslint.js', files);
const format = (words) => () =>
  runQuietly('Format', 'prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', ...words]);
const layers = () =>
  runQuietly('Layers', 'dependency-cruiser/bin/dependency-cruise.mjs', ['--config', 'scripts/layers.cjs', ...SOURCES]);

const licences = () => runQuietly('Licences', '../scripts/licences.mjs', ['--check']);

/** Projects of Vitest that need no database and no build, and are quick. */
const QUICK = ['unit', 'app', 'mocked'];

/** Asked for alone, tests tell how far they are. */
const vitest = async (title, projects, words = [], env = {}) =>
  (only === undefined ? runQuietly : run)(
    title,
    VITEST,
    ['run', ...projects.flatMap((each) => ['--project', each]), ...words, ...more],
    env
  );

/** Files that differ from a commit, those git does not know yet included. */
function changedSince(commit) {
  const listed = (...words) => {
    const { status, stdout, stderr } = spawnSync('git', words, { cwd: ROOT, encoding: 'utf8' });
    if (status !== 0) throw new SetupError(`git ${words[0]}: ${stderr.trim()}`);
    return stdout.split('\n').filter(Boolean);
  };
  return [
    ...listed('diff', '--name-only', '--diff-filter=d', commit),
    ...listed('ls-files', '--others', '--exclude-standard')
  ];
}

/** What a change touches, told by what imports what: types and layers whole, style of its files, tests that reach it. */
function jobsOfChange(commit = 'HEAD') {
  const files = changedSince(commit);
  const styled = files.filter((file) => /\.(ts|js|mjs|cjs|svelte)$/.test(file));
  const among = ['run', ...QUICK.flatMap((each) => ['--project', each]), '--changed', commit, '--passWithNoTests'];
  return [
    ...types,
    ...(styled.length > 0 ? [lint(styled)] : []),
    ...(files.length > 0 ? [format(['--ignore-unknown', ...files])] : []),
    layers,
    () => runQuietly('Unit tests of what changed', VITEST, among)
  ];
}

/** Everything but the browser tests: what waits for others stands beside what computes, the longest first. */
function jobs(cluster) {
  const server = async () => {
    await makeDatabase(cluster.url(ADMIN, 'postgres'), 'server_tests');
    await vitest('Server tests', ['server'], [], {
      DATABASE_URL: cluster.url(APP, 'server_tests'),
      LODESTONE_MIGRATE_URL: cluster.url(OWNER, 'server_tests'),
      LODESTONE_ADMIN_URL: cluster.url(ADMIN, 'server_tests')
    });
  };
  // Starts and ends of servers are waited for more than computed.
  const system = async () => {
    await built;
    await vitest('System tests', ['system'], [`--maxWorkers=${availableParallelism() + 1}`]);
  };
  const built = wants('system') || wants('browser') ? ensureBuild(TEST_BUILD, say) : undefined;
  // Told where it is waited for.
  built?.catch(() => undefined);
  return [
    ...(wants('types') ? types : []),
    ...(wants('lint') ? [lint(['.']), format(['.']), layers, licences] : []),
    ...(wants('system') ? [system] : []),
    ...(wants('unit') ? [() => vitest('Unit tests', QUICK)] : []),
    ...(wants('slow') ? [() => vitest('Slow unit tests', ['slow'])] : []),
    ...(wants('server') ? [server] : []),
    ...(wants('interop') ? [() => vitest('Other programs', ['interop'])] : []),
    async () => void (await built)
  ];
}

/** What the parts that are wanted need of Debian's packages. */
const debianParts = () => [
  ...(wants('server') || wants('system') || wants('browser') ? ['postgres'] : []),
  ...(wants('server') ? ['fonts'] : []),
  ...(wants('unit') || wants('browser') ? ['curl'] : []),
  ...(wants('slow') ? ['judges'] : []),
  ...(wants('interop') ? ['interop'] : []),
  ...(wants('system') ? ['pooler', 'proxy'] : []),
  ...(wants('browser') ? ['chromium'] : [])
];

let cluster;
let folder;
try {
  checkNode();
  checkDebian(debianParts(), say);
  await Promise.all([ensureDebian(debianParts(), say), ensureNpmPackages(say)]);
  // Compilers, Vitest and the build (which writes settings of its own elsewhere) read what this writes.
  if (only !== 'lint') run('Sync', '@sveltejs/kit/svelte-kit.js', ['sync']);
  if (wants('slow')) await ensureRealFrames(say);
  if (wants('server') || wants('browser')) {
    const programs = await ensurePostgres(say);
    folder = mkdtempSync(join(tmpdir(), 'lodestone-test-'));
    chmodSync(folder, 0o711);
    cluster = await startCluster({ folder, programs, say, throwaway: true });
  }
  await together(only === 'changed' ? jobsOfChange(...more) : jobs(cluster));
  if (wants('browser')) {
    run('Browser tests', '@playwright/test/cli.js', ['test', ...more], {
      LODESTONE_BUILD: TEST_BUILD,
      LODESTONE_CHROMIUM: CHROMIUM,
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
