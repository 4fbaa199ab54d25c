import { python } from '../../../test/python.js';
import { changedSinceReview } from '../../../test/reviewed.js';
import { FontError, GVAR, type Glyph, type Gvar, type OpenTables, type TupleVariation } from '../index.js';
import { variedPoints } from './gvar.js';

const POINTS = 400;
const glyph = {
  kind: 'simple',
  x: new Array<number>(POINTS - 4).fill(0),
} as unknown as Glyph;
const tables = (count: number) =>
  ({ need: () => Array.from({ length: count }, () => glyph), table: () => null, has: () => true }) as unknown as OpenTables;
const all = (v: (i: number) => number): number[] => Array.from({ length: POINTS }, (_, i) => v(i));
const move = (more: Partial<TupleVariation>): TupleVariation => ({
  peak: [1],
  intermediate: null,
  points: null,
  xDeltas: all(() => 0),
  yDeltas: all(() => 0),
  ...more,
});
const gvar = (...glyphs: TupleVariation[][]): Gvar => ({ majorVersion: 1, minorVersion: 0, axisCount: 1, glyphs });
const some = (points: number[], delta: number): Partial<TupleVariation> => ({
  points,
  xDeltas: points.map(() => delta),
  yDeltas: points.map(() => -delta),
});

/** What fontTools reads of glyphs that have 400 points each: per variation its peak's region and its moves, null for none. */
const seen = (bytes: Uint8Array, count: number) =>
  python<{ axes: [number, number, number]; moves: ([number, number] | null)[] }[][]>(
    `
from fontTools.ttLib import newTable, TTFont
from fontTools.ttLib.tables._g_l_y_f import Glyph, GlyphCoordinates
font = TTFont(); font.setGlyphOrder(['g%d' % i for i in range(given['count'])])
font['fvar'] = newTable('fvar')
from fontTools.ttLib.tables._f_v_a_r import Axis
axis = Axis(); axis.axisTag = 'wght'; font['fvar'].axes = [axis]
font['glyf'] = newTable('glyf'); font['glyf'].glyphs = {}; font['glyf'].glyphOrder = font.getGlyphOrder()
import array
for name in font.getGlyphOrder():
    g = Glyph(); g.numberOfContours = 1; g.coordinates = GlyphCoordinates([(0, 0)] * ${POINTS - 4}); g.flags = array.array('B', [1] * ${POINTS - 4}); g.endPtsOfContours = [${POINTS - 5}]
    font['glyf'].glyphs[name] = g
table = newTable('gvar'); table.decompile(bytes.fromhex(given['hex']), font)
print(json.dumps([[{'axes': list(v.axes['wght']), 'moves': [list(c) if c else None for c in v.coordinates]} for v in table.variations[n]] for n in font.getGlyphOrder()]))`,
    { hex: Buffer.from(bytes).toString('hex'), count },
  );

/** Everything that was written and found right, so that none of it gets longer unseen. */
const right: Uint8Array[] = [];
function agrees(table: Gvar): Uint8Array {
  const bytes = GVAR.write(table, tables(table.glyphs.length));
  right.push(bytes);
  expect(GVAR.read(bytes, tables(table.glyphs.length))).toEqual(table);
  const theirs = seen(bytes, table.glyphs.length);
  const ours = table.glyphs.map((list) =>
    list.map(({ peak, intermediate, points, xDeltas, yDeltas }) => ({
      axes: intermediate ? [intermediate.start[0], peak[0], intermediate.end[0]] : [Math.min(peak[0]!, 0), peak[0], Math.max(peak[0]!, 0)],
      moves: all((i) => i).map((i) => {
        const at = points ? points.indexOf(i) : i;
        return at < 0 ? null : [xDeltas[at]!, yDeltas[at]!];
      }),
    })),
  );
  expect(theirs).toEqual(ours);
  return bytes;
}

test('moves of every width, in runs and single, are what fontTools reads', () => {
  agrees(
    gvar([
      move({
        xDeltas: all((i) => [0, 1, -128, 127, 128, -129, 32767, -32768, 0, 0, 5, 0, 300][i % 13]!),
        yDeltas: all((i) => (i % 70 < 65 ? 0 : i)),
      }),
      move({ peak: [-0.5], xDeltas: all((i) => (i < 64 ? 1 : 200)), yDeltas: all((i) => i - 200) }),
      move({ peak: [0.5], intermediate: { start: [0.25], end: [0.75] }, xDeltas: all(() => 1) }),
    ]),
  );
});

