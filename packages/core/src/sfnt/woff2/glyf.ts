import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import { Cursor, putU255 } from './varint.js';

// Simple glyph flags. Source: OpenType specification, glyf table.
const ON_CURVE = 0x01;
const X_SHORT = 0x02;
const Y_SHORT = 0x04;
const REPEAT = 0x08;
const X_SAME_OR_POSITIVE = 0x10;
const Y_SAME_OR_POSITIVE = 0x20;
const OVERLAP_SIMPLE = 0x40;

// Component flags. Source: OpenType specification, glyf table, composite glyph description.
const ARGS_ARE_WORDS = 0x0001;
const WE_HAVE_A_SCALE = 0x0008;
const MORE_COMPONENTS = 0x0020;
const WE_HAVE_AN_X_AND_Y_SCALE = 0x0040;
const WE_HAVE_A_TWO_BY_TWO = 0x0080;
const WE_HAVE_INSTRUCTIONS = 0x0100;

const OVERLAP_BITMAP_PRESENT = 0x0001;

function bad(message: string): FontError {
  return new FontError('bad-table', message, { table: 'glyf' });
}

/** Byte length of one component record with the given flags, flags and glyph index included. */
function componentLength(flags: number): number {
  let length = 4 + (flags & ARGS_ARE_WORDS ? 4 : 2);
  if (flags & WE_HAVE_A_SCALE) length += 2;
  else if (flags & WE_HAVE_AN_X_AND_Y_SCALE) length += 4;
  else if (flags & WE_HAVE_A_TWO_BY_TWO) length += 8;
  return length;
}

/** Number of glyphs a loca table speaks of, and its offsets in bytes. */
export function locaOffsets(loca: Uint8Array, longFormat: boolean): Uint32Array {
  const reader = new Reader(loca, 'loca');
  const count = Math.floor(loca.length / (longFormat ? 4 : 2));
  const offsets = new Uint32Array(count);
  for (let i = 0; i < count; i++) offsets[i] = longFormat ? reader.u32(4 * i) : 2 * reader.u16(2 * i);
  return offsets;
}

/**
 * The transformed glyf table (version 0), which stands for glyf and loca together.
 * Source: WOFF 2.0 (W3C Recommendation), section 5.1 and 5.2.
 * @throws FontError when a glyph is malformed; the caller then stores the tables as they are.
 */
export function transformGlyf(glyf: Uint8Array, loca: Uint8Array, numGlyphs: number, longFormat: boolean): Uint8Array {
  const offsets = locaOffsets(loca, longFormat);
  if (offsets.length < numGlyphs + 1) throw bad('The loca table is shorter than the number of glyphs.');
  const contours = new Writer(2 * numGlyphs);
  const points = new Writer(numGlyphs);
  const flagStream = new Writer(glyf.length);
  const glyphs = new Writer(glyf.length);
  const composites = new Writer();
  const boxes = new Writer();
  const instructions = new Writer();
  const boxBitmap = new Uint8Array(4 * Math.floor((numGlyphs + 31) / 32));
  const overlapBitmap = new Uint8Array(Math.floor((numGlyphs + 7) / 8));
  let anyOverlap = false;

  for (let id = 0; id < numGlyphs; id++) {
    const start = offsets[id]!;
    const end = offsets[id + 1]!;
    if (end < start || end > glyf.length) throw bad(`Glyph ${id} lies outside the glyf table.`);
    if (end === start) {
      contours.u16(0);
      continue;
    }
    const data = glyf.subarray(start, end);
    const glyph = new Reader(data, 'glyf');
    const contourCount = glyph.i16(0);
    if (contourCount === 0) {
      contours.u16(0);
      continue;
    }
    if (contourCount < 0) {
      contours.u16(0xffff);
      boxBitmap[id >> 3]! |= 0x80 >> (id & 7);
      boxes.put(glyph.slice(2, 8));
      let at = 10;
      let flags: number;
      let hasInstructions = false;
      do {
        flags = glyph.u16(at);
        const length = componentLength(flags);
        composites.put(glyph.slice(at, length));
        at += length;
        if (flags & WE_HAVE_INSTRUCTIONS) hasInstructions = true;
      } while (flags & MORE_COMPONENTS);
      if (hasInstructions) {
        const size = glyph.u16(at);
        putU255(glyphs, size);
        instructions.put(glyph.slice(at + 2, size));
      }
      continue;
    }
    contours.u16(contourCount);
    const outline = readSimple(glyph, contourCount);
    let last = -1;
    for (const point of outline.ends) {
      if (point < last) throw bad(`Glyph ${id} has contours that end before they begin.`);
      putU255(points, point - last);
      last = point;
    }
    if (outline.overlap) {
      anyOverlap = true;
      overlapBitmap[id >> 3]! |= 0x80 >> (id & 7);
    }
    let x = 0;
    let y = 0;
    let xMin = 0x7fff;
    let yMin = 0x7fff;
    let xMax = -0x8000;
    let yMax = -0x8000;
    for (let i = 0; i < outline.count; i++) {
      const dx = outline.dx[i]!;
      const dy = outline.dy[i]!;
      putTriplet(flagStream, glyphs, dx, dy, outline.on[i]! === 1);
      x += dx;
      y += dy;
      if (x < xMin) xMin = x;
      if (x > xMax) xMax = x;
      if (y < yMin) yMin = y;
      if (y > yMax) yMax = y;
    }
    if (outline.count === 0) xMin = yMin = xMax = yMax = 0;
    if (glyph.i16(2) !== xMin || glyph.i16(4) !== yMin || glyph.i16(6) !== xMax || glyph.i16(8) !== yMax) {
      boxBitmap[id >> 3]! |= 0x80 >> (id & 7);
      boxes.put(glyph.slice(2, 8));
    }
    putU255(glyphs, outline.instructions.length);
    instructions.put(outline.instructions);
  }

  const out = new Writer(glyf.length);
  out.u16(0);
  out.u16(anyOverlap ? OVERLAP_BITMAP_PRESENT : 0);
  out.u16(numGlyphs);
  out.u16(longFormat ? 1 : 0);
  for (const stream of [contours, points, flagStream, glyphs, composites]) out.u32(stream.length);
  out.u32(boxBitmap.length + boxes.length);
  out.u32(instructions.length);
  for (const stream of [contours, points, flagStream, glyphs, composites]) out.put(stream.done());
  out.put(boxBitmap);
  out.put(boxes.done());
  out.put(instructions.done());
  if (anyOverlap) out.put(overlapBitmap);
  return out.done();
}

