import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blankLicense, routes, type IconAct, type IconSet } from '@orderly-glyph/schema';
import { buildIconSet, DEFAULT_FACTS, newIcon } from '@orderly-glyph/core';
import { nodeCodec, nodePaths, nodeSvgEngine } from '@orderly-glyph/node';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newOwner, startServer, type Person, type TestServer } from './setup.js';
import { unzip, zip } from './zips.js';

const svg = (body: string): string => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">${body}</svg>`;
const DISC = svg('<circle cx="12" cy="12" r="9"/>');
const dir = mkdtempSync(join(tmpdir(), 'icons-'));
let server: TestServer;
let owner: Person;
let set: IconSet;
beforeAll(async () => {
  server = await startServer({ PLACE_FOLDERS: join(dir, 'folders') });
  owner = await newOwner(server.address, 'Icons');
});
afterAll(async () => {
  await server.stop();
  rmSync(dir, { recursive: true });
});

const params = (): { setId: string } => ({ setId: set.id });
const named = (name: string): IconSet['drawings'][number] => set.drawings.find((d) => d.name === name)!;
async function act(what: IconAct | Record<string, unknown>): Promise<{ status: number; message: string }> {
  const { status, answer } = await owner.call(routes.changeDrawings, { params: params(), body: what as IconAct });
  if (status === 200) set = answer;
  return { status, message: (answer as unknown as { error?: { message: string } }).error?.message ?? '' };
}
async function release(more: object = {}): Promise<{ status: number; message: string; faces: string[] }> {
  const { status, answer } = await owner.call(routes.releaseIcons, {
    params: params(),
    body: { mayRelease: true, version: set.version, ...more },
  });
  if (status === 200) set = answer.set;
  return {
    status,
    message: (answer as unknown as { error?: { message: string } }).error?.message ?? '',
    faces: status === 200 ? answer.changed.families.map((f) => f.name) : [],
  };
}

test('a set begins, drawings come in, and what is to be said about them is said', async () => {
  const made = await owner.call(routes.createIconSet, { body: { family: 'Field Icons', prefix: 'field-', maker: 'Hollin Bank' } });
  expect(made.status).toBe(200);
  set = made.answer;
  expect([set.facts.base, set.stops]).toEqual(['field-icon', ['There is no drawing in it yet.']]);
  const { answer } = await owner.call(routes.addDrawings, {
    params: params(),
    body: {
      files: [
        { path: 'Sun.svg', text: DISC },
        {
          path: 'water.svg',
          text: svg('<path d="M12 2l6 12a6 6 0 0 1-12 0z" fill="#00a"/><path d="M10 14h4" stroke="#fff" stroke-width="2"/>'),
        },
        { path: 'letter.svg', text: 'Dear all' },
      ],
    },
  });
  set = answer.set;
  expect(answer.taken.map((t) => t.refused !== null)).toEqual([false, false, true]);
  expect(set.drawings.map((d) => [d.name, d.codePoint, d.locked, d.findings.map((f) => f.code)])).toEqual([
    ['sun', 0xe000, false, []],
    ['water', 0xe001, false, ['colors']],
  ]);
  expect([set.drawings[0]!.path.startsWith('M'), set.stops]).toEqual([true, []]);
  // An archive adds to it; what is no drawing is told.
  const archive = await zip([
    ['set/frost.svg', svg('<path stroke="#000" stroke-width="2" d="M12 2v20"/>')],
    ['set/notes.txt', 'x'],
  ]);
  const sent = await owner.raw('POST', `/api/icon-sets/${set.id}/archive`, new Uint8Array(archive), {
    'content-type': 'application/octet-stream',
  });
  const told = (await sent.json()) as { set: IconSet; taken: { path: string; refused: string | null }[] };
  expect([sent.status, told.taken.map((t) => [t.path, t.refused !== null])]).toEqual([
    200,
    [
      ['set/frost.svg', false],
      ['set/notes.txt', true],
    ],
  ]);
  set = told.set;
});

