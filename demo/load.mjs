import { randomBytes } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import mysql from 'mysql2/promise';
import { bundleOf, paidBundle, waitingBundle } from './bundles.mjs';
import { loadIcons } from './icons.mjs';
import { loadInquiries } from './inquiries.mjs';
import { loadTypefaces } from './typefaces.mjs';
import { PAID, paidDefaults } from './rights.mjs';
import { BUNDLES, BUSINESS, PALETTE, PROOF_TEXTS, SHELF } from './sample.mjs';

const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));
const READY = 1;
const LOADING = 2;

/** A small client that calls the real API as a browser would. */
class Client {
  constructor(address) {
    this.address = address;
    this.cookie = '';
  }

  async call(method, path, body, type = 'application/json') {
    const response = await fetch(this.address + path, {
      method,
      headers: { origin: this.address, cookie: this.cookie, ...(body === undefined ? {} : { 'content-type': type }) },
      body: body === undefined ? undefined : type === 'application/json' ? JSON.stringify(body) : body,
    });
    const set = response.headers.get('set-cookie');
    if (set) this.cookie = set.split(';')[0];
    const answer = await response.json();
    if (!response.ok) throw new Error(`${method} ${path}: ${answer.error?.message ?? response.status}`);
    return answer;
  }

  async bytes(path) {
    const response = await fetch(this.address + path, { headers: { origin: this.address, cookie: this.cookie } });
    if (!response.ok) throw new Error(`GET ${path}: ${response.status}`);
    return Buffer.from(await response.arrayBuffer());
  }

  async finish(job) {
    for (;;) {
      const now = await this.call('GET', `/api/jobs/${job.id}`);
      if (now.state === 'done') return;
      if (now.state === 'failed' || now.state === 'cancelled')
        throw new Error(`A job of the sample business ended as ${now.state}: ${now.message}`);
      await new Promise((r) => setTimeout(r, 100));
    }
  }

  async upload(intakeId, name, bytes) {
    return this.call('POST', `/api/intakes/${intakeId}/uploads?name=${encodeURIComponent(name)}`, bytes, 'application/octet-stream');
  }
}

/** Loads the sample business through the real API, once; one that was cut off half way is thrown away first. */
export async function loadDemo({ address, website, websiteKey, db, dataDir }) {
  const sql = await mysql.createConnection({
    host: db.DB_HOST,
    port: Number(db.DB_PORT),
    user: db.DB_USER,
    password: db.DB_PASSWORD,
    database: db.DB_NAME,
  });
  try {
    const [[{ ready }]] = await sql.query('SELECT COUNT(*) AS ready FROM workspace WHERE demo = ?', [READY]);
    if (Number(ready) > 0) return;
    console.log('Loading the sample business ...');
    const [half] = await sql.query('SELECT id FROM workspace WHERE demo = ?', [LOADING]);
    for (const { id } of half) await removeWorkspace(sql, id);
    await sql.query('DELETE FROM account WHERE email = ?', [BUSINESS.email]);
    const client = new Client(address);
    const session = await client.call('POST', '/api/accounts', {
      name: BUSINESS.owner,
      email: BUSINESS.email,
      password: randomBytes(18).toString('base64url'),
      workspace: BUSINESS.name,
    });
    const workspaceId = session.workspace.id;
    await sql.query('UPDATE workspace SET demo = ? WHERE id = ?', [LOADING, workspaceId]);
    await client.call('PUT', '/api/proof-texts', PROOF_TEXTS);
    for (const bundle of BUNDLES) await bringIn(client, bundle);
    const place = await client.call('POST', '/api/places', {
      name: 'hollin-bank.example',
      profileId: 'website',
      address: website,
      key: websiteKey,
    });
    await deliver(client, place.id, 'Atkinson Hyperlegible Next', { role: 'headings' });
    for (const paid of PAID) await bringInPaid(client, place.id, paid);
    await putInOrder(client);
    await loadIcons(client);
    await loadTypefaces(client);
    await loadInquiries(client);
    await otherPlaces(client, website, websiteKey);
    const waiting = await waitingBundle(ROOT);
    const intake = await client.call('POST', '/api/intakes', { label: 'text-faces-bundle.zip' });
    await client.upload(intake.id, 'text-faces-bundle.zip', waiting);
    // A copy on disk, for whoever wants to drop a real file.
    mkdirSync(join(dataDir, 'demo'), { recursive: true });
    writeFileSync(join(dataDir, 'demo/.part'), waiting);
    renameSync(join(dataDir, 'demo/.part'), join(dataDir, 'demo/text-faces-bundle.zip'));
    // Only this account is who visitors come in as.
    await sql.query('UPDATE account SET demo = 1 WHERE id = ?', [session.account.id]);
    await sql.query('UPDATE workspace SET demo = ? WHERE id = ?', [READY, workspaceId]);
    await keepSample(sql, db.DB_NAME, workspaceId, dataDir);
  } finally {
    await sql.end();
  }
}

