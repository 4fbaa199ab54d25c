import { Reader } from '../reader.js';

/** Horizontal header. Source: OpenType specification, hhea. In font units. */
export interface Hhea {
  ascender: number;
  descender: number;
  lineGap: number;
  advanceWidthMax: number;
  caretSlopeRise: number;
  caretSlopeRun: number;
  numberOfHMetrics: number;
}

export function readHhea(data: Uint8Array): Hhea {
  const r = new Reader(data, 'hhea');
  r.need(0, 36);
  return {
    ascender: r.i16(4),
    descender: r.i16(6),
    lineGap: r.i16(8),
    advanceWidthMax: r.u16(10),
    caretSlopeRise: r.i16(18),
    caretSlopeRun: r.i16(20),
    numberOfHMetrics: r.u16(34),
  };
}