test('names, codes, words and places are decided one act at a time, and what contradicts is not kept', async () => {
  expect((await act({ act: 'rename', ids: [named('sun').id], name: 'full-sun', keepOld: false })).status).toBe(200);
  expect(named('full-sun').aliases).toEqual([]);
  expect((await act({ act: 'rename', ids: [named('frost').id], name: 'full-sun' })).message).toMatch(
    /class of two drawings.*Nothing was changed/,
  );
  expect((await act({ act: 'code', ids: [named('frost').id], codePoint: 0x41 })).message).toMatch(/not in the private-use area/);
  expect((await act({ act: 'code', ids: [named('frost').id], codePoint: 0xe100 })).status).toBe(200);
  expect((await act({ act: 'words-by-name', ids: set.drawings.map((d) => d.id) })).status).toBe(200);
  expect(set.drawings.map((d) => d.words)).toEqual([['full-sun'], ['water'], ['frost']]);
  expect((await act({ act: 'characters', ids: [named('full-sun').id], characters: [0x2600] })).status).toBe(200);
  const before = named('frost').path;
  expect((await act({ act: 'place', ids: [named('frost').id], step: { step: 'turn', degrees: 90 } })).status).toBe(200);
  expect([named('frost').path === before, named('frost').steps]).toEqual([false, ['Turned by 90°']]);
  expect((await act({ act: 'unplace', ids: [named('frost').id] })).status).toBe(200);
  expect(named('frost').path).toBe(before);
  expect((await act({ act: 'inking', ids: [named('water').id], inking: 'color' })).status).toBe(200);
  expect(named('water').layers.map((l) => l.color)).toEqual(['#0000aa', '#ffffff']);
  expect((await act({ act: 'remove', ids: ['00000000-0000-4000-8000-000000000000'] })).status).toBe(404);
});

test('a release brings fonts into the library, cleared for what is ours, and a kit', async () => {
  expect(
    (await owner.call(routes.releaseIcons, { params: params(), body: { mayRelease: false as unknown as true, version: set.version } }))
      .status,
  ).toBe(422);
  const stale = await release({ version: set.version - 1 });
  expect([stale.status, stale.message]).toEqual([409, expect.stringMatching(/Somebody changed/)]);
  const one = await release({ notes: 'The first.' });
  expect([one.status, one.faces]).toEqual([200, ['Field Icons']]);
  expect(set.releases.map((r) => [r.number, r.added, r.files.map((f) => f.name)])).toEqual([
    [1, ['full-sun', 'water', 'frost'], ['field-icons.ttf', 'field-icons.woff', 'field-icons.woff2']],
  ]);
  expect(set.drawings.map((d) => [d.name, d.codePoint, d.locked])).toEqual([
    ['full-sun', 0xe000, true],
    ['water', 0xe001, true],
    ['frost', 0xe100, true],
  ]);
  const { families } = (await owner.call(routes.listFamilies)).answer;
  const family = families.find((f) => f.name === 'Field Icons')!;
  expect([family.verdicts.website, family.verdicts['customers-words']]).toEqual(['yes', 'yes']);
  const kit = await owner.raw('GET', `/api/icon-sets/${set.id}/releases/1/kit?layout=nested`);
  const files = await unzip(Buffer.from(await kit.arrayBuffer()));
  expect([...files.keys()]).toEqual(
    expect.arrayContaining(['css/fonts/field-icons.woff2', 'css/icons.css', 'icons.html', 'icon-set.json', 'svg/water.svg']),
  );
  writeFileSync(join(dir, 'one.ttf'), files.get('css/fonts/field-icons.ttf')!);
  writeFileSync(join(dir, 'icon-set.json'), files.get('icon-set.json')!);
  // HarfBuzz, an outside reader, finds the drawings by their words and by their characters.
  expect(
    spawnSync('hb-shape', ['--no-positions', '--no-clusters', join(dir, 'one.ttf'), 'water☀'], { encoding: 'utf8' }).stdout.trim(),
  ).toBe('[water|full_sun]');
});

