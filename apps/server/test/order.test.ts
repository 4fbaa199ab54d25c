import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { KEEP_RULE, routes, type ChangeDone, type Family, type LibraryAct } from '@orderly-glyph/schema';
import { nodeCodec } from '@orderly-glyph/node';
import { readFontFile } from '../../../packages/core/src/sfnt/index.js';
import { convertTo } from '../../../packages/core/test/face.js';
import { FONTS, readFont, withTable } from '../../../packages/core/test/fonts.js';
import { newMember, newOwner, Person, startServer, type TestServer } from './setup.js';

let server: TestServer;
let owner: Person;
beforeAll(async () => {
  server = await startServer();
});
beforeEach(async () => {
  owner = await newOwner(server.address);
});
afterAll(() => server.stop());

const caveat = (package_: 'older' | 'newer', bold = false): Uint8Array => {
  const style = bold ? '700Bold' : '400Regular';
  return new Uint8Array(
    readFileSync(
      join(
        process.cwd(),
        'node_modules',
        package_ === 'older' ? `caveat-before/Caveat_${style}.ttf` : `@expo-google-fonts/caveat/${style}/Caveat_${style}.ttf`,
      ),
    ),
  );
};
const families = async (): Promise<Family[]> => (await owner.call(routes.listFamilies)).answer.families;
const family = async (name: string): Promise<Family> => (await families()).find((f) => f.name === name)!;
const act = async (body: LibraryAct): Promise<ChangeDone & { status: number }> => {
  const { status, answer } = await owner.call(routes.changeLibrary, { body });
  return { status, ...answer };
};
const undo = (changeId: string | null) => owner.call(routes.undoChange, { params: { changeId: changeId! } });
/** What the library shows, without times, to compare before and after. */
const shown = async (): Promise<unknown> => {
  const { answer: shelf } = await owner.call(routes.getShelf);
  return JSON.parse(JSON.stringify([await families(), { ...shelf, collections: shelf.collections.map((c) => [c.name, c.familyIds]) }]));
};

test('every act can be undone, and the list follows at once', async () => {
  await owner.bringIn([
    ['a.ttf', readFont('gochiHand')],
    ['b.ttf', readFont('didot')],
    ['c.ttf', caveat('newer')],
    ['d.ttf', caveat('newer', true)],
  ]);
  const [gochi, didot, caveats] = [await family('Gochi Hand'), await family('GFS Didot'), await family('Caveat')];
  const acts: [LibraryAct, (f: Family[]) => unknown, unknown][] = [
    [{ act: 'favorite', familyIds: [gochi.id, didot.id], on: true }, (f) => f.filter((x) => x.favorite).length, 2],
    [
      { act: 'label', familyIds: [gochi.id], add: ['aprons', 'totes'], remove: [] },
      (f) => f.find((x) => x.id === gochi.id)!.labels,
      ['aprons', 'totes'],
    ],
    [{ act: 'note', familyIds: [didot.id], note: 'For the almanac.' }, (f) => f.find((x) => x.id === didot.id)!.note, 'For the almanac.'],
    [{ act: 'archive', familyIds: [didot.id], on: true }, (f) => f.find((x) => x.id === didot.id)!.archived, true],
    [{ act: 'rename-family', familyId: didot.id, name: 'Almanac' }, (f) => f.some((x) => x.name === 'Almanac'), true],
    [{ act: 'merge', familyIds: [gochi.id, didot.id], into: gochi.id }, (f) => f.length, 2],
    [{ act: 'split', faceIds: [caveats.faces[1]!.id], name: 'Caveat Signs' }, (f) => f.length, 4],
    [{ act: 'kind', faceIds: [gochi.leadFaceId], kind: 'serif' }, (f) => f.find((x) => x.id === gochi.id)!.kind, 'serif'],
    [
      { act: 'rename-style', faceId: gochi.leadFaceId, style: 'Marker' },
      (f) => f.find((x) => x.id === gochi.id)!.faces[0]!.style,
      'Marker',
    ],
  ];
  const before = await shown();
  for (const [body, look, expected] of acts) {
    const { changeId, status } = await act(body);
    expect([body.act, status]).toEqual([body.act, 200]);
    expect([body.act, look(await families())]).toEqual([body.act, expected]);
    expect((await undo(changeId)).status).toBe(200);
    expect([body.act, await shown()]).toEqual([body.act, before]);
    expect((await undo(changeId)).status).toBe(409);
  }
  const made = await act({ act: 'collect', collectionId: null, name: 'Spring', familyIds: [gochi.id], on: true });
  const { answer: shelf } = await owner.call(routes.getShelf);
  expect(shelf.collections).toMatchObject([{ name: 'Spring', familyIds: [gochi.id] }]);
  const collectionId = shelf.collections[0]!.id;
  expect((await owner.call(routes.findFamilies, { query: { collection: collectionId } })).answer.ids).toEqual([gochi.id]);
  expect((await act({ act: 'collect', collectionId: null, name: 'spring', familyIds: [didot.id], on: true })).status).toBe(409);
  await undo(made.changeId);
  expect(await shown()).toEqual(before);
});

