// Builds the application when its sources are newer than the last build.
import { spawnSync } from 'node:child_process';
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

/** @param folder build folder below the root: `build`, or another for the tests */
export function ensureBuild(folder, say) {
  const target = join(ROOT, folder);
  const stamp = join(target, '.built');
  const sources = Math.max(...SOURCES.map((source) => newest(join(ROOT, source))));
  if (existsSync(stamp) && statSync(stamp).mtimeMs > sources) return target;
  say('Building the application …');
  const began = new Date();
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build'],
    {
      cwd: ROOT,
      encoding: 'utf8',
      env: { ...process.env, LODESTONE_BUILD: folder, NODE_ENV: 'production' }
    }
  );
  if (status !== 0) throw new SetupError(`The build failed:\n${stdout}\n${stderr}`);
  writeFileSync(stamp, began.toISOString());
  return target;
}
