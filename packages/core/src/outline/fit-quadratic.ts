import type { GlyfPen } from './pens/glyf.js';
import type { Contour } from './pens/contours.js';

// Cubic curves as quadratic splines with whole coordinates. Each cubic becomes the smallest number of quadratics whose points
// on the curve are implied: their controls are found by least squares with the tangents at both ends kept, the samples being
// moved to the nearest place of the spline in between; what counts is the distance of the rounded controls. Then points on the
// curve between two splines go where they lie midway between their neighbors closely enough.
// Sources: parameter correction as in Hoschek, Computer Aided Geometric Design 5 (1988); implied points, OpenType, glyf.

/** More quadratics than a curve of a letter needs. */
const MOST_QUADS = 12;
/** Places at which a quadratic is measured before it is taken. */
const PLACES_A_QUAD = 10;
/** Rounds of least squares and reprojection. */
const MOST_ROUNDS = 5;
/** Squares of the tolerance beyond which reprojection does not bring a spline near enough. */
const HOPELESS = 36;
/** How far beyond the tolerance the curve may be where a point was left out, in parts of the tolerance. */
const DROP_SLACK = 0.14;

const round = (v: number): number => Math.floor(v + 0.5);

/** A piece of a contour in whole units: controls off the curve (none for a line) and where it ends. */
interface Piece {
  controls: [number, number][];
  to: [number, number];
  /** Places of the curve it stands for, spread evenly along it: x0, y0, x1, y1, ... */
  samples: Float64Array | null;
}