test('undoing leaves alone what was changed again since, and says so', async () => {
  await owner.bringIn([['a.ttf', readFont('gochiHand')]]);
  const { id } = await family('Gochi Hand');
  const first = await act({ act: 'rename-family', familyId: id, name: 'One' });
  await act({ act: 'rename-family', familyId: id, name: 'Two' });
  const { answer } = await undo(first.changeId);
  expect(answer.left).toHaveLength(1);
  expect((await families())[0]!.name).toBe('Two');
});

test('a merged family takes in what comes later under its old name, and a split one keeps its faces on a second reading', async () => {
  await owner.bringIn([
    ['a.ttf', caveat('newer')],
    ['b.ttf', readFont('gochiHand')],
  ]);
  const [caveats, gochi] = [await family('Caveat'), await family('Gochi Hand')];
  await act({ act: 'merge', familyIds: [caveats.id], into: gochi.id });
  await owner.bringIn([['c.ttf', caveat('newer', true)]]);
  expect((await families()).map((f) => [f.name, f.faces.length])).toEqual([['Gochi Hand', 3]]);
  const { answer: detail } = await owner.call(routes.getFamily, { params: { familyId: gochi.id } });
  expect(detail.taken.map((t) => t.name)).toEqual(['Caveat']);
  await server.sql.query('UPDATE derived SET version = 0');
  await server.kill();
  await server.restart();
  for (;;) {
    const { answer } = await owner.call(routes.getShelf);
    if (answer.stale === 0 && answer.refreshJobId === null) break;
    await new Promise((r) => setTimeout(r, 100));
  }
  expect((await families()).map((f) => [f.name, f.faces.length])).toEqual([['Gochi Hand', 3]]);
  // The name that was merged away is still known after the second reading.
  await owner.bringIn([['d.ttf', caveat('older')]]);
  expect((await families()).map((f) => [f.name, f.faces.length])).toEqual([['Gochi Hand', 4]]);
});

