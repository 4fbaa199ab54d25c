import { rankCoarse, rankSoftened, type Coarse, type IndexedFace, type Wanted } from './coarse.js';
import {
  fitLetters,
  softer,
  SLANTED_FREEDOM,
  STRETCHED_FREEDOM,
  USUAL_FREEDOM,
  type LaidOver,
  type Freedom,
  type Pairing,
  type Start,
} from './fine.js';
import type { InkField } from './ink.js';
import { cellsOf, softnessOf, type PictureLetter } from './letters.js';

/** A letter of the picture and the character that it is. */
export interface NamedLetter {
  codePoint: number;
  letter: PictureLetter;
}

export interface SearchOptions {
  /** Letters may be narrowed or widened as a whole. */
  stretched?: boolean;
  /** Letters may lean as a whole, which their own face does not. */
  slanted?: boolean;
}

/** A face as it lies over the picture. */
export interface Found<T> {
  item: T;
  /** What is left over, 0 for the same letters; what the order is by. */
  score: number;
  fit: LaidOver;
  /** px of the picture a thousandth of the em. */
  scale: number;
  /** Narrowed (below 1) or widened, and leaning, so many parts of the width and of the height. */
  stretch: number;
  slant: number;
  turn: number;
  /** The face's letters where they lie on the picture, as SVG path data in px of the picture. */
  outline: () => string;
  /** By character, the ink that only one of the two has; the letters that differ most first. */
  differs: { codePoint: number; rest: number }[];
}

export interface Search<T> {
  found: Found<T>[];
  /** Of the picture, px of the picture as it was searched in. */
  blur: number;
  /** Height of the tallest letter, px of the picture. */
  tall: number;
}

/** Faces that are drawn again, at least and at most. */
const NEAREST = 24;
const MOST = 36;
/** Of one family at most, beyond the nearest. */
const OF_FAMILY = 2;
/** Families of which further faces are drawn, and how many: of the best ones all weights, which look alike where a picture is soft. */
const SIBLINGS = [18, 10, 4, 4];
/** Height of letters at which many faces are compared, and then the best ones; taller ones are made smaller by whole steps. */
const QUICK_PX = 22;
const FULL_PX = 36;
const FINALISTS = 8;
/** Letters that are drawn again, in many faces and in the best. */
const MOST_LETTERS = 12;
const MOST_LAID = 24;
/** Many faces are compared a little softer than the picture is: thin strokes then find their place from farther away. px. */
const SOFTER = 0.8;
const BOUNCE = 1.2;
const STRETCH = 4;
const LEAN = 3;

/** A letter's ink with every `by` by `by` px made one. */
export function reduced({ field, x, y, box }: PictureLetter, by: number): Pick<Pairing, 'field' | 'x' | 'y' | 'box'> {
  const small = { x0: box.x0 / by, y0: box.y0 / by, x1: box.x1 / by, y1: box.y1 / by };
  if (by === 1) return { field, x, y, box };
  // Whole new px, with a margin: the left top one begins at a multiple of `by`.
  const [left, top] = [Math.floor(x / by), Math.floor(y / by)];
  const w = Math.ceil((x + field.width) / by) - left;
  const h = Math.ceil((y + field.height) / by) - top;
  const out: InkField = { width: w + 2, height: h + 2, values: new Float32Array((w + 2) * (h + 2)) };
  for (let v = 0; v < field.height; v++)
    for (let u = 0; u < field.width; u++) {
      const [nx, ny] = [Math.floor((x + u) / by) - left + 1, Math.floor((y + v) / by) - top + 1];
      out.values[ny * out.width + nx]! += field.values[v * field.width + u]! / (by * by);
    }
  return { field: out, x: left - 1, y: top - 1, box: small };
}

/** One of each character, the others left out: the one whose box is most like that of its likes. */
function once(letters: readonly NamedLetter[]): NamedLetter[] {
  const by = new Map<number, NamedLetter[]>();
  for (const l of letters) by.set(l.codePoint, [...(by.get(l.codePoint) ?? []), l]);
  return [...by.values()].map((list) => {
    if (list.length < 3) return list[0]!;
    const areas = list.map((l) => (l.letter.box.x1 - l.letter.box.x0) * (l.letter.box.y1 - l.letter.box.y0)).sort((a, b) => a - b);
    const usual = areas[areas.length >> 1]!;
    const off = (l: NamedLetter): number => Math.abs((l.letter.box.x1 - l.letter.box.x0) * (l.letter.box.y1 - l.letter.box.y0) - usual);
    return list.reduce((a, b) => (off(b) < off(a) ? b : a));
  });
}

/** How far letters may lean that somebody slanted, parts of their height: to the left, not, and to the right. */
const LEANS = [0, -0.12, 0.1, 0.18, 0.27];

