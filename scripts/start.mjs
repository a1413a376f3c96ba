// `npm start`: sets up what is missing, then serves the application with its own database.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild } from './setup/build.mjs';
import { APP, OWNER, startCluster } from './setup/cluster.mjs';
import { checkNode, ensureNpmPackages, ensurePostgres } from './setup/packages.mjs';
import { ROOT, SetupError, dataFolder } from './setup/paths.mjs';
import { onEnd, serve, serveOptions } from './serve.mjs';

const DEFAULT_PORT = 4180;
/** Up to 4189: browsers refuse to speak to 4190, which belongs to another protocol. */
const PORTS_TRIED = 10;

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

/** Takes the data folder for this process, or says who has it. */
function claim(folder) {
  mkdirSync(folder, { recursive: true, mode: 0o711 });
  const claimFile = join(folder, 'running.json');
  const take = () => writeFileSync(claimFile, JSON.stringify({ pid: process.pid }), { flag: 'wx' });
  try {
    take();
  } catch (error) {
    if (error.code !== 'EEXIST') throw error;
    let holder = {};
    try {
      holder = JSON.parse(readFileSync(claimFile, 'utf8'));
    } catch {
      // Cut off while it was written: nobody holds it.
    }
    if (holder.pid && runs(holder.pid)) {
      say(
        holder.url
          ? `Lodestone is already running at ${holder.url} (process ${holder.pid}).`
          : `Lodestone is already being started by process ${holder.pid}.`
      );
      process.exit(0);
    }
    rmSync(claimFile);
    take();
  }
  return {
    tell: (url) => writeFileSync(claimFile, JSON.stringify({ pid: process.pid, url })),
    release: () => rmSync(claimFile, { force: true })
  };
}

async function serveOnFreePort(options) {
  const asked = process.env.PORT ? Number(process.env.PORT) : undefined;
  const last = asked ?? DEFAULT_PORT + PORTS_TRIED - 1;
  for (let port = asked ?? DEFAULT_PORT; ; port++) {
    try {
      return await serve({ ...options, port });
    } catch (error) {
      if (error.code !== 'EADDRINUSE') throw error;
      if (port >= last) throw new SetupError(`Port ${port} is taken. Set PORT to a free one.`);
    }
  }
}

async function develop() {
  const vite = spawn(process.execPath, [join(ROOT, 'node_modules/vite/bin/vite.js'), 'dev'], {
    cwd: ROOT,
    stdio: 'inherit'
  });
  return { url: undefined, stop: () => new Promise((done) => (vite.once('exit', done), vite.kill())) };
}

const folder = dataFolder();
let claimed;
let cluster;
try {
  checkNode();
  ensureNpmPackages(say);
  claimed = claim(folder);
  const developing = process.argv.includes('--dev');
  if (!process.env.DATABASE_URL) {
    const programs = ensurePostgres(say);
    cluster = await startCluster({ folder, programs, say });
    process.env.DATABASE_URL = cluster.url(APP);
    process.env.LODESTONE_MIGRATE_URL = cluster.url(OWNER);
  }
  const { url, stop } = developing
    ? await develop()
    : await serveOnFreePort({ ...serveOptions(), build: ensureBuild('build', say) });
  if (url) {
    claimed.tell(url);
    say(`Lodestone is ready at ${url} — Ctrl-C stops it.`);
  }
  onEnd(async () => {
    say('Stopping …');
    await stop();
    cluster?.stop();
    claimed.release();
    say('Stopped.');
  });
} catch (error) {
  try {
    cluster?.stop();
  } finally {
    claimed?.release();
    console.error(error instanceof SetupError ? `\n${error.message}` : error);
    process.exit(1);
  }
}
