import { enlarged, type InkField } from './ink.js';
import { CELLS } from './shapes.js';

/*
 * Letters of one line in a picture: parts of ink that hang together, put together and cut apart until they are as many as the word
 * that a person typed has letters.
 */

/** In px of the picture, y down; edges lie where ink is half. */
export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** Ink that hangs together. */
export interface Part {
  box: Box;
  /** px² of the picture. */
  area: number;
}

/** One letter as it stands in the picture. */
export interface PictureLetter {
  box: Box;
  /** Its ink alone, with a margin; the left top px is at `x`, `y`. */
  field: InkField;
  x: number;
  y: number;
  /** Ink of each cell of its box, 0 to 15, row by row from the bottom. */
  cells: Uint8Array;
}

/** A picture's ink taken apart. */
export interface TakenApart {
  field: InkField;
  /** Enlarged so often for following edges. */
  by: number;
  big: InkField;
  /** The part of each enlarged px, also a little beyond its edge; -1 for none. */
  owner: Int32Array;
  parts: Part[];
  /** Px beyond an edge that belong to it. */
  margin: number;
  /** From which share of ink on a px counts as ink. */
  level: number;
}

/** Letters are followed at about so many px of height. */
const WORKED_PX = 48;
/** Parts smaller than this share of a square of the largest part's height are specks; smallest dots that are meant are 0.008 of an em. */
const SPECK = 0.0016;
/** How far soft edges reach, in parts of the tallest letter. */
const SOFT = 0.1;
/** Px of a picture's field that parts are looked for in at most. */
const MOST_PX = 16_000_000;
/** Parts of one line at most; what falls apart into more is no line of letters. */
export const MOST_PARTS = 400;

const height = (b: Box): number => b.y1 - b.y0;
const width = (b: Box): number => b.x1 - b.x0;
/** The box around boxes. */
export const union = (boxes: readonly Box[]): Box => ({
  x0: Math.min(...boxes.map((b) => b.x0)),
  y0: Math.min(...boxes.map((b) => b.y0)),
  x1: Math.max(...boxes.map((b) => b.x1)),
  y1: Math.max(...boxes.map((b) => b.y1)),
});

/** Parts of ink that hang together, specks left out, the largest first cut off at `MOST_PARTS`. Takes time linear in the px. */
export function takeApart(field: InkField, level = 0.5, specks = SPECK): TakenApart {
  const rough = components(field, level);
  // A noisy picture has more parts than a call takes arguments.
  const tallest = rough.parts.reduce((most, p) => Math.max(most, height(p.box)), 1);
  const room = Math.floor(Math.sqrt(MOST_PX / (field.width * field.height)));
  const by = Math.max(1, Math.min(4, room, Math.ceil(WORKED_PX / tallest)));
  const big = enlarged(field, by);
  const found = by === 1 ? rough : components(big, level);
  const least = specks * (tallest * by) ** 2;
  const order = found.parts
    .map((p, i) => ({ p, i }))
    .filter(({ p }) => p.area >= least)
    .sort((a, b) => b.p.area - a.p.area)
    .slice(0, MOST_PARTS)
    .sort((a, b) => a.p.box.x0 - b.p.box.x0);
  const place = new Int32Array(found.parts.length).fill(-1);
  order.forEach(({ i }, k) => (place[i] = k));
  const owner = Int32Array.from(found.owner, (o) => (o < 0 ? -1 : place[o]!));
  const margin = Math.max(2, Math.round(SOFT * tallest));
  grow(owner, big.width, big.height, margin * by);
  return {
    field,
    by,
    big,
    owner,
    margin,
    level,
    parts: order.map(({ p }) => ({
      // Enlarged px are `by` to one; the first of them begins where that px begins.
      box: { x0: p.box.x0 / by, y0: p.box.y0 / by, x1: p.box.x1 / by, y1: p.box.y1 / by },
      area: p.area / (by * by),
    })),
  };
}

/** Parts of ink as they are, without enlarging: to count them and to find lines. Specks are left out, at most `MOST_PARTS` stay. */
export function inkParts(field: InkField, level = 0.5): Part[] {
  const { parts } = components(field, level);
  const tallest = parts.reduce((most, p) => Math.max(most, height(p.box)), 1);
  return parts
    .filter((p) => p.area >= SPECK * tallest ** 2)
    .sort((a, b) => b.area - a.area)
    .slice(0, MOST_PARTS)
    .sort((a, b) => a.box.x0 - b.box.x0);
}

