import { nodeCodec } from '@orderly-glyph/node';
import { readFont } from '../../test/fonts.js';
import { FontError, readFontFile } from './index.js';

// Source: OpenType specification, "Table Directory": offset and length from the beginning of the file.
test('a file may end where its last table ends, and not a byte before', () => {
  const bytes = readFont('gochiHand');
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const ends = Array.from({ length: view.getUint16(4) }, (_, i) => view.getUint32(12 + 16 * i + 8) + view.getUint32(12 + 16 * i + 12));
  const end = Math.max(...ends);
  expect(readFontFile(bytes.slice(0, end), nodeCodec).fonts.length).toBe(1);
  for (const missing of [1, 3, 4]) {
    const read = (): unknown => readFontFile(bytes.slice(0, end - missing), nodeCodec);
    expect(read).toThrow(FontError);
    expect(read).toThrow(/reaches past the end of the file/);
  }
});

// Source: OpenType specification, "Organization of an OpenType Font": tags ascend, offsets are multiples of four, no table twice.
test('faults of a directory are told, each once', () => {
  const bytes = readFont('gochiHand');
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint16(4);
  const faultsAfter = (change: (view: DataView) => void): string[] => {
    const copy = bytes.slice();
    change(new DataView(copy.buffer));
    return readFontFile(copy, nodeCodec).fonts[0]!.faults.map((f) => f.code);
  };
  const entry = (i: number): number => 12 + 16 * i;
  const offset = (view: DataView, i: number): number => view.getUint32(entry(i) + 8);
  const of = (codes: string[], code: string): number => codes.filter((c) => c === code).length;
  expect(faultsAfter(() => undefined).filter((c) => c !== 'bad-checksum')).toEqual([]);
  // Two tables a byte further, each shortened by one so that they end where they did.
  const misaligned = faultsAfter((view) => {
    for (const i of [1, 3]) {
      view.setUint32(entry(i) + 8, offset(view, i) + 1);
      view.setUint32(entry(i) + 12, view.getUint32(entry(i) + 12) - 1);
    }
  });
  expect([of(misaligned, 'misaligned-table'), of(misaligned, 'overlapping-tables')]).toEqual([1, 0]);
  // A table that begins in another one.
  const overlapping = faultsAfter((view) => {
    view.setUint32(entry(2) + 8, offset(view, 4));
    view.setUint32(entry(2) + 12, 1);
  });
  expect(of(overlapping, 'overlapping-tables')).toBe(1);
  // Tags out of order, in two places.
  const unsorted = faultsAfter((view) => {
    for (const i of [0, count - 2]) {
      const [a, b] = [0, 1].map((k) => Array.from({ length: 4 }, (_, n) => view.getUint32(entry(i + k) + 4 * n)));
      [b!, a!].forEach((values, k) => values.forEach((v, n) => view.setUint32(entry(i + k) + 4 * n, v)));
    }
  });
  expect(of(unsorted, 'unsorted-directory')).toBe(1);
  const twice = faultsAfter((view) => view.setUint32(entry(1), view.getUint32(entry(0))));
  expect(of(twice, 'duplicate-table')).toBe(1);
});
