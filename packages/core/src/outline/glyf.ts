import type { Loca } from '../sfnt/index.js';
import { FontError, Reader } from '../sfnt/index.js';
import type { Pen } from './pen.js';

const MAX_DEPTH = 8;
const MAX_POINTS = 100_000;

/** Points of a contour as x, y, on (1 or 0), x, y, on, ...: flat, since whole fonts are read point by point. */
type Contour = number[];

/**
 * Draws glyphs of a glyf table, composites included, at the default instance.
 * Source: OpenType specification, glyf and loca.
 */
export class GlyfOutlines {
  private readonly reader: Reader;
  // Room for one glyph's points, used again for the next: most of the time would go into making arrays.
  private flags = new Uint8Array(256);
  private xs = new Int32Array(256);
  private ys = new Int32Array(256);

  constructor(
    glyf: Uint8Array,
    private readonly loca: Loca,
  ) {
    this.reader = new Reader(glyf, 'glyf');
  }

  /** @throws FontError when the glyph is malformed or its components run in a circle. */
  draw(glyph: number, pen: Pen): void {
    const contours: Contour[] = [];
    this.collect(glyph, [1, 0, 0, 1, 0, 0], contours, 0, { points: 0 });
    for (const contour of contours) drawContour(contour, pen);
  }

  private collect(glyph: number, m: readonly number[], into: Contour[], depth: number, budget: { points: number }): void {
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

  private collectSimple(start: number, contourCount: number, m: readonly number[], into: Contour[], budget: { points: number }): void {
    const r = this.reader;
    const count = r.u16(start + 8 + 2 * contourCount) + 1;
    budget.points += count;
    if (budget.points > MAX_POINTS) throw new FontError('bad-table', 'A glyph has more points than any real one.', { table: 'glyf' });
    let at = start + 10 + 2 * contourCount;
    at += 2 + r.u16(at);
    if (count > this.flags.length) {
      this.flags = new Uint8Array(2 * count);
      this.xs = new Int32Array(2 * count);
      this.ys = new Int32Array(2 * count);
    }
    const { flags, xs, ys } = this;
    for (let i = 0; i < count;) {
      const flag = r.u8(at++);
      flags[i++] = flag;
      if (flag & 8) for (let times = r.u8(at++); times > 0 && i < count; times--) flags[i++] = flag;
    }
    at = readCoordinates(r, at, flags, count, 2, 16, xs);
    readCoordinates(r, at, flags, count, 4, 32, ys);
    const m0 = m[0]!;
    const m1 = m[1]!;
    const m2 = m[2]!;
    const m3 = m[3]!;
    const m4 = m[4]!;
    const m5 = m[5]!;
    let first = 0;
    for (let c = 0; c < contourCount; c++) {
      const end = r.u16(start + 10 + 2 * c);
      if (end < first - 1 || end >= count) throw new FontError('bad-table', 'A contour ends before it begins.', { table: 'glyf' });
      const contour: Contour = [];
      for (let i = first; i <= end; i++) {
        const x = xs[i]!;
        const y = ys[i]!;
        contour.push(m0 * x + m2 * y + m4, m1 * x + m3 * y + m5, flags[i]! & 1);
      }
      if (contour.length > 0) into.push(contour);
      first = end + 1;
    }
  }

  private collectParts(start: number, m: readonly number[], into: Contour[], depth: number, budget: { points: number }): void {
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

/** Reads one coordinate of every point, each against the one before. Returns where the next begins. */
function readCoordinates(r: Reader, start: number, flags: Uint8Array, count: number, short: number, same: number, out: Int32Array): number {
  let at = start;
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
  return at;
}

/** Moves the contours from `from` on so that their point `child` meets the composite's point `parent`. */
function alignPoints(contours: Contour[], from: number, parent: number, child: number): void {
  const pointOf = (list: readonly Contour[], n: number): [number, number] | null => {
    for (const c of list) {
      if (3 * n < c.length) return [c[3 * n]!, c[3 * n + 1]!];
      n -= c.length / 3;
    }
    return null;
  };
  const target = pointOf(contours.slice(0, from), parent);
  const source = pointOf(contours.slice(from), child);
  if (!target || !source) return;
  const dx = target[0] - source[0];
  const dy = target[1] - source[1];
  for (const contour of contours.slice(from))
    for (let i = 0; i < contour.length; i += 3) {
      contour[i]! += dx;
      contour[i + 1]! += dy;
    }
}

/** TrueType contours may start off the curve; two off-curve points have an on-curve one midway. */
function drawContour(points: Contour, pen: Pen): void {
  const count = points.length / 3;
  let startIndex = -1;
  for (let i = 0; i < count && startIndex < 0; i++) if (points[3 * i + 2] === 1) startIndex = i;
  let startX: number;
  let startY: number;
  if (startIndex >= 0) {
    startX = points[3 * startIndex]!;
    startY = points[3 * startIndex + 1]!;
  } else {
    const last = 3 * (count - 1);
    startX = (points[0]! + points[last]!) / 2;
    startY = (points[1]! + points[last + 1]!) / 2;
  }
  pen.moveTo(startX, startY);
  let controlled = false;
  let cx = 0;
  let cy = 0;
  for (let i = 1; i <= count; i++) {
    const at = 3 * ((startIndex + i + count) % count);
    const x = points[at]!;
    const y = points[at + 1]!;
    const isStart = startIndex >= 0 && i === count;
    if (points[at + 2] === 1 || isStart) {
      if (controlled) pen.quadTo(cx, cy, x, y);
      else if (!isStart) pen.lineTo(x, y);
      controlled = false;
    } else {
      if (controlled) pen.quadTo(cx, cy, (cx + x) / 2, (cy + y) / 2);
      controlled = true;
      cx = x;
      cy = y;
    }
  }
  if (controlled) pen.quadTo(cx, cy, startX, startY);
  pen.closePath();
}
