import { spawnSync, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blankLicense, routes, sayDay, type Answer } from '@orderly-glyph/schema';
import { convertTo } from '../../../packages/core/test/face.js';
import { patch16, random, readFont, withTable } from '../../../packages/core/test/fonts.js';
import { readFontFile } from '../../../packages/core/src/sfnt/index.js';
import { nodeCodec } from '@orderly-glyph/node';
import { newOwner, startServer, startSite, type Person, type TestServer } from './setup.js';
import { zip } from './zips.js';

/** What a person presses for another container, or nothing. */
const remediesFor = (to: 'woff2' | null): string[] => (to ? ['way'] : []);

const PORT = Number(process.env.TEST_PORT_BASE ?? 4400) + 90;
const SITE = `http://127.0.0.1:${PORT}`;
const dir = mkdtempSync(join(tmpdir(), 'glyph-'));
let server: TestServer;
let site: ChildProcess;
let owner: Person;
let placeId: string;
const OFL = readFileSync(join(process.cwd(), 'node_modules/source-serif/LICENSE.md'));

beforeAll(async () => {
  server = await startServer();
  site = await startSite(PORT, dir);
  owner = await newOwner(server.address);
  placeId = (await owner.call(routes.createPlace, { body: { name: 'The shop', profileId: 'website', address: SITE, key: 'key' } })).answer
    .id;
});
afterAll(async () => {
  site.kill();
  await server.stop();
  rmSync(dir, { recursive: true, force: true });
});

const check = async (faceId: string, convertTo: 'woff2' | null): Promise<Answer<typeof routes.checkForPlace>[number]> =>
  (await owner.call(routes.checkForPlace, { params: { placeId }, body: { faceIds: [faceId], remedies: remediesFor(convertTo) } }))
    .answer[0]!;
const deliver = async (faceId: string, statement: string, note = '', convertTo: 'woff2' | null = 'woff2') =>
  owner.call(routes.createDelivery, {
    body: { placeId, role: 'headings', faces: [{ faceId, remedies: remediesFor(convertTo), statement, note }] },
  });
const license = async (faceIds: string[], companionIds: string[] = [], changes: object = {}) =>
  owner.call(routes.createLicense, {
    body: {
      ...blankLicense(faceIds),
      name: 'SIL Open Font License 1.1',
      kind: 'open',
      spdxId: 'OFL-1.1',
      uses: { website: 'yes', changing: 'yes', 'passing-on': 'yes' },
      confirmed: true,
      companionIds,
      ...changes,
    },
  });

test('from a bundle to a face on the website', async () => {
  const { items } = await owner.bringIn([
    [
      'serif.zip',
      await zip([
        ['Serif.otf', readFont('serifOtf')],
        ['LICENSE.md', OFL],
      ]),
    ],
  ]);
  const faceId = items.find((i) => i.faceId)!.faceId!;
  const { answer: before } = await owner.call(routes.getFace, { params: { faceId } });
  expect(before.suggestions[0]).toMatchObject({ spdxId: 'OFL-1.1', basis: 'text' });
  expect(before.verdicts.find((v) => v.use === 'website')!.answer).toBe('ask');

  const first = await check(faceId, null);
  expect(first.findings.map((f) => f.code)).toEqual(['right-unclear', 'format']);
  const { answer: kept } = await license([faceId], [before.companions[0]!.id]);
  expect(kept.reservedNames).toEqual(['Source']);

  const ready = await check(faceId, 'woff2');
  expect(ready).toMatchObject({ clear: true, verdict: { answer: 'yes' }, sending: { format: 'woff2' } });
  expect(ready.statement).toContain('Source Serif 4 Regular');
  const { answer: delivery } = await deliver(faceId, ready.statement);
  expect(await owner.finished(delivery.jobId)).toBe('done');
  const { answer: done } = await owner.call(routes.getDelivery, { params: { deliveryId: delivery.id } });
  expect(done.items[0]).toMatchObject({
    state: 'installed',
    statement: { words: ready.statement, person: 'Test Owner', answer: 'yes', licenseName: 'SIL Open Font License 1.1' },
  });

  const { answer: face } = await owner.call(routes.getFace, { params: { faceId } });
  const response = await fetch(face.installs[0]!.address);
  expect(response.headers.get('content-type')).toBe('font/woff2');
  const served = Buffer.from(await response.arrayBuffer());
  expect(createHash('sha256').update(served).digest('hex')).toBe(done.items[0]!.sha256);
  writeFileSync(join(dir, 'served.woff2'), served);
  expect(spawnSync('ots-sanitize', [join(dir, 'served.woff2')]).status).toBe(0);
  expect(await (await fetch(`${SITE}/fonts.css`)).text()).toContain(face.installs[0]!.address.split('/').pop());

  // The same again is the same install; taking it off removes it there and here.
  const { answer: second } = await deliver(faceId, ready.statement);
  await owner.finished(second.jobId);
  const { answer: places } = await owner.call(routes.listPlaces);
  expect(places[0]!.installs).toHaveLength(1);
  expect((await owner.call(routes.removeInstall, { params: { installId: places[0]!.installs[0]!.id } })).status).toBe(200);
  expect((await fetch(face.installs[0]!.address)).status).toBe(404);
  expect((await owner.call(routes.listPlaces)).answer[0]!.installs).toEqual([]);
});

