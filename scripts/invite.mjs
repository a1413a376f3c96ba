// `npm run invite`: a link for one more who looks after a server of several owners. `npm run invite -- NAME`: a link by
// which an owner who forgot the passphrase, or was shut out, gets in again.
import { runningUrl } from './setup/cluster.mjs';
import { invite } from './setup/inviting.mjs';
import { SetupError, dataFolder, inWords } from './setup/paths.mjs';

try {
  const ownerUrl = process.env.LODESTONE_MIGRATE_URL ?? process.env.DATABASE_URL ?? runningUrl(dataFolder());
  if (!ownerUrl) throw new SetupError('No database runs on this data folder. Start Lodestone first.');
  const [name] = process.argv.slice(2);
  console.log(`Open this address of your server within a day: ${await invite(ownerUrl, { name })}`);
} catch (error) {
  console.error(inWords(error) ?? error);
  process.exitCode = 1;
}
