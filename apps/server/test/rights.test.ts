import { spawnSync, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { documentKind, readDocument } from '@orderly-glyph/node';
import { blankLicense, routes, USES, type Answer, type LicenseFields } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newMember, newOwner, startServer, startSite, type Person, type TestServer } from './setup.js';
import { unzip, zip } from './zips.js';

const PORT = Number(process.env.TEST_PORT_BASE ?? 4400) + 95;
const dir = mkdtempSync(join(tmpdir(), 'glyph-'));
const OFL = readFileSync(join(process.cwd(), 'node_modules/source-serif/LICENSE.md'));
let server: TestServer;
let site: ChildProcess;
let owner: Person;
let placeId: string;

beforeAll(async () => {
  server = await startServer();
  site = await startSite(PORT, dir);
  owner = await newOwner(server.address, 'Rights');
  placeId = (
    await owner.call(routes.createPlace, {
      body: { name: 'The shop', profileId: 'website', address: `http://127.0.0.1:${PORT}`, key: 'key' },
    })
  ).answer.id;
});
afterAll(async () => {
  site.kill();
  await server.stop();
  rmSync(dir, { recursive: true, force: true });
});

const text = (value: string): Uint8Array => new TextEncoder().encode(value);
const fields = (faceIds: string[], changes: Partial<LicenseFields> = {}): LicenseFields => ({
  ...blankLicense(faceIds),
  name: 'A license',
  kind: 'bought',
  confirmed: true,
  ...changes,
});
const keep = async (person: Person, body: LicenseFields): Promise<Answer<typeof routes.createLicense>> =>
  (await person.call(routes.createLicense, { body })).answer;
const bytesOf = async (person: Person, method: string, path: string, body?: object): Promise<Buffer> => {
  const response = await person.raw(method, path, body && JSON.stringify(body), body ? { 'content-type': 'application/json' } : {});
  expect(response.status).toBe(200);
  return Buffer.from(await response.arrayBuffer());
};
const textOf = async (data: Buffer): Promise<string> => {
  const view = new Uint8Array(data);
  return (await readDocument(view, documentKind(view)!)).text!.replace(/\s+/g, ' ');
};
const addEvidence = (person: Person, licenseId: string, name: string, data: Uint8Array): Promise<Response> =>
  person.raw('POST', `/api/licenses/${licenseId}/evidence?name=${encodeURIComponent(name)}`, data as BodyInit, {
    'content-type': 'application/octet-stream',
  });

