import type { Picture } from '../drawn/index.js';

/** How much of each px is ink, 0 to 1, row by row from the top. */
export interface InkField {
  width: number;
  height: number;
  values: Float32Array;
}

export type Color = readonly [red: number, green: number, blue: number];

/** How ink is told from ground; what is left out is found. */
export interface InkChoice {
  /** The ground's color, 0 to 255; by its border. */
  ground?: Color | null;
  /** The ink's; that of what is farthest from the ground. */
  ink?: Color | null;
  /** From which share of the ink's color on a px counts as ink; 0.5 where it is left out. */
  level?: number;
}

export interface FoundInk {
  field: InkField;
  ground: Color;
  ink: Color;
}

const middle = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1] ?? 0;
/** Ink on a px at most, in parts of what was taken for full. */
const MOST_INK = 1.6;
/** Px of the border and of the whole that are looked at for colors, at most. */
const SAMPLES = 200_000;

/**
 * Tells ink from ground by their colors: the ground is a flat or evenly changing color along the border, the ink what lies farthest
 * from it, and a px is as much ink as it lies on the way from one to the other.
 */
export function findInk({ width, height, data }: Picture, choice: InkChoice = {}): FoundInk {
  const at = (x: number, y: number, c: number): number => {
    const p = 4 * (y * width + x);
    const a = data[p + 3]! / 255;
    // What shines through is white paper.
    return a * data[p + c]! + (1 - a) * 255;
  };
  const border: [number, number][] = [];
  const around = 2 * (width + height);
  const step = Math.max(1, Math.floor(around / 2000));
  for (let i = 0; i < around; i += step) {
    const place: [number, number] =
      i < width
        ? [i, 0]
        : i < 2 * width
          ? [i - width, height - 1]
          : i < 2 * width + height
            ? [0, i - 2 * width]
            : [width - 1, i - 2 * width - height];
    border.push(place);
  }
  const flat = choice.ground ?? ([0, 1, 2].map((c) => middle(border.map(([x, y]) => at(x, y, c)))) as unknown as Color);
  const planes = choice.ground
    ? flat.map((v) => [v, 0, 0])
    : [0, 1, 2].map((c) => planeThrough(border, (x, y) => at(x, y, c), flat[c]!, width, height));
  const groundAt = (x: number, y: number, c: number): number =>
    planes[c]![0]! + planes[c]![1]! * (x / width - 0.5) + planes[c]![2]! * (y / height - 0.5);
  let ink = choice.ink ?? null;
  if (!ink) {
    const skip = Math.max(1, Math.floor((width * height) / SAMPLES));
    const count = Math.floor((width * height - 1) / skip) + 1;
    const far = new Float32Array(count);
    for (let k = 0; k < count; k++) {
      const [x, y] = [(k * skip) % width, Math.floor((k * skip) / width)];
      far[k] = Math.hypot(at(x, y, 0) - groundAt(x, y, 0), at(x, y, 1) - groundAt(x, y, 1), at(x, y, 2) - groundAt(x, y, 2));
    }
    // Noise and a small mark of another color lie farther than the ink does: what is nearly as far as the farthest part of the px, which
    // is a smaller part where the letters are a small part of the picture.
    const part = Math.min(0.004, Math.max(0.0003, 300 / (width * height)));
    const top = far.slice().sort()[Math.max(0, count - 1 - Math.floor(count * part))]!;
    const near: number[] = [];
    for (let k = 0; k < count; k++) if (far[k]! >= 0.75 * top) near.push(k * skip);
    ink = [0, 1, 2].map((c) => middle(near.map((i) => at(i % width, Math.floor(i / width), c)))) as unknown as Color;
  }
  const values = new Float32Array(width * height);
  const level = Math.min(0.95, Math.max(0.05, choice.level ?? 0.5));
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      let [along, length] = [0, 0];
      for (let c = 0; c < 3; c++) {
        const g = groundAt(x, y, c);
        const way = ink[c]! - g;
        along += (at(x, y, c) - g) * way;
        length += way * way;
      }
      // What is darker than the ink was taken for says how dark strokes really are.
      const v = length > 100 ? Math.min(MOST_INK, Math.max(0, along / length)) : 0;
      values[i] = v < level ? (0.5 * v) / level : 0.5 + (0.5 * (v - level)) / (1 - level);
    }
  return { field: { width, height, values }, ground: flat, ink };
}

/** A plane through the values of the border, without those that are something else than ground. */
function planeThrough(
  places: readonly (readonly [number, number])[],
  at: (x: number, y: number) => number,
  flat: number,
  width: number,
  height: number,
): number[] {
  const near = places.flatMap(([x, y]) => {
    const v = at(x, y);
    return Math.abs(v - flat) < 40 ? [[x / width - 0.5, y / height - 0.5, v] as const] : [];
  });
  if (near.length < 0.6 * places.length) return [flat, 0, 0];
  // Normal equations; opposite sides of a border make them nearly diagonal.
  let [n, sx, sy, sxx, syy, sxy, sv, sxv, syv] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (const [x, y, v] of near) {
    n++;
    sx += x;
    sy += y;
    sxx += x * x;
    syy += y * y;
    sxy += x * y;
    sv += v;
    sxv += x * v;
    syv += y * v;
  }
  const det3 = (a: number, b: number, c: number, d: number, e: number, f: number, g: number, h: number, i: number): number =>
    a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  const det = det3(n, sx, sy, sx, sxx, sxy, sy, sxy, syy);
  if (Math.abs(det) < 1e-9) return [flat, 0, 0];
  return [
    det3(sv, sx, sy, sxv, sxx, sxy, syv, sxy, syy) / det,
    det3(n, sv, sy, sx, sxv, sxy, sy, syv, syy) / det,
    det3(n, sx, sv, sx, sxx, sxv, sy, sxy, syv) / det,
  ];
}

/** A field with more px, by cubic interpolation between them. Source: E. Catmull, R. Rom (1974). @param by whole steps */
export function enlarged({ width, height, values }: InkField, by: number): InkField {
  if (by <= 1) return { width, height, values };
  const taps = Array.from({ length: by }, (_, k) => {
    const t = (k + 0.5) / by - 0.5;
    const f = t - Math.floor(t);
    return {
      first: Math.floor(t) - 1,
      w: [
        -0.5 * f + f * f - 0.5 * f ** 3,
        1 - 2.5 * f * f + 1.5 * f ** 3,
        0.5 * f + 2 * f * f - 1.5 * f ** 3,
        -0.5 * f * f + 0.5 * f ** 3,
      ] as const,
    };
  });
  const across = new Float32Array(width * by * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let k = 0; k < by; k++) {
        const { first, w } = taps[k]!;
        let v = 0;
        for (let t = 0; t < 4; t++) v += w[t]! * values[y * width + Math.min(width - 1, Math.max(0, x + first + t))]!;
        across[y * width * by + x * by + k] = v;
      }
  const out = new Float32Array(width * by * height * by);
  const row = width * by;
  for (let y = 0; y < height; y++)
    for (let k = 0; k < by; k++) {
      const { first, w } = taps[k]!;
      const rows = [0, 1, 2, 3].map((t) => row * Math.min(height - 1, Math.max(0, y + first + t)));
      const base = (y * by + k) * row;
      for (let x = 0; x < row; x++)
        out[base + x] = Math.min(
          MOST_INK,
          Math.max(
            0,
            w[0] * across[rows[0]! + x]! + w[1] * across[rows[1]! + x]! + w[2] * across[rows[2]! + x]! + w[3] * across[rows[3]! + x]!,
          ),
        );
    }
  return { width: row, height: height * by, values: out };
}
