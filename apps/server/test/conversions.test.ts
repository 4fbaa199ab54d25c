import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blankLicense, routes, wish as wishSchema, wordsWish, type LicenseFields, type Wish } from '@orderly-glyph/schema';
import { NAME, windowsNames } from '../../../packages/core/src/sfnt/index.js';
import { colored } from '../../../packages/core/test/colored.js';
import { faceOf } from '../../../packages/core/test/face.js';
import { patch16, readFont, withTable } from '../../../packages/core/test/fonts.js';
import { newMember, newOwner, startServer, type Person, type TestServer } from './setup.js';
import { unzip } from './zips.js';

let server: TestServer;
let owner: Person;
const faces: Record<string, string> = {};
const dir = mkdtempSync(join(tmpdir(), 'conversions-'));

beforeAll(async () => {
  server = await startServer();
  owner = await newOwner(server.address, 'Converter');
  for (const name of ['serifOtf', 'gochiHand', 'serifVariable'] as const)
    faces[name] = (await owner.bringIn([[`${name}.${name === 'serifOtf' ? 'otf' : 'ttf'}`, readFont(name)]])).items[0]!.faceId!;
});
afterAll(async () => {
  await server.stop();
  rmSync(dir, { recursive: true });
});

const wish = (changes: Partial<Wish>): Wish => wishSchema.parse({ to: 'woff2', ...changes });
const license = (names: string[], changes: Partial<LicenseFields>) =>
  owner.call(routes.createLicense, {
    body: { ...blankLicense(names.map((n) => faces[n]!)), name: 'Ours', kind: 'made-here', confirmed: true, ...changes },
  });
const plan = async (name: string, wanted: Wish) =>
  (await owner.call(routes.planConversion, { body: { faceIds: [faces[name]!], wish: wanted } })).answer[0]!;
const convert = (name: string, wanted: Wish, who = owner) =>
  who.call(routes.convertFace, { params: { faceId: faces[name]! }, body: { wish: wanted } });
const bytesOf = async (path: string): Promise<Buffer> => {
  const response = await owner.raw('GET', path);
  expect(response.status).toBe(200);
  return Buffer.from(await response.arrayBuffer());
};
const words = (answer: unknown): string => JSON.stringify(answer);
/** The same face under another name, which makes it another one. */
function renamed(family: string): Uint8Array {
  const source = faceOf(readFont('gochiHand'));
  const { records } = windowsNames({ 1: family, 2: 'Regular', 4: family, 6: family.replace(' ', '') });
  return withTable(source.font, 'name', NAME.write({ ...source.need(NAME), records }, source));
}

test('without a right nothing is converted, and the sentence says what is missing', async () => {
  const asked = await plan('gochiHand', wish({ to: 'otf' }));
  expect(asked).toMatchObject({ steps: 'given CFF outlines', stop: null, verdict: { answer: expect.stringMatching(/ask|no/) } });
  const refused = await convert('gochiHand', wish({ to: 'otf' }));
  expect([refused.status, words(refused.answer)]).toEqual([409, expect.stringMatching(/stays as it is/)]);
  const [rows] = await server.sql.query('SELECT COUNT(*) AS n FROM rendition');
  expect(rows).toEqual([{ n: 0 }]);
});

