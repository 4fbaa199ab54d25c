import { bidiLevels, openPlaced, type Paths } from '../engines/index.js';
import type { Face } from '../font/index.js';
import { BoundsPen, ContourPen, drawContour, SvgPathPen, TransformPen, type Contour } from '../outline/index.js';
import { FontError, HHEA } from '../sfnt/index.js';
import { xmlText } from '../text/index.js';
import { JOINING_SCRIPTS, scripts } from '../unicode/index.js';
import { placeOf } from './steps/instance.js';

/** Lengths that drawings are made in, as millimetres each. A px is the CSS reference pixel. Source: CSS Values and Units Level 4, 6.2. */
export const LENGTH_UNITS = { mm: 1, in: 25.4, px: 25.4 / 96, pt: 25.4 / 72 } as const;
export type LengthUnit = keyof typeof LENGTH_UNITS;

/** Words as somebody wants them set. */
export interface WordsWish {
  /** Lines are separated by line ends. */
  text: string;
  size: number;
  unit: LengthUnit;
  /** What is of that size: the em, capital letters, or the width of the longest line's ink. */
  measure: 'em' | 'capitals' | 'width';
  /** Between letters, thousandths of the em. */
  letterSpacing: number;
  /** From baseline to baseline, in ems; null as the face has it. */
  lineHeight: number | null;
  align: 'left' | 'center' | 'right';
  /** Features switched on or off, by tag. */
  features: readonly { tag: string; value: number }[];
  /** As "wght=700", or an instance's name; '' is the usual design. */
  at: string;
  /** One outline of all, or one of each letter. */
  pieces: 'one' | 'letters';
}

/** Words as shapes: a box from the origin, y down, in the unit asked for. */
export interface WordShapes {
  width: number;
  height: number;
  unit: LengthUnit;
  pieces: WordPiece[];
  /** What somebody should know of it; sentences. */
  notes: string[];
}
export interface WordPiece {
  /** The text it is drawn for; all of it for the one piece. */
  text: string;
  contours: Contour[];
}

const MOST_TEXT = 2000;
const MOST_LINES = 200;

/** ISO 15924 code of the script a character belongs to; null for what all scripts share. */
function scriptOf(c: string): string | null {
  const point = c.codePointAt(0)!;
  for (const { code, runs } of scripts())
    for (let i = 0; i < runs.length; i += 2) if (point >= runs[i]! && point <= runs[i + 1]!) return code;
  return null;
}

/** A stretch of one line that is shaped at once: one direction, one script. */
interface Run {
  from: number;
  to: number;
  script: string | null;
}

/** Runs of a line in the order in which they are seen, from left to right. Source: Unicode Standard Annex 9, through rule L2. */
function runsOf(line: string): Run[] {
  if (line === '') return [];
  const levels = bidiLevels(line);
  const logical: (Run & { level: number })[] = [];
  let at = 0;
  for (const c of line) {
    const level = levels[at]!;
    const last = logical[logical.length - 1];
    const script = scriptOf(c);
    if (last && last.level === level && (script === null || last.script === null || last.script === script)) {
      last.to = at + c.length;
      last.script ??= script;
    } else logical.push({ from: at, to: at + c.length, script, level });
    at += c.length;
  }
  // From the highest level to the lowest odd one, turn every stretch of that level or above.
  const highest = logical.reduce((most, r) => Math.max(most, r.level), 0);
  for (let level = highest; level > 0; level--)
    for (let i = 0; i < logical.length; i++) {
      if (logical[i]!.level < level) continue;
      let end = i;
      while (end + 1 < logical.length && logical[end + 1]!.level >= level) end++;
      logical.splice(i, end - i + 1, ...logical.slice(i, end + 1).reverse());
      i = end;
    }
  return logical;
}

/** Contours of a letter where it stands, font units, y up, with its text. */
interface Letter {
  text: string;
  contours: Contour[];
}

/**
 * Sets words with a face, as it kerns and joins them, and gives their outlines.
 * @throws FontError when the face lacks a character, or the wish cannot be met
 */
export function wordShapes(face: Face, wish: WordsWish, paths: Paths): WordShapes {
  const text = wish.text.replace(/\r\n?/g, '\n').replace(/\t/g, ' ').replace(/\n+$/, '');
  const lines = text.split('\n');
  if (text.trim() === '') throw new FontError('does-not-fit', 'There are no words yet.');
  if (text.length > MOST_TEXT || lines.length > MOST_LINES)
    throw new FontError('does-not-fit', `At most ${MOST_TEXT} characters in ${MOST_LINES} lines are drawn at once.`);
  if (!(wish.size > 0)) throw new FontError('does-not-fit', 'A size is a number above 0.');
  const missing = face.writes(text.replaceAll('\n', ' '));
  if (missing.length > 0)
    throw new FontError(
      'does-not-fit',
      `The face cannot set ${missing
        .slice(0, 6)
        .map((m) => `“${String.fromCodePoint(m.codePoint)}”`)
        .join(', ')}${missing.length > 6 ? ` and ${missing.length - 6} more` : ''}; nothing is drawn in its stead.`,
    );
  const notes: string[] = [];
  const letters = setLines(face, wish, lines, notes);
  const drawn = letters.filter((l) => l.contours.length > 0);
  if (drawn.length === 0) throw new FontError('does-not-fit', 'These words draw nothing.');
  const pieces = wish.pieces === 'one' ? [{ text, contours: drawn.flatMap((l) => l.contours) }] : drawn;
  const whole = pieces.map((p) => {
    const united = paths.unite(p.contours, face.unitsPerEm);
    if (!united) notes.push(`The outline of “${p.text.slice(0, 20)}” could not be made one and stays as it is drawn.`);
    return { text: p.text, contours: united ?? p.contours };
  });
  const bounds = new BoundsPen();
  for (const p of whole) for (const c of p.contours) drawContour(c, bounds);
  const box = bounds.bounds!;
  const scale = scaleOf(face, wish, box.xMax - box.xMin);
  const place = (contours: readonly Contour[]): Contour[] => {
    const out = new ContourPen();
    const pen = new TransformPen([scale, 0, 0, -scale, -box.xMin * scale, box.yMax * scale], out);
    for (const c of contours) drawContour(c, pen);
    out.closePath();
    return out.contours;
  };
  return {
    width: (box.xMax - box.xMin) * scale,
    height: (box.yMax - box.yMin) * scale,
    unit: wish.unit,
    pieces: whole.map((p) => ({ text: p.text, contours: place(p.contours) })),
    notes,
  };
}

