// Builds the application when its sources are newer than the last build.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, SetupError } from './paths.mjs';

const SOURCES = [
  'src',
  'core/src',
  'core/package.json',
  'database',
  'demo',
  'static',
  'package-lock.json',
  'svelte.config.js',
  'vite.config.ts'
];

/** Newest modification under a path, ms; folders count too, so that a removed file is noticed. */
function newest(path) {
  if (!existsSync(path)) return 0;
  const { mtimeMs } = statSync(path);
  if (!statSync(path).isDirectory()) return mtimeMs;
  return Math.max(mtimeMs, ...readdirSync(path).map((name) => newest(join(path, name))));
}

/** What errands run in is no part of what the framework builds; packages with files of their own stay where they are. */
async function buildErrands(target) {
  const { build } = await import('esbuild');
  await build({
    entryPoints: [join(ROOT, 'src/lib/server/errands/runner.ts')],
    bundle: true,
    splitting: true,
    platform: 'node',
    format: 'esm',
    external: ['sharp', 'pdfkit', 'qrcode'],
    outdir: join(target, 'errands'),
    logLevel: 'silent',
    tsconfigRaw: '{}'
  });
}

/** Runs Vite's build; whoever started it hears signals meanwhile, and takes it along when it ends. @returns what it said, where it failed */
async function buildPages(folder) {
  const building = spawn(process.execPath, [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build'], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, LODESTONE_BUILD: folder, NODE_ENV: 'production' }
  });
  let said = '';
  for (const stream of [building.stdout, building.stderr]) stream.on('data', (chunk) => (said += chunk));
  const takeAlong = () => building.kill();
  process.once('exit', takeAlong);
  const [status] = await once(building, 'close');
  process.off('exit', takeAlong);
  return status === 0 ? undefined : said;
}

/** @param folder build folder below the root: `build`, or another for the tests */
export async function ensureBuild(folder, say) {
  const target = join(ROOT, folder);
  const stamp = join(target, '.built');
  const sources = Math.max(...SOURCES.map((source) => newest(join(ROOT, source))));
  if (existsSync(stamp) && statSync(stamp).mtimeMs > sources) return target;
  say('Building the application …');
  const began = new Date();
  const failure = await buildPages(folder);
  if (failure !== undefined) throw new SetupError(`The build failed:\n${failure}`);
  await buildErrands(target);
  writeFileSync(stamp, began.toISOString());
  return target;
}
