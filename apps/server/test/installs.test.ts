import { randomUUID } from 'node:crypto';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Builder, readFontFile, render, writeSfnt, type Pen } from '@orderly-glyph/core';
import { nodeCodec } from '@orderly-glyph/node';
import { blankLicense, routes, type Answer, type Delivery, type PreflightFace } from '@orderly-glyph/schema';
import { readFont, withTable } from '../../../packages/core/test/fonts.js';
import { newOwner, startServer, startSite, type Person, type TestServer } from './setup.js';
import { unzip, zip } from './zips.js';

/** The same face under another name. */
const convertFace = (bytes: Uint8Array): Uint8Array =>
  render(bytes, 0, [{ step: 'rename', options: { family: 'Shop Didone' } }], { codec: nodeCodec }).bytes;
const PORT = Number(process.env.TEST_PORT_BASE ?? 4400) + 80;
const dir = mkdtempSync(join(process.cwd(), '.test/installs-'));
const KINDS = ['website', 'store', 'design-tool', 'print-shop', 'computer'] as const;
type Kind = (typeof KINDS)[number];
let server: TestServer;
let practice: ChildProcess;
let owner: Person;
const places = {} as Record<Kind, string>;
const faces = {} as Record<'hand' | 'didot' | 'serif' | 'variable' | 'otf', string>;

const origin = (kind: Kind): string => `http://127.0.0.1:${PORT + KINDS.indexOf(kind)}`;
const address = (kind: Kind): string => `${origin(kind)}${kind === 'design-tool' ? '/sets/ours' : ''}`;
/** Breaks a practice place on purpose, or mends it. */
const weather = (kind: Kind, fault: string, more: Record<string, string> = {}): Promise<Response> =>
  fetch(`${origin(kind)}/practice`, { method: 'POST', redirect: 'manual', body: new URLSearchParams({ fault, ...more }) });
const listed = async (kind: Kind): Promise<{ name: string; family: string; roles: string[] }[]> =>
  (
    (await (await fetch(`${address(kind)}/fonts`, { headers: { authorization: 'Bearer key' } })).json()) as {
      faces: { name: string; family: string; roles: string[] }[];
    }
  ).faces;

beforeAll(async () => {
  practice = await startSite(PORT, join(dir, 'practice'));
  mkdirSync(join(dir, 'folders'));
  server = await startServer({
    PLACE_FOLDERS: join(dir, 'folders'),
    PRIVATE_PLACES: KINDS.map((_, i) => `127.0.0.1:${PORT + i}`).join(','),
  });
  owner = await newOwner(server.address, 'Placer');
  const { items } = await owner.bringIn([
    ['hand.ttf', readFont('gochiHand')],
    ['didot.ttf', readFont('didot')],
    ['serif.ttf', readFont('serifTtf')],
    ['variable.otf', readFont('serifVariableOtf')],
  ]);
  const of = (name: string): string => items.find((i) => i.path === name)!.faceId!;
  Object.assign(faces, { hand: of('hand.ttf'), didot: of('didot.ttf'), serif: of('serif.ttf'), variable: of('variable.otf') });
  await owner.call(routes.createLicense, {
    body: {
      ...blankLicense(Object.values(faces)),
      name: 'Ours',
      kind: 'made-here',
      uses: {
        website: 'yes',
        'online-store': 'yes',
        'design-tool': 'yes',
        'customers-words': 'yes',
        'design-work': 'yes',
        changing: 'yes',
        documents: 'yes',
      },
      confirmed: true,
    },
  });
  for (const kind of KINDS) {
    const { answer, status } = await owner.call(routes.createPlace, {
      body: { name: `Our ${kind}`, profileId: kind, address: address(kind), key: 'key' },
    });
    expect(status).toBe(200);
    places[kind] = answer.id;
  }
});
afterAll(async () => {
  await server.stop();
  practice.kill();
  rmSync(dir, { recursive: true, force: true });
});

const check = async (kinds: readonly Kind[], faceIds: readonly string[], mendAll = true): Promise<PreflightFace[]> =>
  (await owner.call(routes.checkForPlaces, { body: { faceIds: [...faceIds], placeIds: kinds.map((k) => places[k]), mendAll } })).answer
    .cells;

/** Sends faces to places with whatever mends them, and waits until it is over. */
async function send(
  kinds: readonly Kind[],
  faceIds: readonly string[],
  role: Partial<Record<Kind, string>> = {},
  batchId: string = randomUUID(),
): Promise<Delivery[]> {
  const cells = await check(kinds, faceIds);
  const { answer, status } = await owner.call(routes.createDeliveries, {
    body: {
      batchId,
      orders: kinds.map((k) => ({
        placeId: places[k],
        role: role[k] ?? null,
        faces: cells
          .filter((c) => c.placeId === places[k])
          .map((c) => ({ faceId: c.faceId, remedies: c.chosen, statement: c.statement, note: '' })),
      })),
    },
  });
  expect([status, (answer as unknown as { error?: unknown }).error]).toEqual([200, undefined]);
  for (const d of answer) await owner.finished(d.jobId);
  return (await owner.call(routes.getDeliveries, { params: { batchId } })).answer.deliveries;
}
const outcome = (deliveries: readonly Delivery[]): string[] => deliveries.flatMap((d) => d.items.map((i) => `${d.place}: ${i.state}`));
const shelf = async (kind: Kind): Promise<Answer<typeof routes.listPlaces>[number]['installs']> =>
  (await owner.call(routes.listPlaces)).answer.find((p) => p.id === places[kind])!.installs;
