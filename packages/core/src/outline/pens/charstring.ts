import { putInteger, Writer } from '../../sfnt/index.js';
import { OP } from '../charstring-operators.js';
import type { Pen } from '../pen.js';

const round = (v: number): number => Math.floor(v + 0.5);
/** Operands an operator may have. Source: Adobe Technical Note 5177, appendix B. */
const MOST_OPERANDS = 48;

/**
 * Draws a glyph as a Type 2 charstring: whole units, quadratics raised to cubics, each operator in its shortest form and
 * runs of the same kind behind one operator. Source: Adobe Technical Note 5177.
 */
export class CharStringPen implements Pen {
  private readonly w = new Writer(128);
  private x = 0;
  private y = 0;
  private exactX = 0;
  private exactY = 0;
  private startX = 0;
  private startY = 0;
  private pending: { operator: number; operands: number[] } | null = null;

  /** @param width advance less the font's nominalWidthX, or null when it is its defaultWidthX */
  constructor(width: number | null) {
    if (width !== null) putInteger(this.w, round(width));
  }

  private flush(): void {
    if (!this.pending) return;
    for (const v of this.pending.operands) putInteger(this.w, v);
    this.w.u8(this.pending.operator);
    this.pending = null;
  }
  private emit(operator: number, operands: number[]): void {
    this.flush();
    this.pending = { operator, operands };
  }
  /** Adds operands to the operator before, when it takes more of them. */
  private extend(operator: number, operands: readonly number[]): boolean {
    if (this.pending?.operator !== operator || this.pending.operands.length + operands.length > MOST_OPERANDS) return false;
    this.pending.operands.push(...operands);
    return true;
  }
  private step(x: number, y: number): [number, number] {
    const [rx, ry] = [round(x), round(y)];
    const d: [number, number] = [rx - this.x, ry - this.y];
    this.x = rx;
    this.y = ry;
    return d;
  }
  moveTo(x: number, y: number): void {
    this.closePath();
    const [dx, dy] = this.step(x, y);
    if (dy === 0) this.emit(OP.hmoveto, [dx]);
    else if (dx === 0) this.emit(OP.vmoveto, [dy]);
    else this.emit(OP.rmoveto, [dx, dy]);
    this.at(x, y);
    this.startX = this.x;
    this.startY = this.y;
  }
  lineTo(x: number, y: number): void {
    const [dx, dy] = this.step(x, y);
    this.at(x, y);
    if (dx === 0 && dy === 0) return;
    if (dx !== 0 && dy !== 0) {
      if (!this.extend(OP.rlineto, [dx, dy])) this.emit(OP.rlineto, [dx, dy]);
      return;
    }
    // hlineto and vlineto take turns; the last one tells which comes next.
    const horizontal = dy === 0;
    const open = this.pending;
    if (open && (open.operator === OP.hlineto || open.operator === OP.vlineto)) {
      const next = (open.operator === OP.hlineto) === (open.operands.length % 2 === 0);
      if (next === horizontal && this.extend(open.operator, [dx + dy])) return;
    }
    this.emit(horizontal ? OP.hlineto : OP.vlineto, [dx + dy]);
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    const { exactX: px, exactY: py } = this;
    this.cubicTo(px + (2 / 3) * (cx - px), py + (2 / 3) * (cy - py), x + (2 / 3) * (cx - x), y + (2 / 3) * (cy - y), x, y);
  }
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    const [dx1, dy1] = this.step(ax, ay);
    const [dx2, dy2] = this.step(bx, by);
    const [dx3, dy3] = this.step(x, y);
    this.at(x, y);
    if (dy1 === 0 && dx3 === 0) {
      const args = [dx1, dx2, dy2, dy3];
      if (!this.turn(OP.hvcurveto, args)) this.emit(OP.hvcurveto, args);
    } else if (dx1 === 0 && dy3 === 0) {
      const args = [dy1, dx2, dy2, dx3];
      if (!this.turn(OP.vhcurveto, args)) this.emit(OP.vhcurveto, args);
    } else if (dy1 === 0 && dy3 === 0) {
      if (!this.extend(OP.hhcurveto, [dx1, dx2, dy2, dx3])) this.emit(OP.hhcurveto, [dx1, dx2, dy2, dx3]);
    } else if (dx1 === 0 && dx3 === 0) {
      if (!this.extend(OP.vvcurveto, [dy1, dx2, dy2, dy3])) this.emit(OP.vvcurveto, [dy1, dx2, dy2, dy3]);
    } else if (!this.extend(OP.rrcurveto, [dx1, dy1, dx2, dy2, dx3, dy3])) this.emit(OP.rrcurveto, [dx1, dy1, dx2, dy2, dx3, dy3]);
  }
  /** hvcurveto and vhcurveto take turns as the lines do. */
  private turn(operator: number, args: readonly number[]): boolean {
    const open = this.pending;
    if (!open || (open.operator !== OP.hvcurveto && open.operator !== OP.vhcurveto)) return false;
    const same = (open.operands.length / 4) % 2 === 0;
    return (open.operator === operator) === same && this.extend(open.operator, args);
  }
  closePath(): void {
    // Charstrings close by themselves; a last line back to the start would be a point too many.
    const open = this.pending;
    if (!open || this.x !== this.startX || this.y !== this.startY) return;
    if (open.operator === OP.rlineto) {
      const [dx, dy] = open.operands.splice(-2) as [number, number];
      this.x -= dx;
      this.y -= dy;
    } else if (open.operator === OP.hlineto || open.operator === OP.vlineto) {
      const horizontal = (open.operator === OP.hlineto) === (open.operands.length % 2 === 1);
      const d = open.operands.pop()!;
      if (horizontal) this.x -= d;
      else this.y -= d;
    } else return;
    if (open.operands.length === 0) this.pending = null;
  }
  private at(x: number, y: number): void {
    this.exactX = x;
    this.exactY = y;
  }

  /** The program, with its endchar. */
  charString(): Uint8Array {
    this.closePath();
    this.flush();
    this.w.u8(OP.endchar);
    return this.w.done().slice();
  }
}
