import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';

/** An INDEX: a run of byte strings. Source: Adobe Technical Note 5176, section 5; OpenType, CFF2. */
export interface CffIndex {
  count: number;
  /** Where what follows begins. */
  end: number;
  /** @throws FontError when there is no such entry */
  get(i: number): Uint8Array;
}

/**
 * Opens an INDEX; `strict` looks at every offset at once.
 * @throws FontError when it is damaged
 */
export function readIndex(r: Reader, at: number, isCff2: boolean, strict = false): CffIndex {
  const count = isCff2 ? r.u32(at) : r.u16(at);
  const head = isCff2 ? 4 : 2;
  if (count === 0) return { count, end: at + head, get: () => new Uint8Array(0) };
  const size = r.u8(at + head);
  if (size < 1 || size > 4)
    throw new FontError('bad-table', 'An index of the CFF table has offsets of an impossible size.', { table: 'CFF ', offset: at });
  const offsets = at + head + 1;
  r.need(offsets, (count + 1) * size);
  const base = offsets + (count + 1) * size - 1;
  const damaged = (): FontError => new FontError('bad-table', 'An index of the CFF table does not add up.', { table: 'CFF ', offset: at });
  const offset = (i: number): number => {
    let value = 0;
    for (let k = 0; k < size; k++) value = value * 256 + r.u8(offsets + i * size + k);
    return value;
  };
  if (offset(0) !== 1) throw damaged();
  r.need(base + 1, offset(count) - 1);
  if (strict) for (let i = 0; i < count; i++) if (offset(i + 1) < offset(i)) throw damaged();
  return {
    count,
    end: base + offset(count),
    get: (i) => {
      if (!(i >= 0 && i < count)) throw new FontError('bad-table', 'A CFF program calls a part that is not there.', { table: 'CFF ' });
      const start = offset(i);
      return r.slice(base + start, offset(i + 1) - start);
    },
  };
}

/**
 * Writes an INDEX with the smallest offsets that do.
 * @throws FontError when it is damaged or does not fit
 */
export function writeIndex(w: Writer, entries: readonly Uint8Array[], isCff2: boolean): void {
  if (isCff2) w.u32(entries.length);
  else if (entries.length > 0xffff) throw new FontError('does-not-fit', 'A CFF table cannot hold so many entries.', { table: 'CFF ' });
  else w.u16(entries.length);
  if (entries.length === 0) return;
  const end = entries.reduce((sum, e) => sum + e.length, 1);
  const size = end <= 0xff ? 1 : end <= 0xffff ? 2 : end <= 0xffffff ? 3 : 4;
  w.u8(size);
  let at = 1;
  const put = (): void => {
    for (let i = size - 1; i >= 0; i--) w.u8(Math.floor(at / 256 ** i) & 0xff);
  };
  put();
  for (const entry of entries) {
    at += entry.length;
    put();
  }
  for (const entry of entries) w.put(entry);
}

/** Operators of dictionaries; those of two bytes count as 1200 plus the second. Source: Technical Note 5176, appendix H; CFF2. */
export const DICT = {
  version: 0,
  Notice: 1,
  FullName: 2,
  FamilyName: 3,
  Weight: 4,
  FontBBox: 5,
  BlueValues: 6,
  OtherBlues: 7,
  FamilyBlues: 8,
  FamilyOtherBlues: 9,
  StdHW: 10,
  StdVW: 11,
  UniqueID: 13,
  XUID: 14,
  charset: 15,
  Encoding: 16,
  CharStrings: 17,
  Private: 18,
  Subrs: 19,
  defaultWidthX: 20,
  nominalWidthX: 21,
  vsindex: 22,
  blend: 23,
  vstore: 24,
  Copyright: 1200,
  isFixedPitch: 1201,
  ItalicAngle: 1202,
  UnderlinePosition: 1203,
  UnderlineThickness: 1204,
  PaintType: 1205,
  CharstringType: 1206,
  FontMatrix: 1207,
  StrokeWidth: 1208,
  BlueScale: 1209,
  BlueShift: 1210,
  BlueFuzz: 1211,
  StemSnapH: 1212,
  StemSnapV: 1213,
  ForceBold: 1214,
  LanguageGroup: 1217,
  ExpansionFactor: 1218,
  initialRandomSeed: 1219,
  SyntheticBase: 1220,
  PostScript: 1221,
  BaseFontName: 1222,
  BaseFontBlend: 1223,
  ROS: 1230,
  CIDFontVersion: 1231,
  CIDFontRevision: 1232,
  CIDFontType: 1233,
  CIDCount: 1234,
  UIDBase: 1235,
  FDArray: 1236,
  FDSelect: 1237,
  FontName: 1238,
} as const;
export type DictOperator = (typeof DICT)[keyof typeof DICT];

