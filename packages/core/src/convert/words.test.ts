import { spawnSync } from 'node:child_process';
import { nodeCodec, nodePaths, nodeSubsetter, wordsPdf, wordsPng } from '@orderly-glyph/node';
import { PNG } from 'pngjs';
import { faceOf } from '../../test/face.js';
import { FONTS, readFont } from '../../test/fonts.js';
import { python } from '../../test/python.js';
import { areaOf, BoundsPen, drawContour } from '../outline/index.js';
import { recipeFor, render, wordShapes, wordsSvg, type WordShapes, type WordsWish } from './index.js';

const paths = await nodePaths();
const plain: WordsWish = {
  text: 'AVAST',
  size: 1000,
  unit: 'px',
  measure: 'em',
  letterSpacing: 0,
  lineHeight: null,
  align: 'left',
  features: [],
  at: '',
  pieces: 'letters',
};
const set = (name: keyof typeof FONTS, wish: Partial<WordsWish>): WordShapes =>
  wordShapes(faceOf(readFont(name)), { ...plain, ...wish }, paths);
const boxOf = (words: WordShapes, from = 0, to = words.pieces.length): { xMin: number; yMin: number; xMax: number; yMax: number } => {
  const pen = new BoundsPen();
  for (const p of words.pieces.slice(from, to)) for (const c of p.contours) drawContour(c, pen);
  return pen.bounds!;
};
const area = (words: WordShapes): number => words.pieces.reduce((sum, p) => sum + p.contours.reduce((s, c) => s + areaOf(c), 0), 0);

/** Left edges of the ink of each glyph, by Debian's hb-shape and fontTools, in ems from the first. */
function edges(name: keyof typeof FONTS, text: string, ...options: string[]): number[] {
  const shaped = JSON.parse(
    spawnSync('hb-shape', [FONTS[name], text, '--output-format=json', '--no-glyph-names', ...options], { encoding: 'utf8' }).stdout,
  ) as { g: number; dx: number; ax: number }[];
  return python<number[]>(
    `
from fontTools.ttLib import TTFont
from fontTools.pens.boundsPen import BoundsPen
path, shaped = given
font = TTFont(path); glyphs = font.getGlyphSet(); order = font.getGlyphOrder(); x = 0; out = []
for g in shaped:
    pen = BoundsPen(glyphs); glyphs[order[g['g']]].draw(pen)
    if pen.bounds: out.append((x + g['dx'] + pen.bounds[0]) / font['head'].unitsPerEm)
    x += g['ax']
print(json.dumps([v - out[0] for v in out]))
`,
    [FONTS[name], shaped],
  );
}
const leftEdges = (words: WordShapes): number[] => words.pieces.map((_, i) => boxOf(words, i, i + 1).xMin / 1000);
const near = (mine: number[], theirs: number[]): void => {
  expect(mine.length).toBe(theirs.length);
  mine.forEach((v, i) => expect(Math.abs(v - theirs[i]!)).toBeLessThan(0.002));
};

test('words stand as the face kerns them, with features as asked', () => {
  near(leftEdges(set('serifOtf', {})), edges('serifOtf', 'AVAST'));
  near(leftEdges(set('serifOtf', { features: [{ tag: 'kern', value: 0 }] })), edges('serifOtf', 'AVAST', '--features=-kern'));
  near(
    leftEdges(set('serifOtf', { text: 'office', features: [{ tag: 'liga', value: 0 }] })),
    edges('serifOtf', 'office', '--features=-liga'),
  );
  // Set apart: nothing melts, and each letter is a tenth of the em farther.
  const apart = edges('serifOtf', 'office', '--features=-liga,-clig,-dlig,-hlig,-calt').map((v, i) => v + 0.1 * i);
  near(leftEdges(set('serifOtf', { text: 'office', letterSpacing: 100 })), apart);
});

test('joined letters stay joined, right to left, and lines with both directions are in the order in which they are read', () => {
  const word = set('scheherazade', { text: 'شاي', pieces: 'one' });
  const wide = set('scheherazade', { text: 'شاي', pieces: 'one', letterSpacing: 200 });
  // Three letters in two joined groups: ya after alef stands alone, so there are fewer outlines without dots than letters.
  expect(wide.width).toBeCloseTo(word.width, 6);
  expect(wide.notes).toContain('Letters that join are not set apart.');
  // Source: Unicode Standard Annex 9: in a line that begins in Latin, figures after an Arabic word stand left of it.
  const mixed = set('scheherazade', { text: 'a شاي 12 b' });
  const order = leftEdges(mixed)
    .map((x, i) => ({ x, text: mixed.pieces[i]!.text }))
    .sort((p, q) => p.x - q.x)
    .map((p) => p.text)
    .join('');
  expect(order.replace(/[شاي]+/, 'W')).toBe('a12Wb');
});

