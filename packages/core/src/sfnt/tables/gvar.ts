import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import type { Table } from '../declare/index.js';
import { GLYF, type Glyph } from './glyf.js';

/** How the points of a glyph move in one region of the design space. */
export interface TupleVariation {
  /** Per axis, -1 to 1. */
  peak: number[];
  /** Where the change begins and ends, when not from 0 to the peak or beyond. */
  intermediate: { start: number[]; end: number[] } | null;
  /** Points that are moved, the four phantom points last; null for all. Others follow by interpolation. */
  points: number[] | null;
  /** Font units, one a moved point. */
  xDeltas: number[];
  yDeltas: number[];
}

/** Source: OpenType specification, gvar. */
export interface Gvar {
  majorVersion: number;
  minorVersion: number;
  axisCount: number;
  /** One list a glyph. */
  glyphs: TupleVariation[][];
}

const SHARED_POINT_NUMBERS = 0x8000;
const EMBEDDED_PEAK_TUPLE = 0x8000;
const INTERMEDIATE_REGION = 0x4000;
const PRIVATE_POINT_NUMBERS = 0x2000;
const COUNT_MASK = 0x0fff;

/** Points a glyph has for gvar: those of its outline, or one a component, and four phantom points. */
export function variedPoints(glyph: Glyph): number {
  if (!glyph) return 4;
  return (glyph.kind === 'simple' ? glyph.x.length : glyph.components.length) + 4;
}

export const GVAR: Table<Gvar> = {
  tag: 'gvar',
  read(data, tables) {
    const r = new Reader(data, 'gvar');
    const axisCount = r.u16(4);
    const sharedCount = r.u16(6);
    const sharedAt = r.u32(8);
    const glyphCount = r.u16(12);
    const long = (r.u16(14) & 1) !== 0;
    const dataAt = r.u32(16);
    r.need(sharedAt, 2 * axisCount * sharedCount);
    const outlines = tables.need(GLYF);
    const tuple = (at: number): number[] => Array.from({ length: axisCount }, (_, i) => r.i16(at + 2 * i) / 16384);
    const shared = Array.from({ length: sharedCount }, (_, i) => tuple(sharedAt + 2 * axisCount * i));
    const offset = (i: number): number => (long ? r.u32(20 + 4 * i) : 2 * r.u16(20 + 2 * i));
    const glyphs = Array.from({ length: glyphCount }, (_, id) => {
      const start = dataAt + offset(id);
      const end = dataAt + offset(id + 1);
      if (end <= start) return [];
      return readGlyphVariations(new Reader(r.slice(start, end - start), 'gvar'), axisCount, shared, variedPoints(outlines[id] ?? null));
    });
    return { majorVersion: r.u16(0), minorVersion: r.u16(2), axisCount, glyphs };
  },
  write({ majorVersion, minorVersion, axisCount, glyphs }) {
    // Peaks that several glyphs have are named by number.
    const uses = new Map<string, { peak: number[]; count: number }>();
    for (const { peak } of glyphs.flat()) {
      const known = uses.get(peak.join());
      if (known) known.count++;
      else uses.set(peak.join(), { peak, count: 1 });
    }
    const shared = [...uses]
      .filter(([, u]) => u.count > 1)
      .sort((a, b) => b[1].count - a[1].count)
      .slice(0, COUNT_MASK + 1);
    const index = new Map(shared.map(([key], i) => [key, i]));
    const parts = glyphs.map((list) => (list.length === 0 ? new Uint8Array(0) : writeGlyphVariations(list, index)));
    const total = parts.reduce((sum, p) => sum + p.length + (p.length & 1), 0);
    const long = total > 0x1fffe;
    const w = new Writer(total + 64);
    const offsetsLength = (long ? 4 : 2) * (glyphs.length + 1);
    w.u16(majorVersion);
    w.u16(minorVersion);
    w.u16(axisCount);
    w.u16(shared.length);
    w.u32(20 + offsetsLength);
    w.u16(glyphs.length);
    w.u16(long ? 1 : 0);
    w.u32(20 + offsetsLength + 2 * axisCount * shared.length);
    let at = 0;
    for (let i = 0; i <= parts.length; i++) {
      if (long) w.u32(at);
      else w.u16(at / 2);
      if (i < parts.length) at += parts[i]!.length + (parts[i]!.length & 1);
    }
    for (const [, { peak }] of shared) putTuple(w, peak);
    for (const part of parts) {
      w.put(part);
      if (part.length & 1) w.u8(0);
    }
    return w.done();
  },
};

