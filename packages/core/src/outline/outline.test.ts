import { readFont } from '../../test/fonts.js';
import { python } from '../../test/python.js';
import { faceOf } from '../../test/face.js';
import { FONTS } from '../../test/fonts.js';
import { Loca } from '../sfnt/index.js';
import { BoundsPen, FlattenPen, GlyfOutlines, HashPen, openOutlines, rasterize, spansAtX, spansAtY, type Polygon } from './index.js';

const square = (x: number, y: number, size: number, clockwise = true): Polygon =>
  clockwise ? [x, y, x, y + size, x + size, y + size, x + size, y] : [x, y, x + size, y, x + size, y + size, x, y + size];
const sum = (cells: Float32Array): number => cells.reduce((a, b) => a + b, 0);
const box = (xMin: number, yMin: number, xMax: number, yMax: number) => ({ xMin, yMin, xMax, yMax });

test('a grid covers exactly the area of what is drawn', () => {
  // A triangle of half its box, a square within one cell, one across four.
  expect(sum(rasterize([[0, 0, 0, 10, 10, 0]], box(0, 0, 10, 10), 10, 10))).toBeCloseTo(50, 4);
  const small = rasterize([square(2.25, 3.25, 0.5)], box(0, 0, 10, 10), 10, 10);
  expect([small[3 * 10 + 2], sum(small)]).toEqual([expect.closeTo(0.25, 5), expect.closeTo(0.25, 5)]);
  const across = rasterize([square(4.5, 4.5, 1)], box(0, 0, 10, 10), 10, 10);
  for (const [row, column] of [
    [4, 4],
    [4, 5],
    [5, 4],
    [5, 5],
  ] as const)
    expect(across[row * 10 + column]).toBeCloseTo(0.25, 5);
});

test('holes are left out, what overlaps counts once', () => {
  expect(sum(rasterize([square(0, 0, 10), square(2, 2, 4, false)], box(0, 0, 10, 10), 10, 10))).toBeCloseTo(84, 3);
  expect(sum(rasterize([square(0, 0, 6), square(2, 2, 6)], box(0, 0, 10, 10), 10, 10))).toBeCloseTo(36 + 36 - 16, 3);
});

test('what lies outside of the box is cut off at it', () => {
  expect(sum(rasterize([square(-5, -5, 10)], box(0, 0, 10, 10), 10, 10))).toBeCloseTo(25, 3);
  expect(sum(rasterize([square(20, 20, 5)], box(0, 0, 10, 10), 10, 10))).toBeCloseTo(0, 5);
});

test('a circle of quadratics and of cubics flattens to its area and length', () => {
  const r = 500;
  const circle = (pen: FlattenPen): void => {
    // Four cubics with the usual constant 4/3 (sqrt 2 - 1); the area is within 0.03% of the circle's.
    const k = (4 / 3) * (Math.SQRT2 - 1) * r;
    pen.moveTo(r, 0);
    pen.cubicTo(r, k, k, r, 0, r);
    pen.cubicTo(-k, r, -r, k, -r, 0);
    pen.cubicTo(-r, -k, -k, -r, 0, -r);
    pen.cubicTo(k, -r, r, -k, r, 0);
    pen.closePath();
  };
  const pen = new FlattenPen(0.05);
  circle(pen);
  const [polygon] = pen.polygons as [Polygon];
  let area = 0;
  for (let i = 0; i < polygon.length; i += 2) {
    const j = (i + 2) % polygon.length;
    area += polygon[i]! * polygon[j + 1]! - polygon[j]! * polygon[i + 1]!;
  }
  expect(Math.abs(area / 2) / (Math.PI * r * r)).toBeCloseTo(1, 3);
  expect(pen.curveLength / (2 * Math.PI * r)).toBeCloseTo(1, 3);
  // Every point stays within the tolerance of the circle, up to the error of the cubics themselves (0.03% of the radius).
  for (let i = 0; i < polygon.length; i += 2)
    expect(Math.abs(Math.hypot(polygon[i]!, polygon[i + 1]!) - r)).toBeLessThan(0.05 + r * 0.0003);
  const bounds = new BoundsPen();
  bounds.moveTo(r, 0);
  bounds.cubicTo(r, 280, 280, r, 0, r);
  expect(bounds.bounds).toEqual(box(0, 0, r, r));
});

test('spans along a line are where ink begins and ends', () => {
  const ring = [square(0, 0, 10), square(2, 2, 6, false)];
  expect(spansAtY(ring, 5)).toEqual([0, 2, 8, 10]);
  expect(spansAtX(ring, 5)).toEqual([0, 2, 8, 10]);
  expect(spansAtY(ring, 1)).toEqual([0, 10]);
  expect(spansAtY(ring, 11)).toEqual([]);
});

