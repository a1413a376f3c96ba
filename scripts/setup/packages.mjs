// Installs what a machine with Node.js only is missing: npm packages and Debian packages.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { ROOT, SetupError, isRoot } from './paths.mjs';

const OLDEST_NODE = [20, 19];

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major > OLDEST_NODE[0] || (major === OLDEST_NODE[0] && minor >= OLDEST_NODE[1])) return;
  throw new SetupError(`Node.js ${OLDEST_NODE.join('.')} or newer is needed; this is ${process.versions.node}.`);
}

/** Programs that are at work: they go when this process does, whatever ends it. */
const running = new Set();
process.once('exit', () => running.forEach((each) => each.kill()));

/**
 * Runs a program, while signals go on being heard.
 *
 * @param options of the process; `isLeft`: it is left to end by itself, whatever becomes of this one
 * @throws SetupError where it fails
 */
async function run(command, words, { isLeft = false, ...options } = {}) {
  const child = spawn(command, words, { stdio: 'inherit', ...options });
  if (!isLeft) running.add(child);
  const [status, error] = await new Promise((ended) => {
    child.once('error', (failure) => ended([undefined, failure]));
    child.once('close', (code) => ended([code, undefined]));
  });
  running.delete(child);
  if (error || status !== 0) {
    throw new SetupError(`“${[command, ...words].join(' ')}” failed${error ? `: ${error.message}` : ''}.`);
  }
}

const modified = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0);

/** What is generated from the schemas is made anew where one of them is newer. */
async function ensureGenerated() {
  const generated = join(ROOT, 'src/lib/api/generated/validate.js');
  const sources = [
    'core/src/train/train.schema.json',
    'core/src/drawer/drawer.schema.json',
    'core/src/focus/run.schema.json',
    'core/src/experiment/experiments.schema.json',
    'src/lib/api/requests.schema.json',
    'scripts/generate.mjs'
  ];
  if (!sources.some((source) => modified(join(ROOT, source)) > modified(generated))) return;
  await run(process.execPath, [join(ROOT, 'scripts/generate.mjs')], { cwd: ROOT });
}

/** Runs `npm ci` when the lock file is newer than what is installed. */
export async function ensureNpmPackages(say) {
  const installed = modified(join(ROOT, 'node_modules/.package-lock.json'));
  if (installed === 0 || installed < modified(join(ROOT, 'package-lock.json'))) {
    say('Installing npm packages …');
    await run('npm', ['ci', '--include=dev', '--no-fund', '--no-audit'], { cwd: ROOT });
  }
  // An npm that is told to run no scripts has not done it.
  await ensureGenerated();
}

export function onPath(program) {
  return (process.env.PATH ?? '')
    .split(delimiter)
    .map((folder) => join(folder, program))
    .find((candidate) => existsSync(candidate));
}

let lists;

/** Debian's lists of what there is, fetched once a run. */
const updateLists = (options) => (lists ??= run('apt-get', ['update', '-qq'], options));

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

const DEBIAN_PYTHON = '/usr/lib/python3/dist-packages';
const FONT_FOLDERS = ['/usr/share/fonts/truetype/droid', '/usr/share/fonts/opentype/unifont'];
export const CHROMIUM = '/usr/bin/chromium-headless-shell';

/** What comes from Debian: its packages, what it is called, and whether it is there. */
const DEBIAN = {
  postgres: {
    packages: ['postgresql'],
    what: 'the PostgreSQL server',
    isThere: () => postgresPrograms() !== undefined
  },
  // Letters of every script, for what is printed. Without them it works too: such letters are dots then.
  fonts: {
    packages: ['fonts-droid-fallback', 'fonts-unifont'],
    what: 'fonts for every script',
    isThere: () => FONT_FOLDERS.every((folder) => existsSync(folder)),
    without: 'letters of some scripts are printed as dots'
  },
  // What runs the lines that are copied.
  curl: { packages: ['curl'], what: 'curl', isThere: () => onPath('curl') !== undefined },
  // What the frame tests are compared with.
  judges: {
    packages: ['source-extractor'],
    what: 'source-extractor',
    isThere: () => onPath('source-extractor') !== undefined
  },
  // What opens what is written, and writes what is read.
  interop: {
    packages: [
      ...['python3-astropy', 'python3-tifffile', 'python3-pil', 'python3-ezdxf', 'python3-jsonschema'],
      ...['libtiff-tools', 'admesh', 'qpdf', 'poppler-utils', 'zbar-tools', 'librsvg2-bin', 'fitsverify']
    ],
    what: 'programs that read the same formats',
    isThere: () =>
      ['tiffcp', 'admesh', 'qpdf', 'pdftotext', 'zbarimg', 'rsvg-convert', 'fitsverify'].every((program) =>
        onPath(program)
      ) && ['astropy', 'tifffile', 'PIL', 'ezdxf', 'jsonschema'].every((name) => existsSync(join(DEBIAN_PYTHON, name)))
  },
  // What is between two servers and one database in the tests.
  pooler: {
    packages: ['pgbouncer'],
    what: 'a connection pooler',
    isThere: () => existsSync('/usr/sbin/pgbouncer')
  },
  // What stands before the servers in the tests.
  proxy: {
    packages: ['nginx-light', 'openssl'],
    what: 'a proxy',
    isThere: () => existsSync('/usr/sbin/nginx') && onPath('openssl') !== undefined
  },
  // Chromium without the window it would draw around its pages: a page is there in half the time.
  chromium: {
    packages: ['chromium-headless-shell', 'fonts-dejavu-core'],
    what: 'Chromium',
    isThere: () => existsSync(CHROMIUM)
  }
};

