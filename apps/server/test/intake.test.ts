import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createRequire } from 'node:module';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { request as httpRequest } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blankLicense, missingFrom, routes, writesOf } from '@orderly-glyph/schema';
import { collection, FONTS, readFont } from '../../../packages/core/test/fonts.js';
import { newOwner, startServer, type Person, type TestServer } from './setup.js';
import { rename, zip } from './zips.js';

let server: TestServer;
let owner: Person;
beforeAll(async () => {
  server = await startServer();
});
beforeEach(async () => {
  owner = await newOwner(server.address);
});
afterAll(() => server.stop());

const text = (s: string): Uint8Array => new TextEncoder().encode(s);
const OFL = readFileSync(join(process.cwd(), 'node_modules/source-serif/LICENSE.md'));
/** The license alone, as the SPDX License List has it, so that it names no family. */
const plainOfl = (createRequire(join(process.cwd(), 'package.json'))('spdx-license-list/full') as Record<string, { licenseText: string }>)[
  'OFL-1.1'
]!.licenseText;

const rows = async <T>(query: string, values: unknown[] = []): Promise<T[]> => (await server.sql.query(query, values))[0] as T[];

test('a bundle is sorted by what is in its files, whatever they are called', async () => {
  const web = await zip([['Serif.woff2', readFont('serifWoff2')]]);
  const { items, intake, suggestions } = await owner.bringIn([
    [
      'bundle.zip',
      await zip([
        ['fonts/Serif.otf', readFont('serifOtf')],
        ['fonts/Serif.ttf', readFont('serifTtf')],
        ['fonts/named-as-text.txt', readFont('gochiHand')],
        ['fonts/copy of it.ttf', readFont('gochiHand')],
        ['fonts/Both.ttc', collection([readFont('notoMono'), readFont('didot')])],
        ['web.zip', web],
        ['LICENSE.md', OFL],
        ['Read me.txt', text('Thank you for downloading. See LICENSE.md.')],
        ['receipt.txt', text('Invoice no. 7. Amount paid 20.00')],
        ['preview.png', Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10)],
        ['__MACOSX/fonts/._Serif.otf', Uint8Array.of(0, 5, 22, 7)],
        ['.DS_Store', text('Bud1')],
        ['saved.ttf', text('<!doctype html><p>Log in to download')],
        ['short.otf', readFont('serifOtf').subarray(0, 50_000)],
        ['empty.woff', new Uint8Array(0)],
        ['tool.exe', Uint8Array.of(0x4d, 0x5a, 0x90, 0, 3, 0, 0, 0)],
      ]),
    ],
  ]);
  const by = Object.fromEntries(items.map((i) => [i.path, i]));
  const states = Object.fromEntries(items.map((i) => [i.path, i.state]));
  expect(states).toEqual({
    'fonts/Serif.otf': 'added',
    'fonts/Serif.ttf': 'added',
    'fonts/named-as-text.txt': 'added',
    'fonts/copy of it.ttf': 'already-here',
    'fonts/Both.ttc': 'added',
    'web.zip/Serif.woff2': 'added',
    'LICENSE.md': 'companion',
    'Read me.txt': 'companion',
    'receipt.txt': 'companion',
    'preview.png': 'companion',
    '__MACOSX/fonts/._Serif.otf': 'set-aside',
    '.DS_Store': 'set-aside',
    'saved.ttf': 'refused',
    'short.otf': 'refused',
    'empty.woff': 'refused',
    'tool.exe': 'refused',
  });
  expect(by['saved.ttf']!.reason).toContain('text, not a font');
  expect(by['short.otf']!.reason).toContain('cut short');
  expect(by['empty.woff']!.reason).toContain('empty');
  for (const item of items.filter((i) => i.state === 'refused')) expect(item.reason).toMatch(/\.$/);
  // One face with three files, the OTF leading although it came in any order.
  const { answer: face } = await owner.call(routes.getFace, { params: { faceId: by['fonts/Serif.otf']!.faceId! } });
  expect(by['fonts/Serif.ttf']!.faceId).toBe(face.id);
  expect(face.files.map((f) => [f.format, f.leading])).toEqual([['otf', true], ...face.files.slice(1).map((f) => [f.format, false])]);
  expect(face.files).toHaveLength(3);
  expect(face.companions.map((c) => c.kind).sort()).toEqual(['picture', 'readme', 'receipt', 'terms']);
  expect(suggestions[0]).toMatchObject({ suggestion: { spdxId: 'OFL-1.1', reservedNames: ['Source'] } });
  expect(intake.familyCount).toBe(4);
  // A file is given out byte for byte as it was received.
  const back = Buffer.from(await (await owner.raw('GET', `/api/files/${face.files[0]!.id}/bytes`)).arrayBuffer());
  expect(createHash('sha256').update(back).digest('hex')).toBe(createHash('sha256').update(readFont('serifOtf')).digest('hex'));
});