test('versions are folded by the rule, the newest leading, and a licensed older one is left with its reason', async () => {
  await owner.bringIn([
    ['old.ttf', caveat('older')],
    ['old-bold.ttf', caveat('older', true)],
    ['new.ttf', caveat('newer')],
    ['new-bold.ttf', caveat('newer', true)],
  ]);
  const before = await family('Caveat');
  expect(before.faces).toHaveLength(4);
  const { answer: doubles } = await owner.call(routes.listDoubles);
  expect(doubles.groups.map((g) => [g.kind, g.faces.map((f) => f.version?.slice(0, 11))])).toEqual([
    ['versions', ['Version 2.0', 'Version 1.5']],
    ['versions', ['Version 2.0', 'Version 1.5']],
  ]);
  const [newer, older] = doubles.groups.find((g) => g.faces[0]!.style === 'Bold')!.faces;
  await owner.call(routes.createLicense, { body: license([older!.faceId]) });
  const done = await act({ act: 'resolve', rule: KEEP_RULE });
  expect(done.left).toHaveLength(1);
  expect(done.left[0]).toMatch(/Caveat Bold.*stays in the list.*license/);
  expect((await family('Caveat')).faces).toHaveLength(3);
  const kept = (await owner.call(routes.listDoubles)).answer.folded[0]!;
  const { answer: face } = await owner.call(routes.getFace, { params: { faceId: kept.foldedInto! } });
  expect(face.folded.map((f) => f.id)).toEqual([kept.faceId]);
  const { answer: changes } = await owner.call(routes.getVersionChanges, {
    params: { faceId: older!.faceId },
    query: { newer: newer!.faceId },
  });
  expect(changes.counts.changed).toBeGreaterThan(700);
  await undo(done.changeId);
  expect((await family('Caveat')).faces).toHaveLength(4);
});

const license = (faceIds: string[]) => ({
  name: 'Ours',
  kind: 'made-here' as const,
  spdxId: null,
  grantor: '',
  uses: { website: 'yes' as const },
  startsOn: null,
  endsOn: null,
  note: '',
  faceIds,
  companionIds: [],
  confirmed: true,
});

test('the same outlines under another name are found and told apart, and no rule hides one behind the other', async () => {
  const dir = mkdtempSync(join(tmpdir(), 'renamed-'));
  const script =
    "import sys; from fontTools.ttLib import TTFont; f = TTFont(sys.argv[1]); [f['name'].setName('Market Hand', i, 3, 1, 0x409) for i in (1, 4, 6, 16)]; f.save(sys.argv[2])";
  execFileSync('/usr/bin/python3', ['-c', script, FONTS.gochiHand, join(dir, 'renamed.ttf')]);
  const renamed = new Uint8Array(readFileSync(join(dir, 'renamed.ttf')));
  await owner.bringIn([['a.ttf', readFont('gochiHand')]]);
  await owner.bringIn([['b.ttf', renamed]]);
  const copy = await family('Market Hand');
  await owner.call(routes.createLicense, { body: license([copy.leadFaceId]) });
  const { answer } = await owner.call(routes.listDoubles);
  expect(answer.groups.map((g) => [g.kind, g.faces.length, g.differs])).toEqual([['same-outlines', 2, ['names']]]);
  const done = await act({ act: 'resolve', rule: KEEP_RULE });
  expect(done.left[0]).toMatch(/stay in the list: their names differ/);
  expect((await families()).map((f) => f.name)).toEqual(['Gochi Hand', 'Market Hand']);
});

test('a color version is no double of the plain one, and what a person folds is still found by its name', async () => {
  const plain = readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!;
  // An empty COLR table of version 0 (OpenType specification): no glyph has layers.
  const colr = new Uint8Array(14);
  new DataView(colr.buffer).setUint32(4, 14);
  new DataView(colr.buffer).setUint32(8, 14);
  await owner.bringIn([['a.ttf', readFont('gochiHand')]]);
  const [first] = await families();
  await act({ act: 'rename-family', familyId: first!.id, name: 'Plain Hand' });
  const dir = mkdtempSync(join(tmpdir(), 'color-'));
  writeFileSync(join(dir, 'in.ttf'), withTable(plain, 'COLR', colr));
  const script =
    "import sys; from fontTools.ttLib import TTFont; f = TTFont(sys.argv[1]); [f['name'].setName('Color Hand', i, 3, 1, 0x409) for i in (1, 4, 6, 16)]; f.save(sys.argv[2])";
  execFileSync('/usr/bin/python3', ['-c', script, join(dir, 'in.ttf'), join(dir, 'out.ttf')]);
  await owner.bringIn([['b.ttf', new Uint8Array(readFileSync(join(dir, 'out.ttf')))]]);
  const { answer } = await owner.call(routes.listDoubles);
  expect(answer.groups[0]!.differs).toEqual(['colors', 'names']);
  await act({ act: 'resolve', rule: { ...KEEP_RULE, names: 'oldest' } });
  expect(await families()).toHaveLength(2);
  // By hand it may be put behind another; then its family's name still finds it.
  await server.sql.query('UPDATE face SET folded_into = ? WHERE id = ?', [first!.leadFaceId, (await family('Color Hand')).leadFaceId]);
  await server.sql.query('UPDATE workspace SET revision = revision + 1');
  expect((await families()).map((f) => [f.name, f.also])).toEqual([['Plain Hand', ['Color Hand']]]);
  expect((await owner.call(routes.findFamilies, { query: { q: 'color hand' } })).answer.ids).toHaveLength(1);
});

