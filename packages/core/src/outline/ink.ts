import { FlattenPen, type Polygon } from './flatten.js';
import { drawContour, type Contour } from './pens/contours.js';
import { spansAtX, spansAtY, type Fill, type Spans } from './raster.js';

const LINES = 30;

const polygonsOf = (contours: readonly Contour[], flatness: number): Polygon[] => {
  const pen = new FlattenPen(flatness);
  for (const contour of contours) drawContour(contour, pen);
  pen.closePath();
  return pen.polygons;
};

/** What should be covered: contours under a rule of filling, or two such taken together. */
export type Ink =
  | { contours: readonly Contour[]; fill: Fill }
  | { of: 'intersection' | 'difference'; first: readonly Contour[]; second: readonly Contour[] };

/**
 * Whether two outlines cover the same (by the nonzero rule), looked at along thirty lines each way. Only what is covered in one
 * alone over more than a few times the tolerance both ways counts: sides may have moved by the tolerance.
 * @param tolerance font units
 */
export const sameInk = (a: readonly Contour[], b: readonly Contour[], tolerance: number): boolean =>
  coversInk({ contours: a, fill: 'nonzero' }, b, tolerance);

/** As `sameInk`, of what should be covered and an outline under the nonzero rule. @param tolerance font units */
export function coversInk(wanted: Ink, contours: readonly Contour[], tolerance: number): boolean {
  const flat = (list: readonly Contour[]): Polygon[] => polygonsOf(list, tolerance / 4);
  const got = flat(contours);
  const parts = 'contours' in wanted ? [flat(wanted.contours)] : [flat(wanted.first), flat(wanted.second)];
  if ('contours' in wanted && (parts[0]!.length === 0 || got.length === 0)) return parts[0]!.length === got.length;
  for (const [spans, axis] of [
    [spansAtY, 1],
    [spansAtX, 0],
  ] as const) {
    const expected = (level: number): Spans =>
      'contours' in wanted
        ? spans(parts[0]!, level, wanted.fill)
        : combined(spans(parts[0]!, level), spans(parts[1]!, level), wanted.of === 'intersection' ? (a, b) => a && b : (a, b) => a && !b);
    const inOne = (level: number): number[] => thick(difference(expected(level), spans(got, level)), 3 * tolerance);
    let [least, most] = [Infinity, -Infinity];
    for (const polygon of [...parts.flat(), ...got])
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

/** Two lists of spans taken together. */
function combined(a: Spans, b: Spans, keep: (inA: boolean, inB: boolean) => boolean): Spans {
  const ends = [...a.map((at) => ({ at, first: true })), ...b.map((at) => ({ at, first: false }))].sort((x, y) => x.at - y.at);
  const out: Spans = [];
  let [inA, inB, inside] = [false, false, false];
  for (const { at, first } of ends) {
    if (first) inA = !inA;
    else inB = !inB;
    if (keep(inA, inB) === inside) continue;
    inside = !inside;
    out.push(at);
  }
  return out;
}

/** Spans at least as long as asked for. */
const thick = (spans: readonly number[], least: number): number[] => spans.filter((_, i) => spans[i | 1]! - spans[i & ~1]! >= least);

/** Whether spans of two lists lie over one another for some length. */
function meet(a: readonly number[], b: readonly number[], length: number): boolean {
  for (let i = 0; i < a.length; i += 2)
    for (let k = 0; k < b.length; k += 2) if (Math.min(a[i + 1]!, b[k + 1]!) - Math.max(a[i]!, b[k]!) >= length) return true;
  return false;
}
