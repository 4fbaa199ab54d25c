import { python } from '../../../test/python.js';
import { checkCmapSubtables, CMAP, FontError, glyphOf, readCmap, type OpenTables } from '../index.js';

const GLYPHS = 400;
/** A character map stands by itself. */
const NO_TABLES = { table: () => null, has: () => false, bytes: () => null } as unknown as OpenTables;

/** A cmap table with subtables written by fontTools: [format, platform, encoding, pairs of code and glyph]. */
function written(...subtables: [number, number, number, [number, number][]][]): Uint8Array {
  const hex = python<string>(
    `
from fontTools.ttLib import newTable, TTFont
from fontTools.ttLib.tables._c_m_a_p import CmapSubtable
font = TTFont(); font.setGlyphOrder(['.notdef'] + ['g%d' % i for i in range(1, ${GLYPHS})])
table = newTable('cmap'); table.tableVersion = 0; table.tables = []
for format, platform, encoding, pairs in given:
    sub = CmapSubtable.newSubtable(format)
    sub.platformID, sub.platEncID, sub.language = platform, encoding, 0
    sub.cmap = {c: font.getGlyphName(g) for c, g in pairs}
    if format == 14:
        sub.cmap = {}; sub.uvsDict = {0xFE00: [(0x41, 'g5')]}
    table.tables.append(sub)
print(json.dumps(table.compile(font).hex()))`,
    subtables,
  );
  return Uint8Array.from(hex.match(/../g)!, (b) => parseInt(b, 16));
}

const read = (data: Uint8Array): [number, number][] => {
  const cmap = readCmap(data, GLYPHS)!;
  return [...cmap.codePoints].map((c, i) => [c, cmap.glyphs[i]!]);
};

/** Runs, gaps, single codes and glyphs out of order, so that both ways of format 4 are used. */
const BMP: [number, number][] = [
  ...Array.from({ length: 40 }, (_, i): [number, number] => [0x41 + i, 10 + i]),
  [0xa0, 3],
  ...[7, 5, 9, 2, 8].map((g, i): [number, number] => [0x100 + i, g]),
  [0x3b1, 77],
  [0x2212, 78],
  [0xfffd, 79],
];
const ASTRAL: [number, number][] = [
  ...BMP,
  ...Array.from({ length: 20 }, (_, i): [number, number] => [0x1f600 + i, 200 + i]),
  [0x10fffd, 300],
];

// Formats and their meaning: OpenType specification, cmap.
test.each<[number, number, number, [number, number][]]>([
  [4, 3, 1, BMP],
  [4, 0, 3, BMP],
  [6, 0, 3, BMP.slice(0, 40)],
  [12, 3, 10, ASTRAL],
  [12, 0, 4, ASTRAL],
  [13, 0, 6, Array.from({ length: 500 }, (_, i): [number, number] => [0x4e00 + i, 9])],
])('format %i (platform %i, encoding %i) is read as fontTools wrote it', (format, platform, encoding, pairs) => {
  expect(read(written([format, platform, encoding, pairs]))).toEqual(pairs);
});

test('format 10: an array of codes from one on', () => {
  // fontTools does not write it; by hand from the specification: format, reserved, length, language, first, count, glyphs.
  const glyphs = [5, 0, 7];
  const body = [...u16(10, 0), ...u32(20 + 2 * glyphs.length, 0, 0x1d400, glyphs.length), ...u16(...glyphs)];
  const data = Uint8Array.from([...u16(0, 1, 3, 10), ...u32(12), ...body]);
  expect(read(data)).toEqual([
    [0x1d400, 5],
    [0x1d402, 7],
  ]);
});

test('format 10 reaches the last code point there is and not beyond', () => {
  const glyphs = [5, 6, 7, 8];
  const body = [...u16(10, 0), ...u32(20 + 2 * glyphs.length, 0, 0x10fffe, glyphs.length), ...u16(...glyphs)];
  expect(read(Uint8Array.from([...u16(0, 1, 3, 10), ...u32(12), ...body]))).toEqual([
    [0x10fffe, 5],
    [0x10ffff, 6],
  ]);
});

