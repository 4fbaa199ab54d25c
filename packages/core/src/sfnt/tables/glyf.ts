import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import type { Table } from '../declare/index.js';
import { HEAD } from './head.js';
import { MAXP } from './maxp.js';

/** Offsets of glyphs in glyf, from loca of either format, without reading all of them. */
export class Loca {
  private readonly reader: Reader;
  readonly count: number;
  constructor(
    data: Uint8Array,
    private readonly longFormat: boolean,
  ) {
    this.reader = new Reader(data, 'loca');
    this.count = Math.max(0, Math.floor(data.length / (longFormat ? 4 : 2)) - 1);
  }

  /** Byte offset at which a glyph's data begins. @throws FontError past the end of the table */
  offset(index: number): number {
    return this.longFormat ? this.reader.u32(4 * index) : 2 * this.reader.u16(2 * index);
  }
}

/** Offsets in bytes, one more than there are glyphs. Source: OpenType specification, loca. */
export const LOCA: Table<Uint32Array> = {
  tag: 'loca',
  read(data, tables) {
    const loca = new Loca(data, tables.need(HEAD).indexToLocFormat !== 0);
    return Uint32Array.from({ length: tables.need(MAXP).numGlyphs + 1 }, (_, i) => loca.offset(i));
  },
  write(offsets, tables) {
    const long = tables.need(HEAD).indexToLocFormat !== 0;
    const w = new Writer(4 * offsets.length);
    for (const offset of offsets) {
      if (long) w.u32(offset);
      else if (offset % 2 !== 0 || offset > 0x1fffe)
        throw new FontError('does-not-fit', 'The outlines are too large for a loca table of 16 bits.', { table: 'loca' });
      else w.u16(offset / 2);
    }
    return w.done();
  },
};

/** Flags of points. Source: OpenType specification, glyf, "Simple Glyph Description". */
export const ON_CURVE_POINT = 0x01;
export const X_SHORT_VECTOR = 0x02;
export const Y_SHORT_VECTOR = 0x04;
export const REPEAT_FLAG = 0x08;
export const X_IS_SAME_OR_POSITIVE = 0x10;
export const Y_IS_SAME_OR_POSITIVE = 0x20;
export const OVERLAP_SIMPLE = 0x40;

/** Flags of components. Source: OpenType specification, glyf, "Composite Glyph Description". */
export const ARG_1_AND_2_ARE_WORDS = 0x0001;
export const ARGS_ARE_XY_VALUES = 0x0002;
export const WE_HAVE_A_SCALE = 0x0008;
export const MORE_COMPONENTS = 0x0020;
export const WE_HAVE_AN_X_AND_Y_SCALE = 0x0040;
export const WE_HAVE_A_TWO_BY_TWO = 0x0080;
export const WE_HAVE_INSTRUCTIONS = 0x0100;
export const SCALED_COMPONENT_OFFSET = 0x0800;

/** The box as the file states it, font units. */
interface Box {
  xMin: number;
  yMin: number;
  xMax: number;
  yMax: number;
}

/** A glyph drawn by points; coordinates in font units, not relative to one another. */
export interface SimpleGlyph extends Box {
  kind: 'simple';
  /** Index of the last point of each contour. */
  endPtsOfContours: number[];
  x: Int16Array;
  y: Int16Array;
  /** 1 where the curve runs through the point. */
  onCurve: Uint8Array;
  overlap: boolean;
  instructions: Uint8Array;
}

export interface Component {
  /** Without those bits that only say how the component is written down. */
  flags: number;
  glyphIndex: number;
  /** Offsets in font units with ARGS_ARE_XY_VALUES, else numbers of points to be matched. */
  argument1: number;
  argument2: number;
  /** xx, xy, yx, yy. */
  transform: [number, number, number, number];
}

/** A glyph built from others. */
export interface CompositeGlyph extends Box {
  kind: 'composite';
  components: Component[];
  instructions: Uint8Array;
}

/** Null where nothing is drawn, as for a space. */
export type Glyph = SimpleGlyph | CompositeGlyph | null;

/** Outlines of all glyphs, read whole. Source: OpenType specification, glyf. */
export const GLYF: Table<Glyph[]> = {
  tag: 'glyf',
  read(data, tables) {
    const offsets = tables.need(LOCA);
    return Array.from({ length: offsets.length - 1 }, (_, id) => {
      const [start, end] = [offsets[id]!, offsets[id + 1]!];
      if (end < start || end > data.length) throw bad(`Glyph ${id} lies outside the glyf table.`);
      return readGlyph(data.subarray(start, end));
    });
  },
  write: (glyphs) => writeGlyphs(glyphs).glyf,
};

