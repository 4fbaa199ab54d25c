import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import { layOut, type SheetPlan } from '@orderly-glyph/core';
import { routes, type ReadPageAnswer, type LetterStep, type Typeface, type TypefaceAct } from '@orderly-glyph/schema';
import { FONTS } from '../../../packages/core/test/fonts.js';
import { newOwner, startServer, type Person, type TestServer } from './setup.js';
import { unzip } from './zips.js';

const dir = mkdtempSync(join(tmpdir(), 'typefaces-'));
let server: TestServer;
let owner: Person;
let face: Typeface;
beforeAll(async () => {
  server = await startServer({ PLACE_FOLDERS: join(dir, 'folders') });
  owner = await newOwner(server.address, 'Hands');
});
afterAll(async () => {
  await server.stop();
  rmSync(dir, { recursive: true });
});

const wish = {
  languages: ['en', 'pl'],
  figures: true,
  punctuation: false,
  currency: false,
  fractions: false,
  capitalsOnly: false,
  variants: 1,
  ligatures: ['th'],
  also: '.',
};
const params = (): { typefaceId: string } => ({ typefaceId: face.id });
const glyph = (character: string, variant = 0): Typeface['glyphs'][number] =>
  face.glyphs.find((g) => g.character === character && g.variant === variant)!;
async function act(what: TypefaceAct | Record<string, unknown>): Promise<number> {
  const { status, answer } = await owner.call(routes.changeLetters, { params: params(), body: what as TypefaceAct });
  if (status === 200) face = answer;
  return status;
}
async function send(
  bytes: Uint8Array<ArrayBuffer>,
): Promise<{ status: number; pages: ReadPageAnswer[]; added: string[]; replaced: string[] }> {
  const sent = await owner.raw('POST', `/api/typefaces/${face.id}/pages`, new Uint8Array(bytes), {
    'content-type': 'application/octet-stream',
  });
  const answer = (await sent.json()) as { typeface: Typeface; pages: ReadPageAnswer[]; added: string[]; replaced: string[] };
  expect(answer).not.toHaveProperty('error');
  face = answer.typeface;
  return { ...answer, status: sent.status };
}
const plan = async (): Promise<SheetPlan> =>
  JSON.parse(
    (
      (await server.sql.query('SELECT plan FROM typeface_sheet WHERE id = ?', [face.sheets[0]!.id])) as unknown as [[{ plan: string }]]
    )[0][0].plan,
  ) as SheetPlan;
const filled: Buffer[] = [];

