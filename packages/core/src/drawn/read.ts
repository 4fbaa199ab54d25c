import type { CodeReader } from '../engines/index.js';
import type { Contour } from '../outline/index.js';
import { areaWithin, isolines, smoothed, type Field } from './contour.js';
import { findMarks, type FoundPage, type Marks } from './find.js';
import { fitContour } from './fit.js';
import { channelOf, EVEN, LINEAR, type Channel, type Gray, type Picture } from './picture.js';
import { BOX, DOT, RING, PAPERS, type Cell, type PlacedCell, type SheetPage, type SheetPlan } from './sheet.js';
import { leastSquares, pageWarp, wayBack, type Map2, type Warp } from './warp.js';

export type { CodeReader };

/** What is to be said about a page that was read, or one of its boxes. */
export interface ReadFinding {
  code:
    | 'no-code'
    | 'wrong-sheet'
    | 'two-sheets'
    | 'cut-off'
    | 'too-small'
    | 'blurred'
    | 'glare'
    | 'marks-covered'
    | 'red-pen'
    | 'empty'
    | 'filled'
    | 'crosses'
    | 'specks';
  /** `stops`: it cannot be used as it is; `look`: it is used, and may be wrong; `note`: worth knowing. */
  severity: 'stops' | 'look' | 'note';
  message: string;
}

/** The ink of one box: contours in thousandths of the em, y up, from the baseline at the left side line. Outer ones run counter-clockwise. */
export interface ReadCell {
  cell: Cell;
  /** Its place in the plan. */
  index: number;
  contours: Contour[];
  findings: ReadFinding[];
  /** The corners of the box in the picture, px, from its bottom left one on. */
  corners: [number, number][];
}

export interface ReadPage {
  page: number;
  /** px of the picture that an em has. */
  pxPerEm: number;
  channel: Channel;
  cells: ReadCell[];
  /** Ink of the lines of words, by their place in the plan. */
  words: { index: number; text: string; contours: Contour[] }[];
  findings: ReadFinding[];
}

/** Units of the em in which ink is given. */
export const INK_EM = 1000;
/** Ink smaller than this, in square ems, is dirt: the smallest dots that are meant are more than twenty times as large. */
export const SPECK = 0.00035;
/** Holes smaller than this, in square ems, are gaps of the pen: the smallest that are meant are more than twice as large. */
export const GAP = 0.001;
/** px an em below which shapes are lost. */
export const LEAST_PX = 80;
/** Farthest that curves are from what was seen, px. */
const TOLERANCE = 0.24;
/** Width of an edge, in parts of the em, above which a picture is too blurred to be traced. */
const BLURRED = 0.045;
/** Share of a box that is ink when it was painted over rather than drawn in. */
const FILLED = 0.8;

/** Which pages a picture shows, and its light; nothing is traced yet. */
export interface LookedAt {
  gray: Gray;
  found: FoundPage[];
}

/**
 * Reads one page of a sheet out of a picture.
 * @param found the code of the page in it
 */
