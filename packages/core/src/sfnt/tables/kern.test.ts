import { python } from '../../../test/python.js';
import { FontError, KERN, searchFields, type Kern, type OpenTables } from '../index.js';

const NO_TABLES = { table: () => null, has: () => false, bytes: () => null } as unknown as OpenTables;
const pairs = (n: number) => Array.from({ length: n }, (_, i) => ({ left: i, right: n - i, value: i % 2 ? -i : i }));
const sub = (n: number, coverage = 1) => ({ coverage, tupleIndex: 0, pairs: pairs(n), raw: null });
const again = (kern: Kern): Kern => KERN.read(KERN.write(kern, NO_TABLES), NO_TABLES);

test('fields for binary searches are those of the specification', () => {
  // Source: OpenType specification, "Organization of an OpenType Font": the largest power of two, its logarithm, the rest.
  expect([0, 1, 2, 3, 4, 16, 17].map((n) => searchFields(n, 6))).toEqual([
    [6, 0, -6],
    [6, 0, 0],
    [12, 1, 0],
    [12, 1, 6],
    [24, 2, 0],
    [96, 4, 0],
    [96, 4, 6],
  ]);
});

test('pairs of both versions are what fontTools reads, its own header included', () => {
  for (const version of [0, 0x00010000]) {
    const kern: Kern = { version, subtables: [sub(3, version ? 0 : 1), sub(5, version ? 0 : 9)] };
    expect(again(kern)).toEqual(kern);
    const bytes = KERN.write(kern, NO_TABLES);
    const theirs = python<{ pairs: [number, number, number][][]; again: string }>(
      `
from fontTools.ttLib import newTable, TTFont
f = TTFont(); f.setGlyphOrder(['g%d' % i for i in range(20)])
t = newTable('kern'); t.decompile(bytes.fromhex(given), f)
out = [sorted([f.getGlyphID(l), f.getGlyphID(r), v] for (l, r), v in s.kernTable.items()) for s in t.kernTables]
print(json.dumps({'pairs': out, 'again': t.compile(f).hex()}))`,
      Buffer.from(bytes).toString('hex'),
    );
    expect(theirs.pairs).toEqual(kern.subtables.map((s) => s.pairs!.map((p) => [p.left, p.right, p.value])));
    // fontTools writes the same bytes: lengths and the fields for searching, too.
    expect(theirs.again).toBe(Buffer.from(bytes).toString('hex'));
  }
});

test('more pairs than 16 bits of length say are read to the end, and more than 65,535 refused', () => {
  const large: Kern = { version: 0, subtables: [sub(11_000)] };
  expect(again(large)).toEqual(large);
  expect(again({ version: 0, subtables: [sub(65_535)] }).subtables[0]!.pairs).toHaveLength(65_535);
  expect(() => KERN.write({ version: 0, subtables: [sub(65_536)] }, NO_TABLES)).toThrow(FontError);
  const raw: Kern = { version: 0, subtables: [{ coverage: 0x0201, tupleIndex: 0, pairs: null, raw: Uint8Array.of(1, 2, 3, 4) }, sub(1)] };
  expect(again(raw)).toEqual(raw);
  const bytes = KERN.write({ version: 0, subtables: [sub(2)] }, NO_TABLES);
  expect(() => KERN.read(bytes.slice(0, bytes.length - 1), NO_TABLES)).toThrow(FontError);
  const claims = bytes.slice();
  claims[2] = 0x7f;
  expect(() => KERN.read(claims, NO_TABLES)).toThrow('more parts than it has bytes');
});
