import { rasterize, type Polygon } from '../outline/index.js';
import type { IndexedFace } from './coarse.js';
import { fitLetters, softer, STRETCHED_FREEDOM, USUAL_FREEDOM, type Pairing } from './fine.js';
import type { InkField } from './ink.js';
import { cellsOf, softnessOf, type PictureLetter } from './letters.js';
import { described, reduced, type Found, type Search, type SearchOptions } from './search.js';
import type { FaceShapes, ShapeLetter } from './shapes.js';

/*
 * Words that are one shape: scripts whose letters join, ligatures, logos that cannot be cut. The whole word is set in each face, letter
 * after letter by its advances, and compared as one.
 */

/** A word as a face sets it, thousandths of the em, y up. */
export interface WordShape {
  polygons: Polygon[];
  xMin: number;
  yMin: number;
  width: number;
  height: number;
}

/** Cells of a word's raster. */
const COLUMNS = 48;
const ROWS = 16;
const NEAREST = 30;
const SIBLINGS = 12;
const SIBLINGS_OF = 3;
const FINALISTS = 8;
const QUICK_PX = 24;
const FULL_PX = 40;
const SOFTER = 1;
/** How much proportions weigh against rasters. */
const PROPORTION = 0.6;
/** Proportions that differ by more are those of other faces; a logarithm. */
const FAR_OFF = 0.3;
/** Letters of one word at most. */
export const LONGEST_WORD = 40;

type WordBox = Omit<WordShape, 'polygons'>;

/** Where the letters of a word stand by their advances; null where the face lacks one. A space is a quarter of an em. */
function standOf({ letters }: FaceShapes, text: string): { stand: { letter: ShapeLetter; x: number }[]; box: WordBox } | null {
  const stand: { letter: ShapeLetter; x: number }[] = [];
  let x = 0;
  let [xMin, yMin, xMax, yMax] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const character of [...text].slice(0, LONGEST_WORD)) {
    if (character === ' ') {
      x += 250;
      continue;
    }
    const letter = letters.get(character.codePointAt(0)!);
    if (!letter) return null;
    stand.push({ letter, x });
    xMin = Math.min(xMin, x + letter.xMin);
    xMax = Math.max(xMax, x + letter.xMin + letter.width);
    yMin = Math.min(yMin, letter.yMin);
    yMax = Math.max(yMax, letter.yMin + letter.height);
    x += letter.advance;
  }
  return xMax > xMin && yMax > yMin ? { stand, box: { xMin, yMin, width: xMax - xMin, height: yMax - yMin } } : null;
}

/** A word set by advances alone; null where the face lacks a letter of it. */
export function composeWord(shapes: FaceShapes, text: string): WordShape | null {
  const found = standOf(shapes, text);
  if (!found) return null;
  const polygons = found.stand.flatMap(({ letter, x }) =>
    letter.polygons().map((p) => {
      for (let i = 0; i < p.length; i += 2) p[i]! += x;
      return p;
    }),
  );
  return { polygons, ...found.box };
}

interface Candidate<T> {
  face: IndexedFace<T>;
  word: WordShape;
  cost: number;
}

/**
 * Finds the faces in which a word looks most like one in a picture, the word taken as one shape.
 * @param picture the word's ink, all of it
 * @param wordOf the word in a face as a shaper sets it; by its advances where it is left out
 */
