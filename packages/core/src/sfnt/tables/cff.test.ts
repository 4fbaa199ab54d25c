import { python } from '../../../test/python.js';
import { changedSinceReview } from '../../../test/reviewed.js';
import { readFont } from '../../../test/fonts.js';
import { faceOf } from '../../../test/face.js';
import { CFF, CFF2, FontError, type Cff, type Cff2, type OpenTables } from '../index.js';
import { Writer } from '../writer.js';
import { DICT, operand, putInteger, readDict, readIndex, writeDict, writeIndex, type CffDict } from './cff-parts.js';
import { Reader } from '../reader.js';

const NO_TABLES = { table: () => null, has: () => false, bytes: () => null } as unknown as OpenTables;
const hex = (bytes: Uint8Array): string => Buffer.from(bytes).toString('hex');

test('operators have the numbers that fontTools gives them', () => {
  // cffLib's lists and psCharStrings' t2 operators (blend, vsindex): operators of two bytes are pairs that begin with 12.
  const theirs = python<Record<string, number | [number, number]>>(`
from fontTools.cffLib import topDictOperators, topDictOperators2, privateDictOperators, privateDictOperators2
print(json.dumps({name: op for op, name, *_ in list(topDictOperators2) + list(privateDictOperators2) + list(topDictOperators) + list(privateDictOperators)}))`);
  const one = (op: number | [number, number]): number => (typeof op === 'number' ? op : 1200 + op[1]);
  const known = Object.fromEntries(Object.entries(DICT).filter(([name]) => name in theirs));
  expect(Object.keys(known).length).toBeGreaterThanOrEqual(Object.keys(DICT).length - 2);
  expect(known).toEqual(Object.fromEntries(Object.keys(known).map((name) => [name, one(theirs[name]!)])));
});

/** A table whose charset is a number: 1 and 2 are the expert sets. */
function withPredefined(charset: number, glyphs: number): Uint8Array {
  const w = new Writer();
  for (const b of [1, 0, 4, 4]) w.u8(b);
  writeIndex(w, [Uint8Array.of(65)], false);
  const dict = (at: number): Uint8Array =>
    writeDict(
      new Map([
        [DICT.charset, [charset]],
        [DICT.CharStrings, [at]],
      ]),
      new Set([DICT.CharStrings]),
    );
  const end = w.length + 5 + dict(0).length + 4;
  writeIndex(w, [dict(end)], false);
  writeIndex(w, [], false);
  writeIndex(w, [], false);
  expect(w.length).toBe(end);
  writeIndex(
    w,
    Array.from({ length: glyphs }, () => Uint8Array.of(14)),
    false,
  );
  return w.done();
}

test.each([
  [0, 'cffISOAdobeStrings', 229],
  [1, 'cffIExpertStrings', 166],
  [2, 'cffExpertSubsetStrings', 87],
])('predefined charset %i is fontTools’ %s, with %i names', (charset, list, count) => {
  const theirs = python<string[]>(`import fontTools.cffLib as c; print(json.dumps(list(c.${list})))`);
  expect(CFF.read(withPredefined(charset, count), NO_TABLES).charset).toEqual(theirs);
  expect(theirs).toHaveLength(count);
  expect(() => CFF.read(withPredefined(charset, count + 1), NO_TABLES)).toThrow('names fewer glyphs');
});

test('numbers of every length are what fontTools reads, and are written as short as it writes them', () => {
  const values = [0, -1, 107, 108, -107, -108, 1131, 1132, -1131, -1132, 32767, 32768, -32768, -32769, 2147483647, -2147483647];
  const bytes = (v: number): Uint8Array => {
    const w = new Writer();
    putInteger(w, v);
    return w.done();
  };
  const theirs = python<string[]>(
    `
from fontTools.misc.psCharStrings import encodeIntCFF, encodeIntT2
print(json.dumps([(encodeIntT2 if abs(v) < 32768 or v == -32768 else encodeIntCFF)(v).hex() for v in given]))`,
    values,
  );
  expect(values.map((v) => hex(bytes(v)))).toEqual(theirs);
  expect(values.map((v) => readDict(Uint8Array.of(...bytes(v), DICT.BlueFuzz - 1200, 1)).get(DICT.BlueFuzz - 1200)?.[0])).toEqual(values);
});