describe('what the site would refuse is foreseen, and the site does refuse it', () => {
  const put = (bytes: Uint8Array, name = 'x.woff2', key = 'key') =>
    fetch(`${SITE}/fonts/${name}`, { method: 'PUT', headers: { authorization: `Bearer ${key}` }, body: bytes as BodyInit });
  const bring = async (bytes: Uint8Array): Promise<string> => (await owner.bringIn([['a.ttf', bytes]])).items[0]!.faceId!;

  test('another format', async () => {
    const faceId = await bring(readFont('gochiHand'));
    expect((await check(faceId, null)).findings.find((f) => f.code === 'format')!.remedies).toMatchObject([
      { id: 'way', doable: true, forbidden: null },
    ]);
    expect((await put(readFont('gochiHand'))).status).toBe(415);
  });
  test('embedding forbidden by the file', async () => {
    const font = readFontFile(readFont('notoMono'), nodeCodec).fonts[0]!;
    const restricted = withTable(font, 'OS/2', patch16(font.tables.get('OS/2')!, 8, 2));
    const faceId = await bring(restricted);
    await license([faceId]);
    const found = await check(faceId, 'woff2');
    expect(found.findings.map((f) => f.code)).toContain('embedding-restricted');
    expect(found.clear).toBe(false);
    expect((await deliver(faceId, found.statement, 'because')).status).toBe(409);
    const packed = Buffer.from(await (await owner.raw('GET', `/api/faces/${faceId}/as/woff2`)).arrayBuffer());
    expect((await put(packed)).status).toBe(403);
  });
  test('a file over 1 MiB', async () => {
    const font = readFontFile(readFont('didot'), nodeCodec).fonts[0]!;
    const next = random(1);
    const noise = new Uint8Array(1_200_000).map(() => next() * 256);
    const faceId = await bring(withTable(font, 'zzzz', noise));
    await license([faceId]);
    const found = await check(faceId, 'woff2');
    expect(found.findings.map((f) => f.code)).toEqual(['too-large']);
    const packed = Buffer.from(await (await owner.raw('GET', `/api/faces/${faceId}/as/woff2`)).arrayBuffer());
    expect((await put(packed)).status).toBe(413);
  });
  test('a wrong key, a wrong name, no font', async () => {
    const packed = readFont('serifWoff2');
    expect((await put(packed, 'x.woff2', 'wrong')).status).toBe(401);
    expect((await put(packed, 'x.woff')).status).toBe(415);
    expect((await put(packed, '..%2fx.woff2')).status).toBe(400);
    expect((await put(packed.subarray(0, 5000))).status).toBe(422);
  });
});

test('an unsettled right needs a reason, and changed words of a statement stop the delivery', async () => {
  const faceId = (await owner.bringIn([['k.ttf', readFont('khmer')]])).items[0]!.faceId!;
  const found = await check(faceId, 'woff2');
  expect(found.verdict.answer).toBe('ask');
  expect((await deliver(faceId, found.statement)).status).toBe(422);
  expect((await deliver(faceId, 'Other words', 'I asked')).status).toBe(409);
  const { answer } = await deliver(faceId, found.statement, 'I asked the maker.');
  await owner.finished(answer.jobId);
  expect((await owner.call(routes.getDelivery, { params: { deliveryId: answer.id } })).answer.items[0]).toMatchObject({
    state: 'installed',
    statement: { answer: 'ask', note: 'I asked the maker.' },
  });
  await license([faceId], [], { uses: { website: 'no' } });
  expect((await check(faceId, 'woff2')).findings.map((f) => f.severity)).toContain('stops');
  expect((await deliver(faceId, found.statement, 'Still')).status).toBe(409);
});

