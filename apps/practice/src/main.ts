import { join, resolve } from 'node:path';
import { createSite } from './website/site.js';
import { SiteStore } from './website/store.js';

const host = process.env.PRACTICE_HOST ?? '127.0.0.1';
const port = Number(process.env.PRACTICE_WEBSITE_PORT ?? 4320);
const key = process.env.PRACTICE_WEBSITE_KEY ?? 'hollin-bank-practice';
const dataDir = resolve(process.env.PRACTICE_DATA_DIR ?? '.data/practice');

const site = createSite(await SiteStore.open(join(dataDir, 'website')), key);
const server = site.listen(port, host, () => console.log(`ready http://${host}:${port}`));
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken by another program. Set PRACTICE_WEBSITE_PORT to a free one and start again.`
      : error.message,
  );
  process.exit(1);
});
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    server.close();
    server.closeAllConnections();
    process.exit(0);
  });
