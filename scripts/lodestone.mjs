// Runs the command-line tool from its TypeScript sources: works after `npm ci`, without a build.
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
if (!existsSync(join(root, 'core/src/train/generated/validate.js'))) await import('./generate.mjs');
const { register } = await import('tsx/esm/api');
register();
const { main } = await import('../cli/src/main.ts');
process.exitCode = await main(process.argv.slice(2));