test('what was released stays: code points, their meaning, and names that pages use', async () => {
  expect((await act({ act: 'code', ids: [named('frost').id], codePoint: 0xe105 })).message).toMatch(/never moves/);
  await act({ act: 'rename', ids: [named('full-sun').id], name: 'sun' });
  await act({ act: 'remove', ids: [named('water').id] });
  expect(set.reserved).toEqual([{ codePoint: 0xe001, name: 'water' }]);
  const { answer } = await owner.call(routes.addDrawings, { params: params(), body: { files: [{ path: 'bee.svg', text: DISC }] } });
  set = answer.set;
  expect([named('bee').codePoint, named('sun').codePoint]).toEqual([0xe002, 0xe000]);
  expect((await act({ act: 'code', ids: [named('bee').id], codePoint: 0xe001 })).message).toMatch(/belongs to “water” since a release/);
  expect([set.next.added, set.next.removed, set.next.renamed]).toEqual([['bee'], ['water'], [{ from: 'full-sun', to: 'sun' }]]);
  const told = await release();
  expect([told.status, told.message]).toEqual([409, expect.stringMatching(/“field-water” is gone.*nothing was released/)]);
  const both = await Promise.all([release({ breaksMeant: true }), release({ breaksMeant: true })]);
  expect(both.map((r) => r.status).sort()).toEqual([200, 409]);
  set = (await owner.call(routes.getIconSet, { params: params() })).answer;
  expect(set.releases.map((r) => r.number)).toEqual([2, 1]);
  // The first release is the same bytes as before.
  const again = await unzip(
    Buffer.from(await (await owner.raw('GET', `/api/icon-sets/${set.id}/releases/1/kit?layout=nested`)).arrayBuffer()),
  );
  expect(again.get('css/fonts/field-icons.ttf')!.equals(readFileSync(join(dir, 'one.ttf')))).toBe(true);
  // A drawing brought back has its code point again.
  expect((await act({ act: 'restore', ids: [waterId] })).status).toBe(200);
  expect([named('water').codePoint, named('water').locked]).toEqual([0xe001, true]);
});
let waterId = '';
beforeEach(() => {
  waterId = set?.drawings.find((d) => d.name === 'water')?.id ?? waterId;
});

test('two tones become two layers that stand and go together, and one again', async () => {
  const two = (shift: number): string => svg(`<path fill="#9ab" d="M4 4h12v12H4z"/><path fill="#123" d="M${8 + shift} 8h12v12h-12z"/>`);
  const send = async (text: string): Promise<void> => {
    set = (await owner.call(routes.addDrawings, { params: params(), body: { files: [{ path: 'duo.svg', text }] } })).answer.set;
  };
  await send(two(0));
  const duo = named('duo').id;
  expect((await act({ act: 'split', ids: [named('bee').id] })).message).toMatch(/of one tone.*Nothing was changed/);
  // One of one tone among several stays as it is.
  await act({ act: 'split', ids: [named('bee').id, duo] });
  expect([named('bee').beneath, named('duo').beneath, named('duo').layers.map((l) => l.alpha)]).toEqual([
    null,
    named('duo-beneath').id,
    [0.4, 1],
  ]);
  expect((await act({ act: 'split', ids: [duo] })).message).toMatch(/two layers already/);
  const before = [named('duo').path, named('duo-beneath').path];
  await act({ act: 'place', ids: [duo], step: { step: 'turn', degrees: 90 } });
  expect(named('duo-beneath').steps).toEqual(['Turned by 90°']);
  await act({ act: 'unplace', ids: [duo] });
  await act({ act: 'even-out', ids: [duo, named('bee').id] });
  expect(named('duo-beneath').place).toEqual(named('duo').place);
  await act({ act: 'unplace', ids: [duo] });
  expect([named('duo').path, named('duo-beneath').path]).toEqual(before);
  await send(two(1));
  expect([named('duo').path, named('duo-beneath').path].map((p, i) => p === before[i])).toEqual([false, false]);
  await act({ act: 'remove', ids: [duo] });
  expect(set.drawings.some((d) => d.name.startsWith('duo'))).toBe(false);
  await act({ act: 'restore', ids: [duo] });
  expect(named('duo').beneath).toBe(named('duo-beneath').id);
  expect((await act({ act: 'remove', ids: [named('duo-beneath').id] })).message).toMatch(/layer beneath “duo” is not in the set/);
  await act({ act: 'beneath', ids: [named('bee').id], beneath: named('duo-beneath').id });
  expect(named('bee').layers.length).toBe(2);
  expect((await act({ act: 'join', ids: [duo] })).message).toMatch(/layer beneath “bee” is not in the set/);
  await act({ act: 'beneath', ids: [named('bee').id], beneath: null });
  await act({ act: 'join', ids: [duo] });
  expect([named('duo').beneath, named('duo').inking, set.drawings.some((d) => d.name === 'duo-beneath')]).toEqual([null, null, false]);
  await act({ act: 'split', ids: [duo] });
  await act({ act: 'inking', ids: [duo], inking: 'dark' });
  expect([named('duo').beneath, set.drawings.some((d) => d.inking === 'back')]).toEqual([null, false]);
  // What is drawn anew is shown before it is released, as it was and as it is.
  set = (await owner.call(routes.addDrawings, { params: params(), body: { files: [{ path: 'bee.svg', text: two(0) }] } })).answer.set;
  const old = named('sun').path;
  expect(set.next.changed).toEqual([{ name: 'bee', before: old, after: named('bee').path }]);
});

