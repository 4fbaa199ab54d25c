import {
  areaOf,
  ContourPen,
  coversInk,
  directed,
  drawContour,
  reversed,
  type Contour,
  type Fill,
  type Ink,
  type Segment,
} from '../outline/index.js';

/** A line as somebody drew it: open or closed. */
export interface Stretch {
  start: readonly [number, number];
  segments: readonly Segment[];
  closed: boolean;
}

/** How a line is stroked, in the words of SVG 2, 13.5; lengths in the units of the line. */
export interface StrokeStyle {
  width: number;
  cap: 'butt' | 'round' | 'square';
  join: 'miter' | 'round' | 'bevel';
  miterLimit: number;
}

/** Works with shapes. Outer contours of what comes back run counter-clockwise (y up), holes clockwise, and none overlap. */
export interface Paths {
  /**
   * The outline of all that contours cover together (by the nonzero rule). Checked against the ink of what was given, along
   * sixty lines across it.
   * @param em font units an em, by which it is judged what shows
   * @returns null when it cannot be found without changing what is drawn
   */
  unite(contours: readonly Contour[], em: number): Contour[] | null;
  /** The outline of what contours fill under a rule; as `unite`. */
  filled(contours: readonly Contour[], fill: Fill, em: number): Contour[] | null;
  /** What two shapes share, or the first leaves without the second; as `unite`. */
  combine(of: 'intersection' | 'difference', first: readonly Contour[], second: readonly Contour[], em: number): Contour[] | null;
  /** What a line covers when stroked: contours that may overlap, to be filled by the nonzero rule. Null when Skia finds none. */
  stroked(line: Stretch, style: StrokeStyle): Contour[] | null;
}

/** The calls of Skia's path operations that we use. Source: Skia, "PathKit - Geometry in the Browser". */
interface SkiaPath {
  moveTo(x: number, y: number): SkiaPath;
  lineTo(x: number, y: number): SkiaPath;
  quadTo(cx: number, cy: number, x: number, y: number): SkiaPath;
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): SkiaPath;
  closePath(): SkiaPath;
  setFillType(type: unknown): void;
  simplify(): SkiaPath | null;
  op(other: SkiaPath, operation: unknown): SkiaPath | null;
  stroke(options: { width: number; cap: unknown; join: unknown; miter_limit: number }): SkiaPath | null;
  toCmds(): number[][];
  delete(): void;
}
interface PathKit {
  NewPath(): SkiaPath;
  FillType: Record<'WINDING' | 'EVENODD', unknown>;
  PathOp: Record<'DIFFERENCE' | 'INTERSECT' | 'UNION', unknown>;
  StrokeCap: Record<'BUTT' | 'ROUND' | 'SQUARE', unknown>;
  StrokeJoin: Record<'MITER' | 'ROUND' | 'BEVEL', unknown>;
}

/** Verbs of Skia's paths. */
const [MOVE, LINE, QUAD, CONIC, CUBIC] = [0, 1, 2, 3, 4];
/** Ink may be this far off, in parts of the em, and lines thinner than twice that may go. */
const SHOWS = 1 / 1000;
/** Square units that no shape has less of. */
const NOTHING = 0.01;
/** As far off ink is when nothing moved but by rounding. */
const EXACT = 1 / 5000;
/** What fails at one size and turn often works at another: crossings fall on other floating-point numbers. Each as x and y of the x axis. */
const TURNS: readonly (readonly [number, number])[] = [
  [1, 0],
  [1.37, 0],
  [4, 0],
  [0.8, 0.61],
  [1.9, -1.1],
  [-0.31, 2.7],
];

/** Turned and enlarged, or back. */
function turned(contours: readonly Contour[], [a, b]: readonly [number, number], back = false): readonly Contour[] {
  if (a === 1 && b === 0) return contours;
  const size = back ? a * a + b * b : 1;
  const [c, s] = back ? [a / size, -b / size] : [a, b];
  const sent = (p: readonly number[]): number[] => p.map((v, i) => (i % 2 === 0 ? c * v - s * p[i + 1]! : s * p[i - 1]! + c * v));
  return contours.map(({ start, segments }) => ({ start: sent(start) as [number, number], segments: segments.map(sent) }));
}

/**
 * Loads Skia's path operations.
 * @param wasm the bytes of their WebAssembly module
 */
