import { GlyfOutlines, type Pen } from '../outline/index.js';
import { FontError, Loca, readFontFile, readHead, type Codec, type SfntFont } from '../sfnt/index.js';

export interface Proof {
  equal: boolean;
  /** What was compared and what differs, as sentences. */
  differences: string[];
  /** Outlines compared one by one because their packing may differ. */
  glyphsCompared: number;
}

/** Writes an outline down so that two can be compared. */
class RecordPen implements Pen {
  text = '';
  moveTo(x: number, y: number): void {
    this.text += `M${x} ${y}`;
  }
  lineTo(x: number, y: number): void {
    this.text += `L${x} ${y}`;
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.text += `Q${cx} ${cy} ${x} ${y}`;
  }
  cubicTo(...numbers: number[]): void {
    this.text += `C${numbers.join(' ')}`;
  }
  closePath(): void {
    this.text += 'Z';
  }
}

/**
 * Shows that a converted file holds the same face: every table byte for byte, but for what the WOFF2 standard lets
 * a packer change (section 5: the packing of glyf and loca, DSIG, head's checkSumAdjustment, flags bit 11 and
 * indexToLocFormat). There, every outline is drawn from both files and compared.
 */
export function proveEqual(before: Uint8Array, after: Uint8Array, codec: Codec, faceIndex = 0): Proof {
  const a = readFontFile(before, codec).fonts[faceIndex];
  const b = readFontFile(after, codec).fonts[0];
  if (!a || !b) throw new FontError('no-such-face', 'There is no such face to compare.');
  const differences: string[] = [];
  for (const tag of new Set([...a.tables.keys(), ...b.tables.keys()])) {
    if (tag === 'DSIG' || tag === 'glyf' || tag === 'loca') continue;
    const x = a.tables.get(tag);
    const y = b.tables.get(tag);
    if (!x || !y) differences.push(`The ${tag.trim()} table is ${x ? 'gone' : 'new'}.`);
    else if (!same(tag === 'head' ? maskHead(x) : x, tag === 'head' ? maskHead(y) : y))
      differences.push(`The ${tag.trim()} table differs.`);
  }
  const glyphsCompared = compareGlyf(a, b, differences);
  return { equal: differences.length === 0, differences, glyphsCompared };
}

function same(x: Uint8Array, y: Uint8Array): boolean {
  return x.length === y.length && x.every((byte, i) => byte === y[i]);
}

function maskHead(head: Uint8Array): Uint8Array {
  const copy = head.slice();
  copy.fill(0, 8, 12);
  copy[16] = copy[16]! & ~0x08;
  copy.fill(0, 50, 52);
  return copy;
}

function compareGlyf(a: SfntFont, b: SfntFont, differences: string[]): number {
  if (!a.tables.has('glyf') && !b.tables.has('glyf')) return 0;
  const [x, y] = [a, b].map((font) => {
    const glyf = font.tables.get('glyf');
    const loca = font.tables.get('loca');
    const head = font.tables.get('head');
    return glyf && loca && head ? { glyf, loca: new Loca(loca, readHead(head).indexToLocFormat !== 0) } : null;
  });
  if (!x || !y) {
    differences.push('The outlines are missing from one of the files.');
    return 0;
  }
  const count = x.loca.count;
  if (y.loca.count !== count) differences.push('The number of glyphs differs.');
  const draw = (outlines: GlyfOutlines, glyph: number): string => {
    const pen = new RecordPen();
    try {
      outlines.draw(glyph, pen);
    } catch (error) {
      if (!(error instanceof FontError)) throw error;
      return `!${error.code}`;
    }
    return pen.text;
  };
  const [p, q] = [new GlyfOutlines(x.glyf, x.loca), new GlyfOutlines(y.glyf, y.loca)];
  for (let glyph = 0; glyph < count; glyph++) {
    if (draw(p, glyph) !== draw(q, glyph)) {
      differences.push(`The outline of glyph ${glyph} differs.`);
      if (differences.length > 5) break;
    }
  }
  return count;
}
