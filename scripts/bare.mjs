// By hand, as root on Debian with debootstrap: what the start command does on a machine that has Node.js only, and what it
// says where it cannot. `node scripts/bare.mjs` makes a bare root below the folder for temporary files, and prints a table.
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, readdirSync, readlinkSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { freePort } from './setup/cluster.mjs';
import { ROOT } from './setup/paths.mjs';

const HOME = join(tmpdir(), 'lodestone-bare');
const BASE = join(HOME, 'base');
const MIRROR = process.env.LODESTONE_MIRROR ?? 'http://deb.debian.org/debian';
/** Where the repository lies in the bare root. */
const CLONE = '/srv/lodestone';
const PATIENCE_MS = 400_000;

function must(command, words, options = {}) {
  const { status, stderr } = spawnSync(command, words, { encoding: 'utf8', ...options });
  if (status !== 0) throw new Error(`${command} ${words.join(' ')}: ${stderr}`);
}

/** A root with nothing but a minimal Debian, Node.js and npm. */
function makeBase() {
  if (existsSync(join(BASE, 'usr/bin/node'))) return;
  mkdirSync(HOME, { recursive: true });
  const half = `${BASE}.new`;
  rmSync(half, { recursive: true, force: true });
  must('debootstrap', ['--variant=minbase', '--include=ca-certificates,git', 'bookworm', half, MIRROR], {
    stdio: ['ignore', 'ignore', 'pipe']
  });
  cpSync(process.execPath, join(half, 'usr/bin/node'));
  const npm = join(dirname(dirname(process.execPath)), 'lib/node_modules/npm');
  cpSync(npm, join(half, 'usr/lib/node_modules/npm'), { recursive: true });
  must('ln', ['-s', '../lib/node_modules/npm/bin/npm-cli.js', join(half, 'usr/bin/npm')]);
  // This machine's way to the outside.
  for (const file of ['etc/resolv.conf', 'etc/hosts', 'etc/ssl/certs/ca-certificates.crt']) {
    cpSync(join('/', file), join(half, file), { dereference: true });
  }
  must('chroot', [half, 'useradd', '--create-home', 'owner']);
  must('mv', [half, BASE]);
}

/** Processes whose root is this one. */
const processesIn = (root) =>
  readdirSync('/proc').filter((pid) => {
    try {
      return /^\d+$/.test(pid) && readlinkSync(`/proc/${pid}/root`) === root;
    } catch {
      return false;
    }
  });

const commandOf = (pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').trim();

/** A copy of the base with a clone of this repository, for one case after the other. */
class Bare {
  constructor(name) {
    this.root = join(HOME, name);
    this.dispose();
    must('cp', ['-a', BASE, this.root]);
    must('git', ['clone', '-q', ROOT, join(this.root, CLONE)]);
    must('chown', ['-R', '0:0', join(this.root, CLONE)]);
    must('mount', ['-t', 'proc', 'proc', join(this.root, 'proc')]);
    must('mount', ['--bind', '/dev', join(this.root, 'dev')]);
  }

  dispose() {
    for (const pid of processesIn(this.root)) process.kill(Number(pid), 'SIGKILL');
    for (const folder of ['proc', 'dev']) spawnSync('umount', ['-l', join(this.root, folder)], { stdio: 'ignore' });
    // What is mounted still would be emptied as well.
    if (readFileSync('/proc/mounts', 'utf8').includes(`${this.root}/`))
      throw new Error(`${this.root} is mounted still.`);
    rmSync(this.root, { recursive: true, force: true });
  }

  /** Begins a command in the clone. @returns what it says, its end, and what ends it */
  begin(line, { user = 'root', env = {} } = {}) {
    const words = user === 'root' ? [] : ['--userspec', `${user}:${user}`];
    const child = spawn('chroot', [...words, this.root, '/bin/sh', '-c', `cd ${CLONE} && exec ${line}`], {
      env: {
        PATH: '/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin',
        HOME: user === 'root' ? '/root' : `/home/${user}`,
        NODE_EXTRA_CA_CERTS: '/etc/ssl/certs/ca-certificates.crt',
        ...env
      }
    });
    const run = { said: '', code: undefined, began: Date.now(), kill: (signal) => child.kill(signal) };
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (run.said += chunk));
    // Its end, not that of what it said: what it leaves to end by itself may go on speaking.
    run.ended = new Promise((done) => child.once('exit', (code, signal) => done((run.code = code ?? signal))));
    return run;
  }

  /** Waits until a command has said something, or ended. @returns seconds */
  async heard(run, words) {
    while (!words.test(run.said) && run.code === undefined && Date.now() - run.began < PATIENCE_MS) {
      await new Promise((over) => setTimeout(over, 100));
    }
    return Math.round((Date.now() - run.began) / 1000);
  }
}

const table = [];
function tell(what, isRight, how) {
  table.push({ what, isRight, how });
  console.log(`${isRight ? 'right' : 'WRONG'}  ${what}: ${how}`);
}
const lastLine = ({ said }) => said.trim().split('\n').at(-1);