/** The practice places beside the website lie at the ports after its own. */
async function otherPlaces(client, website, key) {
  const at = (i, path = '') => {
    const address = new URL(website);
    address.port = String(Number(address.port) + i);
    return `${address.origin}${path}`;
  };
  const add = (name, profileId, address) => client.call('POST', '/api/places', { name, profileId, address, key });
  const store = await add('Seed store', 'store', at(1));
  const tool = await add('Drawing board', 'design-tool', at(2, '/sets/hollin-bank'));
  const printer = await add('Apron printers', 'print-shop', at(3));
  await add('Loft computer', 'computer', at(4));
  await deliver(client, store.id, 'Literata', { role: 'headings' });
  for (const family of ['Literata', 'Atkinson Hyperlegible Next']) await deliver(client, tool.id, family);
  for (const family of ['Literata', 'Be Vietnam Pro']) await deliver(client, printer.id, family, { role: 'offered' });
  const { families } = await client.call('GET', '/api/families');
  const face = (name) => families.find((f) => f.name === name).leadFaceId;
  const role = (name, size, ink, paper) => ({ faceId: face(name), size, ink, paper });
  await client.call('POST', '/api/house-styles', {
    name: 'Packets and shop',
    roles: {
      headline: role('Literata', 36, '#1b1916', '#fbfaf6'),
      text: role('Atkinson Hyperlegible Next', 11, '#1b1916', '#fbfaf6'),
      accent: role('Gochi Hand', 20, '#a8271b', '#fbfaf6'),
      figures: null,
    },
  });
}

/** Keeps the sample as it is now beside the rest, so that it can be started over in a moment: its rows, and the practice places. */
export async function keepSample(sql, name, workspaceId, dataDir) {
  const kept = `${name}_sample`;
  await sql.query(`DROP DATABASE IF EXISTS \`${kept}\``);
  await sql.query(`CREATE DATABASE \`${kept}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
  const [tables] = await sql.query(
    "SELECT TABLE_NAME AS name FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND COLUMN_NAME = 'workspace_id'",
  );
  for (const { name: table } of tables)
    await sql.query(`CREATE TABLE \`${kept}\`.\`${table}\` AS SELECT * FROM \`${table}\` WHERE workspace_id = ?`, [workspaceId]);
  const atFirst = join(dataDir, 'practice/at-first');
  rmSync(atFirst, { recursive: true, force: true });
  for (const place of existsSync(join(dataDir, 'practice')) ? readdirSync(join(dataDir, 'practice')) : [])
    if (existsSync(join(dataDir, 'practice', place, 'shelf.json')))
      cpSync(join(dataDir, 'practice', place), join(atFirst, place), { recursive: true });
  // Last: without it the copy counts as not there.
  await sql.query(`CREATE TABLE \`${kept}\`.workspace AS SELECT * FROM workspace WHERE id = ?`, [workspaceId]);
}

