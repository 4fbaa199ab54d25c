import { faceOf } from '../../../test/face.js';
import { readFont } from '../../../test/fonts.js';
import { FontError, GLYF, MAXP, readFontFile, type Codec } from '../index.js';
import { transformGlyf } from './glyf.js';
import { KNOWN_TAGS } from './tags.js';
import { Cursor, putBase128, putU255 } from './varint.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';

/** Contents lie in the files of these tests as they are, so that each can be written by hand from the standard. */
const stored: Codec = {
  inflate: (data) => data.slice(),
  deflate: (data) => data.slice(),
  brotliDecompress: (data, most) => data.slice(0, most),
  brotliCompress: (data) => data.slice(),
};
interface Part {
  tag: string;
  /** Bits 6 and 7 of the flags: the number of the transform. */
  version?: number;
  length: number;
  data: Uint8Array;
  /** Where a stored length is written although the version says none, or the other way round. */
  lengthStored?: boolean;
}
const TRUETYPE = 0x00010000;
/** A WOFF2 file by hand. Source: WOFF 2.0 (W3C Recommendation), 4: header of 48 bytes, directory, collection directory, data. */
function written(parts: readonly Part[], { flavor = TRUETYPE, collection = new Uint8Array(0) } = {}): Uint8Array {
  const directory = new Writer();
  for (const { tag, version = 0, length, data, lengthStored } of parts) {
    const known = KNOWN_TAGS.indexOf(tag);
    directory.u8((known < 0 ? 63 : known) | (version << 6));
    if (known < 0) directory.tag(tag);
    putBase128(directory, length);
    if (lengthStored ?? (tag === 'glyf' || tag === 'loca' ? version !== 3 : version !== 0)) putBase128(directory, data.length);
  }
  directory.put(collection);
  const size = parts.reduce((sum, p) => sum + p.data.length, 0);
  const w = new Writer();
  w.tag('wOF2');
  w.u32(flavor);
  w.u32(48 + directory.length + size);
  w.u16(parts.length);
  w.u16(0);
  w.u32(1000);
  w.u32(size);
  for (let i = 0; i < 6; i++) w.u32(0);
  w.put(directory.done());
  for (const p of parts) w.put(p.data);
  return w.done().slice();
}

const face = faceOf(readFont('gochiHand'));
const numGlyphs = face.need(MAXP).numGlyphs;
const glyphs = face.need(GLYF);
const glyf = transformGlyf(face.bytes('glyf')!, face.bytes('loca')!, numGlyphs, false);
const xMins = glyphs.map((g) => g?.xMin ?? 0);
const plain = (tag: string, data = face.bytes(tag)!): Part => ({ tag, length: data.length, data });
const packed: Part = { tag: 'glyf', length: face.bytes('glyf')!.length, data: glyf };
const emptyLoca: Part = { tag: 'loca', length: face.bytes('loca')!.length, data: new Uint8Array(0) };
/** hhea with another number of advances than its glyphs have, so that some glyphs only have a bearing. */
const hheaWith = (count: number): Uint8Array => {
  const data = face.bytes('hhea')!.slice();
  new DataView(data.buffer).setUint16(34, count);
  return data;
};
const hmtx = (flags: number, long: number): Part => {
  const w = new Writer();
  w.u8(flags);
  for (let i = 0; i < long; i++) w.u16(500 + i);
  if (!(flags & 1)) for (let i = 0; i < long; i++) w.u16(-i & 0xffff);
  if (!(flags & 2)) for (let i = long; i < numGlyphs; i++) w.u16(2000 + i);
  return { tag: 'hmtx', version: 1, length: 4 * long + 2 * (numGlyphs - long), data: w.done() };
};
const opened = (parts: readonly Part[], more = {}) => readFontFile(written(parts, more), stored).fonts;