test('sets are told apart by name, prefix and base; one is made again of its file', async () => {
  const same = await owner.call(routes.createIconSet, { body: { family: 'Other', prefix: 'field-' } });
  expect([same.status, JSON.stringify(same.answer)]).toEqual([422, expect.stringMatching(/has the prefix “field-” already/)]);
  const file = JSON.parse(readFileSync(join(dir, 'icon-set.json'), 'utf8')) as { facts: Record<string, string> };
  Object.assign(file.facts, { family: 'Back Again', prefix: 'back-', base: 'back-icon' });
  const sent = await owner.raw('POST', '/api/icon-sets/from-file', Buffer.from(JSON.stringify(file)), {
    'content-type': 'application/octet-stream',
  });
  const back = (await sent.json()) as IconSet;
  expect([sent.status, back.drawings.map((d) => [d.name, d.codePoint, d.locked, d.words])]).toEqual([
    200,
    [
      ['full-sun', 0xe000, true, ['full-sun']],
      ['water', 0xe001, true, ['water']],
      ['frost', 0xe100, true, ['frost']],
    ],
  ]);
  const bad = await owner.raw('POST', '/api/icon-sets/from-file', Buffer.from('{"format":"x"}'), {
    'content-type': 'application/octet-stream',
  });
  expect([bad.status, await bad.text()]).toEqual([422, expect.stringMatching(/no file of an icon set/)]);
  // Drawings of another set come over with names, words and codes of their own.
  const { answer } = await owner.call(routes.pickGlyphs, {
    params: params(),
    body: { fromSetId: back.id, drawingIds: [back.drawings[2]!.id] },
  });
  set = answer.set;
  expect([named('frost-2').words, named('frost-2').locked]).toEqual([[], false]);
});

test('glyphs of a face come in only where its license allows changing it', async () => {
  const { items } = await owner.bringIn([['hand.ttf', readFont('gochiHand')]]);
  const faceId = items[0]!.faceId!;
  const pick = (): ReturnType<typeof owner.call<typeof routes.pickGlyphs>> =>
    owner.call(routes.pickGlyphs, { params: params(), body: { faceId, characters: [0x26, 0x41] } });
  const refused = await pick();
  expect([refused.status, JSON.stringify(refused.answer)]).toEqual([409, expect.stringMatching(/cannot go into a font of yours/)]);
  await owner.call(routes.createLicense, {
    body: {
      ...blankLicense([faceId]),
      name: 'Ours',
      kind: 'bought',
      uses: { changing: 'yes', website: 'yes', app: 'no' },
      confirmed: true,
    },
  });
  const { answer, status } = await pick();
  expect(status).toBe(200);
  set = answer.set;
  expect(named('u0026').from).toMatch(/Gochi Hand/);
  expect(named('u0026').path.length).toBeGreaterThan(50);
  // What is released with it may be used for no more than the face.
  expect((await release({ breaksMeant: true })).status).toBe(200);
  const family = (await owner.call(routes.listFamilies)).answer.families.find((f) => f.name === 'Field Icons')!;
  expect([family.verdicts.website, family.verdicts.app]).toEqual(['yes', 'no']);
});

test('what stands beside the set at places is told: older releases, and other faces with signs at its code points', async () => {
  const place = (await owner.call(routes.createPlace, { body: { name: 'The studio', profileId: 'folder', address: 'studio' } })).answer.id;
  const install = async (faceId: string): Promise<void> => {
    const statement = (await owner.call(routes.checkForPlace, { params: { placeId: place }, body: { faceIds: [faceId] } })).answer[0]!
      .statement;
    const { answer } = await owner.call(routes.createDelivery, {
      body: { placeId: place, faces: [{ faceId, statement, note: 'For the test.' }] },
    });
    await owner.finished(answer.jobId);
    expect((await owner.call(routes.getDelivery, { params: { deliveryId: answer.id } })).answer.items[0]!.state).toBe('installed');
  };
  const told = async (): Promise<string> => {
    set = (await owner.call(routes.getIconSet, { params: params() })).answer;
    return set.warnings.join('\n');
  };
  expect(await told()).toBe('');
  await install(set.releases[0]!.files.find((f) => f.name.endsWith('.ttf'))!.faceId!);
  expect(await told()).toBe('');
  // A face of signs that is no set of ours, at the same place.
  const facts = { ...DEFAULT_FACTS, family: 'Other Signs', prefix: 'o-', base: 'o' };
  const tools = { svg: await nodeSvgEngine(), paths: await nodePaths(), codec: nodeCodec };
  const [signs] = (await buildIconSet({ facts, icons: [newIcon('a', 'a', DISC)], given: [] }, 1, '2026-11-01', tools)).files;
  const { items } = await owner.bringIn([['signs.ttf', signs!.bytes]]);
  await owner.call(routes.createLicense, {
    body: { ...blankLicense([items[0]!.faceId!]), name: 'Signs', kind: 'bought', uses: { 'design-work': 'yes' }, confirmed: true },
  });
  await install(items[0]!.faceId!);
  expect(await told()).toMatch(/^Other Signs Regular, at The studio, has signs of its own at U\+E000\./);
  // What that place shows would go with the next release.
  const { id } = set.drawings.find((d) => d.locked)!;
  await act({ act: 'remove', ids: [id] });
  expect(await told()).toMatch(/The studio has release \d\. Put a newer one there, and pages lose something: “field-/);
  await act({ act: 'restore', ids: [id] });
});

