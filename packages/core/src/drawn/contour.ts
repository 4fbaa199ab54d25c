/** A field of values, row by row from the top; points have whole coordinates. */
export interface Field {
  width: number;
  height: number;
  values: Float32Array;
}

/** Points of a closed line: x0, y0, x1, y1, ... */
export type Line = Float64Array;

/**
 * Lines along which a field passes 0.5, to parts of a px, by linear interpolation between neighbors; more than 0.5 lies on the left
 * of the line when y points down. What reaches the field's edge is closed along it.
 * Source: W. Lorensen, H. Cline, Marching Cubes (1987), in two dimensions; saddles by the mean of the four corners.
 */
export function isolines({ width, height, values }: Field): Line[] {
  const at = (x: number, y: number): number => (x < 0 || y < 0 || x >= width || y >= height ? 0 : values[y * width + x]!);
  // Crossings are named by the grid's edges: even ones run right from a point, odd ones down from it. The frame is one px wider.
  const w = width + 2;
  const key = (x: number, y: number, down: 0 | 1): number => 2 * ((y + 1) * w + x + 1) + down;
  const next = new Map<number, number>();
  // Each crossing begins one piece and ends another.
  const join = (a: number, b: number): void => void next.set(a, b);
  for (let y = -1; y < height; y++)
    for (let x = -1; x < width; x++) {
      const [a, b, c, d] = [at(x, y), at(x + 1, y), at(x + 1, y + 1), at(x, y + 1)];
      const code = (a > 0.5 ? 8 : 0) | (b > 0.5 ? 4 : 0) | (c > 0.5 ? 2 : 0) | (d > 0.5 ? 1 : 0);
      if (code === 0 || code === 15) continue;
      const [top, right, bottom, left] = [key(x, y, 0), key(x + 1, y, 1), key(x, y + 1, 0), key(x, y, 1)];
      switch (code) {
        case 8:
          join(left, top);
          break;
        case 4:
          join(top, right);
          break;
        case 2:
          join(right, bottom);
          break;
        case 1:
          join(bottom, left);
          break;
        case 12:
          join(left, right);
          break;
        case 6:
          join(top, bottom);
          break;
        case 3:
          join(right, left);
          break;
        case 9:
          join(bottom, top);
          break;
        case 14:
          join(left, bottom);
          break;
        case 13:
          join(bottom, right);
          break;
        case 11:
          join(right, top);
          break;
        case 7:
          join(top, left);
          break;
        case 10:
          if (a + b + c + d > 2) {
            join(right, top);
            join(left, bottom);
          } else {
            join(left, top);
            join(right, bottom);
          }
          break;
        case 5:
          if (a + b + c + d > 2) {
            join(top, left);
            join(bottom, right);
          } else {
            join(top, right);
            join(bottom, left);
          }
          break;
      }
    }
  const place = (k: number): [number, number] => {
    const down = k & 1;
    const i = k >> 1;
    const [x, y] = [(i % w) - 1, Math.floor(i / w) - 1];
    const [p, q] = [at(x, y), down ? at(x, y + 1) : at(x + 1, y)];
    const t = Math.min(1, Math.max(0, (0.5 - p) / (q - p || 1)));
    return down ? [x, y + t] : [x + t, y];
  };
  const out: Line[] = [];
  for (const start of [...next.keys()]) {
    if (!next.has(start)) continue;
    const points: number[] = [];
    let k: number | undefined = start;
    while (k !== undefined && next.has(k)) {
      const to: number = next.get(k)!;
      points.push(...place(k));
      next.delete(k);
      k = to;
    }
    if (points.length >= 6) out.push(Float64Array.from(points));
  }
  return out;
}

/** The signed area that a line encloses; positive where it runs counter-clockwise with y up. */
export function areaWithin(line: ArrayLike<number>): number {
  let sum = 0;
  const n = line.length;
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) sum += line[j]! * line[i + 1]! - line[i]! * line[j + 1]!;
  return sum / 2;
}

/** A field smoothed by a Gaussian. @param sigma px */
export function smoothed({ width, height, values }: Field, sigma: number): Field {
  if (sigma <= 0) return { width, height, values };
  const r = Math.ceil(3 * sigma);
  const kernel = Float64Array.from({ length: 2 * r + 1 }, (_, i) => Math.exp(-((i - r) ** 2) / (2 * sigma * sigma)));
  const sum = kernel.reduce((a, b) => a + b, 0);
  const across = new Float32Array(values.length);
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let v = 0;
      for (let k = -r; k <= r; k++) v += kernel[k + r]! * values[y * width + Math.min(width - 1, Math.max(0, x + k))]!;
      across[y * width + x] = v / sum;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let v = 0;
      for (let k = -r; k <= r; k++) v += kernel[k + r]! * across[Math.min(height - 1, Math.max(0, y + k)) * width + x]!;
      out[y * width + x] = v / sum;
    }
  return { width, height, values: out };
}
