import type { Face } from '../font/index.js';
import { BoundsPen, SvgPathPen, type Bounds } from '../outline/index.js';
import { FontError } from '../sfnt/index.js';

/** A glyph without a code point and how to call it up: set `text` with the feature at that value. */
export interface Variant {
  glyph: number;
  feature: string;
  value: number;
  text: string;
}

export interface Repertoire {
  /** Glyphs that features reach from characters. */
  variants: Variant[];
  /** Glyphs that are parts of others, or only reached in a context. */
  unreached: number;
}

/** Features that act without being asked, and the one that lists all others; a variant is better shown by one that a person switches on. */
const SILENT = new Set(['aalt', 'ccmp', 'locl', 'rlig', 'init', 'medi', 'fina', 'isol', 'rclt', 'rvrn', 'calt', 'clig', 'liga']);

/** Which glyphs have no code point, and how features reach them. @throws FontError when its tables cannot be read. */
export function readRepertoire(face: Face): Repertoire {
  const numGlyphs = face.glyphCount;
  const textOf = face.textOfGlyphs();
  const variants = new Map<number, Variant>();
  for (const s of face.substitutions) {
    if (s.to >= numGlyphs || textOf.has(s.to)) continue;
    const known = variants.get(s.to);
    if (known && !(SILENT.has(known.feature) && !SILENT.has(s.feature))) continue;
    const parts = s.from.map((g) => textOf.get(g));
    if (parts.every((p) => p !== undefined)) variants.set(s.to, { glyph: s.to, feature: s.feature, value: s.value, text: parts.join('') });
  }
  // What the tables promise counts once shaping keeps it: another feature may act first and take the glyph away.
  const { shaper } = face;
  for (const v of variants.values())
    if (!shaper.shape(v.text, [{ tag: v.feature, value: v.value }]).some((g) => g.glyph === v.glyph)) variants.delete(v.glyph);
  const list = [...variants.values()].sort((a, b) => (a.feature < b.feature ? -1 : a.feature > b.feature ? 1 : a.glyph - b.glyph));
  return { variants: list, unreached: Math.max(0, numGlyphs - textOf.size - variants.size - (textOf.has(0) ? 0 : 1)) };
}

export interface DrawnPoint {
  x: number;
  y: number;
  /** Whether the curve runs through the point; else it is a control point. */
  on: boolean;
}

/** One glyph as drawn at the default instance, in font units, y up. */
export interface DrawnGlyph {
  glyph: number;
  advanceWidth: number;
  leftSideBearing: number | null;
  rightSideBearing: number | null;
  bounds: Bounds | null;
  path: string;
  points: DrawnPoint[];
}

/** Writes an outline as SVG path data and remembers its points. */
class PointsPen extends SvgPathPen {
  readonly points: DrawnPoint[] = [];
  protected override point(x: number, y: number, on: boolean): string {
    this.points.push({ x, y, on });
    return super.point(x, y, on);
  }
}

const round = (value: number): number => Math.round(value * 100) / 100;

/**
 * Draws one glyph and measures it.
 * @throws FontError when the glyph is damaged or not there.
 */
export function drawGlyph(face: Face, glyph: number): DrawnGlyph {
  if (glyph >= face.glyphCount) throw new FontError('bad-table', 'There is no such glyph in this face.');
  const pen = new PointsPen();
  const box = new BoundsPen();
  const outlines = face.outlines();
  outlines?.draw(glyph, pen);
  outlines?.draw(glyph, box);
  const advanceWidth = face.advances?.advanceWidth(glyph) ?? 0;
  const { bounds } = box;
  return {
    glyph,
    advanceWidth,
    leftSideBearing: bounds ? round(bounds.xMin) : null,
    rightSideBearing: bounds ? round(advanceWidth - bounds.xMax) : null,
    bounds,
    path: pen.path,
    points: pen.points,
  };
}

/** A character a glyph is kerned with; the value is added to the advance between them, in font units. */
export interface KerningPair {
  codePoint: number;
  value: number;
}

export interface GlyphRelations {
  kerning: { before: KerningPair[]; after: KerningPair[] };
  /** Features that put this glyph in place of a text. */
  reachedBy: { feature: string; text: string }[];
  /** Features that put another glyph in its place. */
  changedBy: string[];
}

/** At most so many characters are tried as neighbors; those of the glyph's own kind come first. */
const MOST_NEIGHBORS = 700;
const MOST_PAIRS = 40;

/**
 * Finds what a glyph is kerned with, by shaping each pair with and without kerning (which reads GPOS pairs, classes and the
 * kern table alike), and which features lead to it or away from it.
 * @param codePoint the character it stands for; without one there is no kerning to try
 */
export function relateGlyph(face: Face, glyph: number, codePoint: number | null): GlyphRelations {
  const cmap = face.characters;
  const textOf = face.textOfGlyphs();
  const reachedBy: GlyphRelations['reachedBy'] = [];
  const changedBy = new Set<string>();
  for (const s of face.substitutions) {
    if (s.to === glyph) {
      const parts = s.from.map((g) => textOf.get(g));
      const text = parts.every((p) => p !== undefined) ? parts.join('') : '';
      if (!reachedBy.some((r) => r.feature === s.feature && r.text === text)) reachedBy.push({ feature: s.feature, text });
    }
    if (s.from.includes(glyph)) changedBy.add(s.feature);
  }
  const relations: GlyphRelations = {
    kerning: { before: [], after: [] },
    reachedBy: reachedBy.slice(0, 60),
    changedBy: [...changedBy].sort(),
  };
  if (codePoint === null || !cmap) return relations;
  const own = String.fromCodePoint(codePoint);
  const { shaper } = face;
  const width = (text: string, kern: number): number =>
    shaper.shape(text, [{ tag: 'kern', value: kern }]).reduce((sum, g) => sum + g.xAdvance, 0);
  for (const other of neighborsOf(codePoint, cmap.codePoints)) {
    const c = String.fromCodePoint(other);
    for (const [side, text] of [
      ['before', c + own],
      ['after', own + c],
    ] as const) {
      const value = width(text, 1) - width(text, 0);
      if (value !== 0) relations.kerning[side].push({ codePoint: other, value });
    }
  }
  for (const side of ['before', 'after'] as const)
    relations.kerning[side] = relations.kerning[side].sort((a, b) => Math.abs(b.value) - Math.abs(a.value)).slice(0, MOST_PAIRS);
  return relations;
}

/** Characters that could stand beside one: figures and punctuation, and letters of its script or of every script of simple letters. */
function neighborsOf(codePoint: number, codePoints: ArrayLike<number>): number[] {
  const letter = /^\p{L}$/u.test(String.fromCodePoint(codePoint));
  const script = SIMPLE.find((s) => s.test(String.fromCodePoint(codePoint)));
  const out: number[] = [];
  for (let i = 0; i < codePoints.length && out.length < MOST_NEIGHBORS; i++) {
    const c = String.fromCodePoint(codePoints[i]!);
    if (/^[\p{N}\p{P}\p{S}]$/u.test(c) || (/^\p{L}$/u.test(c) && (!letter || !script || script.test(c)))) out.push(codePoints[i]!);
  }
  return out;
}
const SIMPLE = [/^\p{Script=Latin}$/u, /^\p{Script=Greek}$/u, /^\p{Script=Cyrillic}$/u, /^\p{Script=Arabic}$/u, /^\p{Script=Hebrew}$/u];
