import type { Face } from '../../font/index.js';
import { profileOf } from '../../font/index.js';
import { CffOutlines, type Pen } from '../../outline/index.js';
import {
  CFF2,
  FLAVOR_TRUETYPE,
  FontError,
  FVAR,
  GASP,
  GVAR,
  HVAR,
  LOCA,
  locaFormatFor,
  MAXP,
  POST,
  writeGlyphs,
  type ItemVariationStore,
  type SfntFont,
  type SimpleGlyph,
  type TupleVariation,
} from '../../sfnt/index.js';
import { Changed, PREP, putMetrics } from '../changed.js';

// A variable face with cubic outlines (CFF2) as one with quadratic ones (glyf, gvar). Each cubic is cut into the same number of
// equal pieces at every place, and each piece becomes the quadratic whose control is the mean of what its two ends ask for. All of
// that is linear in the points of the cubic, so the deltas of each region go through the same steps as the points themselves.

/** More pieces than a curve of a letter needs. */
const MOST_PIECES = 12;
/** Corners of the design space that a curve is judged at besides its default. */
const MOST_CORNERS = 64;
/** Farthest between a cubic and the quadratic of its ends, by the size of its third difference. Source: fontTools' cu2qu. */
const THIRD = Math.sqrt(3) / 36;

type Store = NonNullable<ItemVariationStore>;
type Region = Store['variationRegionList'] extends infer L ? (L extends { variationRegions: (infer R)[] } ? R : never) : never;

/** Every step of a drawing, in order, with its numbers; nothing is left out, so that all places have the same ones. */
class StepsPen implements Pen {
  kinds = '';
  readonly numbers: number[] = [];
  private add(kind: string, ...n: number[]): void {
    this.kinds += kind;
    this.numbers.push(...n);
  }
  moveTo(x: number, y: number): void {
    this.add('M', x, y);
  }
  lineTo(x: number, y: number): void {
    this.add('L', x, y);
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.add('Q', cx, cy, x, y);
  }
  cubicTo(...n: [number, number, number, number, number, number]): void {
    this.add('C', ...n);
  }
  closePath(): void {
    this.add('Z');
  }
}

/** How much of a region counts at a place. Source: OpenType specification, "Algorithm for Interpolation of Instance Values". */
function scalarOf(region: Region, place: readonly number[]): number {
  let scalar = 1;
  (region as readonly { startCoord: number; peakCoord: number; endCoord: number }[]).forEach(({ startCoord, peakCoord, endCoord }, i) => {
    const v = place[i]!;
    if (peakCoord === 0 || v === peakCoord) return;
    if (v <= startCoord || v >= endCoord) scalar = 0;
    else scalar *= v < peakCoord ? (v - startCoord) / (peakCoord - startCoord) : (endCoord - v) / (endCoord - peakCoord);
  });
  return scalar;
}

const regionsOf = (store: Store | null): Region[] => (store?.variationRegionList?.variationRegions ?? []) as Region[];

/** How many pieces a cubic is cut into so that no quadratic is farther off than allowed. */
function piecesOf(cubic: readonly number[], tolerance: number): number {
  const third = (k: 0 | 1): number => cubic[6 + k]! - 3 * cubic[4 + k]! + 3 * cubic[2 + k]! - cubic[k]!;
  return Math.min(MOST_PIECES, Math.max(1, Math.ceil(Math.cbrt((THIRD * Math.hypot(third(0), third(1))) / tolerance))));
}

/** Part of a cubic between two parameters; linear in its points. */
function cut(c: readonly number[], from: number, to: number): number[] {
  const out: number[] = [];
  for (const k of [0, 1]) {
    const p = [c[k]!, c[2 + k]!, c[4 + k]!, c[6 + k]!] as const;
    // Blossom of the cubic: its value at three parameters.
    const at = (a: number, b: number, d: number): number => {
      const l = (x: number, y: number, t: number): number => x + (y - x) * t;
      const [q0, q1, q2] = [l(p[0], p[1], a), l(p[1], p[2], a), l(p[2], p[3], a)];
      return l(l(q0, q1, b), l(q1, q2, b), d);
    };
    out[k] = at(from, from, from);
    out[2 + k] = at(from, from, to);
    out[4 + k] = at(from, to, to);
    out[6 + k] = at(to, to, to);
  }
  return out;
}

/** Points of a drawing as TrueType has them, with the pieces of each cubic given; numbers may be deltas. */
function pointsOf(kinds: string, numbers: readonly number[], pieces: readonly number[]): { xy: number[]; on: number[]; ends: number[] } {
  const [xy, on, ends]: [number[], number[], number[]] = [[], [], []];
  let [at, curve, x, y] = [0, 0, 0, 0];
  const put = (px: number, py: number, is: 0 | 1): void => {
    xy.push(px, py);
    on.push(is);
  };
  for (const kind of kinds) {
    if (kind === 'Z') {
      if (on.length > (ends[ends.length - 1] ?? -1) + 1) ends.push(on.length - 1);
      continue;
    }
    const n = numbers.slice(at, (at += kind === 'C' ? 6 : kind === 'Q' ? 4 : 2));
    if (kind === 'C') {
      const cubic = [x, y, ...n];
      const count = pieces[curve++]!;
      for (let i = 0; i < count; i++) {
        const c = cut(cubic, i / count, (i + 1) / count);
        put((3 * (c[2]! + c[4]!) - c[0]! - c[6]!) / 4, (3 * (c[3]! + c[5]!) - c[1]! - c[7]!) / 4, 0);
        put(c[6]!, c[7]!, 1);
      }
    } else {
      if (kind === 'Q') put(n[0]!, n[1]!, 0);
      put(n[n.length - 2]!, n[n.length - 1]!, 1);
    }
    [x, y] = [n[n.length - 2]!, n[n.length - 1]!];
  }
  return { xy, on, ends };
}

