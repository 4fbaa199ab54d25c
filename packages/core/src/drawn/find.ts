import type { CodeReader } from '../engines/index.js';
import { halved, LINEAR, type Gray } from './picture.js';
import { DOT, readPageCode, RING, type SheetPage } from './sheet.js';
import { affineThrough, type Map2, type Seen } from './warp.js';

/** The code of a page in a picture. */
export interface FoundPage {
  id: string;
  layout: number;
  page: number;
  /** Corners of the code, px: its own upper left, upper right, lower right, lower left. */
  corners: [number, number][];
}

/** Longer side, px, to which pictures are made smaller before codes are looked for; a code then still has some px a module. */
const LOOK_SIZE = 1800;

/** All pages of our sheets in a picture. */
export async function findPages(gray: Gray, reader: CodeReader): Promise<FoundPage[]> {
  const by = Math.floor(Math.max(gray.width, gray.height) / LOOK_SIZE);
  // The smaller picture first; what is small in it is looked for in the whole.
  for (const step of by > 1 ? [by, 1] : [1]) {
    const seen = step === 1 ? gray : halved(gray, step);
    const found = (await reader.read(seen.data, seen.width, seen.height)).flatMap(({ text, corners }) => {
      const says = readPageCode(text);
      return says ? [{ ...says, corners: corners.map(([x, y]): [number, number] => [x * step, y * step]) }] : [];
    });
    if (found.length > 0) return found;
  }
  return [];
}

export interface Marks {
  dots: Seen[];
  rings: Seen[];
  /** Marks that should be in the picture and were not found. */
  missing: number;
  /** Marks that lie beyond the picture's edges. */
  beyond: number;
}

/** How far a dot may be from where it is expected, mm: gutters have nothing else in them for that far. */
const REACH = 2.6;
const RING_REACH = 6;
/** Nearest marks by which the next one is predicted. */
const NEAREST = 7;

/**
 * Finds dots and rings, from the code outward: each is looked for where those next to it say that it is.
 * @returns what was seen; middles to parts of a px
 */
export function findMarks(gray: Gray, page: SheetPage, code: FoundPage): Marks {
  const { x, y, side } = page.code;
  const anchors: Seen[] = [
    [x, y],
    [x + side, y],
    [x + side, y + side],
    [x, y + side],
  ].map((p, i) => ({ page: [p[0]!, p[1]!], at: code.corners[i]! }));
  const seen: Seen[] = [];
  let [missing, beyond] = [0, 0];
  const expect = (px: number, py: number): { map: Map2; at: [number, number]; scale: number } | null => {
    const near = [...anchors, ...seen]
      .map((s) => ({ s, d: (s.page[0] - px) ** 2 + (s.page[1] - py) ** 2 }))
      .sort((a, b) => a.d - b.d)
      .slice(0, NEAREST);
    const from = seen.length < 3 ? anchors : near.map((n) => n.s);
    const map = affineThrough(from, (s) => 1 / (25 + (s.page[0] - px) ** 2 + (s.page[1] - py) ** 2)) ?? affineThrough(anchors);
    if (!map) return null;
    const [o, u, v] = [map(px, py), map(px + 1, py), map(px, py + 1)];
    const scale = Math.sqrt(Math.abs((u[0] - o[0]) * (v[1] - o[1]) - (u[1] - o[1]) * (v[0] - o[0])));
    return { map, at: o, scale };
  };
  const [cx, cy] = [x + side / 2, y + side / 2];
  const waiting = page.dots
    .map((p) => ({ p, d: Math.hypot(p[0] - cx, p[1] - cy) }))
    .sort((a, b) => a.d - b.d)
    .map((w) => w.p);
  while (waiting.length > 0) {
    // The one next to what is known: prediction over one step hardly misses.
    let [best, least] = [0, Infinity];
    if (seen.length > 0)
      waiting.forEach((p, i) => {
        const d = Math.min(...seen.map((s) => Math.hypot(s.page[0] - p[0], s.page[1] - p[1])));
        if (d < least - 1e-6) [best, least] = [i, d];
      });
    const [p] = waiting.splice(best, 1) as [[number, number]];
    const e = expect(p[0], p[1]);
    if (!e) break;
    if (outside(gray, e.at)) {
      beyond++;
      continue;
    }
    const found = blob(gray, e.at, DOT * e.scale, 0, REACH * e.scale);
    if (found) seen.push({ page: p, at: found });
    else missing++;
  }
  const rings: Seen[] = [];
  for (const p of page.rings) {
    const e = expect(p[0], p[1]);
    if (!e) break;
    if (outside(gray, e.at)) {
      beyond++;
      continue;
    }
    const found = blob(gray, e.at, RING.outer * e.scale, RING.inner * e.scale, RING_REACH * e.scale);
    if (found) rings.push({ page: p, at: found });
    else missing++;
  }
  return { dots: seen, rings, missing, beyond };
}

