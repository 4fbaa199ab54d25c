import { Reader } from '../reader.js';

/** Advance widths in font units. Source: OpenType specification, hmtx. */
export class Hmtx {
  private readonly reader: Reader;
  constructor(
    data: Uint8Array,
    readonly numberOfHMetrics: number,
  ) {
    this.reader = new Reader(data, 'hmtx');
    this.reader.need(0, 4 * numberOfHMetrics);
  }

  advanceWidth(glyph: number): number {
    if (this.numberOfHMetrics === 0) return 0;
    return this.reader.u16(4 * Math.min(glyph, this.numberOfHMetrics - 1));
  }
}
