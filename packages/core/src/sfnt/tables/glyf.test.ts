import { python } from '../../../test/python.js';
import {
  FontError,
  LOCA,
  locaFormatFor,
  readGlyph,
  writeGlyphs,
  type Component,
  type Glyph,
  type OpenTables,
  type SimpleGlyph,
} from '../index.js';
import { Loca, writeGlyph } from './glyf.js';

const BOX = { xMin: -5, yMin: -32768, xMax: 32767, yMax: 7 };
const simple = (steps: readonly [number, number][], more: Partial<SimpleGlyph> = {}): SimpleGlyph => {
  let [x, y] = [0, 0];
  const points = steps.map(([dx, dy]) => [(x += dx), (y += dy)] as const);
  return {
    kind: 'simple',
    ...BOX,
    endPtsOfContours: [steps.length - 1],
    x: Int16Array.from(points, (p) => p[0]),
    y: Int16Array.from(points, (p) => p[1]),
    onCurve: Uint8Array.from(points, (_, i) => Number(i % 3 !== 1)),
    overlap: false,
    instructions: new Uint8Array(0),
    ...more,
  };
};
/** Steps at the edges of one byte and of two, each there and back. */
const EDGES = [0, 1, 254, 255, 256, 257, 16383, 32767].flatMap((d): [number, number][] => [
  [d, 0],
  [-d, 0],
  [0, -d],
  [0, d],
  [d, d],
  [-d, -d],
]);
const row = (n: number): SimpleGlyph => ({
  ...simple(Array.from({ length: n }, (): [number, number] => [1, 0])),
  onCurve: new Uint8Array(n).fill(1),
});
const XY = 0x0002;
const part = (flags: number, argument1: number, argument2: number, transform: Component['transform'] = [1, 0, 0, 1]): Component => ({
  flags,
  glyphIndex: 1,
  argument1,
  argument2,
  transform,
});
const composite = (components: Component[], instructions = new Uint8Array(0)): Glyph => ({
  kind: 'composite',
  ...BOX,
  components,
  instructions,
});
const PARTS = [
  part(XY, -128, 127),
  part(XY, -129, 0),
  part(XY, 0, 128),
  part(XY, 32767, -32768),
  part(0, 0, 255),
  part(0, 256, 0),
  part(0x0004, 0, 65535),
  part(XY | 0x0800, 5, 6, [0.5, 0, 0, 0.5]),
  part(XY, 5, 6, [0.5, 0, 0, 0.25]),
  part(XY, 5, 6, [-2, 0, 0, 1]),
  part(XY | 0x0200, 5, 6, [1, 0.25, 0, 1]),
  part(XY, 5, 6, [1, 0, -0.25, 1]),
  part(XY, 5, 6, [1.5, 0.5, -0.5, 32767 / 16384]),
];
const GLYPHS: Glyph[] = [
  null,
  simple(EDGES, { endPtsOfContours: [3, 10, EDGES.length - 1] }),
  simple([[1, 2]], { overlap: true, instructions: Uint8Array.from({ length: 300 }, (_, i) => i % 256) }),
  ...[1, 2, 3, 255, 256, 257, 258, 513].map(row),
  null,
  ...PARTS.map((p) => composite([p])),
  composite(PARTS),
  composite(PARTS.slice(0, 2), Uint8Array.of(1, 2, 3)),
];

test('glyphs at the edges of every packing are read again as they were written', () => {
  const { glyf, offsets } = writeGlyphs(GLYPHS);
  expect(GLYPHS.map((_, i) => readGlyph(glyf.subarray(offsets[i]!, offsets[i + 1]!)))).toEqual(GLYPHS);
  expect([...offsets].every((o) => o % 2 === 0)).toBe(true);
});

test('and fontTools reads the same, as short as it writes them itself', () => {
  // fontTools, _g_l_y_f: what it reads of our bytes, and how long the same glyph is when it compiles it.
  const { glyf, offsets } = writeGlyphs(GLYPHS);
  const seen = python<{ points?: [number, number, number][]; ends?: number[]; parts?: unknown[]; program: number; length: number }[]>(
    `
from fontTools.ttLib import TTFont, newTable
from fontTools.ttLib.tables._g_l_y_f import Glyph
font = TTFont(); order = ['g%d' % i for i in range(40)]; font.setGlyphOrder(order); table = newTable('glyf'); table.glyphs = {}; table.setGlyphOrder(order); font['glyf'] = table
out = []
for data in given:
    g = Glyph(bytes.fromhex(data)); g.expand(table)
    length = len(g.compile(table, recalcBBoxes=False))
    if g.isComposite():
        parts = [[c.flags & 0x1a04, font.getGlyphID(c.glyphName), getattr(c, 'x', getattr(c, 'firstPt', None)), getattr(c, 'y', getattr(c, 'secondPt', None)), [v for r in getattr(c, 'transform', [[1, 0], [0, 1]]) for v in r]] for c in g.components]
        out.append({'parts': parts, 'program': len(g.program.getBytecode()) if hasattr(g, 'program') else 0, 'length': length})
    elif g.numberOfContours:
        out.append({'points': [[x, y, f & 1] for (x, y), f in zip(g.coordinates, g.flags)], 'ends': list(g.endPtsOfContours), 'program': len(g.program.getBytecode()), 'length': length})
    else: out.append({'program': 0, 'length': length})
print(json.dumps(out))`,
    GLYPHS.map((_, i) => Buffer.from(glyf.subarray(offsets[i]!, offsets[i + 1]!)).toString('hex')),
  );
  GLYPHS.forEach((glyph, i) => {
    const s = seen[i]!;
    if (!glyph) return expect(s.points ?? s.parts).toBeUndefined();
    expect(s.program).toBe(glyph.instructions.length);
    const own = writeGlyph(glyph).length;
    if (glyph.kind === 'simple') {
      expect(s.points).toEqual([...glyph.x].map((x, k) => [x, glyph.y[k], glyph.onCurve[k]]));
      expect(s.ends).toEqual(glyph.endPtsOfContours);
      expect(own).toBeLessThanOrEqual(s.length);
    } else {
      expect(s.parts).toEqual(glyph.components.map((c) => [c.flags & 0x1a04, 1, c.argument1, c.argument2, c.transform]));
      expect(own).toBeLessThanOrEqual(s.length + 1);
    }
  });
});

