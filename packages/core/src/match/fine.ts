import { solve } from '../drawn/index.js';
import { rasterize, type Polygon } from '../outline/index.js';
import type { InkField } from './ink.js';

/*
 * A candidate's letters drawn over those of the picture, at its resolution and as soft as it is: moved, and as a whole a little scaled,
 * turned, stretched and slanted until they lie on one another as well as they can. What is left over says how alike they are.
 */

/** A letter of the picture beside the same letter of a face. */
export interface Pairing {
  /** Its ink with a margin; the left top px of it stands at `x`, `y`. */
  field: InkField;
  x: number;
  y: number;
  /** Its box in the picture, px, y down. */
  box: { x0: number; y0: number; x1: number; y1: number };
  /** The face's letter in thousandths of the em, y up. */
  polygons: readonly Polygon[];
  /** Its box: left, bottom, width, height. */
  own: readonly [number, number, number, number];
}

/** How letters stand in the picture: one map for all, and a place for each. */
export interface LaidOver {
  /** From thousandths of the em, y down, to px: x' = a x + b y, y' = c x + d y. */
  map: [a: number, b: number, c: number, d: number];
  places: [x: number, y: number][];
  /** Ink that only one of the two has, squared, against that of the picture. */
  rest: number;
  /** Full ink of the drawing in the picture's. */
  gain: number;
  /** How soft the picture is if this is its face, px. */
  blur: number;
  /** The same letter by letter. */
  rests: number[];
  /** How far letters stand off one line, in parts of the em. */
  bounce: number;
}

/** Where a fit begins; letters without a place are laid box over box. */
export interface Start {
  map: LaidOver['map'];
  places: readonly ([x: number, y: number] | null)[];
}

/** How far a fit may go from letters that are only scaled; standard deviations. */
export interface Freedom {
  stretch: number;
  slant: number;
  turn: number;
}
/** Pictures are a little off on their own. */
export const USUAL_FREEDOM: Freedom = { stretch: 0.025, slant: 0.02, turn: 0.03 };
export const STRETCHED_FREEDOM: Freedom = { stretch: 0.3, slant: 0.02, turn: 0.03 };
export const SLANTED_FREEDOM: Freedom = { stretch: 0.025, slant: 0.3, turn: 0.03 };
/** Noise of one px against which freedom is weighed. */
const NOISE = 0.12;
const LEAST_BLUR = 0.3;
const MOST_BLUR = 4;
/** A picture's ink may be this much lighter or darker than it was taken for. */
const GAIN = 0.12;

/** A blur of so many px, as weights from the middle outward. */
function kernelOf(sigma: number): Float64Array {
  const r = Math.max(1, Math.ceil(2.5 * sigma));
  const k = new Float64Array(r + 1);
  let sum = 0;
  for (let i = 0; i <= r; i++) {
    k[i] = Math.exp(-(i * i) / (2 * sigma * sigma));
    sum += (i === 0 ? 1 : 2) * k[i]!;
  }
  for (let i = 0; i <= r; i++) k[i]! /= sum;
  return k;
}

/** A field made softer. @param sigma px */
export const softer = (field: InkField, sigma: number): InkField => ({
  ...field,
  values: soften(field.values, field.width, field.height, kernelOf(sigma)),
});

/** Softens a small raster in place of a fresh one. Beyond its edges nothing is. */
function soften(values: Float32Array, w: number, h: number, kernel: Float64Array): Float32Array {
  const r = kernel.length - 1;
  const across = new Float32Array(values.length);
  for (let y = 0; y < h; y++) {
    const row = y * w;
    for (let x = 0; x < w; x++) {
      const v = values[row + x]!;
      if (v === 0) continue;
      const [from, to] = [Math.max(0, x - r), Math.min(w - 1, x + r)];
      for (let k = from; k <= to; k++) across[row + k]! += v * kernel[k < x ? x - k : k - x]!;
    }
  }
  const out = new Float32Array(values.length);
  for (let y = 0; y < h; y++) {
    const [from, to] = [Math.max(0, y - r), Math.min(h - 1, y + r)];
    for (let k = from; k <= to; k++) {
      const weight = kernel[k < y ? y - k : k - y]!;
      const [source, target] = [k * w, y * w];
      for (let x = 0; x < w; x++) out[target + x]! += weight * across[source + x]!;
    }
  }
  return out;
}

