import { FlattenPen, HashPen, openOutlines, rasterize } from '../outline/index.js';
import { bestName, FontError, glyphOf, Hmtx, readCmap, readHead, readHhea, readMaxp, readName, type SfntFont } from '../sfnt/index.js';

/** Fingerprints of a face's drawings; equal ones mean equal outlines and advances, whatever names and container say. */
export interface Prints {
  /** Of every character and its glyph. */
  all: string;
  /** Of the basic letters and figures alone, so that a face with more characters is still known again; null without them. */
  basic: string | null;
  /** Of what else makes a face: two that draw the same are doubles only where all of this agrees, too. */
  traits: Traits;
}

/** What may differ between faces with the same outlines. */
export const TRAITS = ['color', 'features', 'hinting', 'metrics', 'names'] as const;
export type Trait = (typeof TRAITS)[number];
export type Traits = Readonly<Record<Trait, string>>;

/** Tables by what they are for. Source: OpenType specification, chapter "OpenType Font File". */
const COLOR = ['COLR', 'CPAL', 'SVG ', 'sbix', 'CBDT', 'CBLC'];
const FEATURES = ['GSUB', 'GPOS', 'GDEF', 'BASE', 'kern', 'morx', 'kerx'];
const HINTING = ['fpgm', 'prep', 'cvt ', 'gasp'];

function readTraits({ tables }: SfntFont): Traits {
  const of = (tags: readonly string[]): string => bytesDigest(tags.map((tag) => tables.get(tag)));
  const part = (tag: string, from: number, until: number): Uint8Array | undefined => tables.get(tag)?.subarray(from, until);
  const names = tables.has('name') ? readName(tables.get('name')!).records : [];
  const told = [1, 2, 4, 6, 16, 17, 21, 22].map((id) => bestName(names, id) ?? '').join('\n');
  return {
    color: of(COLOR),
    features: of(FEATURES),
    hinting: of(HINTING),
    // Ascender to lineGap; the em; weight and width; the typographic and Windows line heights.
    metrics: bytesDigest([part('hhea', 4, 10), part('head', 18, 20), part('OS/2', 4, 8), part('OS/2', 68, 78)]),
    names: bytesDigest([new TextEncoder().encode(told)]),
  };
}

/** A digest of some tables, each with its length, so that none runs into the next. */
function bytesDigest(parts: readonly (Uint8Array | undefined)[]): string {
  let a = 0x811c9dc5;
  let b = 0x9747b28c;
  const take = (value: number): void => {
    a = Math.imul(a ^ value, 0x01000193);
    b = Math.imul(b ^ value, 0x85ebca6b) ^ (b >>> 15);
  };
  for (const part of parts) {
    take(part ? part.length : 0xffffffff);
    for (const byte of part ?? []) take(byte);
  }
  return (a >>> 0).toString(16).padStart(8, '0') + (b >>> 0).toString(16).padStart(8, '0');
}

/** One character's drawing: its code point and the fingerprint of outline and advance, as two whole numbers. */
export type GlyphPrint = [codePoint: number, high: number, low: number];

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
  const known = new Map<number, [number, number]>();
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
      known.set(glyph, (print = pen.words));
    }
    return [codePoint, print[0], print[1]];
  });
}

/** The fingerprints of a face as a whole. @throws FontError as `glyphPrints` does. */
export function readPrints(font: SfntFont): Prints | null {
  // Faces that draw nothing would all be the same.
  if (!openOutlines(font)) return null;
  const glyphs = glyphPrints(font);
  if (glyphs.length === 0) return null;
  const basic = glyphs.filter(([c]) => (c >= 48 && c <= 57) || (c >= 65 && c <= 90) || (c >= 97 && c <= 122));
  return { all: join(glyphs), basic: basic.length >= 52 ? join(basic) : null, traits: readTraits(font) };
}

function join(glyphs: readonly GlyphPrint[]): string {
  const pen = new HashPen();
  for (const [codePoint, high, low] of glyphs) {
    pen.number(codePoint);
    pen.number(high);
    pen.number(low);
  }
  return pen.digest;
}

/** What changed between two versions of a face, character by character. */
export interface VersionChanges {
  added: number[];
  removed: number[];
  /**
   * Characters whose outline or advance is another, most different first. `difference` is the ink that only one of the two
   * has, against the ink of both: 0 for the same shape drawn with other points, 1 for shapes that share nothing.
   */
  changed: { codePoint: number; difference: number }[];
  same: number;
}

const CELLS = 40;

/** Draws single characters of a face as coverage on a grid over the em and its surroundings. */
function painter(font: SfntFont): (codePoint: number) => { ink: Float32Array; advance: number } {
  const { tables } = font;
  const unitsPerEm = readHead(tables.get('head')!).unitsPerEm || 1000;
  const cmap = readCmap(tables.get('cmap')!, readMaxp(tables.get('maxp')!).numGlyphs);
  const outlines = openOutlines(font);
  const hmtx = tables.has('hmtx') ? new Hmtx(tables.get('hmtx')!, readHhea(tables.get('hhea')!).numberOfHMetrics) : null;
  const box = { xMin: -0.3 * unitsPerEm, xMax: 1.5 * unitsPerEm, yMin: -0.6 * unitsPerEm, yMax: 1.2 * unitsPerEm };
  return (codePoint) => {
    const glyph = cmap ? glyphOf(cmap, codePoint) : 0;
    const pen = new FlattenPen(unitsPerEm / 1000);
    try {
      outlines?.draw(glyph, pen);
    } catch (error) {
      if (!(error instanceof FontError)) throw error;
    }
    return { ink: rasterize(pen.polygons, box, CELLS, CELLS), advance: (hmtx?.advanceWidth(glyph) ?? 0) / unitsPerEm };
  };
}

/** Compares two faces by outline. @throws FontError as `glyphPrints` does. */
export function compareVersions(older: SfntFont, newer: SfntFont): VersionChanges {
  const mapOf = (font: SfntFont): Map<number, string> => new Map(glyphPrints(font).map(([c, high, low]) => [c, `${high}/${low}`]));
  const before = mapOf(older);
  const after = mapOf(newer);
  const out: VersionChanges = { added: [], removed: [], changed: [], same: 0 };
  const paint = { older: painter(older), newer: painter(newer) };
  for (const [codePoint, print] of after) {
    const was = before.get(codePoint);
    if (was === undefined) out.added.push(codePoint);
    else if (was === print) out.same++;
    else out.changed.push({ codePoint, difference: difference(paint.older(codePoint), paint.newer(codePoint)) });
  }
  for (const codePoint of before.keys()) if (!after.has(codePoint)) out.removed.push(codePoint);
  out.changed.sort((a, b) => b.difference - a.difference || a.codePoint - b.codePoint);
  return out;
}

function difference(a: { ink: Float32Array; advance: number }, b: { ink: Float32Array; advance: number }): number {
  let apart = 0;
  let all = 0;
  for (let i = 0; i < a.ink.length; i++) {
    apart += Math.abs(a.ink[i]! - b.ink[i]!);
    all += Math.max(a.ink[i]!, b.ink[i]!);
  }
  const shape = all > 0 ? apart / all : 0;
  // Another advance moves what follows, even where the drawing stays.
  return Math.round(1000 * Math.max(shape, Math.min(1, Math.abs(a.advance - b.advance) * 2))) / 1000;
}
