import type { Paths } from '../../engines/index.js';
import { areaOf, ContourPen, drawContour, FlattenPen, TransformPen, reversed, type Contour, type Matrix } from '../../outline/index.js';
import { BOX, fitContour, INK_EM, shapeOf, SPECK } from '../../drawn/index.js';

/** One act on a letter, kept in the order in which they were done; lengths in thousandths of the em. The ink itself stays as it came in. */
export type LetterStep =
  | { step: 'move'; x: number; y: number }
  /** About the baseline at the left of the ink. */
  | { step: 'scale'; by: number }
  | { step: 'flip'; across: 'vertical' | 'horizontal' }
  /** Degrees counter-clockwise about the middle of the ink. */
  | { step: 'turn'; degrees: number }
  /** Strokes thicker by so much, or thinner where it is negative. */
  | { step: 'weight'; by: number }
  /** Curves drawn anew with fewer points, which may be so far from what was there. */
  | { step: 'smooth'; within: number }
  /** What lies outside the box goes. */
  | { step: 'cut' }
  /** Specks, or holes that are gaps of the pen, go. */
  | { step: 'clean' }
  /** What somebody made of it by moving its points. */
  | { step: 'edit'; contours: readonly Contour[] };

/** A letter as it was drawn and what was done to it. */
export interface DrawnLetter {
  /** Stays when it is drawn anew. */
  id: string;
  /** A character, a combining mark, or a sequence that is drawn as one. */
  character: string;
  /** 0 for the first drawing. */
  variant: number;
  /** Thousandths of the em, y up; outer contours counter-clockwise. */
  ink: readonly Contour[];
  steps: readonly LetterStep[];
}

const transformed = (contours: readonly Contour[], m: Matrix): Contour[] => {
  const pen = new ContourPen();
  for (const contour of contours) drawContour(contour, new TransformPen(m, pen));
  pen.closePath();
  // A mirror turns contours round.
  return m[0] * m[3] - m[1] * m[2] < 0 ? pen.contours.map(reversed) : pen.contours;
};

/** Bounds of steps: what they take at least and at most. */
export const STEP_LIMITS = { shift: 1000, scale: [0.2, 5], weight: 60, smooth: 20 } as const;

/** A letter's outline: its ink with all steps carried out. A step that cannot be done leaves it as it was. */
export function outlineOf({ ink, steps }: Pick<DrawnLetter, 'ink' | 'steps'>, paths: Paths): Contour[] {
  let now: Contour[] = [...ink];
  for (const step of steps) {
    const box = shapeOf(now)?.box;
    if (!box && step.step !== 'edit') return [];
    now = carriedOut(step, now, box ?? { xMin: 0, yMin: 0, xMax: 0, yMax: 0 }, paths);
  }
  return now;
}

function carriedOut(
  step: LetterStep,
  now: Contour[],
  box: { xMin: number; yMin: number; xMax: number; yMax: number },
  paths: Paths,
): Contour[] {
  const [cx, cy] = [(box.xMin + box.xMax) / 2, (box.yMin + box.yMax) / 2];
  switch (step.step) {
    case 'move':
      return transformed(now, [1, 0, 0, 1, step.x, step.y]);
    case 'scale':
      return transformed(now, [step.by, 0, 0, step.by, box.xMin - step.by * box.xMin, 0]);
    case 'flip':
      return transformed(now, step.across === 'vertical' ? [-1, 0, 0, 1, 2 * cx, 0] : [1, 0, 0, -1, 0, 2 * cy]);
    case 'turn': {
      const a = (step.degrees * Math.PI) / 180;
      const [c, s] = [Math.cos(a), Math.sin(a)];
      return transformed(now, [c, s, -s, c, cx - c * cx + s * cy, cy - s * cx - c * cy]);
    }
    case 'weight':
      return thickened(now, step.by, paths);
    case 'smooth':
      return now.map((c) => {
        const pen = new FlattenPen(0.2);
        drawContour(c, pen);
        pen.closePath();
        const [polygon] = pen.polygons;
        return (polygon && fitContour(Float64Array.from(polygon), { px: 4, tolerance: step.within / 4, softness: 0.4 })) ?? c;
      });
    case 'cut': {
      const [x0, y0, x1, y1] = [BOX.left, BOX.bottom, BOX.right, BOX.top].map((v) => v * INK_EM) as [number, number, number, number];
      return (
        paths.combine(
          'intersection',
          now,
          [
            {
              start: [x0, y0],
              segments: [
                [x1, y0],
                [x1, y1],
                [x0, y1],
              ],
            },
          ],
          INK_EM,
        ) ?? now
      );
    }
    case 'clean': {
      const kept = now.filter((c) => Math.abs(areaOf(c)) >= 8 * SPECK * INK_EM * INK_EM);
      return kept.length > 0 ? kept : now;
    }
    case 'edit':
      return [...step.contours];
  }
}

/** Strokes thicker or thinner: the outline's own stroke is joined to it, or taken from it. */
function thickened(contours: Contour[], by: number, paths: Paths): Contour[] {
  if (by === 0) return contours;
  const edge = contours.flatMap(
    (c) =>
      paths.stroked(
        { start: c.start, segments: c.segments, closed: true },
        { width: Math.abs(by), cap: 'round', join: 'round', miterLimit: 4 },
      ) ?? [],
  );
  const line = paths.unite(edge, INK_EM);
  if (!line) return contours;
  const out = by > 0 ? paths.unite([...contours, ...line], INK_EM) : paths.combine('difference', contours, line, INK_EM);
  // A stroke thinner than what is taken away would be gone.
  return out && out.length > 0 ? out : contours;
}

/** How a step reads, for a list from which steps are taken back. */
export function describeLetterStep(step: LetterStep): string {
  const n = (v: number): string => String(Math.round(v * 10) / 10);
  switch (step.step) {
    case 'move':
      return `Moved by ${n(step.x)} across and ${n(step.y)} up`;
    case 'scale':
      return `Scaled to ${n(step.by * 100)}%`;
    case 'flip':
      return step.across === 'vertical' ? 'Mirrored left to right' : 'Mirrored top to bottom';
    case 'turn':
      return `Turned by ${n(step.degrees)}°`;
    case 'weight':
      return step.by > 0 ? `Thicker by ${n(step.by)}` : `Thinner by ${n(-step.by)}`;
    case 'smooth':
      return `Smoothed within ${n(step.within)}`;
    case 'cut':
      return 'Cut at the edge of its box';
    case 'clean':
      return 'Specks and gaps left out';
    case 'edit':
      return 'Points moved by hand';
  }
}
