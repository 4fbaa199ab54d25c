import { nearestOnCubic, type Contour, type Segment } from '../outline/index.js';
import type { Line } from './contour.js';
import { solve } from './warp.js';

/** How closely curves follow what was seen; lengths in font units. */
export interface FitOptions {
  /** Of a px of the picture. */
  px: number;
  /** Farthest that a curve may be from what was seen, px. */
  tolerance: number;
  /** How soft the picture is: the deviation of the Gaussian that its edges look blurred by, px. */
  softness: number;
}

interface Points {
  x: Float64Array;
  y: Float64Array;
}

/** Distance of points along a line, px. */
const STEP = 0.5;
/** Excess turning at a place that makes it a corner, radians. */
const CORNER = 0.62;
/** Where what is left and right of a place is looked at for corners, px from it. */
const NEAR = 1;
const FAR = 3.2;
const AFTER = 5.4;
/** A right angle is rounded by so much in a picture, px, and by so much of its softness; an arc of a stroke's end by more. */
const SHARP = 0.26;
const SOFTENS = 0.5;
/** And any corner by the grid of px, px. */
const ROUGH = 0.17;
/** Rounding by the picture around a corner, px. */
const ROUNDED = 1.3;
/** How far a corner may be put back outward, px. */
const MOST_SHARPENED = 2.2;
/** How far an arch must rise to have a point at its top, px. */
const RISE = 0.6;

/** A closed line as lines and cubic curves, with points at corners and extrema; null where it is too small. */
export function fitContour(line: Line, { px, tolerance, softness }: FitOptions): Contour | null {
  const p = resampled(line, STEP * px);
  const n = p.x.length;
  if (n < 8) return null;
  const corners = cornersOf(p, px, softness);
  const knots: Knot[] = corners.map((i) => ({ i, at: sharpened(p, i, corners, px), corner: true, direction: null }));
  if (knots.length === 0) knots.push(extremum(p, px));
  const segments: Segment[] = [];
  const start = knots[0]!.at;
  for (let k = 0; k < knots.length; k++) {
    const a = knots[k]!;
    const b = knots[(k + 1) % knots.length]!;
    const count = ((b.i - a.i + n - 1) % n) + 1;
    piece(p, a, b, count, px, tolerance, segments);
  }
  return { start, segments: closing(segments, start) };
}

interface Knot {
  i: number;
  at: [number, number];
  corner: boolean;
  /** Direction of a smooth line through it; null at a corner. */
  direction: [number, number] | null;
}

/** A last line that ends where the contour starts is not listed. */
function closing(segments: Segment[], start: readonly [number, number]): Segment[] {
  const last = segments[segments.length - 1];
  if (last?.length === 2 && last[0] === start[0] && last[1] === start[1]) segments.pop();
  return segments;
}

/** Points at even distances along a closed line. */
function resampled(line: Line, step: number): Points {
  const n = line.length / 2;
  const lengths = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) {
    const k = (i + 1) % n;
    lengths[i + 1] = lengths[i]! + Math.hypot(line[2 * k]! - line[2 * i]!, line[2 * k + 1]! - line[2 * i + 1]!);
  }
  const whole = lengths[n]!;
  const count = Math.max(4, Math.round(whole / step));
  const x = new Float64Array(count);
  const y = new Float64Array(count);
  let k = 0;
  for (let i = 0; i < count; i++) {
    const s = (whole * i) / count;
    while (lengths[k + 1]! < s) k++;
    const t = (s - lengths[k]!) / (lengths[k + 1]! - lengths[k]! || 1);
    const m = (k + 1) % n;
    x[i] = line[2 * k]! + t * (line[2 * m]! - line[2 * k]!);
    y[i] = line[2 * k + 1]! + t * (line[2 * m + 1]! - line[2 * k + 1]!);
  }
  return { x, y };
}

const wrap = (i: number, n: number): number => ((i % n) + n) % n;
const turn = (a: readonly [number, number], b: readonly [number, number]): number =>
  Math.atan2(a[0] * b[1] - a[1] * b[0], a[0] * b[0] + a[1] * b[1]);

