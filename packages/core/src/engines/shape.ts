import * as hb from 'harfbuzzjs';
import type { Pen } from '../outline/index.js';

/** One glyph of a shaped line; advances and offsets in font units. */
export interface ShapedGlyph {
  glyph: number;
  /** Index into the text (UTF-16) where the glyph's cluster begins. */
  cluster: number;
  xAdvance: number;
  xOffset: number;
  yOffset: number;
}

export interface ShapedLine {
  unitsPerEm: number;
  glyphs: ShapedGlyph[];
  /** SVG path data of the whole line in font units, y up, origin at the start of the baseline. */
  path: string;
}

/**
 * Shapes a line with HarfBuzz, script and direction guessed from the text, and draws it.
 * @param sfnt a whole TTF, OTF or TTC file (not WOFF)
 */
export function shapeLine(sfnt: Uint8Array, faceIndex: number, text: string): ShapedLine {
  const face = new hb.Face(new hb.Blob(sfnt), faceIndex);
  const font = new hb.Font(face);
  const buffer = new hb.Buffer();
  buffer.addText(text);
  buffer.guessSegmentProperties();
  hb.shape(font, buffer);
  const positions = buffer.getGlyphPositions();
  let x = 0;
  let path = '';
  const glyphs = buffer.getGlyphInfos().map((info, i) => {
    const position = positions[i]!;
    const outline = font.glyphToPath(info.codepoint);
    if (outline !== '') path += movePath(outline, x + position.xOffset, position.yOffset);
    x += position.xAdvance;
    return {
      glyph: info.codepoint,
      cluster: info.cluster,
      xAdvance: position.xAdvance,
      xOffset: position.xOffset,
      yOffset: position.yOffset,
    };
  });
  return { unitsPerEm: face.upem, glyphs, path };
}

/** Shifts absolute SVG path data (commands M, L, Q, C, Z) by an offset. */
function movePath(path: string, dx: number, dy: number): string {
  let even = false;
  return path.replace(/([A-Za-z])|(-?[\d.]+(?:e-?\d+)?)/g, (_, command: string | undefined, number: string | undefined) => {
    if (command !== undefined) {
      even = true;
      return command;
    }
    const moved = Number(number) + (even ? dx : dy);
    even = !even;
    return String(moved);
  });
}

/** Whether HarfBuzz opens the face: null when it does, else a sentence that says why not. */
export function shapingRefusal(sfnt: Uint8Array, faceIndex: number): string | null {
  const face = new hb.Face(new hb.Blob(sfnt), faceIndex);
  for (const tag of ['head', 'maxp', 'cmap'])
    if (!face.referenceTable(tag)?.length)
      return `HarfBuzz, which sets text in browsers and design programs, cannot read the ${tag} table.`;
  if (face.collectUnicodes().length === 0) return 'HarfBuzz, which sets text in browsers and design programs, finds no character in it.';
  return null;
}

/** A glyph where shaping put it. */
export type PlacedGlyph = Omit<ShapedGlyph, 'cluster'>;

/** A face opened once to shape many short texts. */
export interface Shaper {
  /**
   * Glyphs with their advances and offsets in font units, in the order in which they are drawn, with features switched on
   * or off; script and direction are guessed from the text.
   */
  shape(text: string, features?: readonly { tag: string; value: number }[]): PlacedGlyph[];
  /** Left and right edge of a glyph's ink in font units, or null when it has none. */
  inkOf(glyph: number): { left: number; right: number } | null;
}

/**
 * Opens a face in HarfBuzz to shape many short texts.
 * @param sfnt a whole TTF, OTF or TTC file (not WOFF)
 */
export function openShaper(sfnt: Uint8Array, faceIndex: number): Shaper {
  const font = new hb.Font(new hb.Face(new hb.Blob(sfnt), faceIndex));
  const buffer = new hb.Buffer();
  return {
    shape(text, features = []) {
      buffer.reset();
      buffer.addText(text);
      buffer.guessSegmentProperties();
      hb.shape(
        font,
        buffer,
        features.map((f) => new hb.Feature(f.tag, f.value)),
      );
      const positions = buffer.getGlyphPositions();
      return buffer.getGlyphInfos().map((info, i) => {
        const { xAdvance, xOffset, yOffset } = positions[i]!;
        return { glyph: info.codepoint, xAdvance, xOffset, yOffset };
      });
    },
    inkOf(glyph) {
      const box = font.glyphExtents(glyph);
      if (!box || box.width === 0) return null;
      return { left: Math.min(box.xBearing, box.xBearing + box.width), right: Math.max(box.xBearing, box.xBearing + box.width) };
    },
  };
}

/** Draws absolute SVG path data of the commands M, L, Q, C and Z. */
function drawPath(path: string, pen: Pen): void {
  for (const [, command, rest] of path.matchAll(/([MLQCZ])([^MLQCZ]*)/g)) {
    const n = (rest!.match(/-?[\d.]+(?:e-?\d+)?/g) ?? []).map(Number);
    if (command === 'M') pen.moveTo(n[0]!, n[1]!);
    else if (command === 'L') pen.lineTo(n[0]!, n[1]!);
    else if (command === 'Q') pen.quadTo(n[0]!, n[1]!, n[2]!, n[3]!);
    else if (command === 'C') pen.cubicTo(n[0]!, n[1]!, n[2]!, n[3]!, n[4]!, n[5]!);
    else pen.closePath();
  }
}

/** A face at one place of its axes. */
export interface Placed {
  /** Glyphs in the order in which they are drawn, font units; script and direction are guessed from the text. */
  shape(text: string, features?: readonly { tag: string; value: number }[]): ShapedGlyph[];
  /** Advance of a glyph, font units. */
  advance(glyph: number): number;
  /** Draws a glyph; font units, y up. */
  draw(glyph: number, pen: Pen): void;
}

/**
 * Opens a variable face at a place of its axes.
 * @param sfnt a whole TTF, OTF or TTC file (not WOFF)
 * @param at values by axis tag; axes left out stand at their default
 */
export function openPlaced(sfnt: Uint8Array, faceIndex: number, at: ReadonlyMap<string, number>): Placed {
  const font = new hb.Font(new hb.Face(new hb.Blob(sfnt), faceIndex));
  font.setVariations([...at].map(([tag, value]) => new hb.Variation(tag, value)));
  const shape: Placed['shape'] = (text, features = []) => {
    const buffer = new hb.Buffer();
    buffer.addText(text);
    buffer.guessSegmentProperties();
    hb.shape(
      font,
      buffer,
      features.map((f) => new hb.Feature(f.tag, f.value)),
    );
    const positions = buffer.getGlyphPositions();
    return buffer.getGlyphInfos().map((info, i) => {
      const { xAdvance, xOffset, yOffset } = positions[i]!;
      return { glyph: info.codepoint, cluster: info.cluster, xAdvance, xOffset, yOffset };
    });
  };
  return { shape, advance: (glyph) => font.glyphHAdvance(glyph), draw: (glyph, pen) => drawPath(font.glyphToPath(glyph), pen) };
}