/** Tables of outlines: glyf's bytes, and where in them each glyph begins. */
export function writeGlyphs(glyphs: readonly Glyph[]): { glyf: Uint8Array; offsets: Uint32Array } {
  const w = new Writer(64 * glyphs.length);
  const offsets = new Uint32Array(glyphs.length + 1);
  glyphs.forEach((glyph, i) => {
    if (glyph) w.put(writeGlyph(glyph));
    if (w.length % 2 !== 0) w.u8(0);
    offsets[i + 1] = w.length;
  });
  return { glyf: w.done(), offsets };
}

/** The loca format that offsets need: 0 for 16 bits, 1 for 32. */
export const locaFormatFor = (offsets: Uint32Array): 0 | 1 => (offsets[offsets.length - 1]! > 0x1fffe ? 1 : 0);

function bad(message: string): FontError {
  return new FontError('bad-table', message, { table: 'glyf' });
}

/** Reads one glyph's bytes. @throws FontError when they are damaged */
export function readGlyph(data: Uint8Array): Glyph {
  if (data.length === 0) return null;
  const r = new Reader(data, 'glyf');
  const contours = r.i16(0);
  const box = { xMin: r.i16(2), yMin: r.i16(4), xMax: r.i16(6), yMax: r.i16(8) };
  if (contours === 0) return null;
  return contours > 0 ? readSimple(r, contours, box) : readComposite(r, box);
}

function readSimple(r: Reader, contours: number, box: Box): SimpleGlyph {
  const endPtsOfContours: number[] = [];
  let last = -1;
  for (let i = 0; i < contours; i++) {
    const end = r.u16(10 + 2 * i);
    if (end < last) throw bad('A contour ends before it begins.');
    endPtsOfContours.push((last = end));
  }
  const count = last + 1;
  let at = 10 + 2 * contours;
  const instructions = r.slice(at + 2, r.u16(at));
  at += 2 + instructions.length;
  const flags = new Uint8Array(count);
  for (let i = 0; i < count;) {
    const flag = r.u8(at++);
    let times = flag & REPEAT_FLAG ? r.u8(at++) + 1 : 1;
    while (times-- > 0 && i < count) flags[i++] = flag;
  }
  const coordinates = (short: number, same: number): Int16Array => {
    const out = new Int16Array(count);
    let value = 0;
    for (let i = 0; i < count; i++) {
      const flag = flags[i]!;
      if (flag & short) value += flag & same ? r.u8(at++) : -r.u8(at++);
      else if (!(flag & same)) {
        value += r.i16(at);
        at += 2;
      }
      out[i] = value;
    }
    return out;
  };
  const x = coordinates(X_SHORT_VECTOR, X_IS_SAME_OR_POSITIVE);
  const y = coordinates(Y_SHORT_VECTOR, Y_IS_SAME_OR_POSITIVE);
  return {
    kind: 'simple',
    ...box,
    endPtsOfContours,
    x,
    y,
    onCurve: flags.map((f) => f & ON_CURVE_POINT),
    overlap: count > 0 && (flags[0]! & OVERLAP_SIMPLE) !== 0,
    instructions,
  };
}

const WRITTEN_DOWN =
  ARG_1_AND_2_ARE_WORDS | MORE_COMPONENTS | WE_HAVE_A_SCALE | WE_HAVE_AN_X_AND_Y_SCALE | WE_HAVE_A_TWO_BY_TWO | WE_HAVE_INSTRUCTIONS;

function readComposite(r: Reader, box: Box): CompositeGlyph {
  const components: Component[] = [];
  let at = 10;
  let flags: number;
  let instructed = false;
  do {
    flags = r.u16(at);
    const glyphIndex = r.u16(at + 2);
    at += 4;
    const signed = (flags & ARGS_ARE_XY_VALUES) !== 0;
    const argument = (i: number): number => {
      if (flags & ARG_1_AND_2_ARE_WORDS) return signed ? r.i16(at + 2 * i) : r.u16(at + 2 * i);
      return signed ? (r.u8(at + i) << 24) >> 24 : r.u8(at + i);
    };
    const [argument1, argument2] = [argument(0), argument(1)];
    at += flags & ARG_1_AND_2_ARE_WORDS ? 4 : 2;
    const part = (): number => {
      at += 2;
      return r.i16(at - 2) / 16384;
    };
    let transform: Component['transform'] = [1, 0, 0, 1];
    if (flags & WE_HAVE_A_SCALE) {
      const scale = part();
      transform = [scale, 0, 0, scale];
    } else if (flags & WE_HAVE_AN_X_AND_Y_SCALE) transform = [part(), 0, 0, part()];
    else if (flags & WE_HAVE_A_TWO_BY_TWO) transform = [part(), part(), part(), part()];
    if (flags & WE_HAVE_INSTRUCTIONS) instructed = true;
    components.push({ flags: flags & ~WRITTEN_DOWN, glyphIndex, argument1, argument2, transform });
    if (components.length > 4096) throw bad('A glyph is built from more parts than any real one.');
  } while (flags & MORE_COMPONENTS);
  return { kind: 'composite', ...box, components, instructions: instructed ? r.slice(at + 2, r.u16(at)) : new Uint8Array(0) };
}