/** The direction of the points between two places on a line, by least squares; of the length one. */
function direction({ x, y }: Points, from: number, to: number): [number, number] {
  const n = x.length;
  let [mx, my] = [0, 0];
  const count = to - from + 1;
  for (let i = from; i <= to; i++) {
    mx += x[wrap(i, n)]!;
    my += y[wrap(i, n)]!;
  }
  [mx, my] = [mx / count, my / count];
  // Regression on the place along the line: points are evenly spaced.
  let [dx, dy] = [0, 0];
  const middle = (from + to) / 2;
  for (let i = from; i <= to; i++) {
    dx += (i - middle) * (x[wrap(i, n)]! - mx);
    dy += (i - middle) * (y[wrap(i, n)]! - my);
  }
  const length = Math.hypot(dx, dy) || 1;
  return [dx / length, dy / length];
}

/** Places where a line turns sharply: more than the bends beside them explain. */
function cornersOf(p: Points, px: number, softness: number): number[] {
  const n = p.x.length;
  const at = (d: number): number => Math.max(1, Math.round(d / STEP));
  const [near, far, after] = [at(NEAR), at(FAR), at(AFTER)];
  if (n < 4 * far) return [];
  const excess = new Float64Array(n);
  const turns = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const before = direction(p, i - far, i - near);
    const behind = direction(p, i + near, i + far);
    const t = turn(before, behind);
    const left = turn(direction(p, i - after, i - far), before);
    const right = turn(behind, direction(p, i + far, i + after));
    // On an arc the turning between both sides is twice that beside them.
    const bend = Math.sign(left) === Math.sign(t) && Math.sign(right) === Math.sign(t) ? Math.min(Math.abs(left), Math.abs(right)) : 0;
    excess[i] = Math.abs(t) - 2 * bend;
    turns[i] = Math.abs(t);
  }
  const out: number[] = [];
  const reach = at(1.6);
  for (let i = 0; i < n; i++) {
    if (excess[i]! < CORNER) continue;
    let most = true;
    for (let d = -reach; d <= reach && most; d++) {
      const v = excess[wrap(i + d, n)]!;
      if (v > excess[i]! || (v === excess[i]! && d < 0)) most = false;
    }
    if (most && roundedBy(p, i, near, far) <= px * ((SHARP + SOFTENS * softness) * (turns[i]! / (Math.PI / 2)) ** 2 + ROUGH)) out.push(i);
  }
  return out;
}

/** How far a line passes within the point where its sides before and after a place would meet. */
function roundedBy(p: Points, i: number, near: number, far: number): number {
  const n = p.x.length;
  const middle = (from: number, to: number): [number, number] => {
    let [x, y] = [0, 0];
    for (let k = from; k <= to; k++) {
      x += p.x[wrap(k, n)]!;
      y += p.y[wrap(k, n)]!;
    }
    return [x / (to - from + 1), y / (to - from + 1)];
  };
  const [a, b] = [middle(i - far, i - near), middle(i + near, i + far)];
  const [u, v] = [direction(p, i - far, i - near), direction(p, i + near, i + far)];
  const cross = u[0] * v[1] - u[1] * v[0];
  if (Math.abs(cross) < 1e-6) return 0;
  const t = ((b[0] - a[0]) * v[1] - (b[1] - a[1]) * v[0]) / cross;
  const [x, y] = [a[0] + t * u[0], a[1] + t * u[1]];
  // The sharpest place may be a step or two beside the middle of the corner.
  let least = Infinity;
  for (let d = -2; d <= 2; d++) least = Math.min(least, Math.hypot(x - p.x[wrap(i + d, n)]!, y - p.y[wrap(i + d, n)]!));
  return least;
}

