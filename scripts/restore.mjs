// npm run restore -- FILE: reads a backup into the empty database of DATA_DIR. Stop the application first.
import { join, resolve } from 'node:path';
import { passphraseOf, restore } from './lib/backup.mjs';
import { withDatabase } from './lib/database.mjs';
import { ROOT, Stop } from './lib/system.mjs';

const [file] = process.argv.slice(2);
try {
  if (!file) throw new Stop('Say from where: npm run restore -- FILE');
  const passphrase = passphraseOf(process.env);
  const port = Number(process.env.DB_PORT ?? Number(process.env.PORT ?? 4310) + 1);
  await withDatabase({ dir: resolve(process.env.DATA_DIR ?? join(ROOT, '.data')), port }, async (settings) => {
    await restore({ db: settings, file: resolve(file), passphrase });
  });
  console.log('Everything is back. Start the application with npm start.');
} catch (error) {
  console.error(error instanceof Stop ? error.message : error);
  process.exit(1);
}
