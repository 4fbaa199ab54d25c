import type { Loca } from '../sfnt/index.js';
import { FontError, Reader } from '../sfnt/index.js';
import type { Pen } from './pen.js';

const MAX_DEPTH = 8;
const MAX_POINTS = 100_000;

/** Points of one glyph's contours, in font units after every transform. Used again for the next glyph: most of the time would go into making arrays. */
class Points {
  /** x, y of each point. */
  at = new Float64Array(512);
  on = new Uint8Array(256);
  /** Number of points at the end of each contour. */
  ends = new Int32Array(64);
  contours = 0;
  count = 0;

  /** Makes room for that many points more. */
  grow(points: number): void {
    const need = this.count + points;
    if (need <= this.on.length) return;
    const at = new Float64Array(4 * need);
    at.set(this.at);
    this.at = at;
    const on = new Uint8Array(2 * need);
    on.set(this.on);
    this.on = on;
  }

  /** Ends a contour here, unless it is empty. */
  end(): void {
    if (this.count === this.startOf(this.contours)) return;
    if (this.contours === this.ends.length) {
      const ends = new Int32Array(2 * this.contours);
      ends.set(this.ends);
      this.ends = ends;
    }
    this.ends[this.contours++] = this.count;
  }

  startOf(contour: number): number {
    return contour === 0 ? 0 : this.ends[contour - 1]!;
  }
}

const IDENTITY = [1, 0, 0, 1, 0, 0];

/**
 * Draws glyphs of a glyf table, composites included, at the default instance.
 * Source: OpenType specification, glyf and loca.
 */
export class GlyfOutlines {
  private readonly reader: Reader;
  /** Null while a glyph is drawn, so that a pen which draws another one meanwhile gets room of its own. */
  private spare: Points | null = new Points();
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
    const points = this.spare ?? new Points();
    this.spare = null;
    points.count = points.contours = 0;
    try {
      this.collect(glyph, IDENTITY, points, 0, { points: 0 });
      for (let c = 0; c < points.contours; c++) drawContour(points, points.startOf(c), points.ends[c]!, pen);
    } finally {
      this.spare = points;
    }
  }

  private collect(glyph: number, m: readonly number[], into: Points, depth: number, budget: { points: number }): void {
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

  private collectSimple(start: number, contourCount: number, m: readonly number[], into: Points, budget: { points: number }): void {
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
    into.grow(count);
    let first = 0;
    for (let c = 0; c < contourCount; c++) {
      const end = r.u16(start + 10 + 2 * c);
      if (end < first - 1 || end >= count) throw new FontError('bad-table', 'A contour ends before it begins.', { table: 'glyf' });
      for (let i = first; i <= end; i++) {
        const x = xs[i]!;
        const y = ys[i]!;
        const n = into.count++;
        into.at[2 * n] = m0 * x + m2 * y + m4;
        into.at[2 * n + 1] = m1 * x + m3 * y + m5;
        into.on[n] = flags[i]! & 1;
      }
      into.end();
      first = end + 1;
    }
  }

  private collectParts(start: number, m: readonly number[], into: Points, depth: number, budget: { points: number }): void {
    const r = this.reader;
    let at = start;
    let flags: number;
    // Points are numbered from the first point of this composite, not of whatever contains it.
    const own = into.count;
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
      const from = into.count;
      this.collect(part, matrix, into, depth + 1, budget);
      if (!(flags & 2)) alignPoints(into, own, from, words ? a1 & 0xffff : a1 & 0xff, words ? a2 & 0xffff : a2 & 0xff);
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

/** Moves the points from `from` on so that their point `child` meets point `parent` of the composite, which begins at `own`. */
function alignPoints(points: Points, own: number, from: number, parent: number, child: number): void {
  const { at, count } = points;
  if (own + parent >= from || from + child >= count) return;
  const dx = at[2 * (own + parent)]! - at[2 * (from + child)]!;
  const dy = at[2 * (own + parent) + 1]! - at[2 * (from + child) + 1]!;
  for (let i = from; i < count; i++) {
    at[2 * i]! += dx;
    at[2 * i + 1]! += dy;
  }
}

/** TrueType contours may start off the curve; two off-curve points have an on-curve one midway. */
function drawContour({ at, on }: Points, first: number, end: number, pen: Pen): void {
  const count = end - first;
  let startIndex = -1;
  for (let i = 0; i < count && startIndex < 0; i++) if (on[first + i] === 1) startIndex = i;
  let startX: number;
  let startY: number;
  if (startIndex >= 0) {
    startX = at[2 * (first + startIndex)]!;
    startY = at[2 * (first + startIndex) + 1]!;
  } else {
    const last = end - 1;
    startX = (at[2 * first]! + at[2 * last]!) / 2;
    startY = (at[2 * first + 1]! + at[2 * last + 1]!) / 2;
  }
  pen.moveTo(startX, startY);
  let controlled = false;
  let cx = 0;
  let cy = 0;
  for (let i = 1; i <= count; i++) {
    let n = startIndex + i;
    if (n >= count) n -= count;
    n += first;
    const x = at[2 * n]!;
    const y = at[2 * n + 1]!;
    const isStart = startIndex >= 0 && i === count;
    if (on[n] === 1 || isStart) {
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