test('the same bundle again adds nothing', async () => {
  const bundle = await zip([['a.ttf', readFont('gochiHand')]]);
  await owner.bringIn([['a.zip', bundle]]);
  const again = await owner.bringIn([['other-name.zip', bundle]]);
  expect(again.items.map((i) => i.state)).toEqual(['already-here']);
  expect((await owner.call(routes.listFamilies)).answer.families).toHaveLength(1);
});

describe('archives that are not taken', () => {
  const reasons = async (name: string, bytes: Uint8Array): Promise<string[]> =>
    (await owner.bringIn([[name, bytes]])).items.map((i) => `${i.state}: ${i.reason}`);

  test('a broken one', async () => {
    const whole = await zip([['a.ttf', readFont('gochiHand')]]);
    expect(await reasons('a.zip', whole.subarray(0, whole.length - 30))).toEqual([
      expect.stringMatching(/^refused: .*broken or was cut short/),
    ]);
  });
  test('one damaged inside', async () => {
    const whole = await zip([
      ['a.ttf', readFont('gochiHand')],
      ['b.txt', text('kept')],
    ]);
    whole.fill(0x33, 5000, 5200);
    const found = await reasons('a.zip', whole);
    expect(found[0]).toMatch(/^refused: .*damaged inside the archive/);
    expect(found[1]).toMatch(/^companion/);
  });
  test('one locked with a password', async () => {
    const locked = await zip([['a.ttf', text('x')]]);
    for (const signature of ['PK\x03\x04', 'PK\x01\x02']) {
      const at = locked.indexOf(Buffer.from(signature, 'latin1'));
      const flags = at + (signature === 'PK\x03\x04' ? 6 : 8);
      locked.writeUInt16LE(locked.readUInt16LE(flags) | 1, flags);
    }
    expect(await reasons('a.zip', locked)).toEqual([expect.stringMatching(/^refused: .*password/)]);
  });
  test('one whose paths lead out of it', async () => {
    const tricky = rename(await zip([['aa/bb/a.ttf', readFont('gochiHand')]]), 'aa/bb/a.ttf', '../../a.ttf');
    expect(await reasons('a.zip', tricky)).toEqual([expect.stringMatching(/^refused: .*outside the archive/)]);
  });
  test('one that grows a thousandfold', async () => {
    expect(await reasons('a.zip', await zip([['zeros.bin', new Uint8Array(20 * 1024 * 1024)]]))).toEqual([
      expect.stringMatching(/^refused: .*300-fold/),
    ]);
  });
  test('one with too many files', async () => {
    expect(await reasons('a.zip', await zip(Array.from({ length: 5001 }, (_, i) => [`${i}.txt`, 'x'] as const)))).toEqual([
      expect.stringMatching(/^refused: .*5,000/),
    ]);
  });
  test('one inside one inside one', async () => {
    const third = await zip([['a.ttf', readFont('gochiHand')]]);
    expect((await reasons('a.zip', await zip([['b.zip', await zip([['c.zip', third]])]])))[0]).toMatch(
      /^refused: An archive inside an archive/,
    );
  });
  test('an empty one', async () => {
    expect(await reasons('a.zip', await zip([]))).toEqual(['refused: The archive is empty.']);
  });
  test('a font over 100 MiB', async () => {
    const huge = new Uint8Array(101 * 1024 * 1024);
    huge.set(readFont('gochiHand'));
    expect(await reasons('huge.ttf', huge)).toEqual([expect.stringMatching(/^refused: .*100 MiB/)]);
  });
});