const outside = ({ width, height }: Gray, [x, y]: readonly [number, number]): boolean => x < 1 || y < 1 || x > width - 2 || y > height - 2;

/**
 * The middle of a dark disc or ring of about this size near a place, by the mean of its darkness; null when there is none that
 * looks like one.
 */
function blob(gray: Gray, [ex, ey]: readonly [number, number], radius: number, hole: number, reach: number): [number, number] | null {
  const { width, height, data } = gray;
  const r = Math.ceil(reach + radius + 2);
  const [x0, y0] = [Math.max(0, Math.floor(ex - r)), Math.max(0, Math.floor(ey - r))];
  const [x1, y1] = [Math.min(width - 1, Math.ceil(ex + r)), Math.min(height - 1, Math.ceil(ey + r))];
  const [w, h] = [x1 - x0 + 1, y1 - y0 + 1];
  if (w < 4 || h < 4) return null;
  const values = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) values[y * w + x] = data[(y0 + y) * width + x0 + x]!;
  const sorted = Uint8Array.from(values).sort();
  const paper = LINEAR[sorted[Math.floor(sorted.length * 0.8)]!]!;
  const dark = LINEAR[sorted[Math.floor(sorted.length * 0.005)]!]!;
  if (paper - dark < 0.15 * paper) return null;
  const half = (paper + dark) / 2;
  const area = Math.PI * (radius * radius - hole * hole);
  const label = new Int32Array(w * h).fill(-1);
  const stack: number[] = [];
  let best: { at: [number, number]; miss: number } | null = null;
  for (let s = 0; s < values.length; s++) {
    if (label[s] !== -1 || LINEAR[values[s]!]! > half) continue;
    let [count, left, right, top, bottom] = [0, w, 0, h, 0];
    stack.push(s);
    label[s] = s;
    while (stack.length > 0) {
      const i = stack.pop()!;
      const [px, py] = [i % w, (i / w) | 0];
      count++;
      if (px < left) left = px;
      if (px > right) right = px;
      if (py < top) top = py;
      if (py > bottom) bottom = py;
      for (const [dx, dy] of NEXT) {
        const [nx, ny] = [px + dx, py + dy];
        if (nx < 0 || ny < 0 || nx >= w || ny >= h) continue;
        const k = ny * w + nx;
        if (label[k] === -1 && LINEAR[values[k]!]! <= half) {
          label[k] = s;
          stack.push(k);
        }
      }
    }
    const [bw, bh] = [right - left + 1, bottom - top + 1];
    if (count < 0.45 * area || count > 2.2 * area || bw > 3.2 * radius + 2 || bh > 3.2 * radius + 2 || bw > 1.7 * bh || bh > 1.7 * bw)
      continue;
    if (left === 0 || top === 0 || right === w - 1 || bottom === h - 1) continue;
    // The middle by how dark each px is, its blurred edge included.
    let [sum, mx, my] = [0, 0, 0];
    for (let y = Math.max(0, top - 2); y <= Math.min(h - 1, bottom + 2); y++)
      for (let x = Math.max(0, left - 2); x <= Math.min(w - 1, right + 2); x++) {
        const i = y * w + x;
        if (label[i] !== -1 && label[i] !== s) continue;
        const d = Math.max(0, paper - LINEAR[values[i]!]! - 0.04 * paper);
        sum += d;
        mx += d * x;
        my += d * y;
      }
    if (sum === 0) continue;
    const at: [number, number] = [x0 + mx / sum, y0 + my / sum];
    const miss = Math.hypot(at[0] - ex, at[1] - ey);
    // A ring is hollow in its middle.
    if (hole > 0) {
      const middle = values[Math.round(my / sum) * w + Math.round(mx / sum)]!;
      if (LINEAR[middle]! < half) continue;
    }
    if (miss <= reach && (!best || miss < best.miss)) best = { at, miss };
  }
  return best?.at ?? null;
}
const NEXT = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;