async function withdrawAll(kind: Kind): Promise<void> {
  const installIds = (await shelf(kind)).map((i) => i.id);
  if (installIds.length === 0) return;
  const { answer } = await owner.call(routes.withdraw, { body: { batchId: randomUUID(), installIds } });
  for (const d of answer) expect(await owner.finished(d.jobId)).toBe('done');
}

test('faces go to five places in one go, each in the form that its place takes, and come off again with proof', async () => {
  const found = await check(KINDS, [faces.hand, faces.variable], false);
  const fits = Object.fromEntries(found.map((c) => [`${c.face} ${c.place}`, c.fit]));
  expect(fits).toMatchObject({
    'Gochi Hand Regular Our website': 'fits-after-remedy',
    'Gochi Hand Regular Our design-tool': 'fits',
    'Source Serif 4 Variable Regular Our print-shop': 'fits-after-remedy',
    'Source Serif 4 Variable Regular Our computer': 'fits',
  });
  const batchId = randomUUID();
  const sent = await send(KINDS, [faces.hand, faces.variable], { website: 'headings', store: 'buttons', 'print-shop': 'offered' }, batchId);
  expect(new Set(outcome(sent))).toEqual(new Set(KINDS.map((k) => `Our ${k}: installed`)));
  expect(sent.find((d) => d.place === 'Our website')!.items[0]!.message).toMatch(/visitor’s browser gets it/);
  // Roles are one face's: the first one has it; a list of offered faces has both.
  const roles = async (kind: Kind): Promise<string[][]> => (await listed(kind)).map((f) => f.roles);
  expect([await roles('website'), await roles('print-shop')]).toEqual([
    [['headings'], []],
    [['offered'], ['offered']],
  ]);
  expect((await shelf('website')).filter((i) => i.role).length).toBe(1);
  expect((await shelf('print-shop')).map((i) => i.format).sort()).toEqual(['otf', 'ttf']);
  // Two at once are one, too.
  const twice = randomUUID();
  const cells = await check(['website'], [faces.didot]);
  const body = {
    batchId: twice,
    orders: [
      { placeId: places.website, faces: cells.map((c) => ({ faceId: c.faceId, remedies: c.chosen, statement: c.statement, note: '' })) },
    ],
  };
  const both = await Promise.all([1, 2].map(() => owner.call(routes.createDeliveries, { body })));
  expect([both.map((b) => b.status), new Set(both.flatMap((b) => b.answer.map((d) => d.id))).size]).toEqual([[200, 200], 1]);
  await owner.finished(both[0]!.answer[0]!.jobId);
  // The same batch again, as after a lost answer, is the same batch.
  expect((await send(KINDS, [faces.hand, faces.variable], {}, batchId)).map((d) => d.id)).toEqual(sent.map((d) => d.id));

  // What lies there is looked at: one is missing, one is changed, one place is silent.
  const [gone] = await listed('computer');
  await fetch(`${address('computer')}/fonts/${gone!.name}`, { method: 'DELETE', headers: { authorization: 'Bearer key' } });
  await weather('design-tool', 'down');
  const { answer: look } = await owner.call(routes.checkInstalls, { body: {} });
  expect(await owner.finished(look.jobId)).toBe('done');
  await weather('design-tool', 'none');
  const seen = async (kind: Kind): Promise<string[]> => (await shelf(kind)).map((i) => i.seen).sort();
  expect([await seen('website'), await seen('computer'), await seen('design-tool')]).toEqual([
    ['same', 'same', 'same'],
    ['absent', 'same'],
    ['unknown', 'unknown'],
  ]);

  // A plan over all places for one face, carried out, and the face is nowhere.
  const { answer: plan } = await owner.call(routes.planWithdrawal, { body: { faceIds: [faces.hand] } });
  expect(plan.installs.map((i) => i.place).sort()).toEqual(KINDS.map((k) => `Our ${k}`).sort());
  const { answer: off } = await owner.call(routes.withdraw, {
    body: { batchId: randomUUID(), installIds: plan.installs.map((i) => i.id) },
  });
  for (const d of off) expect(await owner.finished(d.jobId)).toBe('done');
  for (const kind of KINDS) expect((await listed(kind)).map((f) => f.family)).not.toContain('Gochi Hand');
  const { answer: history } = await owner.call(routes.faceHistory, { params: { faceId: faces.hand } });
  expect(history.filter((e) => e.kind === 'withdrawn' || e.kind === 'absent')).toHaveLength(5);
  for (const kind of KINDS) await withdrawAll(kind);
});

