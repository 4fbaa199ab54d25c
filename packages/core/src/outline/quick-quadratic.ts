import type { GlyfPen } from './pens/glyf.js';
import type { Contour } from './pens/contours.js';

// The usual way from cubics to quadratics, in a fraction of the time of the fitted one and with more points: a cubic is cut into
// equal pieces, each gives one control, and the points on the curve between them are implied. Source: fontTools' cu2qu.

/** More pieces than a curve of a letter needs. */
const MOST = 16;
/** How deep a difference is cut to see whether it stays within the tolerance. */
const MOST_DEPTH = 8;

/** Whether a cubic about the origin stays within a distance of it; its ends are known to. */
function staysInside(d: readonly number[], tolerance: number, depth = 0): boolean {
  const far = (k: number): boolean => Math.hypot(d[k]!, d[k + 1]!) > tolerance;
  if (!far(2) && !far(4)) return true;
  const [mx, my] = [(d[0]! + 3 * (d[2]! + d[4]!) + d[6]!) / 8, (d[1]! + 3 * (d[3]! + d[5]!) + d[7]!) / 8];
  if (Math.hypot(mx, my) > tolerance || depth >= MOST_DEPTH) return false;
  const half = (a: number, b: number): number => (a + b) / 2;
  const [ax, ay] = [half(d[0]!, d[2]!), half(d[1]!, d[3]!)];
  const [bx, by] = [half(d[2]!, d[4]!), half(d[3]!, d[5]!)];
  const [cx, cy] = [half(d[4]!, d[6]!), half(d[5]!, d[7]!)];
  const left = [d[0]!, d[1]!, ax, ay, half(ax, bx), half(ay, by), mx, my];
  const right = [mx, my, half(bx, cx), half(by, cy), cx, cy, d[6]!, d[7]!];
  return staysInside(left, tolerance, depth + 1) && staysInside(right, tolerance, depth + 1);
}

/** Controls of as many quadratics as asked for; null when they are not near enough. */
function controlsOf(c: readonly number[], count: number, tolerance: number): number[] | null {
  // In powers of the parameter, from which every equal piece follows.
  const power = (k: 0 | 1): [number, number, number, number] => [
    c[k]!,
    3 * (c[2 + k]! - c[k]!),
    3 * (c[4 + k]! - 2 * c[2 + k]! + c[k]!),
    c[6 + k]! - 3 * c[4 + k]! + 3 * c[2 + k]! - c[k]!,
  ];
  const [px, py] = [power(0), power(1)];
  const piece = (i: number): number[] => {
    const [t, h] = [i / count, 1 / count];
    const out: number[] = [];
    for (const [k, p] of [
      [0, px],
      [1, py],
    ] as const) {
      const at = (u: number): number => ((p[3] * u + p[2]) * u + p[1]) * u + p[0];
      const slope = (u: number): number => (3 * p[3] * u + 2 * p[2]) * u + p[1];
      const [from, to] = [at(t), at(t + h)];
      out[k] = from;
      out[2 + k] = from + (h / 3) * slope(t);
      out[4 + k] = to - (h / 3) * slope(t + h);
      out[6 + k] = to;
    }
    return out;
  };
  const pieces = Array.from({ length: count }, (_, i) => piece(i));
  const controls = pieces.flatMap((p) => [(3 * (p[2]! + p[4]!) - p[0]! - p[6]!) / 4, (3 * (p[3]! + p[5]!) - p[1]! - p[7]!) / 4]);
  const joint = (i: number): [number, number] =>
    i === 0
      ? [c[0]!, c[1]!]
      : i === count
        ? [c[6]!, c[7]!]
        : [(controls[2 * i - 2]! + controls[2 * i]!) / 2, (controls[2 * i - 1]! + controls[2 * i + 1]!) / 2];
  for (let i = 0; i < count; i++) {
    const p = pieces[i]!;
    const [from, to] = [joint(i), joint(i + 1)];
    if (Math.hypot(to[0] - p[6]!, to[1] - p[7]!) > tolerance) return null;
    const d: number[] = [];
    for (const k of [0, 1] as const) {
      const q = controls[2 * i + k]!;
      d[k] = from[k] - p[k]!;
      d[2 + k] = from[k] + (2 / 3) * (q - from[k]) - p[2 + k]!;
      d[4 + k] = to[k] + (2 / 3) * (q - to[k]) - p[4 + k]!;
      d[6 + k] = to[k] - p[6 + k]!;
    }
    if (!staysInside(d, tolerance)) return null;
  }
  return controls;
}

/** Draws a contour with the fewest equal pieces a curve. @param tolerance font units, before rounding to whole ones */
export function drawQuick({ start, segments }: Contour, pen: GlyfPen, tolerance: number): void {
  pen.moveTo(start[0], start[1]);
  let [x, y] = start;
  for (const s of segments) {
    if (s.length === 2) pen.lineTo(s[0]!, s[1]!);
    else if (s.length === 4) pen.quadTo(s[0]!, s[1]!, s[2]!, s[3]!);
    else {
      const c = [x, y, ...s];
      let controls: number[] | null = null;
      for (let count = 1; count < MOST && !controls; count++) controls = controlsOf(c, count, tolerance);
      controls ??= controlsOf(c, MOST, Infinity)!;
      for (let i = 0; i < controls.length; i += 2) pen.controlTo(controls[i]!, controls[i + 1]!);
      pen.lineTo(s[4]!, s[5]!);
    }
    [x, y] = [s[s.length - 2]!, s[s.length - 1]!];
  }
  pen.closePath();
}
