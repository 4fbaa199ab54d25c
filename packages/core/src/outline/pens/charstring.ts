import { putInteger, Writer } from '../../sfnt/index.js';
import { OP } from '../charstring-operators.js';
import type { Pen } from '../pen.js';

const round = (v: number): number => Math.floor(v + 0.5);
/**
 * Operands an operator is given: one less than may be (Adobe Technical Note 5177, appendix B), so that the number of a
 * subroutine finds room beside them.
 */
const MOST_OPERANDS = 47;

/** A line (two numbers) or a curve (six), each from where the one before ended. */
type Piece = readonly number[];
interface Written {
  operator: number;
  operands: number[];
  /** How many pieces it draws. */
  pieces: number;
}

/** Bytes of a whole number. Source: Technical Note 5177, table 1. */
const bytesOf = (v: number): number => (v >= -107 && v <= 107 ? 1 : v >= -1131 && v <= 1131 ? 2 : 3);

const isLine = (p: Piece): boolean => p.length === 2;

/** Calls back with every way to draw pieces from one on with a single operator. Source: Technical Note 5177, section 4.1. */
function ways(pieces: readonly Piece[], from: number, found: (w: Written) => void): void {
  const first = pieces[from]!;
  const plain: number[] = [];
  // One kind as it is, and one of the other kind behind it.
  for (let i = from; i < pieces.length; i++) {
    const piece = pieces[i]!;
    const same = isLine(piece) === isLine(first);
    if (plain.length + piece.length > MOST_OPERANDS) break;
    plain.push(...piece);
    const operator = isLine(first) ? (same ? OP.rlineto : OP.rlinecurve) : same ? OP.rrcurveto : OP.rcurveline;
    found({ operator, operands: plain.slice(), pieces: i - from + 1 });
    if (!same) break;
  }
  if (isLine(first)) {
    for (let horizontal = first[1] === 0, i = from, operands: number[] = []; i < pieces.length; i++, horizontal = !horizontal) {
      const piece = pieces[i]!;
      if (!isLine(piece) || piece[horizontal ? 1 : 0] !== 0 || operands.length >= MOST_OPERANDS) break;
      operands = [...operands, piece[horizontal ? 0 : 1]!];
      found({ operator: first[1] === 0 ? OP.hlineto : OP.vlineto, operands, pieces: i - from + 1 });
    }
    return;
  }
  for (const across of [0, 1]) {
    // hhcurveto and vvcurveto: both ends along one axis, but for the very first.
    const along = 1 - across;
    for (let i = from, operands: number[] = []; i < pieces.length; i++) {
      const piece = pieces[i]!;
      if (isLine(piece) || piece[4 + along] !== 0 || operands.length + 5 > MOST_OPERANDS) break;
      if (piece[along] !== 0) {
        if (i > from) break;
        operands = [piece[along]!];
      }
      operands = [...operands, piece[across]!, piece[2]!, piece[3]!, piece[4 + across]!];
      found({ operator: across === 0 ? OP.hhcurveto : OP.vvcurveto, operands, pieces: i - from + 1 });
    }
    // hvcurveto and vhcurveto: along one axis, then the other, by turns; the very last ends as it likes.
    for (let i = from, start = across, operands: number[] = []; i < pieces.length; i++, start = 1 - start) {
      const piece = pieces[i]!;
      if (isLine(piece) || piece[1 - start] !== 0 || operands.length + 5 > MOST_OPERANDS) break;
      operands = [...operands, piece[start]!, piece[2]!, piece[3]!, piece[4 + 1 - start]!];
      const rest = piece[4 + start]!;
      const operator = across === 0 ? OP.hvcurveto : OP.vhcurveto;
      found({ operator, operands: rest === 0 ? operands : [...operands, rest], pieces: i - from + 1 });
      if (rest !== 0) break;
    }
  }
}

/**
 * Draws a glyph as a Type 2 charstring in the fewest bytes: whole units, quadratics raised to cubics, operators chosen for each
 * contour by dynamic programming. Source: Adobe Technical Note 5177.
 */
export class CharStringPen implements Pen {
  private readonly w = new Writer(128);
  private x = 0;
  private y = 0;
  private exactX = 0;
  private exactY = 0;
  private startX = 0;
  private startY = 0;
  private pieces: Piece[] = [];

  /** @param width advance less the font's nominalWidthX, or null when it is its defaultWidthX */
  constructor(width: number | null) {
    if (width !== null) putInteger(this.w, round(width));
  }

  private write(operator: number, operands: readonly number[]): void {
    for (const v of operands) putInteger(this.w, v);
    this.w.u8(operator);
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
    if (dy === 0) this.write(OP.hmoveto, [dx]);
    else if (dx === 0) this.write(OP.vmoveto, [dy]);
    else this.write(OP.rmoveto, [dx, dy]);
    this.at(x, y);
    this.startX = this.x;
    this.startY = this.y;
  }
  lineTo(x: number, y: number): void {
    const d = this.step(x, y);
    this.at(x, y);
    if (d[0] !== 0 || d[1] !== 0) this.pieces.push(d);
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    const { exactX: px, exactY: py } = this;
    this.cubicTo(px + (2 / 3) * (cx - px), py + (2 / 3) * (cy - py), x + (2 / 3) * (cx - x), y + (2 / 3) * (cy - y), x, y);
  }
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    this.pieces.push([...this.step(ax, ay), ...this.step(bx, by), ...this.step(x, y)]);
    this.at(x, y);
  }
  closePath(): void {
    const { pieces } = this;
    if (pieces.length === 0) return;
    // Charstrings close by themselves; a last line back to the start would be a point too many.
    if (this.x === this.startX && this.y === this.startY && isLine(pieces[pieces.length - 1]!)) {
      const [dx, dy] = pieces.pop() as [number, number];
      this.x -= dx;
      this.y -= dy;
    }
    const least = new Float64Array(pieces.length + 1);
    const best: Written[] = [];
    for (let i = pieces.length - 1; i >= 0; i--) {
      least[i] = Infinity;
      ways(pieces, i, (way) => {
        const cost = way.operands.reduce((sum, v) => sum + bytesOf(v), 1) + least[i + way.pieces]!;
        if (cost < least[i]!) [least[i], best[i]] = [cost, way];
      });
    }
    for (let i = 0; i < pieces.length; i += best[i]!.pieces) this.write(best[i]!.operator, best[i]!.operands);
    this.pieces = [];
  }
  private at(x: number, y: number): void {
    this.exactX = x;
    this.exactY = y;
  }

  /** The program, with its endchar. */
  charString(): Uint8Array {
    this.closePath();
    this.w.u8(OP.endchar);
    return this.w.done().slice();
  }
}
