import { edgesOf, type Shape } from './profile.js';
import type { Bearings, Heights } from './spacing.js';

/*
 * Letters of a connected hand: strokes that lead out of a letter end where the next one begins, a little within it, so that no white
 * and no seam is left.
 */

/** Rows whose ink comes so near to the outermost belong to the end of a stroke, thousandths of the em. */
const NEAR = 40;
/** A stroke's end covers no more of the height of small letters than this; bowls and stems cover more. */
const MOST_SHARE = 0.36;
/** How far a stroke reaches into the next letter, in parts of its thickness. */
const INTO = 0.4;
/** Ink may stand out over the edge of its advance so far, thousandths of the em. */
const OVERHANG = 160;
const STEP = 5;

/** Where a stroke leads out of a letter. */
export interface LeadOut {
  /** Of its end. */
  x: number;
  /** The middle of its end above the baseline. */
  y: number;
  /** How high its end is: about the thickness of the stroke. */
  height: number;
}

/** The stroke that leads out of a letter to the right among the small letters, null where none does: bowls and stems do not. */
export function leadOutOf(shape: Shape, { xHeight }: Heights): LeadOut | null {
  const { last } = edgesOf(shape, -0.1 * xHeight, 1.05 * xHeight, STEP);
  let end = -Infinity;
  for (const v of last) if (v > end) end = v;
  if (end === -Infinity || shape.box.xMax - end > NEAR) return null;
  const rows: number[] = [];
  for (let i = 0; i < last.length; i++) if (last[i]! >= end - NEAR) rows.push(-0.1 * xHeight + (i + 0.5) * STEP);
  const height = rows[rows.length - 1]! - rows[0]! + STEP;
  // Ink of two strokes, as the arms of k, is no way out either.
  if (height > MOST_SHARE * xHeight || rows.length * STEP < 0.7 * height) return null;
  return { x: end, y: (rows[0]! + rows[rows.length - 1]!) / 2, height };
}

/** How the letters of a hand connect: at which height most of them lead out, and how thick those strokes are. */
export interface Connection {
  y: number;
  thickness: number;
}

/** The height at which the letters of a hand connect, null when fewer than three lead out: then it is no connected hand. */
export function connectionOf(shapes: readonly Shape[], heights: Heights): Connection | null {
  const outs = shapes.flatMap((s) => leadOutOf(s, heights) ?? []);
  if (outs.length < 3) return null;
  const middle = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]!;
  return { y: middle(outs.map((o) => o.y)), thickness: middle(outs.map((o) => o.height)) };
}

/**
 * Sides of a small letter in a connected hand. To the left the ink begins where the strokes of the others end, at the height at which
 * they do. To the right it ends with its own stroke; a letter without one keeps the white that it has, and its neighbor's.
 * @param plain as it would be spaced were it to stand apart
 */
export function connectedSides(
  shape: Shape,
  plain: Bearings,
  { y, thickness }: Connection,
  heights: Heights,
): Bearings & { leadsOut: boolean } {
  const { first } = edgesOf(shape, Math.max(0, y - thickness / 2), y + thickness / 2, STEP);
  let begin = Infinity;
  for (const v of first) if (v < begin) begin = v;
  const into = INTO * thickness;
  // Letters that have no ink at that height begin with their outermost.
  const reach = begin === Infinity ? 0 : begin - shape.box.xMin;
  const left = Math.max(-OVERHANG, -reach - into / 2);
  const out = leadOutOf(shape, heights);
  const right = out ? Math.max(-OVERHANG, -(shape.box.xMax - out.x) - into / 2) : plain.right + Math.max(0, plain.left);
  return { left, right, leadsOut: out !== null };
}