test('real numbers are written as fontTools writes them and read back', () => {
  const values = [0.001, -0.5, 0.039625, 1e-10, 12.5, -0.001, 2.5e12];
  const theirs = python<string[]>(
    `
from fontTools.misc.psCharStrings import encodeFloat
print(json.dumps([encodeFloat(v).hex() for v in given]))`,
    values,
  );
  for (const [i, value] of values.entries()) {
    const written = writeDict(new Map([[DICT.BlueScale, [value]]]), new Set());
    // Both end with the operator's two bytes; equal values may be spelled in more than one way. Ours is one nibble a letter,
    // "e-" counting as one and the nought before the point left out (Technical Note 5176, table 5), and one that ends it.
    const nibbles =
      String(value)
        .replace('e+', 'e')
        .replace('e-', 'e')
        .replace(/^(-?)0\./, '$1.').length + 1;
    expect(written.length - 2).toBe(1 + Math.ceil(nibbles / 2));
    expect(readDict(written).get(DICT.BlueScale)).toEqual([value]);
    expect(readDict(Uint8Array.from([...Buffer.from(theirs[i]!, 'hex'), 12, 9])).get(DICT.BlueScale)).toEqual([value]);
  }
});

test.each([
  [0, 1],
  [250, 1],
  [254, 1],
  [255, 2],
  [65534, 2],
  [65535, 3],
])('an index with %i bytes of data has offsets of %i bytes', (length, size) => {
  // Technical Note 5176, section 5: offsets count from 1, so the last one is the length plus one.
  const w = new Writer();
  writeIndex(w, [new Uint8Array(length).fill(7)], false);
  const bytes = w.done();
  expect([bytes[2], bytes.length]).toEqual([size, 3 + 2 * size + length]);
  const index = readIndex(new Reader(bytes, 'CFF '), 0, false);
  expect([index.count, index.get(0).length, index.end]).toEqual([1, length, bytes.length]);
});

const face = faceOf(readFont('serifOtf'));
const source = face.need(CFF);
const few = (more: Partial<Cff>, glyphs: number): Cff => ({
  ...source,
  charStrings: Array.from({ length: glyphs }, () => Uint8Array.of(14)),
  fdSelect: null,
  globalSubrs: [],
  ...more,
});
const names = (count: number, name: (i: number) => string): string[] => [
  '.notdef',
  ...Array.from({ length: count - 1 }, (_, i) => name(i)),
];
/** What fontTools reads of a table that stands alone. */
const seenBy = (bytes: Uint8Array) =>
  python<{ charset: string[]; encoding: (string | null)[] | string; fds: number[] | null; count: number }>(
    `
from io import BytesIO
from fontTools.cffLib import CFFFontSet
from fontTools.ttLib import TTFont
cff = CFFFontSet(); cff.decompile(BytesIO(bytes.fromhex(given)), TTFont()); top = cff[0]
print(json.dumps({'charset': top.charset, 'encoding': getattr(top, 'Encoding', None), 'count': len(top.CharStrings),
  'fds': [top.FDSelect[i] for i in range(len(top.charset))] if hasattr(top, 'FDSelect') else None}))`,
    hex(bytes),
  );

test.each<[string, number, (i: number) => string, number]>([
  // The format that is shortest: ranges of one byte, of two bytes, single numbers.
  ['one run of 300', 300, (i) => `run${i}`, 2],
  ['one run of 200', 200, (i) => `run${i}`, 1],
  ['no runs', 40, (i) => ['A', 'C', 'E', 'G', 'I', 'K', 'M', 'O', 'Q', 'S'][i % 10]! + (i < 10 ? '' : `.${i}`), 1],
])('names of glyphs with %s come back from fontTools', (_, count, name) => {
  const charset = names(count, name);
  const bytes = CFF.write(few({ charset, encoding: 0, ros: null }, count), NO_TABLES);
  expect(seenBy(bytes)).toMatchObject({ charset, encoding: 'StandardEncoding', count });
  expect(CFF.read(bytes, NO_TABLES).charset).toEqual(charset);
});

test('an encoding of its own comes back, with what stands at a second code', () => {
  const charset = ['.notdef', 'A', 'B', 'C', 'one'];
  const written = (supplements: { code: number; name: string }[]): Uint8Array => {
    const encoding = { codes: [65, 66, 67, 49], supplements };
    const bytes = CFF.write(few({ charset, encoding, ros: null }, 5), NO_TABLES);
    expect(CFF.read(bytes, NO_TABLES).encoding).toEqual(encoding);
    return bytes;
  };
  // fontTools does not read second codes.
  written([
    { code: 200, name: 'A' },
    { code: 201, name: 'one' },
  ]);
  const theirs = seenBy(written([])).encoding as string[];
  expect([65, 66, 67, 49, 0].map((c) => theirs[c])).toEqual(['A', 'B', 'C', 'one', '.notdef']);
});

