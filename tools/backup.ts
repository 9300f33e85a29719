// `npm run backup -- FILE` and `npm run restore -- FILE [--replace]`: everything of the server in one file, and back.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { backup, BackupTrouble, restore } from '../server/src/jobs/backup';

const [what, ...given] = process.argv.slice(2);
const file = given.find((word) => !word.startsWith('--'));
const wrong = given.find((word) => word.startsWith('--') && !(what === 'restore' && word === '--replace'));
const settings = join(import.meta.dirname, '..', '.env');
if (existsSync(settings)) process.loadEnvFile(settings);
const url = process.env.DATABASE_URL;

try {
  if (wrong) throw new BackupTrouble(`"${wrong}" is not an option.`);
  if (!file) throw new BackupTrouble(`Which file? "npm run ${what} -- FILE".`);
  if (!url) throw new BackupTrouble('DATABASE_URL is missing: set it in .env or before the command.');
  if (what === 'backup') await backup(url, file);
  else await restore(url, file, { replace: given.includes('--replace') });
  console.log(what === 'backup' ? `${file} is written.` : `${file} is restored; start the server.`);
} catch (error) {
  if (!(error instanceof BackupTrouble)) throw error;
  console.error(error.message);
  process.exit(1);
}