test('companions of every kind are kept, read or told why not, and recognized', async () => {
  const person = await newOwner(server.address);
  // Letters beyond ASCII as RTF writes them: \\uN with what older readers show.
  const rtf = `{\\rtf1\\ansi ${OFL.toString('utf8')
    .replace(/[\\{}]/g, ' ')
    .replace(/[^\0-\x7f]/gu, (c) => `\\u${c.codePointAt(0)}?`)
    .replace(/\n/g, '\\par\n')}}`;
  const { items, suggestions } = await person.bringIn([
    [
      'bundle.zip',
      await zip([
        ['a.ttf', readFont('gochiHand')],
        ['OFL.rtf', text(rtf)],
        ['locked.pdf', text('%PDF-1.4 broken')],
        ['receipt.jpg', new Uint8Array([0xff, 0xd8, 0xff, 0xe0, 0, 16])],
        ['UTF-16.txt', new Uint8Array(Buffer.from('\ufeffYou may use the font on your website.', 'utf16le'))],
      ]),
    ],
    ['long.txt', text('terms of use '.repeat(900_000))],
  ]);
  const state = Object.fromEntries(items.map((i) => [i.path, [i.state, i.reason]]));
  expect(Object.values(state).map(([s]) => s)).toEqual(['added', ...new Array(5).fill('companion')]);
  expect(state['OFL.rtf']![1]).toBe('Terms: SIL Open Font License 1.1.');
  expect(state['locked.pdf']![1]).toMatch(/could not be read/);
  expect(state['long.txt']![1]).toMatch(/longer than any terms/);
  expect(suggestions.map((x) => x.suggestion)).toContainEqual(
    expect.objectContaining({ spdxId: 'OFL-1.1', basis: 'text', reservedNames: ['Source'] }),
  );
  const face = (await person.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  const { companions } = (await person.call(routes.getFace, { params: { faceId: face } })).answer;
  const read = async (name: string) =>
    (await person.call(routes.readCompanion, { params: { companionId: companions.find((c) => c.name === name)!.id } })).answer;
  expect(companions.find((c) => c.name === 'receipt.jpg')).toMatchObject({
    kind: 'picture',
    readable: false,
    unread: expect.stringContaining('picture'),
  });
  expect(await read('OFL.rtf')).toMatchObject({ recognised: [{ spdxId: 'OFL-1.1' }], near: null, reading: null });
  expect((await read('UTF-16.txt')).reading!.suggestions.map((s) => [s.use, s.answer])).toContainEqual(['website', 'yes']);
  // Nothing is lost: what could not be read is still there byte for byte.
  const locked = companions.find((c) => c.name === 'locked.pdf')!;
  expect((await bytesOf(person, 'GET', `/api/companions/${locked.id}/bytes`)).toString()).toBe('%PDF-1.4 broken');
});

test('a text that only resembles a known license is shown with what differs, and counts as free-form terms', async () => {
  const person = await newOwner(server.address);
  const twisted = OFL.toString('utf8').replace(/Permission is hereby granted, free of charge/, 'Permission is not granted, free of charge');
  const { suggestions } = await person.bringIn([
    ['a.otf', readFont('serifOtf')],
    ['OFL.txt', text(twisted)],
  ]);
  // That it calls itself by the license's name is a hint and answers nothing.
  expect(suggestions).toMatchObject([
    {
      suggestion: { basis: 'mention', spdxId: 'OFL-1.1', answers: {}, doubt: expect.stringMatching(/\S/) },
      companionName: 'OFL.txt',
      families: ['Source Serif 4'],
    },
  ]);
  const { answer } = await person.call(routes.readCompanion, { params: { companionId: suggestions[0]!.companionId } });
  expect(answer.recognised).toEqual([]);
  expect(answer.near).toMatchObject({ spdxId: 'OFL-1.1' });
  expect(answer.near!.differences.some((d) => d.expected.includes('hereby') && d.found.includes('not'))).toBe(true);
  expect(answer.reading).not.toBeNull();
});

test('evidence added to a license is read, makes a new version, and fonts are no evidence', async () => {
  const person = await newOwner(server.address);
  await person.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await person.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  const license = await keep(person, fields([face]));
  const response = await addEvidence(person, license.id, 'receipt.txt', text('Receipt 12. Order number 77. Amount paid 20 EUR'));
  expect(await response.json()).toMatchObject({ name: 'receipt.txt', kind: 'receipt', readable: true });
  const [after] = (await person.call(routes.listLicenses)).answer;
  expect(after).toMatchObject({ version: 2, companions: [{ name: 'receipt.txt' }] });
  const { answer: history } = await person.call(routes.getLicenseHistory, { params: { licenseId: license.id } });
  expect(history[0]!.changes).toEqual(['1 evidence file added.']);
  for (const [name, data, status] of [
    ['a.ttf', readFont('gochiHand'), 422],
    ['empty.txt', new Uint8Array(0), 422],
    ['junk.bin', new Uint8Array([1, 2, 3, 0, 4]), 422],
    ['huge.txt', new Uint8Array(26 * 1024 * 1024), 413],
  ] as const)
    expect((await addEvidence(person, license.id, name, data)).status).toBe(status);
  expect((await person.call(routes.listLicenses)).answer[0]!.companions).toHaveLength(1);
});

test('starting points of the workspace are kept, replaced by name and forgotten', async () => {
  const person = await newOwner(server.address);
  const point = {
    name: 'Our usual shop',
    hint: '',
    kind: 'bought' as const,
    uses: { logo: 'yes' as const },
    limits: { 'design-work': 3 },
    duties: ['Credit.'],
  };
  const { answer: kept } = await person.call(routes.keepStartingPoint, { body: point });
  expect(kept).toMatchObject([point]);
  const { answer: replaced } = await person.call(routes.keepStartingPoint, { body: { ...point, name: 'our usual SHOP', limits: {} } });
  expect(replaced).toMatchObject([{ id: kept[0]!.id, name: 'our usual SHOP', limits: {} }]);
  await person.call(routes.dropStartingPoint, { params: { startingPointId: kept[0]!.id } });
  expect((await person.call(routes.listStartingPoints)).answer).toEqual([]);
});

test('faces of one family under different licenses are told apart; the family’s answer is that of its leading face', async () => {
  const person = await newOwner(server.address);
  await person.bringIn([
    ['regular.otf', readFont('serifOtf')],
    ['bold.otf', readFileSync(join(process.cwd(), 'node_modules/source-serif/OTF/SourceSerif4-Bold.otf'))],
  ]);
  const [family] = (await person.call(routes.listFamilies)).answer.families;
  const [a, b] = family!.faces.map((f) => f.id) as [string, string];
  await keep(person, fields([a], { uses: { website: 'yes', logo: 'yes' } }));
  await keep(
    person,
    fields([b], { uses: { website: 'no', logo: 'yes' }, limits: { 'printed-goods': 10 }, counters: { 'printed-goods': 11 } }),
  );
  const [now] = (await person.call(routes.listFamilies)).answer.families;
  expect(now!.leadFaceId).toBe(a);
  expect([now!.verdicts.website, now!.verdicts.logo, now!.limit]).toEqual(['yes', 'yes', 'over']);
  expect(now!.groups.map((g) => [g.faceIds, g.verdicts.website])).toEqual([
    [[a], 'yes'],
    [[b], 'no'],
  ]);
});

test('a No is refused at delivery unless an owner overrides it with a reason, which statement and audit show', async () => {
  await owner.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await owner.call(routes.listFamilies)).answer.families.find((f) => f.name === 'Gochi Hand')!.leadFaceId;
  const license = await keep(owner, fields([face], { name: 'Print only', uses: { website: 'no', 'printed-goods': 'yes' } }));
  const editor = await newMember(owner, 'editor');
  const { answer: checks } = await owner.call(routes.checkForPlace, { params: { placeId }, body: { faceIds: [face], remedies: ['way'] } });
  const check = checks[0]!;
  expect(check).toMatchObject({ clear: false, overridable: true, verdict: { answer: 'no' } });
  const send = (person: Person, statement: string, note: string, override: boolean) =>
    person.call(routes.createDelivery, {
      body: { placeId, faces: [{ faceId: face, remedies: ['way'], statement, note, override }] },
    });
  expect((await send(owner, check.statement, 'because', false)).status).toBe(409);
  expect((await send(editor, check.overrideStatement, 'because', true)).status).toBe(403);
  expect((await send(owner, check.overrideStatement, '', true)).status).toBe(422);
  // Nobody is made to declare a right that the record denies.
  expect((await send(owner, check.statement, 'because', true)).status).toBe(409);
  const { answer: delivery } = await send(owner, check.overrideStatement, 'The maker said yes by telephone', true);
  expect(await owner.finished(delivery.jobId)).toBe('done');
  const { answer: done } = await owner.call(routes.getDelivery, { params: { deliveryId: delivery.id } });
  expect(done.items[0]).toMatchObject({
    state: 'installed',
    statement: {
      words: check.overrideStatement,
      answer: 'no',
      overridden: true,
      note: 'The maker said yes by telephone',
      licenseName: 'Print only',
    },
  });
  const { answer: desk } = await owner.call(routes.getDesk);
  expect(desk[0]).toMatchObject({ kind: 'no-right', message: expect.stringContaining('Gochi Hand') });

  const { answer: audit } = await owner.call(routes.getAudit, { query: {} });
  expect(audit.problems).toBe(1);
  expect(audit.rows[0]).toMatchObject({
    face: 'Gochi Hand Regular',
    use: 'website',
    place: 'The shop',
    today: 'no',
    license: 'Print only',
    overrides: [{ person: 'Test Owner', note: 'The maker said yes by telephone' }],
  });
  // A face that stands behind another is still where it is.
  await server.sql.query('UPDATE face SET folded_into = id WHERE id = ?', [face]);
  expect((await owner.call(routes.getAudit, { query: {} })).answer.rows[0]).toMatchObject({ face: 'Gochi Hand Regular', problem: true });
  await server.sql.query('UPDATE face SET folded_into = NULL WHERE id = ?', [face]);
  // On another day another license counts.
  const tomorrow = new Date(Date.now() + 40 * 86_400_000).toISOString().slice(0, 10);
  await keep(owner, fields([face], { name: 'From tomorrow', uses: { website: 'yes' }, startsOn: tomorrow }));
  const { answer: later } = await owner.call(routes.getAudit, { query: { day: tomorrow } });
  expect(later.rows[0]).toMatchObject({ today: 'no', onDay: 'yes', reasonOnDay: expect.stringContaining('From tomorrow') });

  const csv = (await bytesOf(owner, 'GET', '/api/rights/audit/file?as=csv')).toString('utf8');
  expect(csv.split('\r\n')[1]).toContain('Gochi Hand Regular,Website,The shop');
  const json = JSON.parse((await bytesOf(owner, 'GET', `/api/rights/audit/file?as=json&day=${tomorrow}`)).toString('utf8')) as {
    rows: unknown[];
  };
  expect(json.rows).toHaveLength(later.rows.length);
  const report = await textOf(await bytesOf(owner, 'GET', '/api/rights/audit/file?as=pdf'));
  expect(report).toContain('Gochi Hand Regular');
  expect(report).toContain('went ahead');
  expect((await owner.call(routes.removeLicense, { params: { licenseId: license.id } })).status).toBe(200);
});