function scaleOf(face: Face, { size, measure }: WordsWish, width: number): number {
  if (measure === 'em') return size / face.unitsPerEm;
  if (measure === 'width') return size / width;
  const bounds = new BoundsPen();
  const glyph = face.glyphOf(0x48);
  if (glyph !== 0) face.draw(glyph, bounds);
  const height = bounds.bounds?.yMax ?? 0;
  if (!(height > 0)) throw new FontError('does-not-fit', 'The face has no capital H to measure by. Give the size of the em or the width.');
  return size / height;
}

function setLines(face: Face, wish: WordsWish, lines: readonly string[], notes: string[]): Letter[] {
  const { sfnt, faceIndex } = face.sfnt;
  const there = openPlaced(sfnt, faceIndex, face.has('fvar') ? placeOf(face, { at: wish.at }) : new Map<string, number>());
  const spacing = (wish.letterSpacing * face.unitsPerEm) / 1000;
  // Letters set apart are not melted into one. Source: CSS Text Module Level 3, 8.2.
  const apart = spacing === 0 ? [] : ['liga', 'clig', 'dlig', 'hlig', 'calt'].map((tag) => ({ tag, value: 0 }));
  const features = [...apart, ...wish.features];
  const { ascender, descender, lineGap } = face.need(HHEA);
  const step = wish.lineHeight === null ? ascender - descender + lineGap : wish.lineHeight * face.unitsPerEm;
  let kept = false;
  const set = lines.map((line) => {
    const letters: { text: string; glyph: number; x: number; y: number }[] = [];
    let x = 0;
    for (const run of runsOf(line)) {
      const part = line.slice(run.from, run.to);
      const joined = run.script !== null && JOINING_SCRIPTS.includes(run.script);
      const glyphs = there.shape(part, features);
      const starts = [...new Set(glyphs.map((g) => g.cluster))].sort((a, b) => a - b);
      glyphs.forEach((g, i) => {
        letters.push({
          text: part.slice(g.cluster, starts[starts.indexOf(g.cluster) + 1] ?? part.length),
          glyph: g.glyph,
          x: x + g.xOffset,
          y: g.yOffset,
        });
        x += g.xAdvance;
        // Joined letters stay joined; only what stands apart is set farther apart.
        if (glyphs[i + 1]?.cluster !== g.cluster) {
          if (joined && spacing !== 0) kept = true;
          else x += spacing;
        }
      });
    }
    return { letters, width: x - (line === '' ? 0 : spacing) };
  });
  if (kept) notes.push('Letters that join are not set apart.');
  const widest = set.reduce((most, l) => Math.max(most, l.width), 0);
  return set.flatMap(({ letters, width }, i) => {
    const left = wish.align === 'left' ? 0 : wish.align === 'right' ? widest - width : (widest - width) / 2;
    return letters.map(({ text, glyph, x, y }): Letter => {
      const out = new ContourPen();
      there.draw(glyph, new TransformPen([1, 0, 0, 1, left + x, y - i * step], out));
      out.closePath();
      return { text, contours: out.contours };
    });
  });
}

/** Path data of a piece; three decimals of a millimetre are finer than any machine cuts. */
export function piecePath({ contours }: WordPiece, decimals = 3): string {
  const pen = new SvgPathPen(decimals);
  for (const c of contours) drawContour(c, pen);
  return pen.path;
}

/**
 * Words as an SVG file in their real size.
 * @param color CSS color
 * @param about where it comes from; told within, for people
 */
export function wordsSvg(words: WordShapes, color: string, about: string): string {
  const decimals = words.unit === 'in' ? 5 : words.unit === 'mm' ? 4 : 3;
  const n = (v: number): string => String(Math.round(v * 10 ** decimals) / 10 ** decimals);
  const paths = words.pieces
    .map((p) => `<path d="${piecePath(p, decimals)}">${words.pieces.length > 1 ? `<title>${xmlText(p.text)}</title>` : ''}</path>`)
    .join('\n');
  const title = xmlText(
    words.pieces
      .map((p) => p.text)
      .join('')
      .replaceAll('\n', ' '),
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${n(words.width)}${words.unit}" height="${n(words.height)}${words.unit}" viewBox="0 0 ${n(words.width)} ${n(words.height)}">
<title>${title}</title>
<desc>${xmlText(about)}</desc>
<g fill="${xmlText(color)}">
${paths}
</g>
</svg>
`;
}