test('nothing is removed while something rests on it; the rest is freed, and its bytes go', async () => {
  await owner.bringIn([
    ['serif.otf', readFont('serifOtf')],
    ['serif.ttf', readFont('serifTtf')],
    ['hand.ttf', readFont('gochiHand')],
    ['didot.ttf', readFont('didot')],
  ]);
  const [serif, hand, didot] = [await family('Source Serif 4'), await family('Gochi Hand'), await family('GFS Didot')];
  await owner.call(routes.createLicense, { body: license([hand.leadFaceId]) });
  const { answer: doubles } = await owner.call(routes.listDoubles);
  expect(doubles.spare.map((s) => s.format)).toEqual(['ttf']);
  const { answer: storage } = await owner.call(routes.getStorage);
  expect(storage.kinds.find((k) => k.kind === 'TTF')).toEqual({
    kind: 'TTF',
    count: 3,
    bytes: readFont('serifTtf').length + readFont('gochiHand').length + readFont('didot').length,
  });
  // Nobody can have had much use of what came in today.
  expect(storage.neverUsed).toEqual([]);
  await server.sql.query('UPDATE face SET created_at = created_at - INTERVAL 91 DAY');
  const { answer: later } = await owner.call(routes.getStorage);
  expect(later.neverUsed.map((f) => f.faceId).sort()).toEqual([serif.leadFaceId, didot.leadFaceId].sort());
  const removal = await act({ act: 'remove', faceIds: [hand.leadFaceId, didot.leadFaceId], fileIds: [doubles.spare[0]!.fileId] });
  expect(removal.left).toEqual(['Gochi Hand Regular stays: the license “Ours” rests on it.']);
  expect((await families()).map((f) => f.name)).toEqual(['Gochi Hand', 'Source Serif 4']);
  await undo(removal.changeId);
  expect(await families()).toHaveLength(3);
  await act({ act: 'remove', faceIds: [didot.leadFaceId], fileIds: [doubles.spare[0]!.fileId] });
  const blobs = async (): Promise<number> =>
    Number(
      (
        (
          await server.sql.query('SELECT COUNT(*) AS n FROM blob_head b JOIN face f ON f.workspace_id = b.workspace_id WHERE f.id = ?', [
            serif.leadFaceId,
          ])
        )[0] as { n: string }[]
      )[0]!.n,
    );
  const before = await blobs();
  const size = async (): Promise<number> =>
    Number(((await server.sql.query('SELECT SUM(bytes) AS n FROM blob_head'))[0] as unknown as [{ n: string }])[0].n);
  const sizeBefore = await size();
  const { answer: freed } = await owner.call(routes.freeSpace, { body: {} });
  const files = readFont('didot').length + readFont('serifTtf').length;
  expect(sizeBefore - (await size())).toBe(files);
  // What was worked out of them goes, too, and is counted.
  expect([freed.bytes > files, freed.bytes < 3 * files]).toEqual([true, true]);
  expect(await blobs()).toBe(before - 2);
  expect((await owner.call(routes.getFace, { params: { faceId: serif.leadFaceId } })).answer.files.map((f) => f.format)).toEqual(['otf']);
  // A file that a face is led by cannot go beside it.
  expect(
    (
      await act({
        act: 'remove',
        faceIds: [],
        fileIds: [(await owner.call(routes.getFace, { params: { faceId: hand.leadFaceId } })).answer.files[0]!.id],
      })
    ).left,
  ).toHaveLength(1);
});