/** Connected parts of what is more ink than a level, corners counting as neighbors; boxes in px with parts of them. */
function components({ width: w, height: h, values }: InkField, level: number): { owner: Int32Array; parts: Part[] } {
  const owner = new Int32Array(w * h).fill(-1);
  const parts: Part[] = [];
  const stack = new Int32Array(w * h);
  for (let start = 0; start < values.length; start++) {
    if (values[start]! <= level || owner[start]! >= 0) continue;
    const id = parts.length;
    let top = 0;
    stack[top++] = start;
    owner[start] = id;
    let area = 0;
    const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
    while (top > 0) {
      const i = stack[--top]!;
      const [x, y] = [i % w, Math.floor(i / w)];
      const v = values[i]!;
      area++;
      // How far half ink lies beyond the middle of a px on its way to a neighbor without.
      const reach = (n: number): number => 0.5 + (v - level) / Math.max(1e-6, v - n) - 0.5;
      const [l, r, u, d] = [
        x > 0 ? values[i - 1]! : 0,
        x + 1 < w ? values[i + 1]! : 0,
        y > 0 ? values[i - w]! : 0,
        y + 1 < h ? values[i + w]! : 0,
      ];
      if (l <= level) box.x0 = Math.min(box.x0, x + 0.5 - reach(l));
      if (r <= level) box.x1 = Math.max(box.x1, x + 0.5 + reach(r));
      if (u <= level) box.y0 = Math.min(box.y0, y + 0.5 - reach(u));
      if (d <= level) box.y1 = Math.max(box.y1, y + 0.5 + reach(d));
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const [nx, ny] = [x + dx, y + dy];
          if (nx < 0 || ny < 0 || nx >= w || ny >= h) continue;
          const n = ny * w + nx;
          if (values[n]! > level && owner[n]! < 0) {
            owner[n] = id;
            stack[top++] = n;
          }
        }
    }
    parts.push({ box, area });
  }
  return { owner, parts };
}

/** Gives px around each part to the part that is nearest, step by step. */
function grow(owner: Int32Array, w: number, h: number, steps: number): void {
  let front: number[] = [];
  for (let i = 0; i < owner.length; i++) if (owner[i]! >= 0) front.push(i);
  for (let s = 0; s < steps; s++) {
    const next: number[] = [];
    for (const i of front) {
      const x = i % w;
      const own = owner[i]!;
      const give = (n: number): void => {
        if (owner[n]! < 0) {
          owner[n] = own;
          next.push(n);
        }
      };
      if (x > 0) give(i - 1);
      if (x + 1 < w) give(i + 1);
      if (i >= w) give(i - w);
      if (i + w < w * h) give(i + w);
    }
    front = next;
  }
}

/** Lines of letters by where their parts stand over one another, from the top. Each is a list of parts. */
export function linesOf(parts: readonly Part[]): number[][] {
  const tallest = Math.max(0, ...parts.map((p) => height(p.box)));
  const lines: { box: Box; parts: number[] }[] = [];
  const large = parts.map((p, i) => ({ p, i })).sort((a, b) => height(b.p.box) - height(a.p.box));
  for (const { p, i } of large) {
    const own = lines
      .map((l) => ({ l, over: Math.min(l.box.y1, p.box.y1) - Math.max(l.box.y0, p.box.y0) }))
      .filter(({ over }) => over > 0.4 * height(p.box))
      .sort((a, b) => b.over - a.over)[0];
    if (own) own.l.parts.push(i);
    else if (height(p.box) > 0.3 * tallest) lines.push({ box: p.box, parts: [i] });
    else {
      // Dots and accents go to the line that is nearest.
      const near = lines
        .map((l) => ({ l, away: Math.max(l.box.y0 - p.box.y1, p.box.y0 - l.box.y1) }))
        .filter(({ l, away }) => away < 0.5 * height(l.box))
        .sort((a, b) => a.away - b.away)[0];
      near?.l.parts.push(i);
    }
  }
  return lines.sort((a, b) => a.box.y0 - b.box.y0).map((l) => l.parts.sort((a, b) => parts[a]!.box.x0 - parts[b]!.box.x0));
}

/** A letter's parts; `from` and `to` bound it where one part is several letters. */
export interface Group {
  parts: number[];
  /** x of the cuts to its left and right, px; null where it is whole. */
  from: number | null;
  to: number | null;
  box: Box;
}

