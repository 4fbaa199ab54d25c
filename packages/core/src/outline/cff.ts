import { DICT, FontError, operand, Reader, readDict, readIndex, type CffDict, type CffIndex } from '../sfnt/index.js';
import { ESCAPE, OP } from './charstring-operators.js';
import type { Pen } from './pen.js';

const MAX_OPERATIONS = 200_000;
const MAX_DEPTH = 10;

/**
 * Draws glyphs of a CFF or CFF2 table; CFF2 at the default instance.
 * Source: Adobe Technical Notes 5176 (CFF) and 5177 (Type 2 charstrings); OpenType specification, CFF2.
 */
export class CffOutlines {
  readonly glyphCount: number;
  private readonly r: Reader;
  private readonly charStrings: CffIndex;
  private readonly globalSubrs: CffIndex;
  private readonly localSubrs: (CffIndex | null)[];
  private readonly fdOf: (glyph: number) => number;
  /** Regions that each list of deltas is for. */
  private readonly regionLists: number[][];
  private readonly vsindexOf: (glyph: number) => number;

  /** @throws FontError when the table's structure is damaged. */
  constructor(
    data: Uint8Array,
    private readonly isCff2: boolean,
    private readonly options: { strict?: boolean } = {},
  ) {
    const r = (this.r = new Reader(data, isCff2 ? 'CFF2' : 'CFF '));
    const headerSize = r.u8(2);
    let top: CffDict;
    if (isCff2) {
      const length = r.u16(3);
      top = readDict(r.slice(headerSize, length));
      this.globalSubrs = readIndex(r, headerSize + length, true, options.strict);
    } else {
      const names = readIndex(r, headerSize, false, options.strict);
      const tops = readIndex(r, names.end, false, options.strict);
      const strings = readIndex(r, tops.end, false, options.strict);
      top = readDict(tops.get(0));
      this.globalSubrs = readIndex(r, strings.end, false, options.strict);
    }
    this.charStrings = readIndex(r, operand(top, DICT.CharStrings) ?? -1, isCff2, options.strict);
    this.glyphCount = this.charStrings.count;
    const fdArrayAt = operand(top, DICT.FDArray);
    if (fdArrayAt !== undefined) {
      const fonts = readIndex(r, fdArrayAt, isCff2, options.strict);
      if (fonts.count > 256 && !isCff2)
        throw new FontError('bad-table', 'The CFF table has more than 256 font dictionaries.', { table: 'CFF ' });
      this.localSubrs = Array.from({ length: Math.min(fonts.count, 65536) }, (_, i) => this.readLocalSubrs(readDict(fonts.get(i))));
      this.fdOf = readFdSelect(r, operand(top, DICT.FDSelect), this.glyphCount);
    } else {
      this.localSubrs = [this.readLocalSubrs(top)];
      this.fdOf = () => 0;
    }
    this.regionLists = isCff2 ? readRegionLists(r, operand(top, DICT.vstore)) : [];
    const usual = isCff2 ? this.usualIndexes(fdArrayAt, top) : [];
    this.vsindexOf = (glyph) => usual[this.fdOf(glyph)] ?? 0;
  }

  private readLocalSubrs(font: CffDict): CffIndex | null {
    const size = operand(font, DICT.Private, 0);
    const offset = operand(font, DICT.Private, 1);
    if (size === undefined || offset === undefined) return null;
    const subrs = operand(readDict(this.r.slice(offset, size)), DICT.Subrs);
    return subrs === undefined ? null : readIndex(this.r, offset + subrs, this.isCff2, this.options.strict);
  }

  /** Which list of deltas each font dictionary means where its programs do not say. Source: OpenType specification, CFF2, vsindex. */
  private usualIndexes(fdArrayAt: number | undefined, top: CffDict): number[] {
    const of = (font: CffDict): number => {
      const [size, offset] = [operand(font, DICT.Private, 0), operand(font, DICT.Private, 1)];
      return size === undefined || offset === undefined ? 0 : (operand(readDict(this.r.slice(offset, size)), DICT.vsindex) ?? 0);
    };
    if (fdArrayAt === undefined) return [of(top)];
    const fonts = readIndex(this.r, fdArrayAt, true, this.options.strict);
    return Array.from({ length: Math.min(fonts.count, 65536) }, (_, i) => of(readDict(fonts.get(i))));
  }

