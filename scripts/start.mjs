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
/** The practice places: website, store, design tool, print shop and computer at five ports in a row. */
const websitePort = Number(process.env.PRACTICE_PORT ?? port + 10);
const practicePorts = [0, 1, 2, 3, 4].map((i) => websitePort + i);
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
  for (const [number, setting] of [[port, 'PORT'], ...practicePorts.map((number) => [number, 'PRACTICE_PORT'])])
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
    PRACTICE_PORT: String(websitePort),
    // The sample business has allowed fonts on its website; a site of one's own starts without.
    PRACTICE_WEBSITE_TYPES: demoOn ? 'woff2,woff' : '',
    PRACTICE_DATA_DIR: join(dataDir, 'practice'),
    PRACTICE_KEY: database.secrets.site,
  });
  started.push(() => stopProcess(website));
  const server = await startNode(join(ROOT, 'apps/server/dist/main.js'), {
    ...database.settings,
    PORT: String(port),
    DATA_DIR: dataDir,
    WEB_DIR: join(ROOT, 'apps/web/dist'),
    DEMO: demoOn ? '1' : '0',
    SAMPLE_MARKER: join(dataDir, 'practice/start-over'),
    // The practice places run here; other places in private networks are added by the operator.
    PRIVATE_PLACES: [...practicePorts.map((p) => `127.0.0.1:${p}`), process.env.PRIVATE_PLACES].filter(Boolean).join(','),
  });
  started.push(() => stopProcess(server));
  for (const [child, what] of [
    [website, 'The server of the practice places'],
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
    `\nOrderly Glyph is open at      http://127.0.0.1:${port}\nThe practice places: website  http://127.0.0.1:${websitePort}\n                     store    http://127.0.0.1:${websitePort + 1}\n                     tool     http://127.0.0.1:${websitePort + 2}\n                     print    http://127.0.0.1:${websitePort + 3}\n                     computer http://127.0.0.1:${websitePort + 4}\nCtrl-C stops both.`,
  );
} catch (error) {
  console.error(error instanceof Stop ? error.message : error);
  await stopAll(1);
}
