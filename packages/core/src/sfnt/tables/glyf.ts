import { Reader } from '../reader.js';

/** Offsets of glyphs in glyf, from loca of either format. */
export class Loca {
  private readonly reader: Reader;
  readonly count: number;
  constructor(
    data: Uint8Array,
    private readonly longFormat: boolean,
  ) {
    this.reader = new Reader(data, 'loca');
    this.count = Math.max(0, Math.floor(data.length / (longFormat ? 4 : 2)) - 1);
  }

  offset(index: number): number {
    return this.longFormat ? this.reader.u32(4 * index) : 2 * this.reader.u16(2 * index);
  }
}
