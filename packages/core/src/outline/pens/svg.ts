import type { Pen } from '../pen.js';

/** Writes an outline as SVG path data, absolute commands, numbers rounded to `decimals`; y as the outline has it. */
export class SvgPathPen implements Pen {
  path = '';
  private readonly unit: number;
  constructor(decimals = 2) {
    this.unit = 10 ** decimals;
  }
  protected point(x: number, y: number, _onCurve: boolean): string {
    return `${Math.round(x * this.unit) / this.unit} ${Math.round(y * this.unit) / this.unit}`;
  }
  moveTo(x: number, y: number): void {
    this.path += `M${this.point(x, y, true)}`;
  }
  lineTo(x: number, y: number): void {
    this.path += `L${this.point(x, y, true)}`;
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.path += `Q${this.point(cx, cy, false)} ${this.point(x, y, true)}`;
  }
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    this.path += `C${this.point(ax, ay, false)} ${this.point(bx, by, false)} ${this.point(x, y, true)}`;
  }
  closePath(): void {
    this.path += 'Z';
  }
}