test('a site that does not answer is told, and nothing counts as installed', async () => {
  // Such a place is not even added; one that answered once may stop.
  const refused = await owner.call(routes.createPlace, {
    body: { name: 'Gone', profileId: 'website', address: 'http://127.0.0.1:9', key: 'k' },
  });
  expect([refused.status, JSON.stringify(refused.answer)]).toEqual([422, expect.stringMatching(/does not answer.*Nothing was kept/)]);
  expect(
    (await owner.call(routes.createPlace, { body: { name: 'Locked', profileId: 'website', address: SITE, key: 'wrong' } })).status,
  ).toBe(422);
  const { answer: dead } = await owner.call(routes.createPlace, {
    body: { name: 'Gone', profileId: 'website', address: SITE, key: 'key' },
  });
  await server.sql.query("UPDATE place SET address = 'http://127.0.0.1:9' WHERE id = ?", [dead.id]);
  const faceId = (await owner.bringIn([['l.ttf', readFont('literata')]])).items[0]!.faceId!;
  await license([faceId]);
  const statement = (
    await owner.call(routes.checkForPlace, { params: { placeId: dead.id }, body: { faceIds: [faceId], remedies: ['way'] } })
  ).answer[0]!.statement;
  const { answer } = await owner.call(routes.createDelivery, {
    body: { placeId: dead.id, faces: [{ faceId, remedies: ['way'], statement, note: '' }] },
  });
  await owner.finished(answer.jobId);
  const { items } = (await owner.call(routes.getDelivery, { params: { deliveryId: answer.id } })).answer;
  expect(items[0]).toMatchObject({ state: 'refused', message: expect.stringContaining('does not answer') });
  expect((await owner.call(routes.getFace, { params: { faceId } })).answer.installs).toEqual([]);
});

/** The files of a kit, by path. */
const unzip = (bytes: Buffer): Map<string, Buffer> => {
  writeFileSync(join(dir, 'kit.zip'), bytes);
  const list = spawnSync(
    '/usr/bin/python3',
    [
      '-c',
      `import zipfile,sys,json,base64; z=zipfile.ZipFile(sys.argv[1]); print(json.dumps([[n, base64.b64encode(z.read(n)).decode()] for n in z.namelist()]))`,
      join(dir, 'kit.zip'),
    ],
    { encoding: 'utf8', maxBuffer: 1 << 28 },
  );
  return new Map((JSON.parse(list.stdout) as [string, string][]).map(([name, data]) => [name, Buffer.from(data, 'base64')]));
};
const checkKit = async (faceId: string) => (await owner.call(routes.checkKit, { body: { faceIds: [faceId] } })).answer[0]!;
const makeKit = (faceId: string, statement: string, note = '', override = false) =>
  owner.call(routes.createKit, { body: { faces: [{ faceId, statement, note, override }] } });
const kitOf = async (id: string, layout = 'siblings'): Promise<Map<string, Buffer>> =>
  unzip(Buffer.from(await (await owner.raw('GET', `/api/kits/${id}?layout=${layout}`)).arrayBuffer()));

