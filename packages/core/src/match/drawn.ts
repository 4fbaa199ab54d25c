import type { Face } from '../font/index.js';
import { FlattenPen, rasterize, type Bounds, type Polygon } from '../outline/index.js';

const GRID = 16;
/** Faces with more characters than this are searched in their first ones; drawing an ideograph by mouse finds little. */
const MOST = 6000;

/** A shape within a square, blurred, with its proportion: log of width by height. */
interface Picture {
  cells: Float32Array;
  proportion: number;
}

/** Puts polygons into the middle of a square and blurs them, so that strokes a little aside still count. */
function picture(polygons: readonly Polygon[], bounds: Bounds): Picture | null {
  const width = bounds.xMax - bounds.xMin;
  const height = bounds.yMax - bounds.yMin;
  const side = Math.max(width, height);
  if (!(side > 0)) return null;
  const cx = (bounds.xMin + bounds.xMax) / 2;
  const cy = (bounds.yMin + bounds.yMax) / 2;
  const half = side * 0.56;
  const cells = blur(rasterize(polygons, { xMin: cx - half, xMax: cx + half, yMin: cy - half, yMax: cy + half }, GRID, GRID));
  // Boldness must not decide: only where ink is more than on the average.
  const mean = cells.reduce((a, b) => a + b, 0) / cells.length;
  let norm = 0;
  for (let i = 0; i < cells.length; i++) {
    cells[i]! -= mean;
    norm += cells[i]! ** 2;
  }
  norm = Math.sqrt(norm) || 1;
  for (let i = 0; i < cells.length; i++) cells[i]! /= norm;
  return { cells, proportion: Math.log(Math.max(width, side * 0.05) / Math.max(height, side * 0.05)) };
}

/** Twice a 1-2-1 kernel in both directions. */
function blur(cells: Float32Array): Float32Array {
  let from = cells;
  for (let pass = 0; pass < 4; pass++) {
    const step = pass % 2 === 0 ? 1 : GRID;
    const to = new Float32Array(cells.length);
    for (let i = 0; i < cells.length; i++) {
      const at = step === 1 ? i % GRID : Math.floor(i / GRID);
      to[i] = (2 * from[i]! + (at > 0 ? from[i - step]! : 0) + (at < GRID - 1 ? from[i + step]! : 0)) / 4;
    }
    from = to;
  }
  return from;
}

function boundsOf(polygons: readonly Polygon[]): Bounds | null {
  const b = { xMin: Infinity, yMin: Infinity, xMax: -Infinity, yMax: -Infinity };
  for (const p of polygons)
    for (let i = 0; i < p.length; i += 2) {
      b.xMin = Math.min(b.xMin, p[i]!);
      b.xMax = Math.max(b.xMax, p[i]!);
      b.yMin = Math.min(b.yMin, p[i + 1]!);
      b.yMax = Math.max(b.yMax, p[i + 1]!);
    }
  return Number.isFinite(b.xMin) ? b : null;
}

/** Each part of a stroke as a rectangle with its ends lengthened by half the pen; y is turned up. */
function inkOf(strokes: readonly (readonly number[])[], pen: number): Polygon[] {
  const out: Polygon[] = [];
  for (const s of strokes)
    for (let i = 0; i + 3 < s.length; i += 2) {
      const [x0, y0, x1, y1] = [s[i]!, -s[i + 1]!, s[i + 2]!, -s[i + 3]!];
      const length = Math.hypot(x1 - x0, y1 - y0);
      const [ux, uy] = length > 0 ? [(x1 - x0) / length, (y1 - y0) / length] : [1, 0];
      const h = pen / 2;
      const [ax, ay, bx, by] = [x0 - ux * h, y0 - uy * h, x1 + ux * h, y1 + uy * h];
      out.push([ax - uy * h, ay + ux * h, ax + uy * h, ay - ux * h, bx + uy * h, by - ux * h, bx - uy * h, by + ux * h]);
    }
  return out;
}

/**
 * Characters of a face that look like a drawing, nearest first: correlation of blurred rasters, less where the
 * proportions differ.
 * @param strokes each as x, y, x, y, ... in any unit, y down
 * @param pen width of the pen in the same unit
 * @throws FontError when the face cannot be read
 */
export function findDrawn(
  face: Face,
  strokes: readonly (readonly number[])[],
  pen: number,
  count = 24,
): { codePoint: number; score: number }[] {
  const ink = inkOf(strokes, pen);
  const bounds = boundsOf(ink);
  const wanted = bounds && picture(ink, bounds);
  const cmap = face.characters;
  if (!wanted || !cmap || !face.outlines()) return [];
  const tolerance = (face.unitsPerEm || 1000) / 200;
  const scores = new Map<number, number>();
  const out: { codePoint: number; score: number }[] = [];
  for (let i = 0; i < Math.min(MOST, cmap.codePoints.length); i++) {
    const glyph = cmap.glyphs[i]!;
    if (scores.has(glyph)) continue;
    scores.set(glyph, 0);
    const flat = new FlattenPen(tolerance);
    if (!face.draw(glyph, flat)) continue;
    const box = boundsOf(flat.polygons);
    const drawn = box && picture(flat.polygons, box);
    if (!drawn) continue;
    let alike = 0;
    for (let k = 0; k < wanted.cells.length; k++) alike += wanted.cells[k]! * drawn.cells[k]!;
    const codePoint = cmap.codePoints[i]!;
    // Of shapes that are nearly the same, the one people meet every day is meant.
    const common = codePoint < 0x7f ? 0.06 : codePoint < 0x100 || codePoint === 0x20ac ? 0.03 : 0;
    const score = alike + common - 0.25 * Math.min(1.5, Math.abs(wanted.proportion - drawn.proportion));
    out.push({ codePoint, score: Math.round(Math.min(1, Math.max(0, score)) * 1000) / 1000 });
  }
  return out.sort((a, b) => b.score - a.score).slice(0, count);
}
