import type { Contour } from '../outline/index.js';
import { areaWithin, isolines } from './contour.js';
import { fitContour } from './fit.js';
import type { Gray } from './picture.js';
import { BOX } from './sheet.js';
import { INK_EM, SPECK } from './read.js';

/** Farthest that curves are from a drawing made on screen, px. */
const TOLERANCE = 0.3;

/**
 * Ink of one box that was drawn on screen: dark on white, the box's own edges its borders.
 * @returns contours in thousandths of the em, as a page gives them
 */
export function traceBox({ width, height, data }: Gray): Contour[] {
  const values = Float32Array.from(data, (v) => 1 - v / 255);
  const px = ((BOX.right - BOX.left) * INK_EM) / width;
  const out: Contour[] = [];
  for (const line of isolines({ width, height, values })) {
    const points = new Float64Array(line.length);
    for (let i = 0; i < line.length; i += 2) {
      points[i] = BOX.left * INK_EM + (line[i]! + 0.5) * px;
      points[i + 1] = BOX.top * INK_EM - (line[i + 1]! + 0.5) * px;
    }
    if (Math.abs(areaWithin(points)) < SPECK * INK_EM * INK_EM) continue;
    const contour = fitContour(points, { px, tolerance: TOLERANCE, softness: 0.4 });
    if (contour) out.push(contour);
  }
  return out;
}

/** Words that were written in one go, taken apart into letters; null where the count says that letters join or fall apart. */
export function lettersOf(
  contours: readonly Contour[],
  text: string,
  boxOf: (contours: readonly Contour[]) => { xMin: number; xMax: number } | null,
): Contour[][][] | null {
  const groups: { from: number; to: number; contours: Contour[] }[] = [];
  const placed = contours.flatMap((c) => {
    const box = boxOf([c]);
    return box ? [{ c, ...box }] : [];
  });
  for (const { c, xMin, xMax } of placed.sort((a, b) => a.xMin - b.xMin)) {
    const last = groups[groups.length - 1];
    // A dot over its stem, a hole in its letter: what lies mostly over the last one belongs to it.
    if (last && Math.min(xMax, last.to) - xMin > 0.5 * Math.min(xMax - xMin, last.to - last.from)) {
      last.contours.push(c);
      last.to = Math.max(last.to, xMax);
    } else groups.push({ from: xMin, to: xMax, contours: [c] });
  }
  const words = text.split(' ');
  if (groups.length !== words.reduce((n, w) => n + [...w].length, 0)) return null;
  let at = 0;
  return words.map((w) => groups.slice(at, (at += [...w].length)).map((g) => g.contours));
}
