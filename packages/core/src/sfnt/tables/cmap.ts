import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { searchFields } from '../write.js';
import { Writer } from '../writer.js';
import type { Table } from '../declare/index.js';
import { MAC_ROMAN_HIGH } from './mac-roman.js';

/** What one character map says: code points ascending, each with its glyph. */
export interface Cmap {
  codePoints: Uint32Array;
  glyphs: Uint16Array;
  /** 'unicode', or 'symbol' for platform 3 encoding 0, or 'mac-roman' where nothing better is there. */
  encoding: 'unicode' | 'symbol' | 'mac-roman';
  /** Number of code points whose glyph is not in the font; they are left out of `codePoints`. */
  dangling: number;
  faults: string[];
}

/** Order of preference, as common to shapers: full Unicode before the basic plane, Windows before Unicode platform. */
const PREFERENCE: readonly [number, number][] = [
  [3, 10],
  [0, 6],
  [0, 4],
  [3, 1],
  [0, 3],
  [0, 2],
  [0, 1],
  [0, 0],
];

/** Collects pairs and keeps the work bounded whatever the table claims. */
class Pairs {
  private codePoints = new Uint32Array(512);
  private glyphs = new Uint16Array(512);
  private count = 0;
  private sorted = true;
  dangling = 0;
  private visited = 0;
  constructor(private readonly numGlyphs: number) {}

  add(codePoint: number, glyph: number): void {
    if (glyph === 0) return;
    if (glyph >= this.numGlyphs) {
      this.dangling++;
      return;
    }
    if (this.count === this.codePoints.length) {
      const codePoints = new Uint32Array(this.count * 2);
      codePoints.set(this.codePoints);
      this.codePoints = codePoints;
      const glyphs = new Uint16Array(this.count * 2);
      glyphs.set(this.glyphs);
      this.glyphs = glyphs;
    }
    if (this.count > 0 && codePoint <= this.codePoints[this.count - 1]!) this.sorted = false;
    this.codePoints[this.count] = codePoint;
    this.glyphs[this.count++] = glyph;
  }

  /**
   * Called with the size of each run before it is walked.
   * @throws FontError when it is damaged or does not fit
   */
  spend(size: number): void {
    this.visited += size;
    if (this.visited > 2 * 0x110000)
      throw new FontError('bad-table', 'The character map lists the same characters over and over: it is damaged.', { table: 'cmap' });
  }

  done(): { codePoints: Uint32Array; glyphs: Uint16Array } {
    const codePoints = this.codePoints.subarray(0, this.count);
    const glyphs = this.glyphs.subarray(0, this.count);
    if (this.sorted) return { codePoints: codePoints.slice(), glyphs: glyphs.slice() };
    // The first mapping of a code point wins, as a binary search over sorted segments would find it.
    const map = new Map<number, number>();
    for (let i = 0; i < this.count; i++) if (!map.has(codePoints[i]!)) map.set(codePoints[i]!, glyphs[i]!);
    const keys = Uint32Array.from(map.keys()).sort();
    return { codePoints: keys, glyphs: Uint16Array.from(keys, (key) => map.get(key)!) };
  }
}

/**
 * Reads the best character map of the font; null when there is none that can be read.
 * Source: OpenType specification, cmap, formats 0, 2 (refused), 4, 6, 10, 12 and 13.
 * @throws FontError when the chosen subtable is damaged.
 */
export function readCmap(data: Uint8Array, numGlyphs: number): Cmap | null {
  const r = new Reader(data, 'cmap');
  const count = r.u16(2);
  r.need(4, 8 * count);
  const subtables = Array.from({ length: count }, (_, i) => ({
    platform: r.u16(4 + 8 * i),
    encoding: r.u16(6 + 8 * i),
    offset: r.u32(8 + 8 * i),
  }));
  const find = (platform: number, encoding: number): number | undefined =>
    subtables.find((s) => s.platform === platform && s.encoding === encoding && s.offset < data.length && r.u16(s.offset) !== 14)?.offset;
  for (const [platform, encoding] of PREFERENCE) {
    const offset = find(platform, encoding);
    if (offset !== undefined) return readSubtable(r, offset, numGlyphs, 'unicode');
  }
  const symbol = find(3, 0);
  if (symbol !== undefined) return readSubtable(r, symbol, numGlyphs, 'symbol');
  const mac = find(1, 0);
  if (mac !== undefined) return fromMacRoman(readSubtable(r, mac, numGlyphs, 'mac-roman'));
  return null;
}

