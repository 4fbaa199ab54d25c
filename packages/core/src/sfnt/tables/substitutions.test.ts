import { readLayoutTags, readSubstitutions } from '../index.js';

const u16 = (...values: number[]): number[] => values.flatMap((v) => [(v >> 8) & 255, v & 255]);
const tag = (s: string): number[] => [...s].map((c) => c.charCodeAt(0));
/**
 * A GSUB table by hand. Source: OpenType specification, chapter 2 and GSUB: header of ten bytes, a feature list, lookups with one
 * subtable each, these behind an extension (type 7, format 1, type, offset of 32 bits) where asked.
 */
function gsub(lookups: { type: number; data: number[]; extension?: boolean }[], features: [string, number[]][]): Uint8Array {
  const records = features.flatMap(([, indices]) => u16(0, indices.length, ...indices));
  const head = 2 + 6 * features.length;
  let at = head;
  const list = features.flatMap(([name, indices]) => {
    const record = [...tag(name), ...u16(at)];
    at += 4 + 2 * indices.length;
    return record;
  });
  const featureList = [...u16(features.length), ...list, ...records];
  const parts = lookups.map(({ type, data, extension }) => [
    ...u16(extension ? 7 : type, 0, 1, 8),
    ...(extension ? [...u16(1, type), 0, 0, ...u16(8)] : []),
    ...data,
  ]);
  let place = 2 + 2 * parts.length;
  const places = parts.map((p) => ((place += p.length), place - p.length));
  const lookupList = [...u16(parts.length, ...places), ...parts.flat()];
  return Uint8Array.from([...u16(1, 0, 0, 10, 10 + featureList.length), ...featureList, ...lookupList]);
}
const coverage = (...glyphs: number[]): number[] => u16(1, glyphs.length, ...glyphs);
const ranges = (...given: [number, number][]): number[] => u16(2, given.length, ...given.flatMap(([a, b], i) => [a, b, i]));

test.each([false, true])('single, alternate and ligature substitutions are listed by feature (behind an extension: %s)', (extension) => {
  const found = readSubstitutions(
    gsub(
      [
        // Format 1 with a difference of 100, format 2 with a list; coverage as a list and as ranges.
        { type: 1, extension, data: [...u16(1, 6, 100), ...ranges([5, 7], [20, 20])] },
        { type: 1, extension, data: [...u16(2, 10, 2, 300, 301), ...coverage(8, 9)] },
        { type: 1, extension, data: [...u16(1, 6, 0xfffe), ...coverage(1)] },
        { type: 3, extension, data: [...u16(1, 14, 1, 8), ...u16(2, 40, 41), ...coverage(3)] },
        { type: 4, extension, data: [...u16(1, 20, 1, 8), ...u16(1, 4, 90, 3, 11, 12), ...coverage(10)] },
        { type: 5, extension, data: u16(1, 0, 0) },
      ],
      [
        ['aalt', [0, 3]],
        ['liga', [4, 5]],
        ['smcp', [1, 2, 1]],
      ],
    ),
  );
  expect(found).toEqual([
    ...[5, 6, 7, 20].map((g) => ({ feature: 'aalt', from: [g], to: g + 100, value: 1 })),
    { feature: 'aalt', from: [3], to: 40, value: 1 },
    { feature: 'aalt', from: [3], to: 41, value: 2 },
    { feature: 'liga', from: [10, 11, 12], to: 90, value: 1 },
    { feature: 'smcp', from: [8], to: 300, value: 1 },
    { feature: 'smcp', from: [9], to: 301, value: 1 },
    { feature: 'smcp', from: [1], to: 0xffff, value: 1 },
  ]);
});

test('a damaged part ends the list early, and tags stand sorted and once', () => {
  const whole = gsub(
    [{ type: 1, data: [...u16(1, 6, 100), ...coverage(5, 6)] }],
    [
      ['zero', [0]],
      ['aalt', [0]],
      ['zero', [0]],
    ],
  );
  expect(readLayoutTags(whole, 'GSUB')).toEqual({ scripts: [], features: ['aalt', 'zero'] });
  expect(readSubstitutions(whole)).toHaveLength(4);
  expect(readSubstitutions(whole.slice(0, whole.length - 1))).toEqual([]);
  expect(readSubstitutions(new Uint8Array(3))).toEqual([]);
});
