import { constant, declare, int16, record, uint16, type Data } from '../declare/index.js';

const fields = record({
  majorVersion: uint16,
  minorVersion: uint16,
  /** Line metrics in font units; the descender is negative below the baseline. */
  ascender: int16,
  descender: int16,
  lineGap: int16,
  advanceWidthMax: uint16,
  minLeftSideBearing: int16,
  minRightSideBearing: int16,
  xMaxExtent: int16,
  /** Slope of the caret: rise 1 and run 0 are upright. */
  caretSlopeRise: int16,
  caretSlopeRun: int16,
  caretOffset: int16,
  reserved1: constant(int16, 0),
  reserved2: constant(int16, 0),
  reserved3: constant(int16, 0),
  reserved4: constant(int16, 0),
  metricDataFormat: int16,
  /** Advance widths in hmtx; later glyphs repeat the last one. */
  numberOfHMetrics: uint16,
});

/** Horizontal header. Source: OpenType specification, hhea. */
export const HHEA = declare('hhea', fields);
export type Hhea = Data<typeof fields>;
