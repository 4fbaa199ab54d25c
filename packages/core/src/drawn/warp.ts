/** How a page lies in a picture: from mm on paper to px, through perspective, lens and bent paper. */

/** A point of the page, mm, and where it was seen, px. */
export interface Seen {
  page: readonly [number, number];
  at: readonly [number, number];
}

/** Solves a symmetric positive system in place by Gauss with pivots. @returns null when it has no one solution */
export function solve(matrix: Float64Array[], right: Float64Array): Float64Array | null {
  const n = right.length;
  const m = matrix.map((row, i) => Float64Array.from([...row, right[i]!]));
  for (let c = 0; c < n; c++) {
    let pivot = c;
    for (let r = c + 1; r < n; r++) if (Math.abs(m[r]![c]!) > Math.abs(m[pivot]![c]!)) pivot = r;
    if (Math.abs(m[pivot]![c]!) < 1e-12) return null;
    [m[c], m[pivot]] = [m[pivot]!, m[c]!];
    for (let r = 0; r < n; r++) {
      if (r === c) continue;
      const by = m[r]![c]! / m[c]![c]!;
      if (by !== 0) for (let k = c; k <= n; k++) m[r]![k]! -= by * m[c]![k]!;
    }
  }
  return Float64Array.from({ length: n }, (_, i) => m[i]![n]! / m[i]![i]!);
}

/** Least squares: the weights of `terms` that come nearest to the values. */
export function leastSquares(
  count: number,
  size: number,
  terms: (i: number, out: Float64Array) => void,
  value: (i: number) => number,
  weight: (i: number) => number = () => 1,
  ridge = 0,
): Float64Array | null {
  const matrix = Array.from({ length: size }, () => new Float64Array(size));
  const right = new Float64Array(size);
  const row = new Float64Array(size);
  for (let i = 0; i < count; i++) {
    const w = weight(i);
    if (w === 0) continue;
    terms(i, row);
    const v = value(i);
    for (let a = 0; a < size; a++) {
      const wa = w * row[a]!;
      right[a]! += wa * v;
      for (let b = a; b < size; b++) matrix[a]![b]! += wa * row[b]!;
    }
  }
  for (let a = 0; a < size; a++) {
    matrix[a]![a]! += ridge;
    for (let b = 0; b < a; b++) matrix[a]![b] = matrix[b]![a]!;
  }
  return solve(matrix, right);
}

/** Terms of a polynomial in two variables up to a degree. */
function powers(x: number, y: number, degree: number, out: Float64Array): void {
  let k = 0;
  for (let d = 0; d <= degree; d++) for (let i = 0; i <= d; i++) out[k++] = x ** (d - i) * y ** i;
}
const sizeOf = (degree: number): number => ((degree + 1) * (degree + 2)) / 2;

export type Map2 = (x: number, y: number) => [number, number];

/** The plane map through points: turned, scaled, sheared; by weighted least squares. Null with fewer than three. */
export function affineThrough(seen: readonly Seen[], weight: (s: Seen) => number = () => 1): Map2 | null {
  if (seen.length < 3) return null;
  const terms = (i: number, out: Float64Array): void => {
    out[0] = 1;
    out[1] = seen[i]!.page[0];
    out[2] = seen[i]!.page[1];
  };
  const w = seen.map(weight);
  const fit = (axis: 0 | 1): Float64Array | null =>
    leastSquares(
      seen.length,
      3,
      terms,
      (i) => seen[i]!.at[axis],
      (i) => w[i]!,
    );
  const [a, b] = [fit(0), fit(1)];
  if (!a || !b) return null;
  return (x, y) => [a[0]! + a[1]! * x + a[2]! * y, b[0]! + b[1]! * x + b[2]! * y];
}

/**
 * The projective map that comes nearest to points, by the direct linear transform with normalised coordinates.
 * Source: R. Hartley, A. Zisserman, Multiple View Geometry in Computer Vision (2nd ed.), 4.1 and 4.4.
 */
export function projective(seen: readonly Seen[]): Map2 | null {
  if (seen.length < 4) return null;
  const normal = (pick: (s: Seen) => readonly [number, number]): { cx: number; cy: number; s: number } => {
    let [cx, cy] = [0, 0];
    for (const s of seen) [cx, cy] = [cx + pick(s)[0], cy + pick(s)[1]];
    [cx, cy] = [cx / seen.length, cy / seen.length];
    let d = 0;
    for (const s of seen) d += Math.hypot(pick(s)[0] - cx, pick(s)[1] - cy);
    return { cx, cy, s: (Math.SQRT2 * seen.length) / Math.max(d, 1e-9) };
  };
  const p = normal((s) => s.page);
  const q = normal((s) => s.at);
  // Two rows a point; h33 is one.
  const terms = (i: number, out: Float64Array): void => {
    const { page, at } = seen[i >> 1]!;
    const [x, y] = [(page[0] - p.cx) * p.s, (page[1] - p.cy) * p.s];
    const v = (at[i & 1]! - (i & 1 ? q.cy : q.cx)) * q.s;
    out.fill(0);
    const base = i & 1 ? 3 : 0;
    [out[base], out[base + 1], out[base + 2]] = [x, y, 1];
    [out[6], out[7]] = [-v * x, -v * y];
  };
  const h = leastSquares(2 * seen.length, 8, terms, (i) => (seen[i >> 1]!.at[i & 1]! - (i & 1 ? q.cy : q.cx)) * q.s, undefined, 1e-9);
  if (!h) return null;
  return (px, py) => {
    const [x, y] = [(px - p.cx) * p.s, (py - p.cy) * p.s];
    const w = h[6]! * x + h[7]! * y + 1;
    return [(h[0]! * x + h[1]! * y + h[2]!) / w / q.s + q.cx, (h[3]! * x + h[4]! * y + h[5]!) / w / q.s + q.cy];
  };
}