test('a face that goes leaves nothing out of sight, a file brought in again comes back, and undoing never points at what is gone', async () => {
  await owner.bringIn([
    ['old.ttf', caveat('older')],
    ['new.ttf', caveat('newer')],
    ['serif.otf', readFont('serifOtf')],
    ['serif.ttf', readFont('serifTtf')],
  ]);
  const led = await act({ act: 'resolve', rule: { ...KEEP_RULE, formats: ['ttf', 'otf'] } });
  const kept = (await family('Caveat')).faces[0]!;
  expect((await family('Caveat')).faces).toHaveLength(1);
  await act({ act: 'remove', faceIds: [kept.id], fileIds: [] });
  expect((await family('Caveat')).faces.map((f) => f.id)).not.toContain(kept.id);
  expect((await family('Caveat')).faces).toHaveLength(1);
  const { items } = await owner.bringIn([['again.ttf', caveat('newer')]]);
  expect(items[0]).toMatchObject({ state: 'already-here', reason: expect.stringContaining('back in the library') as string });
  expect((await family('Caveat')).faces.map((f) => f.id)).toContain(kept.id);
  // The OTF led before the rule; once it is deleted the former state cannot come back, and the face stays whole.
  const spare = (await owner.call(routes.listDoubles)).answer.spare.map((s) => s.fileId);
  await act({ act: 'remove', faceIds: [], fileIds: spare });
  await owner.call(routes.freeSpace, { body: {} });
  expect((await undo(led.changeId)).answer.left).toHaveLength(1);
  const serif = await family('Source Serif 4');
  expect(
    (await owner.call(routes.getFace, { params: { faceId: serif.leadFaceId } })).answer.files.map((f) => [f.format, f.leading]),
  ).toEqual([['ttf', true]]);
});

test('the order of containers decides which file leads', async () => {
  await owner.bringIn([
    ['serif.otf', readFont('serifOtf')],
    ['serif.ttf', readFont('serifTtf')],
  ]);
  const { leadFaceId } = await family('Source Serif 4');
  const leading = async (): Promise<string> =>
    (await owner.call(routes.getFace, { params: { faceId: leadFaceId } })).answer.files.find((f) => f.leading)!.format;
  expect(await leading()).toBe('otf');
  await act({ act: 'resolve', rule: { ...KEEP_RULE, formats: ['ttf', 'otf'] } });
  expect(await leading()).toBe('ttf');
  expect((await owner.call(routes.getShelf)).answer.rule.formats).toEqual(['ttf', 'otf']);
});

test('the sentence finds families by every part', async () => {
  await owner.bringIn([
    ['a.ttf', readFont('gochiHand')],
    ['b.ttf', readFont('didot')],
    ['c.ttf', readFont('serifVariable')],
  ]);
  const find = async (query: Record<string, string>): Promise<string[]> => {
    const { answer } = await owner.call(routes.findFamilies, { query });
    const names = new Map((await families()).map((f) => [f.id, f.name]));
    return answer.ids.map((i) => names.get(i)!);
  };
  expect(await find({ kind: 'handwriting' })).toEqual(['Gochi Hand']);
  expect(await find({ writes: 'el' })).toContain('GFS Didot');
  expect(await find({ script: 'Grek', axis: 'wght' })).toEqual([(await families()).find((f) => f.axes.length > 0)!.name]);
  expect(await find({ features: 'smcp' })).not.toContain('Gochi Hand');
  expect(await find({ q: 'didot' })).toEqual(['GFS Didot']);
  expect(await find({ color: 'yes' })).toEqual([]);
  expect(await find({ since: '2999-01-01' })).toEqual([]);
  const label = await act({ act: 'label', familyIds: [(await family('Gochi Hand')).id], add: ['aprons'], remove: [] });
  expect(label.changeId).not.toBeNull();
  expect(await find({ label: 'aprons' })).toEqual(['Gochi Hand']);
  await act({ act: 'archive', familyIds: [(await family('Gochi Hand')).id], on: true });
  expect(await find({})).toHaveLength(2);
  expect(await find({ shelf: 'archived' })).toEqual(['Gochi Hand']);
  expect((await owner.call(routes.findFamilies, { query: { kind: 'pretty' } })).status).toBe(422);
});