export async function createPaths(wasm: Uint8Array): Promise<Paths> {
  const { default: start } = await import('pathkit-wasm');
  const kit = (await start({ wasmBinary: wasm })) as PathKit;

  const pathOf = (contours: readonly Contour[]): SkiaPath => {
    const path = kit.NewPath();
    for (const contour of contours) drawContour(contour, path);
    return path;
  };
  /** The contours of a path, conics as cubics; null when a number is none. */
  const contoursOf = (path: SkiaPath): Contour[] | null => {
    const pen = new ContourPen();
    let [x, y] = [0, 0];
    for (const [verb, ...n] of path.toCmds()) {
      if (n.some((v) => !Number.isFinite(v))) return null;
      if (verb === MOVE) pen.moveTo(n[0]!, n[1]!);
      else if (verb === LINE) pen.lineTo(n[0]!, n[1]!);
      else if (verb === QUAD) pen.quadTo(n[0]!, n[1]!, n[2]!, n[3]!);
      else if (verb === CUBIC) pen.cubicTo(n[0]!, n[1]!, n[2]!, n[3]!, n[4]!, n[5]!);
      else if (verb === CONIC) {
        // The cubic that touches a conic at its ends and its middle: for a quarter circle 0.03% off its radius.
        const [cx, cy, ex, ey, weight] = n as [number, number, number, number, number];
        const k = (4 * weight) / (3 * (1 + weight));
        pen.cubicTo(x + k * (cx - x), y + k * (cy - y), ex + k * (cx - ex), ey + k * (cy - ey), ex, ey);
        [x, y] = [ex, ey];
        continue;
      } else pen.closePath();
      if (n.length > 1) [x, y] = [n[n.length - 2]!, n[n.length - 1]!];
    }
    pen.closePath();
    return pen.contours;
  };
  /** By depth; what encloses nothing is left out first, since it would count as a depth. */
  const oriented = (contours: readonly Contour[]): Contour[] =>
    directed(
      contours.filter((c) => Math.abs(areaOf(c)) > NOTHING),
      'counter-clockwise',
    );
  const simplified = (contours: readonly Contour[], fill: Fill): Contour[] | null => {
    const path = pathOf(contours);
    try {
      if (fill === 'evenodd') path.setFillType(kit.FillType.EVENODD);
      const found = path.simplify() && contoursOf(path);
      return found && oriented(found);
    } finally {
      path.delete();
    }
  };
  const operated = (first: readonly Contour[], second: readonly Contour[], operation: unknown): Contour[] | null => {
    const [a, b] = [pathOf(first), pathOf(second)];
    try {
      const found = a.op(b, operation) && contoursOf(a);
      return found && oriented(found);
    } finally {
      a.delete();
      b.delete();
    }
  };
  /** The first way that covers what it should. */
  const checked = (wanted: Ink, em: number, ways: readonly ((by: readonly [number, number]) => Contour[] | null)[]): Contour[] | null => {
    // The best that is found: Skia moves sides of some curves by a few units at one turn and not at another.
    let coarse: Contour[] | null = null;
    for (const way of ways)
      for (const by of TURNS) {
        const found = way(by);
        const back = found && [...turned(found, by, true)];
        if (!back) continue;
        if (coversInk(wanted, back, em * EXACT)) return back;
        if (!coarse && coversInk(wanted, back, em * SHOWS)) coarse = back;
      }
    return coarse;
  };
  const filled: Paths['filled'] = (contours, fill, em) =>
    contours.length === 0
      ? []
      : checked({ contours, fill }, em, [
          (by) => simplified(turned(contours, by), fill),
          // One after another: where all at once fails, only two meet at a time.
          ...(fill === 'nonzero' && contours.length > 1
            ? [
                (by: readonly [number, number]): Contour[] | null => {
                  let all: Contour[] | null = [];
                  for (const contour of turned(contours, by)) {
                    // What runs clockwise takes from the winding of others and cannot be joined alone.
                    if (areaOf(contour) < 0) return null;
                    const one = simplified([contour], fill);
                    all = one && operated(all, one, kit.PathOp.UNION);
                    if (!all) return null;
                  }
                  return all;
                },
              ]
            : []),
        ]);
  return {
    unite: (contours, em) => filled(contours, 'nonzero', em),
    filled,
    combine(of, first, second, em) {
      const operation = of === 'intersection' ? kit.PathOp.INTERSECT : kit.PathOp.DIFFERENCE;
      return checked({ of, first, second }, em, [(by) => operated(turned(first, by), turned(second, by), operation)]);
    },
    stroked({ start, segments, closed }, { width, cap, join, miterLimit }) {
      const path = kit.NewPath();
      path.moveTo(start[0], start[1]);
      for (const s of segments)
        if (s.length === 2) path.lineTo(s[0]!, s[1]!);
        else if (s.length === 4) path.quadTo(s[0]!, s[1]!, s[2]!, s[3]!);
        else path.cubicTo(s[0]!, s[1]!, s[2]!, s[3]!, s[4]!, s[5]!);
      if (closed) path.closePath();
      try {
        const options = {
          width,
          cap: kit.StrokeCap[cap.toUpperCase() as 'BUTT'],
          join: kit.StrokeJoin[join.toUpperCase() as 'MITER'],
          miter_limit: miterLimit,
        };
        const found = path.stroke(options) && contoursOf(path);
        if (!found) return null;
        // All strokes wind the same way, whichever way their lines run: so they add up where they cross.
        const area = found.reduce((sum, contour) => sum + areaOf(contour), 0);
        return area < 0 ? found.map(reversed) : found;
      } finally {
        path.delete();
      }
    },
  };
}
