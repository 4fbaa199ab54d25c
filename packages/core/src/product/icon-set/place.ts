import { drawContour, reversed, TransformPen, ContourPen, type Bounds, type Contour, type Matrix } from '../../outline/index.js';
import { boundsOf } from './drawing.js';

/** One act of placing a drawing on the em square, kept in the order in which they were done; lengths and shifts in parts of the em. */
export type PlaceStep =
  /** Ink scaled to touch a square frame that lies so far within the board on all sides. */
  | { step: 'fit'; margin: number }
  /** Ink moved to the middle, or down to the baseline margin. */
  | { step: 'align'; to: 'middle' | 'bottom' }
  | { step: 'nudge'; x: number; y: number }
  /** About the middle of the board. */
  | { step: 'scale'; by: number }
  /** Degrees counter-clockwise about the middle of the board. */
  | { step: 'turn'; degrees: number }
  | { step: 'flip'; across: 'vertical' | 'horizontal' }
  /** The straight sides of the ink's box go onto whole pixels when set so large. */
  | { step: 'snap'; px: number };

/** What a step does to ink with these bounds; null where it does nothing. @param em font units */
function matrixOf(step: PlaceStep, ink: Bounds, em: number): Matrix | null {
  const middle = em / 2;
  const about = (a: number, b: number, c: number, d: number): Matrix => [
    a,
    b,
    c,
    d,
    middle - a * middle - c * middle,
    middle - b * middle - d * middle,
  ];
  const [width, height] = [ink.xMax - ink.xMin, ink.yMax - ink.yMin];
  const [cx, cy] = [(ink.xMin + ink.xMax) / 2, (ink.yMin + ink.yMax) / 2];
  switch (step.step) {
    case 'fit': {
      const by = (em * (1 - 2 * step.margin)) / Math.max(width, height, 1e-6);
      return [by, 0, 0, by, middle - by * cx, middle - by * cy];
    }
    case 'align':
      return [1, 0, 0, 1, middle - cx, step.to === 'middle' ? middle - cy : -ink.yMin];
    case 'nudge':
      return [1, 0, 0, 1, step.x * em, step.y * em];
    case 'scale':
      return about(step.by, 0, 0, step.by);
    case 'turn': {
      const angle = (step.degrees * Math.PI) / 180;
      // Quarter turns are exact.
      const [c, s] = [Math.cos(angle), Math.sin(angle)].map((v) =>
        Math.abs(v) < 1e-12 ? 0 : Math.abs(Math.abs(v) - 1) < 1e-12 ? Math.sign(v) : v,
      );
      return about(c!, s!, -s!, c!);
    }
    case 'flip':
      return step.across === 'vertical' ? about(-1, 0, 0, 1) : about(1, 0, 0, -1);
    case 'snap': {
      const px = em / step.px;
      const snapped = (low: number, high: number): [number, number] => {
        const size = Math.max(1, Math.round((high - low) / px)) * px;
        const by = size / Math.max(high - low, 1e-6);
        return [by, Math.round(low / px) * px - by * low];
      };
      const [sx, dx] = snapped(ink.xMin, ink.xMax);
      const [sy, dy] = snapped(ink.yMin, ink.yMax);
      return [sx, 0, 0, sy, dx, dy];
    }
  }
}

/** Carries steps out on the ink of a drawing. The contours given stay as they are. @param em font units */
export function placed(contours: readonly Contour[], steps: readonly PlaceStep[], em: number): Contour[] {
  let now: Contour[] = [...contours];
  for (const step of steps) {
    const ink = boundsOf(now);
    if (!ink) return [];
    const m = matrixOf(step, ink, em);
    if (!m) continue;
    const pen = new ContourPen();
    for (const contour of now) drawContour(contour, new TransformPen(m, pen));
    pen.closePath();
    // A mirror turns contours round.
    now = m[0] * m[3] - m[1] * m[2] < 0 ? pen.contours.map(reversed) : pen.contours;
  }
  return now;
}

/** How a step reads, for a list from which steps are taken back. */
export function describeStep(step: PlaceStep): string {
  const percent = (n: number): string => `${Math.round(n * 1000) / 10}%`;
  switch (step.step) {
    case 'fit':
      return step.margin === 0 ? 'Fit to the whole board' : `Fit to the board with a margin of ${percent(step.margin)}`;
    case 'align':
      return step.to === 'middle' ? 'Put in the middle' : 'Stand on the bottom edge';
    case 'nudge':
      return `Moved by ${percent(step.x)} across and ${percent(step.y)} up`;
    case 'scale':
      return `Scaled to ${percent(step.by)}`;
    case 'turn':
      return `Turned by ${step.degrees}°`;
    case 'flip':
      return step.across === 'vertical' ? 'Mirrored left to right' : 'Mirrored top to bottom';
    case 'snap':
      return `Edges on whole pixels at ${step.px} px`;
  }
}
