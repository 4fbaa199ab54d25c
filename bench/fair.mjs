// Eight of the heaviest calls of one visitor fill both cores; what another workspace waits for meanwhile, against a quiet server.
// CJK=FILE names a font of ideographs (16 MB or so); without it the largest of the sample's faces is converted.
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { startDatabase } from '../scripts/lib/database.mjs';
import { ROOT, startNode, stopProcess } from '../scripts/lib/system.mjs';

const sharp = createRequire(join(ROOT, 'packages/node/package.json'))('sharp');
const font = (name) => readFileSync(join(ROOT, 'node_modules/@expo-google-fonts', name));
const ROWS = 6000;
const SECONDS = Number(process.env.SECONDS ?? 60);
const port = 4740;
const address = `http://127.0.0.1:${port}`;
const dir = mkdtempSync(join(tmpdir(), 'bench-fair-'));
const database = await startDatabase({ dir, port: port + 1 });
const server = await startNode(
  join(ROOT, 'apps/server/dist/main.js'),
  { ...database.settings, PORT: String(port), DATA_DIR: dir, MIN_FREE_MIB: '64', LIMIT_SIGN_UPS: '0' },
  { quiet: true },
);

class Person {
  cookie = '';
  async raw(method, path, body, headers = {}) {
    const response = await fetch(address + path, {
      method,
      headers: {
        origin: address,
        cookie: this.cookie,
        ...(typeof body === 'string' ? { 'content-type': 'application/json' } : {}),
        ...headers,
      },
      body,
    });
    const set = response.headers.getSetCookie().find((c) => c.startsWith('glyph_session='));
    if (set) this.cookie = set.split(';')[0];
    return response;
  }
  async call(method, path, body) {
    const response = await this.raw(method, path, body === undefined ? undefined : JSON.stringify(body));
    const answer = await response.json();
    if (!response.ok) throw new Error(`${method} ${path}: ${answer.error?.message ?? response.status}`);
    return answer;
  }
  async bringIn(name, bytes) {
    const intake = await this.call('POST', '/api/intakes', { label: 'x' });
    await this.raw('POST', `/api/intakes/${intake.id}/uploads?name=${encodeURIComponent(name)}`, bytes, {
      'content-type': 'application/octet-stream',
    });
    const job = await this.call('POST', `/api/intakes/${intake.id}/start`, {});
    for (;;) {
      const now = await this.call('GET', `/api/jobs/${job.id}`);
      if (['done', 'failed', 'cancelled'].includes(now.state)) return now.state;
      await new Promise((r) => setTimeout(r, 30));
    }
  }
}
const open = async (workspace) => {
  const person = new Person();
  await person.call('POST', '/api/accounts', {
    name: 'X',
    email: `${randomBytes(5).toString('hex')}@x.example`,
    password: 'a long password',
    workspace,
  });
  return person;
};
const at = (list, q) => [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))];
const ms = (v) => `${v.toFixed(0)} ms`;