  /**
   * Draws a glyph.
   * @param scalars how much of each region of the variation store counts; left out, the default instance is drawn
   * @throws FontError when the glyph's program is damaged or does not end.
   */
  draw(glyph: number, pen: Pen, scalars: ArrayLike<number> | null = null): void {
    const run = new CharString(
      pen,
      this.globalSubrs,
      this.localSubrs[this.fdOf(glyph)] ?? null,
      this.isCff2 ? this.regionLists : null,
      this.options.strict ?? false,
      this.vsindexOf(glyph),
      scalars,
    );
    run.execute(this.charStrings.get(glyph), 0);
    run.finish();
    run.checkEnd();
  }
}

function readFdSelect(r: Reader, at: number | undefined, glyphCount: number): (glyph: number) => number {
  if (at === undefined) return () => 0;
  const format = r.u8(at);
  if (format === 0) return (glyph) => r.u8(at + 1 + glyph);
  if (format !== 3 && format !== 4) throw new FontError('bad-table', 'The CFF table assigns glyphs in an unknown way.', { table: 'CFF ' });
  const wide = format === 4;
  const ranges = wide ? r.u32(at + 1) : r.u16(at + 1);
  const step = wide ? 6 : 3;
  const first = at + (wide ? 5 : 3);
  r.need(first, ranges * step);
  const fds = new Uint16Array(glyphCount);
  const start = (i: number): number => (wide ? r.u32(first + i * step) : r.u16(first + i * step));
  for (let i = 0; i < ranges; i++) fds.fill(wide ? r.u16(first + i * step + 4) : r.u8(first + i * step + 2), start(i), start(i + 1));
  return (glyph) => fds[glyph] ?? 0;
}

/** Numbers of the regions of each ItemVariationData. */
function readRegionLists(r: Reader, at: number | undefined): number[][] {
  if (at === undefined) return [];
  const store = at + 2;
  return Array.from({ length: r.u16(store + 6) }, (_, i) => {
    const data = store + r.u32(store + 8 + 4 * i);
    const count = r.u16(data + 4);
    r.need(data + 6, 2 * count);
    return Array.from({ length: count }, (_x, k) => r.u16(data + 6 + 2 * k));
  });
}

/** One run of a Type 2 charstring. */
class CharString {
  private stack: number[] = [];
  private x = 0;
  private y = 0;
  private open = false;
  private hints = 0;
  private widthSeen = false;
  private operations = 0;
  private ended = false;
  private readonly transient: number[] = [];

  constructor(
    private readonly pen: Pen,
    private readonly globalSubrs: CffIndex,
    private readonly localSubrs: CffIndex | null,
    private readonly regionLists: number[][] | null,
    private readonly strict: boolean,
    private vsindex: number,
    private readonly scalars: ArrayLike<number> | null,
  ) {}

  /**
   * In strict reading a wrong number of arguments is an error, as it is to browsers; else what is there is drawn.
   * @throws FontError when it is damaged or does not fit
   */
  private expect(right: boolean): void {
    if (this.strict && !right)
      throw new FontError('bad-table', 'a step of its program has the wrong number of arguments.', { table: 'CFF ' });
  }

  finish(): void {
    if (this.open) this.pen.closePath();
    this.open = false;
  }

  /** A CFF program ends with endchar; a CFF2 program just ends. */
  checkEnd(): void {
    this.expect(this.ended || this.regionLists !== null);
  }

  private move(dx: number, dy: number): void {
    this.finish();
    this.x += dx;
    this.y += dy;
    this.pen.moveTo(this.x, this.y);
    this.open = true;
  }

  private line(dx: number, dy: number): void {
    this.x += dx;
    this.y += dy;
    this.pen.lineTo(this.x, this.y);
  }