test('an upload over 500 MiB is refused before it is sent', async () => {
  const { answer: intake } = await owner.call(routes.createIntake, { body: { label: 'x' } });
  const status = await new Promise<number>((resolve, reject) => {
    const url = new URL(`${server.address}/api/intakes/${intake.id}/uploads?name=a.zip`);
    const request = httpRequest(
      url,
      { method: 'POST', headers: { origin: server.address, cookie: owner.cookie, 'content-length': String(501 * 1024 * 1024) } },
      (r) => resolve(r.statusCode!),
    );
    request.on('error', reject);
    request.write('PK');
  });
  expect(status).toBe(413);
});

test('an upload that breaks off leaves nothing behind', async () => {
  const { answer: intake } = await owner.call(routes.createIntake, { body: { label: 'x' } });
  await new Promise<void>((resolve) => {
    const request = httpRequest(new URL(`${server.address}/api/intakes/${intake.id}/uploads?name=a.zip`), {
      method: 'POST',
      headers: { origin: server.address, cookie: owner.cookie, 'content-length': String(50 * 1024 * 1024) },
    });
    request.on('error', () => resolve());
    request.write(Buffer.alloc(4 * 1024 * 1024, 1), () => setTimeout(() => request.destroy(), 100));
  });
  for (let i = 0; i < 50; i++) {
    if ((await rows('SELECT id FROM upload WHERE intake_id = ?', [intake.id])).length === 0) break;
    await new Promise((r) => setTimeout(r, 100));
  }
  expect(await rows('SELECT id FROM upload WHERE intake_id = ?', [intake.id])).toEqual([]);
  expect(await rows('SELECT c.upload_id FROM upload_chunk c LEFT JOIN upload u ON u.id = c.upload_id WHERE u.id IS NULL')).toEqual([]);
  expect((await owner.call(routes.startIntake, { params: { intakeId: intake.id } })).status).toBe(422);
});

/** Many different fonts, made by fontTools from one by giving each a name of its own. */
function manyFonts(count: number): [string, Uint8Array][] {
  const dir = mkdtempSync(join(tmpdir(), 'glyph-'));
  writeFileSync(
    join(dir, 'make.py'),
    `
from fontTools.ttLib import TTFont
for i in range(${count}):
    font = TTFont(${JSON.stringify(FONTS.gochiHand)})
    for id, value in ((1, 'Many %d' % i), (4, 'Many %d Regular' % i), (6, 'Many%d-Regular' % i)): font['name'].setName(value, id, 3, 1, 0x409)
    font.save('${dir}/%d.ttf' % i)
`,
  );
  expect(spawnSync('/usr/bin/python3', [join(dir, 'make.py')]).status).toBe(0);
  return Array.from({ length: count }, (_, i) => [`${i}.ttf`, new Uint8Array(readFileSync(join(dir, `${i}.ttf`)))]);
}

/** What must hold of the database at any moment. */
async function expectNoHalfRows(): Promise<void> {
  const empty: Record<string, string> = {
    'items that say added without a face':
      "SELECT i.id FROM item i LEFT JOIN face f ON f.id = i.face_id WHERE i.state = 'added' AND f.id IS NULL",
    'files without bytes':
      'SELECT f.id FROM font_file f LEFT JOIN (SELECT workspace_id, sha256, SUM(LENGTH(data)) AS held FROM blob_chunk GROUP BY workspace_id, sha256) c USING (workspace_id, sha256) WHERE c.held IS NULL OR c.held <> f.bytes',
    'bytes that nothing names':
      'SELECT b.sha256 FROM blob_head b LEFT JOIN font_file f USING (workspace_id, sha256) LEFT JOIN companion c USING (workspace_id, sha256) LEFT JOIN rendition r USING (workspace_id, sha256) WHERE f.id IS NULL AND c.id IS NULL AND r.sha256 IS NULL',
    'faces without their leading file': 'SELECT face.id FROM face LEFT JOIN face_file ff ON ff.id = face.lead_id WHERE ff.id IS NULL',
    'files without a face': 'SELECT f.id FROM font_file f LEFT JOIN face_file ff ON ff.file_id = f.id WHERE ff.id IS NULL',
  };
  for (const [what, query] of Object.entries(empty)) expect([what, await rows(query)]).toEqual([what, []]);
}