export function readPage(picture: Picture, gray: Gray, found: FoundPage, plan: SheetPlan, page: SheetPage): ReadPage {
  const { width, height } = PAPERS[plan.paper];
  const marks = findMarks(gray, page, found);
  const nothing = (finding: ReadFinding, pxPerEm = 0): ReadPage => ({
    page: page.page,
    pxPerEm,
    channel: 'red',
    cells: [],
    words: [],
    findings: [finding],
  });
  const all = marks.dots.length + marks.rings.length + marks.missing + marks.beyond;
  if (marks.beyond > 0.04 * all)
    return nothing({
      code: 'cut-off',
      severity: 'stops',
      message: 'Part of the page lies beyond the edge of the picture. Take it again with the whole page in view.',
    });
  const seen = [...marks.dots, ...marks.rings];
  const warp = seen.length >= 12 && marks.missing < 0.35 * all ? pageWarp(seen, width, height) : null;
  if (!warp)
    return nothing({
      code: 'marks-covered',
      severity: 'stops',
      message:
        'Too few of the dots and rings between the boxes can be seen. Nothing may lie on the page, and it must be sharp and lit evenly.',
    });
  const pxPerEm = scaleOf(warp.toPicture, plan.em, page);
  if (pxPerEm < LEAST_PX)
    return nothing(
      {
        code: 'too-small',
        severity: 'stops',
        message: `The picture has ${Math.round(pxPerEm)} pixels for the height of a letter; ${LEAST_PX} are needed. Scan it at 300 dpi, or photograph one page so that it fills the picture.`,
      },
      pxPerEm,
    );
  const findings: ReadFinding[] = [];
  const edge = edgeOf(gray, marks, warp.toPicture) / pxPerEm;
  if (edge > BLURRED)
    return nothing(
      {
        code: 'blurred',
        severity: 'stops',
        message: 'The picture is blurred: edges of the rings are wide and soft. Take it again with a steady hand and more light.',
      },
      pxPerEm,
    );
  if (marks.missing > 0.12 * all)
    findings.push({
      code: 'marks-covered',
      severity: 'look',
      message: `${marks.missing} of ${all} dots and rings could not be seen; boxes near them may be a little off.`,
    });
  if (glares(gray, page, marks, warp.toPicture))
    findings.push({
      code: 'glare',
      severity: 'look',
      message: 'Part of the page is so bright that ink on it may be lost. Look at its boxes, or take it again without the glare.',
    });
  let channel: Channel = 'red';
  let read = windows(gray, page, plan, warp);
  if (isRedPen(picture, read)) {
    channel = 'green';
    findings.push({
      code: 'red-pen',
      severity: 'look',
      message: 'It was drawn in red, as the guides are printed. It was read by its brightness instead; look whether guides came along.',
    });
    read = windows(channelOf(picture, 'green'), page, plan, warp);
  }
  const digital = isDigital(read);
  const light = digital ? EVEN : LINEAR;
  const inks = read.map((w) => inkField(w, light));
  const black = fullInk(inks);
  const level = levelBy(gray, marks, warp.toPicture, pxPerEm, plan.em, light);
  const noise = digital ? 0 : 0.7;
  // From 20% to 80% an edge blurred by a Gaussian rises over 1.68 of its deviations; smoothing adds its own.
  const softness = Math.hypot((edge * pxPerEm) / 1.68, noise);
  const cells: ReadCell[] = [];
  const words: ReadPage['words'] = [];
  read.forEach((w, i) => {
    const back = wayBack(w.toPicture, w.box);
    const field = normal(inks[i]!, black, level);
    const traced = trace(field, w, back, noise, pxPerEm, softness);
    if (w.words !== null) words.push({ index: w.words.index, text: w.words.text, contours: traced.contours });
    else
      cells.push({
        cell: w.placed!.cell,
        index: w.placed!.index,
        contours: traced.contours,
        findings: cellFindings(traced, field, w),
        corners: cornersOf(w.toPicture),
      });
  });
  return { page: page.page, pxPerEm, channel, cells, words, findings };
}

const cornersOf = (toPicture: Map2): [number, number][] =>
  (
    [
      [BOX.left, BOX.bottom],
      [BOX.right, BOX.bottom],
      [BOX.right, BOX.top],
      [BOX.left, BOX.top],
    ] as const
  ).map(([u, v]) => {
    const [x, y] = toPicture(u, v);
    return [x, y];
  });

/** px that an em has in the middle of the page. */
function scaleOf(toPicture: Map2, em: number, page: SheetPage): number {
  const [x, y] = page.dots[page.dots.length >> 1]!;
  const [o, u, v] = [toPicture(x, y), toPicture(x + 1, y), toPicture(x, y + 1)];
  return em * Math.sqrt(Math.abs((u[0] - o[0]) * (v[1] - o[1]) - (u[1] - o[1]) * (v[0] - o[0])));
}

/** A part of a picture around a box. */
interface Window {
  placed: PlacedCell | null;
  words: SheetPage['words'][number] | null;
  box: { left: number; right: number; bottom: number; top: number };
  /** From parts of the em around the origin to px of the whole picture. */
  toPicture: Map2;
  x: number;
  y: number;
  width: number;
  height: number;
  values: Uint8Array;
  /** Dots of the sheet within it, px of the window, with the radius that is left out around them. */
  dots: { x: number; y: number; r: number }[];
}

/** How far beyond a box ink is followed, mm; the gutter is wider, and dots stand in its middle. */
const BEYOND_X = 2;
const BEYOND_Y = 3;

