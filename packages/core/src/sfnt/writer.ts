/** A growing big-endian byte buffer. */
export class Writer {
  private bytes: Uint8Array;
  private view: DataView;
  private used = 0;

  constructor(capacity = 256) {
    this.bytes = new Uint8Array(capacity);
    this.view = new DataView(this.bytes.buffer);
  }

  get length(): number {
    return this.used;
  }

  private room(count: number): void {
    if (this.used + count <= this.bytes.length) return;
    const next = new Uint8Array(Math.max(this.bytes.length * 2, this.used + count));
    next.set(this.bytes.subarray(0, this.used));
    this.bytes = next;
    this.view = new DataView(next.buffer);
  }

  u8(value: number): void {
    this.room(1);
    this.bytes[this.used++] = value;
  }

  u16(value: number): void {
    this.room(2);
    this.view.setUint16(this.used, value);
    this.used += 2;
  }

  u32(value: number): void {
    this.room(4);
    this.view.setUint32(this.used, value >>> 0);
    this.used += 4;
  }

  tag(value: string): void {
    for (let i = 0; i < 4; i++) this.u8(value.charCodeAt(i));
  }

  put(data: Uint8Array): void {
    this.room(data.length);
    this.bytes.set(data, this.used);
    this.used += data.length;
  }

  /** Zero bytes up to the next multiple of four. */
  pad4(): void {
    while (this.used % 4 !== 0) this.u8(0);
  }

  done(): Uint8Array {
    return this.bytes.subarray(0, this.used);
  }
}
