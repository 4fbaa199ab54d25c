import { faceOf } from '../../../test/face.js';
import { FONTS, readFont } from '../../../test/fonts.js';
import { python } from '../../../test/python.js';
import {
  AreaPen,
  BoundsPen,
  CharStringPen,
  CffOutlines,
  ContourPen,
  DirectionPen,
  areaOf,
  drawContour,
  FlattenPen,
  GlyfPen,
  QuadraticPen,
  ReversePen,
  RoundingPen,
  StatisticsPen,
  SvgPathPen,
  TransformPen,
  rasterize,
  type Pen,
} from '../index.js';
import { CFF, type Cff } from '../../sfnt/index.js';

const GLYPHS = [...'AagQS&8'];
const draw = (name: 'notoSans' | 'serifOtf', character: string, pen: Pen): void => {
  const face = faceOf(readFont(name));
  face.draw(face.glyphOf(character.codePointAt(0)!), pen);
};

interface Theirs {
  area: number;
  mean: [number, number];
  variance: [number, number];
  covariance: number;
  slant: number;
  reversed: number;
  moved: string;
}

test.each(['notoSans', 'serifOtf'] as const)('areas, moments, reversed and moved outlines of %s agree with fontTools', (name) => {
  const theirs = python<Record<string, Theirs>>(
    `
from fontTools.ttLib import TTFont
from fontTools.pens.areaPen import AreaPen
from fontTools.pens.statisticsPen import StatisticsPen
from fontTools.pens.reverseContourPen import ReverseContourPen
from fontTools.pens.transformPen import TransformPen
from fontTools.pens.boundsPen import BoundsPen
path, characters = given
font = TTFont(path); glyphs = font.getGlyphSet(); cmap = font.getBestCmap(); out = {}
for c in characters:
    g = glyphs[cmap[ord(c)]]
    area = AreaPen(glyphs); g.draw(area)
    stats = StatisticsPen(glyphs); g.draw(stats)
    back = AreaPen(glyphs); g.draw(ReverseContourPen(back))
    box = BoundsPen(glyphs); g.draw(TransformPen(box, (0.9, 0.1, -0.2, 1.1, 30, -40)))
    out[c] = {'area': area.value, 'mean': [stats.meanX, stats.meanY], 'variance': [stats.varianceX, stats.varianceY], 'covariance': stats.covariance,
              'slant': stats.slant, 'reversed': back.value, 'moved': ' '.join('%.2f' % v for v in box.bounds)}
print(json.dumps(out))
`,
    [FONTS[name], GLYPHS],
  );
  for (const c of GLYPHS) {
    const [area, stats, back, box] = [new AreaPen(), new StatisticsPen(), new AreaPen(), new BoundsPen()];
    draw(name, c, area);
    draw(name, c, stats);
    draw(name, c, new ReversePen(back));
    draw(name, c, new TransformPen([0.9, 0.1, -0.2, 1.1, 30, -40], box));
    const t = theirs[c]!;
    expect(area.area).toBeCloseTo(t.area, 3);
    expect(stats.meanX).toBeCloseTo(t.mean[0], 4);
    expect(stats.meanY).toBeCloseTo(t.mean[1], 4);
    expect(stats.varianceX).toBeCloseTo(t.variance[0], 2);
    expect(stats.varianceY).toBeCloseTo(t.variance[1], 2);
    expect(stats.covariance).toBeCloseTo(t.covariance, 2);
    expect(stats.slant).toBeCloseTo(t.slant, 5);
    expect(back.area).toBeCloseTo(t.reversed, 3);
    const { xMin, yMin, xMax, yMax } = box.bounds!;
    expect([xMin, yMin, xMax, yMax].map((v) => v.toFixed(2)).join(' ')).toBe(t.moved);
  }
});

const coverage = (fill: (pen: Pen) => void): Float32Array => {
  const pen = new FlattenPen(0.05);
  fill(pen);
  return rasterize(pen.polygons, { xMin: -200, yMin: -400, xMax: 1100, yMax: 1000 }, 130, 140);
};
const apart = (a: Float32Array, b: Float32Array): number =>
  a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.reduce((x, y) => x + y, 0);

