import { FontError, FLAVOR_CFF, FLAVOR_TRUETYPE, detectFormat, oldFont, readFontFile, writeSfnt, type Codec } from './index.js';

const never = (): never => {
  throw new Error('nothing is packed here');
};
const codec: Codec = { inflate: never, deflate: never, brotliDecompress: never, brotliCompress: never };
const text = (s: string): Uint8Array => Uint8Array.from(s, (c) => c.charCodeAt(0));
const code = (bytes: Uint8Array): string => {
  try {
    readFontFile(bytes, codec);
    return 'read';
  } catch (error) {
    return error instanceof FontError ? error.code : 'crash';
  }
};

/** A resource file with types of resources. Source: Inside Macintosh, More Macintosh Toolbox, chapter 1, "Resource File Format". */
function resources(types: readonly string[], { dataAt = 256, missing = 0 } = {}): Uint8Array {
  const mapAt = 256 + 100;
  const mapLength = 30 + 8 * types.length;
  const out = new Uint8Array(mapAt + mapLength - missing);
  const view = new DataView(out.buffer);
  [dataAt, mapAt, 100, mapLength].forEach((v, i) => view.setUint32(4 * i, v));
  // The list of types begins 28 bytes into the map; its count is one less than there are.
  if (out.length < mapAt + 30) return out;
  view.setUint16(mapAt + 24, 28);
  view.setUint16(mapAt + 28, types.length - 1);
  types.forEach((type, i) => [...type].forEach((c, k) => (out[mapAt + 30 + 8 * i + k] = c.charCodeAt(0))));
  return out;
}

test('font suitcases are told by what lies in them, wherever it stands', () => {
  for (const types of [['sfnt'], ['FOND'], ['PICT', 'FOND'], ['PICT', 'sfnt'], ['STR ', 'PICT', 'FOND']])
    expect([types, oldFont(resources(types))]).toEqual([types, expect.stringContaining('suitcase')]);
  const many = Array.from({ length: 63 }, () => 'PICT');
  expect(oldFont(resources([...many, 'sfnt']))).toContain('suitcase');
  // No more types than any real file has are looked at.
  expect(oldFont(resources([...many, 'PICT', 'sfnt']))).toBeNull();
  expect(oldFont(resources(['PICT']))).toBeNull();
  expect(oldFont(resources(['sfnt'], { dataAt: 255 }))).toBeNull();
  expect(oldFont(resources(['sfnt'], { missing: 1 }))).toBeNull();
  expect(oldFont(new Uint8Array(15))).toBeNull();
});

test('Type 1 fonts are told in both forms', () => {
  for (const start of ['%!PS-AdobeFont-1.0: Plot', '%!FontType1-1.0: Plot']) expect(oldFont(text(start))).toContain('Type 1');
  // Adobe Technical Note 5040: 0x80, the kind of segment, its length in four bytes.
  expect(oldFont(Uint8Array.from([0x80, 1, 9, 0, 0, 0, ...text('%!PS-AdobeFont')]))).toContain('Type 1');
  expect(oldFont(Uint8Array.from([0x80, 2, 9, 0, 0, 0, ...text('%!PS-AdobeFont')]))).toBeNull();
  expect(oldFont(text('%!PS-Adobe-3.0'))).toBeNull();
});

test('text is told from other bytes by its beginning', () => {
  expect(code(text('Hello\tthere,\r\nthis is no font.'))).toBe('text-not-font');
  for (const b of [0, 8, 11, 12, 14, 31, 127]) expect([b, code(Uint8Array.from([...text('Hello'), b]))]).toEqual([b, 'not-a-font']);
  for (const b of [9, 10, 13, 32, 126, 128, 255]) expect([b, code(Uint8Array.from([...text('Hello'), b]))]).toEqual([b, 'text-not-font']);
  expect(code(Uint8Array.from([...text('x'.repeat(511)), 0]))).toBe('not-a-font');
  expect(code(Uint8Array.from([...text('x'.repeat(512)), 0]))).toBe('text-not-font');
  expect(code(new Uint8Array(0))).toBe('empty');
});