test('format 12 reaches the last code point there is and not beyond, and groups of one character are groups', () => {
  const groups = [0x41, 0x41, 3, 0x10fffe, 0x110005, 10];
  const body = [...u16(12, 0), ...u32(16 + 12 * 2, 0, 2, ...groups)];
  expect(read(Uint8Array.from([...u16(0, 1, 3, 10), ...u32(12), ...body]))).toEqual([
    [0x41, 3],
    [0x10fffe, 10],
    [0x10ffff, 11],
  ]);
});

test('format 6 with one code, with none, and at the end of its codes', () => {
  const six = (first: number, ...glyphs: number[]): Uint8Array =>
    Uint8Array.from([...u16(0, 1, 0, 3), ...u32(12), ...u16(6, 10 + 2 * glyphs.length, 0, first, glyphs.length, ...glyphs)]);
  expect(read(six(0x41, 9))).toEqual([[0x41, 9]]);
  expect(read(six(0xfffe, 9, 10))).toEqual([
    [0xfffe, 9],
    [0xffff, 10],
  ]);
  expect(read(six(0x41, 0, 9))).toEqual([[0x42, 9]]);
});
const u16 = (...values: number[]): number[] => values.flatMap((v) => [(v >> 8) & 255, v & 255]);
const u32 = (...values: number[]): number[] => values.flatMap((v) => [(v >>> 24) & 255, (v >>> 16) & 255, (v >>> 8) & 255, v & 255]);

test('the fullest Unicode map is taken, whatever the order, and variation sequences are no map', () => {
  const both = written([4, 3, 1, BMP], [12, 3, 10, ASTRAL], [14, 0, 5, []]);
  expect(read(both)).toEqual(ASTRAL);
});

test('a map of Mac OS Roman alone is restated in Unicode', () => {
  // 0x80 is Ä, 0xDB is the euro sign (Apple, ROMAN.TXT).
  const cmap = readCmap(
    written([
      0,
      1,
      0,
      [
        [0x41, 1],
        [0x80, 2],
        [0xdb, 3],
      ],
    ]),
    GLYPHS,
  )!;
  expect(['A', 'Ä', '€'].map((c) => glyphOf(cmap, c.codePointAt(0)!))).toEqual([1, 2, 3]);
  // Bytes end at 0xFF, which is the caron; a damaged map may go on.
  const beyond = Uint8Array.from([...u16(0, 1, 1, 0), ...u32(12), ...u16(6, 16, 0, 0xfe, 3, 7, 8, 9)]);
  expect(read(beyond)).toEqual([
    [0x2c7, 8],
    [0x2db, 7],
  ]);
});

test('glyphs that are not there are left out and counted', () => {
  const cmap = readCmap(written([12, 3, 10, ASTRAL]), 50)!;
  expect(cmap.dangling).toBeGreaterThan(0);
  expect([...cmap.glyphs].every((g) => g < 50)).toBe(true);
});

test('a look-up agrees with the list, also for what is missing', () => {
  const cmap = readCmap(written([12, 3, 10, ASTRAL]), GLYPHS)!;
  const map = new Map(ASTRAL);
  for (let c = 0; c <= 0x200; c++) expect(glyphOf(cmap, c)).toBe(map.get(c) ?? 0);
  for (const [c, g] of ASTRAL) expect(glyphOf(cmap, c)).toBe(g);
  for (const c of [0x10ffff, 0x1f5ff, 0x1f614]) expect(glyphOf(cmap, c)).toBe(0);
});

test('every cut of a map is refused or read in bounds, never worse', () => {
  for (const format of [4, 12]) {
    const whole = written([format, 3, format === 4 ? 1 : 10, BMP]);
    for (let length = 0; length < whole.length; length++) {
      try {
        const cmap = readCmap(whole.slice(0, length), GLYPHS);
        if (cmap) expect([...cmap.glyphs].every((g) => g < GLYPHS)).toBe(true);
      } catch (error) {
        expect(error).toBeInstanceOf(FontError);
      }
    }
  }
});