function windows(gray: Gray, page: SheetPage, plan: SheetPlan, warp: Warp): Window[] {
  const { em } = plan;
  const make = (x: number, y: number, box: Window['box'], placed: PlacedCell | null, words: Window['words']): Window => {
    const toPicture: Map2 = (u, v) => warp.toPicture(x + u * em, y - v * em);
    const wide = {
      left: box.left - BEYOND_X / em,
      right: box.right + BEYOND_X / em,
      bottom: box.bottom - BEYOND_Y / em,
      top: box.top + BEYOND_Y / em,
    };
    let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let k = 0; k <= 8; k++)
      for (const [u, v] of [
        [wide.left + ((wide.right - wide.left) * k) / 8, wide.bottom],
        [wide.left + ((wide.right - wide.left) * k) / 8, wide.top],
        [wide.left, wide.bottom + ((wide.top - wide.bottom) * k) / 8],
        [wide.right, wide.bottom + ((wide.top - wide.bottom) * k) / 8],
      ] as const) {
        const [px, py] = toPicture(u, v);
        [x0, y0, x1, y1] = [Math.min(x0, px), Math.min(y0, py), Math.max(x1, px), Math.max(y1, py)];
      }
    x0 = Math.max(0, Math.floor(x0));
    y0 = Math.max(0, Math.floor(y0));
    x1 = Math.min(gray.width - 1, Math.ceil(x1));
    y1 = Math.min(gray.height - 1, Math.ceil(y1));
    const [w, h] = [Math.max(1, x1 - x0 + 1), Math.max(1, y1 - y0 + 1)];
    const values = new Uint8Array(w * h);
    for (let r = 0; r < h; r++) values.set(gray.data.subarray((y0 + r) * gray.width + x0, (y0 + r) * gray.width + x0 + w), r * w);
    const scale = scaleOf(warp.toPicture, 1, page);
    const dots = page.dots.flatMap((d) => {
      const [px, py] = warp.toPicture(d[0], d[1]);
      const r = (DOT + 0.35) * scale;
      return px > x0 - r && px < x1 + r && py > y0 - r && py < y1 + r ? [{ x: px - x0, y: py - y0, r }] : [];
    });
    return { placed, words, box: wide, toPicture, x: x0, y: y0, width: w, height: h, values, dots };
  };
  return [
    ...page.cells.map((c) => make(c.x, c.y, BOX, c, null)),
    ...page.words.map((w) => make(w.x, w.y, { left: BOX.left, right: w.width / em, bottom: BOX.bottom, top: BOX.top }, null, w)),
  ];
}

/** How much light a window reflects, as a share of what its paper does: 1 paper, less for ink. */
interface InkField {
  width: number;
  height: number;
  share: Float32Array;
}

/** At so many places across a box its paper is looked at. */
const PAPER_PLACES = 36;

/** Flattens the light: paper is a smooth surface through what is bright, of the second degree. */
function inkField({ width, height, values, dots }: Window, light: Float32Array): InkField {
  const sample: number[] = [];
  for (let i = 0; i < values.length; i += 37) sample.push(values[i]!);
  sample.sort((a, b) => a - b);
  const bright = light[sample[Math.floor(sample.length * 0.9)] ?? 255]!;
  const step = Math.max(2, Math.round(Math.min(width, height) / PAPER_PLACES));
  const most = Math.ceil(width / step) * Math.ceil(height / step);
  const [xs, ys, vs] = [new Float64Array(most), new Float64Array(most), new Float64Array(most)];
  let count = 0;
  for (let y = 0; y < height; y += step)
    for (let x = 0; x < width; x += step) {
      const v = light[values[y * width + x]!]!;
      if (v > 0.55 * bright) {
        xs[count] = (2 * x) / width - 1;
        ys[count] = (2 * y) / height - 1;
        vs[count++] = v;
      }
    }
  let weights: Float64Array | null = null;
  let model: Float64Array | null = null;
  const terms = (i: number, out: Float64Array): void => {
    const [x, y] = [xs[i]!, ys[i]!];
    [out[0], out[1], out[2], out[3], out[4], out[5]] = [1, x, y, x * x, x * y, y * y];
  };
  const row = new Float64Array(6);
  for (let round = 0; round < 4 && count > 40; round++) {
    const w: Float64Array | null = weights;
    model = leastSquares(count, 6, terms, (i) => vs[i]!, w ? (i) => w[i]! : undefined, 1e-9) ?? model;
    if (!model) break;
    // Edges of ink pull it down: what lies below the surface counts less each time.
    weights = new Float64Array(count);
    for (let i = 0; i < count; i++) {
      terms(i, row);
      let fit = 0;
      for (let k = 0; k < 6; k++) fit += model[k]! * row[k]!;
      weights[i] = vs[i]! < 0.96 * fit ? 0.02 : 1;
    }
  }
  const share = new Float32Array(values.length);
  const m = model ?? Float64Array.of(bright, 0, 0, 0, 0, 0);
  const [m0, m1, m2, m3, m4, m5] = m as unknown as [number, number, number, number, number, number];
  const least = Math.max(0.3 * bright, 1e-3);
  for (let y = 0, i = 0; y < height; y++) {
    const v = (2 * y) / height - 1;
    const [row0, row1] = [m0 + m2 * v + m5 * v * v, m1 + m4 * v];
    for (let x = 0; x < width; x++, i++) {
      const u = (2 * x) / width - 1;
      const paper = row0 + u * (row1 + m3 * u);
      share[i] = light[values[i]!]! / (paper > least ? paper : least);
    }
  }
  // The sheet's own dots are not part of the drawing.
  for (const { x, y, r } of dots)
    for (let py = Math.max(0, Math.floor(y - r)); py <= Math.min(height - 1, Math.ceil(y + r)); py++)
      for (let px = Math.max(0, Math.floor(x - r)); px <= Math.min(width - 1, Math.ceil(x + r)); px++)
        if (Math.hypot(px - x, py - y) <= r) share[py * width + px] = 1;
  return { width, height, share };
}

