import { CELLS, type FaceShapes, type ShapeLetter } from './shapes.js';

/** A letter to be looked for: which character it is, and what it looks like. Lengths in px, y down. */
export interface Wanted {
  codePoint: number;
  /** Ink of each cell of its box, 0 to 15, row by row from the bottom. */
  cells: Uint8Array;
  box: { x0: number; y0: number; x1: number; y1: number };
}

/** A face among those that are looked through. */
export interface IndexedFace<T> {
  item: T;
  shapes: FaceShapes;
}

export interface Coarse<T> {
  face: IndexedFace<T>;
  cost: number;
  /** What of it is the rasters'. */
  rasters: number;
  /** px a thousandth of the em. */
  scaleX: number;
  scaleY: number;
  /** How many of the letters the face has. */
  known: number;
}

/** How much a relative difference of sizes weighs against one of rasters. */
const SIZES = 1.6;
/** The same for letters that stand higher or lower than they should, in parts of the height of all. */
const STANDS = 1;
/** The same for a scale that differs across and up. */
const STRETCH = 0.5;
const HALF = (CELLS * CELLS) / 2;

/** Squares of differences of two cells at once: [wanted nibbles][own nibbles]. */
const SQUARES = (() => {
  const out = new Float32Array(256 * 256);
  for (let a = 0; a < 256; a++) for (let b = 0; b < 256; b++) out[(a << 8) | b] = ((a >> 4) - (b >> 4)) ** 2 + ((a & 15) - (b & 15)) ** 2;
  return out;
})();

const packed = (cells: Uint8Array): Uint8Array => Uint8Array.from({ length: HALF }, (_, i) => (cells[2 * i]! << 4) | cells[2 * i + 1]!);

/**
 * All faces by how alike their letters are, nearest first: the rasters of letters, and their sizes once one scale across and one up are
 * taken out. A face that lacks one letter in three or more is left out.
 * @param stretched whether letters may be narrowed or widened as a whole
 */
export function rankCoarse<T>(wanted: readonly Wanted[], faces: readonly IndexedFace<T>[], stretched = false): Coarse<T>[] {
  const out: Coarse<T>[] = [];
  const rasters = wanted.map((w) => packed(w.cells));
  const widths = wanted.map((w) => w.box.x1 - w.box.x0);
  const heights = wanted.map((w) => w.box.y1 - w.box.y0);
  // Half a px of doubt at each edge.
  const sure = (px: number): number => (px * px) / (px * px + 4);
  for (const face of faces) {
    const own: ShapeLetter[] = [];
    const index: number[] = [];
    wanted.forEach((w, i) => {
      const letter = face.shapes.letters.get(w.codePoint);
      if (letter) {
        own.push(letter);
        index.push(i);
      }
    });
    if (own.length === 0 || 3 * own.length < 2 * wanted.length) continue;
    let cost = 0;
    let [sx, sy, wx, wy] = [0, 0, 0, 0];
    own.forEach((letter, k) => {
      const i = index[k]!;
      const r = rasters[i]!;
      let sum = 0;
      for (let c = 0; c < HALF; c++) sum += SQUARES[(r[c]! << 8) | letter.raster[c]!]!;
      cost += sum / (225 * CELLS * CELLS);
      const [a, b] = [sure(widths[i]!), sure(heights[i]!)];
      sx += a * Math.log(widths[i]! / Math.max(1, letter.width));
      sy += b * Math.log(heights[i]! / Math.max(1, letter.height));
      wx += a;
      wy += b;
    });
    sx /= wx;
    sy /= wy;
    let sizes = 0;
    let [bottom, bottoms] = [0, 0];
    const scaleY = Math.exp(sy);
    own.forEach((letter, k) => {
      const i = index[k]!;
      sizes += sure(widths[i]!) * Math.min(0.25, (Math.log(widths[i]! / Math.max(1, letter.width)) - sx) ** 2);
      sizes += sure(heights[i]!) * Math.min(0.25, (Math.log(heights[i]! / Math.max(1, letter.height)) - sy) ** 2);
      const base = wanted[i]!.box.y1 + letter.yMin * scaleY;
      bottom += base;
      bottoms += base * base;
    });
    const n = own.length;
    const tall = Math.max(...heights);
    const stands = Math.min(0.1, Math.max(0, bottoms / n - (bottom / n) ** 2) / (tall * tall));
    const missing = 0.02 * (wanted.length - n);
    out.push({
      face,
      rasters: cost / n,
      cost: cost / n + (SIZES * sizes) / n + STANDS * stands + (stretched ? 0 : STRETCH * Math.min(0.2, (sx - sy) ** 2)) + missing,
      scaleX: Math.exp(sx),
      scaleY,
      known: n,
    });
  }
  return out.sort((a, b) => a.cost - b.cost);
}