/** Where a corner was before the picture rounded it: where the sides beside it meet. */
function sharpened(p: Points, i: number, corners: readonly number[], px: number): [number, number] {
  const n = p.x.length;
  const here: [number, number] = [p.x[i]!, p.y[i]!];
  const gap = (step: 1 | -1): number => Math.min(n / 2, ...corners.filter((c) => c !== i).map((c) => wrap(step * (c - i), n)));
  const side = (step: 1 | -1): { at: [number, number]; d: [number, number] } | null => {
    const first = Math.round(ROUNDED / STEP);
    const last = Math.min(Math.round(4.5 / STEP), Math.floor(gap(step) - first));
    if (last - first < 2) return null;
    const [from, to] = step === 1 ? [i + first, i + last] : [i - last, i - first];
    let [mx, my] = [0, 0];
    for (let k = from; k <= to; k++) {
      mx += p.x[wrap(k, n)]!;
      my += p.y[wrap(k, n)]!;
    }
    return { at: [mx / (to - from + 1), my / (to - from + 1)], d: direction(p, from, to) };
  };
  const [a, b] = [side(-1), side(1)];
  if (!a || !b) return here;
  const cross = a.d[0] * b.d[1] - a.d[1] * b.d[0];
  if (Math.abs(cross) < 0.25) return here;
  const t = ((b.at[0] - a.at[0]) * b.d[1] - (b.at[1] - a.at[1]) * b.d[0]) / cross;
  const found: [number, number] = [a.at[0] + t * a.d[0], a.at[1] + t * a.d[1]];
  return Math.hypot(found[0] - here[0], found[1] - here[1]) <= MOST_SHARPENED * px ? found : here;
}

/** The point of a line without corners that is farthest to the right, where it begins. */
function extremum(p: Points, px: number): Knot {
  let i = 0;
  for (let k = 1; k < p.x.length; k++) if (p.x[k]! > p.x[i]!) i = k;
  return smoothKnot(p, i, px, [0, 1]);
}

/** A point of a smooth line: where a parabola through its neighbors passes. @param along the axis along which it runs there, if one */
function smoothKnot(p: Points, i: number, px: number, along: [number, number] | null): Knot {
  const n = p.x.length;
  const r = Math.max(2, Math.min(Math.round(3 / STEP), Math.floor(n / 6)));
  const fit = (v: Float64Array): [number, number] => {
    // Least squares of a parabola over even places: value and slope in the middle.
    let [s0, s2, s4, v0, v1, v2] = [0, 0, 0, 0, 0, 0];
    for (let d = -r; d <= r; d++) {
      const value = v[wrap(i + d, n)]!;
      s0 += 1;
      s2 += d * d;
      s4 += d ** 4;
      v0 += value;
      v1 += d * value;
      v2 += d * d * value;
    }
    return [(s4 * v0 - s2 * v2) / (s0 * s4 - s2 * s2), v1 / s2];
  };
  const [[x, dx], [y, dy]] = [fit(p.x), fit(p.y)];
  void px;
  const length = Math.hypot(dx, dy) || 1;
  const way: [number, number] = [dx / length, dy / length];
  const sign = along ? Math.sign(way[0] * along[0] + way[1] * along[1]) || 1 : 1;
  return { i, at: [x, y], corner: false, direction: along ? [along[0] * sign, along[1] * sign] : way };
}

/** Fits what lies between two knots, with further ones where it must. */
function piece(p: Points, a: Knot, b: Knot, count: number, px: number, tolerance: number, out: Segment[]): void {
  const n = p.x.length;
  const skip = (k: Knot): number => (k.corner ? Math.round(ROUNDED / STEP) : 0);
  // Points of the rounding at corners are not what was drawn.
  const [first, last] = [a.i + Math.min(skip(a), Math.floor(count / 3)), a.i + count - Math.min(skip(b), Math.floor(count / 3))];
  const most = tolerance * px;
  if (straight(p, a, b, first, last, most)) {
    out.push([b.at[0], b.at[1]]);
    return;
  }
  const tops = extremaBetween(p, a.i, a.i + count, px).map(({ i, along }) => smoothKnot(p, wrap(i, n), px, along));
  const knots = [a, ...tops, b];
  for (let k = 0; k + 1 < knots.length; k++) {
    const [from, to] = [knots[k]!, knots[k + 1]!];
    const steps = k === 0 && knots.length === 2 ? count : wrap(to.i - from.i - 1, n) + 1;
    curve(p, from, to, steps, px, most, out, 0);
  }
}