/** Below this share of the paper's light something is ink rather than a guide or a shadow. */
const INK_SHARE = 0.6;

/** What full ink reflects: most of what is dark, leaving edges aside. */
function fullInk(fields: readonly InkField[]): number {
  const bins = new Float64Array(101);
  let all = 0;
  for (const { share, width } of fields)
    for (let i = width; i < share.length - width; i += 2) {
      const v = share[i]!;
      // Within a stroke: its neighbors are dark as well.
      if (
        v < INK_SHARE &&
        share[i - 1]! < INK_SHARE &&
        share[i + 1]! < INK_SHARE &&
        share[i - width]! < INK_SHARE &&
        share[i + width]! < INK_SHARE
      ) {
        bins[Math.max(0, Math.min(100, Math.round(100 * v)))]!++;
        all++;
      }
    }
  let sum = 0;
  for (let b = 0; b <= 100; b++) if ((sum += bins[b]!) >= 0.3 * all && all > 0) return b / 100;
  return 0.1;
}

/** Ink from 0 on paper to 1 where it is full, moved so that 0.5 is the level at which it begins. */
function normal({ width, height, share }: InkField, black: number, level: number): Field {
  const values = new Float32Array(share.length);
  for (let i = 0; i < values.length; i++) values[i] = (1 - share[i]!) / Math.max(0.2, 1 - black) + (0.5 - level);
  return { width, height, values };
}

/** Whether a program drew the page: its paper is one color to the last bit. */
function isDigital(read: readonly Window[]): boolean {
  let [same, all] = [0, 0];
  for (const { values, width } of read)
    for (let i = 0; i + width + 1 < values.length; i += 11) {
      const v = values[i]!;
      if (v < 235) continue;
      all++;
      if (values[i + 1] === v && values[i + width] === v) same++;
    }
  return all > 0 && same > 0.9 * all;
}

/**
 * At which level ink begins: halfway, unless the rings, whose size is known, say clearly that edges lie elsewhere (a camera that
 * brightens, a program that darkens).
 */
function levelBy(gray: Gray, marks: Marks, toPicture: Map2, pxPerEm: number, em: number, light: Float32Array): number {
  const scale = pxPerEm / em;
  const off: number[] = [];
  const slopes: number[] = [];
  for (const ring of marks.rings) {
    const profile = ringProfile(gray, ring.at, (RING.outer + 1.4) * scale, light, toPicture, ring.page);
    if (!profile) continue;
    const outer = profile.crossing(0.5);
    if (outer === null) continue;
    // By how long a mm is at that very ring: corners of a page lie farther from the lens.
    off.push(outer - RING.outer * profile.scale);
    const [a, b] = [profile.crossing(0.35), profile.crossing(0.65)];
    if (a !== null && b !== null && a > b) slopes.push((a - b) / 0.3);
  }
  if (off.length < 3 || slopes.length < 3) return 0.5;
  const middle = (v: number[]): number => v.sort((a, b) => a - b)[v.length >> 1]!;
  const [miss, slope] = [middle(off), middle(slopes)];
  // Less than this comes from printing as well, which the pen knows nothing of.
  if (Math.abs(miss) < 0.6) return 0.5;
  return Math.min(0.75, Math.max(0.25, 0.5 + (miss - Math.sign(miss) * 0.3) / slope));
}

