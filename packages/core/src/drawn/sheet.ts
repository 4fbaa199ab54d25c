import { FontError } from '../sfnt/index.js';

/** The printed template on which somebody draws a typeface. Lengths on paper in mm from its upper left corner, y down. */

export const PAPERS = { A4: { width: 210, height: 297 }, Letter: { width: 215.9, height: 279.4 } } as const;
export type Paper = keyof typeof PAPERS;

/** What one box is for. */
export interface Cell {
  /** The character that is drawn in it; a combining mark is drawn over a pale letter. */
  character: string;
  /** 0 for the first drawing of a character, 1 and on for further ones. */
  variant: number;
}

/** What a sheet is made from; the same plan is laid out the same way for ever, under the version of the layout that it names. */
export interface SheetPlan {
  /** 16 letters and figures by which pages are known again. */
  id: string;
  layout: 1;
  paper: Paper;
  /** Height of an em, mm. */
  em: number;
  cells: readonly Cell[];
  /** Words to be written in one go, from which the hand's own spacing is learned. */
  words: readonly string[];
}

/** Where a box stands: its origin is on the baseline at the left side line. */
export interface PlacedCell {
  cell: Cell;
  /** Its place in the plan. */
  index: number;
  x: number;
  y: number;
}
/** Where words are written: origin on the baseline at the left end. */
export interface PlacedWords {
  text: string;
  index: number;
  x: number;
  y: number;
  width: number;
}

export interface SheetPage {
  /** From 1. */
  page: number;
  pages: number;
  cells: PlacedCell[];
  words: PlacedWords[];
  /** Middles of the ring marks, clockwise from the upper left. */
  rings: [number, number][];
  /** Middles of the dots between the boxes. */
  dots: [number, number][];
  /** The square of the page's code without its quiet zone. */
  code: { x: number; y: number; side: number };
}

/** Heights of the guides in parts of the em: usual for a plain hand; common practice. */
export const GUIDES = { ascender: 0.74, capHeight: 0.7, xHeight: 0.48, baseline: 0, descender: -0.24 } as const;
/** The box in parts of the em around its origin. */
export const BOX = { left: -0.12, right: 1.12, bottom: -0.36, top: 0.98 } as const;
/** Outer and inner radius of the ring marks and that of the dots, mm. */
export const RING = { outer: 3.6, inner: 1.8 } as const;
export const DOT = 0.6;

const MARGIN = 12;
const HEAD = 34;
const GUTTER_X = 4.6;
const GUTTER_Y = 7;
const CODE_SIDE = 20;
export const EM_LIMITS = { least: 8, most: 30 } as const;
/** Boxes on one sheet at most; more go on a second one. */
const MOST_CELLS = 2000;

/**
 * Lays a sheet out on pages.
 * @throws FontError when nothing fits
 */
export function layOut(plan: SheetPlan): SheetPage[] {
  const { width, height } = PAPERS[plan.paper];
  const { em } = plan;
  if (!(em >= EM_LIMITS.least && em <= EM_LIMITS.most))
    throw new FontError('does-not-fit', `Boxes have an em of ${EM_LIMITS.least} to ${EM_LIMITS.most} mm.`);
  if (plan.cells.length === 0) throw new FontError('does-not-fit', 'A sheet needs at least one character.');
  if (plan.cells.length > MOST_CELLS)
    throw new FontError('does-not-fit', `A sheet has ${MOST_CELLS.toLocaleString('en-US')} boxes at most.`);
  const pitchX = (BOX.right - BOX.left) * em + GUTTER_X;
  const pitchY = (BOX.top - BOX.bottom) * em + GUTTER_Y;
  const columns = Math.max(1, Math.floor((width - 2 * MARGIN) / pitchX));
  const rows = Math.max(1, Math.floor((height - HEAD - MARGIN) / pitchY));
  const left = (width - columns * pitchX) / 2;
  const perPage = columns * rows;
  // A line of words takes a whole row of the last page, or of pages of its own.
  const lines = [...plan.words];
  const pages = Math.ceil((Math.ceil(plan.cells.length / columns) + lines.length) / rows);
  const out: SheetPage[] = [];
  let next = 0;
  for (let page = 1; page <= pages; page++) {
    const cells: PlacedCell[] = [];
    const words: PlacedWords[] = [];
    for (let row = 0; row < rows; row++) {
      const y = HEAD + row * pitchY + GUTTER_Y / 2 + BOX.top * em;
      if (next < plan.cells.length)
        for (let column = 0; column < columns && next < plan.cells.length; column++, next++)
          cells.push({ cell: plan.cells[next]!, index: next, x: left + column * pitchX + GUTTER_X / 2 - BOX.left * em, y });
      else {
        const text = lines.shift();
        if (text !== undefined)
          words.push({
            text,
            index: plan.words.length - lines.length - 1,
            x: left + GUTTER_X / 2 - BOX.left * em,
            y,
            width: columns * pitchX - GUTTER_X + BOX.left * em,
          });
      }
    }
    // Words need no dots within their line, only at its corners.
    const dots: [number, number][] = [];
    for (let row = 0; row <= rows; row++)
      for (let column = 0; column <= columns; column++) dots.push([left + column * pitchX, HEAD + row * pitchY]);
    const inset = MARGIN;
    out.push({
      page,
      pages,
      cells,
      words,
      rings: [
        [inset, inset],
        [width - inset, inset],
        [width - inset, height - inset / 2 - RING.outer],
        [inset, height - inset / 2 - RING.outer],
      ],
      dots,
      code: { x: width / 2 - CODE_SIDE / 2, y: 8, side: CODE_SIDE },
    });
  }
  if (perPage === 0 || out.length > 99)
    throw new FontError('does-not-fit', 'The sheet would have more than 99 pages; make the boxes smaller.');
  return out;
}