test('a family goes as a whole or not at all, and another one is not held up by it', async () => {
  const { items } = await owner.bringIn([
    ['regular.ttf', readFont('literata')],
    ['semibold.ttf', new Uint8Array(readFileSync('node_modules/@expo-google-fonts/literata/600SemiBold/Literata_600SemiBold.ttf'))],
  ]);
  const pair = items.map((i) => i.faceId!);
  await owner.call(routes.createLicense, {
    body: { ...blankLicense(pair), name: 'Pair', kind: 'made-here', uses: { website: 'yes', changing: 'yes' }, confirmed: true },
  });
  // It takes one file of an upload and refuses the rest.
  const cells = await check(['website'], [...pair, faces.hand]);
  await weather('website', 'half');
  const { answer: d } = await owner.call(routes.createDelivery, {
    body: {
      placeId: places.website,
      faces: cells.map((c) => ({ faceId: c.faceId, remedies: c.chosen, statement: c.statement, note: '' })),
    },
  });
  await owner.finished(d.jobId);
  await weather('website', 'none');
  const { answer: after } = await owner.call(routes.getDelivery, { params: { deliveryId: d.id } });
  expect(after.items.map((i) => i.state)).toEqual(['refused', 'refused', 'refused']);
  expect(after.items[0]!.message).toMatch(/as a whole or not at all.*taken off again/);
  expect([await listed('website'), await shelf('website')]).toEqual([[], []]);
  expect(outcome(await send(['website'], pair))).toEqual(['Our website: installed', 'Our website: installed']);
  await withdrawAll('website');
});

test('what came off to make room is put back when the new face is refused', async () => {
  const tool = (await owner.call(routes.listPlaces)).answer.find((p) => p.id === places['design-tool'])!;
  const { answer: kept } = await owner.call(routes.changeRules, {
    params: { placeId: tool.id },
    body: { rules: { ...tool.rules, limits: { ...tool.rules.limits, faces: 3 } }, version: tool.version },
  });
  await send(['design-tool'], [faces.hand, faces.serif]);
  const cells = await check(['design-tool'], [faces.variable, faces.didot]);
  expect(cells.map((c) => c.chosen)).toEqual([[], ['make-room']]);
  await weather('design-tool', 'half');
  const { answer: d } = await owner.call(routes.createDelivery, {
    body: { placeId: tool.id, faces: cells.map((c) => ({ faceId: c.faceId, remedies: c.chosen, statement: c.statement, note: '' })) },
  });
  await owner.finished(d.jobId);
  await weather('design-tool', 'none');
  expect((await owner.call(routes.getDelivery, { params: { deliveryId: d.id } })).answer.items.map((i) => i.state)).toEqual([
    'installed',
    'refused',
  ]);
  expect((await listed('design-tool')).map((f) => f.family).sort()).toEqual(['Gochi Hand', 'Source Serif 4', 'Source Serif 4 Variable']);
  expect((await shelf('design-tool')).map((i) => i.face).sort()).toEqual(expect.arrayContaining(['Gochi Hand Regular']));
  await owner.call(routes.changeRules, { params: { placeId: tool.id }, body: { rules: null, version: kept.place.version } });
  await withdrawAll('design-tool');
});

test.each([
  ['full', /no room/, []],
  ['refuses', /not taken today/, []],
  ['drops', /does not have it/, []],
  ['corrupts', /other bytes/, []],
] as const)(
  'a place that %s: told in a sentence, nothing is counted as installed and nothing is left there',
  async (fault, words, left) => {
    // It is well while it is checked, and broken when the file comes.
    const cells = await check(['website'], [faces.didot]);
    await weather('website', fault, { 'fault-type': 'woff2' });
    const { answer: d } = await owner.call(routes.createDelivery, {
      body: {
        placeId: places.website,
        faces: [{ faceId: faces.didot, remedies: cells[0]!.chosen, statement: cells[0]!.statement, note: '' }],
      },
    });
    await owner.finished(d.jobId);
    await weather('website', 'none');
    const { answer: after } = await owner.call(routes.getDelivery, { params: { deliveryId: d.id } });
    expect([after.items[0]!.state, after.items[0]!.message]).toEqual(['refused', expect.stringMatching(words)]);
    expect([await shelf('website'), await listed('website')]).toEqual([[], left]);
  },
);