interface SimpleOutline {
  ends: number[];
  count: number;
  dx: Int32Array;
  dy: Int32Array;
  on: Uint8Array;
  overlap: boolean;
  instructions: Uint8Array;
}

function readSimple(glyph: Reader, contourCount: number): SimpleOutline {
  const ends: number[] = [];
  for (let i = 0; i < contourCount; i++) ends.push(glyph.u16(10 + 2 * i));
  const count = ends[ends.length - 1]! + 1;
  let at = 10 + 2 * contourCount;
  const size = glyph.u16(at);
  const instructions = glyph.slice(at + 2, size);
  at += 2 + size;
  // Every 255 repeats cost two bytes, so a count far beyond the data is caught before allocating much.
  if (count > (glyph.length - at) * 128) throw bad('A glyph claims more points than it has data for.');
  const flags = new Uint8Array(count);
  for (let i = 0; i < count;) {
    const flag = glyph.u8(at++);
    flags[i++] = flag;
    if (flag & REPEAT) {
      const times = glyph.u8(at++);
      if (i + times > count) throw bad('A glyph repeats a flag past its last point.');
      flags.fill(flag, i, i + times);
      i += times;
    }
  }
  const dx = new Int32Array(count);
  const dy = new Int32Array(count);
  for (let i = 0; i < count; i++) {
    const flag = flags[i]!;
    if (flag & X_SHORT) dx[i] = flag & X_SAME_OR_POSITIVE ? glyph.u8(at++) : -glyph.u8(at++);
    else if (!(flag & X_SAME_OR_POSITIVE)) {
      dx[i] = glyph.i16(at);
      at += 2;
    }
  }
  for (let i = 0; i < count; i++) {
    const flag = flags[i]!;
    if (flag & Y_SHORT) dy[i] = flag & Y_SAME_OR_POSITIVE ? glyph.u8(at++) : -glyph.u8(at++);
    else if (!(flag & Y_SAME_OR_POSITIVE)) {
      dy[i] = glyph.i16(at);
      at += 2;
    }
  }
  const on = new Uint8Array(count);
  for (let i = 0; i < count; i++) on[i] = flags[i]! & ON_CURVE;
  return { ends, count, dx, dy, on, overlap: count > 0 && (flags[0]! & OVERLAP_SIMPLE) !== 0, instructions };
}