/** Parts that lie over one another, as the dot over its i, belong together. */
export function groupsOf(parts: readonly Part[], line: readonly number[]): Group[] {
  const out: Group[] = [];
  for (const i of line) {
    const { box } = parts[i]!;
    const last = out[out.length - 1];
    const over = last ? Math.min(box.x1, last.box.x1) - Math.max(box.x0, last.box.x0) : 0;
    if (last && over > 0.55 * Math.min(width(box), width(last.box))) {
      last.parts.push(i);
      last.box = union([last.box, box]);
    } else out.push({ parts: [i], from: null, to: null, box });
  }
  return out;
}

/**
 * Letters as many as a word has: groups are joined where a letter falls apart and cut where several hang together, so that widths
 * are most like those that such letters usually have.
 * @param usual how wide each letter is, in any unit
 * @returns with how unlike such letters they are; null when no such cutting makes sense
 */
export function fitWord(taken: TakenApart, groups: readonly Group[], usual: readonly number[]): { groups: Group[]; cost: number } | null {
  const n = usual.length;
  if (n === 0 || groups.length === 0 || groups.length > 4 * n + 6 || n > 80) return null;
  const tallest = Math.max(...groups.map((g) => height(g.box)));
  // What is as narrow as it is flat may be a speck; letters of the word make up the rest of the width.
  let scale = groups.reduce((s, g) => s + width(g.box), 0) / usual.reduce((s, v) => s + v, 0);
  let best: { groups: Group[]; cost: number } | null = null;
  for (let round = 0; round < 3; round++) {
    const found = fitAt(taken, groups, usual, scale, tallest);
    if (!found) return best;
    best = found;
    const [w, u] = [found.groups.reduce((s, g) => s + width(g.box), 0), usual.reduce((s, v) => s + v, 0)];
    if (Math.abs(Math.log(w / u / scale)) < 0.01) break;
    scale = w / u;
  }
  return best;
}

const MOST_JOINED = 3;
const MOST_CUT = 12;
const JOINING = 5;
const CUTTING = 0.35;
const LEAVING = 1.6;

function fitAt(
  taken: TakenApart,
  groups: readonly Group[],
  usual: readonly number[],
  scale: number,
  tallest: number,
): { groups: Group[]; cost: number } | null {
  const n = usual.length;
  const unlike = (w: number, expected: number): number => Math.min(4, Math.log(Math.max(1, w) / Math.max(1, expected * scale)) ** 2);
  interface Step {
    cost: number;
    i: number;
    j: number;
    take: { groups: Group[]; letters: number } | null;
  }
  const at: (Step | null)[][] = Array.from({ length: groups.length + 1 }, () => new Array<Step | null>(n + 1).fill(null));
  at[0]![0] = { cost: 0, i: -1, j: -1, take: null };
  for (let i = 0; i < groups.length; i++)
    for (let j = 0; j <= n; j++) {
      const here = at[i]![j];
      if (!here) continue;
      const offer = (toI: number, toJ: number, cost: number, take: Step['take']): void => {
        const known = at[toI]![toJ];
        if (!known || here.cost + cost < known.cost) at[toI]![toJ] = { cost: here.cost + cost, i, j, take };
      };
      const small = height(groups[i]!.box) / tallest;
      offer(i + 1, j, LEAVING * Math.min(1, 0.25 + small), null);
      for (let k = 1; k <= MOST_JOINED && i + k <= groups.length && j < n; k++) {
        const list = groups.slice(i, i + k);
        let gaps = 0;
        for (let g = 1; g < k; g++) gaps += Math.max(0, list[g]!.box.x0 - list[g - 1]!.box.x1) / tallest + 0.06;
        const box = union(list.map((g) => g.box));
        offer(i + k, j + 1, unlike(width(box), usual[j]!) + JOINING * gaps, { groups: list, letters: 1 });
      }
      for (let m = 2; m <= MOST_CUT && j + m <= n; m++) {
        let expected = 0;
        for (let q = j; q < j + m; q++) expected += usual[q]!;
        offer(i + 1, j + m, unlike(width(groups[i]!.box), 1.05 * expected) + CUTTING * (m - 1), { groups: [groups[i]!], letters: m });
      }
    }
  let end = at[groups.length]![n];
  if (!end) return null;
  const { cost } = end;
  const out: Group[] = [];
  let [i, j] = [groups.length, n];
  while (end && end.i >= 0) {
    if (end.take) {
      if (end.take.letters === 1) {
        const list = end.take.groups;
        out.unshift({ parts: list.flatMap((g) => g.parts), from: null, to: null, box: union(list.map((g) => g.box)) });
      } else out.unshift(...cutApart(taken, end.take.groups[0]!, usual.slice(j - end.take.letters, j)));
    }
    [i, j] = [end.i, end.j];
    end = at[i]![j]!;
  }
  return { groups: out, cost };
}