/** Operands by operator. In CFF2 `blend` stands among them where values vary. */
export type CffDict = Map<number, (number | 'blend')[]>;

const REAL_NIBBLES = ['0', '1', '2', '3', '4', '5', '6', '7', '8', '9', '.', 'e', 'e-', '', '-'];

/** Source: Adobe Technical Note 5176, section 4. @throws FontError when it is cut short */
export function readDict(data: Uint8Array): CffDict {
  const r = new Reader(data, 'CFF ');
  const dict: CffDict = new Map();
  let operands: (number | 'blend')[] = [];
  for (let at = 0; at < data.length;) {
    const b = r.u8(at++);
    if (b === DICT.blend) operands.push('blend');
    else if (b <= 24) {
      dict.set(b === 12 ? 1200 + r.u8(at++) : b, operands);
      operands = [];
    } else if (b === 28) {
      operands.push(r.i16(at));
      at += 2;
    } else if (b === 29) {
      operands.push(r.i32(at));
      at += 4;
    } else if (b === 30) {
      let text = '';
      for (let done = false; !done;) {
        const byte = r.u8(at++);
        for (const nibble of [byte >> 4, byte & 15]) {
          if (nibble === 15) done = true;
          else if (!done) text += REAL_NIBBLES[nibble] ?? '';
        }
      }
      operands.push(Number(text) || 0);
    } else if (b >= 32 && b <= 246) operands.push(b - 139);
    else if (b >= 247 && b <= 250) operands.push((b - 247) * 256 + r.u8(at++) + 108);
    else if (b >= 251 && b <= 254) operands.push(-(b - 251) * 256 - r.u8(at++) - 108);
  }
  return dict;
}

/** A number operand of a dictionary without blending, or the default. */
export function operand(dict: CffDict, operator: DictOperator, index = 0): number | undefined {
  const value = dict.get(operator)?.[index];
  return typeof value === 'number' ? value : undefined;
}

/** Numbers as dictionaries and (below 2^15) charstrings write them. */
export function putInteger(w: Writer, v: number): void {
  if (v >= -107 && v <= 107) w.u8(v + 139);
  else if (v >= 108 && v <= 1131) {
    w.u8(((v - 108) >> 8) + 247);
    w.u8((v - 108) & 0xff);
  } else if (v >= -1131 && v <= -108) {
    w.u8(((-v - 108) >> 8) + 251);
    w.u8((-v - 108) & 0xff);
  } else if (v >= -0x8000 && v <= 0x7fff) {
    w.u8(28);
    w.u16(v & 0xffff);
  } else {
    w.u8(29);
    w.u32(v >>> 0);
  }
}

function putReal(w: Writer, value: number): void {
  const nibbles: number[] = [];
  const text = String(value)
    .replace('e+', 'e')
    .replace(/^(-?)0\./, '$1.');
  for (let i = 0; i < text.length; i++) {
    if (text[i] === 'e' && text[i + 1] === '-') {
      nibbles.push(12);
      i++;
    } else nibbles.push(text[i] === '-' ? 14 : text[i] === '.' ? 10 : text[i] === 'e' ? 11 : Number(text[i]));
  }
  nibbles.push(15);
  if (nibbles.length % 2 !== 0) nibbles.push(15);
  w.u8(30);
  for (let i = 0; i < nibbles.length; i += 2) w.u8((nibbles[i]! << 4) | nibbles[i + 1]!);
}

/** Writes a dictionary; operands of `wide` take five bytes each, so that offsets can be filled in without moving anything. */
export function writeDict(dict: CffDict, wide: ReadonlySet<number>): Uint8Array {
  const w = new Writer();
  for (const [operator, operands] of dict) {
    for (const value of operands) {
      if (value === 'blend') w.u8(DICT.blend);
      else if (wide.has(operator)) {
        w.u8(29);
        w.u32(value >>> 0);
      } else if (Number.isInteger(value) && Math.abs(value) < 2 ** 31) putInteger(w, value);
      else putReal(w, value);
    }
    if (operator >= 1200) {
      w.u8(12);
      w.u8(operator - 1200);
    } else w.u8(operator);
  }
  return w.done();
}
