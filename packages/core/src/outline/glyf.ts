import type { Loca } from '../sfnt/index.js';
import { FontError, Reader } from '../sfnt/index.js';
import type { Pen } from './pen.js';

const MAX_DEPTH = 8;
const MAX_POINTS = 100_000;

interface Point {
  x: number;
  y: number;
  on: boolean;
}

/**
 * Draws glyphs of a glyf table, composites included, at the default instance.
 * Source: OpenType specification, glyf and loca.
 */
export class GlyfOutlines {
  private readonly reader: Reader;
  constructor(
    glyf: Uint8Array,
    private readonly loca: Loca,
  ) {
    this.reader = new Reader(glyf, 'glyf');
  }

  /** @throws FontError when the glyph is malformed or its components run in a circle. */
  draw(glyph: number, pen: Pen): void {
    const contours: Point[][] = [];
    this.collect(glyph, [1, 0, 0, 1, 0, 0], contours, 0, { points: 0 });
    for (const contour of contours) drawContour(contour, pen);
  }

  private collect(glyph: number, m: readonly number[], into: Point[][], depth: number, budget: { points: number }): void {
    if (depth > MAX_DEPTH) throw new FontError('bad-table', `Glyph ${glyph} is built from parts nested too deep.`, { table: 'glyf' });
    if (glyph >= this.loca.count)
      throw new FontError('bad-table', `A glyph is built from part ${glyph}, which does not exist.`, { table: 'glyf' });
    const start = this.loca.offset(glyph);
    if (this.loca.offset(glyph + 1) <= start) return;
    const r = this.reader;
    const contourCount = r.i16(start);
    if (contourCount < 0) this.collectParts(start + 10, m, into, depth, budget);
    else if (contourCount > 0) this.collectSimple(start, contourCount, m, into, budget);
  }

  private collectSimple(start: number, contourCount: number, m: readonly number[], into: Point[][], budget: { points: number }): void {
    const r = this.reader;
    const ends = Array.from({ length: contourCount }, (_, i) => r.u16(start + 10 + 2 * i));
    const count = ends[contourCount - 1]! + 1;
    budget.points += count;
    if (budget.points > MAX_POINTS) throw new FontError('bad-table', 'A glyph has more points than any real one.', { table: 'glyf' });
    let at = start + 10 + 2 * contourCount;
    at += 2 + r.u16(at);
    const flags = new Uint8Array(count);
    for (let i = 0; i < count;) {
      const flag = r.u8(at++);
      flags[i++] = flag;
      if (flag & 8) for (let times = r.u8(at++); times > 0 && i < count; times--) flags[i++] = flag;
    }
    const coordinates = (short: number, same: number): Int32Array => {
      const out = new Int32Array(count);
      let value = 0;
      for (let i = 0; i < count; i++) {
        const flag = flags[i]!;
        if (flag & short) value += flag & same ? r.u8(at++) : -r.u8(at++);
        else if (!(flag & same)) {
          value += r.i16(at);
          at += 2;
        }
        out[i] = value;
      }
      return out;
    };
    const xs = coordinates(2, 16);
    const ys = coordinates(4, 32);
    let first = 0;
    for (const end of ends) {
      if (end < first - 1) throw new FontError('bad-table', 'A contour ends before it begins.', { table: 'glyf' });
      const contour: Point[] = [];
      for (let i = first; i <= end; i++)
        contour.push({ x: m[0]! * xs[i]! + m[2]! * ys[i]! + m[4]!, y: m[1]! * xs[i]! + m[3]! * ys[i]! + m[5]!, on: (flags[i]! & 1) !== 0 });
      if (contour.length > 0) into.push(contour);
      first = end + 1;
    }
  }

  private collectParts(start: number, m: readonly number[], into: Point[][], depth: number, budget: { points: number }): void {
    const r = this.reader;
    let at = start;
    let flags: number;
    // Points are numbered from the first point of this composite, not of whatever contains it.
    const own = into.length;
    do {
      flags = r.u16(at);
      const part = r.u16(at + 2);
      at += 4;
      let dx = 0;
      let dy = 0;
      const words = (flags & 1) !== 0;
      const a1 = words ? r.i16(at) : (r.u8(at) << 24) >> 24;
      const a2 = words ? r.i16(at + 2) : (r.u8(at + 1) << 24) >> 24;
      at += words ? 4 : 2;
      if (flags & 2) [dx, dy] = [a1, a2];
      let [a, b, c, d] = [1, 0, 0, 1];
      const f2dot14 = (): number => {
        const value = r.i16(at) / 16384;
        at += 2;
        return value;
      };
      if (flags & 8) a = d = f2dot14();
      else if (flags & 0x40) [a, d] = [f2dot14(), f2dot14()];
      else if (flags & 0x80) [a, b, c, d] = [f2dot14(), f2dot14(), f2dot14(), f2dot14()];
      // SCALED_COMPONENT_OFFSET: the offset is in the part's own, scaled space.
      if (flags & 0x800) [dx, dy] = [dx * Math.hypot(a, b), dy * Math.hypot(c, d)];
      const matrix = [
        m[0]! * a + m[2]! * b,
        m[1]! * a + m[3]! * b,
        m[0]! * c + m[2]! * d,
        m[1]! * c + m[3]! * d,
        m[0]! * dx + m[2]! * dy + m[4]!,
        m[1]! * dx + m[3]! * dy + m[5]!,
      ];
      const from = into.length;
      this.collect(part, matrix, into, depth + 1, budget);
      if (!(flags & 2)) alignPoints(into.slice(own), from - own, words ? a1 & 0xffff : a1 & 0xff, words ? a2 & 0xffff : a2 & 0xff);
    } while (flags & 0x20);
  }
}

/** Moves the contours from `from` on so that their point `child` meets the composite's point `parent`. */
function alignPoints(contours: Point[][], from: number, parent: number, child: number): void {
  const all = contours.flat();
  const before = contours.slice(0, from).flat().length;
  const target = all[parent];
  const source = all[before + child];
  if (!target || !source || parent >= before) return;
  const dx = target.x - source.x;
  const dy = target.y - source.y;
  for (const contour of contours.slice(from)) for (const point of contour) [point.x, point.y] = [point.x + dx, point.y + dy];
}

/** TrueType contours may start off the curve; two off-curve points have an on-curve one midway. */
function drawContour(points: Point[], pen: Pen): void {
  const count = points.length;
  let startIndex = points.findIndex((p) => p.on);
  let start: Point;
  if (startIndex >= 0) start = points[startIndex]!;
  else {
    const last = points[count - 1]!;
    const first = points[0]!;
    start = { x: (first.x + last.x) / 2, y: (first.y + last.y) / 2, on: true };
    startIndex = -1;
  }
  pen.moveTo(start.x, start.y);
  let control: Point | null = null;
  for (let i = 1; i <= count; i++) {
    const point = points[(startIndex + i + count) % count]!;
    const isStart = startIndex >= 0 && i === count;
    if (point.on || isStart) {
      if (control) pen.quadTo(control.x, control.y, point.x, point.y);
      else if (!isStart) pen.lineTo(point.x, point.y);
      control = null;
    } else {
      if (control) pen.quadTo(control.x, control.y, (control.x + point.x) / 2, (control.y + point.y) / 2);
      control = point;
    }
  }
  if (control) pen.quadTo(control.x, control.y, start.x, start.y);
  pen.closePath();
}