/**
 * One glyph as bytes, in the shortest form.
 * @throws FontError when a number does not fit
 */
export function writeGlyph(glyph: NonNullable<Glyph>): Uint8Array {
  const w = new Writer(256);
  w.u16(glyph.kind === 'simple' ? glyph.endPtsOfContours.length : 0xffff);
  for (const v of [glyph.xMin, glyph.yMin, glyph.xMax, glyph.yMax]) {
    if (!(v >= -0x8000 && v <= 0x7fff))
      throw new FontError('does-not-fit', 'A glyph reaches farther than a font can hold.', { table: 'glyf' });
    w.u16(v & 0xffff);
  }
  if (glyph.kind === 'simple') writeSimple(w, glyph);
  else writeComposite(w, glyph);
  return w.done();
}

function writeSimple(w: Writer, glyph: SimpleGlyph): void {
  const { endPtsOfContours, instructions, x, y, onCurve } = glyph;
  if (x.length > 0xffff) throw new FontError('does-not-fit', 'A glyph has more points than a font can hold.', { table: 'glyf' });
  for (const end of endPtsOfContours) w.u16(end);
  w.u16(instructions.length);
  w.put(instructions);
  const flags = new Uint8Array(x.length);
  const coordinates = new Writer(2 * x.length);
  const axis = (values: Int16Array, short: number, same: number): void => {
    let last = 0;
    for (let i = 0; i < values.length; i++) {
      const d = values[i]! - last;
      last = values[i]!;
      if (d === 0) flags[i]! |= same;
      else if (d >= -255 && d <= 255) {
        flags[i]! |= short | (d > 0 ? same : 0);
        coordinates.u8(Math.abs(d));
      } else if (d >= -0x8000 && d <= 0x7fff) coordinates.u16(d & 0xffff);
      else throw new FontError('does-not-fit', 'Two points of a glyph are farther apart than a font can hold.', { table: 'glyf' });
    }
  };
  axis(x, X_SHORT_VECTOR, X_IS_SAME_OR_POSITIVE);
  axis(y, Y_SHORT_VECTOR, Y_IS_SAME_OR_POSITIVE);
  for (let i = 0; i < flags.length; i++) flags[i]! |= onCurve[i]! ? ON_CURVE_POINT : 0;
  if (glyph.overlap && flags.length > 0) flags[0]! |= OVERLAP_SIMPLE;
  for (let i = 0; i < flags.length;) {
    let times = 1;
    while (i + times < flags.length && flags[i + times] === flags[i] && times < 256) times++;
    if (times > 1) {
      w.u8(flags[i]! | REPEAT_FLAG);
      w.u8(times - 1);
    } else w.u8(flags[i]!);
    i += times;
  }
  w.put(coordinates.done());
}

function writeComposite(w: Writer, { components, instructions }: CompositeGlyph): void {
  components.forEach((c, i) => {
    const signed = (c.flags & ARGS_ARE_XY_VALUES) !== 0;
    const [low, high] = signed ? [-128, 127] : [0, 255];
    const words = [c.argument1, c.argument2].some((a) => a < low || a > high);
    const [xx, xy, yx, yy] = c.transform;
    let flags = c.flags & ~WRITTEN_DOWN;
    if (words) flags |= ARG_1_AND_2_ARE_WORDS;
    if (i < components.length - 1) flags |= MORE_COMPONENTS;
    else if (instructions.length > 0) flags |= WE_HAVE_INSTRUCTIONS;
    let parts: number[] = [];
    if (xy !== 0 || yx !== 0) {
      flags |= WE_HAVE_A_TWO_BY_TWO;
      parts = [xx, xy, yx, yy];
    } else if (xx !== yy) {
      flags |= WE_HAVE_AN_X_AND_Y_SCALE;
      parts = [xx, yy];
    } else if (xx !== 1) {
      flags |= WE_HAVE_A_SCALE;
      parts = [xx];
    }
    w.u16(flags);
    w.u16(c.glyphIndex);
    for (const a of [c.argument1, c.argument2]) {
      if (words) w.u16(a & 0xffff);
      else w.u8(a & 0xff);
    }
    for (const part of parts) {
      const value = Math.round(part * 16384);
      if (value < -0x8000 || value > 0x7fff)
        throw new FontError('does-not-fit', 'A part of a glyph is scaled by more than a font can hold.', { table: 'glyf' });
      w.u16(value & 0xffff);
    }
  });
  if (instructions.length > 0) {
    w.u16(instructions.length);
    w.put(instructions);
  }
}
