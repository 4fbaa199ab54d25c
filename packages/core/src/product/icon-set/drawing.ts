import type { Paths, SvgEngine } from '../../engines/index.js';
import { BoundsPen, drawContour, type Bounds, type Contour, type Matrix } from '../../outline/index.js';
import { luminance, piecesOf, type Lines, type PaintLoss, type Piece } from './svg/pieces.js';
import type { Source, SourceLoss } from './svg/source.js';

/** What reads drawings: engines, and files of the library's faces that text in drawings may be set in. */
export interface DrawingTools {
  svg: SvgEngine;
  paths: Paths;
  /** Files of faces of these families, for text; none where a license does not allow it. */
  fonts?: (families: readonly string[]) => readonly Uint8Array[];
}

/**
 * How paints become one ink: everything is ink (`merge`); only what is dark, and light paint takes away from what lies below it
 * (`dark`); or one of the two layers that a style sheet lays over one another in two tones: what is darker (`front`), what is
 * lighter (`back`).
 */
export const INKINGS = ['merge', 'dark', 'front', 'back'] as const;
export type Inking = (typeof INKINGS)[number];

/** A drawing read: shapes on a square board whose side is the em, its lower left corner at (0, 0). */
export interface Drawing {
  /** Of the viewport, px. */
  width: number;
  height: number;
  em: number;
  pieces: Piece[];
  losses: (SourceLoss | PaintLoss)[];
  lines: Lines;
  /** SVG of the drawing as it was understood; nothing in it runs or is fetched. */
  normal: string;
  inking: Inking;
}

/** Where the viewport lies on the square board: in its middle. */
export function boardMatrix(width: number, height: number, em: number): Matrix {
  const side = Math.max(width, height);
  const s = em / side;
  return [s, 0, 0, -s, ((side - width) / 2) * s, em - ((side - height) / 2) * s];
}

/**
 * Reads a drawing.
 * @param em font units that the longer side of its board has
 * @throws FontError in words when it cannot be read
 */
export function readDrawing(source: Source, em: number, tools: DrawingTools): Drawing {
  const fonts = source.losses.includes('text') && tools.fonts ? tools.fonts(source.families) : [];
  const normal = tools.svg.normalise(source.svg, fonts);
  const read = piecesOf(normal, boardMatrix(normal.width, normal.height, em), em, tools.paths);
  const losses = new Set<SourceLoss | PaintLoss>([...source.losses, ...read.losses]);
  // Text that faces of the library drew is shape by now.
  if (fonts.length > 0) losses.delete('text');
  return {
    width: normal.width,
    height: normal.height,
    em,
    pieces: read.pieces,
    losses: [...losses],
    lines: read.lines,
    normal: normal.svg,
    inking: usualInking(read.pieces),
  };
}

/** Luminance above which paint is paper rather than ink: halfway between black and white to the eye (CIE L* 50). */
const LIGHT = 0.184;
/** Above this paint is as good as white. */
const WHITE = 0.8;

/** Light paint over dark is left out, as it looks; where all is one color, or all is dark, everything is ink. */
function usualInking(pieces: readonly Piece[]): Inking {
  const lights = pieces.filter((p) => luminance(p.color) > WHITE).length;
  return lights > 0 && lights < pieces.length ? 'dark' : 'merge';
}

type Paint = Pick<Piece, 'color' | 'alpha'>;
/** Luminance of paint on white paper, which see-through paint lets shine through. */
const tone = (p: Paint): number => 1 - p.alpha * (1 - luminance(p.color));

/**
 * Between which tones a drawing falls into two layers: at the widest gap between its inks, paper left out. Null where all of its ink is
 * of one tone.
 */
