import { countOf, declare, list, record, uint16, type Data } from '../declare/index.js';

const fields = record({
  version: uint16,
  numRanges: countOf(uint16, 'gaspRanges'),
  gaspRanges: list(
    'numRanges',
    record({
      /** Up to this size in pixels. */
      rangeMaxPPEM: uint16,
      /** Bit 0 grid-fit, 1 grey, 2 symmetric grid-fit, 3 symmetric smoothing. */
      rangeGaspBehavior: uint16,
    }),
  ),
});

/** Grid-fitting and smoothing by size. Source: OpenType specification, gasp. */
export const GASP = declare('gasp', fields);
export type Gasp = Data<typeof fields>;