test('the kit has what a site builder needs, its files are the face, and its texts those of the license that gives the verdict', async () => {
  const other = OFL.toString('utf8').replace(/Source/g, 'Gochi');
  const { items } = await owner.bringIn([
    [
      'kit.zip',
      await zip([
        ['Serif/Serif.otf', readFont('serifOtf')],
        ['Serif/OFL.txt', OFL],
        ['Serif/terms.html', '<!doctype html><script>alert(1)</script><p>You may use it on websites.</p>'],
        ['Other/hand.ttf', readFont('gochiHand')],
        ['Other/LICENSE.txt', other],
      ]),
    ],
  ]);
  const faceId = items.find((i) => i.path === 'Serif/Serif.otf')!.faceId!;
  const companion = (path: string): string => items.find((i) => i.path === path)!.companionId!;
  for (const l of (await owner.call(routes.listLicenses)).answer.filter((x) => x.faceIds.includes(faceId)))
    await owner.call(routes.removeLicense, { params: { licenseId: l.id } });
  await license([faceId], [companion('Serif/OFL.txt'), companion('Serif/terms.html')]);
  const asked = await checkKit(faceId);
  expect([asked.answer, asked.verdicts.map((v) => v.use).sort()]).toEqual(['yes', ['changing', 'passing-on', 'website']]);
  const { answer: made } = await makeKit(faceId, asked.statement);
  const files = await kitOf(made.id);
  const list = [...files.keys()];
  expect(list).toEqual(
    expect.arrayContaining(['HOW-TO.txt', 'css/fonts.css', 'test.html', 'preload.html', 'tokens.json', 'server/nginx.txt']),
  );
  const font = list.find((p) => /^fonts\/Source-Serif-4-Regular\.[0-9a-f]{8}\.woff2$/.test(p))!;
  // The reader's own face stands in at the size that running text of the workspace's languages asks for.
  expect(files.get('css/fonts.css')!.toString()).toMatch(
    /"\.\.\/fonts\/Source-Serif-4-Regular\.[^;]*;[^]*local\("Times New Roman"\);\s+size-adjust: 1\d\d(\.\d+)?%/,
  );
  const flat = await kitOf(made.id, 'flat');
  expect(flat.get('fonts.css')!.toString()).toContain(`url("${font.replace('fonts/', '')}")`);
  expect(flat.has(font.replace('fonts/', ''))).toBe(true);
  // Exactly its own texts, as plain text whatever they came as.
  expect(list.filter((p) => p.startsWith('license/')).sort()).toEqual([
    'license/Source-Serif-4/ABOUT-THE-LICENSE.txt',
    'license/Source-Serif-4/OFL.txt',
    'license/Source-Serif-4/terms.html.txt',
  ]);
  expect(files.get('license/Source-Serif-4/OFL.txt')!.toString()).toMatch(/with Reserved Font Name ‘Source’/);
  expect(files.get('license/Source-Serif-4/terms.html.txt')!.toString()).not.toContain('<script');
  writeFileSync(join(dir, 'kit.woff2'), files.get(font)!);
  expect(spawnSync('ots-sanitize', [join(dir, 'kit.woff2')]).status).toBe(0);
  const [rows] = (await server.sql.query('SELECT words, answer, kit_id FROM statement WHERE kit_id = ?', [made.id])) as unknown as [
    { words: string; answer: string }[],
  ];
  expect(rows).toMatchObject([{ words: asked.statement, answer: 'yes' }]);
});

test('the kit says No where the website, changing or passing on is denied, and asks where it is open', async () => {
  const faceId = (await owner.bringIn([['m.ttf', readFont('notoSans')]])).items[0]!.faceId!;
  for (const [uses, wanted] of [
    [{ website: 'no', changing: 'yes', 'passing-on': 'yes' }, 'no'],
    [{ website: 'yes', changing: 'no', 'passing-on': 'yes' }, 'no'],
    [{ website: 'yes', changing: 'yes', 'passing-on': 'no' }, 'no'],
    [{ website: 'yes', changing: 'yes' }, 'ask'],
  ] as const) {
    const { answer: own } = await license([faceId], [], { uses });
    const asked = await checkKit(faceId);
    expect([uses, asked.answer]).toEqual([uses, wanted]);
    expect((await makeKit(faceId, asked.statement)).status).toBe(wanted === 'no' ? 409 : 422);
    if (wanted === 'ask') expect((await makeKit(faceId, asked.statement, 'The maker agreed by mail.')).status).toBe(200);
    else expect((await makeKit(faceId, asked.overrideStatement, 'On my account', true)).status).toBe(200);
    await owner.call(routes.removeLicense, { params: { licenseId: own.id } });
  }
});

