import { Reader } from '../reader.js';

/** Source: OpenType specification, maxp. */
export interface Maxp {
  version: number;
  numGlyphs: number;
}

export function readMaxp(data: Uint8Array): Maxp {
  const r = new Reader(data, 'maxp');
  return { version: r.u32(0), numGlyphs: r.u16(4) };
}