test('formats are told by their first four bytes', () => {
  // Sources: OpenType specification, "Organization of an OpenType Font"; WOFF 1.0 and 2.0.
  const of = (s: string): string | null => detectFormat(text(s));
  expect(['\0\x01\0\0', 'true', 'typ1', 'OTTO', 'ttcf', 'wOFF', 'wOF2', 'xxxx', '\0\x01\0'].map(of)).toEqual([
    'ttf',
    'ttf',
    'ttf',
    'otf',
    'ttc',
    'woff',
    'woff2',
    null,
    null,
  ]);
});

const font = (tables: [string, Uint8Array][], flavor = FLAVOR_TRUETYPE) => ({ flavor, tables: new Map(tables), faults: [] });
const whole = writeSfnt(
  font([
    ['aaaa', Uint8Array.of(1, 2, 3, 4)],
    ['bbbb', Uint8Array.of(5, 6, 7)],
    ['cccc', new Uint8Array(0)],
  ]),
);
/** The directory with one 32-bit field changed: of the table of a number, its 1 checksum, 2 offset, 3 length. */
const patched = (table: number, field: number, value: number): Uint8Array => {
  const copy = whole.slice();
  new DataView(copy.buffer).setUint32(12 + 16 * table + 4 * field, value);
  return copy;
};
const faults = (bytes: Uint8Array): (string | undefined)[][] => readFontFile(bytes, codec).fonts[0]!.faults.map((f) => [f.code, f.table]);

test('a directory that lies is refused or told of', () => {
  expect(faults(whole)).toEqual([]);
  expect(readFontFile(whole, codec).fonts[0]!.tables.get('bbbb')).toEqual(Uint8Array.of(5, 6, 7));
  const at = 12 + 16 * 3;
  // The last byte of a file may be the last of a table, and not one more.
  expect(faults(patched(1, 3, 4)).map(([c]) => c)).toEqual([]);
  expect(whole.length).toBe(at + 8);
  expect(code(patched(1, 3, 5))).toBe('truncated');
  expect(faults(patched(0, 1, 0))).toEqual([['bad-checksum', 'aaaa']]);
  expect(faults(patched(0, 3, 5)).map(([c]) => c)).toContain('overlapping-tables');
  // One table may begin where another ends; an empty one lies in none.
  expect(faults(patched(2, 2, at + 2))).toEqual([['misaligned-table', 'cccc']]);
  expect(faults(patched(1, 2, at + 1))[0]).toEqual(['misaligned-table', 'bbbb']);
  const twice = whole.slice();
  twice.set(text('aaaa'), 12 + 16);
  expect(faults(twice)).toEqual([['duplicate-table', 'aaaa']]);
  const turned = whole.slice();
  turned.set(text('zzzz'), 12);
  expect(faults(turned)).toEqual([['unsorted-directory', undefined]]);
  const none = whole.slice();
  none[5] = 0;
  expect(code(none)).toBe('bad-directory');
});

test('a collection holds 1 to 512 fonts, each of which begins like one', () => {
  const collection = (offsets: readonly number[], said = offsets.length): Uint8Array => {
    const inner = writeSfnt(font([['aaaa', Uint8Array.of(1, 2, 3, 4)]], FLAVOR_CFF));
    const start = 12 + 4 * offsets.length;
    const out = new Uint8Array(start + inner.length);
    const view = new DataView(out.buffer);
    out.set(text('ttcf'));
    view.setUint32(4, 0x00010000);
    view.setUint32(8, said);
    offsets.forEach((o, i) => view.setUint32(12 + 4 * i, start + o));
    out.set(inner, start);
    // Places in a collection count from the beginning of the file.
    view.setUint32(start + 12 + 8, view.getUint32(start + 12 + 8) + start);
    return out;
  };
  expect(readFontFile(collection([0, 0]), codec).fonts.map((f) => f.flavor)).toEqual([FLAVOR_CFF, FLAVOR_CFF]);
  expect(readFontFile(collection(new Array<number>(512).fill(0)), codec).fonts).toHaveLength(512);
  expect(code(collection(new Array<number>(513).fill(0)))).toBe('too-many-faces');
  expect(code(collection([], 0))).toBe('bad-directory');
  expect(code(collection([4]))).toBe('bad-directory');
  expect(code(collection([0], 40).slice(0, 60))).toBe('truncated');
});