  private curve(dx1: number, dy1: number, dx2: number, dy2: number, dx3: number, dy3: number): void {
    const x1 = this.x + dx1;
    const y1 = this.y + dy1;
    const x2 = x1 + dx2;
    const y2 = y1 + dy2;
    this.x = x2 + dx3;
    this.y = y2 + dy3;
    this.pen.cubicTo(x1, y1, x2, y2, this.x, this.y);
  }

  /** The first stack-clearing operator may carry the glyph's width before its own arguments. */
  private dropWidth(odd: boolean): void {
    if (!this.widthSeen && this.regionLists === null && odd) this.stack.shift();
    this.widthSeen = true;
  }

  private pop(): number {
    return this.stack.pop() ?? 0;
  }

  execute(code: Uint8Array, depth: number): void {
    if (depth > MAX_DEPTH) throw new FontError('bad-table', 'A CFF program calls itself too deep.', { table: 'CFF ' });
    const r = new Reader(code, 'CFF ');
    for (let at = 0; at < code.length && !this.ended;) {
      if (++this.operations > MAX_OPERATIONS) throw new FontError('bad-table', 'A CFF program does not come to an end.', { table: 'CFF ' });
      const b = r.u8(at++);
      if (b >= 32 || b === OP.shortint) {
        if (b === OP.shortint) {
          this.stack.push(r.i16(at));
          at += 2;
        } else if (b <= 246) this.stack.push(b - 139);
        else if (b <= 250) this.stack.push((b - 247) * 256 + r.u8(at++) + 108);
        else if (b <= 254) this.stack.push(-(b - 251) * 256 - r.u8(at++) - 108);
        else {
          this.stack.push(r.fixed(at));
          at += 4;
        }
        if (this.stack.length > (this.strict && this.regionLists === null ? 48 : 513))
          throw new FontError('bad-table', 'A CFF program piles up more numbers than allowed.', { table: 'CFF ' });
        continue;
      }
      switch (b) {
        case OP.hstem:
        case OP.vstem:
        case OP.hstemhm:
        case OP.vstemhm:
          this.dropWidth(this.stack.length % 2 === 1);
          this.expect(this.stack.length > 0 && this.stack.length % 2 === 0);
          this.hints += this.stack.length >> 1;
          this.stack = [];
          break;
        case OP.hintmask:
        case OP.cntrmask:
          this.dropWidth(this.stack.length % 2 === 1);
          this.hints += this.stack.length >> 1;
          this.stack = [];
          at += (this.hints + 7) >> 3;
          this.expect(this.hints > 0 && at <= code.length);
          break;
        case OP.rmoveto: {
          this.dropWidth(this.stack.length > 2);
          this.expect(this.stack.length === 2);
          const dy = this.pop();
          this.move(this.pop(), dy);
          this.stack = [];
          break;
        }
        case OP.hmoveto:
          this.dropWidth(this.stack.length > 1);
          this.expect(this.stack.length === 1);
          this.move(this.pop(), 0);
          this.stack = [];
          break;
        case OP.vmoveto:
          this.dropWidth(this.stack.length > 1);
          this.expect(this.stack.length === 1);
          this.move(0, this.pop());
          this.stack = [];
          break;
        case OP.callsubr:
        case OP.callgsubr: {
          const subrs = b === OP.callsubr ? this.localSubrs : this.globalSubrs;
          if (!subrs) throw new FontError('bad-table', 'A CFF program calls a part that is not there.', { table: 'CFF ' });
          const bias = subrs.count < 1240 ? 107 : subrs.count < 33900 ? 1131 : 32768;
          this.execute(subrs.get(this.pop() + bias), depth + 1);
          break;
        }
        case OP.return:
          return;
        case OP.endchar:
          this.dropWidth(this.stack.length % 2 === 1);
          this.ended = true;
          break;
        case OP.vsindex:
          this.vsindex = this.pop();
          break;
        case OP.blend:
          this.blend();
          break;
        case OP.escape:
          this.escape(r.u8(at++));
          break;
        default:
          this.path(b);
          this.stack = [];
      }
    }
  }

