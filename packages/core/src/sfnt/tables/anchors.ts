import { expectFontError } from '../errors.js';
import { Reader } from '../reader.js';

const MARK_TO_BASE = 4;
const MARK_TO_MARK = 6;
const EXTENSION = 9;

interface AttachmentSubtable {
  at: number;
  type: number;
}

/**
 * Says where marks attach to bases and marks, read from the anchors themselves.
 * Source: OpenType specification, GPOS, lookup types 4, 6 and 9, and chapter 2, Coverage tables.
 */
export class MarkAnchors {
  private readonly r: Reader;
  private readonly subtables: AttachmentSubtable[] = [];
  /** Coverage indexes found before, by place of the table and glyph: faces ask for the same few again and again. */
  private readonly known = new Map<number, number>();

  /** A damaged table attaches nothing. */
  constructor(gpos: Uint8Array) {
    this.r = new Reader(gpos, 'GPOS');
    try {
      this.collect();
    } catch (error) {
      expectFontError(error);
    }
  }

  private collect(): void {
    const { r } = this;
    const list = r.u16(8);
    for (let i = 0; i < r.u16(list); i++) {
      const lookup = list + r.u16(list + 2 + 2 * i);
      const type = r.u16(lookup);
      for (let s = 0; s < r.u16(lookup + 4); s++) {
        let at = lookup + r.u16(lookup + 6 + 2 * s);
        let kind = type;
        if (type === EXTENSION) {
          kind = r.u16(at + 2);
          at += r.u32(at + 4);
        }
        if (kind === MARK_TO_BASE || kind === MARK_TO_MARK) this.subtables.push({ at, type: kind });
      }
    }
  }

  /**
   * Where `mark` may be put against `base`, which may itself be a mark: the difference of their anchors in font units, one
   * for each lookup that has both.
   */
  offsets(base: number, mark: number): { x: number; y: number }[] {
    const out: { x: number; y: number }[] = [];
    for (const { at } of this.subtables)
      try {
        const found = this.offsetIn(at, base, mark);
        if (found) out.push(found);
      } catch (error) {
        expectFontError(error);
      }
    return out;
  }

  private offsetIn(at: number, base: number, mark: number): { x: number; y: number } | null {
    const { r } = this;
    const markIndex = this.covered(at + r.u16(at + 2), mark);
    if (markIndex < 0) return null;
    const baseIndex = this.covered(at + r.u16(at + 4), base);
    if (baseIndex < 0) return null;
    const classes = r.u16(at + 6);
    const marks = at + r.u16(at + 8);
    const bases = at + r.u16(at + 10);
    const markClass = r.u16(marks + 2 + 4 * markIndex);
    const anchor = markClass < classes ? r.u16(bases + 2 + 2 * (baseIndex * classes + markClass)) : 0;
    if (anchor === 0) return null;
    const own = marks + r.u16(marks + 4 + 4 * markIndex);
    return { x: r.i16(bases + anchor + 2) - r.i16(own + 2), y: r.i16(bases + anchor + 4) - r.i16(own + 4) };
  }

  /** Coverage index of a glyph, or -1. */
  private covered(at: number, glyph: number): number {
    const key = at * 65536 + glyph;
    let index = this.known.get(key);
    if (index === undefined) this.known.set(key, (index = this.find(at, glyph)));
    return index;
  }

  private find(at: number, glyph: number): number {
    const { r } = this;
    const format = r.u16(at);
    const count = r.u16(at + 2);
    let low = 0;
    let high = count - 1;
    while (low <= high) {
      const middle = (low + high) >> 1;
      if (format === 1) {
        const value = r.u16(at + 4 + 2 * middle);
        if (value === glyph) return middle;
        if (value < glyph) low = middle + 1;
        else high = middle - 1;
      } else {
        const record = at + 4 + 6 * middle;
        if (glyph < r.u16(record)) high = middle - 1;
        else if (glyph > r.u16(record + 2)) low = middle + 1;
        else return r.u16(record + 4) + glyph - r.u16(record);
      }
    }
    return -1;
  }
}