/** Darkness by distance from a ring's middle, outward over its outer edge. */
function ringProfile(
  gray: Gray,
  [cx, cy]: readonly [number, number],
  reach: number,
  light: Float32Array,
  toPicture: Map2,
  page: readonly [number, number],
): { crossing: (level: number) => number | null; scale: number } | null {
  // In a picture taken aslant a ring is an ellipse: directions are scaled by how long a mm is there.
  const turns = 48;
  const steps = Math.ceil(reach * 4);
  const sums = new Float64Array(steps);
  const scales: number[] = [];
  const unit: [number, number][] = [];
  for (let k = 0; k < turns; k++) {
    const a = (2 * Math.PI * k) / turns;
    const [px, py] = toPicture(page[0] + Math.cos(a), page[1] + Math.sin(a));
    const [ox, oy] = toPicture(page[0], page[1]);
    unit.push([px - ox, py - oy]);
    scales.push(Math.hypot(px - ox, py - oy));
  }
  const mean = scales.reduce((a, b) => a + b, 0) / turns;
  for (let s = 0; s < steps; s++) {
    const mm = s / 4 / mean;
    for (let k = 0; k < turns; k++) {
      const [x, y] = [cx + unit[k]![0] * mm, cy + unit[k]![1] * mm];
      const [ix, iy] = [Math.floor(x), Math.floor(y)];
      if (ix < 0 || iy < 0 || ix + 1 >= gray.width || iy + 1 >= gray.height) return null;
      const [fx, fy] = [x - ix, y - iy];
      const at = (u: number, v: number): number => light[gray.data[(iy + v) * gray.width + ix + u]!]!;
      sums[s]! += (1 - fy) * ((1 - fx) * at(0, 0) + fx * at(1, 0)) + fy * ((1 - fx) * at(0, 1) + fx * at(1, 1));
    }
  }
  const values = Array.from(sums, (v) => v / turns);
  const paper = Math.max(...values.slice(-4));
  const dark = Math.min(...values);
  const first = values.indexOf(dark);
  if (paper - dark < 0.2 * paper) return null;
  return {
    scale: mean,
    crossing: (level) => {
      for (let s = first; s + 1 < steps; s++) {
        const [a, b] = [(paper - values[s]!) / (paper - dark), (paper - values[s + 1]!) / (paper - dark)];
        if (a >= level && b < level) return (s + (a - level) / (a - b)) / 4;
      }
      return null;
    },
  };
}

/** Width of the rings' edges from 20% to 80% of their darkness, px. */
function edgeOf(gray: Gray, marks: Marks, toPicture: Map2): number {
  const widths = marks.rings.flatMap((ring) => {
    const [o, u] = [toPicture(ring.page[0], ring.page[1]), toPicture(ring.page[0] + 1, ring.page[1])];
    const profile = ringProfile(gray, ring.at, (RING.outer + 1.4) * Math.hypot(u[0] - o[0], u[1] - o[1]), LINEAR, toPicture, ring.page);
    const [a, b] = [profile?.crossing(0.2) ?? null, profile?.crossing(0.8) ?? null];
    return a !== null && b !== null ? [a - b] : [];
  });
  widths.sort((a, b) => a - b);
  return widths[widths.length >> 1] ?? 0;
}

/** Whether marks are missing where the picture is as white as can be, while paper elsewhere is not. */
function glares(gray: Gray, page: SheetPage, marks: Marks, toPicture: Map2): boolean {
  const seen = new Set(marks.dots.map((d) => d.page));
  const around = (p: readonly [number, number]): number => {
    const [x, y] = toPicture(p[0], p[1]).map(Math.round) as [number, number];
    return x < 0 || y < 0 || x >= gray.width || y >= gray.height ? 0 : gray.data[y * gray.width + x]!;
  };
  const lost = page.dots.filter((d) => !seen.has(d) && around(d) >= 250).length;
  return lost >= 2;
}