/** Cuts a group where least ink is, near where letters of these widths would end. */
function cutApart(taken: TakenApart, group: Group, usual: readonly number[]): Group[] {
  const { by, big, owner } = taken;
  const [x0, x1] = [Math.floor(group.box.x0 * by), Math.ceil(group.box.x1 * by)];
  const ink = new Float64Array(Math.max(1, x1 - x0));
  const own = new Set(group.parts);
  for (let y = Math.max(0, Math.floor(group.box.y0 * by)); y < Math.min(big.height, Math.ceil(group.box.y1 * by)); y++)
    for (let x = Math.max(0, x0); x < Math.min(big.width, x1); x++)
      if (own.has(owner[y * big.width + x]!)) ink[x - x0]! += big.values[y * big.width + x]!;
  const sum = usual.reduce((s, v) => s + v, 0);
  const cuts: number[] = [];
  let done = 0;
  for (let k = 0; k + 1 < usual.length; k++) {
    done += usual[k]!;
    const wanted = (done / sum) * ink.length;
    const slack = (0.45 * Math.min(usual[k]!, usual[k + 1]!) * ink.length) / sum;
    let [best, least] = [wanted, Infinity];
    for (let x = Math.max(1, Math.floor(wanted - slack)); x <= Math.min(ink.length - 2, Math.ceil(wanted + slack)); x++) {
      const cost = ink[x]! + 0.3 * (ink[x - 1]! + ink[x + 1]!) + (0.25 * big.height * ((x - wanted) / Math.max(1, slack)) ** 2) / 10;
      if (cost < least) [best, least] = [x, cost];
    }
    cuts.push((x0 + best + 0.5) / by);
  }
  const edges = [group.from, ...cuts, group.to];
  return usual.map((_, k) => {
    const [from, to] = [edges[k]!, edges[k + 1]!];
    return { parts: group.parts, from, to, box: { ...group.box, x0: from ?? group.box.x0, x1: to ?? group.box.x1 } };
  });
}

/** The ink of a group alone, its exact box, and its raster. */
export function letterOf(taken: TakenApart, group: Group): PictureLetter | null {
  const { by, big, owner, field, margin } = taken;
  const own = new Set(group.parts);
  const [from, to] = [group.from === null ? -Infinity : group.from * by, group.to === null ? Infinity : group.to * by];
  const x0 = Math.max(0, Math.floor(group.box.x0) - margin - 1);
  const y0 = Math.max(0, Math.floor(group.box.y0) - margin - 1);
  const x1 = Math.min(field.width, Math.ceil(group.box.x1) + margin + 1);
  const y1 = Math.min(field.height, Math.ceil(group.box.y1) + margin + 1);
  const [w, h] = [x1 - x0, y1 - y0];
  if (w < 2 || h < 2) return null;
  // Enlarged, and what is another letter's left out.
  const [bw, bh] = [w * by, h * by];
  const masked = new Float32Array(bw * bh);
  const values = new Float32Array(w * h);
  for (let y = 0; y < bh; y++)
    for (let x = 0; x < bw; x++) {
      const [gx, gy] = [x0 * by + x, y0 * by + y];
      const i = gy * big.width + gx;
      const mine = own.has(owner[i]!) && gx + 0.5 >= from && gx + 0.5 <= to;
      if (!mine) continue;
      masked[y * bw + x] = big.values[i]!;
      values[Math.floor(y / by) * w + Math.floor(x / by)]! += 1 / (by * by);
    }
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) values[y * w + x]! *= field.values[(y0 + y) * field.width + x0 + x]!;
  const parts = components({ width: bw, height: bh, values: masked }, taken.level).parts;
  if (parts.length === 0) return null;
  const inner = union(parts.map((p) => p.box));
  const box = { x0: x0 + inner.x0 / by, y0: y0 + inner.y0 / by, x1: x0 + inner.x1 / by, y1: y0 + inner.y1 / by };
  if (!(width(box) > 0.5 && height(box) > 0.5)) return null;
  return { box, field: { width: w, height: h, values }, x: x0, y: y0, cells: cellsOf({ width: bw, height: bh, values: masked }, inner) };
}