test('proof of rights: a PDF that says what is on record, and a ZIP whose hashes sha256sum confirms', async () => {
  const person = await newOwner(server.address, 'Proof & Söhne');
  const { items } = await person.bringIn([
    [
      'serif.zip',
      await zip([
        ['Serif.otf', readFont('serifOtf')],
        ['LICENSE.md', OFL],
      ]),
    ],
  ]);
  const face = items.find((i) => i.faceId)!.faceId!;
  const terms = items.find((i) => i.companionId)!.companionId!;
  const license = await keep(
    person,
    fields([face], {
      name: '../Tricky: "name"\n',
      kind: 'open',
      spdxId: 'OFL-1.1',
      uses: Object.fromEntries(USES.map((u) => [u, 'yes'])),
      companionIds: [terms],
      orderNumber: 'N-17',
      duties: ['=cmd|danger'],
    }),
  );
  await addEvidence(person, license.id, 'LICENSE.md', text('Receipt, order number 9'));
  const body = { faceIds: [face], use: 'website', as: 'pdf' };
  const report = await textOf(await bytesOf(person, 'POST', '/api/rights/proof', body));
  for (const part of [
    'Proof of rights: website',
    'Proof & Söhne',
    'Source Serif 4 Regular',
    'SPDX OFL-1.1',
    'order N-17',
    'Permission is hereby granted',
    'Pass the license text along',
  ])
    expect(report).toContain(part);
  const files = await unzip(await bytesOf(person, 'POST', '/api/rights/proof', { ...body, as: 'zip' }));
  expect([...files.keys()].every((name) => !name.includes('..') && !name.startsWith('/'))).toBe(true);
  // Two evidence files of one name both are there.
  expect([...files.keys()].filter((n) => n.startsWith('licenses/')).length).toBe(2);
  expect([...files.values()].some((b) => b.equals(OFL))).toBe(true);
  const out = join(dir, 'proof');
  for (const [name, data] of files) {
    mkdirSync(dirname(join(out, name)), { recursive: true });
    writeFileSync(join(out, name), data);
  }
  const checked = spawnSync('sha256sum', ['-c', 'SHA256SUMS'], { cwd: out, encoding: 'utf8' });
  expect([checked.status, checked.stdout.trim().split('\n').length]).toEqual([0, files.size - 1]);
  const { answer: file } = await person.call(routes.getFace, { params: { faceId: face } });
  expect(files.get('faces.csv')!.toString('utf8')).toContain(file.files[0]!.sha256);
});

