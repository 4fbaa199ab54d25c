import type { Pen } from '../pen.js';

/** xx, xy, yx, yy, dx, dy: a point (x, y) goes to (xx x + yx y + dx, xy x + yy y + dy), as in PostScript and SVG. */
export type Matrix = readonly [xx: number, xy: number, yx: number, yy: number, dx: number, dy: number];

/** Passes an outline on, each point sent through a matrix. */
export class TransformPen implements Pen {
  constructor(
    private readonly m: Matrix,
    private readonly out: Pen,
  ) {}
  private x(x: number, y: number): number {
    return this.m[0] * x + this.m[2] * y + this.m[4];
  }
  private y(x: number, y: number): number {
    return this.m[1] * x + this.m[3] * y + this.m[5];
  }
  moveTo(x: number, y: number): void {
    this.out.moveTo(this.x(x, y), this.y(x, y));
  }
  lineTo(x: number, y: number): void {
    this.out.lineTo(this.x(x, y), this.y(x, y));
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.out.quadTo(this.x(cx, cy), this.y(cx, cy), this.x(x, y), this.y(x, y));
  }
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    this.out.cubicTo(this.x(ax, ay), this.y(ax, ay), this.x(bx, by), this.y(bx, by), this.x(x, y), this.y(x, y));
  }
  closePath(): void {
    this.out.closePath();
  }
}

/** Passes an outline on with every coordinate a multiple of `step` font units. */
export class RoundingPen implements Pen {
  constructor(
    private readonly out: Pen,
    private readonly step = 1,
  ) {}
  private r(v: number): number {
    // Halves go up, for negative numbers too, as fontTools rounds.
    return Math.floor(v / this.step + 0.5) * this.step;
  }
  moveTo(x: number, y: number): void {
    this.out.moveTo(this.r(x), this.r(y));
  }
  lineTo(x: number, y: number): void {
    this.out.lineTo(this.r(x), this.r(y));
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.out.quadTo(this.r(cx), this.r(cy), this.r(x), this.r(y));
  }
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    this.out.cubicTo(this.r(ax), this.r(ay), this.r(bx), this.r(by), this.r(x), this.r(y));
  }
  closePath(): void {
    this.out.closePath();
  }
}
