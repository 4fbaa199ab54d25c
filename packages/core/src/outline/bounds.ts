import type { Pen } from './pen.js';

/** Tight bounds of an outline in font units. */
export interface Bounds {
  xMin: number;
  yMin: number;
  xMax: number;
  yMax: number;
}

/** Finds the tight bounds: curves count to their extremes, not to their control points. */
export class BoundsPen implements Pen {
  private box: Bounds | null = null;
  private x = 0;
  private y = 0;

  /** Null when nothing was drawn. */
  get bounds(): Bounds | null {
    return this.box;
  }

  private take(x: number, y: number): void {
    if (!this.box) this.box = { xMin: x, yMin: y, xMax: x, yMax: y };
    else {
      this.box.xMin = Math.min(this.box.xMin, x);
      this.box.yMin = Math.min(this.box.yMin, y);
      this.box.xMax = Math.max(this.box.xMax, x);
      this.box.yMax = Math.max(this.box.yMax, y);
    }
  }

  private at(x: number, y: number): void {
    this.take(x, y);
    this.x = x;
    this.y = y;
  }

  moveTo(x: number, y: number): void {
    // A lone move draws nothing, so the point only counts once something follows.
    this.x = x;
    this.y = y;
  }

  lineTo(x: number, y: number): void {
    this.take(this.x, this.y);
    this.at(x, y);
  }

  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.take(this.x, this.y);
    for (const t of [quadExtreme(this.x, cx, x), quadExtreme(this.y, cy, y)])
      if (t !== null) this.take(quadAt(this.x, cx, x, t), quadAt(this.y, cy, y, t));
    this.at(x, y);
  }

  cubicTo(c1x: number, c1y: number, c2x: number, c2y: number, x: number, y: number): void {
    this.take(this.x, this.y);
    for (const t of [...cubicExtremes(this.x, c1x, c2x, x), ...cubicExtremes(this.y, c1y, c2y, y)])
      this.take(cubicAt(this.x, c1x, c2x, x, t), cubicAt(this.y, c1y, c2y, y, t));
    this.at(x, y);
  }

  closePath(): void {
    // The closing line adds no new extreme.
  }
}

function quadExtreme(a: number, b: number, c: number): number | null {
  const d = a - 2 * b + c;
  const t = d === 0 ? -1 : (a - b) / d;
  return t > 0 && t < 1 ? t : null;
}

function quadAt(a: number, b: number, c: number, t: number): number {
  const s = 1 - t;
  return s * s * a + 2 * s * t * b + t * t * c;
}

function cubicExtremes(a: number, b: number, c: number, d: number): number[] {
  const k2 = -a + 3 * b - 3 * c + d;
  const k1 = a - 2 * b + c;
  const k0 = b - a;
  if (Math.abs(k2) < 1e-9) return [-k0 / (2 * k1)].filter((t) => t > 0 && t < 1);
  const root = Math.sqrt(k1 * k1 - k2 * k0);
  return [(-k1 + root) / k2, (-k1 - root) / k2].filter((t) => t > 0 && t < 1);
}

function cubicAt(a: number, b: number, c: number, d: number, t: number): number {
  const s = 1 - t;
  return s * s * s * a + 3 * s * s * t * b + 3 * s * t * t * c + t * t * t * d;
}