/** Restates a map of Mac OS Roman bytes in Unicode. */
function fromMacRoman(cmap: Cmap): Cmap {
  const pairs: [number, number][] = [];
  // Its characters are bytes; what a damaged map has beyond them means nothing.
  for (let i = 0; i < cmap.codePoints.length && cmap.codePoints[i]! < 256; i++) {
    const code = cmap.codePoints[i]!;
    pairs.push([code < 128 ? code : MAC_ROMAN_HIGH[code - 128]!.codePointAt(0)!, cmap.glyphs[i]!]);
  }
  pairs.sort((a, b) => a[0] - b[0]);
  return { ...cmap, codePoints: Uint32Array.from(pairs, (p) => p[0]), glyphs: Uint16Array.from(pairs, (p) => p[1]) };
}

function readSubtable(r: Reader, offset: number, numGlyphs: number, encoding: Cmap['encoding']): Cmap {
  const pairs = new Pairs(numGlyphs);
  const faults: string[] = [];
  const format = r.u16(offset);
  switch (format) {
    case 0:
      for (let c = 0; c < 256; c++) pairs.add(c, r.u8(offset + 6 + c));
      break;
    case 4:
      readFormat4(r, offset, pairs, faults);
      break;
    case 6: {
      const first = r.u16(offset + 6);
      const entries = r.u16(offset + 8);
      r.need(offset + 10, 2 * entries);
      for (let i = 0; i < entries; i++) pairs.add(first + i, r.u16(offset + 10 + 2 * i));
      break;
    }
    case 10: {
      const first = r.u32(offset + 12);
      const entries = r.u32(offset + 16);
      r.need(offset + 20, 2 * entries);
      for (let i = 0; i < entries && first + i <= 0x10ffff; i++) pairs.add(first + i, r.u16(offset + 20 + 2 * i));
      break;
    }
    case 12:
    case 13:
      readGroups(r, offset, format, pairs, faults);
      break;
    default:
      throw new FontError('bad-table', `The character map uses format ${format}, which this font should not use.`, {
        table: 'cmap',
        offset,
      });
  }
  return { ...pairs.done(), encoding, dangling: pairs.dangling, faults };
}

function readFormat4(r: Reader, offset: number, pairs: Pairs, faults: string[]): void {
  const segments = r.u16(offset + 6) >> 1;
  const ends = offset + 14;
  const starts = ends + 2 * segments + 2;
  const deltas = starts + 2 * segments;
  const ranges = deltas + 2 * segments;
  r.need(ends, 8 * segments + 2);
  let previous = -1;
  for (let i = 0; i < segments; i++) {
    const start = r.u16(starts + 2 * i);
    const end = r.u16(ends + 2 * i);
    const delta = r.u16(deltas + 2 * i);
    const rangeOffset = r.u16(ranges + 2 * i);
    if (start > end) {
      faults.push('A run of the character map ends before it begins.');
      continue;
    }
    if (start <= previous && faults.length < 3) faults.push('Runs of the character map overlap or are out of order.');
    previous = end;
    pairs.spend(end - start + 1);
    for (let c = start; c <= end; c++) {
      // U+FFFF is not a character; the last segment only closes the table.
      if (c === 0xffff) continue;
      if (rangeOffset === 0) pairs.add(c, (c + delta) & 0xffff);
      else {
        const at = ranges + 2 * i + rangeOffset + 2 * (c - start);
        if (at + 2 > r.length) {
          faults.push('A run of the character map points past the end of the table.');
          break;
        }
        const glyph = r.u16(at);
        if (glyph !== 0) pairs.add(c, (glyph + delta) & 0xffff);
      }
    }
  }
}

function readGroups(r: Reader, offset: number, format: 12 | 13, pairs: Pairs, faults: string[]): void {
  const groups = r.u32(offset + 12);
  r.need(offset + 16, 12 * groups);
  let previous = -1;
  for (let i = 0; i < groups; i++) {
    const at = offset + 16 + 12 * i;
    const start = r.u32(at);
    const stated = r.u32(at + 4);
    const end = Math.min(stated, 0x10ffff);
    if (stated > 0x10ffff && faults.length < 3) faults.push('A group of the character map reaches past the last character there is.');
    const glyph = r.u32(at + 8);
    if (start > end) {
      if (faults.length < 3) faults.push('A group of the character map ends before it begins.');
      continue;
    }
    if (start <= previous) {
      if (faults.length < 3) faults.push('Groups of the character map overlap or are out of order.');
      continue;
    }
    previous = end;
    pairs.spend(end - start + 1);
    for (let c = start; c <= end; c++) pairs.add(c, format === 13 ? glyph : glyph + (c - start));
  }
}