test('a server killed in the middle of an intake goes on after its restart, and nothing is half done', async () => {
  const fonts = manyFonts(60);
  const { answer: intake } = await owner.call(routes.createIntake, { body: { label: 'killed' } });
  await owner.upload(intake.id, 'many.zip', await zip(fonts));
  const { answer: job } = await owner.call(routes.startIntake, { params: { intakeId: intake.id } });
  for (let kills = 0; kills < 3; kills++) {
    for (;;) {
      const [{ n }] = (await rows<{ n: number }>("SELECT COUNT(*) AS n FROM item WHERE intake_id = ? AND state = 'added'", [
        intake.id,
      ])) as [{ n: number }];
      if (Number(n) > 8 + 12 * kills) break;
      await new Promise((r) => setTimeout(r, 10));
    }
    await server.kill();
    await expectNoHalfRows();
    const [{ n }] = (await rows<{ n: number }>("SELECT COUNT(*) AS n FROM item WHERE intake_id = ? AND state = 'waiting'", [
      intake.id,
    ])) as [{ n: number }];
    expect(Number(n)).toBeGreaterThan(0);
    await server.restart();
  }
  expect(await owner.finished(job.id)).toBe('done');
  const { answer } = await owner.call(routes.getIntake, { params: { intakeId: intake.id } });
  expect(answer.items).toHaveLength(60);
  expect(answer.items.every((i) => i.state === 'added')).toBe(true);
  expect((await owner.call(routes.listFamilies)).answer.families).toHaveLength(60);
  await expectNoHalfRows();
  expect(await rows('SELECT id FROM upload WHERE intake_id = ?', [intake.id])).toEqual([]);
});

test('an intake that is cancelled keeps what was sorted and can go on', async () => {
  const { answer: intake } = await owner.call(routes.createIntake, { body: { label: 'cancelled' } });
  await owner.upload(intake.id, 'many.zip', await zip(manyFonts(60)));
  const { answer: job } = await owner.call(routes.startIntake, { params: { intakeId: intake.id } });
  await owner.call(routes.cancelJob, { params: { jobId: job.id } });
  expect(await owner.finished(job.id)).toBe('cancelled');
  const { answer: again } = await owner.call(routes.startIntake, { params: { intakeId: intake.id } });
  expect(await owner.finished(again.id)).toBe('done');
  expect((await owner.call(routes.getIntake, { params: { intakeId: intake.id } })).answer.intake.counts.added).toBe(60);
});

test('two servers on one database share the work and do nothing twice', async () => {
  // Made once: fontTools writes the time into each font.
  const bundle = await zip(manyFonts(12));
  const other = await startServer({ DB_NAME: (await rows<{ d: string }>('SELECT DATABASE() AS d'))[0]!.d });
  const intakes = await Promise.all(
    Array.from({ length: 4 }, async () => {
      const { answer } = await owner.call(routes.createIntake, { body: { label: 'shared' } });
      await owner.upload(answer.id, 'many.zip', bundle);
      return answer.id;
    }),
  );
  const jobs = await Promise.all(
    intakes.map(async (intakeId) => (await owner.call(routes.startIntake, { params: { intakeId } })).answer.id),
  );
  for (const job of jobs) expect(await owner.finished(job)).toBe('done');
  const all = await Promise.all(
    intakes.map(async (intakeId) => (await owner.call(routes.getIntake, { params: { intakeId } })).answer.intake.counts),
  );
  expect(all.reduce((sum, c) => sum + c.added! + c['already-here']!, 0)).toBe(48);
  expect(all.reduce((sum, c) => sum + c.added!, 0)).toBe(12);
  expect((await owner.call(routes.listFamilies)).answer.families).toHaveLength(12);
  await expectNoHalfRows();
  await other.stop();
});

test('progress comes as server-sent events and ends with the job', async () => {
  const { answer: intake } = await owner.call(routes.createIntake, { body: { label: 'watched' } });
  await owner.upload(intake.id, 'many.zip', await zip(manyFonts(30)));
  const { answer: job } = await owner.call(routes.startIntake, { params: { intakeId: intake.id } });
  const response = await owner.raw('GET', `/api/jobs/${job.id}/events`);
  expect(response.headers.get('content-type')).toBe('text/event-stream');
  const states = (await response.text())
    .split('\n\n')
    .filter((l) => l.startsWith('data: '))
    .map((l) => JSON.parse(l.slice(6)) as { state: string; done: number });
  expect(states.length).toBeGreaterThan(1);
  expect(states[states.length - 1]).toMatchObject({ state: 'done', done: 30, total: 30 });
});

