import type { Pen } from '../pen.js';

/** √3/36: the farthest a cubic is from the quadratic with the same ends and the middle control point. */
const BOUND = Math.sqrt(3) / 36;
/** More pieces than any curve of a real letter needs. */
const MOST_PIECES = 64;

/**
 * Passes an outline on with quadratic curves only. A cubic is split into pieces of equal parameter, each replaced by the
 * quadratic whose control point is (3 c1 + 3 c2 - p0 - p3) / 4; the number of pieces is the least for which the known bound
 * on the deviation, √3/36 |p3 - 3 c2 + 3 c1 - p0| / n³, is within the tolerance.
 * Source: the mid-point approximation of Bézier curves (Sederberg, Computer Aided Geometric Design, chapter on degree reduction).
 */
export class QuadraticPen implements Pen {
  private x = 0;
  private y = 0;

  /** @param tolerance font units */
  constructor(
    private readonly out: Pen,
    private readonly tolerance: number,
  ) {}

  moveTo(x: number, y: number): void {
    this.at(x, y);
    this.out.moveTo(x, y);
  }
  lineTo(x: number, y: number): void {
    this.at(x, y);
    this.out.lineTo(x, y);
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.at(x, y);
    this.out.quadTo(cx, cy, x, y);
  }
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    const { x: x0, y: y0 } = this;
    const bend = BOUND * Math.hypot(x - 3 * bx + 3 * ax - x0, y - 3 * by + 3 * ay - y0);
    const pieces = Math.min(MOST_PIECES, Math.max(1, Math.ceil(Math.cbrt(bend / this.tolerance) - 1e-9)));
    const point = (t: number): [number, number] => {
      const s = 1 - t;
      const [k0, k1, k2, k3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
      return [k0 * x0 + k1 * ax + k2 * bx + k3 * x, k0 * y0 + k1 * ay + k2 * by + k3 * y];
    };
    const slope = (t: number): [number, number] => {
      const s = 1 - t;
      const [k0, k1, k2] = [3 * s * s, 6 * s * t, 3 * t * t];
      return [k0 * (ax - x0) + k1 * (bx - ax) + k2 * (x - bx), k0 * (ay - y0) + k1 * (by - ay) + k2 * (y - by)];
    };
    let [fx, fy] = [x0, y0];
    for (let i = 0; i < pieces; i++) {
      const [t0, t1] = [i / pieces, (i + 1) / pieces];
      const [ux, uy] = slope(t0);
      const [vx, vy] = slope(t1);
      const [tx, ty] = i + 1 === pieces ? [x, y] : point(t1);
      // Controls of the piece are its ends plus and minus a third of the slopes there, so the formula comes to this.
      const step = (t1 - t0) / 4;
      this.out.quadTo((fx + tx) / 2 + step * (ux - vx), (fy + ty) / 2 + step * (uy - vy), tx, ty);
      [fx, fy] = [tx, ty];
    }
    this.at(x, y);
  }
  closePath(): void {
    this.out.closePath();
  }
  private at(x: number, y: number): void {
    this.x = x;
    this.y = y;
  }
}
