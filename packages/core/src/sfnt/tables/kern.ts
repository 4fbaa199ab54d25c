import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import type { Table } from '../declare/index.js';
import { searchFields } from '../write.js';

/** Pairs of format 0, or the bytes of a subtable of another format, header left out. */
export interface KernSubtable {
  /** Version 0: bit 0 horizontal, 1 minimum, 2 cross-stream, 3 override, high byte the format. Version 1: Apple's coverage. */
  coverage: number;
  /** Version 1 only. */
  tupleIndex: number;
  pairs: { left: number; right: number; value: number }[] | null;
  raw: Uint8Array | null;
}
export interface Kern {
  /** 0 as in OpenType, 0x00010000 as Apple's. */
  version: number;
  subtables: KernSubtable[];
}

/** Kerning by pairs, font units. Source: OpenType specification, kern; Apple TrueType Reference Manual, kern. */
export const KERN: Table<Kern> = {
  tag: 'kern',
  read(data) {
    const r = new Reader(data, 'kern');
    const apple = r.u16(0) === 1;
    const count = apple ? r.u32(4) : r.u16(2);
    let at = apple ? 8 : 4;
    if (count > data.length) throw new FontError('bad-table', 'The kern table claims more parts than it has bytes.', { table: 'kern' });
    const subtables: KernSubtable[] = [];
    for (let i = 0; i < count; i++) {
      const header = apple ? 8 : 6;
      const length = apple ? r.u32(at) : r.u16(at + 2);
      const coverage = r.u16(at + 4);
      const format = apple ? coverage & 0xff : coverage >> 8;
      const body = at + header;
      // The length of a subtable of 16 bits wraps round where there are more than 10,920 pairs; the last one goes to the end.
      const end = i === count - 1 && !apple ? data.length : Math.max(body, at + length);
      const tupleIndex = apple ? r.u16(at + 6) : 0;
      if (format === 0) {
        const pairs = Array.from({ length: r.u16(body) }, (_, p) => {
          const where = body + 8 + 6 * p;
          return { left: r.u16(where), right: r.u16(where + 2), value: r.i16(where + 4) };
        });
        subtables.push({ coverage, tupleIndex, pairs, raw: null });
      } else subtables.push({ coverage, tupleIndex, pairs: null, raw: r.slice(body, end - body) });
      at = at + length;
    }
    return { version: apple ? 0x00010000 : r.u16(0), subtables };
  },
  write({ version, subtables }) {
    const apple = version !== 0;
    const w = new Writer();
    if (apple) {
      w.u32(version);
      w.u32(subtables.length);
    } else {
      w.u16(0);
      w.u16(subtables.length);
    }
    for (const { coverage, tupleIndex, pairs, raw } of subtables) {
      const length = (apple ? 8 : 6) + (pairs ? 8 + 6 * pairs.length : raw!.length);
      if (pairs && pairs.length > 0xffff)
        throw new FontError('does-not-fit', 'The kern table cannot hold so many pairs.', { table: 'kern' });
      if (apple) w.u32(length);
      else {
        w.u16(0);
        w.u16(length & 0xffff);
      }
      w.u16(coverage);
      if (apple) w.u16(tupleIndex);
      if (!pairs) {
        w.put(raw!);
        continue;
      }
      w.u16(pairs.length);
      for (const field of searchFields(pairs.length, 6)) w.u16(field & 0xffff);
      for (const { left, right, value } of pairs) {
        w.u16(left);
        w.u16(right);
        w.u16(value & 0xffff);
      }
    }
    return w.done();
  },
};