  /**
   * Adds to each value as much of its deltas as their regions count; nothing for the default instance.
   * @throws FontError when it is damaged or does not fit
   */
  private blend(): void {
    if (this.regionLists === null) throw new FontError('bad-table', 'A CFF program uses variation where there is none.', { table: 'CFF ' });
    const n = this.pop();
    const regions = this.regionLists[this.vsindex] ?? [];
    const deltas = n * regions.length;
    if (!(n >= 0 && deltas <= this.stack.length))
      throw new FontError('bad-table', 'A CFF program blends more numbers than it has.', { table: 'CFF2' });
    const { scalars, stack } = this;
    const first = stack.length - deltas;
    if (scalars)
      for (let i = 0; i < n; i++)
        regions.forEach((region, k) => {
          const at = first - n + i;
          if (at >= 0) stack[at]! += (scalars[region] ?? 0) * stack[first + i * regions.length + k]!;
        });
    stack.length = first;
  }

  private path(operator: number): void {
    const s = this.stack;
    if (this.strict) this.expect(this.open && pathArguments(operator, s.length));
    const at = (i: number): number => s[i] ?? 0;
    let i = 0;
    switch (operator) {
      case OP.rlineto:
        for (; i + 1 < s.length; i += 2) this.line(at(i), at(i + 1));
        break;
      case OP.hlineto:
      case OP.vlineto:
        for (let horizontal = operator === OP.hlineto; i < s.length; i++, horizontal = !horizontal) {
          if (horizontal) this.line(at(i), 0);
          else this.line(0, at(i));
        }
        break;
      case OP.rrcurveto:
      case OP.rcurveline:
        for (; i + 5 < s.length; i += 6) this.curve(at(i), at(i + 1), at(i + 2), at(i + 3), at(i + 4), at(i + 5));
        if (operator === OP.rcurveline) this.line(at(i), at(i + 1));
        break;
      case OP.rlinecurve:
        for (; i + 6 < s.length; i += 2) this.line(at(i), at(i + 1));
        this.curve(at(i), at(i + 1), at(i + 2), at(i + 3), at(i + 4), at(i + 5));
        break;
      case OP.vvcurveto: {
        let dx = s.length % 4 === 1 ? at(i++) : 0;
        for (; i + 3 < s.length; i += 4, dx = 0) this.curve(dx, at(i), at(i + 1), at(i + 2), 0, at(i + 3));
        break;
      }
      case OP.hhcurveto: {
        let dy = s.length % 4 === 1 ? at(i++) : 0;
        for (; i + 3 < s.length; i += 4, dy = 0) this.curve(at(i), dy, at(i + 1), at(i + 2), at(i + 3), 0);
        break;
      }
      case OP.vhcurveto:
      case OP.hvcurveto:
        for (let horizontal = operator === OP.hvcurveto; i + 3 < s.length; i += 4, horizontal = !horizontal) {
          const last = s.length - i === 5 ? at(i + 4) : 0;
          if (horizontal) this.curve(at(i), 0, at(i + 1), at(i + 2), last, at(i + 3));
          else this.curve(0, at(i), at(i + 1), at(i + 2), at(i + 3), last);
        }
        break;
      default:
        break; // reserved operators clear the stack and do nothing else
    }
  }

  private escape(operator: number): void {
    const s = this.stack;
    const at = (i: number): number => s[i] ?? 0;
    switch (operator) {
      case ESCAPE.hflex:
        this.curve(at(0), 0, at(1), at(2), at(3), 0);
        this.curve(at(4), 0, at(5), -at(2), at(6), 0);
        break;
      case ESCAPE.flex:
        this.curve(at(0), at(1), at(2), at(3), at(4), at(5));
        this.curve(at(6), at(7), at(8), at(9), at(10), at(11));
        break;
      case ESCAPE.hflex1:
        this.curve(at(0), at(1), at(2), at(3), at(4), 0);
        this.curve(at(5), 0, at(6), at(7), at(8), -(at(1) + at(3) + at(7)));
        break;
      case ESCAPE.flex1: {
        const dx = at(0) + at(2) + at(4) + at(6) + at(8);
        const dy = at(1) + at(3) + at(5) + at(7) + at(9);
        this.curve(at(0), at(1), at(2), at(3), at(4), at(5));
        if (Math.abs(dx) > Math.abs(dy)) this.curve(at(6), at(7), at(8), at(9), at(10), -dy);
        else this.curve(at(6), at(7), at(8), at(9), -dx, at(10));
        break;
      }
      default:
        this.arithmetic(operator);
        return;
    }
    this.stack = [];
  }

