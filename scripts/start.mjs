// `npm start`: sets up what is missing, then serves the application with its own database, and keeps both running.
// The web server is a process of its own that never knows the passwords of the database's owner and administrator.
import { fork, spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { ensureBuild } from './setup/build.mjs';
import { APP, OWNER, startCluster } from './setup/cluster.mjs';
import { invite } from './setup/inviting.mjs';
import { migrate } from './setup/migrate.mjs';
import { checkDebian, checkNode, ensureDebian, ensureNpmPackages, ensurePostgres } from './setup/packages.mjs';
import { ROOT, SetupError, dataFolder, inWords, makeFolder, portFrom } from './setup/paths.mjs';
import { checkAccess } from './access.mjs';
import { onEnd, serveOptions } from './serve.mjs';

/** How often it is looked whether the database server still runs, ms. */
const WATCH_MS = 1000;

/** Waits before the web server is started again, ms; one that ran for longer than the last begins anew. */
const RESTART_MS = [200, 1000, 3000, 10_000];
const STEADY_MS = 30_000;

const ANSWER_MS = 3000;

const say = (line) => console.log(line);

/** Whether a process is still there and is a start of ours (numbers are used again). */
function runs(pid) {
  try {
    process.kill(pid, 0);
  } catch (error) {
    return error.code === 'EPERM';
  }
  const words = `/proc/${pid}/cmdline`;
  // Empty for a process that has died and was not collected.
  return !existsSync(words) || readFileSync(words, 'utf8').includes('start.mjs');
}

/** What the claim of another start says; nothing where it was cut off, or is no claim at all. */
function holderIn(claimFile) {
  try {
    const { pid, url } = JSON.parse(readFileSync(claimFile, 'utf8')) ?? {};
    return Number.isInteger(pid) && pid > 0 && runs(pid) ? { pid, url } : undefined;
  } catch {
    return undefined;
  }
}

/** Says who has the data folder, and ends. */
async function yieldTo({ pid, url }) {
  if (!url) {
    say(`Lodestone is already being started by process ${pid}.`);
    process.exit(0);
  }
  const { LODESTONE_TOKEN: token } = process.env;
  const headers = token ? { authorization: `Bearer ${token}` } : {};
  // Without the token, or with another one, it says so: that it does.
  const healthy = await fetch(`${url}/healthz`, { headers, signal: AbortSignal.timeout(ANSWER_MS) }).then(
    ({ ok, status }) => ok || status === 401,
    () => false
  );
  if (healthy) {
    say(`Lodestone is already running at ${url} (process ${pid}).`);
    process.exit(0);
  }
  say(`Lodestone runs as process ${pid}, but ${url} does not answer as it should. If that stays so: kill ${pid}.`);
  process.exit(1);
}

/** Takes the data folder for this process, or says who has it. */
async function claim(folder) {
  makeFolder(folder);
  const claimFile = join(folder, 'running.json');
  const take = () => {
    try {
      writeFileSync(claimFile, JSON.stringify({ pid: process.pid }), { flag: 'wx' });
    } catch (error) {
      // On a full disk half a file may be left.
      if (error.code !== 'EEXIST') rmSync(claimFile, { force: true });
      throw error;
    }
  };
  try {
    take();
  } catch (error) {
    if (error.code !== 'EEXIST') throw error;
    const holder = holderIn(claimFile);
    if (holder) await yieldTo(holder);
    rmSync(claimFile, { force: true });
    take();
  }
  return {
    tell: (url) => writeFileSync(claimFile, JSON.stringify({ pid: process.pid, url })),
    release: () => rmSync(claimFile, { force: true })
  };
}

/** Starts the web server and starts it again when it ends by itself. @returns its address, and what stops it */
function keepServing(build, databaseUrl, ontold) {
  const { LODESTONE_MIGRATE_URL: _owner, ...given } = process.env;
  // “off” keeps none.
  const { LODESTONE_BACKUPS: backups = join(folder, 'backups') } = given;
  const env = { ...given, LODESTONE_BACKUPS: backups === 'off' ? '' : resolve(backups) };
  let serving;
  let stopping = false;
  let everReady = false;
  let failures = 0;
  const start = () =>
    new Promise((ready, failed) => {
      const began = Date.now();
      const child = fork(join(ROOT, 'scripts/serve.mjs'), {
        env: { ...env, DATABASE_URL: databaseUrl, LODESTONE_BUILD: build }
      });
      serving = child;
      child.once('message', ({ url, failure }) => {
        if (url) {
          everReady = true;
          // Started again, it is found where it was.
          env.PORT = new URL(url).port;
          ontold(url);
          ready(url);
        } else failed(new SetupError(failure));
      });
      child.once('exit', (code, signal) => {
        if (stopping) return;
        failed(new SetupError(`The web server ended before it was ready (${signal ?? code}).`));
        if (!everReady) return;
        if (Date.now() - began > STEADY_MS) failures = 0;
        const wait = RESTART_MS[Math.min(failures++, RESTART_MS.length - 1)];
        say(`The web server ended (${signal ?? code}); it is started again.`);
        setTimeout(() => {
          if (!stopping) start().catch((error) => say(error.message));
        }, wait);
      });
    });
  const stop = async () => {
    stopping = true;
    if (!serving || serving.exitCode !== null || serving.signalCode !== null) return;
    const ended = new Promise((done) => serving.once('exit', done));
    serving.kill('SIGTERM');
    await ended;
  };
  return { start, stop };
}

function develop(databaseUrl) {
  const vite = spawn(process.execPath, [join(ROOT, 'node_modules/vite/bin/vite.js'), 'dev'], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, DATABASE_URL: databaseUrl }
  });
  return () => new Promise((done) => (vite.once('exit', done), vite.kill()));
}