/** Leaves out points that lie on the first of their contour at every place; outlines close by themselves. */
function withoutClosing(all: readonly { xy: number[]; on: number[]; ends: number[] }[]): void {
  const [base] = all;
  for (let c = base!.ends.length - 1; c >= 0; c--) {
    const first = c === 0 ? 0 : base!.ends[c - 1]! + 1;
    const last = base!.ends[c]!;
    const same =
      last > first &&
      base!.on[last] === 1 &&
      all.every(({ xy }) => xy[2 * first] === xy[2 * last] && xy[2 * first + 1] === xy[2 * last + 1]);
    if (!same) continue;
    for (const { xy, on, ends } of all) {
      xy.splice(2 * last, 2);
      on.splice(last, 1);
      for (let k = c; k < ends.length; k++) ends[k]!--;
    }
  }
}

/**
 * The same variable face with TrueType outlines.
 * @param tolerance font units
 * @throws FontError when a glyph is not drawn with the same steps everywhere
 */
export function variableTrueType(face: Face, tolerance: number): SfntFont {
  const axes = face.need(FVAR).axes;
  const store = face.need(CFF2).variationStore;
  const outlines = new CffOutlines(face.bytes('CFF2')!, true);
  const own = regionsOf(store);
  const hvar = face.table(HVAR);
  const ofAdvances = regionsOf(hvar?.itemVariationStore ?? null);
  const corners = cornersOf(axes.length).map((place) => own.map((r) => scalarOf(r, place)));
  const glyphs: (SimpleGlyph | null)[] = [];
  const variations: TupleVariation[][] = [];
  for (let glyph = 0; glyph < face.glyphCount; glyph++) {
    const draw = (scalars: ArrayLike<number> | null): StepsPen => {
      const pen = new StepsPen();
      outlines.draw(glyph, pen, scalars);
      return pen;
    };
    const base = draw(null);
    const deltas = own.map((_, r) => {
      const there = draw(own.map((_x, k) => (k === r ? 1 : 0)));
      if (there.kinds !== base.kinds)
        throw new FontError('outline-conversion', `Glyph ${glyph} is drawn with other steps where the axes stand elsewhere.`, {
          table: 'CFF2',
        });
      return there.numbers.map((v, i) => v - base.numbers[i]!);
    });
    const pieces = piecesAll(
      base,
      corners.map((scalars) => base.numbers.map((v, i) => deltas.reduce((sum, d, r) => sum + scalars[r]! * d[i]!, v))),
      tolerance,
    );
    const all = [base.numbers, ...deltas].map((numbers) => pointsOf(base.kinds, numbers, pieces));
    withoutClosing(all);
    // Filled contours run clockwise in TrueType, and the other way in CFF.
    for (const one of all) turn(one);
    const [at, ...moves] = all as [(typeof all)[number], ...typeof all];
    glyphs.push(glyphOf(at));
    const advances = advanceDeltas(hvar, glyph, ofAdvances);
    variations.push(tuplesOf(own, moves, at.on.length, ofAdvances, advances));
  }
  const out = new Changed(face, ['CFF2', 'VORG', 'cvt ', 'fpgm', 'prep', 'gasp']);
  const { glyf, offsets } = writeGlyphs(glyphs);
  putMetrics(out, face, glyphs, locaFormatFor(offsets));
  out.put(MAXP, { ...profileOf(glyphs, 'glyf'), maxStackElements: 1 });
  const post = face.table(POST);
  if (post) out.put(POST, { ...post, version: 0x00030000, glyphNames: null });
  out.tables.set('glyf', glyf);
  out.put(LOCA, offsets);
  out.tables.set('gvar', GVAR.write({ majorVersion: 1, minorVersion: 0, axisCount: axes.length, glyphs: variations }, out));
  out.put(GASP, { version: 1, gaspRanges: [{ rangeMaxPPEM: 0xffff, rangeGaspBehavior: 0x000a }] });
  out.tables.set('prep', PREP);
  return { flavor: FLAVOR_TRUETYPE, tables: out.tables, faults: [] };
}

/** Ends of all axes together, normalized. */
function cornersOf(axes: number): number[][] {
  let out: number[][] = [[]];
  for (let i = 0; i < axes && out.length * 3 <= MOST_CORNERS; i++) out = out.flatMap((p) => [-1, 0, 1].map((v) => [...p, v]));
  return out.map((p) => [...p, ...new Array<number>(axes - p.length).fill(0)]);
}