/** A letter put upright: its cells and its box. */
function upright({ field, box, x, y }: PictureLetter, lean: number): Pick<Wanted, 'cells' | 'box'> {
  const { height: h } = field;
  const room = Math.ceil(Math.abs(lean) * h) + 1;
  const w = field.width + 2 * room;
  const values = new Float32Array(w * h);
  for (let v = 0; v < h; v++) {
    // What is higher stood farther to the right.
    const shift = room - lean * (h - v - 0.5);
    const [whole, part] = [Math.floor(shift), shift - Math.floor(shift)];
    for (let u = 0; u < field.width; u++) {
      const value = field.values[v * field.width + u]!;
      if (value === 0) continue;
      values[v * w + u + whole]! += value * (1 - part);
      if (u + whole + 1 < w) values[v * w + u + whole + 1]! += value * part;
    }
  }
  const made: InkField = { width: w, height: h, values };
  let [x0, x1] = [w, 0];
  for (let v = 0; v < h; v++)
    for (let u = 0; u < w; u++)
      if (values[v * w + u]! > 0.5) {
        x0 = Math.min(x0, u);
        x1 = Math.max(x1, u + 1);
      }
  if (x1 <= x0) return { cells: cellsOf(field, { x0: box.x0 - x, x1: box.x1 - x, y0: box.y0 - y, y1: box.y1 - y }), box };
  const inner = { x0, x1, y0: box.y0 - y, y1: box.y1 - y };
  return { cells: cellsOf(made, inner), box: { x0, x1, y0: box.y0, y1: box.y1 } };
}

/** Of several rankings each face where it comes nearest. */
function bestOf<T, C extends Coarse<T>>(rankings: readonly (readonly C[])[]): C[] {
  const best = new Map<T, C>();
  for (const c of rankings.flat()) {
    const known = best.get(c.face.item);
    if (!known || c.cost < known.cost) best.set(c.face.item, c);
  }
  return [...best.values()].sort((a, b) => a.cost - b.cost);
}

/**
 * Finds the faces whose letters are most like those of a picture.
 * @param familyOf by which faces belong together: of one family few are drawn again beside the nearest
 * @returns the nearest first, and nothing where the picture has no letter that a face has
 */
export function searchFaces<T>(
  letters: readonly NamedLetter[],
  faces: readonly IndexedFace<T>[],
  familyOf: (item: T) => string,
  options: SearchOptions = {},
): Search<T> {
  const chosen = once(letters);
  const tall = Math.max(0, ...chosen.map(({ letter }) => letter.box.y1 - letter.box.y0));
  const soft = softnessOf(chosen.map((l) => l.letter));
  const ranked = (leans: number): Leaning<T>[] => {
    const wanted = chosen.map(({ codePoint, letter }) => ({ codePoint, ...(leans === 0 ? letter : upright(letter, leans)) }));
    return rankSoftened(wanted, rankCoarse(wanted, faces, options.stretched), soft).map((c) => ({ ...c, lean: leans }));
  };
  const coarse = options.slanted ? bestOf(LEANS.map(ranked)) : ranked(0);
  // The largest letters say most.
  const drawn = [...chosen].sort((a, b) => b.letter.box.y1 - b.letter.box.y0 - (a.letter.box.y1 - a.letter.box.y0)).slice(0, MOST_LETTERS);
  const nearest = nearestOf(coarse, familyOf);
  const quick = new Comparison<T>(drawn, Math.max(1, Math.round(tall / QUICK_PX)), SOFTER, chosen.length, options);
  const blur = Math.hypot(SOFTER, soft / quick.by);
  const tried = new Map<Leaning<T>, Found<T>>();
  const tryOut = (list: readonly Leaning<T>[]): void => {
    for (const c of list) if (!tried.has(c)) tried.set(c, quick.judge(c, quick.fit(c, blur, 2)));
  };
  const inOrder = (): [Leaning<T>, Found<T>][] => [...tried].sort((a, b) => a[1].score - b[1].score);
  tryOut(nearest);
  const families = [...new Set(inOrder().map(([c]) => familyOf(c.face.item)))].slice(0, SIBLINGS.length);
  families.forEach((family, i) => tryOut(coarse.filter((c) => familyOf(c.face.item) === family).slice(0, SIBLINGS[i])));
  const by = Math.max(1, Math.floor(tall / FULL_PX));
  // The best are laid over all letters, those that come several times as well.
  const all = [...drawn, ...letters.filter((l) => !drawn.includes(l))].slice(0, MOST_LAID);
  const full = new Comparison<T>(all, by, 0, chosen.length, options);
  const order = inOrder();
  const best = order
    .slice(0, FINALISTS)
    .map(([c, f]) =>
      full.judge(
        c,
        full.fit(c, Math.max(0.3, (Math.sqrt(Math.max(0, f.fit.blur ** 2 - SOFTER ** 2)) * quick.by) / by), 3, full.from(f.fit, quick)),
      ),
    );
  best.sort((a, b) => a.score - b.score);
  // What was compared at less px is behind.
  const found = [...best, ...order.slice(FINALISTS).map(([, f]) => f)];
  return { found, blur: (best[0]?.fit.blur ?? soft / by) * by, tall };
}

/** A face in the first ranking, and how far the letters were put upright for it. */
type Leaning<T> = Coarse<T> & { lean: number };

