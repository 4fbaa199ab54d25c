import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
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

  /** Called with the size of each run before it is walked. */
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
  const pairs = [...cmap.codePoints].map((code, i): [number, number] => [
    code < 128 ? code : MAC_ROMAN_HIGH[code - 128]!.codePointAt(0)!,
    cmap.glyphs[i]!,
  ]);
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
