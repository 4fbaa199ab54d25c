import { projective, type Picture } from '../drawn/index.js';
import { FontError } from '../sfnt/index.js';
import { findInk, type FoundInk, type InkChoice } from './ink.js';
import { inkParts } from './letters.js';

/** What a person does to a picture before its letters are looked for. Places are px of the picture as it is by then, y down. */
export type PictureEdit =
  | { edit: 'crop'; x0: number; y0: number; x1: number; y1: number }
  /** Clockwise, about the middle. */
  | { edit: 'turn'; degrees: number }
  /** What lies within four corners, from the left top one clockwise, becomes the picture. */
  | { edit: 'corners'; corners: readonly (readonly [number, number])[] }
  /** A hard brush: ink, or ground. */
  | { edit: 'stroke'; ink: boolean; radius: number; points: readonly (readonly [number, number])[] }
  /** A line without ink, which takes letters apart that touch. */
  | { edit: 'cut'; from: readonly [number, number]; to: readonly [number, number] };

/** A picture after its edits; `marks` has a byte a px: 0 as it is, 1 ground, 2 ink. */
export interface Edited {
  picture: Picture;
  marks: Uint8Array;
}

/** Px of a picture that is worked on. */
export const MOST_PICTURE_PX = 6_000_000;
const GROUND = 1;
const INK = 2;
/** Half the width of a cut, px. */
const CUT = 0.75;

/**
 * A picture drawn anew: where each of its px comes from. Beyond the old edges the nearest px goes on.
 * @throws FontError when nothing is left, or too much
 */
function resampled(
  { picture, marks }: Edited,
  width: number,
  height: number,
  from: (x: number, y: number) => readonly [number, number],
): Edited {
  if (!(width >= 2 && height >= 2)) throw new FontError('does-not-fit', 'Nothing would be left of the picture.');
  if (width * height > MOST_PICTURE_PX) throw new FontError('too-large', 'The picture would become too large to work on.');
  const data = new Uint8ClampedArray(4 * width * height);
  const out = new Uint8Array(width * height);
  const { width: w, height: h, data: old } = picture;
  const clamp = (v: number, most: number): number => (v < 0 ? 0 : v > most ? most : v);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [sx, sy] = from(x + 0.5, y + 0.5);
      const [px, py] = [sx - 0.5, sy - 0.5];
      const [ix, iy] = [Math.floor(px), Math.floor(py)];
      const [fx, fy] = [px - ix, py - iy];
      const [xa, xb] = [clamp(ix, w - 1), clamp(ix + 1, w - 1)];
      const [ya, yb] = [clamp(iy, h - 1) * w, clamp(iy + 1, h - 1) * w];
      for (let c = 0; c < 4; c++)
        data[4 * i + c] =
          (1 - fy) * ((1 - fx) * old[4 * (ya + xa) + c]! + fx * old[4 * (ya + xb) + c]!) +
          fy * ((1 - fx) * old[4 * (yb + xa) + c]! + fx * old[4 * (yb + xb) + c]!);
      out[i] = marks[clamp(Math.floor(sy), h - 1) * w + clamp(Math.floor(sx), w - 1)]!;
    }
  return { picture: { width, height, data }, marks: out };
}

function along(
  marks: Uint8Array,
  width: number,
  height: number,
  points: readonly (readonly [number, number])[],
  radius: number,
  value: number,
): void {
  points.forEach((p, k) => {
    const q = points[k + 1] ?? p;
    const steps = Math.max(1, Math.ceil(Math.hypot(q[0] - p[0], q[1] - p[1]) / Math.max(0.5, radius / 2)));
    for (let s = 0; s <= steps; s++) {
      const [cx, cy] = [p[0] + ((q[0] - p[0]) * s) / steps, p[1] + ((q[1] - p[1]) * s) / steps];
      for (let y = Math.max(0, Math.floor(cy - radius)); y <= Math.min(height - 1, Math.ceil(cy + radius)); y++)
        for (let x = Math.max(0, Math.floor(cx - radius)); x <= Math.min(width - 1, Math.ceil(cx + radius)); x++)
          if (Math.hypot(x + 0.5 - cx, y + 0.5 - cy) <= radius) marks[y * width + x] = value;
    }
  });
}

/**
 * Carries edits out one after another; the picture itself stays as it is.
 * @throws FontError when one of them leaves nothing, or makes too much
 */