const CODE = /^GLYPH1:([A-Z0-9]{16}):(\d{1,3}):(\d{1,2})$/;
/** What stands in the code of a page. */
export const pageCode = (plan: Pick<SheetPlan, 'id' | 'layout'>, page: number): string => `GLYPH1:${plan.id}:${plan.layout}:${page}`;
/** What the code of a page says; null when it is none of ours. */
export function readPageCode(text: string): { id: string; layout: number; page: number } | null {
  const found = CODE.exec(text);
  return found ? { id: found[1]!, layout: Number(found[2]), page: Number(found[3]) } : null;
}

/** Shapes of a page in the order of painting, mm. */
export type SheetShape =
  | { kind: 'line'; color: string; width: number; from: [number, number]; to: [number, number] }
  | { kind: 'disc'; color: string; middle: [number, number]; radius: number; hole: number }
  | { kind: 'rect'; color: string; x: number; y: number; width: number; height: number }
  /** A line of text or, with `ghost`, the pale letter over which a mark is drawn; `size` is its em. */
  | { kind: 'text'; color: string; x: number; y: number; size: number; text: string; align: 'left' | 'middle' };

/** Pale salmon: as bright as paper to the red channel, so that scans are read without the guides. */
export const SALMON = '#ffc4b4';
/** For words beside the boxes. */
export const SALMON_TEXT = '#f5a08c';
const BLACK = '#000000';

/** All that is printed on a page. @param modules rows of the code, dark ones true */
export function sheetShapes(plan: SheetPlan, page: SheetPage, modules: readonly (readonly boolean[])[], title: string): SheetShape[] {
  const { em } = plan;
  const out: SheetShape[] = [];
  const guide = (x0: number, y0: number, x1: number, y1: number, width = 0.2): void =>
    void out.push({ kind: 'line', color: SALMON, width, from: [x0, y0], to: [x1, y1] });
  const text = (x: number, y: number, size: number, words: string, align: 'left' | 'middle', color = SALMON_TEXT): void =>
    void out.push({ kind: 'text', color, x, y, size, text: words, align });
  const levels = (x0: number, x1: number, y: number): void => {
    for (const [name, height] of Object.entries(GUIDES)) guide(x0, y - height * em, x1, y - height * em, name === 'baseline' ? 0.35 : 0.2);
  };
  for (const { cell, x, y } of page.cells) {
    const [x0, x1] = [x + BOX.left * em, x + BOX.right * em];
    const [top, bottom] = [y - BOX.top * em, y - BOX.bottom * em];
    levels(x0, x1, y);
    for (const side of [x0, x1]) guide(side, top, side, bottom, 0.3);
    for (const edge of [top, bottom]) guide(x0, edge, x1, edge, 0.3);
    guide(x, top, x, bottom);
    if (isMark(cell.character)) text(x + 0.26 * em, y, em, ghostOf(cell.character), 'middle', SALMON);
    text((x0 + x1) / 2, top - 1, 3.6, labelOf(cell), 'middle');
  }
  for (const { text: words, x, y, width } of page.words) {
    const [x0, x1] = [x + BOX.left * em, x + width];
    levels(x0, x1, y);
    for (const edge of [y - BOX.top * em, y - BOX.bottom * em]) guide(x0, edge, x1, edge, 0.3);
    text(x0, y - BOX.top * em - 1, 3.6, `Write in one go: ${words}`, 'left');
  }
  for (const middle of page.rings) out.push({ kind: 'disc', color: BLACK, middle, radius: RING.outer, hole: RING.inner });
  for (const middle of page.dots) out.push({ kind: 'disc', color: BLACK, middle, radius: DOT, hole: 0 });
  const { x, y, side } = page.code;
  const module = side / modules.length;
  modules.forEach((row, r) => {
    // Dark modules side by side are one bar: seams between them would show.
    for (let c = 0; c < row.length; c++) {
      if (!row[c]) continue;
      let end = c;
      while (row[end + 1]) end++;
      out.push({ kind: 'rect', color: BLACK, x: x + c * module, y: y + r * module, width: (end - c + 1) * module, height: module });
      c = end;
    }
  });
  // A letter is about 0.55 of its size wide; long names of families are cut.
  const room = Math.floor((x - 3 - (MARGIN + 8)) / (0.55 * 4));
  text(MARGIN + 8, 12, 4, title.length > room ? `${title.slice(0, room - 1)}…` : title, 'left', BLACK);
  // Narrow: the code needs its quiet zone.
  text(MARGIN + 8, 17, 3.2, `Page ${page.page} of ${page.pages}. Print at 100%.`, 'left', BLACK);
  text(MARGIN + 8, 21, 3.2, 'Draw with a dark pen with a hard edge,', 'left', BLACK);
  text(MARGIN + 8, 25, 3.2, 'and keep off the dots and rings.', 'left', BLACK);
  return out;
}

const isMark = (character: string): boolean => /^\p{M}$/u.test(character);
/** The letter that a mark stands over or under in its box. */
const ghostOf = (mark: string): string => (/^[\u0327\u0328]$/.test(mark) ? 'c' : 'o');
const labelOf = ({ character, variant }: Cell): string =>
  `${isMark(character) ? `o${character}` : character}${variant > 0 ? `  ${variant + 1}` : ''}`;