/** Glyph of a code point by binary search, or 0. */
export function glyphOf(cmap: Cmap, codePoint: number): number {
  let low = 0;
  let high = cmap.codePoints.length - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    const value = cmap.codePoints[middle]!;
    if (value === codePoint) return cmap.glyphs[middle]!;
    if (value < codePoint) low = middle + 1;
    else high = middle - 1;
  }
  return 0;
}

/**
 * What is wrong with any of the Unicode subtables, not only the one that is used, since browsers look at all of them;
 * null when nothing is. @throws FontError when one is cut short.
 */
export function checkCmapSubtables(data: Uint8Array, numGlyphs: number): string | null {
  const r = new Reader(data, 'cmap');
  const seen = new Set<number>();
  for (let i = 0; i < r.u16(2); i++) {
    const platform = r.u16(4 + 8 * i);
    const offset = r.u32(8 + 8 * i);
    if ((platform !== 0 && platform !== 3) || seen.has(offset)) continue;
    seen.add(offset);
    const format = r.u16(offset);
    if (format !== 4 && format !== 12 && format !== 13) continue;
    const { faults, dangling } = readSubtable(r, offset, numGlyphs, 'unicode');
    if (faults[0]) return faults[0];
    if (dangling > 0) return `The character map sends ${dangling} characters to glyphs that do not exist.`;
  }
  return null;
}

/** A list of the character map: characters ascending, each with its glyph. Formats 2 and 8 of old fonts are kept as bytes. */
export type CmapSubtable =
  | { format: 0 | 4 | 6 | 10 | 12 | 13; language: number; codePoints: Uint32Array; glyphs: Uint16Array }
  | { format: 14; varSelectors: VariationSelector[] }
  | { format: 2 | 8; raw: Uint8Array };

/** Characters whose form a variation selector changes. */
export interface VariationSelector {
  varSelector: number;
  /** Runs [first, last, ...] that keep their usual glyph; null when the list is absent. */
  defaultRuns: number[] | null;
  nonDefault: { unicodeValue: number; glyphID: number }[] | null;
}

export interface CmapTable {
  version: number;
  /** Several encodings may share a list: `subtable` counts in `subtables`. */
  encodingRecords: { platformID: number; encodingID: number; subtable: number }[];
  subtables: CmapSubtable[];
}

/** The whole character map. Source: OpenType specification, cmap, formats 0, 4, 6, 10, 12, 13 and 14. */
export const CMAP: Table<CmapTable> = {
  tag: 'cmap',
  read(data) {
    const r = new Reader(data, 'cmap');
    const subtables: CmapSubtable[] = [];
    const places = new Map<number, number>();
    const encodingRecords = Array.from({ length: r.u16(2) }, (_, i) => {
      const offset = r.u32(8 + 8 * i);
      if (!places.has(offset)) {
        places.set(offset, subtables.length);
        subtables.push(readWhole(r, offset));
      }
      return { platformID: r.u16(4 + 8 * i), encodingID: r.u16(6 + 8 * i), subtable: places.get(offset)! };
    });
    return { version: r.u16(0), encodingRecords, subtables };
  },
  write({ version, encodingRecords, subtables }) {
    const w = new Writer();
    w.u16(version);
    w.u16(encodingRecords.length);
    const parts = subtables.map(writeSubtable);
    const starts: number[] = [];
    let at = 4 + 8 * encodingRecords.length;
    for (const part of parts) {
      starts.push(at);
      at += part.length;
    }
    for (const { platformID, encodingID, subtable } of encodingRecords) {
      w.u16(platformID);
      w.u16(encodingID);
      w.u32(starts[subtable]!);
    }
    for (const part of parts) w.put(part);
    return w.done();
  },
};

function readWhole(r: Reader, offset: number): CmapSubtable {
  const format = r.u16(offset);
  if (format === 14) return { format, varSelectors: readSelectors(r, offset) };
  if (format === 2 || format === 8) return { format, raw: r.slice(offset, format === 2 ? r.u16(offset + 2) : r.u32(offset + 4)) };
  const { codePoints, glyphs } = readSubtable(r, offset, 0x10000, 'unicode');
  const language = format < 8 ? r.u16(offset + 4) : r.u32(offset + 8);
  return { format: format as 0 | 4 | 6 | 10 | 12 | 13, language, codePoints, glyphs };
}

