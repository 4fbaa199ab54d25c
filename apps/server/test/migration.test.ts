import { createHash, randomUUID } from 'node:crypto';
import { blankLicense, routes } from '@orderly-glyph/schema';
import mysql from 'mysql2/promise';
import { DataSource } from 'typeorm';
import { nodeCodec } from '@orderly-glyph/node';
import { readFont } from '../../../packages/core/test/fonts.js';
import { readFacts } from '../../../packages/core/src/face/index.js';
import { First1764000000000 } from '../src/platform/database/migrations/1764000000000-first.js';
import { newOwner, startServer } from './setup.js';

type Row = Record<string, unknown>;
const sha = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
const AT = new Date('2025-03-04T05:06:07Z');

/** Rows as the first version wrote them. */
const ids = Object.fromEntries(
  [
    'ws',
    'account',
    'intake',
    'upload',
    'bundle',
    'file',
    'family',
    'face',
    'link',
    'terms',
    'license',
    'place',
    'job',
    'delivery',
    'install',
    'gone',
  ].map((k) => [k, randomUUID()]),
) as Record<string, string>;

test('a database of the first version comes along with everything in it', async () => {
  const font = readFont('gochiHand');
  const facts = readFacts(font, nodeCodec).faces[0]!;
  const rendered = new TextEncoder().encode('a rendition');
  const terms = new TextEncoder().encode('Ask before you print.');
  const server = await startServer({}, async (settings) => {
    const source = new DataSource({
      type: 'mariadb',
      host: settings.host,
      port: settings.port,
      username: settings.user,
      password: settings.password,
      database: settings.database,
      migrations: [First1764000000000],
      charset: 'utf8mb4_unicode_ci',
    });
    await source.initialize();
    await source.runMigrations();
    await source.destroy();
    const sql = await mysql.createConnection(settings);
    const put = (table: string, row: Row): Promise<unknown> =>
      sql.query(`INSERT INTO ${table} (${Object.keys(row).join(', ')}) VALUES (?)`, [Object.values(row)]);
    const ws = { workspace_id: ids.ws };
    await put('workspace', { id: ids.ws, name: 'Old', demo: 0, created_at: AT });
    await put('account', { id: ids.account, email: 'old@test.example', name: 'Olda', password_hash: 'x', created_at: AT });
    await put('member', { id: randomUUID(), ...ws, account_id: ids.account, role: 'owner' });
    for (const bytes of [font, rendered, terms]) {
      await put('blob_head', { ...ws, sha256: sha(bytes), bytes: bytes.length });
      await put('blob_chunk', { ...ws, sha256: sha(bytes), seq: 0, data: Buffer.from(bytes) });
    }
    await put('job', { id: ids.job, ...ws, kind: 'delivery', subject_id: ids.delivery, state: 'done', created_at: AT });
    await put('intake', { id: ids.intake, ...ws, label: 'Old files', state: 'done', created_by: ids.account, created_at: AT });
    await put('bundle', { id: ids.bundle, ...ws, intake_id: ids.intake, name: 'old.zip' });
    await put('font_file', {
      id: ids.file,
      ...ws,
      sha256: sha(font),
      name: 'GochiHand.ttf',
      format: 'ttf',
      bytes: font.length,
      created_at: AT,
    });
    await put('bundle_file', { ...ws, bundle_id: ids.bundle, file_id: ids.file });
    await put('family', { id: ids.family, ...ws, name: 'Gochi Hand', name_key: 'gochi hand', created_at: AT });
    await put('face', {
      ...{ id: ids.face, ...ws, family_id: ids.family, face_key: 'k', style: 'Regular' },
      ...{ weight_class: 400, width_class: 5, italic: 0, lead_id: ids.link, created_at: AT },
    });
    await put('face_file', {
      ...{ id: ids.link, ...ws, face_id: ids.face, file_id: ids.file, face_index: 0 },
      ...{ code_points: facts.codePoints, facts: JSON.stringify(facts), facts_version: 1 },
    });
    await put('companion', {
      id: ids.terms,
      ...ws,
      bundle_id: ids.bundle,
      sha256: sha(terms),
      name: 'terms.txt',
      kind: 'terms',
      bytes: terms.length,
    });
    await put('license', {
      ...{ id: ids.license, ...ws, name: 'Old terms', kind: 'bought', grantor: 'Somebody', uses: '{"website":"yes"}', note: '' },
      ...{ confirmed: 1, confirmed_by: 'Olda', version: 1, created_at: AT },
    });
    await put('license_version', {
      license_id: ids.license,
      ...ws,
      version: 1,
      fields: JSON.stringify(blankLicense([])),
      by_name: 'Olda',
      at: AT,
    });
    await put('license_face', { ...ws, license_id: ids.license, face_id: ids.face });
    await put('license_evidence', { ...ws, license_id: ids.license, companion_id: ids.terms });
    await put('place', {
      id: ids.place,
      ...ws,
      name: 'Old shop',
      profile_id: 'website',
      address: 'http://old.example',
      site_key: 'k',
      created_at: AT,
    });
    await put('rendition', {
      ...{ ...ws, source_sha256: sha(font), face_index: 0, format: 'woff2', sha256: sha(rendered) },
      ...{ bytes: rendered.length, proof: '{"equal":true,"differences":[],"glyphsCompared":3}' },
    });
    await put('delivery', {
      id: ids.delivery,
      ...ws,
      place_id: ids.place,
      convert_to: 'woff2',
      headings: 0,
      job_id: ids.job,
      created_by: ids.account,
      created_at: AT,
    });
    await put('delivery_item', {
      id: randomUUID(),
      ...ws,
      delivery_id: ids.delivery,
      position: 0,
      face_id: ids.face,
      state: 'installed',
      bytes: 3,
      sha256: sha(rendered),
    });
    await put('statement', {
      ...{ id: randomUUID(), ...ws, delivery_id: ids.delivery, face_id: ids.face, words: 'I declare it.', person: 'Olda' },
      ...{ answer: 'yes', reasons: '[]', note: '', at: AT },
    });
    for (const [id, removed] of [
      [ids.install, null],
      [ids.gone, new Date('2025-06-01T00:00:00Z')],
    ] as const)
      await put('install', {
        ...{ id, ...ws, place_id: ids.place, face_id: ids.face, delivery_id: ids.delivery, sha256: sha(rendered), format: 'woff2' },
        ...{
          bytes: 3,
          version: '1',
          remote_name: `${removed ? 'old' : 'new'}.woff2`,
          installed_by: 'Olda',
          installed_at: AT,
          removed_at: removed,
        },
      });
    await sql.end();
  });
  try {
    const person = await newOwner(server.address, 'New');
    const { answer: session } = await person.call(routes.getSession);
    await server.sql.query("INSERT INTO member (id, workspace_id, account_id, role) VALUES (?, ?, ?, 'owner')", [
      randomUUID(),
      ids.ws,
      session.account!.id,
    ]);
    expect((await person.call(routes.switchWorkspace, { body: { workspaceId: ids.ws! } })).status).toBe(200);
    // Facts of the first version are of its columns; everything newer is computed when the server starts.
    for (let i = 0; i < 200; i++) {
      const { answer } = await person.call(routes.getShelf);
      if (answer.stale === 0 && !answer.refreshJobId) break;
      await new Promise((r) => setTimeout(r, 100));
    }
    const { families } = (await person.call(routes.listFamilies)).answer;
    expect(families.map((f) => [f.name, f.faces.length, f.places, f.licenseName, f.verdicts.website])).toEqual([
      ['Gochi Hand', 1, ['Old shop'], 'Old terms', 'yes'],
    ]);
    const { answer: face } = await person.call(routes.getFace, { params: { faceId: ids.face! } });
    expect(face).toMatchObject({ family: 'Gochi Hand', codePoints: facts.codePoints, unitsPerEm: facts.unitsPerEm });
    expect(face.coverage!.languages.find((l) => l.tag === 'en')!.level).toBe('full');
    expect(face.installs.map((i) => [i.id, i.address])).toEqual([[ids.install, 'http://old.example/fonts/new.woff2']]);
    // A key that lay readable is sealed by now, and what was converted then is told as a recipe.
    const [sealed] = (await server.sql.query('SELECT site_key AS k FROM place')) as unknown as [{ k: string }[]];
    expect(sealed.map((p) => p.k)).toEqual([expect.stringMatching(/^aes-256-gcm:/)]);
    const [items] = (await server.sql.query('SELECT recipe FROM delivery_item')) as unknown as [{ recipe: string }[]];
    expect(items.map((i) => JSON.parse(i.recipe) as unknown)).toEqual([[{ step: 'container', options: { to: 'woff2' } }]]);
    expect(face.licenses[0]!.companions.map((c) => c.name)).toEqual(['terms.txt']);
    const { answer: delivery } = await person.call(routes.getDelivery, { params: { deliveryId: ids.delivery! } });
    expect(delivery.items[0]!.statement).toMatchObject({ words: 'I declare it.', person: 'Olda' });
    const [events] = (await server.sql.query('SELECT install_id AS id, kind FROM install_event ORDER BY id')) as unknown as [
      { id: string; kind: string }[],
    ];
    expect(events.map((e) => [e.id, e.kind])).toEqual(
      expect.arrayContaining([
        [ids.install, 'verified'],
        [ids.gone, 'verified'],
        [ids.gone, 'withdrawn'],
      ]),
    );
    const [[kept]] = (await server.sql.query('SELECT recipe, sha256 FROM rendition')) as unknown as [{ recipe: string; sha256: string }[]];
    // The key under which the server looks for a conversion to WOFF2.
    expect(kept).toEqual({ recipe: 'container@1([["to","woff2"]])', sha256: sha(rendered) });
    // A file is still given out as it was received.
    const bytes = new Uint8Array(await (await person.raw('GET', `/api/files/${ids.file}/bytes`, null)).arrayBuffer());
    expect(sha(bytes)).toBe(sha(font));
  } finally {
    await server.stop();
  }
});
