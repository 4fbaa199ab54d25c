import type { Face } from '../font/index.js';
import { FlattenPen, HashPen, rasterize } from '../outline/index.js';

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

function readTraits(face: Face): Traits {
  const of = (tags: readonly string[]): string => bytesDigest(tags.map((tag) => face.bytes(tag)));
  const part = (tag: string, from: number, until: number): Uint8Array | null => face.bytes(tag)?.subarray(from, until) ?? null;
  const told = [1, 2, 4, 6, 16, 17, 21, 22].map((id) => face.name(id) ?? '').join('\n');
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
function bytesDigest(parts: readonly (Uint8Array | null)[]): string {
  // Kept in 32 signed bits throughout: as one large number the loop would run as floating point.
  let a = 0x811c9dc5 | 0;
  let b = 0x9747b28c | 0;
  for (const part of parts) {
    const length = part ? part.length : -1;
    a = Math.imul(a ^ length, 0x01000193);
    b = Math.imul(b ^ length, 0x85ebca6b) ^ (b >>> 15);
    if (!part) continue;
    for (let i = 0; i < part.length; i++) {
      a = Math.imul(a ^ part[i]!, 0x01000193);
      b = Math.imul(b ^ part[i]!, 0x85ebca6b) ^ (b >>> 15);
    }
  }
  return (a >>> 0).toString(16).padStart(8, '0') + (b >>> 0).toString(16).padStart(8, '0');
}

/** One character's drawing: its code point and the fingerprint of outline and advance, as two whole numbers. */
export type GlyphPrint = [codePoint: number, high: number, low: number];

/**
 * Fingerprints the glyph of every character in the map. A glyph that cannot be drawn counts as empty.
 * @throws FontError when the character map or the outline table cannot be read
 */
export function glyphPrints(face: Face): GlyphPrint[] {
  const cmap = face.characters;
  if (!cmap) return [];
  // A damaged table is told as such, a damaged glyph is not.
  face.outlines();
  const { advances } = face;
  const known = new Map<number, [number, number]>();
  return Array.from(cmap.codePoints, (codePoint, i): GlyphPrint => {
    const glyph = cmap.glyphs[i]!;
    let print = known.get(glyph);
    if (print === undefined) {
      const pen = new HashPen();
      pen.number(advances?.advanceWidth(glyph) ?? 0);
      face.draw(glyph, pen);
      known.set(glyph, (print = pen.words));
    }
    return [codePoint, print[0], print[1]];
  });
}

/** The fingerprints of a face as a whole. @throws FontError as `glyphPrints` does. */
export function readPrints(face: Face): Prints | null {
  // Faces that draw nothing would all be the same.
  if (!face.outlines()) return null;
  const glyphs = glyphPrints(face);
  if (glyphs.length === 0) return null;
  const basic = glyphs.filter(([c]) => (c >= 48 && c <= 57) || (c >= 65 && c <= 90) || (c >= 97 && c <= 122));
  return { all: join(glyphs), basic: basic.length >= 52 ? join(basic) : null, traits: readTraits(face) };
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
function painter(face: Face): (codePoint: number) => { ink: Float32Array; advance: number } {
  const unitsPerEm = face.unitsPerEm || 1000;
  const { advances } = face;
  const box = { xMin: -0.3 * unitsPerEm, xMax: 1.5 * unitsPerEm, yMin: -0.6 * unitsPerEm, yMax: 1.2 * unitsPerEm };
  return (codePoint) => {
    const glyph = face.glyphOf(codePoint);
    const pen = new FlattenPen(unitsPerEm / 1000);
    face.draw(glyph, pen);
    return { ink: rasterize(pen.polygons, box, CELLS, CELLS), advance: (advances?.advanceWidth(glyph) ?? 0) / unitsPerEm };
  };
}

/** Compares two faces by outline. @throws FontError as `glyphPrints` does. */
export function compareVersions(older: Face, newer: Face): VersionChanges {
  const mapOf = (face: Face): Map<number, string> => new Map(glyphPrints(face).map(([c, high, low]) => [c, `${high}/${low}`]));
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