test('what adding a language would need, and who writes what', async () => {
  await owner.bringIn([
    ['a.ttf', readFont('gochiHand')],
    ['b.ttf', readFont('didot')],
  ]);
  const hand = await family('Gochi Hand');
  const { answer: needs } = await owner.call(routes.getNeeds, { params: { faceId: hand.leadFaceId }, query: { language: 'hu' } });
  // Hungarian beyond Western European letters: double acute on O and U. Source: CLDR, main/hu/characters.json.
  expect(needs).toMatchObject({ level: 'near', letters: [{ character: 'Ő' }, { character: 'ő' }, { character: 'Ű' }, { character: 'ű' }] });
  expect(needs.letters[0]).toMatchObject({ codePoint: 'U+0150', name: 'LATIN CAPITAL LETTER O WITH DOUBLE ACUTE' });
  const { answer: table } = await owner.call(routes.getLanguageTable, { query: { tags: 'en,hu,el' } });
  expect(table.families.map((f) => [f.name, f.cells])).toEqual([
    ['GFS Didot', 'fff'],
    ['Gochi Hand', 'fn-'],
  ]);
  expect((await owner.call(routes.getNeeds, { params: { faceId: hand.leadFaceId }, query: { language: 'xx' } })).status).toBe(422);
});

test('look-alikes, limited on request to what is cleared or free', async () => {
  await owner.bringIn([
    ['a.ttf', readFont('serifTtf')],
    ['b.ttf', readFont('literata')],
    ['c.ttf', readFont('gochiHand')],
    ['d.ttf', readFont('didot')],
  ]);
  const serif = await family('Source Serif 4');
  const names = new Map((await families()).map((f) => [f.leadFaceId, f.name]));
  const alike = async (query: object): Promise<string[]> =>
    (await owner.call(routes.getAlike, { params: { faceId: serif.leadFaceId }, query })).answer.map((a) => names.get(a.faceId)!);
  const all = await alike({});
  expect(all).toHaveLength(3);
  expect(all[2]).toBe('Gochi Hand');
  expect(await alike({ use: 'website' })).toEqual([]);
  await owner.call(routes.createLicense, {
    body: { ...license([(await family('Gochi Hand')).leadFaceId]), kind: 'open', spdxId: 'OFL-1.1' },
  });
  expect(await alike({ free: 'yes' })).toEqual(['Gochi Hand']);
});

