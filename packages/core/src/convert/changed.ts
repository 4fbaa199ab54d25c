import type { Face } from '../font/index.js';
import { HEAD, HHEA, HMTX, longMetricsOf, type Table, type Tables } from '../sfnt/index.js';

/** Tables that are written anew, over those of a face. */
export class Changed implements Tables {
  readonly tables: Map<string, Uint8Array>;
  private readonly values = new Map<unknown, unknown>();
  constructor(
    private readonly face: Face,
    without: readonly string[],
  ) {
    this.tables = new Map([...face.font.tables].filter(([tag]) => !without.includes(tag) && tag !== 'DSIG'));
  }
  table<T>(table: Table<T>): T | null {
    return (this.values.get(table) as T | undefined) ?? (this.tables.has(table.tag) ? this.face.table(table) : null);
  }
  need<T>(table: Table<T>): T {
    return this.table(table) ?? this.face.need(table);
  }
  put<T>(table: Table<T>, value: T): void {
    this.values.set(table, value);
    this.tables.set(table.tag, table.write(value, this));
  }
}

/** A box in whole font units. */
export interface Box {
  xMin: number;
  yMin: number;
  xMax: number;
  yMax: number;
}

/** Writes what follows from the boxes of glyphs: head, hhea and the side bearings. Advances stay. */
export function putMetrics(out: Changed, face: Face, boxes: readonly (Box | null)[], indexToLocFormat: number): void {
  const drawn = boxes.filter((b) => b !== null);
  const over = (of: (b: Box) => number, choose: (...v: number[]) => number): number =>
    drawn.reduce((most, b, i) => (i === 0 ? of(b) : choose(most, of(b))), 0);
  out.put(HEAD, {
    ...face.need(HEAD),
    xMin: over((b) => b.xMin, Math.min),
    yMin: over((b) => b.yMin, Math.min),
    xMax: over((b) => b.xMax, Math.max),
    yMax: over((b) => b.yMax, Math.max),
    indexToLocFormat,
    // Left side bearings are those of the outlines.
    flags: face.need(HEAD).flags | 2,
  });
  const { advances } = face.need(HMTX);
  const sideBearings = Int16Array.from(boxes, (b) => b?.xMin ?? 0);
  const right = boxes.flatMap((b, i) => (b ? [advances[i]! - b.xMax] : []));
  out.put(HHEA, {
    ...face.need(HHEA),
    minLeftSideBearing: over((b) => b.xMin, Math.min),
    minRightSideBearing: right.reduce((least, v) => Math.min(least, v), right[0] ?? 0),
    xMaxExtent: over((b) => b.xMax, Math.max),
    numberOfHMetrics: longMetricsOf(advances),
  });
  out.put(HMTX, { advances, sideBearings });
}

/**
 * The program that runs before any glyph of a face without instructions: dropout control at all sizes.
 * PUSHW 511, SCANCTRL, PUSHB 4, SCANTYPE. Source: OpenType specification, TrueType instruction set.
 */
export const PREP = Uint8Array.of(0xb8, 0x01, 0xff, 0x85, 0xb0, 0x04, 0x8d);

/** What differs of tables and advances that a change of outlines leaves alone; sentences. */
export function otherDifferences(before: Face, after: Face, mayDiffer: ReadonlySet<string>): string[] {
  const out: string[] = [];
  for (const [tag, bytes] of before.font.tables) {
    if (mayDiffer.has(tag)) continue;
    const now = after.bytes(tag);
    if (!now || now.length !== bytes.length || !now.every((v, i) => v === bytes[i])) out.push(`The ${tag.trim()} table differs.`);
  }
  if (before.glyphCount !== after.glyphCount) out.push('The number of glyphs differs.');
  const [a, b] = [before.need(HMTX), after.need(HMTX)];
  if (!a.advances.every((v, i) => v === b.advances[i])) out.push('Some advances differ.');
  return out;
}
