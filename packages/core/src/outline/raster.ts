import type { Bounds } from './bounds.js';
import type { Polygon } from './flatten.js';

/**
 * How much of each cell of a grid the polygons cover, 0 to 1, row by row from the bottom. Overlapping contours of the
 * same direction count once; a hole runs against its contour, as both outline formats ask.
 * The box must be as wide as what is drawn; above and below it may be a part of it.
 * Exact signed areas accumulated along scan lines, as in R. Levien's description of font rasterizing (2016).
 */
export function rasterize(polygons: readonly Polygon[], box: Bounds, columns: number, rows: number): Float32Array {
  const width = columns + 1;
  const sums = new Float64Array(width * rows + 1);
  const sx = columns / (box.xMax - box.xMin || 1);
  const sy = rows / (box.yMax - box.yMin || 1);
  const clampX = (x: number): number => Math.min(columns, Math.max(0, (x - box.xMin) * sx));
  for (const p of polygons) {
    let x0 = clampX(p[p.length - 2]!);
    let y0 = (p[p.length - 1]! - box.yMin) * sy;
    for (let i = 0; i < p.length; i += 2) {
      const x1 = clampX(p[i]!);
      const y1 = (p[i + 1]! - box.yMin) * sy;
      const [a, b] = [Math.min(rows, Math.max(0, y0)), Math.min(rows, Math.max(0, y1))];
      // A side that leaves the box above or below is cut there.
      if (a !== b) {
        const slope = (x1 - x0) / (y1 - y0);
        addSide(sums, width, rows, x0 + (a - y0) * slope, a, x0 + (b - y0) * slope, b);
      }
      x0 = x1;
      y0 = y1;
    }
  }
  const out = new Float32Array(columns * rows);
  for (let row = 0; row < rows; row++) {
    let sum = 0;
    for (let column = 0; column < columns; column++) {
      sum += sums[row * width + column]!;
      out[row * columns + column] = Math.min(1, Math.abs(sum));
    }
  }
  return out;
}

function addSide(sums: Float64Array, width: number, rows: number, x0: number, y0: number, x1: number, y1: number): void {
  const direction = y0 < y1 ? 1 : -1;
  const [ax, ay, bx, by] = y0 < y1 ? [x0, y0, x1, y1] : [x1, y1, x0, y0];
  const slope = (bx - ax) / (by - ay);
  let x = ax;
  for (let row = Math.floor(ay); row < Math.min(rows, Math.ceil(by)); row++) {
    const top = Math.min(row + 1, by);
    const bottom = Math.max(row, ay);
    const height = top - bottom;
    const next = x + height * slope;
    const area = height * direction;
    const [left, right] = x < next ? [x, next] : [next, x];
    const first = Math.floor(left);
    const last = Math.ceil(right);
    const base = row * width;
    if (last <= first + 1) {
      const middle = (left + right) / 2 - first;
      sums[base + first]! += area * (1 - middle);
      if (first + 1 < width) sums[base + first + 1]! += area * middle;
    } else {
      // The side crosses several cells of this row: each gets the share of area to its right.
      const inverse = 1 / (right - left);
      const start = 1 - (left - first);
      const begin = 0.5 * inverse * start * start;
      const rest = right - last + 1;
      const end = 0.5 * inverse * rest * rest;
      sums[base + first]! += area * begin;
      if (last === first + 2) sums[base + first + 1]! += area * (1 - begin - end);
      else {
        const second = inverse * (1.5 - (left - first));
        sums[base + first + 1]! += area * (second - begin);
        for (let cell = first + 2; cell < last - 1; cell++) sums[base + cell]! += area * inverse;
        const before = second + (last - first - 3) * inverse;
        sums[base + last - 1]! += area * (1 - before - end);
      }
      if (last < width) sums[base + last]! += area * end;
    }
    x = next;
  }
}

/** Where a line across the outline is inside it: [from, to, from, to, ...] in ascending order. */
export type Spans = number[];

/** Which rule says what is inside. Source: SVG 2, 13.4.2, fill-rule. */
export type Fill = 'nonzero' | 'evenodd';

/** Spans of ink along the horizontal at `y`. */
export const spansAtY = (polygons: readonly Polygon[], y: number, fill: Fill = 'nonzero'): Spans => spans(polygons, y, 1, 0, fill);

/** Spans of ink along the vertical at `x`. */
export const spansAtX = (polygons: readonly Polygon[], x: number, fill: Fill = 'nonzero'): Spans => spans(polygons, x, 0, 1, fill);

function spans(polygons: readonly Polygon[], level: number, across: 0 | 1, along: 0 | 1, fill: Fill): Spans {
  const at: number[] = [];
  const directions: number[] = [];
  for (const p of polygons) {
    let a0 = p[p.length - 2 + across]!;
    let b0 = p[p.length - 2 + along]!;
    for (let i = 0; i < p.length; i += 2) {
      const a1 = p[i + across]!;
      const b1 = p[i + along]!;
      if (a0 <= level !== a1 <= level) {
        const here = b0 + ((level - a0) / (a1 - a0)) * (b1 - b0);
        at.push(here);
        directions.push(a0 < a1 ? 1 : -1);
      }
      a0 = a1;
      b0 = b1;
    }
  }
  sortTogether(at, directions);
  const out: Spans = [];
  let winding = 0;
  for (let k = 0; k < at.length; k++) {
    const before = winding;
    winding = fill === 'nonzero' ? winding + directions[k]! : 1 - winding;
    if (before === 0 ? winding !== 0 : winding === 0) out.push(at[k]!);
  }
  return out;
}

/** Sorts the first list, and the second along with it. Most lines cross few sides, which are put in order in place. */
function sortTogether(at: number[], directions: number[]): void {
  if (at.length > 24) {
    const order = at.map((_, i) => i).sort((i, k) => at[i]! - at[k]!);
    const [a, d] = [order.map((i) => at[i]!), order.map((i) => directions[i]!)];
    for (let i = 0; i < a.length; i++) [at[i], directions[i]] = [a[i]!, d[i]!];
    return;
  }
  for (let i = 1; i < at.length; i++) {
    const [x, d] = [at[i]!, directions[i]!];
    let k = i;
    for (; k > 0 && at[k - 1]! > x; k--) [at[k], directions[k]] = [at[k - 1]!, directions[k - 1]!];
    [at[k], directions[k]] = [x, d];
  }
}