test.each([
  ['alternating', (i: number) => i & 1],
  ['in two runs', (i: number) => (i < 30 ? 0 : 1)],
])('a font keyed by CID, its glyphs %s between two dictionaries', (_, fdOf) => {
  const count = 60;
  const fdSelect = Uint16Array.from({ length: count }, (_x, i) => fdOf(i));
  const dict = source.fontDicts[0]!;
  const bytes = CFF.write(
    few(
      {
        charset: Array.from({ length: count }, (_x, i) => i),
        encoding: null,
        ros: { registry: 'Adobe', ordering: 'Identity', supplement: 0 },
        fontDicts: [dict, dict],
        fdSelect,
      },
      count,
    ),
    NO_TABLES,
  );
  expect(seenBy(bytes).fds).toEqual([...fdSelect]);
  const again = CFF.read(bytes, NO_TABLES);
  expect([again.fdSelect, again.ros, again.fontDicts.length]).toEqual([
    fdSelect,
    { registry: 'Adobe', ordering: 'Identity', supplement: 0 },
    2,
  ]);
});

test('a text longer than a call has room for is read, and one by an impossible number refused', () => {
  const cff = CFF.read(faceOf(readFont('serifOtf')).bytes('CFF ')!, NO_TABLES);
  const texts = new Map([...cff.texts, [DICT.Notice, 'x'.repeat(300_000)]]);
  const again = CFF.read(CFF.write({ ...cff, texts }, NO_TABLES), NO_TABLES);
  expect(again.texts.get(DICT.Notice)).toHaveLength(300_000);
  // A dictionary of one entry: the notice is text number -1, or the registry, the ordering and the supplement are not there.
  for (const top of [new Map([[DICT.Notice, [-1]]]), new Map([[DICT.ROS, []]]), new Map([[DICT.charset, [-1]]])] as CffDict[]) {
    const w = new Writer();
    for (const b of [1, 0, 4, 4]) w.u8(b);
    writeIndex(w, [Uint8Array.of(65)], false);
    const whole = (at: number): Uint8Array => writeDict(new Map([...top, [DICT.CharStrings, [at]]]), new Set([DICT.CharStrings]));
    const end = w.length + 5 + whole(0).length + 4;
    writeIndex(w, [whole(end)], false);
    writeIndex(w, [], false);
    writeIndex(w, [], false);
    writeIndex(w, [Uint8Array.of(14)], false);
    expect(() => CFF.read(w.done(), NO_TABLES)).toThrow(FontError);
  }
});

/** A table with one font, whose charset and encoding stand as given bytes behind its programs. */
function withSets(glyphs: number, charset: number[], encoding: number[], strings: string[] = []): Uint8Array {
  const w = new Writer();
  for (const b of [1, 0, 4, 4]) w.u8(b);
  writeIndex(w, [Uint8Array.of(65)], false);
  const programs = new Writer();
  writeIndex(
    programs,
    Array.from({ length: glyphs }, () => Uint8Array.of(14)),
    false,
  );
  const wide = new Set([DICT.CharStrings, DICT.charset, DICT.Encoding]);
  const dict = (at: number): Uint8Array =>
    writeDict(
      new Map([
        [DICT.CharStrings, [at]],
        [DICT.charset, [at + programs.length]],
        [DICT.Encoding, [at + programs.length + charset.length]],
      ]),
      wide,
    );
  const names = new Writer();
  writeIndex(
    names,
    strings.map((s) => Uint8Array.from(s, (c) => c.charCodeAt(0))),
    false,
  );
  const at = w.length + 5 + dict(0).length + names.length + 2;
  writeIndex(w, [dict(at)], false);
  w.put(names.done());
  writeIndex(w, [], false);
  expect(w.length).toBe(at);
  w.put(programs.done());
  for (const b of [...charset, ...encoding]) w.u8(b);
  return w.done();
}

test('charsets and encodings of every format, by hand from the specification', () => {
  // Source: Adobe Technical Note 5176, 12 (encodings) and 13 (charsets); names of strings by number from appendix A.
  const read = (...given: Parameters<typeof withSets>): Cff => CFF.read(withSets(...given), NO_TABLES);
  const plain = [0, 0];
  expect(read(4, [0, 0, 34, 0, 36, 1, 135], plain, ['own']).charset).toEqual(['.notdef', 'A', 'C', 'own']);
  // Two ranges of two and one; then of one and two: the count says how many follow the first.
  expect(read(4, [1, 0, 34, 1, 0, 66, 0], plain).charset).toEqual(['.notdef', 'A', 'B', 'a']);
  expect(read(5, [2, 0, 34, 0, 0, 0, 66, 0, 2], plain).charset).toEqual(['.notdef', 'A', 'a', 'b', 'c']);
  const many = read(300, [2, 0, 1, 1, 42], plain).charset as string[];
  // Number 299 of appendix A.
  expect([many.length, many[1], many[299]]).toEqual([300, 'space', 'Zsmall']);
  expect(() => read(3, [3, 0, 34], plain)).toThrow('unknown way');
  expect(read(4, [0, 0, 34, 0, 35, 0, 36], [0, 3, 65, 66, 200]).encoding).toEqual({ codes: [65, 66, 200], supplements: [] });
  expect(read(5, [0, 0, 34, 0, 35, 0, 36, 0, 37], [1, 2, 65, 1, 97, 1]).encoding).toEqual({ codes: [65, 66, 97, 98], supplements: [] });
  expect(read(2, [0, 0, 34], [0x80, 1, 65, 2, 66, 0, 34, 67, 0, 35]).encoding).toEqual({
    codes: [65],
    supplements: [
      { code: 66, name: 'A' },
      { code: 67, name: 'B' },
    ],
  });
  expect(read(3, [0, 0, 34, 0, 35], [0x81, 1, 65, 1, 1, 70, 0, 66]).encoding).toEqual({
    codes: [65, 66],
    supplements: [{ code: 70, name: 'a' }],
  });
});

