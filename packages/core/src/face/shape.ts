import type { Face } from '../font/index.js';
import { BoundsPen, FlattenPen, spansAtX, spansAtY, type Bounds, type Polygon } from '../outline/index.js';
import { expectFontError } from '../sfnt/index.js';

/** One letter as drawn, made upright: font units, y up. */
export interface Letter {
  polygons: Polygon[];
  bounds: Bounds;
  advance: number;
  segments: number;
  straightLength: number;
  curveLength: number;
}

/** The letters of a face that its shape is measured on. */
export interface Letters {
  unitsPerEm: number;
  /** Tangent of the slant that was taken out; 0 for upright faces. */
  slant: number;
  /** By character; letters without ink are absent. */
  drawn: Map<string, Letter>;
  /** Shares of letters (general category L) and of private-use characters in the character map, 0 to 1. */
  letterShare: number;
  privateShare: number;
}

const LOWER = 'abcdefghijklmnopqrstuvwxyz';
const UPPER = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';
const FIGURES = '0123456789';
export const MEASURED = `${LOWER}${UPPER}${FIGURES}&?!`;

/** Draws the letters a face is measured on. Glyphs that cannot be drawn count as absent. */
export function readLetters(face: Face): Letters {
  const unitsPerEm = face.unitsPerEm || 1000;
  const drawn = new Map<string, Letter>();
  const shares = { letterShare: 0, privateShare: 0 };
  const nothing = (): Letters => ({ unitsPerEm, slant: 0, drawn, ...shares });
  try {
    const cmap = face.characters;
    if (!cmap || !face.outlines()) return nothing();
    Object.assign(shares, sharesOf(cmap.codePoints));
    const { advances } = face;
    for (const character of MEASURED) {
      const glyph = face.glyphOf(character.codePointAt(0)!);
      if (glyph === 0) continue;
      const pen = new FlattenPen(unitsPerEm / 1000);
      if (!face.draw(glyph, pen)) continue;
      const bounds = boundsOf(pen.polygons);
      if (!bounds) continue;
      const { polygons, segments, straightLength, curveLength } = pen;
      drawn.set(character, {
        polygons,
        bounds,
        advance: advances?.advanceWidth(glyph) ?? unitsPerEm,
        segments,
        straightLength,
        curveLength,
      });
    }
  } catch (error) {
    expectFontError(error);
    return nothing();
  }
  const slant = slantOf(drawn);
  if (Math.abs(slant) > 0.02) for (const letter of drawn.values()) upright(letter, slant);
  return { unitsPerEm, slant: Math.abs(slant) > 0.02 ? slant : 0, drawn, ...shares };
}

/** Counted on at most two thousand characters spread over the map. */
function sharesOf(codePoints: ArrayLike<number>): { letterShare: number; privateShare: number } {
  const step = Math.max(1, Math.floor(codePoints.length / 2000));
  let letters = 0;
  let privates = 0;
  let seen = 0;
  for (let i = 0; i < codePoints.length; i += step, seen++) {
    const c = String.fromCodePoint(codePoints[i]!);
    if (/^\p{L}$/u.test(c)) letters++;
    else if (/^\p{Co}$/u.test(c)) privates++;
  }
  return { letterShare: letters / (seen || 1), privateShare: privates / (seen || 1) };
}

function boundsOf(polygons: readonly Polygon[]): Bounds | null {
  const pen = new BoundsPen();
  for (const p of polygons) {
    pen.moveTo(p[0]!, p[1]!);
    for (let i = 2; i < p.length; i += 2) pen.lineTo(p[i]!, p[i + 1]!);
  }
  return pen.bounds;
}

/** The lean of the stems: how far their middle moves to the right from a quarter to three quarters of their height. */
function slantOf(drawn: ReadonlyMap<string, Letter>): number {
  const leans: number[] = [];
  for (const character of 'IHlhEFLdbk') {
    const letter = drawn.get(character);
    if (!letter) continue;
    const { yMin, yMax } = letter.bounds;
    const low = yMin + (yMax - yMin) * 0.22;
    const high = yMin + (yMax - yMin) * (character === 'd' ? 0.85 : 0.78);
    const a = spansAtY(letter.polygons, low);
    const b = spansAtY(letter.polygons, high);
    if (a.length < 2 || b.length < 2) continue;
    const right = character === 'd';
    const mid = (s: number[]): number => (right ? (s[s.length - 2]! + s[s.length - 1]!) / 2 : (s[0]! + s[1]!) / 2);
    leans.push((mid(b) - mid(a)) / (high - low));
  }
  return leans.length < 3 ? 0 : median(leans);
}

