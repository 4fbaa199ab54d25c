import { FontError } from '../errors.js';
import type { Reader } from '../reader.js';
import type { Writer } from '../writer.js';

/** A read position over one stream of the transformed data. */
export class Cursor {
  at: number;
  constructor(
    readonly reader: Reader,
    start = 0,
  ) {
    this.at = start;
  }

  u8(): number {
    return this.reader.u8(this.at++);
  }

  u16(): number {
    const value = this.reader.u16(this.at);
    this.at += 2;
    return value;
  }

  i16(): number {
    const value = this.reader.i16(this.at);
    this.at += 2;
    return value;
  }

  u32(): number {
    const value = this.reader.u32(this.at);
    this.at += 4;
    return value;
  }

  bytes(count: number): Uint8Array {
    const data = this.reader.slice(this.at, count);
    this.at += count;
    return data;
  }

  /**
   * UIntBase128. Source: WOFF 2.0, section 4.1.
   * @throws FontError when it is damaged or does not fit
   */
  base128(): number {
    let value = 0;
    for (let i = 0; i < 5; i++) {
      const byte = this.u8();
      if (i === 0 && byte === 0x80) break;
      if (value > 0x1ffffff) break;
      value = value * 128 + (byte & 0x7f);
      if ((byte & 0x80) === 0) return value;
    }
    throw new FontError('bad-directory', 'A number in the WOFF2 directory is malformed: the file is damaged.', { offset: this.at });
  }

  /** 255UInt16. Source: WOFF 2.0, section 4.2. */
  u255(): number {
    const code = this.u8();
    if (code === 253) return this.u16();
    if (code === 255) return this.u8() + 253;
    if (code === 254) return this.u8() + 506;
    return code;
  }
}

/** Writes a UIntBase128. Source: WOFF 2.0, section 4.1. */
export function putBase128(out: Writer, value: number): void {
  let size = 1;
  for (let rest = value; rest >= 128; rest = Math.floor(rest / 128)) size++;
  for (let i = size - 1; i >= 0; i--) {
    const bits = Math.floor(value / 128 ** i) & 0x7f;
    out.u8(i > 0 ? bits | 0x80 : bits);
  }
}

/** Writes a 255UInt16. Source: WOFF 2.0, section 4.2. */
export function putU255(out: Writer, value: number): void {
  if (value < 253) out.u8(value);
  else if (value < 506) {
    out.u8(255);
    out.u8(value - 253);
  } else if (value < 762) {
    out.u8(254);
    out.u8(value - 506);
  } else {
    out.u8(253);
    out.u16(value);
  }
}