const point = (c: readonly number[], t: number): [number, number] => {
  const s = 1 - t;
  const [k0, k1, k2, k3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
  return [k0 * c[0]! + k1 * c[2]! + k2 * c[4]! + k3 * c[6]!, k0 * c[1]! + k1 * c[3]! + k2 * c[5]! + k3 * c[7]!];
};

/** Places along a cubic at even distances, its ends left out, with their parameters behind them: x, y, t, ... */
function spread(c: readonly number[], count: number): { places: Float64Array; at: Float64Array; length: number } {
  const steps = 2 * count;
  const lengths = new Float64Array(steps + 1);
  let [px, py] = [c[0]!, c[1]!];
  for (let i = 1; i <= steps; i++) {
    const [x, y] = point(c, i / steps);
    lengths[i] = lengths[i - 1]! + Math.hypot(x - px, y - py);
    [px, py] = [x, y];
  }
  const whole = lengths[steps]!;
  const places = new Float64Array(2 * count);
  const at = new Float64Array(count);
  let k = 1;
  for (let i = 0; i < count; i++) {
    const wanted = (whole * (i + 1)) / (count + 1);
    while (k < steps && lengths[k]! < wanted) k++;
    const span = lengths[k]! - lengths[k - 1]!;
    const t = (k - 1 + (span > 0 ? (wanted - lengths[k - 1]!) / span : 0)) / steps;
    at[i] = t;
    [places[2 * i], places[2 * i + 1]] = point(c, t);
  }
  return { places, at, length: whole };
}

/** A spline of quadratics with implied points: its ends and its controls, as flat lists. */
class Spline {
  constructor(
    readonly x0: number,
    readonly y0: number,
    readonly x1: number,
    readonly y1: number,
    /** x and y of each control, one after the other. */
    readonly c: Float64Array,
  ) {}
  get quads(): number {
    return this.c.length / 2;
  }
  /** Square of the distance of a place to the spline near parameter `s`, and the nearest parameter. */
  nearest(px: number, py: number, s: number, out: { s: number; d: number }): void {
    const n = this.quads;
    const { c } = this;
    let best = Infinity;
    let bestS = s;
    for (let round = 0; round < 4; round++) {
      const k = Math.min(n - 1, Math.max(0, Math.floor(s)));
      const t = s - k;
      const ax = k === 0 ? this.x0 : (c[2 * k - 2]! + c[2 * k]!) / 2;
      const ay = k === 0 ? this.y0 : (c[2 * k - 1]! + c[2 * k + 1]!) / 2;
      const bx = k === n - 1 ? this.x1 : (c[2 * k]! + c[2 * k + 2]!) / 2;
      const by = k === n - 1 ? this.y1 : (c[2 * k + 1]! + c[2 * k + 3]!) / 2;
      const mx = c[2 * k]!;
      const my = c[2 * k + 1]!;
      const r = 1 - t;
      const dx = r * r * ax + 2 * r * t * mx + t * t * bx - px;
      const dy = r * r * ay + 2 * r * t * my + t * t * by - py;
      const d = dx * dx + dy * dy;
      if (d < best) {
        best = d;
        bestS = s;
      } else if (round > 0) break;
      const vx = 2 * (r * (mx - ax) + t * (bx - mx));
      const vy = 2 * (r * (my - ay) + t * (by - my));
      const speed = vx * vx + vy * vy;
      if (speed === 0) break;
      const next = Math.min(n, Math.max(0, s - (dx * vx + dy * vy) / speed));
      if (Math.abs(next - s) < 1e-4) break;
      s = next;
    }
    out.s = bestS;
    out.d = best;
  }
}

/** Solves a small symmetric system in place; null where it has no one answer. */
function solve(m: Float64Array, rhs: Float64Array, size: number): boolean {
  for (let i = 0; i < size; i++) {
    let pivot = i;
    for (let r = i + 1; r < size; r++) if (Math.abs(m[r * size + i]!) > Math.abs(m[pivot * size + i]!)) pivot = r;
    if (Math.abs(m[pivot * size + i]!) < 1e-9) return false;
    if (pivot !== i) {
      for (let k = 0; k < size; k++) [m[i * size + k], m[pivot * size + k]] = [m[pivot * size + k]!, m[i * size + k]!];
      [rhs[i], rhs[pivot]] = [rhs[pivot]!, rhs[i]!];
    }
    for (let r = i + 1; r < size; r++) {
      const f = m[r * size + i]! / m[i * size + i]!;
      if (f === 0) continue;
      for (let k = i; k < size; k++) m[r * size + k]! -= f * m[i * size + k]!;
      rhs[r]! -= f * rhs[i]!;
    }
  }
  for (let i = size - 1; i >= 0; i--) {
    for (let k = i + 1; k < size; k++) rhs[i]! -= m[i * size + k]! * rhs[k]!;
    rhs[i]! /= m[i * size + i]!;
  }
  return true;
}

/** Unit vector of the first of some differences that has a length. */
function direction(...ways: (readonly [number, number])[]): [number, number] {
  for (const [x, y] of ways) {
    const length = Math.hypot(x, y);
    if (length > 1e-6) return [x / length, y / length];
  }
  return [0, 0];
}

/** Controls of the spline of `n` quadratics that comes nearest; null where none keeps the tangents. Not rounded. */
function fit(
  c: readonly number[],
  n: number,
  places: Float64Array,
  at: Float64Array,
  ends: readonly number[],
  limit: number,
): Float64Array | null {
  const [x0, y0, x1, y1] = ends as [number, number, number, number];
  const [ux, uy] = direction([c[2]! - c[0]!, c[3]! - c[1]!], [c[4]! - c[0]!, c[5]! - c[1]!], [c[6]! - c[0]!, c[7]! - c[1]!]);
  const [vx, vy] = direction([c[6]! - c[4]!, c[7]! - c[5]!], [c[6]! - c[2]!, c[7]! - c[3]!], [c[6]! - c[0]!, c[7]! - c[1]!]);
  if (n === 1) {
    // Where the tangents meet.
    const cross = ux * vy - uy * vx;
    if (Math.abs(cross) < 1e-6) return null;
    const a = ((x1 - x0) * vy - (y1 - y0) * vx) / cross;
    const b = (ux * (y1 - y0) - uy * (x1 - x0)) / cross;
    return a > 0 && b > 0 ? Float64Array.of(x0 + a * ux, y0 + a * uy) : null;
  }
  const count = at.length;
  const s = Float64Array.from(at, (t) => t * n);
  const size = 2 + 2 * (n - 2);
  const controls = new Float64Array(2 * n);
  const m = new Float64Array(size * size);
  const rhs = new Float64Array(size);
  // Columns of the unknowns that a control stands on, for x and for y.
  const rowX = new Float64Array(size);
  const rowY = new Float64Array(size);
  const near = { s: 0, d: 0 };
  let before = Infinity;
  for (let turn = 0; turn < MOST_ROUNDS; turn++) {
    m.fill(0);
    rhs.fill(0);
    for (let i = 0; i < count; i++) {
      const k = Math.min(n - 1, Math.floor(s[i]!));
      const t = s[i]! - k;
      const r = 1 - t;
      rowX.fill(0);
      rowY.fill(0);
      let bx = places[2 * i]!;
      let by = places[2 * i + 1]!;
      const put = (control: number, weight: number): void => {
        if (control === 0) {
          bx -= weight * x0;
          by -= weight * y0;
          rowX[0]! += weight * ux;
          rowY[0]! += weight * uy;
        } else if (control === n - 1) {
          bx -= weight * x1;
          by -= weight * y1;
          rowX[1]! -= weight * vx;
          rowY[1]! -= weight * vy;
        } else {
          rowX[2 * control]! += weight;
          rowY[2 * control + 1]! += weight;
        }
      };
      put(k, 2 * t * r + (k > 0 ? (r * r) / 2 : 0) + (k < n - 1 ? (t * t) / 2 : 0));
      if (k > 0) put(k - 1, (r * r) / 2);
      else {
        bx -= r * r * x0;
        by -= r * r * y0;
      }
      if (k < n - 1) put(k + 1, (t * t) / 2);
      else {
        bx -= t * t * x1;
        by -= t * t * y1;
      }
      for (let p = 0; p < size; p++) {
        const [px, py] = [rowX[p]!, rowY[p]!];
        if (px === 0 && py === 0) continue;
        rhs[p]! += px * bx + py * by;
        for (let q = 0; q < size; q++) m[p * size + q]! += px * rowX[q]! + py * rowY[q]!;
      }
    }
    if (!solve(m, rhs, size)) return null;
    controls[0] = x0 + rhs[0]! * ux;
    controls[1] = y0 + rhs[0]! * uy;
    controls[2 * n - 2] = x1 - rhs[1]! * vx;
    controls[2 * n - 1] = y1 - rhs[1]! * vy;
    for (let k = 1; k < n - 1; k++) {
      controls[2 * k] = rhs[2 * k]!;
      controls[2 * k + 1] = rhs[2 * k + 1]!;
    }
    if (rhs[0]! < 0 || rhs[1]! < 0) return null;
    const spline = new Spline(x0, y0, x1, y1, controls);
    let most = 0;
    for (let i = 0; i < count; i++) {
      spline.nearest(places[2 * i]!, places[2 * i + 1]!, s[i]!, near);
      s[i] = near.s;
      most = Math.max(most, near.d);
    }
    // Near enough; or so far that so few quadratics will not do; or no nearer than before.
    if (most < limit / 2 || most > before * 0.98) break;
    if (most > HOPELESS * limit) return null;
    before = most;
  }
  return controls;
}

/** The largest square of a distance of places, in order along it, to a spline. */
function farthest(spline: Spline, places: Float64Array, limit: number): number {
  const n = spline.quads;
  const count = places.length / 2;
  const near = { s: 0, d: 0 };
  let most = 0;
  let s = 0;
  for (let i = 0; i < count; i++) {
    const [px, py] = [places[2 * i]!, places[2 * i + 1]!];
    spline.nearest(px, py, Math.max(s, (n * (i + 1)) / (count + 1) - 0.5), near);
    if (near.d > limit) {
      // A start nearer by: from where the place before ended.
      const first = near.d;
      const firstS = near.s;
      spline.nearest(px, py, s, near);
      if (first < near.d) [near.s, near.d] = [firstS, first];
      if (near.d > limit) spline.nearest(px, py, (n * (i + 1)) / (count + 1), near);
    }
    s = near.s;
    most = Math.max(most, near.d);
    if (most > limit) return most;
  }
  return most;
}

function cubicPiece(c: readonly number[], tolerance: number): Piece {
  const to: [number, number] = [round(c[6]!), round(c[7]!)];
  const from: [number, number] = [round(c[0]!), round(c[1]!)];
  const ends = [from[0], from[1], to[0], to[1]];
  const rough =
    Math.hypot(c[2]! - c[0]!, c[3]! - c[1]!) + Math.hypot(c[4]! - c[2]!, c[5]! - c[3]!) + Math.hypot(c[6]! - c[4]!, c[7]! - c[5]!);
  const { places, at } = spread(c, Math.min(40, Math.max(10, Math.round(rough / (20 * tolerance)))));
  // Straight within a hair: a line.
  const chord = Math.hypot(to[0] - from[0], to[1] - from[1]);
  if (chord > 0 && rough < chord * 1.0005) {
    let most = 0;
    for (let i = 0; i < at.length; i++)
      most = Math.max(
        most,
        Math.abs((places[2 * i]! - from[0]) * (to[1] - from[1]) - (places[2 * i + 1]! - from[1]) * (to[0] - from[0])) / chord,
      );
    if (most <= tolerance / 2) return { controls: [], to, samples: null };
  }
  const limit = tolerance * tolerance;
  let best: { piece: Piece; d: number } | null = null;
  for (let n = 1; n <= MOST_QUADS; n++) {
    const controls = fit(c, n, places, at, ends, limit);
    if (!controls) continue;
    const rounded = controls.map(round);
    const spline = new Spline(ends[0]!, ends[1]!, ends[2]!, ends[3]!, rounded);
    let d = farthest(spline, places, limit);
    let samples = places;
    if (d <= limit) {
      // Each quadratic leaves the curve and comes back, so what was found on few places is looked at on more.
      samples = spread(c, PLACES_A_QUAD * n).places;
      d = farthest(spline, samples, limit);
    }
    const piece = { controls: Array.from({ length: n }, (_, i): [number, number] => [rounded[2 * i]!, rounded[2 * i + 1]!]), to, samples };
    if (d <= limit) return piece;
    if (!best || d < best.d) best = { piece, d };
  }
  // Whole coordinates allow no better; the comparison of before and after tells how far it is.
  return best?.piece ?? { controls: even(c), to, samples: places };
}

/** A cubic cut at even parameters, for those whose tangents no spline keeps; controls with implied points between. */
function even(c: readonly number[]): [number, number][] {
  const n = 4;
  return Array.from({ length: n }, (_, i): [number, number] => {
    const [t0, t1] = [i / n, (i + 1) / n];
    const [ax, ay] = point(c, t0);
    const [mx, my] = point(c, (t0 + t1) / 2);
    const [bx, by] = point(c, t1);
    return [round(2 * mx - (ax + bx) / 2), round(2 * my - (ay + by) / 2)];
  });
}

/**
 * Draws a contour of cubic curves as TrueType wants it: quadratic splines in whole units, with as few points as the tolerance
 * allows. Where curves meet smoothly the point between them is left out when it lies nearly midway between its neighbors.
 * @param tolerance farthest the curves may be from those drawn, in font units; rounding is counted in
 */
export function drawQuadratic(contour: Contour, pen: GlyfPen, tolerance: number): void {
  const pieces: Piece[] = [];
  let [px, py] = contour.start as [number, number];
  for (const s of contour.segments) {
    const [tx, ty] = [s[s.length - 2]!, s[s.length - 1]!];
    if (s.length === 6) pieces.push(cubicPiece([px, py, ...s], tolerance));
    else if (s.length === 4) pieces.push({ controls: [[round(s[0]!), round(s[1]!)]], to: [round(tx), round(ty)], samples: null });
    else pieces.push({ controls: [], to: [round(tx), round(ty)], samples: null });
    [px, py] = [tx, ty];
  }
  const start: [number, number] = [round(contour.start[0]), round(contour.start[1])];
  const kept = pieces.map(() => true);
  // The last point, at which the contour began, stays: some programs want a contour to begin on the curve.
  for (let i = 0; i + 1 < pieces.length; i++) kept[i] = !droppable(pieces, i, kept, start, tolerance);
  // Two points enclose nothing.
  if (pieces.length < 2 && pieces.every((p) => p.controls.length === 0)) return;
  pen.moveTo(start[0], start[1]);
  pieces.forEach(({ controls, to }, i) => {
    for (const [x, y] of controls) pen.controlTo(x, y);
    if (kept[i] || controls.length === 0) pen.lineTo(to[0], to[1]);
  });
  pen.closePath();
}

/** Whether the point where two splines meet can be implied by the controls beside it. */
function droppable(pieces: readonly Piece[], i: number, kept: readonly boolean[], start: [number, number], tolerance: number): boolean {
  const a = pieces[i]!;
  const b = pieces[i + 1]!;
  if (!a.samples || !b.samples || a.controls.length === 0 || b.controls.length === 0) return false;
  const [cx, cy] = a.controls[a.controls.length - 1]!;
  const [dx, dy] = b.controls[0]!;
  const [mx, my] = [(cx + dx) / 2, (cy + dy) / 2];
  if (Math.hypot(mx - a.to[0], my - a.to[1]) > tolerance) return false;
  // Both curves are measured as they would then run.
  const from = i === 0 ? start : pieces[i - 1]!.to;
  const before = i > 0 && !kept[i - 1] ? between(pieces[i - 1]!, a) : from;
  const limit = (tolerance * (1 + DROP_SLACK)) ** 2;
  const flat = (p: Piece): Float64Array => Float64Array.from(p.controls.flat());
  return (
    farthest(new Spline(before[0], before[1], mx, my, flat(a)), a.samples, limit) <= limit &&
    farthest(new Spline(mx, my, b.to[0], b.to[1], flat(b)), b.samples, limit) <= limit
  );
}

const between = (a: Piece, b: Piece): [number, number] => {
  const [cx, cy] = a.controls[a.controls.length - 1]!;
  const [dx, dy] = b.controls[0]!;
  return [(cx + dx) / 2, (cy + dy) / 2];
};