describe('proof sheets', () => {
  const plan = (faceIds: string[], text = 'Broad beans £3.20') => ({
    faceIds,
    title: 'Packets 2027',
    text,
    parts: ['alphabet', 'sizes', 'languages', 'paragraph'] as ('alphabet' | 'sizes' | 'languages' | 'paragraph')[],
    ink: '#1b1916',
    paper: '#ffffff',
  });

  test('as PDF of A4 pages and as PNG', async () => {
    await owner.bringIn([
      ['a.ttf', readFont('literata')],
      ['b.ttf', readFont('scheherazade')],
    ]);
    const ids = (await families()).map((f) => f.leadFaceId);
    const send = (as: string, page = 1): Promise<Response> =>
      owner.raw('POST', `/api/proofs/render?as=${as}&page=${page}`, JSON.stringify(plan(ids)), { 'content-type': 'application/json' });
    const pdf = Buffer.from(await (await send('pdf')).arrayBuffer());
    expect(pdf.subarray(0, 8).toString()).toBe('%PDF-1.7');
    expect(pdf.subarray(-6).toString()).toContain('%%EOF');
    const pages = pdf.toString('latin1').match(/\/MediaBox \[0 0 595\.28 841\.89\]/g)!;
    expect(pages.length).toBeGreaterThanOrEqual(2);
    const png = Buffer.from(await (await send('png')).arrayBuffer());
    // PNG, section 11.2.2: IHDR holds width and height; two pixels a point.
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([Math.round(595.28 * 2), Math.round(841.89 * 2)]);
    expect((await send('png', 50)).status).toBe(404);
  });

  test('a public page ends on its day, can be taken back, and shows live type only where the license says so', async () => {
    await owner.bringIn([
      ['a.ttf', readFont('gochiHand')],
      ['b.ttf', readFont('didot')],
    ]);
    const [hand, didot] = [await family('Gochi Hand'), await family('GFS Didot')];
    await owner.call(routes.createLicense, { body: license([hand.leadFaceId]) });
    expect((await owner.call(routes.createProofSheet, { body: { plan: plan([hand.leadFaceId]), endsOn: '2020-01-01' } })).status).toBe(422);
    const { answer: sheet } = await owner.call(routes.createProofSheet, {
      body: { plan: plan([hand.leadFaceId, didot.leadFaceId]), endsOn: '2999-12-31' },
    });
    const secret = sheet.path.split('/').pop()!;
    expect(secret.length).toBeGreaterThanOrEqual(32);
    const guest = new Person(server.address);
    const { answer: page } = await guest.call(routes.readProofSheet, { params: { secret } });
    expect(page.faces).toEqual([
      { name: 'Gochi Hand Regular', license: 'License: Ours', web: true },
      { name: 'GFS Didot Regular', license: 'License: not recorded', web: false },
    ]);
    const face = await guest.raw('GET', `/api/public/proofs/${secret}/faces/0`);
    expect(face.status).toBe(200);
    // Only the text's characters travel.
    expect((await face.arrayBuffer()).byteLength).toBeLessThan(readFont('gochiHand').length / 2);
    expect((await guest.raw('GET', `/api/public/proofs/${secret}/faces/1`)).status).toBe(403);
    expect((await guest.raw('GET', `/api/public/proofs/${secret}/pages/1`)).headers.get('content-type')).toBe('image/png');
    await server.sql.query("UPDATE proof_sheet SET ends_on = '2020-01-01' WHERE id = ?", [sheet.id]);
    expect((await guest.call(routes.readProofSheet, { params: { secret } })).status).toBe(410);
    await owner.call(routes.removeProofSheet, { params: { sheetId: sheet.id } });
    expect((await guest.call(routes.readProofSheet, { params: { secret } })).status).toBe(404);
    expect((await guest.call(routes.readProofSheet, { params: { secret: 'guess' } })).status).toBe(404);
  });
});

test('texts and sentences are kept under their names, and viewers only read', async () => {
  await owner.call(routes.keepText, { body: { name: 'Prices', text: 'one' } });
  await owner.call(routes.keepText, { body: { name: 'prices', text: 'two' } });
  expect((await owner.call(routes.listTexts)).answer.map((t) => t.text)).toEqual(['two']);
  const { answer: kept } = await owner.call(routes.keepSearch, { body: { name: 'Greek', query: 'writes=el' } });
  const viewer = await newMember(owner, 'viewer');
  expect((await viewer.call(routes.dropSearch, { params: { searchId: kept.id } })).status).toBe(403);
  expect((await viewer.call(routes.getShelf)).answer.searches.map((s) => s.name)).toEqual(['Greek']);
  expect((await owner.call(routes.setPalette, { body: [{ name: 'Leaf', hex: 'green' }] })).status).toBe(422);
});