function piecesAll(base: StepsPen, places: readonly number[][], tolerance: number): number[] {
  const out: number[] = [];
  let at = 0;
  let from = 0;
  for (const kind of base.kinds) {
    if (kind === 'Z') continue;
    if (kind === 'C') {
      const start = from;
      const first = at;
      out.push(
        [base.numbers, ...places].reduce(
          (most, n) => Math.max(most, piecesOf([n[start]!, n[start + 1]!, ...n.slice(first, first + 6)], tolerance)),
          1,
        ),
      );
    }
    at += kind === 'C' ? 6 : kind === 'Q' ? 4 : 2;
    from = at - 2;
  }
  return out;
}

/** Contours run the other way round, from the same first point. */
function turn(one: { xy: number[]; on: number[]; ends: number[] }): void {
  let first = 0;
  for (const last of one.ends) {
    const order = [first, ...Array.from({ length: last - first }, (_, i) => last - i)];
    const [xy, on] = [order.flatMap((i) => [one.xy[2 * i]!, one.xy[2 * i + 1]!]), order.map((i) => one.on[i]!)];
    order.forEach((_, i) => {
      one.xy[2 * (first + i)] = xy[2 * i]!;
      one.xy[2 * (first + i) + 1] = xy[2 * i + 1]!;
      one.on[first + i] = on[i]!;
    });
    first = last + 1;
  }
}

function glyphOf({ xy, on, ends }: { xy: number[]; on: number[]; ends: number[] }): SimpleGlyph | null {
  if (on.length === 0) return null;
  const round = (v: number): number => Math.floor(v + 0.5);
  const x = Int16Array.from(on, (_, i) => round(xy[2 * i]!));
  const y = Int16Array.from(on, (_, i) => round(xy[2 * i + 1]!));
  const over = (list: Int16Array, choose: (a: number, b: number) => number): number => list.reduce((a, b) => choose(a, b));
  return {
    kind: 'simple',
    xMin: over(x, Math.min),
    yMin: over(y, Math.min),
    xMax: over(x, Math.max),
    yMax: over(y, Math.max),
    endPtsOfContours: [...ends],
    x,
    y,
    onCurve: Uint8Array.from(on),
    // Contours of variable faces may overlap, and rasterizers are told so.
    overlap: true,
    instructions: new Uint8Array(0),
  };
}

/** How the advance of a glyph changes in each region of HVAR. */
function advanceDeltas(hvar: ReturnType<typeof HVAR.read> | null, glyph: number, regions: readonly Region[]): number[] {
  const out = new Array<number>(regions.length).fill(0);
  const store = hvar?.itemVariationStore;
  if (!store) return out;
  const { entries } = (hvar.advanceWidthMapping ?? { entries: [] }) as { entries: { outer: number; inner: number }[] };
  const { outer, inner } = entries.length > 0 ? entries[Math.min(glyph, entries.length - 1)]! : { outer: 0, inner: glyph };
  const data = (store.itemVariationData as ({ regionIndexes: number[]; deltaSets: number[][] } | null)[])[outer];
  data?.regionIndexes.forEach((region, k) => (out[region] = data.deltaSets[inner]?.[k] ?? 0));
  return out;
}

/** One change of a glyph for each region in which its points or its advance move; the advance is that of the second phantom point. */
function tuplesOf(
  regions: readonly Region[],
  moves: readonly { xy: number[] }[],
  points: number,
  ofAdvances: readonly Region[],
  advances: readonly number[],
): TupleVariation[] {
  const round = (v: number): number => Math.floor(v + 0.5);
  const byRegion = new Map<string, { region: Region; x: number[]; y: number[] }>();
  const of = (region: Region): { x: number[]; y: number[] } => {
    const key = JSON.stringify(region);
    let known = byRegion.get(key);
    if (!known) byRegion.set(key, (known = { region, x: new Array<number>(points + 4).fill(0), y: new Array<number>(points + 4).fill(0) }));
    return known;
  };
  regions.forEach((region, r) => {
    const { xy } = moves[r]!;
    if (xy.every((v) => round(v) === 0)) return;
    const { x, y } = of(region);
    for (let i = 0; i < points; i++) {
      x[i] = round(xy[2 * i]!);
      y[i] = round(xy[2 * i + 1]!);
    }
  });
  ofAdvances.forEach((region, r) => {
    if (advances[r] !== 0) of(region).x[points + 1] = advances[r]!;
  });
  return [...byRegion.values()].map(({ region, x, y }): TupleVariation => {
    const axes = region as readonly { startCoord: number; peakCoord: number; endCoord: number }[];
    const usual = axes.every(
      ({ startCoord, peakCoord, endCoord }) => startCoord === Math.min(0, peakCoord) && endCoord === Math.max(0, peakCoord),
    );
    return {
      peak: axes.map((a) => a.peakCoord),
      intermediate: usual ? null : { start: axes.map((a) => a.startCoord), end: axes.map((a) => a.endCoord) },
      points: null,
      xDeltas: x,
      yDeltas: y,
    };
  });
}
