import { python } from '../../test/python.js';
import { FontError } from '../sfnt/index.js';
import { CffOutlines, type Pen } from './index.js';

/** Writes down what is drawn, rounded to thousandths. */
class Recorder implements Pen {
  readonly steps: (string | number)[][] = [];
  private note(...step: (string | number)[]): void {
    this.steps.push(step.map((v) => (typeof v === 'number' ? Math.round(v * 1000) / 1000 : v)));
  }
  moveTo(x: number, y: number): void {
    this.note('move', x, y);
  }
  lineTo(x: number, y: number): void {
    this.note('line', x, y);
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.note('quad', cx, cy, x, y);
  }
  cubicTo(...c: [number, number, number, number, number, number]): void {
    this.note('cubic', ...c);
  }
  closePath(): void {
    this.note('close');
  }
}

type Program = (string | number)[];

/** Glyph programs, one for each operator and each way of writing it. Source: Adobe Technical Note 5177. */
const PROGRAMS: Record<string, Program> = {
  lines: [100, 200, 'rmoveto', 50, 'hlineto', 60, 'vlineto', -50, 10, 'rlineto', 'endchar'],
  alternating: [0, 'hmoveto', 10, 20, 30, 40, 'hlineto', 5, 6, 7, 'vlineto', 'endchar'],
  vertical: [7, 'vmoveto', 10, 20, 30, 40, 50, 60, 'rrcurveto', 'endchar'],
  curves: [0, 0, 'rmoveto', 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 'rrcurveto', 'endchar'],
  hhcurve: [0, 0, 'rmoveto', 10, 20, 30, 40, 'hhcurveto', 5, 10, 20, 30, 40, 50, 60, 70, 80, 'hhcurveto', 'endchar'],
  vvcurve: [0, 0, 'rmoveto', 10, 20, 30, 40, 'vvcurveto', 5, 10, 20, 30, 40, 'vvcurveto', 'endchar'],
  hvcurve: [0, 0, 'rmoveto', 10, 20, 30, 40, 'hvcurveto', 10, 20, 30, 40, 5, 'hvcurveto', 'endchar'],
  hvcurves: [0, 0, 'rmoveto', 10, 20, 30, 40, 50, 60, 70, 80, 'hvcurveto', 10, 20, 30, 40, 50, 60, 70, 80, 9, 'hvcurveto', 'endchar'],
  vhcurve: [0, 0, 'rmoveto', 10, 20, 30, 40, 'vhcurveto', 10, 20, 30, 40, 50, 60, 70, 80, 9, 'vhcurveto', 'endchar'],
  lineThenCurve: [0, 0, 'rmoveto', 5, 6, 7, 8, 10, 20, 30, 40, 50, 60, 'rlinecurve', 'endchar'],
  curveThenLine: [0, 0, 'rmoveto', 10, 20, 30, 40, 50, 60, 5, 6, 'rcurveline', 'endchar'],
  flex: [0, 0, 'rmoveto', 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 50, 'flex', 'endchar'],
  hflex: [0, 0, 'rmoveto', 10, 20, 5, 30, 40, 50, 60, 'hflex', 'endchar'],
  hflex1: [0, 0, 'rmoveto', 10, 1, 20, 2, 30, 40, 50, 3, 60, 'hflex1', 'endchar'],
  flex1: [0, 0, 'rmoveto', 10, 1, 20, 2, 30, 3, 40, 4, 50, 5, 60, 'flex1', 'endchar'],
  hints: [
    10,
    20,
    30,
    40,
    'hstemhm',
    5,
    6,
    'hintmask',
    '11100000',
    9,
    9,
    'rmoveto',
    20,
    'hlineto',
    'hintmask',
    '00100000',
    30,
    'vlineto',
    'endchar',
  ],
  counters: [10, 20, 'hstemhm', 30, 40, 'vstemhm', 'cntrmask', '11000000', 0, 0, 'rmoveto', 20, 30, 'rlineto', 'endchar'],
  fractions: [0.5, 0.25, 'rmoveto', 10.125, -20.5, 'rlineto', 1000, -1000, 'rlineto', 107, 108, -107, -108, 'rlineto', 'endchar'],
  twoContours: [0, 0, 'rmoveto', 10, 'hlineto', 10, 'vlineto', 100, 100, 'rmoveto', 10, 'hlineto', 10, 'vlineto', 'endchar'],
  width: [33, 0, 0, 'rmoveto', 10, 20, 'rlineto', 'endchar'],
  empty: ['endchar'],
};