test('every byte changed: groups and segments that run backwards or overlap do no harm', () => {
  const whole = written([4, 3, 1, BMP], [12, 3, 10, ASTRAL]);
  for (let i = 0; i < whole.length; i++)
    for (const value of [0, 0x7f, 0xff]) {
      const data = whole.slice();
      data[i] = value;
      try {
        const cmap = readCmap(data, GLYPHS);
        if (cmap) expect([...cmap.codePoints].every((c, k) => c <= 0x10ffff && (k === 0 || cmap.codePoints[k - 1]! < c))).toBe(true);
        checkCmapSubtables(data, GLYPHS);
      } catch (error) {
        expect(error).toBeInstanceOf(FontError);
      }
    }
});

test('of two mappings of one character the first counts, also where runs touch', () => {
  // A format 4 map by hand: runs [first, last, glyph of the first] that meet in one character, and one that comes too late.
  const map = (...given: [number, number, number][]): Uint8Array => {
    const runs: [number, number, number][] = [...given, [0xffff, 0xffff, 0]];
    const length = 16 + 8 * runs.length;
    const out = new Uint8Array(12 + length);
    const view = new DataView(out.buffer);
    // One record: Windows, Unicode of 16 bits, at offset 12.
    [0, 1, 3, 1, 0, 12, 4, length, 0, 2 * runs.length].forEach((v, i) => view.setUint16(2 * i, v));
    runs.forEach(([first, last, glyph], i) => {
      view.setUint16(26 + 2 * i, last);
      view.setUint16(28 + 2 * runs.length + 2 * i, first);
      view.setUint16(28 + 4 * runs.length + 2 * i, (glyph - first) & 0xffff);
    });
    return out;
  };
  expect(read(map([0x41, 0x43, 10], [0x43, 0x44, 50]))).toEqual([
    [0x41, 10],
    [0x42, 11],
    [0x43, 12],
    [0x44, 51],
  ]);
  expect(read(map([0x50, 0x50, 20], [0x41, 0x41, 10], [0x50, 0x50, 30]))).toEqual([
    [0x41, 10],
    [0x50, 20],
  ]);
});

test('every format that is written is what fontTools reads in it, its length included', () => {
  const first256 = Array.from({ length: 200 }, (_, i): [number, number] => [i + 20, (i % 250) + 1]);
  const given: [number, number, number, [number, number][]][] = [
    [0, 1, 0, first256],
    [4, 3, 1, BMP],
    [6, 0, 3, BMP.slice(0, 40)],
    [12, 3, 10, ASTRAL],
    [13, 0, 6, Array.from({ length: 50 }, (_, i): [number, number] => [0x4e00 + i, 9])],
  ];
  const data = written(...given);
  const again = CMAP.write(CMAP.read(data, NO_TABLES), NO_TABLES);
  const seen = python<{ format: number; platform: number; length: number; pairs: [number, number][] }[]>(
    `
import struct
from fontTools.ttLib import newTable, TTFont
data = bytes.fromhex(given); font = TTFont(); font.setGlyphOrder(['.notdef'] + ['g%d' % i for i in range(1, ${GLYPHS})])
table = newTable('cmap'); table.decompile(data, font); out = []
for i, sub in enumerate(table.tables):
    offset = struct.unpack('>L', data[8 + 8 * i:12 + 8 * i])[0]
    length = struct.unpack('>L', data[offset + 4:offset + 8])[0] if sub.format > 6 else struct.unpack('>H', data[offset + 2:offset + 4])[0]
    out.append({'format': sub.format, 'platform': sub.platformID, 'length': offset + length, 'pairs': sorted([c, font.getGlyphID(g)] for c, g in sub.cmap.items())})
print(json.dumps(out))`,
    Buffer.from(again).toString('hex'),
  );
  const byFormat = new Map(seen.map((s) => [s.format, s]));
  for (const [format, platform, , pairs] of given) {
    const found = byFormat.get(format)!;
    expect([format, found.platform, found.pairs.filter(([, g]) => g !== 0)]).toEqual([format, platform, pairs]);
  }
  // Each list ends where the next one begins, and the last one where the table does.
  const ends = seen.map((s) => s.length).sort((a, b) => a - b);
  expect(ends[ends.length - 1]).toBe(again.length);
  // A look-up by format 0 reaches its last code. Source: OpenType specification, cmap format 0: 262 bytes.
  expect(new Set(ends).size).toBe(given.length);
});