/** One point as flag and coordinate bytes. Source: WOFF 2.0, section 5.2, triplet encoding. */
function putTriplet(flags: Writer, data: Writer, dx: number, dy: number, onCurve: boolean): void {
  const ax = Math.abs(dx);
  const ay = Math.abs(dy);
  const off = onCurve ? 0 : 128;
  const xSign = dx < 0 ? 0 : 1;
  const ySign = dy < 0 ? 0 : 1;
  const signs = xSign + 2 * ySign;
  if (dx === 0 && ay < 1280) {
    flags.u8(off + ((ay & 0xf00) >> 7) + ySign);
    data.u8(ay & 0xff);
  } else if (dy === 0 && ax < 1280) {
    flags.u8(off + 10 + ((ax & 0xf00) >> 7) + xSign);
    data.u8(ax & 0xff);
  } else if (ax < 65 && ay < 65) {
    flags.u8(off + 20 + ((ax - 1) & 0x30) + (((ay - 1) & 0x30) >> 2) + signs);
    data.u8((((ax - 1) & 0xf) << 4) | ((ay - 1) & 0xf));
  } else if (ax < 769 && ay < 769) {
    flags.u8(off + 84 + 12 * (((ax - 1) & 0x300) >> 8) + (((ay - 1) & 0x300) >> 6) + signs);
    data.u8((ax - 1) & 0xff);
    data.u8((ay - 1) & 0xff);
  } else if (ax < 4096 && ay < 4096) {
    flags.u8(off + 120 + signs);
    data.u8(ax >> 4);
    data.u8(((ax & 0xf) << 4) | (ay >> 8));
    data.u8(ay & 0xff);
  } else {
    flags.u8(off + 124 + signs);
    data.u16(ax);
    data.u16(ay);
  }
}

export interface RestoredGlyf {
  glyf: Uint8Array;
  loca: Uint8Array;
  longFormat: boolean;
  /** xMin of each glyph, needed to restore a transformed hmtx. */
  xMins: Int16Array;
}

/**
 * Restores glyf and loca from the transformed table.
 * Source: WOFF 2.0 (W3C Recommendation), section 5.1 to 5.3.
 * @throws FontError when the streams do not add up.
 */
export function restoreGlyf(data: Uint8Array): RestoredGlyf {
  const table = new Reader(data, 'glyf');
  const optionFlags = table.u16(2);
  const numGlyphs = table.u16(4);
  let longFormat = table.u16(6) !== 0;
  const sizes: number[] = [];
  for (let i = 0; i < 7; i++) sizes.push(table.u32(8 + 4 * i));
  let at = 36;
  const streams = sizes.map((size) => {
    const stream = new Cursor(new Reader(table.slice(at, size), 'glyf'));
    at += size;
    return stream;
  });
  const [contours, points, flagStream, glyphs, composites, boxes, instructions] = streams as [
    Cursor,
    Cursor,
    Cursor,
    Cursor,
    Cursor,
    Cursor,
    Cursor,
  ];
  const overlapBitmap = optionFlags & OVERLAP_BITMAP_PRESENT ? table.slice(at, Math.floor((numGlyphs + 7) / 8)) : null;
  const boxBitmap = boxes.bytes(4 * Math.floor((numGlyphs + 31) / 32));

  const out = new Writer(data.length * 2);
  const offsets = new Uint32Array(numGlyphs + 1);
  const xMins = new Int16Array(numGlyphs);
  for (let id = 0; id < numGlyphs; id++) {
    offsets[id] = out.length;
    const count = contours.u16();
    const hasBox = (boxBitmap[id >> 3]! & (0x80 >> (id & 7))) !== 0;
    if (count === 0) {
      if (hasBox) throw bad(`Glyph ${id} is empty and yet has a bounding box.`);
      continue;
    }
    if (count === 0xffff) {
      if (!hasBox) throw bad(`Glyph ${id} is composite and has no bounding box.`);
      const box = boxes.bytes(8);
      xMins[id] = new Reader(box).i16(0);
      out.u16(0xffff);
      out.put(box);
      let flags: number;
      let hasInstructions = false;
      do {
        flags = composites.reader.u16(composites.at);
        out.put(composites.bytes(componentLength(flags)));
        if (flags & WE_HAVE_INSTRUCTIONS) hasInstructions = true;
      } while (flags & MORE_COMPONENTS);
      if (hasInstructions) {
        const size = glyphs.u255();
        out.u16(size);
        out.put(instructions.bytes(size));
      }
    } else {
      const overlap = overlapBitmap !== null && (overlapBitmap[id >> 3]! & (0x80 >> (id & 7))) !== 0;
      const box = hasBox ? boxes.bytes(8) : null;
      xMins[id] = writeSimple(out, count, points, flagStream, glyphs, instructions, box, overlap);
    }
    out.pad4();
  }
  offsets[numGlyphs] = out.length;
  // A short loca cannot address what the glyphs may have grown to.
  if (!longFormat && out.length > 0x1fffe) longFormat = true;
  const loca = new Writer((numGlyphs + 1) * (longFormat ? 4 : 2));
  for (const offset of offsets) {
    if (longFormat) loca.u32(offset);
    else loca.u16(offset / 2);
  }
  return { glyf: out.done(), loca: loca.done(), longFormat, xMins };
}