test('names go up to the last number there is', () => {
  // Source: Technical Note 5176, 10: SIDs 0 to 64999, of which 391 are standard.
  const cff = CFF.read(withSets(2, [0, 0, 34], [0, 0]), NO_TABLES);
  const own = (n: number): Cff => ({ ...cff, charset: ['.notdef', ...Array.from({ length: n }, (_, i) => `n${i}`)] });
  expect(CFF.write(own(65000 - 391), NO_TABLES).length).toBeGreaterThan(300_000);
  expect(() => CFF.write(own(65001 - 391), NO_TABLES)).toThrow('so many names');
});

test('charsets take the shortest of the three formats, whose bytes are as when last reviewed', () => {
  // Technical Note 5176, 13: two bytes a glyph; three a run of at most 256; four a run of any length.
  const cff = CFF.read(withSets(2, [0, 0, 34], [0, 0]), NO_TABLES);
  // Standard names stand in the order of their numbers: leaving one out parts a run.
  const names = CFF.read(withSets(391, [2, 0, 1, 1, 133], [0, 0]), NO_TABLES).charset as string[];
  const own = Array.from({ length: 700 }, (_, i) => `n${i}`);
  const runs = (lengths: readonly number[]): string[] => {
    let at = 1;
    return lengths.flatMap((n) => {
      const from = at;
      at += n + 1;
      return n > 100 ? own.splice(0, n) : names.slice(from, from + n);
    });
  };
  const lists = [
    [1],
    [2],
    [3],
    [4],
    [1, 1, 1],
    [2, 2, 2],
    [3, 3],
    [4, 4, 4],
    [254],
    [255],
    [256],
    [257],
    [258],
    [512],
    [513],
    [300, 1, 1],
    [2, 300, 300],
  ];
  const written = lists.map((lengths) => {
    const charset = ['.notdef', ...runs(lengths)];
    own.splice(0, own.length, ...Array.from({ length: 700 }, (_, i) => `n${i}`));
    const bytes = CFF.write({ ...cff, charset, charStrings: charset.map(() => Uint8Array.of(14)) }, NO_TABLES);
    expect(CFF.read(bytes, NO_TABLES).charset).toEqual(charset);
    return [`${lengths.join(' ')}: ${bytes.length} bytes`, bytes] as const;
  });
  expect(changedSinceReview('charsets', written)).toEqual([]);
});

test('CFF2 assigns glyphs to dictionaries by runs of 16 bits, and of 32 where there are more glyphs than those hold', () => {
  // Source: OpenType specification, CFF2, FDSelect formats 3 and 4.
  const font = (n: number): Cff2 => ({
    majorVersion: 2,
    minorVersion: 0,
    topDict: new Map(),
    globalSubrs: [],
    charStrings: Array.from({ length: n }, () => new Uint8Array(0)),
    fontDicts: [
      { dict: new Map(), privateDict: { dict: new Map([[DICT.StdHW, [50]]]), subrs: [] } },
      { dict: new Map(), privateDict: { dict: new Map([[DICT.StdHW, [60]]]), subrs: [Uint8Array.of(11)] } },
    ],
    fdSelect: Uint16Array.from({ length: n }, (_, i) => Number(i >= n - 2 || (i > 4 && i < 9))),
    variationStore: null,
  });
  for (const n of [12, 0xffff, 0x10001]) {
    const bytes = CFF2.write(font(n), NO_TABLES);
    expect(CFF2.read(bytes, NO_TABLES)).toEqual(font(n));
    const at = operand(readDict(bytes.slice(5, 5 + ((bytes[3]! << 8) | bytes[4]!))), DICT.FDSelect)!;
    expect(bytes[at]).toBe(n > 0xffff ? 4 : 3);
    bytes[at] = 5;
    expect(() => CFF2.read(bytes, NO_TABLES)).toThrow('unknown way');
  }
});