/** What answers once it is ready: a page, a print, a frame. */
async function answers(url) {
  const page = await fetch(url);
  const [train] = await (await fetch(`${url}/api/trains`)).json();
  const print = await fetch(`${url}/api/drawer/labels`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ partIds: ['R-01'] })
  });
  const taken = await fetch(`${url}/api/trains/${train.id}/camera`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ seed: 1, binning: 8 })
  });
  const frame = await fetch(`${url}/api/trains/${train.id}/frames?name=bare`, {
    method: 'POST',
    body: await taken.blob()
  });
  return [page, print, taken, frame].map(({ status }) => status).join(' ');
}

async function started(bare, what, line, options) {
  const port = await freePort();
  const run = bare.begin(line, { ...options, env: { PORT: String(port), ...options?.env } });
  const seconds = await bare.heard(run, /Lodestone is ready/);
  if (!/Lodestone is ready/.test(run.said)) return tell(what, false, `${run.code}: ${run.said.slice(-600)}`);
  const statuses = await answers(`http://127.0.0.1:${port}`);
  run.kill('SIGTERM');
  const code = await run.ended;
  await new Promise((over) => setTimeout(over, 500));
  const left = processesIn(bare.root).map(commandOf);
  const isRight = /^200 200 200 20[01]$/.test(statuses) && code === 0 && left.length === 0;
  tell(
    what,
    isRight,
    `ready in ${seconds} s; page, print, camera, frame ${statuses}; ended with ${code}, ${left.length} left ${left.join(' | ')}`
  );
}

async function stopped(bare, what, line, words, { waitMs = 0, ...options } = {}) {
  const run = bare.begin(line, options);
  await bare.heard(run, words);
  await new Promise((over) => setTimeout(over, waitMs));
  const began = Date.now();
  run.kill('SIGTERM');
  const code = await run.ended;
  const took = ((Date.now() - began) / 1000).toFixed(1);
  // Debian's packages are left to be configured to their end.
  for (let wait = 0; wait < 600 && processesIn(bare.root).some((pid) => /apt|dpkg/.test(commandOf(pid))); wait++) {
    await new Promise((over) => setTimeout(over, 100));
  }
  const left = processesIn(bare.root).map(commandOf);
  tell(
    what,
    code === 0 && left.length === 0,
    `ended with ${code} after ${took} s, ${left.length} left ${left.join(' | ')}`
  );
}

async function refused(bare, what, line, words, options) {
  const run = bare.begin(line, options);
  await run.ended;
  const isPlain = !/\n\s+at /.test(run.said);
  tell(what, run.code !== 0 && words.test(run.said) && isPlain, `${run.code}: ${lastLine(run)}`);
}

makeBase();
const bare = new Bare('root');
const START = 'node scripts/start.mjs';
try {
  await refused(bare, 'the command before npm ci', 'npm run -s lodestone -- check demo/heron.json', /run “npm ci”/);
  await refused(
    bare,
    'an ordinary user without Debian’s packages',
    START,
    /apt-get install -y --no-install-recommends postgresql/,
    {
      user: 'owner'
    }
  );
  await stopped(bare, 'told to stop while npm and Debian’s packages are installed', START, /Installing npm/, {
    waitMs: 4000
  });
  await started(bare, 'root', 'npm start');
  await started(bare, 'root, warm', 'npm start');
  await started(bare, 'root, umask 077, a folder of its own', `sh -c 'umask 077; exec ${START}'`, {
    env: { LODESTONE_DATA: '/var/lib/lodestone-077' }
  });
  await stopped(bare, 'told to stop while the cluster is made', START, /Making a database/, {
    waitMs: 700,
    env: { LODESTONE_DATA: '/var/lib/lodestone-stopped' }
  });
  rmSync(join(bare.root, CLONE, 'build'), { recursive: true, force: true });
  await stopped(bare, 'told to stop while it builds', START, /Building/, { waitMs: 5000 });
  must(
    'chown',
    ['-R', 'owner:owner', join(bare.root, CLONE)].map((word) => (word === 'owner:owner' ? '1000:1000' : word))
  );
  await started(bare, 'an ordinary user, Debian’s packages there', START, { user: 'owner' });
  must('chown', ['-R', '0:0', join(bare.root, CLONE)]);
  for (const folder of ['node_modules', 'src/lib/api/generated', 'core/src/train/generated']) {
    rmSync(join(bare.root, CLONE, folder), { recursive: true, force: true });
  }
  await started(bare, 'npm that runs no scripts', START, { env: { npm_config_ignore_scripts: 'true' } });
  must('sh', [
    '-c',
    `mkdir -p ${bare.root}/root/own && mv ${bare.root}/usr/bin/node ${bare.root}/root/own/ && chmod 700 ${bare.root}/root`
  ]);
  // It stays root then, and says why; prints and frames work all the same.
  await started(bare, 'root with Node.js where “nobody” may not go', START, {
    env: { PATH: '/root/own:/usr/sbin:/usr/bin:/sbin:/bin' }
  });
} finally {
  bare.dispose();
}
console.log(`\n${table.filter(({ isRight }) => isRight).length} of ${table.length} right`);
process.exitCode = table.every(({ isRight }) => isRight) ? 0 : 1;
