/**
 * What stands between outlines and whoever draws them: a converter, a bounds finder and a renderer
 * are all pens. Coordinates are in font units, y up.
 */
export interface Pen {
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  /** Quadratic curve with one control point. */
  quadTo(cx: number, cy: number, x: number, y: number): void;
  /** Cubic curve with two control points. */
  cubicTo(c1x: number, c1y: number, c2x: number, c2y: number, x: number, y: number): void;
  closePath(): void;
}