  private arithmetic(operator: number): void {
    const two = (f: (a: number, b: number) => number): void => {
      const b = this.pop();
      this.stack.push(f(this.pop(), b));
    };
    switch (operator) {
      case ESCAPE.and:
        return two((a, b) => (a && b ? 1 : 0));
      case ESCAPE.or:
        return two((a, b) => (a || b ? 1 : 0));
      case ESCAPE.not:
        this.stack.push(this.pop() ? 0 : 1);
        return;
      case ESCAPE.abs:
        this.stack.push(Math.abs(this.pop()));
        return;
      case ESCAPE.add:
        return two((a, b) => a + b);
      case ESCAPE.sub:
        return two((a, b) => a - b);
      case ESCAPE.div:
        return two((a, b) => (b === 0 ? 0 : a / b));
      case ESCAPE.neg:
        this.stack.push(-this.pop());
        return;
      case ESCAPE.eq:
        return two((a, b) => (a === b ? 1 : 0));
      case ESCAPE.drop:
        this.pop();
        return;
      case ESCAPE.put: {
        const index = this.pop();
        const value = this.pop();
        if (index >= 0 && index < 32) this.transient[index] = value;
        return;
      }
      case ESCAPE.get:
        this.stack.push(this.transient[this.pop()] ?? 0);
        return;
      case ESCAPE.ifelse: {
        const [s1, s2, v1, v2] = this.stack.splice(-4) as [number, number, number, number];
        this.stack.push(v1 <= v2 ? s1 : s2);
        return;
      }
      case ESCAPE.random:
        this.stack.push(0.5);
        return; // random: any value does for a still picture
      case ESCAPE.mul:
        return two((a, b) => a * b);
      case ESCAPE.sqrt:
        this.stack.push(Math.sqrt(Math.max(0, this.pop())));
        return;
      case ESCAPE.dup: {
        const top = this.pop();
        this.stack.push(top, top);
        return;
      }
      case ESCAPE.exch: {
        const b = this.pop();
        const a = this.pop();
        this.stack.push(b, a);
        return;
      }
      case ESCAPE.index: {
        const index = Math.max(0, this.pop());
        this.stack.push(this.stack[this.stack.length - 1 - index] ?? 0);
        return;
      }
      case ESCAPE.roll: {
        const j = this.pop();
        const n = this.pop();
        if (!(n > 0 && n <= this.stack.length)) return;
        const part = this.stack.splice(-n);
        const shift = ((j % n) + n) % n;
        this.stack.push(...part.slice(n - shift), ...part.slice(0, n - shift));
        return;
      }
      default:
        return; // reserved
    }
  }
}

/** Whether a path operator may have so many arguments. Source: Adobe Technical Note 5177, section 4.1. */
function pathArguments(operator: number, count: number): boolean {
  switch (operator) {
    case OP.rlineto:
      return count >= 2 && count % 2 === 0;
    case OP.hlineto:
    case OP.vlineto:
      return count >= 1;
    case OP.rrcurveto:
      return count >= 6 && count % 6 === 0;
    case OP.rcurveline:
      return count >= 8 && (count - 2) % 6 === 0;
    case OP.rlinecurve:
      return count >= 8 && count % 2 === 0;
    case OP.vvcurveto:
    case OP.hhcurveto:
      return count >= 4 && count % 4 < 2;
    case OP.vhcurveto:
    case OP.hvcurveto:
      return count >= 4 && (count % 8 === 0 || count % 8 === 1 || count % 8 === 4 || count % 8 === 5);
    default:
      return false;
  }
}