test('a conversion asks the right to change the file, and an end that is near is in the check and in the statement', async () => {
  const faceId = (await owner.bringIn([['s.ttf', readFont('scheherazade')]])).items[0]!.faceId!;
  const soon = new Date(Date.now() + 20 * 86_400_000).toISOString().slice(0, 10);
  const { answer: own } = await license([faceId], [], {
    spdxId: null,
    kind: 'bought',
    uses: { website: 'yes', changing: 'no' },
    endsOn: soon,
    noticeOn: '2020-01-01',
    limits: { website: 100 },
    counters: { website: 90 },
  });
  const found = await check(faceId, 'woff2');
  // What the license forbids is shown as such and cannot be chosen; the license can be looked at.
  expect([found.fit, found.chosen]).toEqual(['does-not-fit', ['way']]);
  expect(found.findings.find((f) => f.code === 'format')!.remedies).toMatchObject([
    { id: 'way', doable: false, forbidden: expect.stringMatching(/chang/i) },
    { goTo: 'license', label: 'Open the license' },
  ]);
  expect(
    found.findings
      .filter((f) => f.severity === 'note')
      .map((f) => f.message)
      .join(' '),
  ).toMatch(new RegExp(`90 of 100 page views.*${sayDay(soon)}`));
  expect(found.statement).not.toMatch(/converted to WOFF2/);
  expect(found.statement).toContain(sayDay(soon));
  expect((await deliver(faceId, found.statement)).status).toBe(409);
  await owner.call(routes.removeLicense, { params: { licenseId: own.id } });
  await license([faceId], [], { spdxId: null, kind: 'bought', uses: { website: 'yes', changing: 'yes' } });
  expect((await check(faceId, 'woff2')).statement).toMatch(/converted to WOFF2/);
});

test('a removed file is not sent', async () => {
  const { items } = await owner.bringIn([
    ['h.ttf', readFont('gochiHand')],
    ['h.woff2', convertTo(readFont('gochiHand'), 'woff2')],
  ]);
  const faceId = items.find((i) => i.faceId)!.faceId!;
  expect((await check(faceId, null)).findings.map((f) => f.code)).not.toContain('format');
  const { files } = (await owner.call(routes.getFace, { params: { faceId } })).answer;
  await owner.call(routes.changeLibrary, { body: { act: 'remove', faceIds: [], fileIds: [files.find((f) => f.format === 'woff2')!.id] } });
  expect((await check(faceId, null)).findings.map((f) => f.code)).toContain('format');
});

test('a line of live type holds just the characters asked for', async () => {
  const faceId = (await owner.bringIn([['a.ttf', readFont('literata')]])).items[0]!.faceId!;
  const response = await owner.raw('GET', `/api/faces/${faceId}/line?text=${encodeURIComponent('Łódź')}`);
  const piece = new Uint8Array(await response.arrayBuffer());
  writeFileSync(join(dir, 'piece.ttf'), piece);
  const cmap = spawnSync(
    '/usr/bin/python3',
    ['-c', `from fontTools.ttLib import TTFont; print(sorted(TTFont('${join(dir, 'piece.ttf')}').getBestCmap()))`],
    { encoding: 'utf8' },
  ).stdout.trim();
  expect(cmap).toBe('[100, 243, 321, 378]');
  expect(piece.length).toBeLessThan(12_000);
});

test('a license keeps its former versions, and dates that contradict are refused', async () => {
  const faceId = (await owner.bringIn([['d.ttf', readFont('devanagari')]])).items[0]!.faceId!;
  const { answer: kept } = await license([faceId]);
  const body = {
    name: kept.name,
    kind: kept.kind,
    spdxId: kept.spdxId,
    grantor: '',
    uses: {},
    startsOn: '2026-05-01',
    endsOn: '2026-04-01',
    note: '',
    faceIds: [faceId],
    companionIds: [],
    confirmed: true,
    version: 1,
  };
  expect((await owner.call(routes.changeLicense, { params: { licenseId: kept.id }, body })).status).toBe(422);
  expect(
    (await owner.call(routes.changeLicense, { params: { licenseId: kept.id }, body: { ...body, endsOn: '2026-06-01' } })).answer.version,
  ).toBe(2);
  const [versions] = (await server.sql.query('SELECT version FROM license_version WHERE license_id = ? ORDER BY version', [
    kept.id,
  ])) as unknown as [{ version: number }[]];
  expect(versions.map((v) => v.version)).toEqual([1, 2]);
});