function upright(letter: Letter, slant: number): void {
  for (const p of letter.polygons) for (let i = 0; i < p.length; i += 2) p[i] = p[i]! - p[i + 1]! * slant;
  letter.bounds = boundsOf(letter.polygons)!;
}

function median(values: readonly number[]): number {
  if (values.length === 0) return NaN;
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}
const mean = (values: readonly number[]): number => (values.length === 0 ? NaN : values.reduce((a, b) => a + b, 0) / values.length);
function spread(values: readonly number[]): number {
  if (values.length < 2) return NaN;
  const m = mean(values);
  return Math.sqrt(mean(values.map((v) => (v - m) ** 2)));
}

/** What a person is told of a face's shape. Ratios without unit; slant in degrees to the right; null where nothing could be measured. */
export interface ShapeNumbers {
  /** Stem of H, I and l against the height of capitals. */
  stemWeight: number | null;
  /** Thin strokes of o, e, H and n against their thick ones: 1 is even, near 0 is sharp contrast. */
  contrast: number | null;
  /** Mean advance of small letters against their height. */
  width: number | null;
  xHeightRatio: number | null;
  slant: number;
}

/** Names of the measures that the model of kinds works on, in its order. */
export const MEASURES = [
  'coverage',
  'slant',
  'stem',
  'stemSpread',
  'barRatio',
  'contrast',
  'footI',
  'footL',
  'footCapI',
  'footH',
  'footN',
  'footR',
  'headCapI',
  'headL',
  'headLeft',
  'axisShare',
  'curveShare',
  'curveShareDiagonal',
  'segments',
  'armTip',
  'armSerif',
  'advanceI',
  'advanceL',
  'advanceSpread',
  'xHeight',
  'ascender',
  'descender',
  'bearing',
  'bearingSpread',
  'negativeBearing',
  'join',
  'widthO',
  'widthH',
  'lowerWidth',
  'baselineSpread',
  'xLineSpread',
  'capLineSpread',
  'contours',
  'stemDifference',
  'storeysA',
  'tailF',
  'loopL',
  'roughness',
  'density',
  'waist',
  'unicase',
  'letterShare',
  'privateShare',
] as const;

/**
 * Measures a face for the model of kinds. Values without unit, in the order of `MEASURES`; NaN where a letter is absent.
 * What proved strong: the foot of i and l against their stems, the share of outline along the axes in H I E L T F,
 * the weight of the stem, the tips of T's arms, the advance of i against m, side bearings.
 */
