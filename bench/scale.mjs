// A library of 2,000 families (6,000 faces): opening, scrolling, filtering, a changed phrase. Rows are copies of the
// sample business's faces under other names, since what is measured is the library, not the intake.
import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import mysql from 'mysql2/promise';
import { loadDemo } from '../demo/load.mjs';
import { startDatabase } from '../scripts/lib/database.mjs';
import { ROOT, startNode, stopProcess } from '../scripts/lib/system.mjs';

const FAMILIES = 2000;
/** A line that covers ideographs with gaps, as a CJK face's does. */
function ideographs(line, k) {
  const parsed = JSON.parse(line);
  const runs = [];
  for (let c = 0x4e00; c < 0x9ffc; c += 24 + (k % 7)) runs.push(`${c.toString(36)}-${(c + 20).toString(36)}`);
  return JSON.stringify({ ...parsed, runs: `${parsed.runs},${runs.join()}` });
}
const dir = mkdtempSync(join(tmpdir(), 'bench-'));
const port = 4640;
const address = `http://127.0.0.1:${port}`;
const database = await startDatabase({ dir, port: port + 1 });
const site = await startNode(join(ROOT, 'apps/practice/dist/main.js'), {
  PRACTICE_PORT: String(port + 2),
  PRACTICE_WEBSITE_TYPES: 'woff2,woff',
  PRACTICE_DATA_DIR: join(dir, 'p'),
  PRACTICE_KEY: 'k',
});
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
try {
  await loadDemo({ address, website: `http://127.0.0.1:${port + 2}`, websiteKey: 'k', db: database.settings, dataDir: dir });
  const s = database.settings;
  const sql = await mysql.createConnection({
    host: s.DB_HOST,
    port: Number(s.DB_PORT),
    user: s.DB_USER,
    password: s.DB_PASSWORD,
    database: s.DB_NAME,
  });
  const [templates] = await sql.query(
    'SELECT face.workspace_id AS ws, face.style, face.weight_class AS w, f.sha256, f.bytes, f.format, ff.file_id AS fileId, ff.face_index AS faceIndex FROM face JOIN face_file ff ON ff.id = face.lead_id JOIN font_file f ON f.id = ff.file_id ORDER BY f.bytes LIMIT 12',
  );
  const ws = templates[0].ws;
  for (const t of templates) {
    const [facts] = await sql.query('SELECT id, version, value FROM derived WHERE file_id = ? AND face_index = ?', [t.fileId, t.faceIndex]);
    t.facts = facts;
  }
  await sql.query('SET unique_checks = 0, foreign_key_checks = 0');
  for (let k = 0; k < FAMILIES; k++) {
    const familyId = randomUUID();
    const rows = { blob: [], file: [], face: [], link: [], facts: [] };
    await sql.beginTransaction();
    await sql.query('INSERT INTO family (id, workspace_id, name, name_key, created_at) VALUES (?, ?, ?, ?, NOW())', [
      familyId,
      ws,
      `Bench family ${k}`,
      `benchfamily${k}`,
    ]);
    for (let i = 0; i < 3; i++) {
      const t = templates[(3 * k + i) % templates.length];
      const sha = createHash('sha256').update(`${k}/${i}`).digest('hex');
      const [fileId, faceId, linkId] = [randomUUID(), randomUUID(), randomUUID()];
      await sql.query('INSERT INTO blob_head (workspace_id, sha256, bytes) VALUES (?, ?, ?)', [ws, sha, t.bytes]);
      await sql.query(
        'INSERT INTO blob_chunk (workspace_id, sha256, seq, data) SELECT workspace_id, ?, seq, data FROM blob_chunk WHERE workspace_id = ? AND sha256 = ?',
        [sha, ws, t.sha256],
      );
      rows.file.push([fileId, sha, `b${k}-${i}.ttf`, t.format, t.bytes, new Date(), ws]);
      rows.face.push([
        faceId,
        familyId,
        `bench${k}|${i}`,
        ['Regular', 'Bold', 'Italic'][i],
        [400, 700, 400][i],
        5,
        i === 2,
        linkId,
        new Date(),
        ws,
      ]);
      rows.link.push([linkId, faceId, fileId, 0, ws]);
      const prints = JSON.stringify({ all: sha.slice(0, 16), basic: sha.slice(16, 32), traits: null });
      for (const { id, version, value } of t.facts)
        rows.facts.push([fileId, 0, id, version, id === 'prints' ? prints : id === 'line' && k < 100 ? ideographs(value, k) : value, ws]);
    }
    await sql.query('INSERT INTO font_file (id, sha256, name, format, bytes, created_at, workspace_id) VALUES ?', [rows.file]);
    await sql.query(
      'INSERT INTO face (id, family_id, face_key, style, weight_class, width_class, italic, lead_id, created_at, workspace_id) VALUES ?',
      [rows.face],
    );
    await sql.query('INSERT INTO face_file (id, face_id, file_id, face_index, workspace_id) VALUES ?', [rows.link]);
    await sql.query('INSERT INTO derived (file_id, face_index, id, version, value, workspace_id) VALUES ?', [rows.facts]);
    await sql.commit();
  }
  // Written behind the server's back, so the kept list has to be told.
  await sql.query('UPDATE workspace SET revision = revision + 1 WHERE id = ?', [ws]);
  await sql.end();
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(address);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.waitForURL('**/desk');
  for (const what of ['first', 'second', 'third']) {
    const start = performance.now();
    const bytes = (await (await page.request.get(`${address}/api/families`)).body()).length;
    console.log(
      `list of ${FAMILIES} families over HTTP, ${what} time: ${(performance.now() - start).toFixed(0)} ms, ${(bytes / 2 ** 20).toFixed(1)} MiB`,
    );
  }
  const library = await (await page.request.get(`${address}/api/families`)).json();
  const lead = library.families.find((f) => f.name === 'Bench family 7').leadFaceId;
  for (const [name, path] of [
    ['the sentence filter', '/api/library/find?writes=pl&kind=serif&use=website&features=tnum'],
    ['look-alikes among all faces', `/api/faces/${lead}/alike`],
    ['the language table', '/api/library/languages'],
    ['doubles', '/api/library/doubles'],
  ]) {
    const times = [];
    for (let i = 0; i < 9; i++) {
      const start = performance.now();
      await (await page.request.get(address + path)).body();
      times.push(performance.now() - start);
    }
    const first = times[0];
    times.sort((a, b) => a - b);
    console.log(`${name} over HTTP: first ${first.toFixed(0)} ms, then median ${times[4].toFixed(0)} ms`);
  }
  const opening = performance.now();
  await page.goto(`${address}/library`);
  await page.waitForFunction(
    () => document.querySelectorAll('[data-live=ready]').length > 5 && document.querySelectorAll('[data-live=loading]').length === 0,
  );
  console.log(`browser: the library opens with all visible lines set in ${(performance.now() - opening).toFixed(0)} ms`);
  const frames = await page.evaluate(async () => {
    const list = [...document.querySelectorAll('div')].find((d) => d.scrollHeight > 50_000 && getComputedStyle(d).overflowY === 'auto');
    const gaps = [];
    let last = performance.now();
    for (let i = 0; i < 240; i++) {
      list.scrollTop += 40;
      await new Promise(requestAnimationFrame);
      const now = performance.now();
      gaps.push(now - last);
      last = now;
    }
    gaps.sort((a, b) => a - b);
    return { median: gaps[120], p95: gaps[228], worst: gaps[239] };
  });
  console.log(
    `browser: scrolling 40 px a frame: median ${frames.median.toFixed(1)} ms, 95% under ${frames.p95.toFixed(1)} ms, worst ${frames.worst.toFixed(1)} ms`,
  );
  // Lines that flew past were not set; those that stayed are, before anything is typed.
  await page.waitForFunction(() => document.querySelectorAll('[data-live=loading]').length === 0);
  const timed = (name, act, done) =>
    page
      .evaluate(
        async ([actText, doneText]) => {
          const start = performance.now();
          new Function(actText)();
          const check = new Function(`return ${doneText}`);
          while (!check()) await new Promise(requestAnimationFrame);
          return performance.now() - start;
        },
        [act, done],
      )
      .then((ms) => console.log(`browser: ${name}: ${ms.toFixed(0)} ms`));
  const type = (text) =>
    `const i = document.querySelector('input[aria-label="Proof line"]'); i.value = ${JSON.stringify(text)}; i.dispatchEvent(new Event('input'));`;
  const shows = (tail) =>
    `[...document.querySelectorAll('[data-live]')].every((e) => e.dataset.live !== 'loading' && e.textContent.includes(${JSON.stringify(tail)}))`;
  await timed('a phrase of letters already there', type('Hollin Bank'), shows('Bank'));
  await timed('a phrase with new letters', type('Łubin żółty'), shows('ty'));
  await timed(
    'searching for one family among all',
    `const i = document.getElementById('search'); i.value = 'family 1999'; i.dispatchEvent(new Event('input'));`,
    `document.querySelectorAll('[data-live]').length === 1`,
  );
  // A library act: asked, and answered with what changed.
  await timed(
    'back to the whole list',
    `const i = document.getElementById('search'); i.value = ''; i.dispatchEvent(new Event('input'));`,
    `document.querySelectorAll('[data-live]').length > 5`,
  );
  const ids = library.families.filter((f) => f.name.startsWith('Bench')).map((f) => f.id);
  const acts = [];
  for (let i = 0; i < 9; i++) {
    const start = performance.now();
    const answer = await page.request.post(`${address}/api/library/changes`, {
      data: { act: 'favorite', familyIds: [ids[i]], on: true },
      headers: { origin: address },
    });
    const bytes = (await answer.body()).length;
    acts.push([performance.now() - start, bytes]);
    if (answer.status() !== 200) throw new Error(await answer.text());
  }
  acts.sort((a, b) => a[0] - b[0]);
  console.log(
    `a library act over HTTP: median ${acts[4][0].toFixed(0)} ms, worst ${acts[8][0].toFixed(0)} ms, ${(acts[4][1] / 1024).toFixed(1)} KiB`,
  );
  await browser.close();
} finally {
  await stopProcess(server);
  await stopProcess(site);
  await database.stop();
  rmSync(dir, { recursive: true, force: true });
}