function readSelectors(r: Reader, start: number): VariationSelector[] {
  const count = r.u32(start + 6);
  r.need(start + 10, 11 * count);
  // Lists may be shared, yet all of them together cannot hold more than the table has room for.
  let left = r.length;
  const lists = (size: number, n: number): void => {
    left -= size * n;
    if (left < 0)
      throw new FontError('bad-table', 'The variation selectors of the character map lead to the same list over and over.', {
        table: 'cmap',
      });
  };
  return Array.from({ length: count }, (_, i) => {
    const at = start + 10 + 11 * i;
    const usual = r.u32(at + 3);
    const other = r.u32(at + 7);
    let defaultRuns: number[] | null = null;
    if (usual !== 0) {
      const ranges = r.u32(start + usual);
      lists(4, ranges);
      defaultRuns = [];
      for (let k = 0; k < ranges; k++) {
        const first = r.u24(start + usual + 4 + 4 * k);
        defaultRuns.push(first, first + r.u8(start + usual + 7 + 4 * k));
      }
    }
    let nonDefault: VariationSelector['nonDefault'] = null;
    if (other !== 0) {
      const n = r.u32(start + other);
      lists(5, n);
      nonDefault = Array.from({ length: n }, (_u, k) => ({
        unicodeValue: r.u24(start + other + 4 + 5 * k),
        glyphID: r.u16(start + other + 7 + 5 * k),
      }));
    }
    return { varSelector: r.u24(at), defaultRuns, nonDefault };
  });
}

const tooLarge = (format: number): FontError =>
  new FontError('does-not-fit', `A character map of format ${format} cannot hold these characters.`, { table: 'cmap' });

function writeSubtable(subtable: CmapSubtable): Uint8Array {
  switch (subtable.format) {
    case 2:
    case 8:
      return subtable.raw;
    case 14:
      return writeSelectors(subtable.varSelectors);
    case 4:
      return writeFormat4(subtable);
    case 12:
    case 13:
      return writeGroups(subtable);
    default:
      return writeArray(subtable);
  }
}

type Mapping = Exclude<CmapSubtable, { format: 14 } | { format: 2 | 8 }>;

/**
 * Formats 0, 6 and 10: one glyph a code from the first on.
 * @throws FontError when it is damaged or does not fit
 */
function writeArray({ format, language, codePoints, glyphs }: Mapping): Uint8Array {
  const first = format === 0 ? 0 : (codePoints[0] ?? 0);
  const last = format === 0 ? 255 : (codePoints[codePoints.length - 1] ?? first - 1);
  const count = last - first + 1;
  const w = new Writer(20 + 2 * count);
  w.u16(format);
  if (format === 0) {
    w.u16(262);
    w.u16(language);
  } else if (format === 6) {
    if (first > 0xffff || count > 0xffff || 10 + 2 * count > 0xffff) throw tooLarge(format);
    for (const v of [10 + 2 * count, language, first, count]) w.u16(v);
  } else {
    if (count > 0x110000) throw tooLarge(format);
    w.u16(0);
    for (const v of [20 + 2 * count, language, first, count]) w.u32(v);
  }
  for (let c = first, i = 0; c <= last; c++) {
    while (i < codePoints.length && codePoints[i]! < c) i++;
    const glyph = codePoints[i] === c ? glyphs[i]! : 0;
    if (format === 0 && (glyph > 255 || codePoints[codePoints.length - 1]! > 255)) throw tooLarge(0);
    if (format === 0) w.u8(glyph);
    else w.u16(glyph);
  }
  return w.done();
}

/**
 * Segments of format 4: runs of characters whose glyphs run along with them need no list of glyphs; shorter runs between
 * them share one.
 */