test.each([1, 2, 3])('transformed widths with flags %i: what is left out is the left edge of the outline', (flags) => {
  // Source: WOFF 2.0, 5.4: bit 0, no bearings of the proportional part; bit 1, none of the monospaced one.
  const long = 5;
  const [font] = opened([plain('head'), plain('hhea', hheaWith(long)), hmtx(flags, long), plain('maxp'), packed, emptyLoca]);
  const r = new Reader(font!.tables.get('hmtx')!, 'hmtx');
  expect(r.length).toBe(4 * long + 2 * (numGlyphs - long));
  for (let i = 0; i < long; i++) expect([r.u16(4 * i), r.i16(4 * i + 2)]).toEqual([500 + i, flags & 1 ? xMins[i] : 0 - i]);
  for (let i = long; i < numGlyphs; i++) expect(r.i16(4 * long + 2 * (i - long))).toBe(flags & 2 ? xMins[i] : 2000 + i);
});

test.each<[string, Part[], RegExp]>([
  [
    'flags of none',
    [plain('head'), plain('hhea', hheaWith(5)), hmtx(0, 5), plain('maxp'), packed, emptyLoca],
    /flags WOFF2 does not define/,
  ],
  [
    'flags beyond those there are',
    [plain('head'), plain('hhea', hheaWith(5)), hmtx(5, 5), plain('maxp'), packed, emptyLoca],
    /flags WOFF2 does not/,
  ],
  ['no widths', [plain('head'), plain('hhea', hheaWith(0)), hmtx(1, 1), plain('maxp'), packed, emptyLoca], /number of advance widths/],
  [
    'too many widths',
    [plain('head'), plain('hhea', hheaWith(numGlyphs + 1)), hmtx(1, 5), plain('maxp'), packed, emptyLoca],
    /number of advance widths/,
  ],
  ['widths without outlines', [plain('head'), plain('hhea', hheaWith(5)), hmtx(1, 5), plain('maxp')], /what it needs/],
  ['widths without hhea', [plain('head'), hmtx(1, 5), plain('maxp'), packed, emptyLoca], /what it needs/],
  ['widths without maxp', [plain('head'), plain('hhea', hheaWith(5)), hmtx(1, 5), packed, emptyLoca], /what it needs/],
  ['a loca that is not empty', [packed, { ...emptyLoca, data: new Uint8Array(4) }], /should be empty/],
  ['a loca without glyf', [plain('head'), emptyLoca], /no transformed glyf/],
  ['another transform of glyf', [{ ...packed, version: 1 }, emptyLoca], /does not define/],
  ['a transform of another table', [{ ...plain('head'), version: 1 }], /does not define/],
  ['another transform of hmtx', [{ ...hmtx(1, 5), version: 2 }], /does not define/],
  ['no tables', [], /has no tables/],
])('%s is refused', (_what, parts, message) => {
  expect(() => opened(parts)).toThrow(message);
  expect(() => opened(parts)).toThrow(FontError);
});

test('outlines that are not transformed, tags that are not known, and a table listed twice', () => {
  const raw = { ...plain('glyf'), version: 3 };
  const odd = { tag: 'Xy z', length: 3, data: Uint8Array.of(1, 2, 3) };
  const [font] = opened([plain('head'), raw, { ...plain('loca'), version: 3 }, odd, { ...odd, data: Uint8Array.of(7, 8, 9) }]);
  expect(font!.tables.get('glyf')).toEqual(face.bytes('glyf'));
  expect(font!.tables.get('loca')).toEqual(face.bytes('loca'));
  expect(font!.tables.get('Xy z')).toEqual(Uint8Array.of(1, 2, 3));
  expect(font!.faults.map((f) => [f.code, f.table])).toEqual([['duplicate-table', 'Xy z']]);
  // What was transformed is restored to the same outlines, and head says how its places are written.
  const [restored] = opened([plain('head'), packed, emptyLoca]);
  expect(new DataView(restored!.tables.get('head')!.buffer).getInt16(50)).toBe(
    restored!.tables.get('loca')!.length === 4 * (numGlyphs + 1) ? 1 : 0,
  );
});