function putTuple(w: Writer, tuple: readonly number[]): void {
  for (const v of tuple) w.u16(Math.round(v * 16384) & 0xffff);
}

function readGlyphVariations(r: Reader, axisCount: number, shared: readonly number[][], pointCount: number): TupleVariation[] {
  const stated = r.u16(0);
  let at = r.u16(2);
  let common: number[] | null = null;
  if (stated & SHARED_POINT_NUMBERS) ({ points: common, at } = readPoints(r, at, pointCount));
  let header = 4;
  const tuple = (): number[] => {
    header += 2 * axisCount;
    return Array.from({ length: axisCount }, (_, i) => r.i16(header - 2 * axisCount + 2 * i) / 16384);
  };
  return Array.from({ length: stated & COUNT_MASK }, () => {
    const size = r.u16(header);
    const index = r.u16(header + 2);
    header += 4;
    const peak = index & EMBEDDED_PEAK_TUPLE ? tuple() : shared[index & COUNT_MASK];
    if (!peak) throw new FontError('bad-table', 'A variation of the gvar table has no place on the axes.', { table: 'gvar' });
    const intermediate = index & INTERMEDIATE_REGION ? { start: tuple(), end: tuple() } : null;
    let where = at;
    let points = common;
    if (index & PRIVATE_POINT_NUMBERS) ({ points, at: where } = readPoints(r, where, pointCount));
    const count = points?.length ?? pointCount;
    const x = readDeltas(r, where, count);
    const y = readDeltas(r, x.at, count);
    at += size;
    return { peak, intermediate, points, xDeltas: x.deltas, yDeltas: y.deltas };
  });
}

/**
 * Packed point numbers; null for all points.
 * @throws FontError when it is damaged or does not fit
 */
function readPoints(r: Reader, start: number, pointCount: number): { points: number[] | null; at: number } {
  let at = start;
  let count = r.u8(at++);
  if (count & 0x80) count = ((count & 0x7f) << 8) | r.u8(at++);
  if (count === 0) return { points: null, at };
  const points: number[] = [];
  let point = 0;
  while (points.length < count) {
    const control = r.u8(at++);
    const wide = (control & 0x80) !== 0;
    for (let i = 0; i <= (control & 0x7f) && points.length < count; i++) {
      point += wide ? r.u16(at) : r.u8(at);
      at += wide ? 2 : 1;
      if (point >= pointCount)
        throw new FontError('bad-table', 'A variation moves a point that its glyph does not have.', { table: 'gvar' });
      points.push(point);
    }
  }
  return { points, at };
}

function readDeltas(r: Reader, start: number, count: number): { deltas: number[]; at: number } {
  let at = start;
  const deltas: number[] = [];
  while (deltas.length < count) {
    const control = r.u8(at++);
    const run = (control & 0x3f) + 1;
    for (let i = 0; i < run && deltas.length < count; i++) {
      if (control & 0x80) deltas.push(0);
      else if (control & 0x40) {
        deltas.push(r.i16(at));
        at += 2;
      } else deltas.push((r.u8(at++) << 24) >> 24);
    }
  }
  return { deltas, at };
}

