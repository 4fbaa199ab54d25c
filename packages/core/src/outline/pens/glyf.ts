import { FontError, type SimpleGlyph } from '../../sfnt/index.js';
import type { Pen } from '../pen.js';

const round = (v: number): number => Math.floor(v + 0.5);

/**
 * Draws a glyph of the glyf table: lines and quadratic curves, rounded to whole units. Points midway between two control
 * points are left out, since readers put them back.
 */
export class GlyfPen implements Pen {
  private readonly ends: number[] = [];
  private readonly xs: number[] = [];
  private readonly ys: number[] = [];
  private readonly on: number[] = [];
  private first = 0;

  private put(x: number, y: number, on: 0 | 1): void {
    this.xs.push(round(x));
    this.ys.push(round(y));
    this.on.push(on);
  }
  moveTo(x: number, y: number): void {
    this.closePath();
    this.first = this.xs.length;
    this.put(x, y, 1);
  }
  lineTo(x: number, y: number): void {
    this.put(x, y, 1);
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.put(cx, cy, 0);
    this.put(x, y, 1);
  }
  /** A control of a curve; between two of them the point on the curve is implied, midway. */
  controlTo(x: number, y: number): void {
    this.put(x, y, 0);
  }
  /** @throws FontError: cubic curves must be made quadratic first */
  cubicTo(): void {
    throw new FontError('unsupported', 'TrueType outlines have no cubic curves.', { table: 'glyf' });
  }
  closePath(): void {
    const { xs, ys, on, first } = this;
    let count = xs.length - first;
    if (count === 0) return;
    // The way back to the start is drawn by itself.
    if (count > 1 && xs[first] === xs[first + count - 1] && ys[first] === ys[first + count - 1] && on[first + count - 1] === 1) {
      for (const list of [xs, ys, on]) list.pop();
      count--;
    }
    if (count < 2) {
      for (const list of [xs, ys, on]) list.length = first;
      return;
    }
    // The first point stays on the curve: some programs want a contour to begin there.
    for (let i = first + count - 1; i > first; i--) {
      const n = xs.length - first;
      const [before, after] = [first + ((i - first + n - 1) % n), first + ((i - first + 1) % n)];
      const between = on[i] === 1 && on[before] === 0 && on[after] === 0 && n > 3;
      if (!between || 2 * xs[i]! !== xs[before]! + xs[after]! || 2 * ys[i]! !== ys[before]! + ys[after]!) continue;
      for (const list of [xs, ys, on]) list.splice(i, 1);
    }
    this.ends.push(xs.length - 1);
    this.first = xs.length;
  }

  /**
   * The glyph; null when nothing was drawn.
   * @throws FontError when a coordinate is beyond what a font can hold
   */
  glyph(): SimpleGlyph | null {
    this.closePath();
    if (this.xs.length === 0) return null;
    let [xMin, yMin, xMax, yMax] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < this.xs.length; i++) {
      xMin = Math.min(xMin, this.xs[i]!);
      xMax = Math.max(xMax, this.xs[i]!);
      yMin = Math.min(yMin, this.ys[i]!);
      yMax = Math.max(yMax, this.ys[i]!);
    }
    if (!(Math.min(xMin, yMin) >= -0x8000 && Math.max(xMax, yMax) <= 0x7fff))
      throw new FontError('does-not-fit', 'A glyph reaches farther than a font can hold.', { table: 'glyf' });
    return {
      kind: 'simple',
      xMin,
      yMin,
      xMax,
      yMax,
      endPtsOfContours: [...this.ends],
      x: Int16Array.from(this.xs),
      y: Int16Array.from(this.ys),
      onCurve: Uint8Array.from(this.on),
      overlap: false,
      instructions: new Uint8Array(0),
    };
  }
}
