import { FontError, Hmtx, HMTX, longMetricsOf, VMTX, type LongMetrics, type OpenTables } from '../index.js';

/** The other tables as hmtx and vmtx ask for them. */
const tables = (long: number, numGlyphs: number): OpenTables =>
  ({ need: () => ({ numberOfHMetrics: long, numOfLongVerMetrics: long, numGlyphs }) }) as unknown as OpenTables;
const metrics = (advances: number[], sideBearings: number[]): LongMetrics => ({
  advances: Uint16Array.from(advances),
  sideBearings: Int16Array.from(sideBearings),
});

test('advances that repeat to the end are written once', () => {
  expect([[], [5], [5, 5], [5, 6], [5, 6, 6], [6, 6, 5], [5, 5, 5, 5]].map(longMetricsOf)).toEqual([0, 1, 1, 2, 2, 3, 1]);
});

test.each([HMTX, VMTX])('$tag: glyphs beyond the last advance have its width and a bearing of their own', (table) => {
  // Source: OpenType specification, hmtx: longHorMetric records, then left side bearings.
  const value = metrics([500, 600, 600, 600], [1, -2, 3, -4]);
  const bytes = table.write(value, tables(2, 4));
  expect([...bytes]).toEqual([1, 244, 0, 1, 2, 88, 255, 254, 0, 3, 255, 252]);
  expect(table.read(bytes, tables(2, 4))).toEqual(value);
  expect(table.read(table.write(value, tables(4, 4)), tables(4, 4))).toEqual(value);
  // More advances than glyphs are there: those of the glyphs count.
  expect(table.read(bytes, tables(9, 2))).toEqual(metrics([500, 600], [1, -2]));
  expect(table.read(Uint8Array.of(0, 7, 0, 8), tables(0, 2))).toEqual(metrics([0, 0], [7, 8]));
  expect(() => table.read(bytes.slice(0, 11), tables(2, 4))).toThrow(FontError);
  expect(() => table.write(value, tables(1, 4))).toThrow('more different advances');
  expect(() => table.write(value, tables(5, 4))).toThrow(FontError);
});

test('widths alone are read from a table whose bearings were cut off', () => {
  const bytes = Uint8Array.of(1, 244, 0, 0, 2, 88, 0, 0);
  const hmtx = new Hmtx(bytes, 2);
  expect([0, 1, 2, 99].map((g) => hmtx.advanceWidth(g))).toEqual([500, 600, 600, 600]);
  expect(() => new Hmtx(bytes.slice(0, 7), 2)).toThrow(FontError);
  expect(new Hmtx(new Uint8Array(0), 0).advanceWidth(3)).toBe(0);
});