/** Whether the points between two knots lie on the line between them. */
function straight(p: Points, a: Knot, b: Knot, first: number, last: number, most: number): boolean {
  const [dx, dy] = [b.at[0] - a.at[0], b.at[1] - a.at[1]];
  const length = Math.hypot(dx, dy);
  if (length === 0) return false;
  const n = p.x.length;
  for (let i = first; i <= last; i++) {
    const k = wrap(i, n);
    if (Math.abs((p.x[k]! - a.at[0]) * dy - (p.y[k]! - a.at[1]) * dx) / length > most) return false;
  }
  // A smooth knot that runs another way is no end of a line.
  return [a, b].every((k) => !k.direction || Math.abs(k.direction[0] * dy - k.direction[1] * dx) < 0.12 * length);
}

/** Where a line turns back in x or y between two places, by more than noise. */
function extremaBetween(p: Points, from: number, to: number, px: number): { i: number; along: [number, number] }[] {
  const n = p.x.length;
  const found: { i: number; along: [number, number] }[] = [];
  for (const [values, along] of [
    [p.x, [0, 1]],
    [p.y, [1, 0]],
  ] as const) {
    // A turn counts once the line has come back from it by the least rise.
    let [high, low] = [from, from];
    let way = 0;
    for (let i = from; i <= to; i++) {
      const v = values[wrap(i, n)]!;
      if (v > values[wrap(high, n)]!) high = i;
      if (v < values[wrap(low, n)]!) low = i;
      if (way >= 0 && values[wrap(high, n)]! - v > RISE * px) {
        if (way > 0 || high > from) found.push({ i: high, along: [...along] });
        [way, low, high] = [-1, i, i];
      } else if (way <= 0 && v - values[wrap(low, n)]! > RISE * px) {
        if (way < 0 || low > from) found.push({ i: low, along: [...along] });
        [way, high, low] = [1, i, i];
      }
    }
  }
  // Ends are knots already, and two at nearly one place are one.
  const apart = Math.round(2 / STEP);
  return found
    .filter((f) => f.i - from > apart && to - f.i > apart)
    .sort((u, v) => u.i - v.i)
    .filter((f, k, all) => k === 0 || f.i - all[k - 1]!.i > apart);
}

const MOST_DEPTH = 7;

/** One cubic between two knots, or two where one does not come near. */
function curve(p: Points, a: Knot, b: Knot, steps: number, px: number, most: number, out: Segment[], depth: number): void {
  const n = p.x.length;
  const fitted = fitCubic(p, a, b, steps);
  if (fitted && (fitted.worst <= most || depth >= MOST_DEPTH || steps < 6 / STEP)) {
    out.push(fitted.straight ? [b.at[0], b.at[1]] : fitted.segment);
    return;
  }
  if (!fitted && steps < 6 / STEP) {
    out.push([b.at[0], b.at[1]]);
    return;
  }
  const margin = Math.round(2.5 / STEP);
  const at = fitted ? Math.min(steps - margin, Math.max(margin, fitted.at)) : Math.round(steps / 2);
  const middle = smoothKnot(p, wrap(a.i + at, n), px, null);
  curve(p, a, middle, at, px, most, out, depth + 1);
  curve(p, middle, b, steps - at, px, most, out, depth + 1);
}

interface Fitted {
  segment: Segment;
  worst: number;
  /** Steps from the first knot to where it is farthest off. */
  at: number;
  straight: boolean;
}

const ROUNDS = 5;

/**
 * The cubic between two knots that comes nearest to the points between them. Where a knot has a direction its control point lies that way; at a
 * corner it is free.
 * Source: P. J. Schneider, An Algorithm for Automatically Fitting Digitized Curves, Graphics Gems (1990).
 */
