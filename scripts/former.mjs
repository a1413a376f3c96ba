// `npm run former`: keeps what this version asks of the database, for the test of the next one. Run before a release.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MIGRATIONS } from './setup/migrate.mjs';
import { ROOT } from './setup/paths.mjs';

const folder = mkdtempSync(join(tmpdir(), 'lodestone-former-'));
const heard = join(folder, 'heard.ndjson');
const { status } = spawnSync(process.execPath, ['scripts/test.mjs', 'server'], {
  cwd: ROOT,
  stdio: 'inherit',
  env: { ...process.env, LODESTONE_SQL_LOG: heard }
});
if (status !== 0) process.exit(1);

const asked = readFileSync(heard, 'utf8')
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line))
  // What has nothing to fill in is of a test, or sets up a transaction.
  .filter((text) => typeof text === 'string' && /^\s*(select|insert|update|delete|with)\b/i.test(text))
  .filter((text) => text.includes('$1') && !text.includes('pg_sleep'));
const queries = [...new Set(asked)].sort();
const migrations = MIGRATIONS.length;
writeFileSync(join(ROOT, 'database/former-queries.json'), `${JSON.stringify({ migrations, queries }, null, 2)}\n`);
rmSync(folder, { recursive: true, force: true });
console.log(`${queries.length} queries kept, of a database of ${migrations} migrations.`);