export function searchWord<T>(
  picture: PictureLetter,
  text: string,
  faces: readonly IndexedFace<T>[],
  familyOf: (item: T) => string,
  options: SearchOptions = {},
  wordOf: ((face: IndexedFace<T>) => WordShape | null) | null = null,
): Search<T> {
  const { box } = picture;
  const tall = box.y1 - box.y0;
  const soft = softnessOf([picture]);
  const seen: InkField = softer(picture.field, Math.max(0.5, tall / 24));
  const local = { x0: box.x0 - picture.x, y0: box.y0 - picture.y, x1: box.x1 - picture.x, y1: box.y1 - picture.y };
  const cells = cellsOf(seen, local, COLUMNS, ROWS);
  const proportion = Math.log((box.x1 - box.x0) / tall);
  const coarse = faces.flatMap((face): Candidate<T>[] => {
    // Of a face whose word is much wider or narrower nothing is drawn.
    const box_ = wordOf || options.stretched ? null : standOf(face.shapes, text)?.box;
    if (box_ === undefined || (box_ && Math.abs(Math.log(box_.width / box_.height) - proportion) > FAR_OFF)) return [];
    const word = wordOf ? wordOf(face) : composeWord(face.shapes, text);
    if (!word) return [];
    const own = rasterize(
      word.polygons,
      { xMin: word.xMin, yMin: word.yMin, xMax: word.xMin + word.width, yMax: word.yMin + word.height },
      COLUMNS,
      ROWS,
    );
    const off = Math.log(word.width / word.height) - proportion;
    return [{ face, word, cost: unlike(cells, spread(own)) + (options.stretched ? 0 : PROPORTION * Math.min(0.3, off * off)) }];
  });
  coarse.sort((a, b) => a.cost - b.cost);
  const at = (by: number, softerBy: number) => {
    const small = reduced(picture, by);
    const field = softerBy > 0 ? softer(small.field, softerBy) : small.field;
    return (c: Candidate<T>, blur: number, rounds: number): Found<T> => {
      const { word } = c;
      const pair: Pairing & { codePoint: number } = {
        ...small,
        field,
        codePoint: 0,
        polygons: word.polygons,
        own: [word.xMin, word.yMin, word.width, word.height],
      };
      const [sx, sy] = [(box.x1 - box.x0) / word.width / by, tall / word.height / by];
      const even = Math.sqrt(sx * sy);
      const free = options.stretched ? STRETCHED_FREEDOM : USUAL_FREEDOM;
      const fit = fitLetters([pair], options.stretched ? sx : even, options.stretched ? sy : even, blur, free, rounds);
      return described(c.face.item, [pair], fit, by, 0, options);
    };
  };
  const quickBy = Math.max(1, Math.round(tall / QUICK_PX));
  const quick = at(quickBy, SOFTER);
  const tried = new Map<Candidate<T>, Found<T>>();
  const tryOut = (list: readonly Candidate<T>[]): void => {
    for (const c of list) if (!tried.has(c)) tried.set(c, quick(c, Math.hypot(SOFTER, soft / quickBy), 3));
  };
  const ranked = (): [Candidate<T>, Found<T>][] => [...tried].sort((a, b) => a[1].score - b[1].score);
  tryOut(coarse.slice(0, NEAREST));
  for (const family of [...new Set(ranked().map(([c]) => familyOf(c.face.item)))].slice(0, SIBLINGS_OF))
    tryOut(coarse.filter((c) => familyOf(c.face.item) === family).slice(0, SIBLINGS));
  const by = Math.max(1, Math.floor(tall / FULL_PX));
  const full = at(by, 0);
  const order = ranked();
  const best = order.slice(0, FINALISTS).map(([c]) => full(c, Math.max(0.5, soft / by), 5));
  best.sort((a, b) => a.score - b.score);
  return { found: [...best, ...order.slice(FINALISTS).map(([, f]) => f)], blur: (best[0]?.fit.blur ?? soft / by) * by, tall };
}

/** A raster a little softer, as the picture's is. */
function spread(cells: Float32Array): Float32Array {
  return softer({ width: COLUMNS, height: ROWS, values: cells }, 0.67).values;
}

function unlike(wanted: Uint8Array, own: Float32Array): number {
  let [qq, qm, mm] = [0, 0, 0];
  for (let i = 0; i < wanted.length; i++) {
    const q = wanted[i]! / 15;
    qq += q * q;
    qm += q * own[i]!;
    mm += own[i]! * own[i]!;
  }
  const gain = Math.max(0.9, Math.min(2, qm / Math.max(1e-9, mm)));
  return Math.max(0, qq - 2 * gain * qm + gain * gain * mm) / Math.max(1e-9, qq);
}
