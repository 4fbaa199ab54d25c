import { openFace } from '../engines/index.js';
import { BoundsPen, openOutlines, type Bounds, type Pen } from '../outline/index.js';
import {
  FontError,
  glyphOf,
  Hmtx,
  readCmap,
  readFontFile,
  readHhea,
  readMaxp,
  readSubstitutions,
  writeSfnt,
  type Codec,
  type SfntFont,
} from '../sfnt/index.js';

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

function fontOf(bytes: Uint8Array, faceIndex: number, codec: Codec): SfntFont {
  const font = readFontFile(bytes, codec).fonts[faceIndex];
  if (!font) throw new FontError('no-such-face', 'There is no such face in the file.');
  return font;
}

/** Features that act without being asked, and the one that lists all others; a variant is better shown by one that a person switches on. */
const SILENT = new Set(['aalt', 'ccmp', 'locl', 'rlig', 'init', 'medi', 'fina', 'isol', 'rclt', 'rvrn', 'calt', 'clig', 'liga']);

/** Which glyphs have no code point, and how features reach them. @throws FontError when the file cannot be read. */
export function readRepertoire(bytes: Uint8Array, faceIndex: number, codec: Codec): Repertoire {
  const font = fontOf(bytes, faceIndex, codec);
  const { tables } = font;
  const { numGlyphs } = readMaxp(tables.get('maxp')!);
  const cmap = tables.has('cmap') ? readCmap(tables.get('cmap')!, numGlyphs) : null;
  const textOf = new Map<number, string>();
  cmap?.glyphs.forEach((glyph, i) => {
    if (!textOf.has(glyph)) textOf.set(glyph, String.fromCodePoint(cmap.codePoints[i]!));
  });
  const variants = new Map<number, Variant>();
  const gsub = tables.get('GSUB');
  for (const s of gsub ? readSubstitutions(gsub) : []) {
    if (s.to >= numGlyphs || textOf.has(s.to)) continue;
    const known = variants.get(s.to);
    if (known && !(SILENT.has(known.feature) && !SILENT.has(s.feature))) continue;
    const parts = s.from.map((g) => textOf.get(g));
    if (parts.every((p) => p !== undefined)) variants.set(s.to, { glyph: s.to, feature: s.feature, value: s.value, text: parts.join('') });
  }
  // What the tables promise counts once shaping keeps it: another feature may act first and take the glyph away.
  const shaper = openFace(writeSfnt(font), 0);
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
class SvgPen implements Pen {
  path = '';
  points: DrawnPoint[] = [];
  private at(x: number, y: number, on = true): string {
    this.points.push({ x, y, on });
    return `${round(x)} ${round(y)}`;
  }
  moveTo(x: number, y: number): void {
    this.path += `M${this.at(x, y)}`;
  }
  lineTo(x: number, y: number): void {
    this.path += `L${this.at(x, y)}`;
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.path += `Q${this.at(cx, cy, false)} ${this.at(x, y)}`;
  }
  cubicTo(c1x: number, c1y: number, c2x: number, c2y: number, x: number, y: number): void {
    this.path += `C${this.at(c1x, c1y, false)} ${this.at(c2x, c2y, false)} ${this.at(x, y)}`;
  }
  closePath(): void {
    this.path += 'Z';
  }
}

const round = (value: number): number => Math.round(value * 100) / 100;

/** Draws one glyph and measures it. @throws FontError when the glyph is damaged or not there. */
export function drawGlyph(bytes: Uint8Array, faceIndex: number, glyph: number, codec: Codec): DrawnGlyph {
  const font = fontOf(bytes, faceIndex, codec);
  const { tables } = font;
  if (glyph >= readMaxp(tables.get('maxp')!).numGlyphs) throw new FontError('bad-table', 'There is no such glyph in this face.');
  const pen = new SvgPen();
  const box = new BoundsPen();
  const outlines = openOutlines(font);
  outlines?.draw(glyph, pen);
  outlines?.draw(glyph, box);
  const advanceWidth = tables.has('hmtx')
    ? new Hmtx(tables.get('hmtx')!, readHhea(tables.get('hhea')!).numberOfHMetrics).advanceWidth(glyph)
    : 0;
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

/** Glyph of a code point in a file's face, or 0. */
export function glyphFor(bytes: Uint8Array, faceIndex: number, codePoint: number, codec: Codec): number {
  const { tables } = fontOf(bytes, faceIndex, codec);
  const cmap = tables.has('cmap') ? readCmap(tables.get('cmap')!, readMaxp(tables.get('maxp')!).numGlyphs) : null;
  return cmap ? glyphOf(cmap, codePoint) : 0;
}
