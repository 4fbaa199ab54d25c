import { constant, declare, int16, record, uint16, uint32, type Data } from '../declare/index.js';

const fields = record({
  /** 0x00010000 or 0x00011000; they differ in how the first two metrics are named. */
  version: uint32,
  vertTypoAscender: int16,
  vertTypoDescender: int16,
  vertTypoLineGap: int16,
  advanceHeightMax: int16,
  minTopSideBearing: int16,
  minBottomSideBearing: int16,
  yMaxExtent: int16,
  caretSlopeRise: int16,
  caretSlopeRun: int16,
  caretOffset: int16,
  reserved1: constant(int16, 0),
  reserved2: constant(int16, 0),
  reserved3: constant(int16, 0),
  reserved4: constant(int16, 0),
  metricDataFormat: int16,
  numOfLongVerMetrics: uint16,
});

/** Vertical header, font units. Source: OpenType specification, vhea. */
export const VHEA = declare('vhea', fields);
export type Vhea = Data<typeof fields>;