test('what is allowed is made once, proved, and comes out as a file', async () => {
  await license(['serifOtf', 'gochiHand', 'serifVariable'], { uses: { changing: 'yes', website: 'yes' } });
  const wanted = wish({ to: 'ttf', languages: ['pl'], drop: 'smcp, c2sc' });
  expect(await plan('serifOtf', wanted)).toMatchObject({
    verdict: { answer: 'yes' },
    steps: expect.stringMatching(/^cut down to at most \d+ characters, without the features smcp, c2sc, given TrueType outlines$/),
  });
  const { status, answer: made } = await convert('serifOtf', wanted);
  const answer = made[0]!;
  expect([status, answer.format, answer.fileName]).toEqual([200, 'ttf', 'Source-Serif-4-Regular.ttf']);
  expect(answer.farthest!).toBeLessThan(0.6);
  expect(answer.bytes).toBeLessThan(answer.sourceBytes);
  const bytes = await bytesOf(`/api/faces/${faces.serifOtf}/conversion?wish=${encodeURIComponent(JSON.stringify(wanted))}`);
  expect(bytes.length).toBe(answer.bytes);
  const file = join(dir, 'made.ttf');
  writeFileSync(file, bytes);
  expect(spawnSync('ots-sanitize', [file]).status).toBe(0);
  // The same again is the same row.
  await convert('serifOtf', wanted);
  const [rows] = await server.sql.query(
    'SELECT COUNT(*) AS n FROM rendition WHERE source_sha256 = (SELECT sha256 FROM font_file WHERE name = ?)',
    ['serifOtf.otf'],
  );
  expect(rows).toEqual([{ n: 1 }]);
});

test('instances, words and ranges are what was asked for; what makes no sense is told', async () => {
  const { answer } = await convert('serifVariable', wish({ to: 'otf', at: 'Bold', text: 'Seeds' }));
  expect(answer[0]).toMatchObject({
    format: 'otf',
    fileName: 'Source-Serif-4-Variable-Bold.otf',
    steps: expect.stringMatching(/^fixed at Bold, cut down to at most 4 characters, given CFF outlines$/),
  });
  expect((await plan('serifVariable', wish({ to: 'otf' }))).stop).toMatch(/Choose where its axes stand/);
  // A face that is not variable has no axes to fix.
  expect((await plan('gochiHand', wish({ to: 'ttf', at: 'Bold' }))).steps).toBe('');
  for (const [changes, why] of [
    [{ ranges: 'A-Z' }, /Ranges are written like/],
    [{ keep: 'kern', drop: 'liga' }, /not both/],
  ] as const) {
    const refused = await owner.call(routes.planConversion, { body: { faceIds: [faces.gochiHand!], wish: wish(changes) } });
    expect([changes, refused.status, words(refused.answer)]).toEqual([changes, 422, expect.stringMatching(why)]);
  }
  const outside = await convert('serifVariable', wish({ at: 'wght=2000' }));
  expect([outside.status, words(outside.answer)]).toEqual([422, expect.stringMatching(/goes from 200 to 900/)]);
  const nothing = await convert('gochiHand', wish({ text: '中' }));
  expect([nothing.status, words(nothing.answer)]).toEqual([422, expect.stringMatching(/none of these characters/)]);
  expect((await owner.raw('GET', `/api/faces/${faces.gochiHand}/conversion?wish=x`)).status).toBe(422);
});

test('a recipe with more in it than a key holds is made once, and another one with the same beginning is another', async () => {
  const many = 'abcdefghijklmnopqrstuvwxyzåéüñçøłżź0123456789&%$€“”'.split('').join('|');
  const one = await convert('serifOtf', wish({ text: many, names: { family: 'Łąka' } }));
  const other = await convert('serifOtf', wish({ text: many, names: { family: 'Łąki' } }));
  expect([one.status, other.status, one.answer[0]!.sha256 === other.answer[0]!.sha256]).toEqual([200, 200, false]);
  const [before] = await server.sql.query('SELECT COUNT(*) AS n FROM rendition');
  expect((await convert('serifOtf', wish({ text: many, names: { family: 'Łąka' } }))).answer[0]!.sha256).toBe(one.answer[0]!.sha256);
  const [after] = await server.sql.query('SELECT COUNT(*) AS n FROM rendition');
  expect(after).toEqual(before);
  const [longest] = await server.sql.query('SELECT MAX(LENGTH(recipe)) AS n FROM rendition');
  expect((longest as { n: number }[])[0]!.n).toBeLessThan(400);
});

