import { HashPen, openOutlines } from '../outline/index.js';
import { FontError, Hmtx, readCmap, readHhea, readMaxp, type SfntFont } from '../sfnt/index.js';

/** Fingerprints of a face's drawings; equal ones mean equal outlines and advances, whatever names and container say. */
export interface Prints {
  /** Of every character and its glyph. */
  all: string;
  /** Of the basic letters and figures alone, so that a face with more characters is still known again; null without them. */
  basic: string | null;
}

/** One character's drawing: its code point and the fingerprint of outline and advance. */
export type GlyphPrint = [codePoint: number, print: string];

/**
 * Fingerprints the glyph of every character in the map. A glyph that cannot be drawn counts as empty.
 * @throws FontError when the character map or the outline table cannot be read
 */
export function glyphPrints(font: SfntFont): GlyphPrint[] {
  const { tables } = font;
  const cmap = tables.has('cmap') ? readCmap(tables.get('cmap')!, readMaxp(tables.get('maxp')!).numGlyphs) : null;
  const outlines = openOutlines(font);
  if (!cmap) return [];
  const hmtx = tables.has('hmtx') ? new Hmtx(tables.get('hmtx')!, readHhea(tables.get('hhea')!).numberOfHMetrics) : null;
  const known = new Map<number, string>();
  return Array.from(cmap.codePoints, (codePoint, i): GlyphPrint => {
    const glyph = cmap.glyphs[i]!;
    let print = known.get(glyph);
    if (print === undefined) {
      const pen = new HashPen();
      pen.number(hmtx?.advanceWidth(glyph) ?? 0);
      try {
        outlines?.draw(glyph, pen);
      } catch (error) {
        if (!(error instanceof FontError)) throw error;
      }
      known.set(glyph, (print = pen.digest));
    }
    return [codePoint, print];
  });
}

/** The fingerprints of a face as a whole. @throws FontError as `glyphPrints` does. */
export function readPrints(font: SfntFont): Prints | null {
  // Faces that draw nothing would all be the same.
  if (!openOutlines(font)) return null;
  const glyphs = glyphPrints(font);
  if (glyphs.length === 0) return null;
  const basic = glyphs.filter(([c]) => (c >= 48 && c <= 57) || (c >= 65 && c <= 90) || (c >= 97 && c <= 122));
  return { all: join(glyphs), basic: basic.length >= 52 ? join(basic) : null };
}

function join(glyphs: readonly GlyphPrint[]): string {
  const pen = new HashPen();
  for (const [codePoint, print] of glyphs) {
    pen.number(codePoint);
    pen.number(parseInt(print.slice(0, 8), 16));
    pen.number(parseInt(print.slice(8), 16));
  }
  return pen.digest;
}

/** What changed between two versions of a face, character by character. */
export interface VersionChanges {
  added: number[];
  removed: number[];
  /** Characters whose outline or advance is another. */
  changed: number[];
  same: number;
}

/** Compares two faces by outline. @throws FontError as `glyphPrints` does. */
export function compareVersions(older: SfntFont, newer: SfntFont): VersionChanges {
  const before = new Map(glyphPrints(older));
  const after = new Map(glyphPrints(newer));
  const out: VersionChanges = { added: [], removed: [], changed: [], same: 0 };
  for (const [codePoint, print] of after) {
    const was = before.get(codePoint);
    if (was === undefined) out.added.push(codePoint);
    else if (was !== print) out.changed.push(codePoint);
    else out.same++;
  }
  for (const codePoint of before.keys()) if (!after.has(codePoint)) out.removed.push(codePoint);
  return out;
}