export function twoTones({ pieces }: Pick<Drawing, 'pieces'>): number | null {
  const all = [...new Set(pieces.map(tone))].sort((a, b) => a - b);
  const inks = all.filter((t) => t <= WHITE);
  const tones = inks.length > 1 ? inks : all;
  let [gap, at] = [0.001, null as number | null];
  for (let i = 1; i < tones.length; i++)
    if (tones[i]! - tones[i - 1]! > gap) [gap, at] = [tones[i]! - tones[i - 1]!, (tones[i]! + tones[i - 1]!) / 2];
  return at;
}

/** Whether a piece is ink, and where it is not, takes away what lies below it. */
export function inkOf(drawing: Pick<Drawing, 'pieces'>, inking: Inking): (p: Paint) => boolean {
  if (inking === 'merge') return () => true;
  if (inking === 'dark') return (p) => luminance(p.color) <= LIGHT;
  const between = twoTones(drawing);
  // Of one tone all is in front.
  if (between === null) return () => inking === 'front';
  const papered = drawing.pieces.filter((p) => tone(p) <= WHITE && tone(p) > between).length > 0;
  if (inking === 'front') return (p) => tone(p) < between;
  return (p) => tone(p) > between && (!papered || tone(p) <= WHITE);
}

/** The colors of a drawing, as often as they are used, most first. */
export function colorsOf({ pieces }: Pick<Drawing, 'pieces'>): number[] {
  const counts = new Map<number, number>();
  for (const { color } of pieces) counts.set(color, (counts.get(color) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]).map(([color]) => color);
}

export interface OneInk {
  contours: Contour[];
  /** Whether shapes could be taken together as they should; where not, the glyph may differ from the drawing. */
  exact: boolean;
}

/** All pieces as one shape. Outer contours counter-clockwise, holes clockwise, none overlap. */
export function oneInk(drawing: Drawing, inking: Inking, paths: Paths, cut: 'at the edge' | 'not' = 'at the edge'): OneInk {
  const { pieces, em, width, height } = drawing;
  let exact = true;
  const held = <T extends Contour[]>(found: T | null, otherwise: Contour[]): Contour[] => {
    if (!found) exact = false;
    return found ?? otherwise;
  };
  const isInk = inkOf(drawing, inking);
  let all: Contour[] = [];
  let loose: Contour[] = [];
  const settle = (): void => {
    if (loose.length > 0) all = held(paths.unite([...all, ...loose], em), [...all, ...loose]);
    loose = [];
  };
  for (const piece of pieces)
    if (isInk(piece)) loose.push(...piece.contours);
    else if (all.length + loose.length > 0) {
      settle();
      const paper = held(paths.unite(piece.contours, em), piece.contours);
      all = held(paths.combine('difference', all, paper, em), all);
    }
  settle();
  if (cut === 'at the edge' && sticksOut(all, boardOf(width, height, em), em)) {
    const { xMin, yMin, xMax, yMax } = boardOf(width, height, em);
    const frame: Contour = {
      start: [xMin, yMin],
      segments: [
        [xMax, yMin],
        [xMax, yMax],
        [xMin, yMax],
      ],
    };
    all = held(paths.combine('intersection', all, [frame], em), all);
  }
  return { contours: all, exact };
}

/** Where the drawing's own board lies on the square one. */
export function boardOf(width: number, height: number, em: number): Bounds {
  const [s, , , , x, y] = boardMatrix(width, height, em);
  return { xMin: x, xMax: x + width * s, yMin: y - height * s, yMax: y };
}

/** The box around ink; null without any. */
export function boundsOf(contours: readonly Contour[]): Bounds | null {
  const pen = new BoundsPen();
  for (const contour of contours) drawContour(contour, pen);
  return pen.bounds;
}

/** Whether ink lies outside the board by more than rounding. */
export function sticksOut(contours: readonly Contour[], board: Bounds, em: number): boolean {
  const b = boundsOf(contours);
  const slack = em / 500;
  return (
    b !== null && (b.xMin < board.xMin - slack || b.yMin < board.yMin - slack || b.xMax > board.xMax + slack || b.yMax > board.yMax + slack)
  );
}
