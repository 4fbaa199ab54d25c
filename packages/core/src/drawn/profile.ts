import { BoundsPen, drawContour, FlattenPen, spansAtY, type Bounds, type Contour, type Polygon } from '../outline/index.js';

/** Outlines that are measured: thousandths of the em, y up. */
export interface Shape {
  polygons: readonly Polygon[];
  box: Bounds;
}

/** Null for what has no ink. */
export function shapeOf(contours: readonly Contour[]): Shape | null {
  const flat = new FlattenPen(0.5);
  const bounds = new BoundsPen();
  for (const contour of contours) {
    drawContour(contour, flat);
    drawContour(contour, bounds);
  }
  flat.closePath();
  return bounds.bounds ? { polygons: flat.polygons, box: bounds.bounds } : null;
}

/** Where ink begins and ends at even heights: NaN where there is none. */
export interface Edges {
  first: Float64Array;
  last: Float64Array;
}

/** The outer edges of a shape, looked at every `step` from `bottom` up to `top`. */
export function edgesOf({ polygons }: Shape, bottom: number, top: number, step: number): Edges {
  const rows = Math.max(1, Math.floor((top - bottom) / step));
  const first = new Float64Array(rows).fill(NaN);
  const last = new Float64Array(rows).fill(NaN);
  for (let i = 0; i < rows; i++) {
    const spans = spansAtY(polygons, bottom + (i + 0.5) * step);
    if (spans.length < 2) continue;
    first[i] = spans[0]!;
    last[i] = spans[spans.length - 1]!;
  }
  return { first, last };
}
