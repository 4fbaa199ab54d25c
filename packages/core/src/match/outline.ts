import { areaWithin, fitContour, isolines } from '../drawn/index.js';
import { drawContour, SvgPathPen, TransformPen, type Contour } from '../outline/index.js';
import type { InkField } from './ink.js';
import { softnessOf, takeApart } from './letters.js';

/** Farthest that curves are from what was seen, px. */
const TOLERANCE = 0.25;
/** Smaller parts are dirt, px². */
const SPECK = 2;

/**
 * The ink of a picture as outlines, for when no face is like it: contours in px of the picture, y up from its bottom edge.
 */
export function traceInk(field: InkField): Contour[] {
  const { by, big } = takeApart(field);
  const softness = Math.max(
    0.4,
    softnessOf([{ box: { x0: 0, y0: 0, x1: field.width, y1: field.height }, field, x: 0, y: 0, cells: new Uint8Array() }]),
  );
  const out: Contour[] = [];
  for (const line of isolines({ width: big.width, height: big.height, values: big.values })) {
    const points = new Float64Array(line.length);
    for (let i = 0; i < line.length; i += 2) {
      points[i] = (line[i]! + 0.5) / by;
      points[i + 1] = field.height - (line[i + 1]! + 0.5) / by;
    }
    if (Math.abs(areaWithin(points)) < SPECK) continue;
    const contour = fitContour(points, { px: 1, tolerance: TOLERANCE, softness });
    if (contour) out.push(contour);
  }
  return out;
}

/** Traced ink as an SVG file. @param color of CSS */
export function tracedSvg(field: InkField, color: string): string {
  const pen = new SvgPathPen(2);
  for (const contour of traceInk(field)) drawContour(contour, new TransformPen([1, 0, 0, -1, 0, field.height], pen));
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${field.width} ${field.height}"><path fill="${color}" d="${pen.path}"/></svg>\n`;
}
