import { readFontFile, tableChecksum, writeSfnt, FontError, type Codec } from './index.js';
import { checkUnpacked, writeWoff } from './woff.js';

const MIB = 1024 * 1024;
test('what a packed font may unpack to: up to 4 MiB freely, then a hundred times itself, never above 160 MiB', () => {
  // The bounds are ours; real fonts pack to a tenth of themselves (common practice).
  for (const [total, packed] of [
    [4 * MIB, 1],
    [4 * MIB + 100, MIB],
    [4 * MIB + 100, (4 * MIB + 100) / 100],
    [160 * MIB, 10 * MIB],
  ] as const)
    expect(() => checkUnpacked(total, packed)).not.toThrow();
  for (const [total, packed] of [
    [4 * MIB + 1, 1],
    [4 * MIB + 100, (4 * MIB + 100) / 100 - 1],
    [160 * MIB + 1, 160 * MIB],
  ] as const)
    expect(() => checkUnpacked(total, packed, 'glyf')).toThrow(FontError);
});

/** Halves what it packs and doubles it again, so that packed and plain tables can be told apart. */
const codec: Codec = {
  deflate: (data) => (data[0] === 9 ? new Uint8Array(data.length) : data.filter((_, i) => i % 2 === 0)),
  inflate: (data, most) => {
    const out = Uint8Array.from({ length: data.length * 2 }, (_, i) => data[i >> 1]!);
    if (out.length > most) throw new Error('more than it may be');
    return out;
  },
  brotliCompress: () => new Uint8Array(0),
  brotliDecompress: () => new Uint8Array(0),
};
const tables: [string, Uint8Array][] = [
  ['aaaa', Uint8Array.of(1, 1, 2, 2, 3, 3)],
  ['bbbb', Uint8Array.of(9, 8, 7)],
  ['cccc', Uint8Array.of(4, 4)],
];
const font = { flavor: 0x00010000, tables: new Map(tables), faults: [] };
const woff = writeWoff(font, codec);
const view = new DataView(woff.buffer, woff.byteOffset, woff.length);
const entry = (i: number): number[] => [4, 8, 12, 16].map((at) => view.getUint32(44 + 20 * i + at));

test('a WOFF says of each table where it lies, how long it is packed and plain, and its checksum; each begins at four bytes', () => {
  // Source: WOFF File Format 1.0 (W3C), 3 to 5: tables are only packed where that makes them smaller.
  expect(view.getUint32(0)).toBe(0x774f4646);
  expect([view.getUint32(8), view.getUint16(12), view.getUint32(16)]).toEqual([woff.length, 3, writeSfnt(font).length]);
  const first = 44 + 20 * 3;
  expect([0, 1, 2].map(entry)).toEqual([
    [first, 3, 6, tableChecksum(tables[0]![1])],
    [first + 4, 3, 3, tableChecksum(tables[1]![1])],
    [first + 8, 1, 2, tableChecksum(tables[2]![1])],
  ]);
  expect(readFontFile(woff, codec).fonts[0]).toEqual(font);
});

const patched = (at: number, value: number): Uint8Array => {
  const copy = woff.slice();
  new DataView(copy.buffer).setUint32(at, value);
  return copy;
};
test.each<[string, Uint8Array, string]>([
  ['says it is longer', patched(8, woff.length + 1), 'truncated'],
  ['has a table packed larger than plain', patched(44 + 20 + 12, 2), 'bad-directory'],
  ['has a table that unpacks to more', patched(44 + 12, 5), 'bad-compression'],
  ['has a table that unpacks to less', patched(44 + 12, 7), 'bad-compression'],
  ['has a table past its end', patched(44 + 40 + 4, woff.length), 'truncated'],
  ['unpacks to too much', patched(44 + 12, 161 * MIB), 'too-large'],
])('a WOFF that %s is refused', (_what, bytes, code) => {
  let said = 'read';
  try {
    readFontFile(bytes, codec);
  } catch (error) {
    said = (error as FontError).code;
  }
  expect(said).toBe(code);
});

test('a wrong checksum and a table listed twice are told of', () => {
  expect(readFontFile(patched(44 + 16, 1), codec).fonts[0]!.faults.map((f) => [f.code, f.table])).toEqual([['bad-checksum', 'aaaa']]);
  const twice = patched(44 + 20, 0x61616161);
  expect(readFontFile(twice, codec).fonts[0]!.faults.map((f) => [f.code, f.table])).toEqual([['duplicate-table', 'aaaa']]);
  expect(() => readFontFile(patched(12, 0), codec)).toThrow('no tables');
});