test('a place that is gone when the file comes: nobody knows, until somebody looks again', async () => {
  const [cell] = await check(['website'], [faces.didot]);
  await weather('website', 'down');
  const { answer: d } = await owner.call(routes.createDelivery, {
    body: { placeId: places.website, faces: [{ faceId: faces.didot, remedies: cell!.chosen, statement: cell!.statement, note: '' }] },
  });
  await owner.finished(d.jobId);
  const item = async (): Promise<string> => (await owner.call(routes.getDelivery, { params: { deliveryId: d.id } })).answer.items[0]!.state;
  expect(await item()).toBe('unknown');
  expect((await owner.call(routes.lookAgain, { params: { deliveryId: d.id } })).status).toBe(409);
  await weather('website', 'none');
  expect((await owner.call(routes.lookAgain, { params: { deliveryId: d.id } })).status).toBe(200);
  expect([await item(), await shelf('website'), await listed('website')]).toEqual(['refused', [], []]);
});

test('a place that keeps the file and does not answer: it is looked at, and counted once', async () => {
  const cells = await check(['website'], [faces.didot]);
  await weather('website', 'silent');
  const { answer: d } = await owner.call(routes.createDelivery, {
    body: {
      placeId: places.website,
      faces: [{ faceId: faces.didot, remedies: cells[0]!.chosen, statement: cells[0]!.statement, note: '' }],
    },
  });
  await owner.finished(d.jobId);
  await weather('website', 'none');
  expect((await owner.call(routes.getDelivery, { params: { deliveryId: d.id } })).answer.items[0]!.state).toBe('installed');
  expect([(await shelf('website')).length, (await listed('website')).length]).toEqual([1, 1]);
  await withdrawAll('website');
});

test('a server killed in the middle of a delivery to a slow place goes on and sends nothing twice', async () => {
  await weather('store', 'slow');
  const cells = (
    await owner.call(routes.checkForPlaces, { body: { faceIds: [faces.hand, faces.didot], placeIds: [places.store], mendAll: true } })
  ).answer.cells;
  const { answer: d } = await owner.call(routes.createDelivery, {
    body: { placeId: places.store, faces: cells.map((c) => ({ faceId: c.faceId, remedies: c.chosen, statement: c.statement, note: '' })) },
  });
  await new Promise((r) => setTimeout(r, 4000));
  await server.kill();
  await weather('store', 'none');
  await server.restart();
  expect(await owner.finished(d.jobId)).toBe('done');
  expect((await owner.call(routes.getDelivery, { params: { deliveryId: d.id } })).answer.items.map((i) => i.state)).toEqual([
    'installed',
    'installed',
  ]);
  expect((await listed('store')).length).toBe(2);
  await withdrawAll('store');
});

test('a face larger than a list or a page may be goes there and is read back whole', async () => {
  const noise = new Uint8Array(6 * 1024 * 1024);
  for (let i = 0, x = 7; i < noise.length; i++) noise[i] = (x = (x * 1664525 + 1013904223) >>> 0) >>> 24;
  const large = withTable(readFontFile(readFont('literata'), nodeCodec).fonts[0]!, 'ZZZZ', noise);
  const faceId = (await owner.bringIn([['large.ttf', large]])).items[0]!.faceId!;
  await owner.call(routes.createLicense, {
    body: { ...blankLicense([faceId]), name: 'Large', kind: 'made-here', uses: { 'design-tool': 'yes', changing: 'yes' }, confirmed: true },
  });
  expect(outcome(await send(['design-tool'], [faceId]))).toEqual(['Our design-tool: installed']);
  await withdrawAll('design-tool');
});

test('a server killed in the middle of a family: what went comes off again when the rest is refused afterwards', async () => {
  const { families } = (await owner.call(routes.listFamilies)).answer;
  const pair = families.find((f) => f.name === 'Literata')!.faces.map((f) => f.id);
  expect(pair.length).toBeGreaterThan(1);
  const cells = await check(['website'], pair);
  await weather('website', 'slow');
  const { answer: d } = await owner.call(routes.createDelivery, {
    body: {
      placeId: places.website,
      faces: cells.map((c) => ({ faceId: c.faceId, remedies: c.chosen, statement: c.statement, note: '' })),
    },
  });
  const states = async (): Promise<string[]> =>
    (await owner.call(routes.getDelivery, { params: { deliveryId: d.id } })).answer.items.map((i) => i.state);
  while (!(await states()).includes('installed')) await new Promise((r) => setTimeout(r, 100));
  await server.kill();
  await weather('website', 'full');
  await server.restart();
  await owner.finished(d.jobId);
  await weather('website', 'none');
  expect(new Set(await states())).toEqual(new Set(['refused']));
  expect([await listed('website'), await shelf('website')]).toEqual([[], []]);
});