test('a fingerprint is the same for the same drawing, and another for another', () => {
  const print = (draw: (pen: HashPen) => void): string => {
    const pen = new HashPen();
    draw(pen);
    return pen.digest;
  };
  const line = (x: number) => (pen: HashPen) => {
    pen.moveTo(0, 0);
    pen.lineTo(x, 10);
    pen.closePath();
  };
  expect(print(line(5))).toBe(print(line(5)));
  expect(print(line(5))).toBe(print(line(5.01)));
  expect(new Set([0, 1, 2, 3, 4, 5, -5, 500].map((x) => print(line(x)))).size).toBe(8);
});

test.each(['gochiHand', 'serifTtf', 'serifOtf', 'khmer'] as const)('areas of the glyphs of %s are those fontTools finds', (name) => {
  const outlines = openOutlines(faceOf(readFont(name)))!;
  const theirs = python<Record<string, number>>(
    `
from fontTools.ttLib import TTFont
from fontTools.pens.areaPen import AreaPen
font = TTFont(given); glyphs = font.getGlyphSet()
out = {}
for i, name in enumerate(font.getGlyphOrder()):
    if i % 5: continue
    pen = AreaPen(glyphs); glyphs[name].draw(pen); out[i] = pen.value
print(json.dumps(out))`,
    FONTS[name],
  );
  expect(Object.keys(theirs).length).toBeGreaterThan(20);
  for (const [glyph, area] of Object.entries(theirs)) {
    const pen = new FlattenPen(0.05);
    outlines.draw(Number(glyph), pen);
    let ours = 0;
    for (const p of pen.polygons)
      for (let i = 0; i < p.length; i += 2) {
        const j = (i + 2) % p.length;
        ours += (p[i]! * p[j + 1]! - p[j]! * p[i + 1]!) / 2;
      }
    // Flattening cuts corners by less than the tolerance along the outline.
    expect(Math.abs(ours - area)).toBeLessThanOrEqual(1 + 0.05 * (pen.curveLength + 1));
  }
});

test('the offset of a part is its own, or scaled with it where the glyph says so', () => {
  // Source: OpenType specification, glyf, composite flags ARG_1_AND_2_ARE_WORDS 0x1, ARGS_ARE_XY_VALUES 0x2, WE_HAVE_A_SCALE 0x8,
  // SCALED_COMPONENT_OFFSET 0x800. A square of 200 units, taken at half its size and moved by (100, 40).
  const words = (...values: number[]): number[] => values.flatMap((v) => [(v >> 8) & 0xff, v & 0xff]);
  const part = [...words(1, 0, 0, 200, 200, 3, 0), 1, 1, 1, 1, ...words(0, 0, 200, 0), ...words(0, 200, 0, -200)];
  const composite = (flags: number): number[] => words(-1, 0, 0, 0, 0, flags, 0, 100, 40, 0x2000);
  const boundsOf = (flags: number): unknown => {
    const glyphs = [part, composite(flags)];
    const offsets = glyphs.reduce<number[]>((at, g) => [...at, at[at.length - 1]! + g.length], [0]);
    const loca = new Uint8Array(offsets.flatMap((o) => [0, 0, (o >> 8) & 0xff, o & 0xff]));
    const pen = new BoundsPen();
    new GlyfOutlines(Uint8Array.from(glyphs.flat()), new Loca(loca, true)).draw(1, pen);
    return pen.bounds;
  };
  expect(boundsOf(0xb)).toEqual({ xMin: 100, yMin: 40, xMax: 200, yMax: 140 });
  expect(boundsOf(0x80b)).toEqual({ xMin: 50, yMin: 20, xMax: 150, yMax: 120 });
});

test('a pen that draws another glyph while one is drawn disturbs neither', () => {
  const outlines = openOutlines(faceOf(readFont('gochiHand')))!;
  const plain = (glyph: number): string => {
    const pen = new HashPen();
    outlines.draw(glyph, pen);
    return pen.digest;
  };
  const [outer, inner] = [plain(40), plain(41)];
  const seen: string[] = [];
  const pen = new HashPen();
  const nested = new Proxy(pen, {
    get: (target, key) =>
      key === 'moveTo' ? (x: number, y: number) => (seen.push(plain(41)), target.moveTo(x, y)) : Reflect.get(target, key, target),
  });
  outlines.draw(40, nested);
  expect([pen.digest, new Set(seen)]).toEqual([outer, new Set([inner])]);
});
