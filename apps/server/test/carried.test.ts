import { DEFAULT_FACTS } from '@orderly-glyph/core';
import { blankLicense, MADE_NAME, routes, wish as wishSchema, type MadePart } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { CARRIED } from '../src/features/workspaces/carried.js';
import { newOwner, startServer, type Person, type TestServer } from './setup.js';
import { unzip } from './zips.js';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

test('every table says how it is taken along, and none that is gone does', async () => {
  const [rows] = (await server.sql.query(
    'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()',
  )) as unknown as [{ name: string }[]];
  expect(Object.keys(CARRIED).sort()).toEqual(rows.map((r) => r.name).sort());
});

const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR4nGNgYGD4DwABBAEAX+XDSwAAAABJRU5ErkJggg==';
const SVG = (n: number): string => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M${n} 4h14v14H${n}z"/></svg>`;

/** Something in every table that is carried as rows, as far as a person can put it there. */
async function fill(owner: Person): Promise<void> {
  await owner.bringIn([['literata.ttf', readFont('literata')]]);
  const face = (await owner.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  await owner.call(routes.createLicense, {
    body: { ...blankLicense([face]), name: 'Open', kind: 'open', uses: { changing: 'yes', website: 'yes' }, confirmed: true },
  });
  await owner.call(routes.createHouseStyle, {
    body: {
      name: 'Packets',
      roles: { headline: null, text: { faceId: face, size: 10, ink: '#000000', paper: '#ffffff' }, accent: null, figures: null },
    },
  });
  const wish = wishSchema.parse({ to: 'woff2' });
  const { answer: recipe } = await owner.call(routes.keepRecipe, { body: { name: 'Web', wish, address: { to: 'woff2' } } });
  await owner.call(routes.convertFace, { params: { faceId: face }, body: { wish, recipeId: recipe.id } });
  const { answer: set } = await owner.call(routes.createIconSet, { body: { family: 'Carried', prefix: 'carried-' } });
  await owner.call(routes.addDrawings, {
    params: { setId: set.id },
    body: { files: [1, 2, 3].map((n) => ({ path: `i${n}.svg`, text: SVG(n) })) },
  });
  const { answer: now } = await owner.call(routes.getIconSet, { params: { setId: set.id } });
  await owner.call(routes.changeIconSet, {
    params: { setId: set.id },
    body: { facts: { ...DEFAULT_FACTS, ...now.facts }, version: now.version },
  });
  const { answer: fresh } = await owner.call(routes.getIconSet, { params: { setId: set.id } });
  expect(
    (await owner.call(routes.releaseIcons, { params: { setId: set.id }, body: { mayRelease: true, version: fresh.version } })).status,
  ).toBe(200);
  await owner.call(routes.createInquiry, {
    body: {
      title: 'A logo',
      customer: 'Somebody',
      note: '',
      price: 12.5,
      currency: 'EUR',
      use: 'logo',
      open: true,
      reading: {
        edits: [],
        ground: null,
        ink: null,
        level: null,
        specks: 0,
        pinholes: 0,
        word: 'Ab',
        without: [],
        asWord: null,
        stretched: false,
        slanted: false,
      },
      sureness: null,
      candidates: [],
      kept: null,
      png: PNG,
    },
  });
  await owner.call(routes.createProofSheet, {
    body: {
      plan: { faceIds: [face], title: 'Proof', text: 'Words', parts: [], ink: '#000000', paper: '#ffffff' } as never,
      endsOn: '2099-01-01',
    } as never,
  });
  await owner.call(routes.keepText, { body: { name: 'Price list', text: 'Beans 2,50 €' } });
  await owner.call(routes.setPalette, { body: [{ name: 'Ink', value: '#1b1916' }] as never });
}

/** What an export says of what was made, without what differs by nature: ids, times of reading back, and secret addresses. */
async function made(owner: Person): Promise<{ zip: Buffer; tables: Record<string, unknown[]> }> {
  const zip = Buffer.from(await (await owner.raw('GET', '/api/workspace/export')).arrayBuffer());
  const parts = [...(await unzip(zip))]
    .filter(([name]) => MADE_NAME.test(name))
    .map(([, bytes]) => JSON.parse(bytes.toString('utf8')) as MadePart);
  const plain = (v: unknown): unknown =>
    JSON.parse(JSON.stringify(v).replace(/[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g, 'ID'));
  const tables: Record<string, unknown[]> = {};
  for (const part of parts)
    for (const [table, rows] of Object.entries(part.tables))
      tables[table] = [...(tables[table] ?? []), ...rows.map((r) => plain({ ...r, secret: 'x' }))];
  for (const rows of Object.values(tables)) rows.sort((a, b) => JSON.stringify(a).localeCompare(JSON.stringify(b)));
  return { zip, tables };
}

test('what a workspace made goes out and comes back, field by field', async () => {
  const owner = await newOwner(server.address, 'Out');
  await fill(owner);
  const before = await made(owner);
  const carried = Object.keys(before.tables);
  for (const table of [
    'house_style',
    'kept_recipe',
    'recipe_run',
    'icon_set',
    'icon_drawing',
    'icon_release',
    'icon_release_file',
    'icon_code',
    'inquiry',
  ])
    expect(carried).toContain(table);
  const other = await newOwner(server.address, 'In');
  const { intake } = await other.bringIn([['export.zip', new Uint8Array(before.zip)]]);
  const { status, answer } = await other.call(routes.importWorkspace, { body: { intakeId: intake.id, vouched: false } });
  expect([status, answer.left.filter((l) => !/confirmed/.test(l))]).toEqual([200, []]);
  const after = await made(other);
  // Runs name the files that were made, which are made anew when they are asked for; all else is the same.
  for (const table of carried) expect([table, after.tables[table]]).toEqual([table, before.tables[table]]);
  // The desk says what waits, and does not say that all is well.
  const desk = (await other.call(routes.getDesk)).answer;
  expect(desk.find((d) => d.kind === 'unconfirmed')?.message).toMatch(/“Carried, made here”|“Open”/);
});

test('a crafted part takes nothing of others and leaves what does not hold', async () => {
  const victim = await newOwner(server.address, 'Victim');
  const { answer: theirs } = await victim.call(routes.createIconSet, { body: { family: 'Theirs', prefix: 'theirs-' } });
  const owner = await newOwner(server.address, 'Crafty');
  await fill(owner);
  const files = await unzip((await made(owner)).zip);
  const name = [...files.keys()].find((n) => MADE_NAME.test(n))!;
  const part = JSON.parse(files.get(name)!.toString('utf8')) as MadePart;
  const drawing = part.tables.icon_drawing![0]!;
  part.tables.icon_drawing!.push({ ...drawing, id: '11111111-1111-4111-8111-111111111111', set_id: theirs.id });
  part.tables.icon_set!.push({
    ...part.tables.icon_set![0]!,
    id: '22222222-2222-4222-8222-222222222222',
    facts: JSON.stringify({ family: 'x', prefix: '*/ evil' }),
  });
  part.tables.member = [{ id: '33333333-3333-4333-8333-333333333333', account_id: '44444444-4444-4444-8444-444444444444', role: 'owner' }];
  files.set(name, Buffer.from(JSON.stringify(part)));
  const { zip } = await import('./zips.js');
  const other = await newOwner(server.address, 'Reads');
  const { intake } = await other.bringIn([['export.zip', new Uint8Array(await zip([...files].map(([n, b]) => [n, b] as const)))]]);
  const { answer } = await other.call(routes.importWorkspace, { body: { intakeId: intake.id, vouched: false } });
  expect(answer.left.join(' ')).toMatch(/A drawing.*did not come along|An icon set.*cannot be read/);
  expect((await victim.call(routes.getIconSet, { params: { setId: theirs.id } })).answer.drawings).toEqual([]);
  expect((await other.call(routes.listMembers)).answer).toHaveLength(1);
});