test('letters that touch become one outline: the ink is no more than before, and no side lies within it', () => {
  const one = set('scheherazade', { text: 'مرحبا', pieces: 'one' });
  const again = paths.unite(one.pieces[0]!.contours, 1000)!;
  expect(again.length).toBe(one.pieces[0]!.contours.length);
  const letters = set('scheherazade', { text: 'مرحبا' });
  expect(Math.abs(area(one))).toBeLessThan(Math.abs(area(letters)) + 1);
  expect(one.pieces[0]!.contours.length).toBeLessThan(letters.pieces.reduce((n, p) => n + p.contours.length, 0));
});

test('sizes are those that were asked for, in each unit', () => {
  const capitals = set('serifOtf', { text: 'H', size: 12, unit: 'mm', measure: 'capitals' });
  expect([capitals.height, capitals.unit]).toEqual([expect.closeTo(12, 6), 'mm']);
  expect(set('serifOtf', { size: 80, unit: 'in', measure: 'width' }).width).toBeCloseTo(80, 6);
  const svg = wordsSvg(set('serifOtf', { size: 25, unit: 'mm', measure: 'width' }), '#112233', 'From <a> & "b"');
  expect(svg).toMatch(/^<svg [^>]*width="25mm" height="[\d.]+mm" viewBox="0 0 25 [\d.]+">/);
  expect(svg).toContain('<desc>From &#60;a&#62; &#38; &#34;b&#34;</desc>');
  // Lines stand one height apart, and the shorter one on the side that was asked for.
  const two = set('notoSans', { text: 'HHHH\nH', lineHeight: 2, align: 'right' });
  expect(boxOf(two, 4).yMax - boxOf(two, 0, 4).yMax).toBeCloseTo(2000, 3);
  expect(boxOf(two, 4).xMax).toBeCloseTo(boxOf(two, 0, 4).xMax, 3);
});

test('a variable face is drawn where its axes were put', async () => {
  const source = readFont('serifVariable');
  const tools = { codec: nodeCodec, subsetter: await nodeSubsetter() };
  const cut = tools.subsetter.subset(source, 0, [0x48, 0x6f]);
  const placed = wordShapes(faceOf(cut), { ...plain, text: 'Ho', at: 'wght=900' }, paths);
  const made = render(cut, 0, recipeFor(faceOf(cut), 'ttf', { to: 'ttf', at: 'wght=900' }), tools);
  const still = wordShapes(made.face, { ...plain, text: 'Ho' }, paths);
  expect(Math.abs(placed.width - still.width)).toBeLessThan(2);
  expect(Math.abs(area(placed) / area(still) - 1)).toBeLessThan(0.005);
});

test('what cannot be drawn is told and nothing is put in its stead', () => {
  expect(() => set('serifOtf', { text: 'a\u0e01b' })).toThrow(/cannot set “\u0e01”/);
  expect(() => set('serifOtf', { text: ' \n ' })).toThrow(/no words/);
  expect(() => set('serifOtf', { text: '\u00a0' })).toThrow();
  expect(() => set('serifOtf', { text: 'x'.repeat(2001) })).toThrow(/At most 2000/);
  expect(() => set('serifOtf', { at: '', size: 0 })).toThrow(/above 0/);
});

test('pictures are clear where no ink is, and have the ink of the outline', () => {
  for (const pieces of ['one', 'letters'] as const) {
    const words = set('serifOtf', { text: 'AVé&\ng', pieces });
    const png = PNG.sync.read(Buffer.from(wordsPng(words, '#336699', 700)));
    expect([png.width, png.height]).toEqual([700, Math.ceil((700 * words.height) / words.width)]);
    let ink = 0;
    for (let i = 0; i < png.data.length; i += 4) ink += png.data[i + 3]! / 255;
    const cell = words.width / 700;
    expect(Math.abs((ink * cell * cell) / Math.abs(area(words)) - 1)).toBeLessThan(0.003);
    expect([...png.data.subarray(0, 3)]).toEqual([0x33, 0x66, 0x99]);
  }
  expect(() => wordsPng(set('serifOtf', { text: 'I' }), '#000000', 20_000)).toThrow(/40 million/);
});

test('a page of PDF has the size of the words and no font', async () => {
  const words = set('serifOtf', { size: 254, unit: 'mm', measure: 'width' });
  const text = Buffer.from(await wordsPdf(words, '#000000', 'about')).toString('latin1');
  // 254 mm are ten inches, 720 points. Source: ISO 32000-1, 8.3.2.3.
  expect(text).toMatch(/\/MediaBox \[0 0 720(\.0+)? /);
  expect(text).not.toMatch(/\/Type \/Font/);
  await expect(wordsPdf({ ...words, width: 6000 }, '#000000', '')).rejects.toThrow(/at most 5 metres/);
});