/** Whether most of the drawing shows in green light only. */
function isRedPen(picture: Picture, read: readonly Window[]): boolean {
  let [red, both] = [0, 0];
  const { data } = picture;
  for (const w of read) {
    // As bright as most of the window is in each light.
    const sample = (at: 0 | 1): number => {
      const out: number[] = [];
      for (let i = 0; i < w.values.length; i += 101)
        out.push(data[4 * ((w.y + Math.floor(i / w.width)) * picture.width + w.x + (i % w.width)) + at]!);
      return LINEAR[out.sort((a, b) => a - b)[Math.floor(out.length * 0.85)]!]!;
    };
    const [paperRed, paperGreen] = [sample(0), sample(1)];
    for (let y = 0; y < w.height; y += 3)
      for (let x = 0; x < w.width; x += 3) {
        const p = 4 * ((w.y + y) * picture.width + w.x + x);
        if (LINEAR[data[p + 1]!]! > 0.35 * paperGreen) continue;
        if (LINEAR[data[p]!]! > 0.55 * paperRed) red++;
        else both++;
      }
  }
  return red > 60 && red > both;
}

interface Traced {
  contours: Contour[];
  /** Whether ink of it reaches over the box's edge. */
  crosses: boolean;
  specks: number;
}

/** Ink as contours in thousandths of the em. */
function trace(field: Field, w: Window, back: Map2, noise: number, pxPerEm: number, softness: number): Traced {
  const lines = isolines(smoothed(field, noise));
  const px = INK_EM / pxPerEm;
  const inner = w.words ? w.box : BOX;
  const outlines: { contour: Contour; area: number; middle: [number, number] }[] = [];
  let specks = 0;
  let crosses = false;
  const [o, right, up] = [w.toPicture(0, 0), w.toPicture(0.1, 0), w.toPicture(0, 0.1)];
  // In a picture as it should be, up is against y.
  const mirrored = (right[0] - o[0]) * (up[1] - o[1]) - (right[1] - o[1]) * (up[0] - o[0]) > 0;
  for (const line of lines) {
    const points = new Float64Array(line.length);
    const n = line.length;
    let [within, all] = [0, 0];
    for (let i = 0; i < line.length; i += 2) {
      const [u, v] = back(line[i]! + w.x, line[i + 1]! + w.y);
      // In a mirrored picture lines run the other way round.
      const k = mirrored ? n - 2 - i : i;
      points[k] = u * INK_EM;
      points[k + 1] = v * INK_EM;
      all++;
      if (u >= inner.left && u <= inner.right && v >= inner.bottom && v <= inner.top) within++;
    }
    const area = areaWithin(points) / (INK_EM * INK_EM);
    if (area > 0 && area < SPECK) {
      if (within > 0) specks++;
      continue;
    }
    if (area < 0 && -area < GAP) continue;
    // What lies mostly in the gutter is a neighbor's, or the edge of something.
    if (within < 0.3 * all) continue;
    if (within < all) crosses = true;
    const contour = fitContour(points, { px, tolerance: TOLERANCE, softness });
    if (contour) outlines.push({ contour, area, middle: contour.start as [number, number] });
  }
  const outer = outlines.filter((o) => o.area > 0);
  // A hole belongs to ink around it; one whose ink was left out goes with it.
  const contours = outlines.filter((o) => o.area > 0 || outer.length > 0).map((o) => o.contour);
  return { contours: outer.length > 0 ? contours : [], crosses, specks };
}

function cellFindings(traced: Traced, field: Field, w: Window): ReadFinding[] {
  const out: ReadFinding[] = [];
  let ink = 0;
  for (const v of field.values) if (v > 0.5) ink++;
  const box = ((BOX.right - BOX.left) * (BOX.top - BOX.bottom)) / ((w.box.right - w.box.left) * (w.box.top - w.box.bottom));
  if (ink > FILLED * box * field.values.length)
    out.push({
      code: 'filled',
      severity: 'stops',
      message: 'The box is filled all over; a letter is drawn with lines or shapes on white.',
    });
  else if (traced.contours.length === 0) out.push({ code: 'empty', severity: 'note', message: 'Nothing was drawn in it.' });
  if (traced.crosses)
    out.push({
      code: 'crosses',
      severity: 'look',
      message: 'Ink of it reaches over the edge of its box; it was followed as far as the gutter.',
    });
  if (traced.specks > 0)
    out.push({
      code: 'specks',
      severity: 'note',
      message: `${traced.specks === 1 ? 'A speck' : `${traced.specks} specks`} of dirt in it ${traced.specks === 1 ? 'was' : 'were'} left out.`,
    });
  return out;
}
