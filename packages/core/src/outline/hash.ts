import type { Pen } from './pen.js';

/**
 * A fingerprint of outlines: the same drawing gives the same 64 bits, whatever container, name or glyph order it is
 * kept under. Coordinates count to a quarter of a font unit, so that arithmetic noise does not matter.
 * Mixing as in MurmurHash3 (A. Appleby, public domain), twice with different seeds.
 */
export class HashPen implements Pen {
  private a = 0x9747b28c;
  private b = 0x1b873593;

  number(value: number): void {
    const k = Math.imul(value | 0, 0xcc9e2d51);
    const k1 = Math.imul((k << 15) | (k >>> 17), 0x1b873593);
    let h = this.a ^ k1;
    h = (h << 13) | (h >>> 19);
    this.a = (Math.imul(h, 5) + 0xe6546b64) | 0;
    let g = this.b ^ Math.imul(value | 0, 0x85ebca6b);
    g = (g << 11) | (g >>> 21);
    this.b = (Math.imul(g, 9) + 0x38b34ae5) | 0;
  }

  private point(x: number, y: number): void {
    this.number(Math.round(x * 4));
    this.number(Math.round(y * 4));
  }
  moveTo(x: number, y: number): void {
    this.number(1);
    this.point(x, y);
  }
  lineTo(x: number, y: number): void {
    this.number(2);
    this.point(x, y);
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.number(3);
    this.point(cx, cy);
    this.point(x, y);
  }
  cubicTo(c1x: number, c1y: number, c2x: number, c2y: number, x: number, y: number): void {
    this.number(4);
    this.point(c1x, c1y);
    this.point(c2x, c2y);
    this.point(x, y);
  }
  closePath(): void {
    this.number(5);
  }

  /** The fingerprint as two whole numbers of 32 bits. */
  get words(): [number, number] {
    return [finish(this.a), finish(this.b ^ this.a)];
  }

  /** The fingerprint as 16 hexadecimal digits. */
  get digest(): string {
    return this.words.map((w) => w.toString(16).padStart(8, '0')).join('');
  }
}

function finish(value: number): number {
  let h = value ^ (value >>> 16);
  h = Math.imul(h, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h, 0xc2b2ae35);
  h ^= h >>> 16;
  return h >>> 0;
}