/** Letters of a picture at one resolution, and faces laid over them. */
class Comparison<T> {
  private readonly prepared: (Pick<Pairing, 'field' | 'x' | 'y' | 'box'> & { codePoint: number; letter: NamedLetter })[];
  private readonly free: Freedom;
  constructor(
    letters: readonly NamedLetter[],
    /** px of the picture that are one here. */
    readonly by: number,
    /** px by which it is made softer. */
    softerBy: number,
    private readonly wanted: number,
    private readonly options: SearchOptions,
  ) {
    this.prepared = letters.map((l) => {
      const small = reduced(l.letter, by);
      return { codePoint: l.codePoint, letter: l, ...small, field: softerBy > 0 ? softer(small.field, softerBy) : small.field };
    });
    this.free = options.stretched ? STRETCHED_FREEDOM : options.slanted ? SLANTED_FREEDOM : USUAL_FREEDOM;
  }
  private pairs(c: Coarse<T>): (Pairing & { codePoint: number })[] {
    return this.prepared.flatMap((p) => {
      const letter = c.face.shapes.letters.get(p.codePoint);
      return letter ? [{ ...p, polygons: letter.polygons(), own: [letter.xMin, letter.yMin, letter.width, letter.height] as const }] : [];
    });
  }
  /** How letters lay at another resolution, at this one. */
  from(fit: LaidOver, other: Comparison<T>): Start {
    const k = other.by / this.by;
    return {
      map: fit.map.map((v) => v * k) as LaidOver['map'],
      places: this.prepared.map((here): [number, number] | null => {
        const i = other.prepared.findIndex((p) => p.letter === here.letter);
        const place = fit.places[i];
        if (!place) return null;
        const there = other.prepared[i]!;
        return [(place[0] + there.x) * k - here.x, (place[1] + there.y) * k - here.y];
      }),
    };
  }
  fit(c: Leaning<T>, blur: number, rounds: number, start: Start | null = null): LaidOver {
    const even = Math.sqrt(c.scaleX * c.scaleY);
    const [sx, sy] = this.options.stretched ? [c.scaleX, c.scaleY] : [even, even];
    const leaning: Start | null = c.lean === 0 ? null : { map: [sx / this.by, (-c.lean * sy) / this.by, 0, sy / this.by], places: [] };
    return fitLetters(this.pairs(c), sx / this.by, sy / this.by, blur, this.free, rounds, start ?? leaning);
  }
  judge(c: Coarse<T>, fit: LaidOver): Found<T> {
    return described(c.face.item, this.pairs(c), fit, this.by, this.wanted - c.known, this.options);
  }
}

function nearestOf<T>(coarse: readonly Leaning<T>[], familyOf: (item: T) => string): Leaning<T>[] {
  const out = coarse.slice(0, NEAREST);
  const counts = new Map<string, number>();
  for (const c of out) counts.set(familyOf(c.face.item), (counts.get(familyOf(c.face.item)) ?? 0) + 1);
  for (const c of coarse.slice(NEAREST)) {
    if (out.length >= MOST) break;
    const family = familyOf(c.face.item);
    const n = counts.get(family) ?? 0;
    if (n >= OF_FAMILY) continue;
    counts.set(family, n + 1);
    out.push(c);
  }
  return out;
}

/** Letters as they lie on the picture, straight from point to point. */
function laidPath(pairs: readonly Pairing[], { map, places }: LaidOver, by: number): string {
  const [a, b, c, d] = map;
  const out: string[] = [];
  pairs.forEach((p, i) => {
    const [px, py] = [places[i]![0] + p.x, places[i]![1] + p.y];
    for (const polygon of p.polygons) {
      const points: string[] = [];
      for (let k = 0; k < polygon.length; k += 2) {
        const [x, y] = [polygon[k]!, -polygon[k + 1]!];
        points.push(`${((a * x + b * y + px) * by).toFixed(2)} ${((c * x + d * y + py) * by).toFixed(2)}`);
      }
      out.push(`M${points.join('L')}Z`);
    }
  });
  return out.join('');
}

/** What a fit says about a face. */
export function described<T>(
  item: T,
  pairs: readonly (Pairing & { codePoint?: number })[],
  fit: LaidOver,
  by: number,
  lacking: number,
  options: SearchOptions,
): Found<T> {
  const [a, b, cc, d] = fit.map;
  const across = Math.hypot(a, cc);
  const turn = Math.atan2(cc, a);
  const up = (a * d - b * cc) / across;
  const stretch = across / up;
  // Leaning to the right is positive.
  const slant = -(a * b + cc * d) / (across * up);
  const penalty = (options.stretched ? 0 : STRETCH * Math.log(stretch) ** 2) + (options.slanted ? 0 : LEAN * slant * slant);
  return {
    item,
    score: fit.rest + BOUNCE * fit.bounce + penalty + 0.02 * lacking,
    fit,
    scale: up * by,
    stretch,
    slant,
    turn,
    outline: () => laidPath(pairs, fit, by),
    differs: pairs.map((p, i) => ({ codePoint: p.codePoint!, rest: fit.rests[i]! })).sort((x, y) => y.rest - x.rest),
  };
}