try {
  const [heavy, other] = [await open('Heavy'), await open('Other')];
  await heavy.bringIn('a.ttf', font('literata/400Regular/Literata_400Regular.ttf'));
  const cjk = process.env.CJK && existsSync(process.env.CJK) ? readFileSync(process.env.CJK) : null;
  if (cjk) await heavy.bringIn('cjk.ttc', cjk);
  await other.bringIn('b.ttf', font('gochi-hand/400Regular/GochiHand_400Regular.ttf'));
  const families = async (p) => (await p.call('GET', '/api/families')).families;
  const own = await families(heavy);
  const face = own.find((f) => /Literata/.test(f.name)).leadFaceId;
  const large = (own.find((f) => /CJK/.test(f.name)) ?? own[0]).leadFaceId;
  const line = (await families(other))[0].leadFaceId;
  // A license that lets them be changed, and 6,000 rows for the audit.
  const s = database.settings;
  const sql = await mysql.createConnection({
    host: s.DB_HOST,
    port: Number(s.DB_PORT),
    user: s.DB_USER,
    password: s.DB_PASSWORD,
    database: s.DB_NAME,
  });
  const [[{ ws, familyId, fileId }]] = await sql.query(
    'SELECT face.workspace_id AS ws, face.family_id AS familyId, ff.file_id AS fileId FROM face JOIN face_file ff ON ff.id = face.lead_id WHERE face.id = ?',
    [face],
  );
  const license = randomUUID();
  await sql.query(
    "INSERT INTO license (id, workspace_id, name, kind, grantor, uses, note, confirmed, version, created_at) VALUES (?, ?, 'Open', 'open', '', ?, '', 1, 1, NOW())",
    [license, ws, JSON.stringify({ changing: 'yes', logo: 'yes', website: 'yes' })],
  );
  for (const id of new Set([face, large]))
    await sql.query('INSERT INTO license_face (license_id, face_id, workspace_id) VALUES (?, ?, ?)', [license, id, ws]);
  const [facts] = await sql.query('SELECT id, version, value FROM derived WHERE file_id = ? AND face_index = 0', [fileId]);
  await sql.query('SET unique_checks = 0, foreign_key_checks = 0');
  for (let k = 0; k < ROWS; k += 500) {
    const [faces, links, derived] = [[], [], []];
    for (let i = k; i < k + 500; i++) {
      const [faceId, linkId] = [randomUUID(), randomUUID()];
      faces.push([faceId, familyId, `b${i}`, `Style ${i}`, 400, 5, 0, linkId, new Date(), ws]);
      links.push([linkId, faceId, fileId, i + 1, ws]);
      for (const f of facts.filter((x) => ['line', 'about'].includes(x.id) || x.id === facts[0].id))
        derived.push([fileId, i + 1, f.id, f.version, f.value, ws]);
    }
    await sql.query(
      'INSERT INTO face (id, family_id, face_key, style, weight_class, width_class, italic, lead_id, created_at, workspace_id) VALUES ?',
      [faces],
    );
    await sql.query('INSERT INTO face_file (id, face_id, file_id, face_index, workspace_id) VALUES ?', [links]);
    await sql.query('INSERT INTO derived (file_id, face_index, id, version, value, workspace_id) VALUES ?', [derived]);
  }
  await sql.query('UPDATE workspace SET revision = revision + 1');
  await sql.end();

  // What strangers bring: the heaviest of each kind.
  const words = (text) =>
    JSON.stringify({ wish: { text, size: 40, color: '#000000', purpose: 'logo', letterSpacing: -500, pieces: 'one' } });
  const blur = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">${Array.from({ length: 400 }, (_, i) => `<filter id="f${i}"><feGaussianBlur stdDeviation="9"/></filter><rect width="20" height="20" filter="url(#f${i})"/>`).join('')}</svg>`;
  const icons = join(ROOT, 'node_modules/@tabler/icons/icons/outline');
  const names = readdirSync(icons)
    .filter((n) => n.endsWith('.svg'))
    .slice(0, 1500);
  const noise = sharp({
    create: { width: 700, height: 700, channels: 3, background: '#fff', noise: { type: 'gaussian', mean: 220, sigma: 8 } },
  });
  const picture = await sharp(await noise.png().toBuffer(), { limitInputPixels: false })
    .resize(7740, 7740, { kernel: 'nearest' })
    .jpeg()
    .toBuffer();
  const sets = [
    await heavy.call('POST', '/api/icon-sets', { family: 'Blurs', prefix: 'blurs-' }),
    await heavy.call('POST', '/api/icon-sets', { family: 'Many', prefix: 'many-' }),
  ];
  const set = await other.call('POST', '/api/icon-sets', { family: 'Mine', prefix: 'mine-' });
  const stop = new AbortController();
  const done = new Map();
  const again = async (name, ask) => {
    while (!stop.signal.aborted) {
      const answer = await ask().catch((e) => e);
      if (answer instanceof Response) await answer.arrayBuffer().catch(() => undefined);
      done.set(name, [
        ...(done.get(name) ?? []),
        answer instanceof Response ? answer.status : String(answer.message ?? answer).slice(0, 60),
      ]);
      await new Promise((r) => setTimeout(r, 50));
    }
  };
  const ask = (method, path, body, headers) => () =>
    fetch(address + path, {
      method,
      signal: stop.signal,
      headers: {
        origin: address,
        cookie: heavy.cookie,
        ...(typeof body === 'string' ? { 'content-type': 'application/json' } : {}),
        ...headers,
      },
      body,
    });
  let n = 0;
  const attack = () => [
    again('words', ask('POST', `/api/faces/${face}/words`, words('Seeds & bulbs 123 '.repeat(111)))),
    again(
      'blurs',
      ask(
        'POST',
        `/api/icon-sets/${sets[0].id}/drawings`,
        JSON.stringify({ files: Array.from({ length: 4 }, (_, i) => ({ path: `b${i}.svg`, text: blur })) }),
      ),
    ),
    again('conversion', () =>
      ask(
        'POST',
        `/api/faces/${large}/conversion`,
        JSON.stringify({ wish: { to: 'woff2', text: 'x'.repeat(1 + (n++ % 900)), languages: ['ja'] }, recipeId: null }),
      )(),
    ),
    again('outlines', () =>
      ask(
        'POST',
        `/api/faces/${large}/conversion`,
        JSON.stringify({ wish: { to: 'ttf', tolerance: 0.5 + (n++ % 40) / 100 }, recipeId: null }),
      )(),
    ),
    again(
      'icons',
      ask(
        'POST',
        `/api/icon-sets/${sets[1].id}/drawings`,
        JSON.stringify({ files: names.slice(0, 500).map((name) => ({ path: name, text: readFileSync(join(icons, name), 'utf8') })) }),
      ),
    ),
    again(
      'icons',
      ask(
        'POST',
        `/api/icon-sets/${sets[1].id}/drawings`,
        JSON.stringify({ files: names.slice(500, 1000).map((name) => ({ path: name, text: readFileSync(join(icons, name), 'utf8') })) }),
      ),
    ),
    again('picture', ask('POST', '/api/pictures/decoded', picture, { 'content-type': 'application/octet-stream' })),
    again('audit', ask('GET', '/api/rights/audit/file?as=pdf')),
  ];

  const measure = async (seconds) => {
    const times = { line: [], intake: [], icon: [] };
    const until = performance.now() + seconds * 1000;
    const every = async (name, pause, work) => {
      for (let i = 0; performance.now() < until; i++) {
        const began = performance.now();
        await work(i);
        times[name].push(performance.now() - began);
        await new Promise((r) => setTimeout(r, pause));
      }
    };
    await Promise.all([
      every('line', 100, async (i) => {
        const r = await other.raw('GET', `/api/faces/${line}/line?text=${encodeURIComponent(`Seeds ${i} ${randomUUID()}`)}`);
        await r.arrayBuffer();
      }),
      // Each a file that is not here yet: bytes behind the last table change its hash, not the face.
      every('intake', 500, (i) =>
        other.bringIn(
          `n${i}.ttf`,
          Buffer.concat([
            font('gfs-didot/400Regular/GFSDidot_400Regular.ttf'),
            createHash('md5').update(randomUUID()).digest().subarray(0, 4),
          ]),
        ),
      ),
      every('icon', 500, (i) =>
        other.call('POST', `/api/icon-sets/${set.id}/drawings`, {
          files: [{ path: `i${i}.svg`, text: readFileSync(join(icons, names[i % names.length]), 'utf8') }],
        }),
      ),
    ]);
    return times;
  };
  await measure(8);
  const quiet = await measure(20);
  const running = attack();
  await new Promise((r) => setTimeout(r, 3000));
  const loaded = await measure(SECONDS);
  stop.abort();
  await Promise.allSettled(running);
  const row = (what, q, l) =>
    console.log(
      `${what.padEnd(28)} quiet: median ${ms(at(q, 0.5))}, p95 ${ms(at(q, 0.95))}; loaded (${l.length}): median ${ms(at(l, 0.5))}, p95 ${ms(at(l, 0.95))}, worst ${ms(at(l, 1))}; ratio of medians ${(at(l, 0.5) / at(q, 0.5)).toFixed(2)}`,
    );
  row('a live line', quiet.line, loaded.line);
  row('an intake of one font', quiet.intake, loaded.intake);
  row('an icon added', quiet.icon, loaded.icon);
  for (const [name, answers] of done) console.log(`  ${name}: ${answers.length} ended meanwhile (${[...new Set(answers)].join(', ')})`);
} finally {
  await stopProcess(server);
  await database.stop();
  rmSync(dir, { recursive: true, force: true });
}
process.exit(0);