function fitCubic(p: Points, a: Knot, b: Knot, steps: number): Fitted | null {
  const n = p.x.length;
  const cut = (k: Knot): number => (k.corner ? Math.min(Math.round(ROUNDED / STEP), Math.floor(steps / 4)) : 0);
  const [first, last] = [cut(a) || 1, steps - (cut(b) || 1)];
  const count = last - first + 1;
  if (count < 3) return null;
  const [x0, y0] = a.at;
  const [x3, y3] = b.at;
  const xs = new Float64Array(count);
  const ys = new Float64Array(count);
  const t = new Float64Array(count);
  let [along, px, py] = [0, x0, y0];
  for (let i = 0; i < count; i++) {
    const k = wrap(a.i + first + i, n);
    xs[i] = p.x[k]!;
    ys[i] = p.y[k]!;
    along += Math.hypot(xs[i]! - px, ys[i]! - py);
    [px, py] = [xs[i]!, ys[i]!];
    t[i] = along;
  }
  along += Math.hypot(x3 - px, y3 - py);
  if (along === 0) return null;
  for (let i = 0; i < count; i++) t[i]! /= along;
  const u = a.direction;
  const v = b.direction ? ([-b.direction[0], -b.direction[1]] as const) : null;
  const size = (u ? 1 : 2) + (v ? 1 : 2);
  let controls: [number, number, number, number] | null = null;
  let worst = 0;
  let at = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const matrix = Array.from({ length: size }, () => new Float64Array(size));
    const right = new Float64Array(size);
    const rowX = new Float64Array(size);
    const rowY = new Float64Array(size);
    for (let i = 0; i < count; i++) {
      const s = 1 - t[i]!;
      const [k0, k1, k2, k3] = [s * s * s, 3 * s * s * t[i]!, 3 * s * t[i]! * t[i]!, t[i]! ** 3];
      const dx = xs[i]! - (u ? k0 + k1 : k0) * x0 - (v ? k2 + k3 : k3) * x3;
      const dy = ys[i]! - (u ? k0 + k1 : k0) * y0 - (v ? k2 + k3 : k3) * y3;
      rowX.fill(0);
      rowY.fill(0);
      if (u) [rowX[0], rowY[0]] = [k1 * u[0], k1 * u[1]];
      else [rowX[0], rowY[1]] = [k1, k1];
      const o = u ? 1 : 2;
      if (v) [rowX[o], rowY[o]] = [k2 * v[0], k2 * v[1]];
      else [rowX[o], rowY[o + 1]] = [k2, k2];
      for (let r = 0; r < size; r++) {
        right[r]! += rowX[r]! * dx + rowY[r]! * dy;
        for (let c = 0; c < size; c++) matrix[r]![c]! += rowX[r]! * rowX[c]! + rowY[r]! * rowY[c]!;
      }
    }
    const w = solve(matrix, right);
    if (!w) return null;
    // A control point behind its end, or far beyond the other one, makes a loop or a cusp.
    const reach = along * 1.2;
    if (u && !(w[0]! > 0 && w[0]! < reach)) w[0] = along / 3;
    const o = u ? 1 : 2;
    if (v && !(w[o]! > 0 && w[o]! < reach)) w[o] = along / 3;
    controls = [
      u ? x0 + w[0]! * u[0] : w[0]!,
      u ? y0 + w[0]! * u[1] : w[1]!,
      v ? x3 + w[o]! * v[0] : w[o]!,
      v ? y3 + w[o]! * v[1] : w[o + 1]!,
    ];
    const c = [x0, y0, ...controls, x3, y3];
    [worst, at] = [0, 0];
    for (let i = 0; i < count; i++) {
      const near = nearestOnCubic(c, xs[i]!, ys[i]!, t[i]!);
      t[i] = near.t;
      if (near.d > worst) [worst, at] = [near.d, i];
    }
  }
  const length = Math.hypot(x3 - x0, y3 - y0) || 1;
  const off = (x: number, y: number): number => Math.abs((x - x0) * (y3 - y0) - (y - y0) * (x3 - x0)) / length;
  const [ax, ay, bx, by] = controls!;
  return {
    segment: [ax, ay, bx, by, x3, y3],
    worst: Math.sqrt(worst),
    at: first + at,
    straight: off(ax, ay) < 0.02 * length && off(bx, by) < 0.02 * length && Math.max(off(ax, ay), off(bx, by)) < 1,
  };
}