test('a typeface begins with what it shall write, and its sheet has exactly those boxes', async () => {
  const refused = await owner.call(routes.createTypeface, { body: { family: 'Hollin Hand', wish: { ...wish, languages: ['ar'] } } });
  expect([refused.status, JSON.stringify(refused.answer)]).toEqual([422, expect.stringMatching(/letters that join or stack/)]);
  const made = await owner.call(routes.createTypeface, { body: { family: 'Hollin Hand', maker: 'Hollin Bank', wish } });
  expect(made.status).toBe(200);
  face = made.answer;
  // ą ę, ć ń ó ś ź and ż come of letters and three marks; ł comes of l and the slash.
  expect(face.open.filter((c) => /\p{M}|\//u.test(c.character)).map((c) => c.character)).toEqual(['/', '\u0301', '\u0307', '\u0328']);
  expect(face.open.filter((c) => c.variant === 1).length).toBe(26);
  face = (await owner.call(routes.makeSheet, { params: params(), body: { paper: 'A4', em: 14, boxes: 'all' } })).answer;
  expect([face.sheets.length, face.sheets[0]!.boxes]).toEqual([1, face.open.length]);
  for (const [as, start] of [
    ['pdf', '%PDF'],
    ['svg', '<svg'],
    ['png', '\u0089PNG'],
  ] as const) {
    const file = await owner.raw('GET', `/api/typefaces/${face.id}/sheets/${face.sheets[0]!.id}?as=${as}&page=1`);
    expect([
      file.status,
      Buffer.from(await file.arrayBuffer())
        .subarray(0, 4)
        .toString('latin1'),
    ]).toEqual([200, start]);
  }
  expect((await owner.raw('GET', `/api/typefaces/${face.id}/sheets/${face.sheets[0]!.id}?as=png&page=9`)).status).toBe(409);
});

test('an empty page, and what is none of ours, is told and changes nothing', async () => {
  const blank = Buffer.from(
    await (await owner.raw('GET', `/api/typefaces/${face.id}/sheets/${face.sheets[0]!.id}?as=png&page=1`)).arrayBuffer(),
  );
  const empty = await send(blank);
  expect([empty.status, empty.added, empty.pages[0]!.boxes.every((b) => b.findings.some((f) => f.code === 'empty'))]).toEqual([
    200,
    [],
    true,
  ]);
  const white = createCanvas(400, 400);
  white.getContext('2d').fillRect(0, 0, 400, 400);
  expect((await send(new Uint8Array(white.toBuffer('image/png')))).pages.map((p) => p.findings[0]!.code)).toEqual(['no-code']);
  for (const [bytes, words] of [
    [new TextEncoder().encode('Dear all'), /no picture that is read here/],
    [Uint8Array.from([0, 0, 0, 24, ...Buffer.from('ftypheic'), 0, 0, 0, 0, 0, 0]), /HEIC/],
    [blank.subarray(0, 900), /breaks off/],
    [new TextEncoder().encode('%PDF-1.7 nothing'), /PDF is damaged/],
  ] as const) {
    const sent = await owner.raw('POST', `/api/typefaces/${face.id}/pages`, new Uint8Array(bytes), {
      'content-type': 'application/octet-stream',
    });
    expect([sent.status, await sent.text()]).toEqual([422, expect.stringMatching(words)]);
  }
});

test('filled pages become letters, in any order, and the languages asked for are written', async () => {
  const p = await plan();
  const pages = layOut(p);
  // Somebody's hand, in a process of its own: packages/core/test/filler.mjs.
  writeFileSync(join(dir, 'plan.json'), JSON.stringify(p));
  const hand = spawnSync(process.execPath, ['packages/core/test/filler.mjs', join(dir, 'plan.json'), FONTS.gochiHand, dir], {
    encoding: 'utf8',
  });
  expect(hand.stderr).toBe('');
  for (const page of [...pages].reverse()) {
    filled.unshift(readFileSync(join(dir, `${page.page}.png`)));
    const read = await send(new Uint8Array(filled[0]!));
    expect([read.status, read.pages.length, read.pages[0]!.page, read.pages[0]!.findings]).toEqual([200, 1, page.page, []]);
    expect(read.added.length).toBe(page.cells.length);
  }
  expect([face.open, face.missing, face.languages.lacking, face.languages.full]).toEqual([[], [], [], ['en', 'pl']]);
  expect(glyph('ż').of).toEqual(['z', '\u0307']);
  expect(face.white.from).toBe('words');
  // The page once more: all its letters step aside, and come back at one word.
  const again = await send(new Uint8Array(filled[0]!));
  expect([again.replaced.length, again.added.length]).toEqual([again.added.length, again.added.length]);
  expect(await act({ act: 'restore', ids: again.replaced })).toBe(200);
  expect(
    face.glyphs
      .map((g) => g.letterId)
      .filter(Boolean)
      .sort(),
  ).toEqual(expect.arrayContaining([...again.replaced].sort()));
});
test('two pages in one picture are refused, and a page of another typeface is', async () => {
  const [a, b] = await Promise.all(filled.slice(0, 2).map((f) => loadImage(f)));
  const both = createCanvas(a!.width * 2, a!.height);
  both.getContext('2d').drawImage(a!, 0, 0);
  both.getContext('2d').drawImage(b!, a!.width, 0);
  expect((await send(new Uint8Array(both.toBuffer('image/jpeg', 90)))).pages.map((p) => p.findings[0]!.code)).toEqual(['two-sheets']);
  const mine = face;
  face = (await owner.call(routes.createTypeface, { body: { family: 'Another', wish } })).answer;
  expect((await send(new Uint8Array(filled[0]!))).pages.map((p) => p.findings[0]!.code)).toEqual(['wrong-sheet']);
  face = mine;
});

test('letters are mended by steps that can be taken back; sides and pairs that a person sets stay', async () => {
  const id = glyph('a').letterId!;
  const before = glyph('a').path;
  const steps: LetterStep[] = [
    { step: 'weight', by: 12 },
    { step: 'move', x: 0, y: 5 },
    { step: 'smooth', within: 3 },
    { step: 'cut' },
    { step: 'clean' },
  ];
  for (const step of steps) {
    const was = glyph('a').path;
    expect(await act({ act: 'step', ids: [id], step })).toBe(200);
    if (step.step !== 'cut' && step.step !== 'clean') expect([step.step, glyph('a').path === was]).toEqual([step.step, false]);
  }
  const letter = (await owner.call(routes.getLetter, { params: { ...params(), letterId: id } })).answer;
  expect(letter.steps).toEqual([
    'Thicker by 12',
    'Moved by 0 across and 5 up',
    'Smoothed within 3',
    'Cut at the edge of its box',
    'Specks and gaps left out',
  ]);
  expect(await act({ act: 'unstep', ids: [id] })).toBe(200);
  expect(glyph('a').path).toBe(before);
  const [moved] = letter.outline;
  expect(await act({ act: 'step', ids: [id], step: { step: 'edit', contours: [moved!] } })).toBe(200);
  expect(glyph('a').path.match(/M/g)).toEqual(['M']);
  await act({ act: 'unstep', ids: [id] });
  expect(await act({ act: 'step', ids: [id], step: { step: 'weight', by: 900 } })).toBe(422);

  await act({ act: 'sides', character: 'n', left: 77, right: null });
  await act({ act: 'sides', character: 'h', left: null, right: null, leftAs: 'n' });
  expect([glyph('n').left, glyph('h').left, glyph('ń').left, glyph('n').locked]).toEqual([77, 77, 77, { left: true, right: false }]);
  await act({ act: 'white', white: 30 });
  expect([glyph('n').left, face.white.from]).toEqual([77, 'set']);
  const wide = glyph('o').advance;
  await act({ act: 'white', white: 90 });
  expect(glyph('o').advance).toBeGreaterThan(wide + 60);
  await act({ act: 'white', white: null });
  const low = glyph('ź').path;
  await act({ act: 'adjust', character: 'ź', shifts: [{ x: 0, y: 20 }] });
  expect([glyph('ź').adjusted, glyph('ź').path === low]).toEqual([[{ x: 0, y: 20 }], false]);
  await act({ act: 'adjust', character: 'ź', shifts: [] });
  expect([glyph('ź').adjusted, glyph('ź').path]).toEqual([[], low]);
  await act({ act: 'pair', left: 'o', right: 'n', value: -33 });
  expect(face.pairs[0]).toEqual({ left: 'o', right: 'n', value: -33, locked: true });
  await act({ act: 'borrow', from: glyph('A').letterId!, to: { character: 'x', variant: 0 } });
  expect(glyph('x').path.match(/[LQC]/g)).toEqual(glyph('A').path.match(/[LQC]/g));
  const lacking = glyph('x').letterId!;
  await act({ act: 'remove', ids: [lacking] });
  expect([face.open, face.missing]).toEqual([[{ character: 'x', variant: 0 }], ['x']]);
  await act({ act: 'restore', ids: [lacking] });
});

test('letters come as vectors and from the screen', async () => {
  const svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 200"><path d="M10 50h80v100h-80z"/></svg>';
  const { answer } = await owner.call(routes.addLetters, {
    params: params(),
    body: {
      files: [
        { path: 'upper-i.svg', text: svg },
        { path: 'U+0078.svg', text: svg },
        { path: 'nothing known.svg', text: svg },
        { path: 'b.svg', text: 'Dear all' },
      ],
      boxes: [
        {
          character: 'l',
          variant: 0,
          width: 124,
          height: 134,
          gray: Buffer.from(
            Uint8Array.from({ length: 124 * 134 }, (_, i) => (i % 124 > 40 && i % 124 < 60 && i / 124 > 20 && i / 124 < 100 ? 0 : 255)),
          ).toString('base64'),
        },
      ],
    },
  });
  face = answer.typeface;
  expect([answer.added.length, answer.told.length]).toEqual([3, 2]);
  const tops = (c: string): number =>
    Math.max(...[...glyph(c).path.matchAll(/-?\d+(?:\.\d+)? (-?\d+(?:\.\d+)?)/g)].map((m) => -Number(m[1])));
  // A hundred high stands as high as capitals, or as small letters, do.
  expect([Math.round(tops('I') / 10), Math.round(tops('x') / 10)]).toEqual([70, 48]);
  await act({ act: 'restore', ids: answer.replaced });
});

test('a release brings the face into the library, and its file brings the typeface back', async () => {
  const release = async (): Promise<number> => {
    const { status, answer } = await owner.call(routes.releaseTypeface, {
      params: params(),
      body: { mayRelease: true, notes: 'The first.', version: face.version },
    });
    if (status === 200) face = answer.typeface;
    return status;
  };
  expect(
    (await owner.call(routes.releaseTypeface, { params: params(), body: { mayRelease: true, version: face.version - 1 } })).status,
  ).toBe(409);
  expect(await release()).toBe(200);
  expect(face.releases[0]!.files.map((f) => f.name)).toEqual([
    'Hollin-Hand-Regular.otf',
    'Hollin-Hand-Regular.ttf',
    'Hollin-Hand-Regular.woff2',
  ]);
  expect(face.next).toMatchObject({ added: [], changed: [], removed: [], number: 2 });
  const { families } = (await owner.call(routes.listFamilies)).answer;
  const family = families.find((f) => f.name === 'Hollin Hand')!;
  expect([family.verdicts.website, family.verdicts.app]).toEqual(['yes', 'yes']);
  const kit = await unzip(Buffer.from(await (await owner.raw('GET', `/api/typefaces/${face.id}/releases/1/kit`)).arrayBuffer()));
  const ttf = join(dir, 'one.ttf');
  writeFileSync(ttf, kit.get('fonts/Hollin-Hand-Regular.ttf')!);
  // Outside readers: OpenType Sanitizer takes it; HarfBuzz takes turns with doubles, joins th and moves the pair.
  expect(spawnSync('ots-sanitize', [ttf]).status).toBe(0);
  const shaped = (text: string, ...more: string[]): string =>
    spawnSync('hb-shape', ['--no-clusters', ...more, ttf, text], { encoding: 'utf8' }).stdout.trim();
  expect(shaped('oooth', '--no-positions')).toBe('[o|o.alt1|o|t_h]');
  const [o, n] = [glyph('o').advance, glyph('n', 1).advance];
  expect(shaped('on')).toBe(`[o+${o - 33}|n.alt1+${n}]`);
  const file = kit.get('typeface.json')!;
  const again = await owner.raw('POST', '/api/typefaces/from-file', new Uint8Array(file), { 'content-type': 'application/octet-stream' });
  expect([again.status, await again.text()]).toEqual([422, expect.stringMatching(/in the making already/)]);
  const mine = face;
  await owner.call(routes.removeTypeface, { params: params() });
  const back = (await (
    await owner.raw('POST', '/api/typefaces/from-file', new Uint8Array(file), { 'content-type': 'application/octet-stream' })
  ).json()) as Typeface;
  expect(back.glyphs.map(({ letterId: _, ...g }) => g)).toEqual(mine.glyphs.map(({ letterId: _, ...g }) => g));
  expect((await owner.call(routes.returnTypeface, { params: params() })).status).toBe(422);
  await owner.call(routes.removeTypeface, { params: { typefaceId: back.id } });
  face = (await owner.call(routes.returnTypeface, { params: params() })).answer;
  // What changed since is shown, old and new.
  await act({ act: 'step', ids: [glyph('e').letterId!], step: { step: 'scale', by: 0.9 } });
  expect(face.next.changed.map((c) => c.name)).toEqual(['e', 'ę']);
});

test('nobody else sees or changes a typeface', async () => {
  const other = await newOwner(server.address, 'Others');
  expect((await other.call(routes.getTypeface, { params: params() })).status).toBe(404);
  expect((await other.call(routes.changeLetters, { params: params(), body: { act: 'white', white: 1 } })).status).toBe(404);
  expect((await other.call(routes.listTypefaces)).answer).toEqual([]);
});