const listed = new Intl.ListFormat('en');

const missingOf = (names) => names.map((name) => DEBIAN[name]).filter(({ isThere }) => !isThere());

/**
 * Tells who may not install Debian's packages what is missing, all in one go, with the one line that installs it.
 *
 * @param {(keyof typeof DEBIAN)[]} names
 * @throws SetupError where it cannot be done without
 */
export function checkDebian(names, say) {
  if (isRoot() && onPath('apt-get')) return;
  const missing = missingOf(names);
  const line = `apt-get install -y --no-install-recommends ${missing.flatMap(({ packages }) => packages).join(' ')}`;
  const needed = missing.filter(({ without }) => without === undefined);
  if (needed.length === 0) {
    for (const { packages, without } of missing) say(`Without ${packages.join(' and ')}, ${without}.`);
    return;
  }
  const what = listed.format(needed.map((each) => each.what));
  const [verb, pronoun] = needed.length === 1 ? ['is', 'it'] : ['are', 'them'];
  if (!onPath('apt-get'))
    throw new SetupError(`${what} ${verb} missing and there is no apt-get here to install ${pronoun} with.`);
  throw new SetupError(
    `${what} ${verb} missing. Run this once, then start again:
  sudo apt-get update && sudo ${line}
or, as root:
  apt-get update && ${line}`
  );
}

/**
 * Installs what is missing of Debian's packages, all in one go.
 *
 * @param {(keyof typeof DEBIAN)[]} names
 * @throws SetupError see {@link checkDebian}
 */
export async function ensureDebian(names, say) {
  checkDebian(names, () => undefined);
  const missing = isRoot() && onPath('apt-get') ? missingOf(names) : [];
  if (missing.length === 0) return;
  const what = listed.format(missing.map((each) => each.what));
  const words = ['install', '-y', '--no-install-recommends', ...missing.flatMap(({ packages }) => packages)];
  say(`Installing ${what} from Debian's packages …`);
  // What is installed for tests is started by them, not by Debian (invoke-rc.d leaves services alone in level 1).
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive', RUNLEVEL: '1' };
  await updateLists({ env });
  // Cut off in the middle it would leave the machine's packages half configured.
  await run('apt-get', ['-qq', ...words], { env, stdio: ['ignore', 'ignore', 'inherit'], isLeft: true });
  const absent = missing.find(({ isThere }) => !isThere());
  if (absent)
    throw new SetupError(`${absent.packages.join(' and ')} were installed, but ${absent.what} is not to be found.`);
  say(`Installed ${what}.`);
}

/** Folder with the programs of the PostgreSQL server. */
export async function ensurePostgres(say) {
  await ensureDebian(['postgres'], say);
  return postgresPrograms();
}

/** Real pictures that come with Debian's packages, and what is tried on them. */
const PICTURE_PACKAGES = ['iraf', 'eso-midas-testdata'];

/** Real frames for the tests: packages fetched and unpacked, not installed. */
export async function ensureRealFrames(say) {
  const folder = join(ROOT, 'node_modules/.cache/lodestone-frames');
  const done = join(folder, 'unpacked');
  if (existsSync(done)) return;
  say('Fetching real frames from Debian’s packages …');
  mkdirSync(folder, { recursive: true });
  const quiet = { cwd: folder, stdio: ['ignore', 'ignore', 'inherit'] };
  if (isRoot()) await updateLists(quiet);
  await run('apt-get', ['-qq', '-o', 'APT::Sandbox::User=root', 'download', ...PICTURE_PACKAGES], quiet);
  for (const name of readdirSync(folder).filter((each) => each.endsWith('.deb'))) {
    await run('dpkg-deb', ['-x', name, '.'], quiet);
    rmSync(join(folder, name));
  }
  writeFileSync(done, '');
}
