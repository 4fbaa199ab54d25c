import { faceFrom, faceOf } from '../../test/face.js';
import { readFont } from '../../test/fonts.js';
import { CFF, CFF2, POST, type OpenTables } from '../sfnt/index.js';
import { damagedGlyphs, deepCheck } from './index.js';

const NO_TABLES = { table: () => null, need: () => null } as unknown as OpenTables;
const plain = faceOf(readFont('gochiHand'));
const withTables = (face: typeof plain, changed: Record<string, Uint8Array>) =>
  faceFrom({ ...face.font, tables: new Map([...face.font.tables, ...Object.entries(changed)]) });
const codes = (face: typeof plain): string[] => deepCheck(face).map((f) => `${f.code} ${f.table}`);

/** The face with nothing drawn but its second glyph, which is given as bytes. */
function withGlyph(bytes: readonly number[]) {
  const head = plain.bytes('head')!.slice();
  new DataView(head.buffer).setInt16(50, 1);
  const loca = new DataView(new ArrayBuffer(4 * (plain.glyphCount + 1)));
  for (let i = 2; i <= plain.glyphCount; i++) loca.setUint32(4 * i, bytes.length);
  return withTables(plain, { head, glyf: Uint8Array.from(bytes), loca: new Uint8Array(loca.buffer) });
}
const u16 = (...values: number[]): number[] => values.flatMap((v) => [(v >> 8) & 255, v & 255]);

test.each<[string, number[], string | null]>([
  // Source: OpenType specification, glyf; judged as browsers do (OpenType Sanitizer, glyf.cc).
  ['no contours at all', u16(0, 0, 0, 0, 0), null],
  ['one point', [...u16(1, 0, 0, 0, 0, 0, 0), 0x31], null],
  ['two contours, the second of one point', [...u16(2, 0, 0, 0, 0, 0, 1, 0), 0x31, 0x31], null],
  ['contours out of order', [...u16(2, 0, 0, 0, 0, 1, 1, 0), 0x31, 0x31], 'out of order'],
  ['a reserved bit', [...u16(1, 0, 0, 0, 0, 0, 0), 0xb1], 'reserved bit'],
  ['the overlap bit on its first point', [...u16(1, 0, 0, 0, 0, 1, 0), 0x71, 0x31], null],
  ['the overlap bit later', [...u16(1, 0, 0, 0, 0, 1, 0), 0x31, 0x71], 'overlap flag'],
  ['a flag repeated', [...u16(1, 0, 0, 0, 0, 2, 0), 0x39, 2], null],
  ['a flag repeated no times', [...u16(1, 0, 0, 0, 0, 1, 0), 0x39, 0, 0x31], 'no times at all'],
  ['a flag repeated too often', [...u16(1, 0, 0, 0, 0, 2, 0), 0x39, 3], 'past its last point'],
  ['a coordinate too few', [...u16(1, 0, 0, 0, 0, 0, 0), 0x33], 'cut short'],
  ['its coordinates', [...u16(1, 0, 0, 0, 0, 0, 0), 0x33, 5], null],
  ['a box inside out', u16(0, 5, 0, 4, 0), 'inside out'],
  ['the box of nothing', u16(0, 32767, 32767, -32767, -32767), null],
  ['fewer contours than a composite has', u16(-2, 0, 0, 0, 0), 'negative number'],
  ['a part', u16(-1, 0, 0, 0, 0, 0x0003, 0, 0, 0), null],
  ['the last part there is', u16(-1, 0, 0, 0, 0, 0x0003, plain.glyphCount - 1, 0, 0), null],
  ['a part that is not there', u16(-1, 0, 0, 0, 0, 0x0003, plain.glyphCount, 0, 0), 'does not exist'],
  ['a part with a scale', u16(-1, 0, 0, 0, 0, 0x000b, 0, 0, 0, 8192), null],
  ['a part with half a scale', u16(-1, 0, 0, 0, 0, 0x0043, 0, 0, 0, 8192), 'ends before'],
  ['a part with two scales', u16(-1, 0, 0, 0, 0, 0x0043, 0, 0, 0, 8192, 8192), null],
  ['a part with four', u16(-1, 0, 0, 0, 0, 0x0083, 0, 0, 0, 1, 2, 3, 4), null],
  ['a part with three of four', u16(-1, 0, 0, 0, 0, 0x0083, 0, 0, 0, 1, 2, 3), 'ends before'],
  ['a part and its program', [...u16(-1, 0, 0, 0, 0, 0x0103, 0, 0, 0, 2), 1, 2], null],
  ['a part and half its program', [...u16(-1, 0, 0, 0, 0, 0x0103, 0, 0, 0, 3), 1, 2], 'ends before'],
])('a glyph with %s', (_what, bytes, fault) => {
  const face = withGlyph(bytes);
  const found = deepCheck(face).filter((f) => f.table === 'glyf');
  expect(found.map((f) => f.message)).toEqual(fault === null ? [] : [expect.stringContaining(fault)]);
  expect(damagedGlyphs(face)).toEqual(fault === null ? [] : [1]);
});