test.each([
  ['one', [7]],
  ['127', Array.from({ length: 127 }, (_, i) => 2 * i)],
  ['128, whose count takes two bytes', Array.from({ length: 128 }, (_, i) => 2 * i)],
  ['a gap of 255', [0, 255, 256]],
  ['a gap of 256', [0, 256, 399]],
  ['two wide gaps', [0, 1, 300, 399]],
  ['the phantom points', [396, 397, 398, 399]],
  ['nearly all, in runs of 128 and more', Array.from({ length: 300 }, (_, i) => i + 100)],
])('points that move: %s', (_, points) => {
  // Alone, shared by two variations, and beside another set.
  agrees(gvar([move(some(points, 3))], [move(some(points, 4)), move({ ...some(points, 5), peak: [-1] }), move(some([0, 3], 6))]));
});

test('peaks that several glyphs have stand once, and glyphs without variations take no room', () => {
  const bytes = agrees(gvar([move(some([1], 1))], [], [move(some([1], 1))], [move({ ...some([1], 1), peak: [0.25] })]));
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  // OpenType, gvar: sharedTupleCount at 6, flags at 14, offsets from 20 on.
  expect([view.getUint16(6), view.getUint16(14)]).toEqual([1, 0]);
  expect(view.getUint16(22)).toBe(view.getUint16(24));
});

test('offsets are short for as long as they fit: twice 0xFFFF bytes, and no more', () => {
  // A glyph with 400 points of two bytes each way takes an even number of bytes; the last glyph makes up the sum.
  const full = (): TupleVariation[] => [move({ xDeltas: all(() => 1000), yDeltas: all(() => 1000) })];
  const longs = (glyphs: TupleVariation[][]): [number, number] => {
    const bytes = GVAR.write(gvar(...glyphs), tables(glyphs.length));
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    return [view.getUint16(14), bytes.length - view.getUint32(16)];
  };
  const [, one] = longs([full(), full()]);
  const each = one / 2;
  const count = Math.floor(0x1fffe / each);
  const glyphs = Array.from({ length: count }, full);
  const rest = 0x1fffe - longs(glyphs)[1];
  // A variation of n words takes a fixed part and about two bytes a point; search the one that fits exactly, or nearest.
  const filler = (n: number): TupleVariation[] => [
    move({
      points: Array.from({ length: n }, (_, i) => i),
      xDeltas: new Array<number>(n).fill(1000),
      yDeltas: new Array<number>(n).fill(1),
    }),
  ];
  const room = Array.from({ length: 390 }, (_, i) => longs([...glyphs, filler(i + 1)]));
  expect(rest).toBeGreaterThan(0);
  expect(room.some(([long, size]) => long === 0 && size >= 0x1fff8)).toBe(true);
  expect(room.some(([long]) => long === 1)).toBe(true);
  for (const [long, size] of room) expect(long).toBe(size > 0x1fffe ? 1 : 0);
});

test('moves that do not fit and points that are not there are refused', () => {
  for (const delta of [32768, -32769, Number.NaN])
    expect(() => GVAR.write(gvar([move(some([0], delta))]), tables(1))).toThrow('moves farther than the gvar table can hold');
  for (const delta of [32767, -32767]) agrees(gvar([move(some([0], delta))]));
  const bytes = GVAR.write(gvar([move(some([POINTS], 1))]), tables(1));
  expect(() => GVAR.read(bytes, tables(1))).toThrow('a point that its glyph does not have');
  const many = Array.from({ length: 0x1000 }, () => move(some([0], 1)));
  expect(() => GVAR.write(gvar(many), tables(1))).toThrow('in more regions');
  expect(() => GVAR.write(gvar(many.slice(1)), tables(1))).not.toThrow();
});

test('every cut of a table is refused or read, and nothing else is thrown', () => {
  const whole = GVAR.write(gvar([move(some([1, 2, 300], 500)), move({ xDeltas: all((i) => i) })]), tables(1));
  for (let length = 0; length < whole.length; length += 3)
    try {
      GVAR.read(whole.slice(0, length), tables(1));
    } catch (error) {
      expect(error).toBeInstanceOf(FontError);
    }
});

test('and all of it is written in as many bytes as when last reviewed', () => {
  expect(right.length).toBeGreaterThan(10);
  expect(
    changedSinceReview(
      'gvar',
      right.map((bytes, i) => [`${i}: ${bytes.length} bytes`, bytes]),
    ),
  ).toEqual([]);
});

test('a glyph has its points, or one a component, and four phantom points', () => {
  // OpenType, gvar, "Point numbers and processing for composite glyphs".
  expect([variedPoints(null), variedPoints(glyph), variedPoints({ kind: 'composite', components: [1, 2] } as unknown as Glyph)]).toEqual([
    4,
    POINTS,
    6,
  ]);
});
