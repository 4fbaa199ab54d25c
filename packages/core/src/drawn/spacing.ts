import { edgesOf, type Shape } from './profile.js';

/*
 * Side bearings that give each side of each letter the same white, seen as far as the eye counts it. The figures are those that
 * came nearest to ten well-made faces, each judged by the nine others (bench/README.md).
 */

/** How far white counts from a letter's outermost ink, in parts of the band's height. */
const DEPTH = 0.2;
/** How much of it is taken back from the bearing. */
const TAKEN = 0.6;
/** White beside capitals and figures, in that beside small letters. */
const CAPITALS = 1.2;
/** Ink may stand out over the edge of its advance so far, thousandths of the em. */
const OVERHANG = 100;
/** The target when no words were written: so much of the white within n, h and u, and so much more. */
const OF_COUNTER = 0.254;
const BASE = 11;
/** When there is not even a letter with a counter. */
const USUAL = 70;
/** Heights at which edges are looked at, thousandths of the em. */
const STEP = 6;

/** The heights of a hand, thousandths of the em. */
export interface Heights {
  xHeight: number;
  capHeight: number;
}

/** Which band of a letter its neighbors see. */
export type Band = 'small' | 'capital' | 'own';

/** A letter to be spaced. */
export interface Spaceable {
  shape: Shape;
  band: Band;
}

export interface Bearings {
  left: number;
  right: number;
}

/** How a letter stands in its band: where its ink begins there, and the white beside it. */
interface Sides {
  first: number;
  last: number;
  left: number;
  right: number;
}

function sidesOf({ shape, band }: Spaceable, heights: Heights): Sides {
  const own: [number, number] = [shape.box.yMin, shape.box.yMax];
  let [bottom, top] = band === 'own' ? own : [0, band === 'small' ? heights.xHeight : heights.capHeight];
  let edges = edgesOf(shape, bottom, top, STEP);
  // Ink that is elsewhere, as quotes are, is judged where it is.
  if (edges.first.every(Number.isNaN)) {
    [bottom, top] = own;
    edges = edgesOf(shape, bottom, top, Math.min(STEP, (top - bottom) / 4 || 1));
  }
  let [first, last] = [Infinity, -Infinity];
  for (let i = 0; i < edges.first.length; i++) {
    if (edges.first[i]! < first) first = edges.first[i]!;
    if (edges.last[i]! > last) last = edges.last[i]!;
  }
  if (first > last) return { first: shape.box.xMin, last: shape.box.xMax, left: 0, right: 0 };
  const depth = DEPTH * (top - bottom);
  let [left, right] = [0, 0];
  for (let i = 0; i < edges.first.length; i++) {
    const none = Number.isNaN(edges.first[i]!);
    left += none ? depth : Math.min(depth, edges.first[i]! - first);
    right += none ? depth : Math.min(depth, last - edges.last[i]!);
  }
  return { first, last, left: left / edges.first.length, right: right / edges.first.length };
}

const factor = (band: Band): number => (band === 'small' ? 1 : band === 'capital' ? CAPITALS : 0.9);

/** Side bearings of a letter, from its outermost ink. @param target white beside a straight small letter, thousandths of the em */
export function bearingsOf(letter: Spaceable, target: number, heights: Heights): Bearings {
  const { box } = letter.shape;
  const sides = sidesOf(letter, heights);
  const wanted = target * factor(letter.band);
  const one = (white: number, beyond: number): number => Math.max(-OVERHANG, wanted - TAKEN * white - beyond);
  return { left: one(sides.left, sides.first - box.xMin), right: one(sides.right, box.xMax - sides.last) };
}

/** The target that a hand without written words asks for, by the white within its n, h and u. */
export function usualTarget(
  shapes: readonly Shape[],
  { xHeight }: Heights,
  spansAt: (shape: Shape, y: number) => readonly number[],
): number {
  const counters = shapes.flatMap((shape) => {
    const inner: number[] = [];
    for (let t = 0.25; t < 0.6; t += 0.05) {
      const spans = spansAt(shape, t * xHeight);
      if (spans.length >= 4) inner.push(spans[2]! - spans[1]!);
    }
    inner.sort((a, b) => a - b);
    return inner.length > 0 ? [inner[inner.length >> 1]!] : [];
  });
  if (counters.length === 0) return USUAL;
  counters.sort((a, b) => a - b);
  return OF_COUNTER * counters[counters.length >> 1]! + BASE;
}

/**
 * The target that written words show: what their neighbors leave between one another.
 * @param words letters of each word as they stand beside one another, left to right, all small
 * @returns null when there are too few neighbors to say
 */
export function writtenTarget(words: readonly (readonly Shape[])[], heights: Heights): number | null {
  const found: number[] = [];
  for (const word of words)
    for (let i = 0; i + 1 < word.length; i++) {
      const [a, b] = [sidesOf({ shape: word[i]!, band: 'small' }, heights), sidesOf({ shape: word[i + 1]!, band: 'small' }, heights)];
      found.push((b.first - a.last + TAKEN * (a.right + b.left)) / 2);
    }
  if (found.length < 4) return null;
  // Hands stumble: the middle half counts.
  found.sort((a, b) => a - b);
  const middle = found.slice(Math.floor(found.length / 4), Math.ceil((3 * found.length) / 4));
  return middle.reduce((s, v) => s + v, 0) / middle.length;
}
