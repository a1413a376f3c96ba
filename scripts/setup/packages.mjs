// Installs what a machine with Node.js only is missing: npm packages and Debian packages.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { ROOT, SetupError, isRoot } from './paths.mjs';

const OLDEST_NODE = [20, 19];

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major > OLDEST_NODE[0] || (major === OLDEST_NODE[0] && minor >= OLDEST_NODE[1])) return;
  throw new SetupError(`Node.js ${OLDEST_NODE.join('.')} or newer is needed; this is ${process.versions.node}.`);
}

function run(command, words, options = {}) {
  const { status, error } = spawnSync(command, words, { stdio: 'inherit', ...options });
  if (error || status !== 0) {
    throw new SetupError(`“${[command, ...words].join(' ')}” failed${error ? `: ${error.message}` : ''}.`);
  }
}

const modified = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0);

/** Runs `npm ci` when the lock file is newer than what is installed. */
export function ensureNpmPackages(say) {
  const installed = modified(join(ROOT, 'node_modules/.package-lock.json'));
  const generated = join(ROOT, 'src/lib/api/generated/validate.js');
  if (installed >= modified(join(ROOT, 'package-lock.json')) && installed > 0) {
    const schemas = [
      'core/src/train/train.schema.json',
      'core/src/drawer/drawer.schema.json',
      'core/src/focus/run.schema.json',
      'core/src/experiment/experiments.schema.json',
      'src/lib/api/requests.schema.json',
      'scripts/generate.mjs'
    ];
    if (schemas.some((schema) => modified(join(ROOT, schema)) > modified(generated))) {
      run(process.execPath, [join(ROOT, 'scripts/generate.mjs')], { cwd: ROOT });
    }
    return;
  }
  say('Installing npm packages …');
  run('npm', ['ci', '--include=dev', '--no-fund', '--no-audit'], { cwd: ROOT });
}

export function onPath(program) {
  return (process.env.PATH ?? '')
    .split(delimiter)
    .map((folder) => join(folder, program))
    .find((candidate) => existsSync(candidate));
}

let listsAreNew = false;

/** Debian's lists of what there is, fetched once a run. */
function updateLists(options) {
  if (!listsAreNew) run('apt-get', ['update', '-qq'], options);
  listsAreNew = true;
}

function installDebian(packages, why, say) {
  const words = ['install', '-y', '--no-install-recommends', ...packages];
  const byHand = `sudo apt-get update && sudo apt-get ${words.join(' ')}`;
  if (!onPath('apt-get')) throw new SetupError(`${why} is missing and there is no apt-get here to install it with.`);
  if (!isRoot()) throw new SetupError(`${why} is missing. Run this once, then start again:\n  ${byHand}`);
  say(`Installing ${why} from Debian's packages …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  updateLists({ env });
  run('apt-get', ['-qq', ...words], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  say(`Installed ${why}.`);
}

const DEBIAN_POSTGRES = '/usr/lib/postgresql';

/** Folder with initdb, pg_ctl and postgres, the newest there is; undefined when the server is not installed. */
function postgresPrograms() {
  const complete = (folder) => ['initdb', 'pg_ctl', 'postgres'].every((name) => existsSync(join(folder, name)));
  const debian = existsSync(DEBIAN_POSTGRES)
    ? readdirSync(DEBIAN_POSTGRES)
        .sort((a, b) => Number(b) - Number(a))
        .map((version) => join(DEBIAN_POSTGRES, version, 'bin'))
    : [];
  const elsewhere = (process.env.PATH ?? '').split(delimiter);
  return [...debian, ...elsewhere].find(complete);
}

export function ensurePostgres(say) {
  const there = postgresPrograms();
  if (there) return there;
  installDebian(['postgresql'], 'the PostgreSQL server', say);
  const now = postgresPrograms();
  if (!now) throw new SetupError('PostgreSQL was installed, but initdb, pg_ctl and postgres are not to be found.');
  return now;
}

const FONTS = ['fonts-droid-fallback', 'fonts-unifont'];

/** Letters of every script, for what is printed. Without them it works too: such letters are dots then. */
export function ensureFonts(say) {
  const folders = ['/usr/share/fonts/truetype/droid', '/usr/share/fonts/opentype/unifont'];
  if (folders.every((folder) => existsSync(folder))) return;
  if (isRoot() && onPath('apt-get')) installDebian(FONTS, 'fonts for every script', say);
  else say(`Letters of some scripts are printed as dots until there are fonts: apt-get install ${FONTS.join(' ')}`);
}

/** What runs the lines that are copied. */
export function ensureCurl(say) {
  if (!onPath('curl')) installDebian(['curl'], 'curl', say);
}

/** What stands between two servers and one database in the tests. */
export function ensurePooler(say) {
  if (!existsSync('/usr/sbin/pgbouncer')) installDebian(['pgbouncer'], 'a connection pooler', say);
}

/** What the frame tests are compared with. */
export function ensureFrameJudges(say) {
  const missing = ['source-extractor', 'fitsverify'].filter((program) => !onPath(program));
  if (missing.length > 0) installDebian(missing, missing.join(' and '), say);
}

/** Real pictures that come with Debian's packages, and what is tried on them. */
const PICTURE_PACKAGES = ['iraf', 'eso-midas-testdata'];

/** Real frames for the tests: packages fetched and unpacked, not installed. */
export function ensureRealFrames(say) {
  const folder = join(ROOT, 'node_modules/.cache/lodestone-frames');
  const done = join(folder, 'unpacked');
  if (existsSync(done)) return;
  say('Fetching real frames from Debian’s packages …');
  mkdirSync(folder, { recursive: true });
  const quiet = { cwd: folder, stdio: ['ignore', 'ignore', 'inherit'] };
  if (isRoot()) updateLists(quiet);
  run('apt-get', ['-qq', '-o', 'APT::Sandbox::User=root', 'download', ...PICTURE_PACKAGES], quiet);
  for (const name of readdirSync(folder).filter((each) => each.endsWith('.deb'))) {
    run('dpkg-deb', ['-x', name, '.'], quiet);
    rmSync(join(folder, name));
  }
  writeFileSync(done, '');
}

/** Chromium without the window it would draw around its pages: a page is there in half the time. */
export function ensureChromium(say) {
  const program = '/usr/bin/chromium-headless-shell';
  if (!existsSync(program)) installDebian(['chromium-headless-shell', 'fonts-dejavu-core'], 'Chromium', say);
  return program;
}