test('a face in several files says which characters each has, and its ZIP has the style sheet', async () => {
  const wanted = wish({ to: 'woff2', languages: ['pl', 'el', 'uk'], split: true });
  const { answer } = await convert('serifOtf', wanted);
  expect(answer.map((m) => m.part).sort()).toEqual(['common', 'cyrl', 'grek', 'latn']);
  expect(answer.find((m) => m.part === 'grek')).toMatchObject({ languages: ['el'], unicodeRange: expect.stringMatching(/^U\+0386/) });
  const wishText = encodeURIComponent(JSON.stringify(wanted));
  const files = await unzip(await bytesOf(`/api/conversions/zip?faces=${faces.serifOtf}&wish=${wishText}`));
  const sheet = files.get('fonts.css')!.toString();
  for (const m of answer) {
    expect(sheet).toContain(`src: url("${m.fileName}");\n  unicode-range: ${m.unicodeRange};`);
    expect(files.get(m.fileName)!.length).toBe(m.bytes);
  }
  expect((await owner.raw('GET', `/api/faces/${faces.serifOtf}/conversion?part=hans&wish=${wishText}`)).status).toBe(404);
});

test('a glyph is shown before and after, the instance against the place of the axes', async () => {
  const compare = async (name: string, wanted: Wish, character = '') =>
    (
      await owner.call(routes.compareConversion, {
        params: { faceId: faces[name]! },
        body: { wish: wanted, part: '', glyph: null, character },
      })
    ).answer;
  const same = await compare('gochiHand', wish({ to: 'woff2' }), 'g');
  expect([same.character, same.before === same.after, same.advance]).toEqual(['g', true, same.advanceAfter]);
  const bold = await compare('serifVariable', wish({ to: 'ttf', at: 'wght=900' }), 'H');
  const usual = await compare('serifVariable', wish({ to: 'ttf', at: '' }), 'H');
  expect(Math.abs(bold.advance - bold.advanceAfter)).toBeLessThanOrEqual(1);
  expect(bold.before).not.toBe(usual.before);
});

test('a recipe is kept under a name, remembers what it made, and runs again when a newer version comes in', async () => {
  const wanted = wish({ to: 'woff2', text: 'Seeds' });
  const kept = (
    await owner.call(routes.keepRecipe, { body: { name: 'For our website', wish: wanted, address: { with: 'text', words: 'Seeds' } } })
  ).answer;
  const run = (recipeId: string) =>
    owner.call(routes.convertFace, { params: { faceId: faces.gochiHand! }, body: { wish: wanted, recipeId } });
  const first = (await run(kept.id)).answer[0]!;
  const list = async () => (await owner.call(routes.getRecipes, {})).answer;
  expect(await list()).toMatchObject([
    { name: 'For our website', runs: [{ faceId: faces.gochiHand, outdated: false, problem: '', made: [{ sha256: first.sha256 }] }] },
  ]);
  // A newer version of the same face, by its revision and its names.
  const newer = join(dir, 'newer.ttf');
  const source = join(dir, 'source.ttf');
  writeFileSync(source, readFont('gochiHand'));
  const edit = `
import sys
from fontTools.ttLib import TTFont
f = TTFont(sys.argv[1]); f['head'].fontRevision = 9.5
for r in f['name'].names:
    if r.nameID == 5: r.string = 'Version 9.500'
    if r.nameID == 3: r.string = '9.500;Gochi'
f.save(sys.argv[2])`;
  expect(spawnSync('/usr/bin/python3', ['-c', edit, source, newer]).status).toBe(0);
  const item = (await owner.bringIn([['gochi-9.ttf', new Uint8Array(readFileSync(newer))]])).items[0]!;
  // It stands under the same license, or nothing would be made of it.
  faces.newer = item.faceId!;
  expect(faces.newer).not.toBe(faces.gochiHand);
  const runs = async () => Object.fromEntries((await list())[0]!.runs.map((r) => [r.faceId, r]));
  for (let i = 0; i < 60 && !(await runs())[faces.newer]; i++) await new Promise((r) => setTimeout(r, 250));
  expect((await runs())[faces.gochiHand!]).toMatchObject({ outdated: true, newer: faces.newer });
  // Nobody gave a right to the newer one yet, and that is remembered as the reason.
  expect((await runs())[faces.newer]).toMatchObject({ outdated: false, made: [], problem: expect.stringMatching(/stays as it is/) });
  await license(['newer'], { uses: { changing: 'yes' } });
  await owner.call(routes.convertFace, { params: { faceId: faces.newer }, body: { wish: wanted, recipeId: kept.id } });
  const now = (await runs())[faces.newer]!;
  expect([now.problem, now.made.length, now.made[0]!.sha256 === first.sha256]).toEqual(['', 1, false]);
  // Another of the same name takes its place; a forgotten one is gone, and one of nobody is told.
  const again = (await owner.call(routes.keepRecipe, { body: { name: 'For our website', wish: wanted, address: {} } })).answer;
  expect((await list()).map((r) => [r.id, r.runs.length])).toEqual([[again.id, 0]]);
  expect((await run(kept.id)).status).toBe(404);
  expect((await owner.call(routes.dropRecipe, { params: { recipeId: again.id } })).status).toBe(200);
  expect((await owner.call(routes.dropRecipe, { params: { recipeId: again.id } })).status).toBe(404);
  const stranger = await newOwner(server.address, 'Stranger');
  expect((await stranger.call(routes.getRecipes, {})).answer).toEqual([]);
});

