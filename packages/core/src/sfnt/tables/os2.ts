import { Reader } from '../reader.js';

/** OS/2 and Windows metrics. Source: OpenType specification, OS/2. Lengths in font units; absent fields are null. */
export interface Os2 {
  version: number;
  xAvgCharWidth: number;
  usWeightClass: number;
  usWidthClass: number;
  fsType: number;
  sFamilyClass: number;
  panose: number[];
  ulUnicodeRange: [number, number, number, number];
  achVendID: string;
  /** Bit 0 italic, 5 bold, 6 regular, 7 use typo metrics, 8 WWS, 9 oblique. */
  fsSelection: number;
  usFirstCharIndex: number;
  usLastCharIndex: number;
  sTypoAscender: number | null;
  sTypoDescender: number | null;
  sTypoLineGap: number | null;
  usWinAscent: number | null;
  usWinDescent: number | null;
  sxHeight: number | null;
  sCapHeight: number | null;
}

export function readOs2(data: Uint8Array): Os2 {
  const r = new Reader(data, 'OS/2');
  r.need(0, 68);
  const version = r.u16(0);
  // Some old files stop at 68 bytes; a table shorter than its version's size lacks the later fields.
  const typo = data.length >= 78;
  const heights = version >= 2 && data.length >= 90;
  return {
    version,
    xAvgCharWidth: r.i16(2),
    usWeightClass: r.u16(4),
    usWidthClass: r.u16(6),
    fsType: r.u16(8),
    sFamilyClass: r.i16(30),
    panose: [...r.slice(32, 10)],
    ulUnicodeRange: [r.u32(42), r.u32(46), r.u32(50), r.u32(54)],
    achVendID: r.tag(58),
    fsSelection: r.u16(62),
    usFirstCharIndex: r.u16(64),
    usLastCharIndex: r.u16(66),
    sTypoAscender: typo ? r.i16(68) : null,
    sTypoDescender: typo ? r.i16(70) : null,
    sTypoLineGap: typo ? r.i16(72) : null,
    usWinAscent: typo ? r.u16(74) : null,
    usWinDescent: typo ? r.u16(76) : null,
    sxHeight: heights ? r.i16(86) : null,
    sCapHeight: heights ? r.i16(88) : null,
  };
}