test('room is made by what is used least, and only once the new face is there is that the end of it', async () => {
  const { answer: place } = await owner.call(routes.listPlaces);
  const tool = place.find((p) => p.id === places['design-tool'])!;
  // A set for two faces.
  const { answer: kept } = await owner.call(routes.changeRules, {
    params: { placeId: tool.id },
    body: { rules: { ...tool.rules, limits: { ...tool.rules.limits, faces: 2 } }, version: tool.version },
  });
  expect([kept.place.ownRules, kept.place.rules.limits.faces, kept.doubts]).toEqual([true, 2, []]);
  await send(['design-tool'], [faces.hand, faces.serif]);
  const [cell] = await check(['design-tool'], [faces.didot], false);
  expect([cell!.fit, cell!.mend]).toEqual(['fits-after-remedy', ['make-room']]);
  await send(['design-tool'], [faces.didot]);
  expect((await listed('design-tool')).map((f) => f.family).sort()).toEqual(['GFS Didot', 'Source Serif 4']);

  // Rules that contradict themselves are told and not kept; by stricter ones, what lies there is doubted and not touched.
  const now = (await owner.call(routes.listPlaces)).answer.find((p) => p.id === tool.id)!;
  const wrong = await owner.call(routes.changeRules, {
    params: { placeId: tool.id },
    body: { rules: { ...now.rules, twins: 'refused', replacing: 'over' }, version: now.version },
  });
  expect([wrong.status, (wrong.answer as unknown as { error: { message: string } }).error.message]).toEqual([
    422,
    expect.stringMatching(/removed.*Nothing was changed/),
  ]);
  const { answer: strict } = await owner.call(routes.changeRules, {
    params: { placeId: tool.id },
    body: { rules: { ...now.rules, accepts: { ...now.rules.accepts, maxBytes: 20_000 } }, version: now.version },
  });
  expect(strict.doubts.length).toBeGreaterThan(0);
  expect((await listed('design-tool')).length).toBe(2);
  await owner.call(routes.changeRules, { params: { placeId: tool.id }, body: { rules: null, version: strict.place.version } });
  expect(
    ((await server.sql.query('SELECT COUNT(*) AS n FROM place_rules WHERE place_id = ?', [tool.id]))[0] as { n: number }[])[0]!.n,
  ).toBe(5);
  await withdrawAll('design-tool');
});

test('a newer version makes the old one outdated, and sending it takes the old one’s place where the place wants that', async () => {
  await send(['computer'], [faces.hand]);
  await server.sql.query('UPDATE install SET source_sha256 = ? WHERE removed_at IS NULL', ['0'.repeat(64)]);
  expect((await shelf('computer')).map((i) => i.outdated)).toEqual([true]);
  await withdrawAll('computer');
});