test('a drawing that is taken out while its new file is read comes back as another one', async () => {
  const bee = named('bee').id;
  await server.sql.query('START TRANSACTION');
  await server.sql.query('SELECT id FROM icon_set WHERE id = ? FOR UPDATE', [set.id]);
  const sent = owner.call(routes.addDrawings, {
    params: params(),
    body: { files: [{ path: 'bee.svg', text: svg('<path d="M3 3h9v9H3z"/>') }] },
  });
  // It is read, and then waits for its turn to be kept.
  for (let waits = 0; waits === 0;) {
    await new Promise((r) => setTimeout(r, 50));
    [[{ waits }]] = (await server.sql.query(
      "SELECT COUNT(*) AS waits FROM information_schema.processlist WHERE id <> CONNECTION_ID() AND info LIKE 'SELECT id FROM icon_set%'",
    )) as unknown as [[{ waits: number }]];
  }
  await server.sql.query('UPDATE icon_drawing SET removed_at = NOW() WHERE id = ?', [bee]);
  await server.sql.query('COMMIT');
  set = (await sent).answer.set;
  const fresh = named('bee').id;
  expect([fresh === bee, named('bee').locked]).toEqual([false, false]);
  // The old one is still there to be restored, under a name of its own.
  await act({ act: 'remove', ids: [fresh] });
  expect((await act({ act: 'restore', ids: [bee] })).status).toBe(200);
});

test('a set that was forgotten comes back, unless its name went to another', async () => {
  await owner.call(routes.removeIconSet, { params: params() });
  expect((await owner.call(routes.getIconSet, { params: params() })).status).toBe(404);
  const other = (await owner.call(routes.createIconSet, { body: { family: 'Hedge', prefix: 'field-' } })).answer.id;
  expect((await owner.call(routes.returnIconSet, { params: params() })).status).toBe(422);
  await owner.call(routes.removeIconSet, { params: { setId: other } });
  expect((await owner.call(routes.returnIconSet, { params: params() })).answer.facts.family).toBe('Field Icons');
});

test('text in a drawing becomes shapes where its face is here and may be changed, and is told where not', async () => {
  const text = (family: string): string =>
    svg(`<text x="2" y="20" font-size="20" font-family="${family}">B</text><path d="M2 22h20v1H2z"/>`);
  const { answer } = await owner.call(routes.addDrawings, {
    params: params(),
    body: {
      files: [
        { path: 'hand.svg', text: text('Gochi Hand') },
        { path: 'nowhere.svg', text: text('Nowhere Sans') },
      ],
    },
  });
  set = answer.set;
  const [hand, nowhere] = [named('hand'), named('nowhere')];
  expect([hand.from, hand.findings.filter((f) => f.severity === 'lost')]).toEqual(['Gochi Hand Regular', []]);
  expect([nowhere.from, nowhere.findings.filter((f) => f.severity === 'lost').map((f) => f.code)]).toEqual([null, ['text']]);
  expect(hand.points).toBeGreaterThan(nowhere.points + 10);
});

test('nobody else sees or changes a set', async () => {
  const other = await newOwner(server.address, 'Elsewhere');
  expect((await other.call(routes.getIconSet, { params: params() })).status).toBe(404);
  expect(
    (await other.call(routes.changeDrawings, { params: params(), body: { act: 'mirror', ids: [set.drawings[0]!.id], mirror: true } }))
      .status,
  ).toBe(404);
  expect((await other.raw('GET', `/api/icon-sets/${set.id}/releases/1/kit`)).status).toBe(404);
});