/** Mean ink of the cells of a box, 0 to 15, row by row from the bottom. */
export function cellsOf(field: InkField, box: Box, columns = CELLS, rows = CELLS): Uint8Array {
  const out = new Uint8Array(columns * rows);
  const [cw, ch] = [width(box) / columns, height(box) / rows];
  // So many samples a cell that none of its px is left out.
  const nx = Math.max(2, Math.ceil(cw));
  const ny = Math.max(2, Math.ceil(ch));
  const { width: w, height: h, values } = field;
  const px = (x: number, y: number): number => (x < 0 || y < 0 || x >= w || y >= h ? 0 : values[y * w + x]!);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      let sum = 0;
      for (let j = 0; j < ny; j++)
        for (let i = 0; i < nx; i++) {
          const x = box.x0 + (c + (i + 0.5) / nx) * cw - 0.5;
          const y = box.y1 - (r + (j + 0.5) / ny) * ch - 0.5;
          const [ix, iy] = [Math.floor(x), Math.floor(y)];
          const [fx, fy] = [x - ix, y - iy];
          sum += (1 - fy) * ((1 - fx) * px(ix, iy) + fx * px(ix + 1, iy)) + fy * ((1 - fx) * px(ix, iy + 1) + fx * px(ix + 1, iy + 1));
        }
      out[r * columns + c] = Math.min(15, Math.round((15 * sum) / (nx * ny)));
    }
  return out;
}

/**
 * How soft a picture is, px of a Gaussian, by the steepest of its edges. The edges of a sharp picture change within a px, and
 * differences over two px widen them by as much as a box of two px does.
 */
export function softnessOf(letters: readonly PictureLetter[]): number {
  const slopes: number[] = [];
  for (const { field } of letters) {
    const { width: w, height: h, values } = field;
    for (let y = 1; y + 1 < h; y++)
      for (let x = 1; x + 1 < w; x++) {
        const v = values[y * w + x]!;
        if (v < 0.3 || v > 0.7) continue;
        slopes.push(Math.hypot(values[y * w + x + 1]! - values[y * w + x - 1]!, values[(y + 1) * w + x]! - values[(y - 1) * w + x]!) / 2);
      }
  }
  if (slopes.length < 8) return 0.7;
  slopes.sort((a, b) => a - b);
  const steep = slopes[Math.floor(0.7 * slopes.length)]!;
  const sigma = 1 / (Math.sqrt(2 * Math.PI) * Math.max(0.05, steep));
  return Math.sqrt(Math.max(0.1, sigma * sigma - 5 / 12));
}

/** Levels at which ink is looked for, the usual one first; thin strokes that are soft only show at lower ones. */
const LEVELS = [0.5, 0.36, 0.25, 0.17];
/** What a lower level has to be better by. */
const LOWER = 0.12;
/** How far beyond the middle of a soft edge a level lies, in its deviations: the normal distribution's quantiles. */
const BEYOND: Readonly<Record<number, number>> = { 0.36: 0.358, 0.25: 0.674, 0.17: 0.954 };

/** A word taken out of a picture. */
export interface ReadWord {
  /** The ink that it was taken from: the line and some ground around it. */
  taken: TakenApart;
  /** A letter or null for each of the word's. */
  letters: (PictureLetter | null)[];
  /** The same without smaller parts, as accents are; null where a letter is one part. */
  bare: (PictureLetter | null)[];
  /** All of its ink. */
  whole: PictureLetter | null;
  /** Share of the letters that had to be cut from others: from a third on it is better compared as a whole. */
  cut: number;
}

/**
 * The letters of a word in a picture of one line: at the level of ink at which the picture falls apart most like such a word does.
 * @param usual how wide each letter of the word is, in any unit
 * @returns null where the picture has nothing like it
 */
export function readWord(field: InkField, usual: readonly number[]): ReadWord | null {
  const line = aroundLine(field);
  if (!line) return readLine(field, usual);
  const read = readLine(line.field, usual);
  if (!read) return null;
  const back = (l: PictureLetter | null): PictureLetter | null => l && moved(l, line.x, line.y);
  return { ...read, letters: read.letters.map(back), bare: read.bare.map(back), whole: back(read.whole) };
}

const moved = (l: PictureLetter, x: number, y: number): PictureLetter => ({
  ...l,
  x: l.x + x,
  y: l.y + y,
  box: { x0: l.box.x0 + x, y0: l.box.y0 + y, x1: l.box.x1 + x, y1: l.box.y1 + y },
});