test('what no font can hold is refused', () => {
  const refuses = (glyph: NonNullable<Glyph>): void => expect(() => writeGlyph(glyph)).toThrow(FontError);
  refuses({ ...simple([[1, 1]]), xMax: 32768 });
  refuses({ ...simple([[1, 1]]), yMin: -32769 });
  refuses({ ...simple([[1, 1]]), xMin: NaN });
  // From -20000 to 20000 are more than 16 bits hold.
  refuses({
    ...simple([[-20000, 0]]),
    endPtsOfContours: [1],
    x: Int16Array.of(-20000, 20000),
    y: new Int16Array(2),
    onCurve: new Uint8Array(2),
  });
  refuses(composite([part(XY, 0, 0, [2, 0, 0, 2])])!);
  expect(() => writeGlyph(composite([part(XY, 0, 0, [-2, 0, 0, -2])])!)).not.toThrow();
  refuses(composite([part(XY, 0, 0, [-2.001, 0, 0, 1])])!);
  refuses(row(65536));
});

test('glyphs that are cut short, run backwards or never end are refused', () => {
  for (const glyph of GLYPHS) {
    if (!glyph) continue;
    const bytes = writeGlyph(glyph);
    for (const length of [1, 5, 9, 11, bytes.length - 1])
      if (length < bytes.length) expect(() => readGlyph(bytes.slice(0, length))).toThrow(FontError);
  }
  const back = writeGlyph(
    simple(
      [
        [1, 1],
        [1, 1],
        [1, 1],
      ],
      { endPtsOfContours: [0, 2] },
    ),
  );
  new DataView(back.buffer, back.byteOffset).setUint16(12, 0xffff);
  expect(() => readGlyph(back)).toThrow(FontError);
  new DataView(back.buffer, back.byteOffset).setUint16(10, 3);
  new DataView(back.buffer, back.byteOffset).setUint16(12, 2);
  expect(() => readGlyph(back)).toThrow('ends before it begins');
  const parts = (n: number): Glyph => composite(Array.from({ length: n }, () => part(XY, 0, 0)));
  expect(readGlyph(writeGlyph(parts(4096)!))).toEqual(parts(4096));
  expect(() => readGlyph(writeGlyph(parts(4097)!))).toThrow('more parts');
  expect(readGlyph(Uint8Array.from({ length: 10 }))).toBeNull();
});

test('places of glyphs by 16 bits as long as they fit, else by 32', () => {
  // Source: OpenType specification, loca: the short format holds the offset divided by two.
  const tables = (format: number, numGlyphs = 2): OpenTables =>
    ({ need: () => ({ indexToLocFormat: format, numGlyphs }) }) as unknown as OpenTables;
  const offsets = Uint32Array.of(0, 10, 0x1fffe);
  expect(locaFormatFor(offsets)).toBe(0);
  expect(locaFormatFor(Uint32Array.of(0, 0x1ffff))).toBe(1);
  expect([...LOCA.write(offsets, tables(0))]).toEqual([0, 0, 0, 5, 0xff, 0xff]);
  expect(LOCA.read(LOCA.write(offsets, tables(0)), tables(0))).toEqual(offsets);
  expect([...LOCA.write(offsets, tables(1))]).toEqual([0, 0, 0, 0, 0, 0, 0, 10, 0, 1, 255, 254]);
  expect(LOCA.read(LOCA.write(offsets, tables(1)), tables(1))).toEqual(offsets);
  expect(() => LOCA.write(Uint32Array.of(0, 11), tables(0))).toThrow(FontError);
  expect(() => LOCA.write(Uint32Array.of(0, 0x20000), tables(0))).toThrow(FontError);
  expect([
    new Loca(new Uint8Array(6), false).count,
    new Loca(new Uint8Array(12), true).count,
    new Loca(new Uint8Array(1), false).count,
  ]).toEqual([2, 2, 0]);
});
