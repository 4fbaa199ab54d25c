import type { Face } from '../../font/index.js';
import { GlyfOutlines, type Pen } from '../../outline/index.js';
import { expectFontError, FontError, HEAD, Loca, writeSfnt, writeWoff, writeWoff2 } from '../../sfnt/index.js';
import type { Comparison, Step, TargetFormat } from '../step.js';

const TARGETS: readonly TargetFormat[] = ['woff2', 'woff', 'ttf', 'otf'];

/** Another container for the same tables: TTF or OTF by the outlines, WOFF, WOFF2. */
export const CONTAINER: Step = {
  id: 'container',
  version: 1,
  change: 'container',
  label: ({ to }) => `converted to ${String(to).toUpperCase()}`,
  needs: (state, accepts) =>
    TARGETS.filter((to) => accepts.formats.includes(to) && to !== state.format && fits(to, state.outlines !== 'glyf'))
      .sort((a, b) => Number(b === accepts.prefer) - Number(a === accepts.prefer))
      .map((to) => ({ options: { to }, after: { ...state, format: to } })),
  run({ face }, { to }, { codec }) {
    const cff = face.has('CFF ') || face.has('CFF2');
    if (to === 'otf' && !cff)
      throw new FontError(
        'outline-conversion',
        'This face has TrueType outlines, and an OTF file holds CFF outlines. They have to be converted first; TTF, WOFF and WOFF2 take them as they are.',
      );
    if (to === 'ttf' && cff)
      throw new FontError(
        'outline-conversion',
        'This face has CFF outlines, and a TTF file holds TrueType outlines. They have to be converted first; OTF, WOFF and WOFF2 take them as they are.',
      );
    switch (to) {
      case 'woff2':
        return writeWoff2(face.font, codec);
      case 'woff':
        return writeWoff(face.font, codec);
      default:
        return writeSfnt(face.font);
    }
  },
  prove: proveEqual,
};

const fits = (to: TargetFormat, cff: boolean): boolean => (to === 'otf' ? cff : to === 'ttf' ? !cff : true);

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
export function proveEqual(before: Face, after: Face): Comparison {
  const differences: string[] = [];
  const [a, b] = [before.font.tables, after.font.tables];
  for (const tag of new Set([...a.keys(), ...b.keys()])) {
    if (tag === 'DSIG' || tag === 'glyf' || tag === 'loca') continue;
    const x = a.get(tag);
    const y = b.get(tag);
    if (!x || !y) differences.push(`The ${tag.trim()} table is ${x ? 'gone' : 'new'}.`);
    else if (!same(tag === 'head' ? maskHead(x) : x, tag === 'head' ? maskHead(y) : y))
      differences.push(`The ${tag.trim()} table differs.`);
  }
  const glyphsCompared = compareGlyf(before, after, differences);
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

function compareGlyf(a: Face, b: Face, differences: string[]): number {
  if (!a.has('glyf') && !b.has('glyf')) return 0;
  const [x, y] = [a, b].map((face) => {
    const glyf = face.bytes('glyf');
    const loca = face.bytes('loca');
    return glyf && loca && face.has('head') ? { glyf, loca: new Loca(loca, face.need(HEAD).indexToLocFormat !== 0) } : null;
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
      expectFontError(error);
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