/** The programs in a CFF font that fontTools writes, and what fontTools draws of them. */
const made = python<{ cff: string; order: string[]; drawn: Record<string, (string | number)[][]> }>(
  `
from fontTools.fontBuilder import FontBuilder
from fontTools.misc.psCharStrings import T2CharString
from fontTools.pens.recordingPen import DecomposingRecordingPen
import io
from fontTools.ttLib import TTFont
order = ['.notdef'] + sorted(given)
builder = FontBuilder(1000, isTTF=False)
builder.setupGlyphOrder(order)
builder.setupCharacterMap({0xE000 + i: name for i, name in enumerate(order)})
def program(p):
    return [bytes([int(v, 2)]) if isinstance(v, str) and set(v) <= set('01') else v for v in p]
strings = {name: T2CharString(program=program(p)) for name, p in given.items()}
strings['.notdef'] = T2CharString(program=['endchar'])
builder.setupCFF('Made', {}, strings, {})
builder.setupHorizontalMetrics({name: (500, 0) for name in order})
builder.setupHorizontalHeader(ascent=800, descent=-200)
builder.setupNameTable({}); builder.setupOS2(); builder.setupPost()
out = io.BytesIO(); builder.save(out); out.seek(0)
font = TTFont(out)
glyphs = font.getGlyphSet()
def draw(name):
    pen = DecomposingRecordingPen(glyphs); glyphs[name].draw(pen)
    names = {'moveTo': 'move', 'lineTo': 'line', 'curveTo': 'cubic', 'closePath': 'close', 'endPath': 'close'}
    return [[names[op]] + [round(v, 3) for point in args for v in point] for op, args in pen.value]
print(json.dumps({'cff': font.reader['CFF '].hex(), 'order': font.getGlyphOrder(), 'drawn': {n: draw(n) for n in order}}))`,
  PROGRAMS,
);
const table = Uint8Array.from(made.cff.match(/../g)!, (b) => parseInt(b, 16));

test.each(Object.keys(PROGRAMS))('the program “%s” draws what fontTools draws', (name) => {
  const pen = new Recorder();
  new CffOutlines(table, false).draw(made.order.indexOf(name), pen);
  // A line back to where a contour began is the closing side, which both may draw or leave to closing.
  const plain = (steps: (string | number)[][]): (string | number)[][] => {
    let start: (string | number)[] = [];
    return steps.filter((step, i) => {
      if (step[0] === 'move') start = step;
      return !(step[0] === 'line' && steps[i + 1]?.[0] === 'close' && step[1] === start[1] && step[2] === start[2]);
    });
  };
  expect(plain(pen.steps)).toEqual(plain(made.drawn[name]!));
});

test('every cut and many changed bytes of a CFF table are refused or drawn, never worse', () => {
  const attempt = (data: Uint8Array): void => {
    try {
      const outlines = new CffOutlines(data, false);
      for (let glyph = 0; glyph < Math.min(outlines.glyphCount, 30); glyph++) outlines.draw(glyph, new Recorder());
    } catch (error) {
      expect(error).toBeInstanceOf(FontError);
    }
  };
  for (let length = 0; length < table.length; length++) attempt(table.slice(0, length));
  for (let i = 0; i < table.length; i++)
    for (const value of [0, 28, 255]) {
      const data = table.slice();
      data[i] = value;
      attempt(data);
    }
});