function drawn(
  { field: { width, height }, polygons }: Pairing,
  map: LaidOver['map'],
  place: readonly number[],
  kernel: Float64Array,
): Float32Array {
  const [a, b, c, d] = map;
  const [x0, y0] = [place[0]!, place[1]!];
  const moved: Polygon[] = polygons.map((p) => {
    const out = new Array<number>(p.length);
    for (let i = 0; i < p.length; i += 2) {
      const [x, y] = [p[i]!, -p[i + 1]!];
      out[i] = a * x + b * y + x0;
      out[i + 1] = c * x + d * y + y0;
    }
    return out;
  });
  // Rows run with y down here, which mirrors the outline and leaves its ink where it is.
  return soften(rasterize(moved, { xMin: 0, yMin: 0, xMax: width, yMax: height }, width, height), width, height, kernel);
}

/** What would be taken for full ink in a drawing, as `findInk` takes it: the middle of what comes near to the darkest. */
function inkSeen(models: readonly Float32Array[]): number {
  const bins = new Float64Array(101);
  let [all, top] = [0, 100];
  for (const m of models)
    for (let i = 0; i < m.length; i++) {
      bins[Math.round(100 * m[i]!)]!++;
      all++;
    }
  for (let sum = 0; top > 1 && (sum += bins[top]!) < 0.012 * all; top--);
  let near = 0;
  for (let b = Math.ceil(0.75 * top); b <= 100; b++) near += bins[b]!;
  let sum = 0;
  for (let b = Math.ceil(0.75 * top); b <= 100; b++) if ((sum += bins[b]!) >= near / 2) return b / 100;
  return 1;
}

/** How much of a picture's ink a drawing explains. */
function restOf(field: InkField, model: Float32Array, gain: number): number {
  let rest = 0;
  for (let i = 0; i < model.length; i++) rest += (field.values[i]! - gain * model[i]!) ** 2;
  return rest;
}

/**
 * Lays a face's letters over those of a picture.
 * @param scaleX, scaleY px a thousandth of the em to begin with
 * @param blur of the picture, px, to begin with
 * @param rounds of drawing and moving
 * @param start where to begin instead of laying box over box
 */