/** Faces whose rasters are made as soft as the picture is. */
const SOFTENED = 400;

/** A kernel of so many cells' deviation, from the middle outward; null where nothing would change. */
function kernelOf(sigma: number): number[] | null {
  if (sigma < 0.25) return null;
  const r = Math.min(CELLS - 1, Math.ceil(2.2 * sigma));
  const k = Array.from({ length: r + 1 }, (_, i) => Math.exp(-(i * i) / (2 * sigma * sigma)));
  const sum = k.reduce((a, v, i) => a + (i === 0 ? v : 2 * v), 0);
  return k.map((v) => v / sum);
}

function along(from: Float32Array, to: Float32Array, step: number, across: number, kernel: readonly number[]): void {
  const r = kernel.length - 1;
  for (let line = 0; line < CELLS; line++)
    for (let i = 0; i < CELLS; i++) {
      let v = kernel[0]! * from[line * across + i * step]!;
      for (let k = 1; k <= r; k++) {
        const w = kernel[k]!;
        if (i >= k) v += w * from[line * across + (i - k) * step]!;
        if (i + k < CELLS) v += w * from[line * across + (i + k) * step]!;
      }
      to[line * across + i * step] = v;
    }
}

/**
 * The best of a first ranking anew, their rasters made as soft as the picture is.
 * @param blur of the picture, px
 */
export function rankSoftened<T>(wanted: readonly Wanted[], ranking: readonly Coarse<T>[], blur: number): Coarse<T>[] {
  const kernels = wanted.map(
    ({ box }) => [kernelOf((blur * CELLS) / (box.x1 - box.x0)), kernelOf((blur * CELLS) / (box.y1 - box.y0))] as const,
  );
  if (kernels.every(([x, y]) => !x && !y)) return [...ranking];
  const [a, b] = [new Float32Array(CELLS * CELLS), new Float32Array(CELLS * CELLS)];
  const anew = ranking.slice(0, SOFTENED).map((c): Coarse<T> => {
    let [qq, qm, mm, n] = [0, 0, 0, 0];
    wanted.forEach((w, i) => {
      const letter = c.face.shapes.letters.get(w.codePoint);
      if (!letter) return;
      for (let k = 0; k < HALF; k++) {
        a[2 * k] = letter.raster[k]! >> 4;
        a[2 * k + 1] = letter.raster[k]! & 15;
      }
      const [kx, ky] = kernels[i]!;
      if (kx) along(a, b, 1, CELLS, kx);
      else b.set(a);
      if (ky) along(b, a, CELLS, 1, ky);
      else a.set(b);
      for (let k = 0; k < CELLS * CELLS; k++) {
        const q = w.cells[k]!;
        qq += q * q;
        qm += q * a[k]!;
        mm += a[k]! * a[k]!;
      }
      n++;
    });
    // Thin strokes that are soft never reach their color, which is then taken for paler than it is.
    const gain = Math.max(0.9, Math.min(2.2, qm / Math.max(1e-9, mm)));
    const rasters = Math.max(0, qq - 2 * gain * qm + gain * gain * mm) / (225 * CELLS * CELLS * Math.max(1, n));
    return { ...c, cost: c.cost - c.rasters + rasters, rasters };
  });
  return [...anew.sort((x, y) => x.cost - y.cost), ...ranking.slice(SOFTENED)];
}