test('odd faces stay visible, usable and explained', async () => {
  const dir = mkdtempSync(join(tmpdir(), 'odd-'));
  execFileSync('/usr/bin/python3', [join(process.cwd(), 'apps/server/test/odd-faces.py'), FONTS.gochiHand, dir]);
  const files = readdirSync(dir).sort();
  expect(files).toHaveLength(25);
  const { items } = await owner.bringIn(files.map((f) => [f, new Uint8Array(readFileSync(join(dir, f)))]));
  const byFile = new Map(items.map((i) => [i.path.replace('.ttf', ''), i]));
  expect(items.filter((i) => i.state !== 'added').map((i) => [i.path, i.reason])).toEqual([]);
  const face = async (name: string) => (await owner.call(routes.getFace, { params: { faceId: byFile.get(name)!.faceId! } })).answer;
  expect(await face('empty-names')).toMatchObject({ family: 'empty names', style: 'Regular' });
  expect((await face('empty-names')).repairs.length).toBeGreaterThan(0);
  expect((await face('long-names')).family.length).toBeLessThanOrEqual(255);
  expect((await face('twenty-languages')).family).toBe('Tongue 4');
  expect((await face('right-to-left')).family).toBe('خط السوق');
  const explained = async (name: string): Promise<string> =>
    (await face(name)).findings.map((f) => `${f.severity} ${f.message}`).join('\n');
  expect(await explained('no-space')).toMatch(/space/i);
  expect(await explained('no-outlines')).toMatch(/blocks .*(outline|glyf)/i);
  expect(await explained('zero-widths')).toMatch(/width/i);
  expect(await explained('symbol')).toMatch(/symbol/i);
  expect(await explained('mac-only')).toMatch(/Mac/);
  // Sixteen files name one style: three spell it Extra Black and two Ultra Black, which makes those one face each.
  const sixteen = await family('Sixteen');
  expect(sixteen.faces).toHaveLength(13);
  const { answer: detail } = await owner.call(routes.getFamily, { params: { familyId: sixteen.id } });
  expect(detail.table.rows.flatMap((r) => r.cells.flat())).toHaveLength(13);
  for (const name of ['empty-names', 'long-names', 'right-to-left', 'no-space', 'zero-widths', 'mac-only']) {
    const line = await owner.raw('GET', `/api/faces/${byFile.get(name)!.faceId}/line?text=Beans`);
    expect([name, line.status]).toEqual([name, 200]);
  }
  for (const item of items) {
    const characters = await owner.raw('GET', `/api/faces/${item.faceId}/characters`);
    expect([item.path, characters.status]).toEqual([item.path, 200]);
  }
});

/** Glyphs and positions as Debian's hb-shape gives them; piece and whole differ in glyph numbers and in nothing else. */
function shaped(bytes: Uint8Array, text: string, features: string, variations: string): number[][] {
  const path = join(mkdtempSync(join(tmpdir(), 'shape-')), 'font.ttf');
  writeFileSync(path, bytes);
  const out = execFileSync(
    'hb-shape',
    ['--output-format=json', '--no-glyph-names', `--features=${features}`, `--variations=${variations}`, path, text],
    { encoding: 'utf8' },
  );
  return (JSON.parse(out) as { cl: number; dx: number; dy: number; ax: number; ay: number }[]).map((g) => [g.cl, g.dx, g.dy, g.ax, g.ay]);
}

test.each([
  ['literata', 'Office fifth 0123', 'smcp,onum,-liga', ''],
  ['literata', 'Żółty łubin 1/2', 'frac,tnum', ''],
  ['serifVariable', 'Waving flax 10', 'lnum', 'wght=731,opsz=40'],
  ['scheherazade', 'بذور الزهور', '', ''],
  ['devanagari', 'धूप में बोएँ', '', ''],
] as const)('the piece of %s on a line sets “%s” as the whole face does', async (name, text, features, variations) => {
  await owner.bringIn([['a.ttf', readFont(name)]]);
  const [one] = await families();
  const piece = new Uint8Array(
    await (
      await owner.raw('GET', `/api/faces/${one!.leadFaceId}/line?text=${encodeURIComponent(text + text.normalize('NFD'))}`)
    ).arrayBuffer(),
  );
  const whole = shaped(convertTo(readFont(name), 'ttf'), text, features, variations);
  expect(whole.length).toBeGreaterThan(3);
  expect(shaped(piece, text, features, variations)).toEqual(whole);
});
