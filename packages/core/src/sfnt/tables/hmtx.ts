import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import type { Table } from '../declare/index.js';
import { HHEA } from './hhea.js';
import { MAXP } from './maxp.js';
import { VHEA } from './vhea.js';

/** Advances and side bearings, one of each a glyph, in font units. */
export interface LongMetrics {
  advances: Uint16Array;
  /** Left side bearings in hmtx, top side bearings in vmtx. */
  sideBearings: Int16Array;
}

function read(data: Uint8Array, tag: string, longCount: number, numGlyphs: number): LongMetrics {
  const r = new Reader(data, tag);
  const long = Math.min(longCount, numGlyphs);
  r.need(0, 4 * long + 2 * (numGlyphs - long));
  const advances = new Uint16Array(numGlyphs);
  const sideBearings = new Int16Array(numGlyphs);
  for (let i = 0; i < numGlyphs; i++) {
    advances[i] = i < long ? r.u16(4 * i) : long > 0 ? advances[long - 1]! : 0;
    sideBearings[i] = i < long ? r.i16(4 * i + 2) : r.i16(4 * long + 2 * (i - long));
  }
  return { advances, sideBearings };
}

/** How many advances must be written: later glyphs repeat the last one. */
export function longMetricsOf(advances: ArrayLike<number>): number {
  let count = advances.length;
  while (count > 1 && advances[count - 1] === advances[count - 2]) count--;
  return count;
}

function write({ advances, sideBearings }: LongMetrics, tag: string, long: number): Uint8Array {
  if (long > advances.length || (advances.length > 0 && long < longMetricsOf(advances)))
    throw new FontError('does-not-fit', `The ${tag} table has more different advances than its header says.`, { table: tag });
  const w = new Writer(4 * advances.length);
  advances.forEach((advance, i) => {
    if (i < long) w.u16(advance);
    w.u16(sideBearings[i]! & 0xffff);
  });
  return w.done();
}

/** Horizontal metrics. Source: OpenType specification, hmtx. */
export const HMTX: Table<LongMetrics> = {
  tag: 'hmtx',
  read: (data, tables) => read(data, 'hmtx', tables.need(HHEA).numberOfHMetrics, tables.need(MAXP).numGlyphs),
  write: (value, tables) => write(value, 'hmtx', tables.need(HHEA).numberOfHMetrics),
};

/** Vertical metrics. Source: OpenType specification, vmtx. */
export const VMTX: Table<LongMetrics> = {
  tag: 'vmtx',
  read: (data, tables) => read(data, 'vmtx', tables.need(VHEA).numOfLongVerMetrics, tables.need(MAXP).numGlyphs),
  write: (value, tables) => write(value, 'vmtx', tables.need(VHEA).numOfLongVerMetrics),
};

/** Advance widths without reading the whole table; a table cut short after its widths still has them. Font units. */
export class Hmtx {
  private readonly reader: Reader;
  /** @throws FontError when the table is too short for its widths */
  constructor(
    data: Uint8Array,
    readonly numberOfHMetrics: number,
  ) {
    this.reader = new Reader(data, 'hmtx');
    this.reader.need(0, 4 * numberOfHMetrics);
  }

  /** Advance width of a glyph in font units. */
  advanceWidth(glyph: number): number {
    if (this.numberOfHMetrics === 0) return 0;
    return this.reader.u16(4 * Math.min(glyph, this.numberOfHMetrics - 1));
  }
}
