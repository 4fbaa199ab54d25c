import type { Pen } from './pen.js';

/** A closed polygon: x0, y0, x1, y1, ... in font units, y up; the closing side is not repeated. */
export type Polygon = number[];

/** Turns an outline into polygons whose sides stay within `tolerance` font units of the curves. */
export class FlattenPen implements Pen {
  readonly polygons: Polygon[] = [];
  /** Length of all straight sides and of all curves, in font units. */
  straightLength = 0;
  curveLength = 0;
  /** Lines and curves as drawn, before flattening. */
  segments = 0;
  private current: Polygon = [];
  private x = 0;
  private y = 0;

  /** @param mostSteps sides of one curve at most; more cost more, and only matter where curves are measured */
  constructor(
    private readonly tolerance: number,
    private readonly mostSteps = 24,
  ) {}

  moveTo(x: number, y: number): void {
    this.closePath();
    this.current = [x, y];
    this.x = x;
    this.y = y;
  }

  lineTo(x: number, y: number): void {
    this.straightLength += this.to(x, y);
    this.segments++;
  }

  quadTo(cx: number, cy: number, x: number, y: number): void {
    const { x: x0, y: y0 } = this;
    // A quadratic leaves its chord by a quarter of this, and each halving of the step quarters it again.
    const bend = Math.hypot(x0 - 2 * cx + x, y0 - 2 * cy + y);
    const steps = this.stepsFor(bend / 4);
    for (let i = 1; i <= steps; i++) {
      const t = i / steps;
      const s = 1 - t;
      this.curveLength += this.to(s * s * x0 + 2 * s * t * cx + t * t * x, s * s * y0 + 2 * s * t * cy + t * t * y);
    }
    this.segments++;
  }

  cubicTo(c1x: number, c1y: number, c2x: number, c2y: number, x: number, y: number): void {
    const { x: x0, y: y0 } = this;
    const bend = Math.max(Math.hypot(x0 - 2 * c1x + c2x, y0 - 2 * c1y + c2y), Math.hypot(c1x - 2 * c2x + x, c1y - 2 * c2y + y));
    const steps = this.stepsFor(bend * 0.75);
    for (let i = 1; i <= steps; i++) {
      const t = i / steps;
      const s = 1 - t;
      const a = s * s * s;
      const b = 3 * s * s * t;
      const c = 3 * s * t * t;
      const d = t * t * t;
      this.curveLength += this.to(a * x0 + b * c1x + c * c2x + d * x, a * y0 + b * c1y + c * c2y + d * y);
    }
    this.segments++;
  }

  closePath(): void {
    // Two points enclose nothing.
    if (this.current.length >= 6) this.polygons.push(this.current);
    this.current = [];
  }

  private to(x: number, y: number): number {
    const length = Math.hypot(x - this.x, y - this.y);
    this.current.push(x, y);
    this.x = x;
    this.y = y;
    return length;
  }

  private stepsFor(deviation: number): number {
    return Math.max(1, Math.min(this.mostSteps, Math.ceil(Math.sqrt(deviation / this.tolerance))));
  }
}
