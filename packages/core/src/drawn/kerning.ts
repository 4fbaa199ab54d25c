import { edgesOf, type Shape } from './profile.js';
import type { Heights } from './spacing.js';

/*
 * Pairs that stand too far apart or too close, by the white between their softened edges. The figures are those that came nearest to
 * the kerning of six well-made faces; four others were looked at once (bench/README.md).
 */

/** An edge shadows what is above and below it: so much farther away a step up or down. */
const SLOPE = 1;
/** White beyond this does not count, thousandths of the em. */
const FAR = 400;
/** Near white counts more: the exponent of the mean. */
const POWER = 3;
/** How much of the difference is mended. */
const SHARE = 0.6;
/** Less than this is left alone, thousandths of the em. */
const GATE = 18;
/** Punctuation moves less. */
const PUNCTUATION = 0.8;
/** No pair is moved together by more than this. */
const MOST = 160;
/** Ink that comes nearer than this is moved apart. */
const TOUCHES = 12;
const STEP = 10;
const BOTTOM = -250;
const TOP = 780;
/** Of the pairs of two kinds the one that so many are nearer than is as pairs should be. */
const REFERENCE = 0.4;

export type LetterKind = 'small' | 'capital' | 'figure' | 'punctuation';

export interface Kernable {
  key: string;
  kind: LetterKind;
  shape: Shape;
  /** ISO 15924 codes of the scripts whose letters it stands for; left out for what all scripts share. */
  scripts?: readonly string[];
  /** From the outermost ink to the edge of the advance. */
  left: number;
  right: number;
  /** Letters of a connected hand: two of them are not moved, their strokes meet. */
  connected?: boolean;
}

export interface Pair {
  left: string;
  right: string;
  /** Thousandths of the em; negative moves together. */
  value: number;
}

/** Kerning of classes: letters whose sides are alike move alike. */
export interface ClassKerning {
  firsts: string[][];
  seconds: string[][];
  /** A row a class of first letters; thousandths of the em, 0 where nothing is to be moved. */
  values: number[][];
}

/** Values of one class differ by no more than this before they are made one. */
const ALIKE = 14;

/** Puts rows together that differ by little, and gives each class their mean. */
function classesOf(rows: readonly (readonly number[])[]): { members: number[]; mean: number[] }[] {
  const out: { members: number[]; mean: number[] }[] = [];
  rows.forEach((row, i) => {
    const near = out.find((c) => c.mean.every((m, k) => Math.abs(m - row[k]!) <= ALIKE));
    if (!near) return void out.push({ members: [i], mean: [...row] });
    const n = near.members.length;
    near.mean = near.mean.map((m, k) => (m * n + row[k]!) / (n + 1));
    near.members.push(i);
  });
  return out;
}

/** Kerning of all letters by classes of first and second ones. Figures do not kern with one another: columns of them must stand. */
export function classKerning(letters: readonly Kernable[], heights: Heights): ClassKerning {
  const at = new Map(letters.map((l, i) => [l.key, i]));
  const matrix = letters.map(() => new Array<number>(letters.length).fill(0));
  for (const { left, right, value } of kernPairs(letters, heights)) matrix[at.get(left)!]![at.get(right)!] = value;
  const rows = classesOf(matrix).filter((c) => c.mean.some((v) => Math.abs(v) >= GATE / 2));
  const columns = classesOf(letters.map((_, k) => rows.map((r) => r.mean[k]!))).filter((c) => c.mean.some((v) => Math.abs(v) >= GATE / 2));
  return {
    firsts: rows.map((r) => r.members.map((i) => letters[i]!.key)),
    seconds: columns.map((c) => c.members.map((i) => letters[i]!.key)),
    values: rows.map((_, r) => columns.map((c) => (Math.abs(c.mean[r]!) >= GATE / 2 ? Math.round(c.mean[r]!) : 0))),
  };
}

/** All pairs that matter, the largest first. */
export function kernPairs(letters: readonly Kernable[], heights: Heights): Pair[] {
  const rows = Math.floor((TOP - BOTTOM) / STEP);
  const counts = new Uint8Array(rows);
  for (let i = 0; i < rows; i++) {
    const y = BOTTOM + (i + 0.5) * STEP;
    counts[i] = y >= 0 && y <= Math.max(heights.capHeight, heights.xHeight) ? 1 : 0;
  }
  const sides = letters.map(({ shape, left, right }) => {
    const { first, last } = edgesOf(shape, BOTTOM, TOP, STEP);
    const from = shape.box.xMin - left;
    const to = shape.box.xMax + right;
    const plain = {
      start: Float64Array.from(first, (v) => (Number.isNaN(v) ? 1e4 : v - from)),
      end: Float64Array.from(last, (v) => (Number.isNaN(v) ? 1e4 : to - v)),
    };
    return { plain, start: softened(plain.start), end: softened(plain.end) };
  });
  const seen: { a: number; b: number; white: number; kinds: string }[] = [];
  const byKinds = new Map<string, number[]>();
  letters.forEach((l, a) => {
    letters.forEach((r, b) => {
      if (l.kind === 'figure' && r.kind === 'figure') return;
      if (l.connected && r.connected) return;
      // Letters of two scripts do not meet in a word.
      if (l.scripts && r.scripts && !l.scripts.some((s) => r.scripts!.includes(s))) return;
      const white = between(sides[a]!.end, sides[b]!.start, counts);
      const kinds = `${l.kind} ${r.kind}`;
      seen.push({ a, b, white, kinds });
      const list = byKinds.get(kinds);
      if (list) list.push(white);
      else byKinds.set(kinds, [white]);
    });
  });
  const reference = new Map([...byKinds].map(([kinds, list]) => [kinds, list.sort((x, y) => x - y)[Math.floor(list.length * REFERENCE)]!]));
  const out: Pair[] = [];
  for (const { a, b, white, kinds } of seen) {
    const [l, r] = [letters[a]!, letters[b]!];
    let value = SHARE * (reference.get(kinds)! - white);
    if (l.kind === 'punctuation' || r.kind === 'punctuation') value *= PUNCTUATION;
    value = value > -GATE ? 0 : Math.max(-MOST, value);
    // Nothing touches, whether it was moved together or stood too close from the start.
    const gap = nearest(sides[a]!.plain.end, sides[b]!.plain.start);
    if (gap + value < TOUCHES && gap < 1e3) value = Math.min(MOST, TOUCHES - gap);
    if (Math.abs(value) >= GATE / 2) out.push({ left: l.key, right: r.key, value: Math.round(value) });
  }
  return out.sort((p, q) => Math.abs(q.value) - Math.abs(p.value));
}

function softened(edge: Float64Array): Float64Array {
  const out = edge.slice();
  for (let i = 1; i < out.length; i++) out[i] = Math.min(out[i]!, out[i - 1]! + SLOPE * STEP);
  for (let i = out.length - 2; i >= 0; i--) out[i] = Math.min(out[i]!, out[i + 1]! + SLOPE * STEP);
  return out;
}

function between(end: Float64Array, start: Float64Array, counts: Uint8Array): number {
  let [sum, rows] = [0, 0];
  for (let i = 0; i < counts.length; i++) {
    if (!counts[i]) continue;
    const white = Math.max(5, Math.min(FAR, end[i]! + start[i]!));
    sum += 1 / (white * white * white);
    rows++;
  }
  return (sum / Math.max(1, rows)) ** (-1 / POWER);
}

function nearest(end: Float64Array, start: Float64Array): number {
  let least = Infinity;
  for (let i = 0; i < end.length; i++) least = Math.min(least, end[i]! + start[i]!);
  return least;
}