test('limits, counters, notice and price are kept with a license, refused at the field, and weigh in the verdict', async () => {
  const person = await newOwner(server.address);
  await person.bringIn([
    ['a.ttf', readFont('gochiHand')],
    ['terms.txt', new TextEncoder().encode('You may use the font on your website up to 1,000 page views. You may not use it in apps.')],
  ]);
  const face = (await person.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  const fields = {
    ...blankLicense([face]),
    name: 'Web license',
    kind: 'bought' as const,
    confirmed: true,
    grantor: 'Invented Foundry',
    uses: { website: 'yes' as const },
  };
  const save = (more: object) => person.call(routes.createLicense, { body: { ...fields, ...more } });
  const refused = async (more: object): Promise<string | undefined> => {
    const { status, answer } = (await save(more)) as unknown as { status: number; answer: { error: { field?: string } } };
    expect(status).toBe(422);
    return answer.error.field;
  };
  expect(await refused({ limits: { website: -1 } })).toBe('limits.website');
  expect(await refused({ counters: { website: 0.5 } })).toBe('counters.website');
  expect(await refused({ price: 10, currency: 'XXQ' })).toBe('currency');
  expect(await refused({ price: 10, currency: null })).toBe('currency');
  expect(await refused({ endsOn: '2026-01-01', noticeOn: '2026-02-01' })).toBe('noticeOn');
  const { answer: license } = await save({
    limits: { website: 1000 },
    counters: { website: 900 },
    quotes: { website: 'Up to 1,000 page views.' },
    price: 49.9,
    currency: 'EUR',
    boughtOn: '2026-03-01',
    billedTo: 'A customer',
  });
  expect(license).toMatchObject({ limits: { website: 1000 }, price: 49.9, currency: 'EUR', billedTo: 'A customer' });
  const verdictNow = async () =>
    (await person.call(routes.getFace, { params: { faceId: face } })).answer.verdicts.find((v) => v.use === 'website')!;
  expect(await verdictNow()).toMatchObject({ answer: 'yes', attention: true, quote: 'Up to 1,000 page views.', remedy: null });
  expect((await person.call(routes.getDesk)).answer.map((d) => d.kind)).toContain('limit');
  await person.call(routes.changeLicense, {
    params: { licenseId: license.id },
    body: { ...fields, limits: { website: 1000 }, counters: { website: 1001 }, version: license.version },
  });
  expect(await verdictNow()).toMatchObject({ answer: 'no', reasons: [expect.stringContaining('1,001 of 1,000 page views')] });
  const terms = (await person.call(routes.getFace, { params: { faceId: face } })).answer.companions[0]!;
  const { answer: read } = await person.call(routes.readCompanion, { params: { companionId: terms.id } });
  expect(read.reading!.suggestions.map((x) => [x.use, x.answer, x.limit])).toEqual([
    ['website', 'yes', 1000],
    ['online-store', 'yes', 1000],
    ['app', 'no', null],
  ]);
});

test('what was changed of a license is told version by version, and its end stands in a calendar under a secret address', async () => {
  const person = await newOwner(server.address, 'Calendar Shop');
  await person.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await person.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  const fields = {
    ...blankLicense([face]),
    name: 'Yearly',
    kind: 'subscription' as const,
    endsOn: '2027-03-01',
    uses: { website: 'yes' as const },
  };
  const { answer: license } = await person.call(routes.createLicense, { body: fields });
  await person.call(routes.changeLicense, {
    params: { licenseId: license.id },
    body: { ...fields, endsOn: '2028-03-01', noticeOn: '2028-02-01', uses: { website: 'no' as const }, version: license.version },
  });
  const { answer: history } = await person.call(routes.getLicenseHistory, { params: { licenseId: license.id } });
  expect(history.map((h) => [h.version, h.changes])).toEqual([
    [2, ['Until: “2027-03-01” became “2028-03-01”.', 'Warning from: nothing became “2028-02-01”.', 'Website: Yes became No.']],
    [1, ['Recorded.']],
  ]);
  expect((await person.call(routes.getCalendar)).answer.path).toBeNull();
  const { answer: made } = await person.call(routes.renewCalendar, { body: {} });
  const read = (path: string): Promise<Response> => fetch(server.address + path);
  const response = await read(made.path!);
  expect(response.headers.get('content-type')).toContain('text/calendar');
  const text = await response.text();
  expect(text).toContain('DTSTART;VALUE=DATE:20280301');
  expect(text).toContain('DTSTART;VALUE=DATE:20280201');
  await person.call(routes.renewCalendar, { body: {} });
  expect((await read(made.path!)).status).toBe(404);
});