/**
 * Restores one simple glyph and returns its xMin.
 * @throws FontError when it is damaged or does not fit
 */
function writeSimple(
  out: Writer,
  contourCount: number,
  points: Cursor,
  flagStream: Cursor,
  glyphs: Cursor,
  instructions: Cursor,
  box: Uint8Array | null,
  overlap: boolean,
): number {
  const ends: number[] = [];
  let count = 0;
  for (let i = 0; i < contourCount; i++) {
    count += points.u255();
    if (count > 0xffff) throw bad('A glyph has more points than a font can hold.');
    ends.push(count - 1);
  }
  flagStream.reader.need(flagStream.at, count);
  const dx = new Int32Array(count);
  const dy = new Int32Array(count);
  const on = new Uint8Array(count);
  let x = 0;
  let y = 0;
  let xMin = 0x7fff;
  let yMin = 0x7fff;
  let xMax = -0x8000;
  let yMax = -0x8000;
  for (let i = 0; i < count; i++) {
    const byte = flagStream.u8();
    on[i] = byte & 0x80 ? 0 : 1;
    const flag = byte & 0x7f;
    let px = 0;
    let py = 0;
    if (flag < 10) {
      py = sign(flag, ((flag & 14) << 7) + glyphs.u8());
    } else if (flag < 20) {
      px = sign(flag, (((flag - 10) & 14) << 7) + glyphs.u8());
    } else if (flag < 84) {
      const b0 = flag - 20;
      const b1 = glyphs.u8();
      px = sign(flag, 1 + (b0 & 0x30) + (b1 >> 4));
      py = sign(flag >> 1, 1 + ((b0 & 0x0c) << 2) + (b1 & 0x0f));
    } else if (flag < 120) {
      const b0 = flag - 84;
      px = sign(flag, 1 + (Math.floor(b0 / 12) << 8) + glyphs.u8());
      py = sign(flag >> 1, 1 + (((b0 % 12) >> 2) << 8) + glyphs.u8());
    } else if (flag < 124) {
      const b1 = glyphs.u8();
      const b2 = glyphs.u8();
      px = sign(flag, (b1 << 4) + (b2 >> 4));
      py = sign(flag >> 1, ((b2 & 0x0f) << 8) + glyphs.u8());
    } else {
      px = sign(flag, glyphs.u16());
      py = sign(flag >> 1, glyphs.u16());
    }
    dx[i] = px;
    dy[i] = py;
    x += px;
    y += py;
    if (x < xMin) xMin = x;
    if (x > xMax) xMax = x;
    if (y < yMin) yMin = y;
    if (y > yMax) yMax = y;
  }
  if (count === 0) xMin = yMin = xMax = yMax = 0;
  const size = glyphs.u255();
  out.u16(contourCount);
  if (box) {
    out.put(box);
    xMin = new Reader(box).i16(0);
  } else for (const value of [xMin, yMin, xMax, yMax]) out.u16(value & 0xffff);
  for (const end of ends) out.u16(end);
  out.u16(size);
  out.put(instructions.bytes(size));
  putPoints(out, count, dx, dy, on, overlap);
  return xMin;
}

function sign(flag: number, value: number): number {
  return flag & 1 ? value : -value;
}

/** Flags with repeats, then x, then y, each as short as the format allows. Source: OpenType, glyf table. */
function putPoints(out: Writer, count: number, dx: Int32Array, dy: Int32Array, on: Uint8Array, overlap: boolean): void {
  let previous = -1;
  let repeats = 0;
  const flush = (): void => {
    if (previous < 0) return;
    out.u8(repeats > 0 ? previous | REPEAT : previous);
    if (repeats > 0) out.u8(repeats);
  };
  for (let i = 0; i < count; i++) {
    let flag = on[i]! ? ON_CURVE : 0;
    if (overlap && i === 0) flag |= OVERLAP_SIMPLE;
    const x = dx[i]!;
    const y = dy[i]!;
    if (x === 0) flag |= X_SAME_OR_POSITIVE;
    else if (x > -256 && x < 256) flag |= X_SHORT | (x > 0 ? X_SAME_OR_POSITIVE : 0);
    if (y === 0) flag |= Y_SAME_OR_POSITIVE;
    else if (y > -256 && y < 256) flag |= Y_SHORT | (y > 0 ? Y_SAME_OR_POSITIVE : 0);
    if (flag === previous && repeats < 255) repeats++;
    else {
      flush();
      previous = flag;
      repeats = 0;
    }
  }
  flush();
  for (const deltas of [dx, dy]) {
    for (let i = 0; i < count; i++) {
      const delta = deltas[i]!;
      if (delta === 0) continue;
      if (delta > -256 && delta < 256) out.u8(Math.abs(delta));
      else out.u16(delta & 0xffff);
    }
  }
}