test('names of glyphs that are missing, or of another number of glyphs, are told', () => {
  const names = Array.from({ length: plain.glyphCount }, (_, i) => (i === 3 ? 'own' : '.notdef'));
  const header = {
    version: 0x00020000,
    italicAngle: 0,
    underlinePosition: 0,
    underlineThickness: 0,
    isFixedPitch: 0,
    minMemType42: 0,
    maxMemType42: 0,
    minMemType1: 0,
    maxMemType1: 0,
  };
  const post = POST.write({ ...header, glyphNames: names }, NO_TABLES);
  const told = (data: Uint8Array): string[] => codes(withTables(plain, { post: data })).filter((c) => c.endsWith('post'));
  expect(told(post)).toEqual([]);
  // 258 is the first name of the font's own; without any, even that is missing.
  expect(told(post.slice(0, 34 + 2 * names.length))).toEqual(['bad-table post']);
  const second = post.slice();
  new DataView(second.buffer).setUint16(34 + 2 * 3, 259);
  expect(told(second)).toEqual(['bad-table post']);
  const first = post.slice();
  new DataView(first.buffer).setUint16(34, 300);
  expect(told(first)).toEqual(['bad-table post']);
  expect(told(POST.write({ ...header, glyphNames: names.slice(1) }, NO_TABLES))).toEqual(['bad-table post']);
  expect(told(POST.write({ ...header, version: 0x00030000, glyphNames: null }, NO_TABLES))).toEqual([]);
  expect(told(POST.write({ ...header, version: 0x00050000, glyphNames: null }, NO_TABLES))).toEqual(['bad-table post']);
});

test('programs of glyphs that cannot be drawn are found in CFF and CFF2', () => {
  // 10 is callsubr (Adobe Technical Note 5177): with nothing on the stack it calls nothing.
  const otf = faceOf(readFont('serifOtf'));
  const cff = CFF.read(otf.bytes('CFF ')!, NO_TABLES);
  const broken = { ...cff, charStrings: cff.charStrings.map((c, i) => (i === 5 || i === 9 ? Uint8Array.of(10) : c)) };
  const face = withTables(otf, { 'CFF ': CFF.write(broken, NO_TABLES) });
  expect(damagedGlyphs(face)).toEqual([5, 9]);
  expect(codes(face)).toContain('bad-glyph CFF ');
  expect(damagedGlyphs(otf)).toEqual([]);
  const variable = faceOf(readFont('serifVariableOtf'));
  const cff2 = CFF2.read(variable.bytes('CFF2')!, NO_TABLES);
  const bent = { ...cff2, charStrings: cff2.charStrings.map((c, i) => (i === 7 ? Uint8Array.of(10) : c)) };
  expect(damagedGlyphs(withTables(variable, { CFF2: CFF2.write(bent, NO_TABLES) }))).toEqual([7]);
  // Another number of glyphs than the font says.
  const fewer = { ...cff, charset: cff.charset.slice(0, -1), charStrings: cff.charStrings.slice(0, -1) };
  expect(codes(withTables(otf, { 'CFF ': CFF.write(fewer, NO_TABLES) }))).toContain('bad-table CFF ');
});
