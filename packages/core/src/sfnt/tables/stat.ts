import {
  constant,
  countOf,
  declare,
  derived,
  fixed,
  formats,
  list,
  offset16,
  offset32,
  record,
  since,
  tag,
  uint16,
  type Data,
  type Scope,
} from '../declare/index.js';

const flags = { /** Bit 0: this older name is kept for old documents; bit 1: left out of composed names. */ flags: uint16 };

const axisValue = formats(uint16, {
  1: record({ axisIndex: uint16, ...flags, valueNameID: uint16, value: fixed }),
  2: record({ axisIndex: uint16, ...flags, valueNameID: uint16, nominalValue: fixed, rangeMinValue: fixed, rangeMaxValue: fixed }),
  3: record({ axisIndex: uint16, ...flags, valueNameID: uint16, value: fixed, linkedValue: fixed }),
  4: record({
    axisCount: countOf(uint16, 'axisValues'),
    ...flags,
    valueNameID: uint16,
    axisValues: list('axisCount', record({ axisIndex: uint16, value: fixed })),
  }),
});

const lengthOf =
  (name: string) =>
  ({ values }: Scope) =>
    ((values[name] as unknown[] | null) ?? []).length;

const fields = record({
  majorVersion: uint16,
  minorVersion: uint16,
  designAxisSize: constant(uint16, 8),
  designAxisCount: derived(uint16, lengthOf('designAxes')),
  designAxes: offset32(list('designAxisCount', record({ axisTag: tag, axisNameID: uint16, axisOrdering: uint16 })), true),
  axisValueCount: derived(uint16, lengthOf('axisValues')),
  axisValues: offset32(list('axisValueCount', offset16(axisValue)), true),
  /** Which name stands when all parts of a composed name are left out; from version 1.1. */
  elidedFallbackNameID: since(1, 2, uint16, 'minorVersion'),
});

/** Style attributes: what positions on the axes are called. Source: OpenType specification, STAT. */
export const STAT = declare('STAT', fields);
export type Stat = Data<typeof fields>;