test('one license clears only the faces it was given for, and nothing is confirmed beforehand', async () => {
  const bundle = await zip([
    ['Free One/Gochi.ttf', readFont('gochiHand')],
    ['Free One/OFL.txt', plainOfl],
    ['Paid Two/Literata.ttf', readFont('literata')],
    ['Paid Two/LICENSE.txt', 'Free for personal use only. You may not embed it on a website.'],
    ['Bare Three/Didot.ttf', readFont('didot')],
  ]);
  const { suggestions } = await owner.bringIn([['bundle.zip', bundle]]);
  const of = (name: string) => suggestions.find((s) => s.companionName === name)!;
  expect(of('Free One/OFL.txt')).toMatchObject({ families: ['Gochi Hand'], suggestion: { spdxId: 'OFL-1.1', basis: 'text' } });
  expect(of('Paid Two/LICENSE.txt').suggestion).toBeNull();
  // Literata says in its own license field that it is under the OFL, which those terms are not.
  expect(of('Paid Two/LICENSE.txt')).toMatchObject({
    families: [],
    left: [{ family: 'Literata', reason: expect.stringMatching(/itself names/) }],
  });
  const { answer: library } = await owner.call(routes.listFamilies);
  const faceOf = async (name: string) =>
    (await owner.call(routes.getFace, { params: { faceId: library.families.find((f) => f.name === name)!.leadFaceId } })).answer;
  const bare = await faceOf('GFS Didot');
  expect(bare.suggestions.filter((s) => s.basis === 'text')).toEqual([]);
  expect(bare.companions.filter((c) => c.belongs)).toEqual([]);
  expect(bare.companions.find((c) => c.name.endsWith('OFL.txt'))).toMatchObject({
    belongs: false,
    why: expect.stringMatching(/another folder/),
  });
  for (const family of library.families)
    expect([family.name, Object.values(family.verdicts)]).toEqual([family.name, Array(11).fill('ask')]);
});

test('terms and receipts are looked for in every text, whatever it is called', async () => {
  const { items } = await owner.bringIn([
    [
      'b.zip',
      await zip([
        ['a.ttf', readFont('gochiHand')],
        ['readme.txt', 'Thanks! This font is free for personal use. For commercial use contact me.'],
        ['READ ME FIRST.txt', 'You may not use this font on goods you sell.'],
        ['EULA.txt', 'End user license agreement. Keep the receipt of your order. You may install the font on two computers.'],
        ['both.txt', 'Receipt 12. Amount paid EUR 20.00. You may install the font on two computers.'],
        ['paid.txt', 'Invoice no. 8 of an order. Amount paid: EUR 20.00'],
        [
          'hint.txt',
          'This font is free software; you can redistribute it and/or modify it under the terms of the GNU General Public License as published by the Free Software Foundation; either version 2 of the License, or (at your option) any later version.',
        ],
      ]),
    ],
  ]);
  const face = (await owner.call(routes.getFace, { params: { faceId: items.find((i) => i.faceId)!.faceId! } })).answer;
  expect(Object.fromEntries(face.companions.map((c) => [c.name, [c.kind, c.receipt, c.hints]]))).toEqual({
    'readme.txt': ['terms', false, []],
    'READ ME FIRST.txt': ['terms', false, []],
    // It speaks of receipts and orders, and is none.
    'EULA.txt': ['terms', false, []],
    'both.txt': ['terms', true, []],
    'paid.txt': ['receipt', true, []],
    'hint.txt': ['terms', false, ['GNU General Public License 2.0 or later']],
  });
});

test('an older copy without a license does not take the lead of a licensed family', async () => {
  const file = (version: 'caveat-before' | '@expo-google-fonts/caveat'): Uint8Array =>
    new Uint8Array(
      readFileSync(
        join(
          process.cwd(),
          'node_modules',
          version,
          version.startsWith('@') ? '400Regular/Caveat_400Regular.ttf' : 'Caveat_400Regular.ttf',
        ),
      ),
    );
  await owner.bringIn([['new.ttf', file('@expo-google-fonts/caveat')]]);
  const [before] = (await owner.call(routes.listFamilies)).answer.families;
  await owner.call(routes.createLicense, {
    body: { ...blankLicense([before!.leadFaceId]), name: 'Ours', kind: 'bought', uses: { website: 'yes' }, confirmed: true },
  });
  const { items } = await owner.bringIn([['old.ttf', file('caveat-before')]]);
  expect(items[0]!.reason).toMatch(/Another version of Caveat Regular.*goes on leading/);
  const [after] = (await owner.call(routes.listFamilies)).answer.families;
  expect([after!.leadFaceId, after!.verdicts.website]).toEqual([before!.leadFaceId, 'yes']);
  expect(after!.faces.map((f) => f.version?.slice(0, 11)).sort()).toEqual(['Version 1.5', 'Version 2.0']);
  expect(after!.groups).toHaveLength(2);
});