test('cubics become quadratics within the tolerance, measured along the curve', () => {
  for (const tolerance of [0.25, 1]) {
    // Distance of points of the quadratics from a fine polyline of the cubic, font units.
    const [p0, c1, c2, p3] = [
      [0, 0],
      [0, 480],
      [700, -90],
      [560, 610],
    ] as const;
    const at = (t: number): [number, number] => {
      const s = 1 - t;
      const of = (i: 0 | 1): number => s ** 3 * p0[i] + 3 * s * s * t * c1[i] + 3 * s * t * t * c2[i] + t ** 3 * p3[i];
      return [of(0), of(1)];
    };
    const fine = Array.from({ length: 20_001 }, (_, i) => at(i / 20_000));
    const quads: number[][] = [];
    const pen = new ContourPen();
    const quadratic = new QuadraticPen(pen, tolerance);
    quadratic.moveTo(...p0);
    quadratic.cubicTo(...c1, ...c2, ...p3);
    quadratic.closePath();
    let from: readonly number[] = p0;
    let worst = 0;
    for (const q of pen.contours[0]!.segments) {
      quads.push([...q]);
      for (let i = 0; i <= 16; i++) {
        const t = i / 16;
        const [x, y] = [0, 1].map((k) => (1 - t) ** 2 * from[k]! + 2 * t * (1 - t) * q[k]! + t * t * q[k + 2]!) as [number, number];
        worst = Math.max(worst, Math.min(...fine.map(([fx, fy]) => Math.hypot(fx - x, fy - y))));
      }
      from = q.slice(2);
    }
    expect(worst).toBeLessThanOrEqual(tolerance + 0.02);
    // One piece less would be too far, so the number is the least the bound allows.
    expect(quads.length).toBe(Math.ceil(Math.cbrt(((Math.sqrt(3) / 36) * Math.hypot(560 - 2100, 610 + 270 + 1440)) / tolerance)));
  }
});

test.each(GLYPHS)('“%s” drawn to glyf and to a charstring comes out as the same shape', (c) => {
  const glyf = new GlyfPen();
  draw('serifOtf', c, new QuadraticPen(new RoundingPen(glyf), 0.3));
  const glyph = glyf.glyph()!;
  expect(glyph.endPtsOfContours[glyph.endPtsOfContours.length - 1]).toBe(glyph.x.length - 1);
  const program = new CharStringPen(10);
  draw('notoSans', c, program);
  const cff: Cff = { ...faceOf(readFont('serifOtf')).need(CFF), charStrings: [program.charString()], charset: ['.notdef'], fdSelect: null };
  const outlines = new CffOutlines(CFF.write(cff, faceOf(readFont('serifOtf'))), false, { strict: true });
  expect(
    apart(
      coverage((pen) => outlines.draw(0, pen)),
      coverage((pen) => draw('notoSans', c, pen)),
    ),
  ).toBeLessThan(0.004);
});

test('SVG path data of a known glyph is what the font holds', () => {
  const pen = new SvgPathPen();
  draw('notoSans', 'l', pen);
  // fontTools' SVGPathPen of the same glyph, absolute, rectangle of the stem.
  const theirs = python<string>(
    `
from fontTools.ttLib import TTFont
from fontTools.pens.svgPathPen import SVGPathPen
font = TTFont(given); glyphs = font.getGlyphSet(); pen = SVGPathPen(glyphs); glyphs[font.getBestCmap()[ord('l')]].draw(pen); print(json.dumps(pen.getCommands()))`,
    FONTS.notoSans,
  );
  const numbers = (path: string): string => (path.match(/-?[\d.]+/g) ?? []).join(' ');
  // H and V leave one coordinate out, so corners are compared as a set.
  expect(new Set(numbers(pen.path).split(' '))).toEqual(new Set(numbers(theirs).split(' ')));
});

test('contours are run by depth, whichever way they were drawn', () => {
  const square = (pen: Pen, low: number, high: number, turn: boolean): void => {
    const corners = [
      [low, low],
      [high, low],
      [high, high],
      [low, high],
    ] as [number, number][];
    if (turn) corners.reverse();
    pen.moveTo(...corners[0]!);
    for (const p of corners.slice(1)) pen.lineTo(...p);
    pen.closePath();
  };
  for (const turns of [
    [false, false, false],
    [true, false, true],
  ]) {
    const out = new ContourPen();
    const pen = new DirectionPen(out, 'clockwise');
    square(pen, 0, 100, turns[0]!);
    square(pen, 20, 80, turns[1]!);
    square(pen, 40, 60, turns[2]!);
    pen.end();
    expect(out.contours.map((c) => Math.sign(areaOf(c)))).toEqual([-1, 1, -1]);
    const area = new AreaPen();
    for (const c of out.contours) drawContour(c, area);
    expect(area.area).toBeCloseTo(-(10000 - 3600 + 400), 6);
  }
});

test('rounding goes up at halves, on both sides of zero', () => {
  const pen = new SvgPathPen();
  new RoundingPen(pen, 5).moveTo(-2.5, 7.5);
  expect(pen.path).toBe('M0 10');
});
