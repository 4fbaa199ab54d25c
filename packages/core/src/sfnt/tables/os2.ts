import { bytes, declare, int16, mapped, record, since, tag, uint16, uint32, type Data } from '../declare/index.js';

const panose = mapped(
  bytes(10),
  (b) => [...b],
  (list) => Uint8Array.from(list),
);

// Some old files stop at 68 bytes: the fields that their version should have are null.
const fields = record({
  version: uint16,
  xAvgCharWidth: int16,
  usWeightClass: uint16,
  usWidthClass: uint16,
  /** Embedding permission. */
  fsType: uint16,
  ySubscriptXSize: int16,
  ySubscriptYSize: int16,
  ySubscriptXOffset: int16,
  ySubscriptYOffset: int16,
  ySuperscriptXSize: int16,
  ySuperscriptYSize: int16,
  ySuperscriptXOffset: int16,
  ySuperscriptYOffset: int16,
  yStrikeoutSize: int16,
  yStrikeoutPosition: int16,
  sFamilyClass: int16,
  panose,
  ulUnicodeRange1: uint32,
  ulUnicodeRange2: uint32,
  ulUnicodeRange3: uint32,
  ulUnicodeRange4: uint32,
  achVendID: tag,
  /** Bit 0 italic, 5 bold, 6 regular, 7 use typo metrics, 8 WWS, 9 oblique. */
  fsSelection: uint16,
  usFirstCharIndex: uint16,
  usLastCharIndex: uint16,
  sTypoAscender: since(0, 10, int16),
  sTypoDescender: since(0, 8, int16),
  sTypoLineGap: since(0, 6, int16),
  usWinAscent: since(0, 4, uint16),
  usWinDescent: since(0, 2, uint16),
  ulCodePageRange1: since(1, 8, uint32),
  ulCodePageRange2: since(1, 4, uint32),
  sxHeight: since(2, 4, int16),
  sCapHeight: since(2, 2, int16),
  usDefaultChar: since(2, 2, uint16),
  usBreakChar: since(2, 2, uint16),
  usMaxContext: since(2, 2, uint16),
  /** Twentieths of a point. */
  usLowerOpticalPointSize: since(5, 4, uint16),
  usUpperOpticalPointSize: since(5, 2, uint16),
});

/** OS/2 and Windows metrics, versions 0 to 5; lengths in font units. Source: OpenType specification, OS/2. */
export const OS2 = declare('OS/2', fields);
export type Os2 = Data<typeof fields>;