function segmentsOf(codePoints: ArrayLike<number>, glyphs: ArrayLike<number>): { start: number; end: number; listed: boolean }[] {
  const segments: { start: number; end: number; listed: boolean }[] = [];
  for (let from = 0; from < codePoints.length;) {
    let to = from + 1;
    while (to < codePoints.length && codePoints[to] === codePoints[to - 1]! + 1) to++;
    let open = -1;
    for (let i = from; i < to;) {
      let j = i + 1;
      while (j < to && glyphs[j] === glyphs[j - 1]! + 1) j++;
      // A segment of its own costs 8 bytes, a glyph in a list 2.
      const alone = j - i > 4 || (i === from && j === to) || ((i === from || j === to) && j - i > 3);
      if (alone) {
        if (open >= 0) segments.push({ start: open, end: i - 1, listed: true });
        open = -1;
        segments.push({ start: i, end: j - 1, listed: false });
      } else if (open < 0) open = i;
      i = j;
    }
    if (open >= 0) segments.push({ start: open, end: to - 1, listed: true });
    from = to;
  }
  return segments;
}

function writeFormat4({ language, codePoints, glyphs }: Mapping): Uint8Array {
  if (codePoints.length > 0 && codePoints[codePoints.length - 1]! > 0xffff) throw tooLarge(4);
  const segments = segmentsOf(codePoints, glyphs);
  // The last segment closes the table; a mapping of U+FFFF itself, which is no character, is left out by all readers.
  const count = segments.length + 1;
  const listed = segments.reduce((sum, s) => sum + (s.listed ? s.end - s.start + 1 : 0), 0);
  const length = 16 + 8 * count + 2 * listed;
  if (length > 0xffff) throw tooLarge(4);
  const w = new Writer(length);
  for (const v of [4, length, language, 2 * count, ...searchFields(count, 2)]) w.u16(v);
  for (const s of segments) w.u16(codePoints[s.end]!);
  w.u16(0xffff);
  w.u16(0);
  for (const s of segments) w.u16(codePoints[s.start]!);
  w.u16(0xffff);
  for (const s of segments) w.u16(s.listed ? 0 : (glyphs[s.start]! - codePoints[s.start]!) & 0xffff);
  w.u16(1);
  let before = 0;
  segments.forEach((s, i) => {
    w.u16(s.listed ? 2 * (count - i) + 2 * before : 0);
    if (s.listed) before += s.end - s.start + 1;
  });
  w.u16(0);
  for (const s of segments) if (s.listed) for (let i = s.start; i <= s.end; i++) w.u16(glyphs[i]!);
  return w.done();
}

function writeGroups({ format, language, codePoints, glyphs }: Mapping): Uint8Array {
  const step = format === 13 ? 0 : 1;
  const groups: [start: number, end: number, glyph: number][] = [];
  codePoints.forEach((c, i) => {
    const last = groups[groups.length - 1];
    if (last && last[1] + 1 === c && last[2] + step * (c - last[0]) === glyphs[i]) last[1] = c;
    else groups.push([c, c, glyphs[i]!]);
  });
  const w = new Writer(16 + 12 * groups.length);
  w.u16(format);
  w.u16(0);
  for (const v of [16 + 12 * groups.length, language, groups.length]) w.u32(v);
  for (const group of groups) for (const v of group) w.u32(v);
  return w.done();
}

function writeSelectors(selectors: readonly VariationSelector[]): Uint8Array {
  const w = new Writer();
  const body = new Writer();
  const start = 10 + 11 * selectors.length;
  const u24 = (to: Writer, v: number): void => {
    to.u8(v >> 16);
    to.u16(v & 0xffff);
  };
  const places = selectors.map(({ defaultRuns, nonDefault }) => {
    let usual = 0;
    let other = 0;
    if (defaultRuns) {
      usual = start + body.length;
      // A range holds 256 characters at most.
      const ranges: [number, number][] = [];
      for (let i = 0; i < defaultRuns.length; i += 2)
        for (let c = defaultRuns[i]!; c <= defaultRuns[i + 1]!; c += 256) ranges.push([c, Math.min(255, defaultRuns[i + 1]! - c)]);
      body.u32(ranges.length);
      for (const [c, more] of ranges) {
        u24(body, c);
        body.u8(more);
      }
    }
    if (nonDefault) {
      other = start + body.length;
      body.u32(nonDefault.length);
      for (const { unicodeValue, glyphID } of nonDefault) {
        u24(body, unicodeValue);
        body.u16(glyphID);
      }
    }
    return { usual, other };
  });
  w.u16(14);
  w.u32(start + body.length);
  w.u32(selectors.length);
  selectors.forEach(({ varSelector }, i) => {
    u24(w, varSelector);
    w.u32(places[i]!.usual);
    w.u32(places[i]!.other);
  });
  w.put(body.done());
  return w.done();
}
