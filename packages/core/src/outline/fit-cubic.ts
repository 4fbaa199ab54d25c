import type { Contour, Segment } from './pens/contours.js';

// Quadratic curves as cubic ones: each is one exactly; neighbors that go on smoothly become one cubic where it stays near.

/** Quadratics that one cubic may stand for. */
const MOST_MERGED = 8;
const SAMPLES = 8;
const ROUNDS = 4;

type Point = readonly [number, number];
interface Quad {
  from: Point;
  control: Point;
  to: Point;
}

const raise = ({ from: [x0, y0], control: [cx, cy], to: [x, y] }: Quad): Segment => [
  x0 + (2 / 3) * (cx - x0),
  y0 + (2 / 3) * (cy - y0),
  x + (2 / 3) * (cx - x),
  y + (2 / 3) * (cy - y),
  x,
  y,
];

/** Whether a curve goes on in the same direction after a point. */
function smooth(a: Quad, b: Quad): boolean {
  const [ux, uy] = [a.to[0] - a.control[0], a.to[1] - a.control[1]];
  const [vx, vy] = [b.control[0] - b.from[0], b.control[1] - b.from[1]];
  const lengths = Math.hypot(ux, uy) * Math.hypot(vx, vy);
  return lengths > 0 && ux * vx + uy * vy > 0.999 * lengths;
}

const onQuad = ({ from, control, to }: Quad, t: number): [number, number] => {
  const s = 1 - t;
  return [s * s * from[0] + 2 * s * t * control[0] + t * t * to[0], s * s * from[1] + 2 * s * t * control[1] + t * t * to[1]];
};

/** The cubic that comes nearest to a run of quadratics with the same ends and tangents, in whole units; null when none is near. */
function merged(run: readonly Quad[], tolerance: number): Segment | null {
  const first = run[0]!;
  const last = run[run.length - 1]!;
  const unit = (x: number, y: number): Point | null => {
    const length = Math.hypot(x, y);
    return length > 0 ? [x / length, y / length] : null;
  };
  const u = unit(first.control[0] - first.from[0], first.control[1] - first.from[1]);
  const v = unit(last.to[0] - last.control[0], last.to[1] - last.control[1]);
  if (!u || !v) return null;
  const [x0, y0, x1, y1] = [first.from[0], first.from[1], last.to[0], last.to[1]];
  const places: number[] = [];
  const lengths: number[] = [0];
  let [px, py] = [x0, y0];
  for (const quad of run)
    for (let i = 1; i <= SAMPLES; i++) {
      const [x, y] = onQuad(quad, i / SAMPLES);
      lengths.push(lengths[lengths.length - 1]! + Math.hypot(x - px, y - py));
      places.push(x, y);
      [px, py] = [x, y];
    }
  const whole = lengths[lengths.length - 1]!;
  if (whole === 0) return null;
  const count = places.length / 2 - 1;
  const t = Float64Array.from({ length: count }, (_, i) => lengths[i + 1]! / whole);
  let controls: [number, number, number, number] | null = null;
  for (let turn = 0; turn < ROUNDS; turn++) {
    let [aa, ab, bb, ra, rb] = [0, 0, 0, 0, 0];
    const uv = u[0] * v[0] + u[1] * v[1];
    for (let i = 0; i < count; i++) {
      const s = 1 - t[i]!;
      const [k0, k1, k2, k3] = [s * s * s, 3 * s * s * t[i]!, 3 * s * t[i]! * t[i]!, t[i]! ** 3];
      const dx = places[2 * i]! - (k0 + k1) * x0 - (k2 + k3) * x1;
      const dy = places[2 * i + 1]! - (k0 + k1) * y0 - (k2 + k3) * y1;
      aa += k1 * k1;
      ab -= k1 * k2 * uv;
      bb += k2 * k2;
      ra += k1 * (dx * u[0] + dy * u[1]);
      rb -= k2 * (dx * v[0] + dy * v[1]);
    }
    const determinant = aa * bb - ab * ab;
    if (Math.abs(determinant) < 1e-12) return null;
    const a = (ra * bb - rb * ab) / determinant;
    const b = (rb * aa - ra * ab) / determinant;
    if (!(a > 0 && b > 0)) return null;
    controls = [x0 + a * u[0], y0 + a * u[1], x1 - b * v[0], y1 - b * v[1]];
    if (turn + 1 < ROUNDS)
      for (let i = 0; i < count; i++) t[i] = nearestOnCubic([x0, y0, ...controls, x1, y1], places[2 * i]!, places[2 * i + 1]!, t[i]!).t;
  }
  const rounded = controls!.map((c) => Math.floor(c + 0.5)) as [number, number, number, number];
  const cubic = [x0, y0, ...rounded, x1, y1];
  for (let i = 0; i < count; i++)
    if (nearestOnCubic(cubic, places[2 * i]!, places[2 * i + 1]!, t[i]!).d > tolerance * tolerance) return null;
  return [...rounded, x1, y1];
}

/** The parameter of a cubic (four points: x, y, ...) nearest to a place, looked for near `t`, and the square of the distance. */
export function nearestOnCubic(c: readonly number[], px: number, py: number, t: number): { t: number; d: number } {
  let best = { t, d: Infinity };
  for (let turn = 0; turn < 4; turn++) {
    const s = 1 - t;
    const [k0, k1, k2, k3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
    const dx = k0 * c[0]! + k1 * c[2]! + k2 * c[4]! + k3 * c[6]! - px;
    const dy = k0 * c[1]! + k1 * c[3]! + k2 * c[5]! + k3 * c[7]! - py;
    const d = dx * dx + dy * dy;
    if (d < best.d) best = { t, d };
    const vx = 3 * (s * s * (c[2]! - c[0]!) + 2 * s * t * (c[4]! - c[2]!) + t * t * (c[6]! - c[4]!));
    const vy = 3 * (s * s * (c[3]! - c[1]!) + 2 * s * t * (c[5]! - c[3]!) + t * t * (c[7]! - c[5]!));
    const speed = vx * vx + vy * vy;
    if (speed === 0) break;
    t = Math.min(1, Math.max(0, t - (dx * vx + dy * vy) / speed));
  }
  return best;
}

/**
 * The same contour in lines and cubic curves.
 * @param tolerance farthest that a cubic in the place of several quadratics may be from them, font units; 0 merges none
 */
export function cubicContour(contour: Contour, tolerance: number): Contour {
  const segments: Segment[] = [];
  let run: Quad[] = [];
  let at: Point = contour.start;
  const flush = (): void => {
    for (let i = 0; i < run.length;) {
      let taken = 1;
      let segment = raise(run[i]!);
      for (let n = 2; tolerance > 0 && n <= MOST_MERGED && i + n <= run.length && smooth(run[i + n - 2]!, run[i + n - 1]!); n++) {
        const one = merged(run.slice(i, i + n), tolerance);
        // A longer run may fit where a shorter one does not, but seldom by more than one.
        if (one) [taken, segment] = [n, one];
        else if (n > taken + 1) break;
      }
      segments.push(segment);
      i += taken;
    }
    run = [];
  };
  for (const s of contour.segments) {
    const to: Point = [s[s.length - 2]!, s[s.length - 1]!];
    if (s.length === 4) run.push({ from: at, control: [s[0]!, s[1]!], to });
    else {
      flush();
      segments.push(s);
    }
    at = to;
  }
  flush();
  return { start: contour.start, segments };
}