export interface Warp {
  toPicture: Map2;
  /** Root mean square of what is left at the points, px. */
  rest: number;
  /** Points that did not fit and were left out. */
  dropped: number;
}

/** Points that are left out when they miss by this many times the usual rest. */
const OUTLIER = 4;

/**
 * The map of a page that was photographed or scanned: perspective, and what lens and bent paper add to it as a polynomial.
 * Points that do not fit (a dot that somebody drew over) are left out.
 */
export function pageWarp(seen: readonly Seen[], width: number, height: number): Warp | null {
  let use = [...seen];
  const flat = projective(use);
  if (!flat) return null;
  const [cx, cy, r] = [width / 2, height / 2, Math.hypot(width, height) / 2];
  // Bent paper asks for high powers, and only many points bear them.
  const degree = seen.length >= 60 ? 5 : seen.length >= 40 ? 4 : seen.length >= 20 ? 3 : seen.length >= 12 ? 2 : 0;
  const size = sizeOf(degree);
  for (let round = 0; ; round++) {
    const base = round === 0 ? flat : (projective(use) ?? flat);
    const off = use.map(({ page, at }) => {
      const [x, y] = base(page[0], page[1]);
      return [at[0] - x, at[1] - y] as const;
    });
    const terms = (i: number, out: Float64Array): void => powers((use[i]!.page[0] - cx) / r, (use[i]!.page[1] - cy) / r, degree, out);
    const [a, b] = ([0, 1] as const).map((axis) => leastSquares(use.length, size, terms, (i) => off[i]![axis], undefined, 1e-6));
    if (!a || !b) return null;
    const row = new Float64Array(size);
    const toPicture: Map2 = (x, y) => {
      powers((x - cx) / r, (y - cy) / r, degree, row);
      let [px, py] = base(x, y);
      for (let k = 0; k < size; k++) {
        px += a[k]! * row[k]!;
        py += b[k]! * row[k]!;
      }
      return [px, py];
    };
    const rests = use.map(({ page, at }) => {
      const [x, y] = toPicture(page[0], page[1]);
      return Math.hypot(x - at[0], y - at[1]);
    });
    const usual = Math.max(0.15, [...rests].sort((m, n) => m - n)[rests.length >> 1] ?? 0);
    const good = use.filter((_, i) => rests[i]! <= OUTLIER * usual);
    if (good.length === use.length || round >= 4 || good.length < 8)
      return { toPicture, rest: Math.sqrt(rests.reduce((s, v) => s + v * v, 0) / rests.length), dropped: seen.length - use.length };
    use = good;
  }
}

/**
 * The way back from px to parts of the em around a box's origin, as a polynomial of the third degree: within one box that is exact to
 * some thousandths of a px.
 * @param box in parts of the em
 */
export function wayBack(toPicture: Map2, box: { left: number; right: number; bottom: number; top: number }): Map2 {
  const steps = 6;
  const points: { x: number; y: number; u: number; v: number }[] = [];
  for (let i = 0; i <= steps; i++)
    for (let k = 0; k <= steps; k++) {
      const u = box.left + ((box.right - box.left) * i) / steps;
      const v = box.bottom + ((box.top - box.bottom) * k) / steps;
      const [x, y] = toPicture(u, v);
      points.push({ x, y, u, v });
    }
  const n = points.length;
  const cx = points.reduce((s, p) => s + p.x, 0) / n;
  const cy = points.reduce((s, p) => s + p.y, 0) / n;
  const r = Math.max(...points.map((p) => Math.hypot(p.x - cx, p.y - cy)), 1e-6);
  const size = sizeOf(3);
  const terms = (i: number, out: Float64Array): void => powers((points[i]!.x - cx) / r, (points[i]!.y - cy) / r, 3, out);
  const a = leastSquares(n, size, terms, (i) => points[i]!.u)!;
  const b = leastSquares(n, size, terms, (i) => points[i]!.v)!;
  const row = new Float64Array(size);
  return (x, y) => {
    powers((x - cx) / r, (y - cy) / r, 3, row);
    let [u, v] = [0, 0];
    for (let k = 0; k < size; k++) {
      u += a[k]! * row[k]!;
      v += b[k]! * row[k]!;
    }
    return [u, v];
  };
}