export function measure(letters: Letters): { values: number[]; numbers: ShapeNumbers } {
  const { drawn, unitsPerEm } = letters;
  const get = (c: string): Letter | undefined => drawn.get(c);
  const all = (characters: string): Letter[] => [...characters].flatMap((c) => drawn.get(c) ?? []);
  const top = (c: string): number => get(c)?.bounds.yMax ?? NaN;
  const capHeight = median(all('HIETLF').map((l) => l.bounds.yMax)) || unitsPerEm * 0.7;
  const xHeight = median(all('xzvwnu').map((l) => l.bounds.yMax));

  /** Width of the nth span of a letter at a share of its height; negative n counts from the right. */
  const run = (c: string, share: number, n = 0): number => {
    const letter = get(c);
    if (!letter) return NaN;
    const { yMin, yMax } = letter.bounds;
    const s = spansAtY(letter.polygons, yMin + (yMax - yMin) * share);
    const i = n < 0 ? s.length + 2 * n : 2 * n;
    return i >= 0 && i + 1 < s.length ? s[i + 1]! - s[i]! : NaN;
  };
  /** Ink along a horizontal from the outermost left to the outermost right. */
  const extent = (c: string, share: number): number => {
    const letter = get(c);
    if (!letter) return NaN;
    const { yMin, yMax } = letter.bounds;
    const s = spansAtY(letter.polygons, yMin + (yMax - yMin) * share);
    return s.length < 2 ? NaN : s[s.length - 1]! - s[0]!;
  };
  const column = (c: string, share: number): number[] => {
    const letter = get(c);
    if (!letter) return [];
    const { xMin, xMax } = letter.bounds;
    const s = spansAtX(letter.polygons, xMin + (xMax - xMin) * share);
    return Array.from({ length: s.length >> 1 }, (_, i) => s[2 * i + 1]! - s[2 * i]!);
  };
  const known = (values: number[]): number[] => values.filter(Number.isFinite);

  const stems = known([
    run('H', 0.28),
    run('I', 0.5),
    run('l', 0.5),
    run('E', 0.28),
    run('h', 0.75),
    run('i', 0.35),
    run('n', 0.3),
    run('T', 0.4),
  ]);
  const stem = median(stems);
  const bars = known([
    column('H', 0.5)[0] ?? NaN,
    Math.min(...column('E', 0.6), Infinity),
    Math.min(...column('e', 0.5), Infinity),
    Math.min(...column('T', 0.2), Infinity),
  ]);
  const sidesO = known([run('o', 0.5), run('o', 0.5, -1)]);
  const topsO = known([column('o', 0.5)[0] ?? NaN, column('o', 0.5).at(-1) ?? NaN]);
  const contrastO = column('o', 0.5).length === 2 ? mean(topsO) / mean(sidesO) : NaN;

  const foot = (c: string, whole: (c: string, share: number) => number = run): number => whole(c, 0.015) / run(c, 0.5);
  const capsStraight = all('HIELTF');
  const axis = capsStraight.map((l) => axisLength(l.polygons));
  const diagonals = all('AVWXYZ');
  const advances = all(LOWER).map((l) => l.advance);
  const lower = all(LOWER);
  const bearings = lower.map((l) => (l.bounds.xMin + l.advance - l.bounds.xMax) / (2 * unitsPerEm));
  const T = get('T');
  const tTip = T ? column('T', 0.03).at(-1)! / column('T', 0.18).at(-1)! : NaN;
  const tSerif = T ? tipDrop(T) / capHeight : NaN;
  const joined = lower.filter((l) => l.bounds.xMax >= l.advance - unitsPerEm * 0.012 && reachesRight(l, xHeight)).length;
  const flat = all('hiklmnrxzHIEFTLAX');
  const waistI = run('I', 0.5) / mean(known([run('I', 0.2), run('I', 0.8)]));
  const headLeft = ((): number => {
    const l = get('l');
    if (!l) return NaN;
    const h = l.bounds.yMax - l.bounds.yMin;
    const up = spansAtY(l.polygons, l.bounds.yMin + h * 0.97);
    const mid = spansAtY(l.polygons, l.bounds.yMin + h * 0.5);
    return up.length < 2 || mid.length < 2 ? NaN : (mid[0]! - up[0]!) / (mid[1]! - mid[0]! || 1);
  })();

  const values: Record<(typeof MEASURES)[number], number> = {
    coverage: drawn.size / MEASURED.length,
    slant: letters.slant,
    stem: stem / capHeight,
    stemSpread: spread(stems) / stem,
    barRatio: median(bars.filter((b) => b < capHeight)) / stem,
    contrast: contrastO,
    footI: log(foot('i')),
    footL: log(foot('l')),
    footCapI: log(foot('I')),
    footH: log(run('H', 0.015) / run('H', 0.28)),
    footN: log(run('n', 0.015) / run('n', 0.4)),
    footR: log(foot('r')),
    headCapI: log(run('I', 0.985) / run('I', 0.5)),
    headL: log(run('l', 0.985) / run('l', 0.5)),
    headLeft: clamp(headLeft, -2, 2),
    axisShare: mean(axis.map((a) => a.along / a.total)),
    curveShare: mean(capsStraight.map((l) => l.curveLength / (l.curveLength + l.straightLength))),
    curveShareDiagonal: mean(diagonals.map((l) => l.curveLength / (l.curveLength + l.straightLength))),
    segments: log(mean(capsStraight.map((l) => l.segments))),
    armTip: log(tTip),
    armSerif: tSerif,
    advanceI: log((get('i')?.advance ?? NaN) / (get('m')?.advance ?? NaN)),
    advanceL: log((get('l')?.advance ?? NaN) / (get('m')?.advance ?? NaN)),
    advanceSpread: spread(advances) / mean(advances),
    xHeight: xHeight / capHeight,
    ascender: median(known([top('b'), top('l'), top('h')])) / capHeight,
    descender: median(all('pqg').map((l) => l.bounds.yMin)) / capHeight,
    bearing: mean(bearings),
    bearingSpread: spread(bearings),
    negativeBearing: lower.filter((l) => l.bounds.xMin < -0.01 * unitsPerEm || l.bounds.xMax > l.advance + 0.01 * unitsPerEm).length / 26,
    join: joined / 26,
    widthO: extent('o', 0.5) / xHeight,
    widthH: extent('H', 0.5) / capHeight,
    lowerWidth: mean(advances) / xHeight,
    baselineSpread: spread(flat.map((l) => l.bounds.yMin)) / capHeight,
    xLineSpread: spread(all('xzvwumnr').map((l) => l.bounds.yMax)) / capHeight,
    capLineSpread: spread(all('HIELTFXZ').map((l) => l.bounds.yMax)) / capHeight,
    contours: log(mean(all('HIELTFlo').map((l) => l.polygons.length))),
    stemDifference: Math.abs(Math.log((run('H', 0.28) || NaN) / (run('H', 0.28, -1) || NaN))),
    storeysA: column('a', 0.5).length,
    tailF: (get('f')?.bounds.yMin ?? NaN) / capHeight,
    loopL: ((): number => {
      const l = get('l');
      return l ? spansAtY(l.polygons, l.bounds.yMin + (l.bounds.yMax - l.bounds.yMin) * 0.75).length / 2 : NaN;
    })(),
    roughness: log(mean(all('HIELTFnoa').map((l) => roughness(l)))),
    density: mean(all('HoneaR').map((l) => area(l.polygons) / ((l.bounds.xMax - l.bounds.xMin) * (l.bounds.yMax - l.bounds.yMin)))),
    waist: log(waistI),
    unicase: mean(['a', 'e', 'g', 'r', 'n', 'd'].map((c) => Number(Math.abs(top(c) - capHeight) < capHeight * 0.03))),
    letterShare: letters.letterShare,
    privateShare: letters.privateShare,
  };
  const finite = (v: number): number | null => (Number.isFinite(v) ? Math.round(v * 1000) / 1000 : null);
  return {
    values: MEASURES.map((name) => (Number.isFinite(values[name]) ? values[name] : NaN)),
    numbers: {
      stemWeight: finite(values.stem),
      contrast: finite(values.contrast),
      width: finite(values.lowerWidth),
      xHeightRatio: finite(values.xHeight),
      slant: Math.round((Math.atan(letters.slant) * 1800) / Math.PI) / 10,
    },
  };
}