const folder = dataFolder();
let claimed;
let cluster;
let startingCluster;
let stopServing;
let watching;
let ending = false;

/** Stops whatever has been started so far, in the order that loses nothing. */
async function stopAll() {
  ending = true;
  clearInterval(watching);
  try {
    await stopServing?.();
    // One that is just being started is stopped as well, once it is there.
    (await startingCluster?.catch(() => undefined))?.stop();
  } finally {
    claimed?.release();
  }
}

onEnd(async () => {
  say('Stopping …');
  await stopAll();
  say('Stopped.');
});

try {
  checkNode();
  portFrom(process.env.PORT);
  checkAccess(serveOptions());
  claimed = await claim(folder);
  const { DATABASE_URL: given } = process.env;
  const parts = given ? ['fonts'] : ['postgres', 'fonts'];
  checkDebian(parts, say);
  // What is missing of Debian's packages comes while npm works.
  await Promise.all([ensureDebian(parts, say), ensureNpmPackages(say)]);
  let databaseUrl = given;
  let ownerUrl = process.env.LODESTONE_MIGRATE_URL ?? databaseUrl;
  if (!databaseUrl) {
    const programs = await ensurePostgres(say);
    startingCluster = startCluster({ folder, programs, say });
    cluster = await startingCluster;
    [databaseUrl, ownerUrl] = [cluster.url(APP), cluster.url(OWNER)];
  }
  const carriedOut = await migrate(ownerUrl);
  if (carriedOut.length > 0) say(`Database brought up to date: ${carriedOut.join(', ')}`);

  if (process.argv.includes('--dev')) stopServing = develop(databaseUrl);
  else {
    const build = await ensureBuild(process.env.LODESTONE_BUILD ?? 'build', say);
    const server = keepServing(build, databaseUrl, (url) => claimed.tell(url));
    stopServing = server.stop;
    const url = await server.start();
    say(`Lodestone is ready at ${url} — Ctrl-C stops it.`);
    const first = serveOptions().several ? await invite(ownerUrl, { onlyFirst: true }) : undefined;
    if (first) say(`Nobody has an account yet. Be the first, within a day: ${url}${first}`);
  }
  if (cluster) watching = setInterval(() => cluster.keepRunning(), WATCH_MS);
} catch (error) {
  // Told to stop while it was starting: that is no failure, and is being dealt with.
  if (!ending) {
    try {
      await stopAll();
    } finally {
      const words = inWords(error);
      console.error(words === undefined ? error : `\n${words}`);
      process.exit(1);
    }
  }
}
