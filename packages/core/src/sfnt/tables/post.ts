import { Reader } from '../reader.js';

/** Source: OpenType specification, post. Angle in degrees counter-clockwise from the vertical. */
export interface Post {
  version: number;
  italicAngle: number;
  underlinePosition: number;
  underlineThickness: number;
  isFixedPitch: number;
}

export function readPost(data: Uint8Array): Post {
  const r = new Reader(data, 'post');
  r.need(0, 32);
  return {
    version: r.u32(0),
    italicAngle: r.fixed(4),
    underlinePosition: r.i16(8),
    underlineThickness: r.i16(10),
    isFixedPitch: r.u32(12),
  };
}
