import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import {
  ensureBuild,
  ensureDir,
  ensureModules,
  ensurePackages,
  portTaken,
  ROOT,
  RUN_PACKAGES,
  startNode,
  Stop,
  stopProcess,
} from './lib/system.mjs';

const port = Number(process.env.PORT ?? 4310);
const dbPort = Number(process.env.DB_PORT ?? port + 1);
const websitePort = Number(process.env.PRACTICE_WEBSITE_PORT ?? port + 10);
const dataDir = resolve(process.env.DATA_DIR ?? join(ROOT, '.data'));

/** The sample business is open unless it is not wanted, and never under a public address. */
const demoOn = process.env.DEMO !== '0' && !process.env.PUBLIC_ADDRESS;

const started = [];
let stopping = false;
async function stopAll(code) {
  if (stopping) return;
  stopping = true;
  for (const stop of started.reverse()) await stop().catch(() => undefined);
  process.exit(code);
}
process.on('SIGINT', () => void stopAll(0));
process.on('SIGTERM', () => void stopAll(0));

try {
  for (const [number, setting] of [
    [port, 'PORT'],
    [websitePort, 'PRACTICE_WEBSITE_PORT'],
  ])
    if (await portTaken(number))
      throw new Stop(`Port ${number} is taken by another program. Set ${setting} to a free one and start again.`);
  ensurePackages(RUN_PACKAGES);
  ensureModules();
  ensureBuild();
  ensureDir(dataDir);
  const { startDatabase } = await import('./lib/database.mjs');
  const database = await startDatabase({ dir: dataDir, port: dbPort, keepUp: true });
  started.push(database.stop);
  const website = await startNode(join(ROOT, 'apps/practice/dist/main.js'), {
    PRACTICE_WEBSITE_PORT: String(websitePort),
    PRACTICE_DATA_DIR: join(dataDir, 'practice'),
    PRACTICE_WEBSITE_KEY: database.secrets.site,
  });
  started.push(() => stopProcess(website));
  const server = await startNode(join(ROOT, 'apps/server/dist/main.js'), {
    ...database.settings,
    PORT: String(port),
    DATA_DIR: dataDir,
    WEB_DIR: join(ROOT, 'apps/web/dist'),
    DEMO: demoOn ? '1' : '0',
    // The practice places run here; other places in private networks are added by the operator.
    PRIVATE_PLACES: [`127.0.0.1:${websitePort}`, process.env.PRIVATE_PLACES].filter(Boolean).join(','),
  });
  started.push(() => stopProcess(server));
  for (const [child, what] of [
    [website, 'The practice website'],
    [server, 'The server'],
  ])
    child.once('exit', () => {
      if (stopping) return;
      console.error(`${what} ended unexpectedly; stopping the rest.`);
      void stopAll(1);
    });
  const demo = join(ROOT, 'demo/load.mjs');
  if (demoOn && existsSync(demo)) {
    const { loadDemo } = await import(pathToFileURL(demo).href);
    await loadDemo({
      address: `http://127.0.0.1:${port}`,
      website: `http://127.0.0.1:${websitePort}`,
      websiteKey: database.secrets.site,
      db: database.settings,
      dataDir,
    });
  }
  console.log(
    `\nOrderly Glyph is open at      http://127.0.0.1:${port}\nThe shop's practice website   http://127.0.0.1:${websitePort}\nCtrl-C stops both.`,
  );
} catch (error) {
  console.error(error instanceof Stop ? error.message : error);
  await stopAll(1);
}
