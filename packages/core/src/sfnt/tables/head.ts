import { declare, fixed, int16, longDateTime, record, uint16, uint32, type Data } from '../declare/index.js';

const fields = record({
  majorVersion: uint16,
  minorVersion: uint16,
  /** Set by the font's maker. */
  fontRevision: fixed,
  /** Whole file against 0xB1B0AFBA; put right when a file is written. */
  checksumAdjustment: uint32,
  /** 0x5F0F3CF5 in every sound font. */
  magicNumber: uint32,
  /** Bit 0 baseline at y = 0, 1 left side bearing at x = 0, 3 whole ppem, 11 packed lossless, 13 ClearType, 14 last resort. */
  flags: uint16,
  /** Font units an em, 16 to 16384. */
  unitsPerEm: uint16,
  /** Seconds since 1904-01-01, UTC. */
  created: longDateTime,
  modified: longDateTime,
  /** The box around all glyphs, font units. */
  xMin: int16,
  yMin: int16,
  xMax: int16,
  yMax: int16,
  /** Bit 0 bold, 1 italic, 2 underline, 3 outline, 4 shadow, 5 condensed, 6 extended. */
  macStyle: uint16,
  /** Smallest readable size in pixels. */
  lowestRecPPEM: uint16,
  /** Deprecated; 2 in new fonts. */
  fontDirectionHint: int16,
  /** 0 for loca of 16 bits, 1 for 32. */
  indexToLocFormat: int16,
  glyphDataFormat: int16,
});

/** Font header. Source: OpenType specification, head. */
export const HEAD = declare('head', fields);
export type Head = Data<typeof fields>;

/** Seconds from 1904-01-01 to 1970-01-01. */
export const MAC_EPOCH = 2082844800;