test('a proof names no face of another workspace', async () => {
  const other = await newOwner(server.address);
  const face = (await owner.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  for (const as of ['pdf', 'zip'])
    expect((await other.call(routes.writeProofOfRights, { body: { faceIds: [face], use: 'website', as: as as 'pdf' } })).status).toBe(404);
});

test('a pasted text is read and nothing of it is kept; words around a license that narrow it come along', async () => {
  const person = await newOwner(server.address);
  const read = async (value: string) => (await person.call(routes.readTermsText, { body: { text: value } })).answer;
  expect(await read('You may use the font on your website. Please credit the author.')).toMatchObject({
    recognised: [],
    near: null,
    reading: {
      english: true,
      passages: [
        { use: 'website', sentences: [{ sentence: 'You may use the font on your website.', start: 0, context: null }] },
        { use: 'online-store' },
      ],
      // A credit conditions every use, so nothing is suggested.
      general: [{ sentence: 'Please credit the author.' }],
      suggestions: [],
    },
  });
  const narrowed = await read(`For personal use only!\n\n${OFL.toString('utf8')}`);
  expect(narrowed.recognised.map((r) => r.spdxId)).toEqual(['OFL-1.1']);
  expect(narrowed.narrowing.map((n) => n.use)).toContain('printed-goods');
  expect(narrowed.reading!.general.map((g) => g.sentence)).toContain('For personal use only!');
  expect((await person.call(routes.readTermsText, { body: { text: '' } })).status).toBe(422);
  const [[{ count }]] = (await server.sql.query('SELECT COUNT(*) AS count FROM companion WHERE content LIKE ?', [
    '%credit the author%',
  ])) as unknown as [[{ count: number }]];
  expect(Number(count)).toBe(0);
});

test('a license taken off record comes back with its faces, its evidence and its versions', async () => {
  const person = await newOwner(server.address);
  await person.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await person.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  const license = await keep(person, fields([face], { uses: { logo: 'yes' } }));
  const logo = async () => (await person.call(routes.listFamilies)).answer.families[0]!.verdicts.logo;
  expect(await logo()).toBe('yes');
  await person.call(routes.removeLicense, { params: { licenseId: license.id } });
  expect(await logo()).toBe('ask');
  const { answer } = await person.call(routes.restoreLicense, { params: { licenseId: license.id } });
  expect([answer.faceIds, answer.version, await logo()]).toEqual([[face], 3, 'yes']);
  // Both stand in its history.
  const { answer: history } = await person.call(routes.getLicenseHistory, { params: { licenseId: license.id } });
  expect(history.map((h) => h.changes)).toEqual([['Put back on record.'], ['Taken off record.'], ['Recorded.']]);
  expect((await person.call(routes.restoreLicense, { params: { licenseId: license.id } })).status).toBe(404);
});

test('a stale save is refused, and both stay', async () => {
  const person = await newOwner(server.address);
  await person.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await person.call(routes.listFamilies)).answer.families[0]!;
  const body = fields([face.leadFaceId], { uses: { logo: 'yes' } });
  const license = await keep(person, body);
  const change = (note: string, version: number) =>
    person.call(routes.changeLicense, { params: { licenseId: license.id }, body: { ...body, note, version } });
  expect((await change('first', 1)).status).toBe(200);
  const late = await change('second', 1);
  expect([late.status, (late.answer as unknown as { error: { code: string } }).error.code]).toEqual([409, 'stale']);
  expect((await person.call(routes.listLicenses)).answer[0]).toMatchObject({ note: 'first', version: 2 });
  expect((await change('second', 2)).answer.version).toBe(3);
  // Families and places alike.
  const { answer: family } = await person.call(routes.getFamily, { params: { familyId: face.id } });
  const note = (text: string, version: number) =>
    person.call(routes.changeLibrary, { body: { act: 'note', familyIds: [family.id], note: text, version } });
  expect((await note('one', family.version)).status).toBe(200);
  expect((await note('two', family.version)).status).toBe(409);
  const { answer: place } = await person.call(routes.createPlace, {
    body: { name: 'Site', profileId: 'website', address: `http://127.0.0.1:${PORT}`, key: 'key' },
  });
  const rename = (name: string, version: number) =>
    person.call(routes.changePlace, { params: { placeId: place.id }, body: { name, address: place.address, key: '', version } });
  expect((await rename('Shop', place.version)).answer).toMatchObject({ name: 'Shop', version: place.version + 1 });
  expect((await rename('Other', place.version)).status).toBe(409);
});

