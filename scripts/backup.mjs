// npm run backup -- FILE: everything the installation of DATA_DIR keeps, while it runs or not.
import { join, resolve } from 'node:path';
import { backup, passphraseOf } from './lib/backup.mjs';
import { withDatabase } from './lib/database.mjs';
import { ROOT, Stop } from './lib/system.mjs';

const [file] = process.argv.slice(2);
try {
  if (!file) throw new Stop('Say where to: npm run backup -- FILE');
  const passphrase = passphraseOf(process.env);
  const port = Number(process.env.DB_PORT ?? Number(process.env.PORT ?? 4310) + 1);
  await withDatabase({ dir: resolve(process.env.DATA_DIR ?? join(ROOT, '.data')), port }, async (settings) => {
    await backup({ db: settings, file: resolve(file), passphrase });
  });
  console.log(`Kept in ${file}. Keep the passphrase elsewhere: without it the backup cannot be read back.`);
} catch (error) {
  console.error(error instanceof Stop ? error.message : error);
  process.exit(1);
}