test('words become shapes where the license allows it, and where it is open only when somebody says it is settled', async () => {
  const words = (changes: object = {}) => wordsWish.parse({ text: 'Seeds', size: 40, color: '#224433', purpose: 'logo', ...changes });
  const draw = (changes: object = {}) =>
    owner.call(routes.drawWords, { params: { faceId: faces.gochiHand! }, body: { wish: words(changes) } });
  const take = (as: string, changes: object = {}) =>
    owner.raw('GET', `/api/faces/${faces.gochiHand}/words?as=${as}&wish=${encodeURIComponent(JSON.stringify(words(changes)))}`);
  const drawn = (await draw()).answer;
  expect([drawn.unit, drawn.verdict.answer, drawn.svg.includes('<path')]).toEqual(['mm', 'ask', true]);
  expect((await take('svg')).status).toBe(409);
  const svg = await take('svg', { settled: true });
  expect([svg.status, svg.headers.get('content-type'), svg.headers.get('content-security-policy')]).toEqual([
    200,
    'image/svg+xml',
    "sandbox; default-src 'none'",
  ]);
  expect(await svg.text()).toMatch(
    /<desc>Outlines of words set in Gochi Hand Regular[^<]*SHA-256 [0-9a-f]{64}\. [^<]+ stated that its maker allows it\.<\/desc>/,
  );
  expect(
    Buffer.from(await (await take('pdf', { settled: true })).arrayBuffer())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
  expect(
    Buffer.from(await (await take('png', { settled: true })).arrayBuffer())
      .subarray(1, 4)
      .toString(),
  ).toBe('PNG');
  const missing = await draw({ text: 'Seeds 中' });
  expect([missing.status, JSON.stringify(missing.answer)]).toEqual([422, expect.stringMatching(/cannot set “中”/)]);
});

test('a font drawn in SVG and one in an EOT file come in as faces and go out as files of today', async () => {
  const row = `<svg xmlns="http://www.w3.org/2000/svg"><defs><font horiz-adv-x="600"><font-face font-family="Hedge Row" units-per-em="1000"/><missing-glyph d="M0 0h9v9z"/>${[...'ABCDabcd '].map((c) => `<glyph unicode="${c}" d="${c === ' ' ? '' : 'M50 0h400v500h-400z'}"/>`).join('')}</font></defs></svg>`;
  const plain = Buffer.from(renamed('Stone Wall'));
  // Four empty names with their padding, and no sites. Source: W3C Member Submission on EOT, section 4.
  const header = Buffer.alloc(82 + 4 * 4 + 2);
  header.writeUInt32LE(header.length + plain.length, 0);
  header.writeUInt32LE(plain.length, 4);
  header.writeUInt32LE(0x00020001, 8);
  header.writeUInt16LE(0x504c, 34);
  const { items } = await owner.bringIn([
    ['hedge.svg', new TextEncoder().encode(row)],
    ['wall.eot', new Uint8Array(Buffer.concat([header, plain]))],
    ['drawing.svg', new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0h9v9z"/></svg>')],
  ]);
  const byName = Object.fromEntries(items.map((i) => [i.path, i]));
  expect(byName['drawing.svg']!.faceId).toBeNull();
  for (const [path, name] of [
    ['hedge.svg', 'Hedge-Row'],
    ['wall.eot', 'Stone-Wall'],
  ] as const) {
    const faceId = byName[path]!.faceId!;
    expect([path, faceId]).toEqual([path, expect.any(String)]);
    faces[path] = faceId;
    await license([path], { uses: { changing: 'yes' } });
    const { status, answer } = await convert(path, wish({ to: 'woff2' }));
    expect([path, status, words(answer).slice(0, 200)]).toEqual([path, 200, expect.stringContaining(`${name}-Regular.woff2`)]);
  }
});

test('a colored face is shown with its color, and is not cut down where that would be lost', async () => {
  faces.colored = (await owner.bringIn([['colored.ttf', colored(true)]])).items[0]!.faceId!;
  await license(['colored'], { uses: { changing: 'yes' } });
  const line = await bytesOf(`/api/faces/${faces.colored}/line?text=A`);
  expect(faceOf(new Uint8Array(line)).color).toEqual(['COLR0']);
  const refused = await convert('colored', wish({ text: 'A' }));
  expect([refused.status, words(refused.answer)]).toEqual([422, expect.stringMatching(/colored in a way/)]);
  const plain = await convert('colored', wish({ text: 'A', plain: true }));
  expect([plain.status, plain.answer[0]!.steps]).toEqual([200, expect.stringMatching(/^made plain, without color, cut down/)]);
});

test('faults that can be mended no longer stop a face that is to be mended', async () => {
  const source = faceOf(renamed('Broken Hand'));
  const broken = withTable(source.font, 'head', patch16(source.bytes('head')!, 12, 0));
  faces.broken = (await owner.bringIn([['broken.ttf', broken]])).items[0]!.faceId!;
  const stopped = await plan('broken', wish({}));
  expect([stopped.stop, stopped.mendable]).toEqual([expect.stringMatching(/magic number/), [expect.stringMatching(/magic number/)]]);
  expect((await plan('broken', wish({ mend: true }))).stop).toBeNull();
});

test('several come as a ZIP with a report, and those that cannot be made are told in it', async () => {
  const wanted = encodeURIComponent(JSON.stringify(wish({ to: 'otf' })));
  const files = await unzip(
    await bytesOf(`/api/conversions/zip?faces=${faces.gochiHand},${faces.serifOtf},${faces.serifVariable}&wish=${wanted}`),
  );
  expect([...files.keys()].sort()).toEqual(['Gochi-Hand-Regular.otf', 'REPORT.json', 'Source-Serif-4-Regular.otf']);
  const report = JSON.parse(files.get('REPORT.json')!.toString()) as {
    faces: { file: string | null; why?: string; farthest?: number | null; source?: string }[];
  };
  expect(report.faces).toEqual([
    expect.objectContaining({
      file: 'Gochi-Hand-Regular.otf',
      farthest: expect.any(Number),
      source: expect.stringMatching(/^[0-9a-f]{64}$/),
    }),
    expect.objectContaining({ file: 'Source-Serif-4-Regular.otf', steps: '' }),
    { face: expect.stringContaining('Source Serif 4'), file: null, why: expect.stringMatching(/Choose where its axes stand/) },
  ]);
  // What stays as it is comes out byte for byte.
  expect(files.get('Source-Serif-4-Regular.otf')!.equals(Buffer.from(readFont('serifOtf')))).toBe(true);
});

test('a viewer sees what would be done and converts nothing', async () => {
  const viewer = await newMember(owner, 'viewer');
  expect((await viewer.call(routes.planConversion, { body: { faceIds: [faces.gochiHand!], wish: wish({}) } })).status).toBe(200);
  expect((await convert('gochiHand', wish({}), viewer)).status).toBe(403);
});
