import {
  constant,
  counted,
  countOf,
  declare,
  f2dot14,
  int16,
  int32,
  int8,
  list,
  lookUp,
  offset16,
  offset32,
  record,
  tag,
  uint16,
  uint32,
  uint8,
  when,
  type Data,
  type Field,
} from '../declare/index.js';

/** A region of the design space: per axis where a change begins, is whole and ends, normalized to -1 to 1. */
const regionList = record({
  axisCount: uint16,
  regionCount: countOf(uint16, 'variationRegions'),
  variationRegions: list('regionCount', list('axisCount', record({ startCoord: f2dot14, peakCoord: f2dot14, endCoord: f2dot14 }))),
});

const LONG_WORDS = 0x8000;

/** Rows of deltas, the first `wordDeltaCount` of each row wider than the rest. */
const deltaSets: Field<number[][]> = {
  read(s) {
    const words = lookUp(s.scope, 'wordDeltaCount') as number;
    const regions = (lookUp(s.scope, 'regionIndexes') as number[]).length;
    const [wide, narrow] = words & LONG_WORDS ? [int32, int16] : [int16, int8];
    const row: Field<number[]> = {
      read: (t) => Array.from({ length: regions }, (_, i) => (i < (words & ~LONG_WORDS) ? wide : narrow).read(t)),
      write: () => undefined,
    };
    return list('itemCount', row).read(s);
  },
  write(block, rows, scope) {
    const words = lookUp(scope, 'wordDeltaCount') as number;
    const [wide, narrow] = words & LONG_WORDS ? [int32, int16] : [int16, int8];
    for (const row of rows) row.forEach((delta, i) => (i < (words & ~LONG_WORDS) ? wide : narrow).write(block, delta, scope));
  },
};

const variationData = record({
  itemCount: countOf(uint16, 'deltaSets'),
  /** How many deltas of a row are wide; the highest bit makes all of them twice as wide. */
  wordDeltaCount: uint16,
  regionIndexes: counted(uint16),
  deltaSets,
});

/** Source: OpenType specification, "Item variation store". */
export const itemVariationStore = record({
  format: uint16,
  variationRegionList: offset32(regionList),
  itemVariationData: counted(offset32(variationData)),
});
export type ItemVariationStore = Data<typeof itemVariationStore>;

/** Outer and inner index of each item. Source: OpenType specification, "Associating target items to variation data". */
export const deltaSetIndexMap = record({
  format: uint8,
  /** Bits 0 to 3: bits of the inner index less 1; bits 4 and 5: bytes of an entry less 1. */
  entryFormat: uint8,
  mapCount: {
    ...countOf(uint16, 'entries'),
    read: (s) => (lookUp(s.scope, 'format') === 1 ? uint32 : uint16).read(s),
    write: (block, _, scope) =>
      (lookUp(scope, 'format') === 1 ? uint32 : uint16).write(block, (scope!.values.entries as unknown[]).length, scope),
  } as ReturnType<typeof countOf>,
  entries: list('mapCount', {
    read(s) {
      const format = lookUp(s.scope, 'entryFormat') as number;
      let value = 0;
      for (let i = 0; i <= ((format >> 4) & 3); i++) value = value * 256 + uint8.read(s);
      const unit = 2 ** ((format & 15) + 1);
      return { outer: Math.floor(value / unit), inner: value % unit };
    },
    write(block, { outer, inner }, scope) {
      const format = lookUp(scope, 'entryFormat') as number;
      const value = outer * 2 ** ((format & 15) + 1) + inner;
      for (let i = (format >> 4) & 3; i >= 0; i--) uint8.write(block, Math.floor(value / 256 ** i) % 256, scope);
    },
  } as Field<{ outer: number; inner: number }>),
});

const horizontal = record({
  majorVersion: uint16,
  minorVersion: uint16,
  itemVariationStore: offset32(itemVariationStore),
  advanceWidthMapping: offset32(deltaSetIndexMap),
  lsbMapping: offset32(deltaSetIndexMap),
  rsbMapping: offset32(deltaSetIndexMap),
});
/** How advance widths vary. Source: OpenType specification, HVAR. */
export const HVAR = declare('HVAR', horizontal);
export type Hvar = Data<typeof horizontal>;

const vertical = record({
  majorVersion: uint16,
  minorVersion: uint16,
  itemVariationStore: offset32(itemVariationStore),
  advanceHeightMapping: offset32(deltaSetIndexMap),
  tsbMapping: offset32(deltaSetIndexMap),
  bsbMapping: offset32(deltaSetIndexMap),
  vOrgMapping: offset32(deltaSetIndexMap),
});
/** How advance heights vary. Source: OpenType specification, VVAR. */
export const VVAR = declare('VVAR', vertical);

const metrics = record({
  majorVersion: uint16,
  minorVersion: uint16,
  reserved: constant(uint16, 0),
  valueRecordSize: constant(uint16, 8),
  valueRecordCount: countOf(uint16, 'valueRecords'),
  itemVariationStore: offset16(itemVariationStore),
  valueRecords: list(
    'valueRecordCount',
    record({
      /** Which metric, for example `xhgt` or `undo`. */
      valueTag: tag,
      deltaSetOuterIndex: uint16,
      deltaSetInnerIndex: uint16,
    }),
  ),
});
/** How metrics of the whole face vary. Source: OpenType specification, MVAR. */
export const MVAR = declare('MVAR', metrics);
export type Mvar = Data<typeof metrics>;

const axisMaps = record({
  majorVersion: uint16,
  minorVersion: uint16,
  reserved: constant(uint16, 0),
  axisCount: countOf(uint16, 'axisSegmentMaps'),
  axisSegmentMaps: list('axisCount', counted(record({ fromCoordinate: f2dot14, toCoordinate: f2dot14 }))),
  axisIndexMap: when('majorVersion', (v) => v >= 2, offset32(deltaSetIndexMap)),
  varStore: when('majorVersion', (v) => v >= 2, offset32(itemVariationStore)),
});
/** How normalized axis values are bent, versions 1 and 2. Source: OpenType specification, avar. */
export const AVAR = declare('avar', axisMaps);
export type Avar = Data<typeof axisMaps>;
