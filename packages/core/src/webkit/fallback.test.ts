import { faceOf } from '../../test/face.js';
import { readFont, withTable } from '../../test/fonts.js';
import { nodeCodec } from '@orderly-glyph/node';
import { Builder } from '../font/index.js';
import { HHEA, readFontFile, writeSfnt } from '../sfnt/index.js';
import { FALLBACK_NAMES, fallbackFor, lineMetrics, sharesOf } from './index.js';

/** A face in which every letter is half an em wide. */
function halfWide() {
  const builder = new Builder({ names: { 1: 'Half' }, ascender: 900, descender: -300, lineGap: 120 });
  const box = (pen: { moveTo(x: number, y: number): void; lineTo(x: number, y: number): void; closePath(): void }): void => {
    pen.moveTo(50, 0);
    pen.lineTo(450, 0);
    pen.lineTo(450, 500);
    pen.closePath();
  };
  builder.add({ name: '.notdef', codePoints: [], advance: 500, draw: box });
  builder.add({ name: 'all', codePoints: Array.from({ length: 0x250 - 0x20 }, (_, i) => 0x20 + i), advance: 500, draw: box });
  return faceOf(writeSfnt(builder.build()));
}

test('letters of running text are counted with their space, and shares come to one', () => {
  for (const tags of [['en'], ['pl'], ['en', 'de'], ['cy'], ['el']]) {
    const shares = sharesOf(tags)!;
    expect([...shares.values()].reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6);
  }
  // Every sixth or so character of English is a space, and e is its commonest letter (common knowledge of its frequencies).
  const english = [...sharesOf(['en'])!].sort((a, b) => b[1] - a[1]);
  expect(english.slice(0, 2).map(([c]) => c)).toEqual([' ', 'e']);
  expect(english[0]![1]).toBeGreaterThan(0.14);
  expect(sharesOf(['pl'])!.get('ż')!).toBeGreaterThan(0);
  expect(sharesOf(['de-AT'])).toEqual(sharesOf(['de']));
  expect(sharesOf(['zz'])).toBeNull();
});

test('a face as wide as a fallback is adjusted to itself', () => {
  // Courier New gives every letter 1229 of 2048 units (its hmtx, from memory), Noto Sans Mono 600 of 1000.
  const fallback = fallbackFor(faceOf(readFont('notoMono')), 'Courier New', ['en'])!;
  expect(fallback.sizeAdjust).toBeCloseTo(0.6 / (1229 / 2048), 3);
  const half = fallbackFor(halfWide(), 'Courier New', ['pl'])!;
  expect(half.sizeAdjust).toBeCloseTo(0.5 / (1229 / 2048), 3);
  // The line stays as high as that of the face: each metric by the size that it is of.
  expect(
    [half.ascentOverride * half.sizeAdjust, half.descentOverride * half.sizeAdjust, half.lineGapOverride * half.sizeAdjust].map((v) =>
      Number(v.toFixed(6)),
    ),
  ).toEqual([0.9, 0.3, 0.12]);
});

test('widths of Arial are those of its metrics', () => {
  // Adobe's core metrics of Helvetica, which Arial was made to match, in thousandths: space 278, a 556, i 222, m 833, W 944.
  const published: [string, number][] = [
    [' ', 278],
    ['a', 556],
    ['i', 222],
    ['m', 833],
    ['W', 944],
    ['e', 556],
    ['t', 278],
    ['n', 556],
  ];
  const shares = sharesOf(['en'])!;
  // A face that has these alone, each as wide as an em.
  const builder = new Builder({ names: { 1: 'Some' } });
  builder.add({ name: '.notdef', codePoints: [], advance: 500, draw: null });
  builder.add({ name: 'some', codePoints: published.map(([c]) => c.codePointAt(0)!), advance: 1000, draw: null });
  const { sizeAdjust } = fallbackFor(faceOf(writeSfnt(builder.build())), 'Arial', ['en'])!;
  const sum = (of: (c: string, w: number) => number): number => published.reduce((s, [c, w]) => s + of(c, w), 0);
  expect(sizeAdjust).toBeCloseTo(sum((c) => shares.get(c)!) / sum((c, w) => (shares.get(c)! * w) / 1000), 2);
  expect(FALLBACK_NAMES).toEqual(expect.arrayContaining(['Arial', 'Arial Bold', 'Times New Roman', 'Courier New']));
  expect(fallbackFor(halfWide(), 'No such face', ['en'])).toBeNull();
  expect(fallbackFor(faceOf(readFont('khmer')), 'Arial', ['zz'])).toBeNull();
});

test('line metrics are those that browsers take', () => {
  const font = readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!;
  const face = faceOf(readFont('gochiHand'));
  const hhea = face.need(HHEA);
  expect(lineMetrics(face).ascent).toBeCloseTo(hhea.ascender / face.unitsPerEm, 6);
  // Where hhea is empty, OS/2 stands in.
  const empty = faceOf(withTable(font, 'hhea', HHEA.write({ ...hhea, ascender: 0, descender: 0 }, face)));
  expect(lineMetrics(empty).ascent).toBeGreaterThan(0);
});
