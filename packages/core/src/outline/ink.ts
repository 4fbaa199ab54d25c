import { FlattenPen, type Polygon } from './flatten.js';
import { drawContour, type Contour } from './pens/contours.js';
import { spansAtX, spansAtY } from './raster.js';

const LINES = 30;

const polygonsOf = (contours: readonly Contour[], flatness: number): Polygon[] => {
  const pen = new FlattenPen(flatness);
  for (const contour of contours) drawContour(contour, pen);
  pen.closePath();
  return pen.polygons;
};

/**
 * Whether two outlines cover the same (by the nonzero rule), looked at along thirty lines each way. Only what is covered in one
 * alone over more than a few times the tolerance both ways counts: sides may have moved by the tolerance.
 * @param tolerance font units
 */
export function sameInk(a: readonly Contour[], b: readonly Contour[], tolerance: number): boolean {
  const [p, q] = [polygonsOf(a, tolerance / 4), polygonsOf(b, tolerance / 4)];
  if (p.length === 0 || q.length === 0) return p.length === q.length;
  for (const [spans, axis] of [
    [spansAtY, 1],
    [spansAtX, 0],
  ] as const) {
    const inOne = (level: number): number[] => thick(difference(spans(p, level), spans(q, level)), 3 * tolerance);
    let [least, most] = [Infinity, -Infinity];
    for (const polygon of [...p, ...q])
      for (let i = axis; i < polygon.length; i += 2) {
        least = Math.min(least, polygon[i]!);
        most = Math.max(most, polygon[i]!);
      }
    for (let k = 0; k < LINES; k++) {
      // Odd places, so that no line runs along a side that lies on whole units.
      const level = least + ((k + 0.4142) / LINES) * (most - least);
      const here = inOne(level);
      if (here.length === 0) continue;
      if ([-3, 3].some((off) => meet(here, inOne(level + off * tolerance), 3 * tolerance))) return false;
    }
  }
  return true;
}

/** What lies in one list of spans and not in the other. */
function difference(a: readonly number[], b: readonly number[]): number[] {
  return [...a, ...b].sort((x, y) => x - y);
}

/** Spans at least as long as asked for. */
const thick = (spans: readonly number[], least: number): number[] => spans.filter((_, i) => spans[i | 1]! - spans[i & ~1]! >= least);

/** Whether spans of two lists lie over one another for some length. */
function meet(a: readonly number[], b: readonly number[], length: number): boolean {
  for (let i = 0; i < a.length; i += 2)
    for (let k = 0; k < b.length; k += 2) if (Math.min(a[i + 1]!, b[k + 1]!) - Math.max(a[i]!, b[k]!) >= length) return true;
  return false;
}
