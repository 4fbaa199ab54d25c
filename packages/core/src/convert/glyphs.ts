import type { Face } from '../font/index.js';
import { BoundsPen, SvgPathPen } from '../outline/index.js';
import { CFF, FontError, HHEA, POST } from '../sfnt/index.js';

/** A glyph as data: lengths in font units, y up. */
export interface GlyphData {
  id: number;
  name: string | null;
  codePoints: number[];
  advance: number;
  bounds: { xMin: number; yMin: number; xMax: number; yMax: number } | null;
  /** SVG path data, absolute, y up; '' without ink, null when the glyph is damaged. */
  path: string | null;
}

/** Outlines and metrics of a whole face. */
export interface FaceData {
  family: string | null;
  style: string | null;
  unitsPerEm: number;
  ascender: number;
  descender: number;
  lineGap: number;
  glyphs: GlyphData[];
}

/**
 * The outlines and metrics of a face as data.
 * @throws FontError for a face without outlines
 */
export function faceData(face: Face): FaceData {
  if (face.outlineKind === 'none') throw new FontError('outline-conversion', 'This face has no outlines.');
  const { ascender, descender, lineGap } = face.need(HHEA);
  const names = face.table(POST)?.glyphNames ?? (face.has('CFF ') ? face.need(CFF).charset : null);
  const mapped = new Map<number, number[]>();
  const { characters } = face;
  characters?.glyphs.forEach((glyph, i) => mapped.set(glyph, [...(mapped.get(glyph) ?? []), characters.codePoints[i]!]));
  return {
    family: face.name(16) ?? face.name(1),
    style: face.name(17) ?? face.name(2),
    unitsPerEm: face.unitsPerEm,
    ascender,
    descender,
    lineGap,
    glyphs: Array.from({ length: face.glyphCount }, (_, id) => {
      const pen = new SvgPathPen();
      const bounds = new BoundsPen();
      const drawn = face.draw(id, pen) && face.draw(id, bounds);
      const name = names?.[id];
      return {
        id,
        name: typeof name === 'string' ? name : null,
        codePoints: mapped.get(id) ?? [],
        advance: face.advances?.advanceWidth(id) ?? 0,
        bounds: drawn ? bounds.bounds : null,
        path: drawn ? pen.path : null,
      };
    }),
  };
}

/** A drawing of one glyph as an SVG file, in its advance and the face's ascent and descent; null when there is no ink. */
export function glyphSvg(data: FaceData, glyph: GlyphData): string | null {
  if (!glyph.path) return null;
  const b = glyph.bounds!;
  const xMin = Math.floor(Math.min(0, b.xMin));
  const xMax = Math.ceil(Math.max(glyph.advance, b.xMax));
  const top = Math.ceil(Math.max(data.ascender, b.yMax));
  const bottom = Math.floor(Math.min(data.descender, b.yMin));
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${xMin} ${-top} ${xMax - xMin} ${top - bottom}"><path transform="scale(1,-1)" d="${glyph.path}"/></svg>\n`;
}

/** A file name for a glyph that no file system confuses with another: its number first. */
export function glyphFileName({ id, name, codePoints }: GlyphData): string {
  const said = name ?? (codePoints[0] === undefined ? '' : `uni${codePoints[0].toString(16).toUpperCase().padStart(4, '0')}`);
  return `${String(id).padStart(5, '0')}${said ? `-${said.replace(/[^A-Za-z0-9._-]/g, '_').slice(0, 60)}` : ''}.svg`;
}