export function fitLetters(
  pairs: readonly Pairing[],
  scaleX: number,
  scaleY: number,
  blur: number,
  freedom: Freedom = USUAL_FREEDOM,
  rounds = 3,
  start: Start | null = null,
): LaidOver {
  let softness = blur * blur;
  let map: LaidOver['map'] = start?.map ?? [scaleX, 0, 0, scaleY];
  const places = pairs.map((p, i): [number, number] => {
    const known = start?.places[i];
    if (known) return known;
    const [left, bottom, w, h] = p.own;
    const [cx, cy] = [left + w / 2, -(bottom + h / 2)];
    return [(p.box.x0 + p.box.x1) / 2 - p.x - (map[0] * cx + map[1] * cy), (p.box.y0 + p.box.y1) / 2 - p.y - (map[2] * cx + map[3] * cy)];
  });
  let models: Float32Array[] = [];
  let gain = 1;
  const render = (): void => {
    const kernel = kernelOf(Math.sqrt(softness));
    models = pairs.map((p, i) => drawn(p, map, places[i]!, kernel));
    let [mq, mm] = [0, 0];
    pairs.forEach((p, i) => {
      const m = models[i]!;
      for (let k = 0; k < m.length; k++) {
        mq += m[k]! * p.field.values[k]!;
        mm += m[k]! * m[k]!;
      }
    });
    // A picture's ink is taken for what is darkest in it: strokes thinner than they are soft never reach their full color.
    const expected = 1 / Math.max(0.4, inkSeen(models));
    gain = Math.max(1 - GAIN, Math.min(expected * (1 + GAIN), mq / Math.max(1e-9, mm)));
  };
  render();
  for (let round = 0; round < rounds; round++) {
    step(pairs, models, gain, map, places, freedom);
    render();
  }
  const inks = pairs.map((p) => p.field.values.reduce((s, v) => s + v * v, 0));
  const rests = pairs.map((p, i) => restOf(p.field, models[i]!, gain));
  return {
    map,
    places,
    rest:
      rests.reduce((s, v) => s + v, 0) /
      Math.max(
        1e-9,
        inks.reduce((s, v) => s + v, 0),
      ),
    gain,
    blur: Math.sqrt(softness),
    rests: rests.map((v, i) => v / Math.max(1e-9, inks[i]!)),
    bounce: bounceOf(pairs, places, Math.hypot(map[2], map[3])),
  };

  /** One step of Gauss and Newton: places of single letters are eliminated, the map of all is solved for. */
  function step(
    list: readonly Pairing[],
    drawings: readonly Float32Array[],
    g: number,
    old: LaidOver['map'],
    at: [number, number][],
    free: Freedom,
  ): void {
    const n = 5;
    const whole = Array.from({ length: n }, () => new Float64Array(n));
    const right = new Float64Array(n);
    const eliminated: { inverse: [number, number, number]; cross: Float64Array[]; local: [number, number] }[] = [];
    for (let i = 0; i < list.length; i++) {
      const { field } = list[i]!;
      const { width: w, height: h, values } = field;
      const m = drawings[i]!;
      const [cx, cy] = [w / 2, h / 2];
      let [xx, xy, yy, rx, ry] = [0, 0, 0, 0, 0];
      const cross = [new Float64Array(n), new Float64Array(n)];
      const j = new Float64Array(n);
      for (let y = 1; y + 1 < h; y++)
        for (let x = 1; x + 1 < w; x++) {
          const k = y * w + x;
          const mx = -0.5 * g * (m[k + 1]! - m[k - 1]!);
          const my = -0.5 * g * (m[k + w]! - m[k - w]!);
          if (mx === 0 && my === 0 && m[k] === 0) continue;
          const r = values[k]! - g * m[k]!;
          const [u, v] = [x + 0.5 - cx, y + 0.5 - cy];
          j[0] = mx * u;
          j[1] = mx * v;
          j[2] = my * u;
          j[3] = my * v;
          // Softer by so many px²: what diffusion does.
          j[4] = 0.5 * g * (m[k + 1]! + m[k - 1]! + m[k + w]! + m[k - w]! - 4 * m[k]!);
          xx += mx * mx;
          xy += mx * my;
          yy += my * my;
          rx += mx * r;
          ry += my * r;
          for (let p = 0; p < n; p++) {
            const jp = j[p]!;
            cross[0]![p]! += mx * jp;
            cross[1]![p]! += my * jp;
            right[p]! += jp * r;
            const row = whole[p]!;
            for (let q = p; q < n; q++) row[q]! += jp * j[q]!;
          }
        }
      // A little weight on staying keeps empty letters in place.
      xx += 0.02;
      yy += 0.02;
      const det = xx * yy - xy * xy || 1e-9;
      eliminated.push({ inverse: [yy / det, -xy / det, xx / det], cross, local: [rx, ry] });
    }
    for (let p = 0; p < n; p++) for (let q = 0; q < p; q++) whole[p]![q] = whole[q]![p]!;
    for (const {
      inverse: [a, b, d],
      cross,
      local,
    } of eliminated)
      for (let p = 0; p < n; p++) {
        const [s, t] = [a * cross[0]![p]! + b * cross[1]![p]!, b * cross[0]![p]! + d * cross[1]![p]!];
        right[p]! -= s * local[0] + t * local[1];
        for (let q = 0; q < n; q++) whole[p]![q]! -= s * cross[0]![q]! + t * cross[1]![q]!;
      }
    // What the whole map may be: [[a, b], [c, d]] is the change of the map in px.
    const priors: [coefficients: number[], sofar: number, deviation: number][] = [
      [[1, 0, 0, -1, 0], Math.log(old[0] / old[3]), free.stretch],
      [[0, 1, 1, 0, 0], old[1] / old[3] + old[2] / old[0], free.slant],
      [[0, 0, 1, 0, 0], old[2] / old[0], free.turn],
    ];
    for (const [c, sofar, deviation] of priors) {
      const weight = (NOISE / deviation) ** 2;
      for (let p = 0; p < n; p++) {
        right[p]! -= weight * c[p]! * sofar;
        for (let q = 0; q < n; q++) whole[p]![q]! += weight * c[p]! * c[q]!;
      }
    }
    for (let p = 0; p < n; p++) whole[p]![p]! += 1e-6;
    const found = solve(whole, right);
    if (!found) return;
    const limit = (v: number, most: number): number => Math.max(-most, Math.min(most, v));
    const change = Array.from(found, (v, k) => (k < 4 ? limit(v, 0.12) : limit(v, 0.3 + 0.6 * softness)));
    const [a, b, c, d] = old;
    const next: LaidOver['map'] = [
      (1 + change[0]!) * a + change[1]! * c,
      (1 + change[0]!) * b + change[1]! * d,
      change[2]! * a + (1 + change[3]!) * c,
      change[2]! * b + (1 + change[3]!) * d,
    ];
    for (let i = 0; i < list.length; i++) {
      const {
        inverse: [p, q, s],
        cross,
        local,
      } = eliminated[i]!;
      let [lx, ly] = [local[0], local[1]];
      for (let k = 0; k < n; k++) {
        lx -= cross[0]![k]! * change[k]!;
        ly -= cross[1]![k]! * change[k]!;
      }
      const { field } = list[i]!;
      const [cx, cy] = [field.width / 2, field.height / 2];
      // The map changes about the middle of the letter's field.
      const [x, y] = [at[i]![0] - cx, at[i]![1] - cy];
      const most = 0.25 * field.height;
      at[i] = [
        cx + x + change[0]! * x + change[1]! * y + limit(p * lx + q * ly, most),
        cy + y + change[2]! * x + change[3]! * y + limit(q * lx + s * ly, most),
      ];
    }
    map = next;
    softness = Math.max(LEAST_BLUR ** 2, Math.min(MOST_BLUR ** 2, softness + change[4]!));
  }
}

/** How far letters stand off the line through all of them, a mean in parts of the em; single letters that jump count little. */
function bounceOf(pairs: readonly Pairing[], places: readonly (readonly [number, number])[], scale: number): number {
  const n = pairs.length;
  if (n < 3) return 0;
  const xs = pairs.map((p) => (p.box.x0 + p.box.x1) / 2);
  const ys = places.map((p, i) => p[1] + pairs[i]!.y);
  const [mx, my] = [xs.reduce((s, v) => s + v, 0) / n, ys.reduce((s, v) => s + v, 0) / n];
  let [xy, xx] = [0, 0];
  for (let i = 0; i < n; i++) {
    xy += (xs[i]! - mx) * (ys[i]! - my);
    xx += (xs[i]! - mx) ** 2;
  }
  const slope = xx > 0 ? xy / xx : 0;
  let sum = 0;
  for (let i = 0; i < n; i++) sum += Math.min(60, Math.abs(ys[i]! - my - slope * (xs[i]! - mx)) / scale);
  return sum / n / 1000;
}
