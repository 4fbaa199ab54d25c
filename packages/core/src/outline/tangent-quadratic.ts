import type { GlyfPen } from './pens/glyf.js';
import type { Contour } from './pens/contours.js';

// From cubics to quadratics for shapes made of circles and straight lines, as drawings of icons are. A cubic is cut into equal pieces,
// each gets the control in which the tangents at its ends meet, so that extremes stay where they are; a point between two curves is
// implied by the controls beside it where those, rounded, come nearer to it than its own rounded coordinates do.

const MOST_PIECES = 32;
/** Where a quadratic is held against the curve. */
const PLACES = [0.2, 0.4, 0.6, 0.8];
const round = (v: number): number => Math.floor(v + 0.5);

type Point = readonly [number, number];
/** A quadratic, or a line where it has no control. */
interface Piece {
  control: Point | null;
  to: Point;
}

/** Quadratics for a cubic. @param tolerance font units, before rounding */
function quadsOf(c: readonly number[], tolerance: number): Piece[] {
  const point = (t: number): [number, number] => {
    const s = 1 - t;
    const [k0, k1, k2, k3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
    return [k0 * c[0]! + k1 * c[2]! + k2 * c[4]! + k3 * c[6]!, k0 * c[1]! + k1 * c[3]! + k2 * c[5]! + k3 * c[7]!];
  };
  const slope = (t: number): [number, number] => {
    const s = 1 - t;
    const [k0, k1, k2] = [3 * s * s, 6 * s * t, 3 * t * t];
    return [
      k0 * (c[2]! - c[0]!) + k1 * (c[4]! - c[2]!) + k2 * (c[6]! - c[4]!),
      k0 * (c[3]! - c[1]!) + k1 * (c[5]! - c[3]!) + k2 * (c[7]! - c[5]!),
    ];
  };
  for (let n = 1; ; n++) {
    const out: Piece[] = [];
    let near = true;
    for (let i = 0; i < n && near; i++) {
      const [t0, t1] = [i / n, (i + 1) / n];
      const [from, to, u, v] = [point(t0), i + 1 === n ? ([c[6]!, c[7]!] as [number, number]) : point(t1), slope(t0), slope(t1)];
      const step = (t1 - t0) / 4;
      const even: Point = [(from[0] + to[0]) / 2 + step * (u[0] - v[0]), (from[1] + to[1]) / 2 + step * (u[1] - v[1])];
      // How far places of the quadratic are from the curve: from the nearest place of it, found by Newton's steps along it.
      const off = ([x, y]: Point): number => {
        let most = 0;
        for (const t of PLACES) {
          const s = 1 - t;
          const [qx, qy] = [s * s * from[0] + 2 * s * t * x + t * t * to[0], s * s * from[1] + 2 * s * t * y + t * t * to[1]];
          let u = t0 + t * (t1 - t0);
          let [px, py] = point(u);
          for (let round = 0; round < 4; round++) {
            const [sx, sy] = slope(u);
            const speed = sx * sx + sy * sy;
            if (speed === 0) break;
            const step = ((qx - px) * sx + (qy - py) * sy) / speed;
            u = Math.min(1, Math.max(0, u + step));
            [px, py] = point(u);
            if (Math.abs(step) < 1e-4) break;
          }
          most = Math.max(most, Math.hypot(qx - px, qy - py));
        }
        return most;
      };
      const cross = u[0] * v[1] - u[1] * v[0];
      let control = even;
      if (Math.abs(cross) > 1e-3 * Math.hypot(...u) * Math.hypot(...v)) {
        const along = ((to[0] - from[0]) * v[1] - (to[1] - from[1]) * v[0]) / cross;
        const back = (u[0] * (to[1] - from[1]) - u[1] * (to[0] - from[0])) / cross;
        const meet: Point = [from[0] + along * u[0], from[1] + along * u[1]];
        if (along > 0 && back > 0 && off(meet) <= Math.max(tolerance, off(even))) control = meet;
      }
      near = n >= MOST_PIECES || off(control) <= tolerance;
      out.push({ control, to });
    }
    if (near) return out;
  }
}

/**
 * Draws a contour with quadratic curves whose tangents are those of the curves drawn.
 * @param tolerance farthest they may be from them before rounding, font units
 */
export function drawTangent({ start, segments }: Contour, pen: GlyfPen, tolerance: number): void {
  const pieces: Piece[] = [];
  let at: Point = start;
  for (const s of segments) {
    const to: Point = [s[s.length - 2]!, s[s.length - 1]!];
    const still = round(to[0]) === round(at[0]) && round(to[1]) === round(at[1]);
    // What rounding shrinks to a point is left out; the next piece begins where it began.
    if (s.length === 2) {
      if (!still) pieces.push({ control: null, to });
    } else if (s.length === 4) pieces.push({ control: [s[0]!, s[1]!], to });
    else pieces.push(...quadsOf([...at, ...s], tolerance));
    at = to;
  }
  if (pieces.length < 2) return;
  pen.moveTo(round(start[0]), round(start[1]));
  pieces.forEach(({ control, to }, i) => {
    const next = pieces[i + 1];
    if (control) pen.controlTo(control[0], control[1]);
    const implied = control && next?.control && impliedBy(control, to, next.control);
    if (!implied) pen.lineTo(to[0], to[1]);
  });
  pen.closePath();
}

/** Whether the point between two rounded controls stands for a point on the curve at least as well as that one rounded. */
function impliedBy(a: Point, on: Point, b: Point): boolean {
  const [mx, my] = [(round(a[0]) + round(b[0])) / 2, (round(a[1]) + round(b[1])) / 2];
  const away = Math.hypot(mx - on[0], my - on[1]);
  if (away > 0.75) return false;
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  // Only what lies across the curve shows.
  const across = (x: number, y: number): number =>
    length > 0 ? Math.abs((x - on[0]) * (b[1] - a[1]) - (y - on[1]) * (b[0] - a[0])) / length : away;
  return across(mx, my) <= across(round(on[0]), round(on[1])) + 0.05;
}
