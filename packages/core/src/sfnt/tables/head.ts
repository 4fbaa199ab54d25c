import { Reader } from '../reader.js';

/** Font header. Source: OpenType specification, head. Lengths in font units, times in seconds since 1904. */
export interface Head {
  fontRevision: number;
  magicNumber: number;
  flags: number;
  unitsPerEm: number;
  xMin: number;
  yMin: number;
  xMax: number;
  yMax: number;
  /** Bit 0 bold, bit 1 italic. */
  macStyle: number;
  indexToLocFormat: number;
}

export function readHead(data: Uint8Array): Head {
  const r = new Reader(data, 'head');
  r.need(0, 54);
  return {
    fontRevision: r.fixed(4),
    magicNumber: r.u32(12),
    flags: r.u16(16),
    unitsPerEm: r.u16(18),
    xMin: r.i16(36),
    yMin: r.i16(38),
    xMax: r.i16(40),
    yMax: r.i16(42),
    macStyle: r.u16(44),
    indexToLocFormat: r.i16(50),
  };
}