const clamp = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));
const log = (v: number): number => (v > 0 && Number.isFinite(v) ? clamp(Math.log(v), -3, 3) : NaN);

/** Length of the outline within 2.5 degrees of an axis, and in all. */
function axisLength(polygons: readonly Polygon[]): { along: number; total: number } {
  let along = 0;
  let total = 0;
  for (const p of polygons)
    for (let i = 0; i < p.length; i += 2) {
      const j = (i + 2) % p.length;
      const dx = Math.abs(p[j]! - p[i]!);
      const dy = Math.abs(p[j + 1]! - p[i + 1]!);
      const length = Math.hypot(dx, dy);
      total += length;
      if (Math.min(dx, dy) <= 0.0437 * Math.max(dx, dy)) along += length;
    }
  return { along, total: total || 1 };
}

/** How far the left tip of T's arm hangs below the arm's own underside. */
function tipDrop(letter: Letter): number {
  const { xMin, xMax } = letter.bounds;
  const under = (share: number): number => {
    const s = spansAtX(letter.polygons, xMin + (xMax - xMin) * share);
    return s.length < 2 ? NaN : s[s.length - 2]!;
  };
  return under(0.2) - Math.min(under(0.02), under(0.05));
}

/** Whether ink stands at the right edge of the advance between the baseline and the x-height, as joining letters have it. */
function reachesRight(letter: Letter, xHeight: number): boolean {
  const edge = letter.bounds.xMax - (letter.bounds.xMax - letter.bounds.xMin) * 0.02;
  const s = spansAtX(letter.polygons, edge);
  return s.length >= 2 && s[0]! < xHeight && s[1]! > -0.1 * xHeight;
}

function area(polygons: readonly Polygon[]): number {
  let twice = 0;
  for (const p of polygons)
    for (let i = 0; i < p.length; i += 2) {
      const j = (i + 2) % p.length;
      twice += p[i]! * p[j + 1]! - p[j]! * p[i + 1]!;
    }
  return Math.abs(twice) / 2;
}

function roughness(letter: Letter): number {
  const { total } = axisLength(letter.polygons);
  const a = area(letter.polygons);
  return a > 0 ? (total * total) / a : NaN;
}