function writeGlyphVariations(list: readonly TupleVariation[], shared: ReadonlyMap<string, number>): Uint8Array {
  // The set of points that most of them move stands once.
  const counts = new Map<string, number>();
  const keyOf = (points: readonly number[] | null): string => points?.join() ?? 'all';
  for (const { points } of list) counts.set(keyOf(points), (counts.get(keyOf(points)) ?? 0) + 1);
  const [common, times] = [...counts].sort((a, b) => b[1] - a[1])[0]!;
  const useCommon = times > 1;
  const body = new Writer();
  if (useCommon) putPoints(body, list.find((t) => keyOf(t.points) === common)!.points);
  const head = new Writer();
  for (const { peak, intermediate, points, xDeltas, yDeltas } of list) {
    const before = body.length;
    const own = !useCommon || keyOf(points) !== common;
    if (own) putPoints(body, points);
    putDeltas(body, xDeltas);
    putDeltas(body, yDeltas);
    const known = shared.get(peak.join());
    if (body.length - before > 0xffff)
      throw new FontError('does-not-fit', 'A glyph varies in more points than the gvar table can hold.', { table: 'gvar' });
    head.u16(body.length - before);
    head.u16((known ?? EMBEDDED_PEAK_TUPLE) | (intermediate ? INTERMEDIATE_REGION : 0) | (own ? PRIVATE_POINT_NUMBERS : 0));
    if (known === undefined) putTuple(head, peak);
    if (intermediate) {
      putTuple(head, intermediate.start);
      putTuple(head, intermediate.end);
    }
  }
  if (4 + head.length > 0xffff || list.length > COUNT_MASK)
    throw new FontError('does-not-fit', 'A glyph varies in more regions than the gvar table can hold.', { table: 'gvar' });
  const w = new Writer(4 + head.length + body.length);
  w.u16(list.length | (useCommon ? SHARED_POINT_NUMBERS : 0));
  w.u16(4 + head.length);
  w.put(head.done());
  w.put(body.done());
  return w.done();
}

function putPoints(w: Writer, points: readonly number[] | null): void {
  if (!points) return w.u8(0);
  if (points.length < 0x80) w.u8(points.length);
  else w.u16(0x8000 | points.length);
  for (let i = 0, last = 0; i < points.length;) {
    const wide = points[i]! - last > 0xff;
    let run = 1;
    while (i + run < points.length && run < 0x80 && points[i + run]! - points[i + run - 1]! > 0xff === wide) run++;
    w.u8((wide ? 0x80 : 0) | (run - 1));
    for (const end = i + run; i < end; i++) {
      if (wide) w.u16(points[i]! - last);
      else w.u8(points[i]! - last);
      last = points[i]!;
    }
  }
}

const widthOf = (delta: number): 0 | 1 | 2 => (delta === 0 ? 0 : delta >= -128 && delta <= 127 ? 1 : 2);

function putDeltas(w: Writer, deltas: readonly number[]): void {
  for (let i = 0; i < deltas.length;) {
    const width = widthOf(deltas[i]!);
    let run = 1;
    while (i + run < deltas.length && run < 64) {
      const next = widthOf(deltas[i + run]!);
      // A single zero within bytes, or a single byte within words, costs less than a new run.
      const single = i + run + 1 >= deltas.length || widthOf(deltas[i + run + 1]!) === width;
      if (next !== width && !(next < width && width > 0 && next === width - 1 && single)) break;
      run++;
    }
    w.u8((width === 0 ? 0x80 : width === 2 ? 0x40 : 0) | (run - 1));
    for (const end = i + run; i < end; i++) {
      const delta = deltas[i]!;
      if (!(delta >= -0x8000 && delta <= 0x7fff))
        throw new FontError('does-not-fit', 'A point moves farther than the gvar table can hold.', { table: 'gvar' });
      if (width === 2) w.u16(delta & 0xffff);
      else if (width === 1) w.u8(delta & 0xff);
    }
  }
}