test('files of one face in one group meet each other as they would one by one', async () => {
  const caveat = (from: string, path: string): Uint8Array => new Uint8Array(readFileSync(join(process.cwd(), 'node_modules', from, path)));
  const { items } = await owner.bringIn([
    ['a/serif.ttf', readFont('serifTtf')],
    ['b/serif.otf', readFont('serifOtf')],
    ['c/serif-again.ttf', readFont('serifTtf')],
    ['d/new.ttf', caveat('@expo-google-fonts/caveat', '400Regular/Caveat_400Regular.ttf')],
    ['e/old.ttf', caveat('caveat-before', 'Caveat_400Regular.ttf')],
  ]);
  const told = new Map(items.map((i) => [i.path, `${i.state}: ${i.reason}`]));
  // Which of two is kept first is left to chance; what is said of the second is not.
  const serif = [told.get('a/serif.ttf')!, told.get('b/serif.otf')!, told.get('c/serif-again.ttf')!].join('\n');
  expect(serif.match(/^already-here: The same file is here already/gm)).toHaveLength(1);
  expect(serif.match(/^added: The same face as a file already here/gm)).toHaveLength(1);
  expect([told.get('d/new.ttf'), told.get('e/old.ttf')].filter((t) => t!.includes('Another version of Caveat Regular'))).toHaveLength(1);
  const { families } = (await owner.call(routes.listFamilies)).answer;
  expect(families.map((f) => [f.name, f.faces.length]).sort()).toEqual([
    ['Caveat', 2],
    ['Source Serif 4', 1],
  ]);
  const serifFace = families.find((f) => f.name === 'Source Serif 4')!.leadFaceId;
  const { files } = (await owner.call(routes.getFace, { params: { faceId: serifFace } })).answer;
  expect(files.map((f) => [f.format, f.leading]).sort()).toEqual([
    ['otf', true],
    ['ttf', false],
  ]);
});

test('a check of a text, the list and the sentence agree on what a face writes', async () => {
  // Noto Sans without GPOS and without the accented letters of Greek: the accents are drawn for small letters, and over capitals
  // and beside a diaeresis they would not stand right.
  const path = join(mkdtempSync(join(tmpdir(), 'greek-')), 'greek.ttf');
  const cut = [
    'subset',
    FONTS.notoSans,
    '--unicodes=U+20-7E,U+391-3A9,U+3B1-3C9,U+301,U+308',
    '--drop-tables+=GPOS',
    `--output-file=${path}`,
  ];
  expect(spawnSync('fonttools', cut).status).toBe(0);
  const { items } = await owner.bringIn([['greek.ttf', new Uint8Array(readFileSync(path))]]);
  const faceId = items[0]!.faceId!;
  const { answer } = await owner.call(routes.checkText, { body: { text: 'Ώ Ή Έ ΐ', faceIds: [faceId], use: null } });
  // Against the face that stands for each family, it is the same face.
  const { answer: all } = await owner.call(routes.checkText, { body: { text: 'Ώ Ή Έ ΐ', faceIds: [], use: null } });
  expect(all.faces.find((f) => f.faceId === faceId)).toEqual(answer.faces[0]);
  expect(answer.faces[0]!.missing.map((m) => m.character)).toEqual(['Ώ', 'Ή', 'Έ', 'ΐ']);
  const { answer: library } = await owner.call(routes.listFamilies);
  expect(library.families[0]!.languages).not.toContain('el');
  expect((await owner.call(routes.findFamilies, { query: { writes: 'el' } })).answer.ids).toEqual([]);
  const [runs, loose] = library.runSets[library.families[0]!.faces[0]!.runs]!.split('|');
  const writes = writesOf(
    runs!.split(/[-,]/).map((n) => parseInt(n, 36)),
    (loose ?? '').split(' '),
  );
  expect(missingFrom('Ώ Ή Έ ΐ', writes)).toHaveLength(4);
});
