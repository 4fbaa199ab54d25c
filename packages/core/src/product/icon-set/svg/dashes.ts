import type { Stretch } from '../../../engines/index.js';
import type { Segment } from '../../../outline/index.js';

type Point = readonly [number, number];
/** Pieces that one line is cut into at most; more dashes than that are finer than anything seen. */
const MOST_DASHES = 5000;
const STEPS = 24;

const mix = (a: Point, b: Point, t: number): Point => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
const pointsOf = (from: Point, s: Segment): Point[] => {
  const out: Point[] = [from];
  for (let i = 0; i < s.length; i += 2) out.push([s[i]!, s[i + 1]!]);
  return out;
};

/** The part of a Bézier curve between two parameters. Source: de Casteljau's construction. */
function partOf(points: readonly Point[], t0: number, t1: number): Point[] {
  const left = (p: readonly Point[], t: number): Point[] => {
    const out: Point[] = [];
    let level = [...p];
    while (level.length > 0) {
      out.push(level[0]!);
      level = level.slice(1).map((b, i) => mix(level[i]!, b, t));
    }
    return out;
  };
  const head = t1 >= 1 ? [...points] : left(points, t1);
  return t0 <= 0 ? head : left([...head].reverse(), 1 - t0 / t1).reverse();
}

const at = (points: readonly Point[], t: number): Point => {
  let level = [...points];
  while (level.length > 1) level = level.slice(1).map((b, i) => mix(level[i]!, b, t));
  return level[0]!;
};

/**
 * A line cut into dashes. A closed line whose ends are both inked has no cut there.
 * Source: SVG 2, 13.5.6, stroke-dasharray; lengths in the units of the line.
 */
export function dashed(line: Stretch, pattern: readonly number[], offset: number): Stretch[] {
  const lengths = pattern.length % 2 === 1 ? [...pattern, ...pattern] : [...pattern];
  const whole = lengths.reduce((a, b) => a + b, 0);
  if (!(whole > 0) || lengths.some((l) => !(l >= 0))) return [line];
  const segments = [...line.segments];
  const last = segments.length > 0 ? segments[segments.length - 1]!.slice(-2) : line.start;
  if (line.closed && (last[0] !== line.start[0] || last[1] !== line.start[1])) segments.push([line.start[0], line.start[1]]);

  let phase = ((offset % whole) + whole) % whole;
  let index = 0;
  while (phase > 0 && phase >= lengths[index]!) {
    phase -= lengths[index]!;
    index = (index + 1) % lengths.length;
  }
  let left = lengths[index]! - phase;
  const beginsInked = index % 2 === 0;

  const out: { start: Point; segments: Segment[]; closed: boolean }[] = [];
  const held: { dash: { start: Point; segments: Segment[]; closed: boolean } | null } = { dash: null };
  let from: Point = line.start;
  const begin = (p: Point): void => void out.push((held.dash = { start: p, segments: [], closed: false }));
  if (beginsInked) begin(from);
  let next = 0;
  for (const segment of segments) {
    const points = pointsOf(from, segment);
    const curved = points.length > 2;
    // Lengths along the curve at even parameters; between them they are taken as even.
    const table = [0];
    const steps = curved ? STEPS : 1;
    for (let i = 1, p = from; i <= steps; i++) {
      const q = at(points, i / steps);
      table.push(table[i - 1]! + Math.hypot(q[0] - p[0], q[1] - p[1]));
      p = q;
    }
    const length = table[steps]!;
    const parameter = (l: number): number => {
      if (l >= length) return 1;
      let i = 1;
      while (table[i]! < l) i++;
      return (i - 1 + (l - table[i - 1]!) / (table[i]! - table[i - 1]! || 1)) / steps;
    };
    let done = 0;
    while (length - done > left) {
      const [t0, t1] = [parameter(done), parameter(done + left)];
      const piece = partOf(points, t0, t1);
      held.dash?.segments.push(piece.slice(1).flat());
      done += left;
      index = (index + 1) % lengths.length;
      left = lengths[index]!;
      if (index % 2 === 0) begin(piece[piece.length - 1]!);
      else held.dash = null;
      if (++next > MOST_DASHES) return [line];
    }
    held.dash?.segments.push(partOf(points, parameter(done), 1).slice(1).flat());
    left -= length - done;
    from = points[points.length - 1]!;
  }
  // A dash of no length is a dot where caps are round or square: a line from a point to itself.
  for (const dash of out) if (dash.segments.length === 0) dash.segments.push([dash.start[0], dash.start[1]]);
  const [first] = out;
  if (line.closed && beginsInked && held.dash && first && out.length > 1) {
    const end = out.pop()!;
    first.start = end.start;
    first.segments.unshift(...end.segments);
  } else if (line.closed && out.length === 1 && beginsInked && next === 0) return [line];
  return out;
}