test('fonts of a collection share tables, and those it names must be there', () => {
  const TTC = 0x74746366;
  const directory = (fonts: readonly number[][], said = fonts.length): Uint8Array => {
    const w = new Writer();
    w.u32(TRUETYPE);
    putU255(w, said);
    for (const indices of fonts) {
      putU255(w, indices.length);
      w.u32(TRUETYPE);
      for (const i of indices) putU255(w, i);
    }
    return w.done();
  };
  const parts = [plain('head'), packed, emptyLoca, plain('maxp')];
  const fonts = opened(parts, { flavor: TTC, collection: directory([[0, 1, 2, 3], [3], [1, 2]]) });
  expect(fonts.map((f) => [...f.tables.keys()])).toEqual([['head', 'glyf', 'loca', 'maxp'], ['maxp'], ['glyf', 'loca']]);
  expect(fonts[2]!.tables.get('glyf')).toEqual(fonts[0]!.tables.get('glyf'));
  expect(() => opened(parts, { flavor: TTC, collection: directory([[4]]) })).toThrow('a table that is not there');
  expect(opened(parts, { flavor: TTC, collection: directory([[3]]) })).toHaveLength(1);
  expect(() => opened(parts, { flavor: TTC, collection: directory([], 0) })).toThrow('no fonts or more than 512');
  expect(() => opened(parts, { flavor: TTC, collection: directory([], 513) })).toThrow('no fonts or more than 512');
  expect(opened(parts, { flavor: TTC, collection: directory(Array.from({ length: 512 }, () => [3])) })).toHaveLength(512);
});

test('data of another length than stated, and a file that was cut short, are refused', () => {
  const long: Codec = { ...stored, brotliDecompress: (data) => Uint8Array.from([...data, 0]) };
  const fails: Codec = {
    ...stored,
    brotliDecompress: () => {
      throw new Error('no');
    },
  };
  const file = written([plain('head')]);
  expect(() => readFontFile(file, long)).toThrow('another length than stated');
  expect(() => readFontFile(file, fails)).toThrow('cannot be unpacked');
  expect(() => readFontFile(file.slice(0, file.length - 1), stored)).toThrow('cut short');
  expect(() => readFontFile(file, stored)).not.toThrow();
});

test('numbers of both packings at the edges of their lengths', () => {
  // Source: WOFF 2.0, 4.1 (UIntBase128: no leading zeros, at most five bytes, at most 2^32 - 1) and 4.2 (255UInt16).
  for (const value of [0, 1, 127, 128, 16383, 16384, 2097151, 2097152, 268435455, 268435456, 2 ** 32 - 1]) {
    const w = new Writer();
    putBase128(w, value);
    const bytes = w.done();
    expect(bytes.length).toBe(Math.max(1, Math.ceil(Math.log2(value + 1) / 7)));
    expect(new Cursor(new Reader(bytes, 'x')).base128()).toBe(value);
  }
  const read = (...bytes: number[]): number => new Cursor(new Reader(Uint8Array.from(bytes), 'x')).base128();
  expect(read(0x3f)).toBe(0x3f);
  for (const bad of [
    [0x80, 0x01],
    [0x8f, 0xff, 0xff, 0xff, 0xff, 0x7f],
    [0x90, 0x80, 0x80, 0x80, 0x00],
  ])
    expect(() => read(...bad)).toThrow('malformed');
  expect(read(0x8f, 0xff, 0xff, 0xff, 0x7f)).toBe(2 ** 32 - 1);
  for (const value of [0, 252, 253, 254, 505, 506, 507, 761, 762, 763, 65535]) {
    const w = new Writer();
    putU255(w, value);
    const bytes = w.done();
    expect(bytes.length).toBe(value < 253 ? 1 : value < 762 ? 2 : 3);
    expect(new Cursor(new Reader(bytes, 'x')).u255()).toBe(value);
  }
});
