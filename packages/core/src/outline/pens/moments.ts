import type { Pen } from '../pen.js';

// Gauss-Legendre nodes and weights on 0 to 1, six points: exact for polynomials up to degree 11, which second moments of
// cubic curves have. Source: Abramowitz and Stegun, Handbook of Mathematical Functions, table 25.4.
const X = [0.2386191860831969, 0.6612093864662645, 0.9324695142031521];
const W = [0.467913934572691, 0.3607615730481386, 0.1713244923791704];
const NODES = X.flatMap((x, i) => [
  [(1 - x) / 2, W[i]! / 2],
  [(1 + x) / 2, W[i]! / 2],
]) as [t: number, w: number][];

/** Runs an integrand along an outline: called with a point, the derivative there and the weight. */
abstract class IntegralPen implements Pen {
  private startX = 0;
  private startY = 0;
  private px = 0;
  private py = 0;
  private open = false;

  protected abstract add(x: number, y: number, dx: number, dy: number, weight: number): void;

  moveTo(x: number, y: number): void {
    this.closePath();
    this.startX = this.px = x;
    this.startY = this.py = y;
    this.open = true;
  }
  lineTo(x: number, y: number): void {
    const [dx, dy] = [x - this.px, y - this.py];
    for (const [t, w] of NODES) this.add(this.px + dx * t, this.py + dy * t, dx, dy, w);
    this.px = x;
    this.py = y;
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    const { px, py } = this;
    for (const [t, w] of NODES) {
      const s = 1 - t;
      this.add(
        s * s * px + 2 * s * t * cx + t * t * x,
        s * s * py + 2 * s * t * cy + t * t * y,
        2 * (s * (cx - px) + t * (x - cx)),
        2 * (s * (cy - py) + t * (y - cy)),
        w,
      );
    }
    this.px = x;
    this.py = y;
  }
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    const { px, py } = this;
    for (const [t, w] of NODES) {
      const s = 1 - t;
      this.add(
        s * s * s * px + 3 * s * s * t * ax + 3 * s * t * t * bx + t * t * t * x,
        s * s * s * py + 3 * s * s * t * ay + 3 * s * t * t * by + t * t * t * y,
        3 * (s * s * (ax - px) + 2 * s * t * (bx - ax) + t * t * (x - bx)),
        3 * (s * s * (ay - py) + 2 * s * t * (by - ay) + t * t * (y - by)),
        w,
      );
    }
    this.px = x;
    this.py = y;
  }
  closePath(): void {
    if (this.open && (this.px !== this.startX || this.py !== this.startY)) this.lineTo(this.startX, this.startY);
    this.open = false;
  }
}

/** Signed area in square font units, by Green's theorem; positive for counter-clockwise contours (y up). */
export class AreaPen extends IntegralPen {
  area = 0;
  protected add(x: number, y: number, dx: number, dy: number, weight: number): void {
    this.area += (weight * (x * dy - y * dx)) / 2;
  }
}

/**
 * Moments of the area an outline encloses, by Green's theorem, in font units. Overlaps count twice and contours that run
 * the other way are taken off, as the non-zero rule would not do.
 */
export class StatisticsPen extends IntegralPen {
  area = 0;
  private mx = 0;
  private my = 0;
  private mxx = 0;
  private myy = 0;
  private mxy = 0;
  protected add(x: number, y: number, dx: number, dy: number, w: number): void {
    this.area += w * x * dy;
    this.mx += (w * x * x * dy) / 2;
    this.my += -(w * y * y * dx) / 2;
    this.mxx += (w * x * x * x * dy) / 3;
    this.myy += -(w * y * y * y * dx) / 3;
    this.mxy += (w * x * x * y * dy) / 2;
  }
  /** Center of gravity. */
  get meanX(): number {
    return this.area === 0 ? 0 : this.mx / this.area;
  }
  get meanY(): number {
    return this.area === 0 ? 0 : this.my / this.area;
  }
  get varianceX(): number {
    return this.area === 0 ? 0 : Math.max(0, this.mxx / this.area - this.meanX ** 2);
  }
  get varianceY(): number {
    return this.area === 0 ? 0 : Math.max(0, this.myy / this.area - this.meanY ** 2);
  }
  get covariance(): number {
    return this.area === 0 ? 0 : this.mxy / this.area - this.meanX * this.meanY;
  }
  /** Tangent of the lean of the shape as a whole: how far it moves to the right a unit upwards. */
  get slant(): number {
    return this.varianceY === 0 ? 0 : this.covariance / this.varianceY;
  }
}
