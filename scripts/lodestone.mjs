// Runs the command-line tool from its TypeScript sources: works after `npm ci`, without a build. What the sources become
// is kept, since turning them anew takes longer than most answers; whatever is newer than that is turned again.
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
if (!existsSync(join(root, 'node_modules/esbuild'))) {
  console.error('npm packages are missing: run “npm ci” in the folder of Lodestone, then this again.');
  process.exit(2);
}
if (!existsSync(join(root, 'core/src/train/generated/validate.js'))) await import('./generate.mjs');

const kept = join(root, 'node_modules/.cache/lodestone-cli');
const entry = join(kept, 'main.js');

/** Time of the newest source, ms. */
function newestSource() {
  let newest = statSync(join(root, 'package-lock.json')).mtimeMs;
  for (const folder of ['core/src', 'cli/src']) {
    for (const each of readdirSync(join(root, folder), { recursive: true, withFileTypes: true })) {
      if (each.isFile()) newest = Math.max(newest, statSync(join(each.parentPath, each.name)).mtimeMs);
    }
  }
  return newest;
}

/** The command as plain JavaScript; undefined where it cannot be kept. */
async function keptCommand() {
  try {
    if (existsSync(entry) && statSync(entry).mtimeMs > newestSource()) return entry;
    const { build } = await import('esbuild');
    await build({
      entryPoints: [join(root, 'cli/src/main.ts')],
      bundle: true,
      splitting: true,
      platform: 'node',
      mainFields: ['module', 'main'],
      format: 'esm',
      outdir: kept,
      logLevel: 'silent',
      tsconfigRaw: '{}'
    });
    return entry;
  } catch {
    return undefined;
  }
}

const command = await keptCommand();
if (command === undefined) (await import('tsx/esm/api')).register();
const { main } = await import(command === undefined ? '../cli/src/main.ts' : pathToFileURL(command).href);
process.exitCode = await main(process.argv.slice(2));