/** The letters of a picture's largest line as its ink falls apart, while nobody has said what they are. */
export function looseLetters(field: InkField): PictureLetter[] {
  const around = aroundLine(field) ?? { field, x: 0, y: 0 };
  const taken = takeApart(around.field);
  const line = linesOf(taken.parts).sort((a, b) => reach(taken, b) - reach(taken, a))[0] ?? [];
  return groupsOf(taken.parts, line).flatMap((g) => {
    const letter = letterOf(taken, g);
    return letter ? [moved(letter, around.x, around.y)] : [];
  });
}

/** The part of a picture around its largest line, where that is a small part: enlarging all of it would only take time. */
function aroundLine(field: InkField): { field: InkField; x: number; y: number } | null {
  const parts = inkParts(field, LEVELS[1]);
  const area = (list: readonly number[]): number => list.reduce((sum, i) => sum + parts[i]!.area, 0);
  const [line] = linesOf(parts).sort((a, b) => area(b) - area(a));
  if (!line) return null;
  const box = union(line.map((i) => parts[i]!.box));
  const margin = Math.ceil(0.7 * height(box)) + 4;
  const [x, y] = [Math.max(0, Math.floor(box.x0) - margin), Math.max(0, Math.floor(box.y0) - margin)];
  const [x1, y1] = [Math.min(field.width, Math.ceil(box.x1) + margin), Math.min(field.height, Math.ceil(box.y1) + margin)];
  const [w, h] = [x1 - x, y1 - y];
  if (w * h > 0.5 * field.width * field.height) return null;
  const values = new Float32Array(w * h);
  for (let r = 0; r < h; r++) values.set(field.values.subarray((y + r) * field.width + x, (y + r) * field.width + x1), r * w);
  return { field: { width: w, height: h, values }, x, y };
}

function readLine(field: InkField, usual: readonly number[]): ReadWord | null {
  let best: { letters: Group[]; taken: TakenApart; cost: number } | null = null;
  LEVELS.forEach((level, i) => {
    const taken = takeApart(field, level);
    const line = linesOf(taken.parts).sort((a, b) => reach(taken, b) - reach(taken, a))[0];
    const found = line && fitWord(taken, groupsOf(taken.parts, line), usual);
    if (!found) return;
    const cost = found.cost + LOWER * i;
    if (!best || cost < best.cost) best = { letters: found.groups, taken, cost };
  });
  if (!best) {
    // One shape that cannot be cut is still a word.
    const taken = takeApart(field);
    const line = linesOf(taken.parts).sort((a, b) => reach(taken, b) - reach(taken, a))[0];
    const whole = line && letterOf(taken, { parts: [...line], from: null, to: null, box: union(line.map((i) => taken.parts[i]!.box)) });
    return whole ? { taken, letters: usual.map(() => null), bare: usual.map(() => null), whole, cut: 1 } : null;
  }
  const { letters: groups, taken } = best as { letters: Group[]; taken: TakenApart };
  const letters = groups.map((g) => letterOf(taken, g));
  const soft = softnessOf(letters.filter((l) => l !== null));
  const beyond = (BEYOND[taken.level] ?? 0) * soft;
  const whole = letterOf(taken, { parts: groups.flatMap((g) => g.parts), from: null, to: null, box: union(groups.map((g) => g.box)) });
  return {
    taken,
    letters: letters.map((l) => l && settled(l, beyond)),
    bare: groups.map((g) => {
      if (g.parts.length < 2 || g.from !== null || g.to !== null) return null;
      const main = g.parts.reduce((a, b) => (taken.parts[b]!.area > taken.parts[a]!.area ? b : a));
      const bare = letterOf(taken, { parts: [main], from: null, to: null, box: taken.parts[main]!.box });
      return bare && settled(bare, beyond);
    }),
    whole: whole && settled(whole, beyond),
    cut: groups.filter((g) => g.from !== null || g.to !== null).length / groups.length,
  };
}

const reach = ({ parts }: TakenApart, line: readonly number[]): number => line.reduce((s, i) => s + parts[i]!.area, 0);

/** Brings a box that was found at a lower level back to where the middle of its edges is. */
function settled(letter: PictureLetter, beyond: number): PictureLetter {
  const { box } = letter;
  const by = Math.min(beyond, 0.12 * width(box), 0.12 * height(box));
  return by > 0 ? { ...letter, box: { x0: box.x0 + by, y0: box.y0 + by, x1: box.x1 - by, y1: box.y1 - by } } : letter;
}