test('a place that nothing speaks to: a kit with a how-to, a list, and an install by hand', async () => {
  const { answer: place } = await owner.call(routes.createPlace, {
    body: { name: 'The sign writer', profileId: 'print-shop', address: 'Mill Lane', byHand: true },
  });
  const kit = await owner.raw('GET', `/api/places/${place.id}/kit?faces=${faces.variable}`);
  const files = await unzip(Buffer.from(await kit.arrayBuffer()));
  expect([...files.keys()].filter((f) => f.startsWith('fonts/'))).toEqual([expect.stringMatching(/\.otf$/)]);
  expect(files.get('HOW-TO.txt')!.toString()).toMatch(/^The sign writer\n\n1\. .*\n2\. .*\n3\. .*\n4\. .*\n5\. /);
  expect([...files.keys()]).toEqual(expect.arrayContaining(['special-characters.txt', expect.stringMatching(/^license\//)]));
  const [cell] = (await owner.call(routes.checkForPlaces, { body: { faceIds: [faces.variable], placeIds: [place.id], mendAll: true } }))
    .answer.cells;
  const refused = await owner.call(routes.createDelivery, {
    body: { placeId: place.id, faces: [{ faceId: faces.variable, remedies: cell!.chosen, statement: cell!.statement, note: '' }] },
  });
  expect(refused.status).toBe(409);
  const put = [{ faceId: faces.variable, remedies: cell!.chosen, statement: cell!.statement, note: '' }];
  expect(
    (await owner.call(routes.confirmByHand, { params: { placeId: place.id }, body: { put: [{ ...put[0]!, statement: 'I may.' }] } }))
      .status,
  ).toBe(409);
  expect((await owner.call(routes.confirmByHand, { params: { placeId: place.id }, body: { put } })).status).toBe(200);
  const there = (await owner.call(routes.listPlaces)).answer.find((p) => p.id === place.id)!.installs;
  expect(there.map((i) => [i.byHand, i.format, i.seen])).toEqual([[true, 'otf', 'unknown']]);
  expect((await owner.call(routes.confirmByHand, { params: { placeId: place.id }, body: { removed: [there[0]!.id] } })).status).toBe(200);
  expect((await owner.call(routes.listPlaces)).answer.find((p) => p.id === place.id)!.installs).toEqual([]);
});

test('the print shop’s list: several moved at once, kinds, advice, pictures, and a file fetched back', async () => {
  // The same drawings under another name are two faces that look alike.
  const { items } = await owner.bringIn([['lookalike.ttf', convertFace(readFont('didot'))]]);
  const twin = items[0]!.faceId!;
  await owner.call(routes.createLicense, {
    body: {
      ...blankLicense([twin]),
      name: 'Twin',
      kind: 'bought',
      uses: { 'customers-words': 'yes', website: 'no', changing: 'yes' },
      confirmed: true,
    },
  });
  await send(['print-shop'], [faces.didot, faces.hand, twin], { 'print-shop': 'withheld' });
  const installs = await shelf('print-shop');
  const { answer, status } = await owner.call(routes.arrangeInstalls, {
    params: { placeId: places['print-shop'] },
    body: { installIds: installs.map((i) => i.id), role: 'offered', kind: 'display' },
  });
  expect([status, answer.refused, (await listed('print-shop')).map((f) => f.roles)]).toEqual([
    200,
    [],
    [['offered'], ['offered'], ['offered']],
  ]);
  expect(await (await fetch(`${origin('print-shop')}/office`)).text()).toMatch(/display \(3\)/);
  // The order in which customers see them is the one that was asked for, and that of our list.
  const names = async (): Promise<string[]> => (await listed('print-shop')).map((f) => f.name);
  expect((await shelf('print-shop')).map((i) => i.address.split('/').at(-1))).toEqual(await names());
  const order = [installs[2]!, installs[0]!, installs[1]!].map((i) => i.id);
  const put = { params: { placeId: places['print-shop'] }, body: { installIds: order, ordered: true } };
  expect((await owner.call(routes.arrangeInstalls, put)).answer.refused).toEqual([]);
  expect((await shelf('print-shop')).map((i) => i.id)).toEqual(order);
  expect((await shelf('print-shop')).map((i) => i.address.split('/').at(-1))).toEqual(await names());
  const website = { params: { placeId: places.website }, body: { installIds: order, ordered: true } };
  expect((await owner.call(routes.arrangeInstalls, website)).status).toBe(404);
  const { answer: advice } = await owner.call(routes.placeAdvice, { params: { placeId: places['print-shop'] } });
  expect(advice.map((a) => a.message)).toEqual([expect.stringMatching(/look very alike/)]);
  // What may not go to the website is answered with what looks like it, may go, and writes the same.
  const [unlike] = await check(['website'], [twin]);
  expect(unlike!.fit).toBe('does-not-fit');
  expect(unlike!.findings[0]!.remedies.find((r) => r.id === 'look-alike')).toMatchObject({ label: 'Take GFS Didot Regular instead' });
  const hand = installs.find((i) => i.faceId === faces.hand)!;
  const back = Buffer.from(await (await owner.raw('GET', `/api/installs/${hand.id}/file`)).arrayBuffer());
  expect(back.equals(Buffer.from(readFont('gochiHand')))).toBe(true);
  const picture = await (await owner.raw('GET', `/api/faces/${faces.hand}/picture?as=svg`)).text();
  expect(picture).toMatch(/^<svg .*<path d="M/s);
  const png = Buffer.from(await (await owner.raw('GET', `/api/faces/${faces.hand}/picture?as=png`)).arrayBuffer());
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  await withdrawAll('print-shop');
});

test('keys of places are sealed in the database and never shown', async () => {
  const [rows] = (await server.sql.query('SELECT site_key AS k FROM place WHERE site_key <> ""')) as unknown as [{ k: string }[]];
  expect(rows.length).toBeGreaterThan(3);
  for (const { k } of rows) expect(k).toMatch(/^aes-256-gcm:/);
  expect(await (await owner.raw('GET', '/api/places')).text()).not.toMatch(/siteKey|"key"\s*:\s*"key"/);
});

test('a house style is checked, gives places their roles, and goes on one page', async () => {
  const role = (faceId: string, size: number, ink = '#1b1916', paper = '#fbfaf6') => ({ faceId, size, ink, paper });
  const { answer: style } = await owner.call(routes.createHouseStyle, {
    body: {
      name: 'Shop',
      roles: { headline: role(faces.didot, 10), text: role(faces.hand, 6, '#999999'), accent: role(faces.serif, 20), figures: null },
    },
  });
  const said = style.doubts.map((x) => `${x.role}: ${x.message}`).join('\n');
  // WCAG 2.2, 1.4.3, worked by hand: #999999 on #fbfaf6 has 2.7 to 1.
  expect(said).toMatch(/text: The contrast of its colors is 2\.7 to 1/);
  expect(said).toMatch(/text: Running text of 6 points/);
  expect(said).toMatch(/text: .*handwriting/);
  expect((await owner.call(routes.createHouseStyle, { body: { name: 'Shop', roles: style.roles } })).status).toBe(409);
  await send(['store'], [faces.didot]);
  const { answer: applied } = await owner.call(routes.applyHouseStyle, { params: { styleId: style.id, placeId: places.store } });
  expect([applied.set, applied.missing.sort()]).toEqual([['headings'], [faces.hand, faces.serif].sort()]);
  expect((await listed('store')).map((f) => f.roles)).toEqual([['headings']]);
  const sheet = await owner.raw('GET', `/api/house-styles/${style.id}/sheet`);
  const pdf = Buffer.from(await sheet.arrayBuffer());
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  expect(pdf.toString('latin1')).toMatch(/\/FontName \/[A-Z]{6}\+.*(Didot|Gochi)/);
  await withdrawAll('store');
});

describe('a computer that fetches its faces itself', () => {
  const home = join(dir, 'home');
  const glyph = (...args: string[]): Promise<{ status: number | null; out: string }> =>
    new Promise((resolve) => {
      const child = spawn(process.execPath, ['apps/cli/dist/glyph.js', 'computer', ...args], {
        env: { PATH: process.env.PATH, HOME: home, XDG_CONFIG_HOME: join(home, 'config'), XDG_DATA_HOME: join(home, 'data') },
      });
      let out = '';
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (d) => (out += String(d)));
      child.on('exit', (status) => resolve({ status, out }));
    });
  const fonts = join(home, 'data/fonts/Orderly Glyph');
  /** What Debian's fontconfig lists in that folder. */
  const known = (): string[] =>
    spawnSync('fc-list', ['--format', '%{family[0]}\n'], {
      encoding: 'utf8',
      env: { PATH: process.env.PATH, HOME: home, XDG_DATA_HOME: join(home, 'data'), XDG_CACHE_HOME: join(home, 'cache') },
    })
      .stdout.split('\n')
      .filter((f) => /Gochi|Didot/.test(f))
      .sort();
  let placeId: string;
  const assign = async (faceIds: string[], removed: string[] = [], at = placeId): Promise<{ status: number; message: string }> => {
    const cells = (
      await owner.call(routes.checkForPlaces, {
        body: { faceIds: faceIds.length > 0 ? faceIds : [faces.hand], placeIds: [at], mendAll: true },
      })
    ).answer.cells;
    const put = faceIds.map((faceId) => {
      const c = cells.find((x) => x.faceId === faceId)!;
      return { faceId, remedies: c.chosen, statement: c.statement, note: '' };
    });
    const { status, answer } = await owner.call(routes.confirmByHand, { params: { placeId: at }, body: { put, removed } });
    return { status, message: (answer as unknown as { error?: { message: string } }).error?.message ?? '' };
  };
  const there = async (): Promise<[string, string][]> =>
    (await owner.call(routes.listPlaces)).answer
      .find((p) => p.id === placeId)!
      .installs.map((i): [string, string] => [i.face, i.seen])
      .sort();

  test('joins with a code once, fetches what is assigned, and tells the ledger', async () => {
    expect(await glyph('sync')).toMatchObject({ status: 1, out: expect.stringMatching(/not joined/) });
    const { answer: place } = await owner.call(routes.createPlace, {
      body: { name: 'Left desk', profileId: 'joined-computer', address: 'Loft' },
    });
    placeId = place.id;
    const { answer } = await owner.call(routes.computerCode, { params: { placeId } });
    expect(await glyph('join', server.address, 'AAAA-BBBB-CCCC')).toMatchObject({ status: 1, out: expect.stringMatching(/does not hold/) });
    expect(await glyph('join', server.address, answer.code.toLowerCase())).toMatchObject({
      status: 0,
      out: expect.stringMatching(/“Left desk” of Placer/),
    });
    expect((await glyph('join', server.address, answer.code)).status).toBe(1);
    expect(statSync(join(home, 'config/orderly-glyph/computer.json')).mode & 0o777).toBe(0o600);
    expect(await assign([faces.hand, faces.didot])).toMatchObject({ status: 200 });
    expect(await there()).toEqual([
      ['GFS Didot Regular', 'unknown'],
      ['Gochi Hand Regular', 'unknown'],
    ]);
    expect(await glyph('sync')).toMatchObject({ status: 0, out: expect.stringMatching(/2 fonts are here/) });
    expect(known()).toEqual(['GFS Didot', 'Gochi Hand']);
    expect(await there()).toEqual([
      ['GFS Didot Regular', 'same'],
      ['Gochi Hand Regular', 'same'],
    ]);
    // Nothing to do is nothing done.
    expect(await glyph('sync')).toMatchObject({ status: 0, out: '2 fonts are here.\n' });
  });

  test('what is missing comes again, what others put there stays, and what was withdrawn goes', async () => {
    const own = readdirSync(fonts);
    writeFileSync(join(fonts, 'Somebody-Elses.ttf'), readFont('literata'));
    rmSync(
      join(
        fonts,
        own.find((f) => f.startsWith('GFS'))!,
      ),
    );
    expect(await glyph('sync')).toMatchObject({ status: 0, out: expect.stringMatching(/installed: GFS-Didot/) });
    const hand = (await owner.call(routes.listPlaces)).answer.find((p) => p.id === placeId)!.installs.find((i) => i.faceId === faces.hand)!;
    await assign([], [hand.id]);
    // It counts as being there until the computer says that it is gone.
    expect((await there()).length).toBe(2);
    expect(await glyph('sync')).toMatchObject({ status: 0, out: expect.stringMatching(/removed: Gochi-Hand/) });
    expect([known(), await there()]).toEqual([['GFS Didot'], [['GFS Didot Regular', 'same']]]);
    expect(readdirSync(fonts)).toContain('Somebody-Elses.ttf');
  });

  test('a file that somebody changed is told and never removed', async () => {
    const [didot] = readdirSync(fonts).filter((f) => f.startsWith('GFS'));
    writeFileSync(join(fonts, didot!), readFont('literata'));
    const install = (await owner.call(routes.listPlaces)).answer.find((p) => p.id === placeId)!.installs[0]!;
    await assign([], [install.id]);
    expect(await glyph('sync')).toMatchObject({ out: expect.stringMatching(/changed by somebody else and is left/) });
    expect(readdirSync(fonts)).toContain(didot);
    expect(await there()).toEqual([['GFS Didot Regular', 'other']]);
  });

  test('seats of a license count joined computers by themselves', async () => {
    const { items } = await owner.bringIn([['seats.ttf', readFont('khmer')]]);
    const faceId = items[0]!.faceId!;
    await owner.call(routes.createLicense, {
      body: {
        ...blankLicense([faceId]),
        name: 'One seat',
        kind: 'bought',
        uses: { 'design-work': 'yes', changing: 'yes' },
        limits: { 'design-work': 1 },
        confirmed: true,
      },
    });
    expect(await assign([faceId])).toMatchObject({ status: 200 });
    const { answer: other } = await owner.call(routes.createPlace, {
      body: { name: 'Right desk', profileId: 'joined-computer', address: 'Loft' },
    });
    await owner.call(routes.computerCode, { params: { placeId: other.id } });
    expect(await assign([faceId], [], other.id)).toEqual({ status: 409, message: expect.stringMatching(/1 seat and all are taken/) });
  });
});

test('five hundred faces are checked for ten places at once, and forty of them laid into all ten', async () => {
  const person = await newOwner(server.address, 'Many');
  const row = (i: number): Uint8Array => {
    const builder = new Builder({ names: { 1: `Row ${i}`, 2: 'Regular', 5: 'Version 1.0' } });
    builder.add({ name: '.notdef', codePoints: [], advance: 500, draw: null });
    const draw = (pen: Pen): void => {
      pen.moveTo(50, 0);
      pen.lineTo(50, 700);
      pen.lineTo(560 - i, 700);
      pen.closePath();
    };
    builder.add({ name: 'A', codePoints: [65], advance: 600, draw });
    return writeSfnt(builder.build());
  };
  const bundle = await zip(Array.from({ length: 500 }, (_, i) => [`row-${i}.ttf`, row(i)] as const));
  const { items } = await person.bringIn([['rows.zip', bundle]]);
  const faceIds = items.flatMap((i) => (i.faceId ? [i.faceId] : []));
  expect(faceIds.length).toBe(500);
  await person.call(routes.createLicense, {
    body: { ...blankLicense(faceIds), name: 'Ours', kind: 'made-here', uses: { 'design-work': 'yes' }, confirmed: true },
  });
  const placeIds: string[] = [];
  for (let i = 0; i < 10; i++) {
    const { answer } = await person.call(routes.createPlace, { body: { name: `Folder ${i}`, profileId: 'folder', address: `many-${i}` } });
    placeIds.push(answer.id);
  }
  const { answer, status } = await person.call(routes.checkForPlaces, { body: { faceIds, placeIds, mendAll: true } });
  expect([status, answer.cells.length, answer.unseen]).toEqual([200, 5000, []]);
  expect(answer.cells.filter((c) => c.fit !== 'fits' || !c.clear)).toEqual([]);
  const batchId = randomUUID();
  const sent = await person.call(routes.createDeliveries, {
    body: {
      batchId,
      orders: placeIds.map((placeId) => ({
        placeId,
        role: null,
        faces: answer.cells
          .filter((c) => c.placeId === placeId && faceIds.indexOf(c.faceId) < 40)
          .map((c) => ({ faceId: c.faceId, remedies: [], statement: c.statement, note: '' })),
      })),
    },
  });
  for (const d of sent.answer) expect(await person.finished(d.jobId)).toBe('done');
  const { deliveries } = (await person.call(routes.getDeliveries, { params: { batchId } })).answer;
  expect(deliveries.flatMap((d) => d.items).filter((i) => i.state !== 'installed')).toEqual([]);
  const laid = readdirSync(join(dir, 'folders'), { recursive: true, encoding: 'utf8' });
  for (let i = 0; i < 10; i++) expect(laid.filter((f) => f.includes(`many-${i}/`) && f.endsWith('.ttf')).length).toBe(40);
}, 120_000);
