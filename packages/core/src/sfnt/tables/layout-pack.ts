import { OffsetOverflow, readWhole, writeWhole, type Data, type Field, type Table } from '../declare/index.js';
import { Reader } from '../reader.js';
import { layoutTable, type Packing, type Subtable } from './layout-common.js';

/** GSUB or GPOS: written as it is, and behind extension subtables where 16-bit offsets do not reach. */
export function layoutOf(tag: 'GSUB' | 'GPOS', types: Readonly<Record<number, Field<Subtable>>>, extensionType: number) {
  const packing: Packing = { allExtensions: false };
  const field = layoutTable(types, extensionType, packing);
  const table: Table<Data<typeof field>> = {
    tag,
    read: (data) => readWhole(field, new Reader(data, tag), tag),
    write(value) {
      try {
        return writeWhole(field, value, tag);
      } catch (error) {
        if (!(error instanceof OffsetOverflow)) throw error;
      }
      packing.allExtensions = true;
      try {
        return writeWhole(field, splitPairs(value), tag);
      } finally {
        packing.allExtensions = false;
      }
    },
  };
  return { field, table };
}

/** Bytes of pairs in one subtable, well under what 16 bits reach. */
const MOST_BYTES = 48_000;

/**
 * Pair adjustments (GPOS type 2, format 1) of many glyphs in several subtables, each with some of the first glyphs: shaping
 * goes on to the next subtable when the first one does not cover a glyph, so nothing changes.
 */
function splitPairs<T extends { lookupList: ({ lookupType: number; subtables: Subtable[] } | null)[] | null }>(value: T): T {
  const isPairs = (s: Subtable): boolean => s.format === 1 && 'pairSets' in s;
  const split = (s: Subtable): Subtable[] => {
    if (!isPairs(s)) return [s];
    const covered = s.coverage as number[];
    const sets = s.pairSets as (unknown[] | null)[];
    const bits = (n: number): number => n.toString(2).replace(/0/g, '').length;
    const entry = 2 + 2 * (bits(s.valueFormat1 as number) + bits(s.valueFormat2 as number));
    const parts: Subtable[] = [];
    let size = Infinity;
    covered.forEach((glyph, i) => {
      const length = 6 + entry * (sets[i]?.length ?? 0);
      if (size + length > MOST_BYTES) {
        parts.push({ ...s, coverage: [], pairSets: [] });
        size = 0;
      }
      const part = parts[parts.length - 1]!;
      (part.coverage as number[]).push(glyph);
      (part.pairSets as unknown[]).push(sets[i] ?? null);
      size += length;
    });
    return parts;
  };
  if (!value.lookupList) return value;
  return { ...value, lookupList: value.lookupList.map((l) => l && { ...l, subtables: l.subtables.flatMap(split) }) };
}
