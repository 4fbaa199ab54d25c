// fonts-noto-core as one ZIP through HTTP until all rows are there; then lines of live type for a hundred faces.
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { zip } from '../demo/bundles.mjs';
import { startDatabase } from '../scripts/lib/database.mjs';
import { ROOT, startNode, stopProcess } from '../scripts/lib/system.mjs';
import { inspectFont } from '../packages/core/dist/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';

const dir = mkdtempSync(join(tmpdir(), 'bench-'));
const port = 4610;
const address = `http://127.0.0.1:${port}`;
const noto = '/usr/share/fonts/truetype/noto';
const files = readdirSync(noto)
  .filter((f) => f.endsWith('.ttf'))
  .map((f) => [f, readFileSync(join(noto, f))]);
const database = await startDatabase({ dir, port: port + 1 });
const server = await startNode(join(ROOT, 'apps/server/dist/main.js'), {
  ...database.settings,
  PORT: String(port),
  DATA_DIR: dir,
  WEB_DIR: join(ROOT, 'apps/web/dist'),
  DEMO: '1',
  MIN_FREE_MIB: '64',
  LIMIT_SIGN_UPS: '0',
  PRIVATE_PLACES: '*',
});
let cookie = '';
const call = async (method, path, body, type = 'application/json') => {
  const response = await fetch(address + path, {
    method,
    headers: { origin: address, cookie, 'content-type': type },
    body: body === undefined ? undefined : type === 'application/json' ? JSON.stringify(body) : body,
  });
  cookie = response.headers.get('set-cookie')?.split(';')[0] ?? cookie;
  return response.json();
};
try {
  const bundle = await zip(files);
  await call('POST', '/api/accounts', { name: 'Bench', email: 'bench@test.example', password: 'a long password', workspace: 'Bench' });
  const intake = await call('POST', '/api/intakes', { label: 'noto' });
  const start = performance.now();
  await call('POST', `/api/intakes/${intake.id}/uploads?name=noto.zip`, bundle, 'application/octet-stream');
  const sent = performance.now();
  const job = await call('POST', `/api/intakes/${intake.id}/start`, {});
  for (;;) {
    const { state } = await call('GET', `/api/jobs/${job.id}`);
    if (state === 'done') break;
    if (state !== 'queued' && state !== 'running') throw new Error(state);
    await new Promise((r) => setTimeout(r, 20));
  }
  const done = performance.now();
  const bytes = files.reduce((sum, [, b]) => sum + b.length, 0);
  console.log(
    `intake: ${files.length} files, ${(bytes / 2 ** 20).toFixed(0)} MiB (${(bundle.length / 2 ** 20).toFixed(0)} MiB packed): upload ${(sent - start).toFixed(0)} ms, sorting ${(done - sent).toFixed(0)} ms, ${((1000 * files.length) / (done - start)).toFixed(0)} files a second`,
  );
  const reading = performance.now();
  for (const [, b] of files) inspectFont(b, nodeCodec);
  console.log(
    `  of it reading and checking all fonts, on one thread: ${(performance.now() - reading).toFixed(0)} ms; the rest is unpacking, hashing and the database`,
  );
  const listing = performance.now();
  const { families } = await call('GET', '/api/families');
  console.log(`library list of ${families.length} families: ${(performance.now() - listing).toFixed(0)} ms`);
  const faces = families.flatMap((f) => f.faces).slice(0, 100);
  const lines = async (text) => {
    const begin = performance.now();
    let next = 0;
    await Promise.all(
      Array.from({ length: 6 }, async () => {
        for (let face = faces[next++]; face; face = faces[next++])
          await (
            await fetch(`${address}/api/faces/${face.id}/line?text=${encodeURIComponent(text)}`, { headers: { cookie } })
          ).arrayBuffer();
      }),
    );
    return performance.now() - begin;
  };
  console.log(
    `lines of 100 faces over six connections: first ${(await lines('Crimson-flowered broad bean')).toFixed(0)} ms, a changed phrase ${(await lines('Łubin żółty i groszek')).toFixed(0)} ms, the same again ${(await lines('Łubin żółty i groszek')).toFixed(0)} ms`,
  );
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run'],
  });
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const [name, value] = cookie.split('=');
  await context.addCookies([{ name, value, url: address }]);
  const page = await context.newPage();
  const opening = performance.now();
  await page.goto(`${address}/library`);
  await page.waitForFunction(
    () => document.querySelectorAll('[data-live]').length > 5 && document.querySelectorAll('[data-live=loading]').length === 0,
  );
  console.log(`browser: the library opens with all visible lines set in ${(performance.now() - opening).toFixed(0)} ms`);
  for (const phrase of ['Hollin Bank', 'Łubin żółty']) {
    const took = await page.evaluate(async (text) => {
      const input = document.querySelector('input[aria-label="Proof line"]');
      const begin = performance.now();
      input.value = text;
      input.dispatchEvent(new Event('input'));
      const settled = () =>
        [...document.querySelectorAll('[data-live]')].every((e) => e.dataset.live !== 'loading' && e.textContent.includes(text.slice(-4)));
      while (!settled()) await new Promise(requestAnimationFrame);
      await document.fonts.ready;
      await new Promise(requestAnimationFrame);
      return performance.now() - begin;
    }, phrase);
    console.log(`browser: “${phrase}” shows on all visible lines in ${took.toFixed(0)} ms`);
  }
  await browser.close();
} finally {
  await stopProcess(server);
  await database.stop();
  rmSync(dir, { recursive: true, force: true });
}
