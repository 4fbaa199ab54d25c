import { FontError } from './errors.js';

/**
 * Big-endian reads over one table (or file) with every access checked. A read past the end raises
 * `FontError('truncated')` that names the table and the offset; nothing else is ever thrown.
 */
export class Reader {
  readonly bytes: Uint8Array;
  readonly length: number;
  private readonly view: DataView;
  private readonly table: string | undefined;

  constructor(bytes: Uint8Array, table?: string) {
    this.bytes = bytes;
    this.length = bytes.length;
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.table = table;
  }

  /** Raises unless `count` bytes can be read at `offset`. */
  need(offset: number, count: number): void {
    if (!(offset >= 0 && count >= 0 && offset + count <= this.length)) this.fail(offset);
  }

  private fail(offset: number): never {
    const name = this.table ? `The ${this.table.trim()} table` : 'The file';
    throw new FontError('truncated', `${name} ends before it should: the file is cut short or damaged.`, {
      ...(this.table === undefined ? {} : { table: this.table }),
      offset,
    });
  }

  u8(offset: number): number {
    if (!(offset >= 0 && offset < this.length)) this.fail(offset);
    return this.bytes[offset]!;
  }

  u16(offset: number): number {
    if (!(offset >= 0 && offset + 2 <= this.length)) this.fail(offset);
    return this.view.getUint16(offset);
  }

  i16(offset: number): number {
    if (!(offset >= 0 && offset + 2 <= this.length)) this.fail(offset);
    return this.view.getInt16(offset);
  }

  u24(offset: number): number {
    if (!(offset >= 0 && offset + 3 <= this.length)) this.fail(offset);
    return (this.bytes[offset]! << 16) | (this.bytes[offset + 1]! << 8) | this.bytes[offset + 2]!;
  }

  u32(offset: number): number {
    if (!(offset >= 0 && offset + 4 <= this.length)) this.fail(offset);
    return this.view.getUint32(offset);
  }

  i32(offset: number): number {
    if (!(offset >= 0 && offset + 4 <= this.length)) this.fail(offset);
    return this.view.getInt32(offset);
  }

  /** Fixed 16.16. */
  fixed(offset: number): number {
    return this.i32(offset) / 65536;
  }

  tag(offset: number): string {
    this.need(offset, 4);
    const b = this.bytes;
    return String.fromCharCode(b[offset]!, b[offset + 1]!, b[offset + 2]!, b[offset + 3]!);
  }

  slice(offset: number, count: number): Uint8Array {
    this.need(offset, count);
    return this.bytes.subarray(offset, offset + count);
  }
}