async function removeWorkspace(sql, id) {
  await sql.query('SET FOREIGN_KEY_CHECKS = 0');
  const [tables] = await sql.query(
    "SELECT TABLE_NAME AS name FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND COLUMN_NAME = 'workspace_id'",
  );
  for (const { name } of tables) await sql.query(`DELETE FROM \`${name}\` WHERE workspace_id = ?`, [id]);
  await sql.query('DELETE FROM workspace WHERE id = ?', [id]);
  await sql.query('SET FOREIGN_KEY_CHECKS = 1');
}

async function bringIn(client, bundle) {
  const intake = await client.call('POST', '/api/intakes', { label: bundle.name });
  await client.upload(intake.id, bundle.name, await bundleOf(ROOT, bundle));
  await client.finish(await client.call('POST', `/api/intakes/${intake.id}/start`, {}));
  if (!bundle.confirm) return;
  const { suggestions } = await client.call('GET', `/api/intakes/${intake.id}`);
  for (const { companionId, faceIds, families, suggestion } of suggestions) {
    if (faceIds.length === 0 || suggestion?.basis !== 'text') continue;
    await client.call('POST', '/api/licenses', {
      name: `${suggestion.name}, ${families.join(', ')}`,
      kind: 'open',
      spdxId: suggestion.spdxId,
      grantor: '',
      uses: Object.fromEntries(Object.entries(suggestion.answers).map(([use, a]) => [use, a.answer])),
      startsOn: null,
      endsOn: null,
      note: '',
      faceIds,
      companionIds: [companionId],
      confirmed: true,
    });
  }
}

async function bringInPaid(client, placeId, paid) {
  const intake = await client.call('POST', '/api/intakes', { label: paid.bundle });
  await client.upload(intake.id, paid.bundle, await paidBundle(paid));
  await client.finish(await client.call('POST', `/api/intakes/${intake.id}/start`, {}));
  if (!paid.license) return;
  const { items } = await client.call('GET', `/api/intakes/${intake.id}`);
  const fields = {
    ...paidDefaults,
    ...paid.license,
    faceIds: [...new Set(items.flatMap((i) => i.faceId ?? []))],
    companionIds: items.flatMap((i) => i.companionId ?? []),
  };
  const license = await client.call('POST', '/api/licenses', fields);
  if (paid.deliver) await deliver(client, placeId, paid.faces[0].family);
  if (paid.thenEnds)
    await client.call('PUT', `/api/licenses/${license.id}`, { ...fields, endsOn: paid.thenEnds, version: license.version });
}

async function putInOrder(client) {
  const { families } = await client.call('GET', '/api/families');
  const ids = (names) => names.map((name) => families.find((f) => f.name === name).id);
  const act = (body) => client.call('POST', '/api/library/changes', body);
  for (const c of SHELF.collections) await act({ act: 'collect', collectionId: null, name: c.name, familyIds: ids(c.families), on: true });
  for (const l of SHELF.labels) await act({ act: 'label', familyIds: ids(l.families), add: l.labels, remove: [] });
  await act({ act: 'favorite', familyIds: ids(SHELF.favorites), on: true });
  for (const n of SHELF.notes) await act({ act: 'note', familyIds: ids([n.family]), note: n.note });
  for (const s of SHELF.searches) await client.call('POST', '/api/library/searches', s);
  for (const t of SHELF.texts) await client.call('POST', '/api/library/texts', t);
  await client.call('PUT', '/api/library/palette', PALETTE);
}

async function deliver(client, placeId, familyName, { role = null } = {}) {
  const family = (await client.call('GET', '/api/families')).families.find((f) => f.name === familyName);
  const [check] = await client.call('POST', `/api/places/${placeId}/preflight`, { faceIds: [family.leadFaceId], remedies: ['way'] });
  const delivery = await client.call('POST', '/api/deliveries', {
    placeId,
    role,
    faces: [
      {
        faceId: check.faceId,
        remedies: ['way'],
        statement: check.statement,
        note: check.verdict.answer === 'ask' ? 'The maker agreed to WOFF2 by e-mail.' : '',
      },
    ],
  });
  await client.finish({ id: delivery.jobId });
}