export function editPicture(picture: Picture, edits: readonly PictureEdit[]): Edited {
  let now: Edited = { picture, marks: new Uint8Array(picture.width * picture.height) };
  for (const e of edits) {
    const { width, height } = now.picture;
    switch (e.edit) {
      case 'crop': {
        const [x0, y0] = [Math.max(0, Math.round(Math.min(e.x0, e.x1))), Math.max(0, Math.round(Math.min(e.y0, e.y1)))];
        const [x1, y1] = [Math.min(width, Math.round(Math.max(e.x0, e.x1))), Math.min(height, Math.round(Math.max(e.y0, e.y1)))];
        now = resampled(now, x1 - x0, y1 - y0, (x, y) => [x + x0, y + y0]);
        break;
      }
      case 'turn': {
        const a = (e.degrees * Math.PI) / 180;
        const [c, s] = [Math.cos(a), Math.sin(a)];
        const [w, h] = [Math.round(Math.abs(width * c) + Math.abs(height * s)), Math.round(Math.abs(width * s) + Math.abs(height * c))];
        now = resampled(now, w, h, (x, y) => {
          const [u, v] = [x - w / 2, y - h / 2];
          return [width / 2 + u * c + v * s, height / 2 - u * s + v * c];
        });
        break;
      }
      case 'corners': {
        const [a, b, c, d] = e.corners;
        if (!a || !b || !c || !d) throw new FontError('does-not-fit', 'Four corners are needed.');
        const far = (p: readonly [number, number], q: readonly [number, number]): number => Math.hypot(p[0] - q[0], p[1] - q[1]);
        const [w, h] = [Math.round(Math.max(far(a, b), far(d, c))), Math.round(Math.max(far(a, d), far(b, c)))];
        const map = projective([
          { page: [0, 0], at: a },
          { page: [w, 0], at: b },
          { page: [w, h], at: c },
          { page: [0, h], at: d },
        ]);
        if (!map) throw new FontError('does-not-fit', 'The four corners lie on one line.');
        now = resampled(now, w, h, map);
        break;
      }
      case 'stroke':
      case 'cut': {
        const marks = now.marks.slice();
        if (e.edit === 'cut') along(marks, width, height, [e.from, e.to], CUT, GROUND);
        else along(marks, width, height, e.points, Math.max(0.5, e.radius), e.ink ? INK : GROUND);
        now = { picture: now.picture, marks };
      }
    }
  }
  return now;
}

/** How ink is told from ground, and what is mended in it. */
export interface InkWish extends InkChoice {
  /** Parts smaller than this are left out, px². */
  specks?: number;
  /** Holes smaller than this are filled, px². */
  pinholes?: number;
}

/** The ink of an edited picture. */
export function inkOf({ picture, marks }: Edited, wish: InkWish = {}): FoundInk {
  const found = findInk(picture, wish);
  const { values, width, height } = found.field;
  for (let i = 0; i < values.length; i++) if (marks[i]) values[i] = marks[i] === INK ? 1 : 0;
  if (wish.specks) clear(values, width, height, wish.specks, true);
  if (wish.pinholes) clear(values, width, height, wish.pinholes, false);
  return found;
}

/** Takes out small parts of ink, or fills small parts of ground. Linear in the px. */
function clear(values: Float32Array, w: number, h: number, most: number, ink: boolean): void {
  const is = (i: number): boolean => values[i]! > 0.5 === ink;
  const seen = new Uint8Array(values.length);
  const stack = new Int32Array(values.length);
  for (let start = 0; start < values.length; start++) {
    if (seen[start] || !is(start)) continue;
    const part: number[] = [];
    let [top, area] = [0, 0];
    stack[top++] = start;
    seen[start] = 1;
    while (top > 0) {
      const i = stack[--top]!;
      area++;
      if (part.length <= most) part.push(i);
      const x = i % w;
      for (const n of [x > 0 ? i - 1 : -1, x + 1 < w ? i + 1 : -1, i >= w ? i - w : -1, i + w < w * h ? i + w : -1])
        if (n >= 0 && !seen[n] && is(n)) {
          seen[n] = 1;
          stack[top++] = n;
        }
    }
    if (area > most) continue;
    for (const i of part) {
      values[i] = ink ? 0 : 1;
      // What is soft around a speck goes with it.
      if (ink) for (const n of [i - 1, i + 1, i - w, i + w]) if (n >= 0 && n < values.length && values[n]! <= 0.5) values[n] = 0;
    }
  }
}

/**
 * Levels to choose from, with how many parts ink falls into at each: where that number stays, a level is good.
 * @param wish how ink is told from ground; its level does not count
 */
export function levelLadder(picture: Edited, wish: InkWish): { level: number; parts: number }[] {
  // A field as it is found at half ink has the share of ink on each px.
  const { field } = inkOf(picture, { ...wish, level: 0.5 });
  return [0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8].map((level) => ({ level, parts: inkParts(field, level).length }));
}