test('terms begin and end by the days of the workspace', async () => {
  const person = await newOwner(server.address);
  await person.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await person.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  // Kiribati is 25 hours ahead of Niue, so it is never one day in both (IANA time zone database).
  const dayIn = (zone: string): string => new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short' }).format(new Date());
  const [ahead, behind] = ['Pacific/Kiritimati', 'Pacific/Niue'] as const;
  expect(dayIn(ahead) > dayIn(behind)).toBe(true);
  await keep(person, fields([face], { uses: { logo: 'yes' }, endsOn: dayIn(behind) }));
  const answerIn = async (timeZone: string): Promise<string> => {
    expect((await person.call(routes.changeWorkspace, { body: { name: 'W', timeZone } })).answer.workspace!.timeZone).toBe(timeZone);
    return (await person.call(routes.listFamilies)).answer.families[0]!.verdicts.logo!;
  };
  expect([await answerIn(behind), await answerIn(ahead)]).toEqual(['yes', 'no']);
  expect((await person.call(routes.changeWorkspace, { body: { name: 'W', timeZone: 'Nowhere/Land' } })).status).toBe(422);
});

test('a recorded No counts although the kind is not known', async () => {
  const person = await newOwner(server.address);
  await person.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await person.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  await keep(person, fields([face], { kind: 'unknown', uses: { website: 'no', logo: 'yes' } }));
  const { verdicts } = (await person.call(routes.listFamilies)).answer.families[0]!;
  expect([verdicts.website, verdicts.logo, verdicts.app]).toEqual(['no', 'yes', 'ask']);
  // One place decides: what the list of licenses shows is the server's answer, too.
  const [license] = (await person.call(routes.listLicenses)).answer;
  expect([license!.answers.website, license!.answers.logo, license!.answers.app]).toEqual(['no', 'yes', 'ask']);
});

test('half a character is refused at its field', async () => {
  const person = await newOwner(server.address);
  await person.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await person.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  const { status, answer } = (await person.call(routes.createLicense, { body: fields([face], { name: 'a\ud800b' }) })) as unknown as {
    status: number;
    answer: { error: { field: string } };
  };
  expect([status, answer.error.field]).toEqual([422, 'name']);
});

test('taking a license off record and putting it back stands in its history', async () => {
  const person = await newOwner(server.address);
  const { items } = await person.bringIn([['hand.ttf', readFont('gochiHand')]]);
  const license = await keep(person, fields([items[0]!.faceId!]));
  expect((await person.call(routes.removeLicense, { params: { licenseId: license.id } })).status).toBe(200);
  expect((await person.call(routes.listLicenses)).answer).toEqual([]);
  const { answer: back } = await person.call(routes.restoreLicense, { params: { licenseId: license.id } });
  expect([back.version, back.name]).toEqual([3, license.name]);
  const { answer: history } = await person.call(routes.getLicenseHistory, { params: { licenseId: license.id } });
  expect(history.map((h) => [h.version, h.changes])).toEqual([
    [3, ['Put back on record.']],
    [2, ['Taken off record.']],
    [1, expect.anything()],
  ]);
});
