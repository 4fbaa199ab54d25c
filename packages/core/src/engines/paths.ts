import { ContourPen, directed, drawContour, sameInk, type Contour } from '../outline/index.js';

/** Works with shapes: what several outlines cover together. */
export interface Paths {
  /**
   * The outline of all that contours cover together (by the nonzero rule), without any that overlap; outer ones run
   * counter-clockwise (y up), holes clockwise. Checked against the ink of what was given, along sixty lines across it.
   * @param em font units an em, by which it is judged what shows
   * @returns null when it cannot be found without changing what is drawn
   */
  unite(contours: readonly Contour[], em: number): Contour[] | null;
}

/** The calls of Skia's path operations that we use. Source: Skia, "PathKit - Geometry in the Browser". */
interface SkiaPath {
  moveTo(x: number, y: number): SkiaPath;
  lineTo(x: number, y: number): SkiaPath;
  quadTo(cx: number, cy: number, x: number, y: number): SkiaPath;
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): SkiaPath;
  closePath(): SkiaPath;
  simplify(): SkiaPath | null;
  toCmds(): number[][];
  delete(): void;
}
interface PathKit {
  NewPath(): SkiaPath;
}

/** Verbs of Skia's paths. */
const [MOVE, LINE, QUAD, CONIC, CUBIC] = [0, 1, 2, 3, 4];
/** Ink may be this far off, in parts of the em, and lines thinner than twice that may go. */
const SHOWS = 1 / 1000;

/**
 * Loads Skia's path operations.
 * @param wasm the bytes of their WebAssembly module
 */
export async function createPaths(wasm: Uint8Array): Promise<Paths> {
  const { default: start } = await import('pathkit-wasm');
  const kit = (await start({ wasmBinary: wasm })) as PathKit;
  const simplified = (contours: readonly Contour[]): Contour[] | null => {
    const path = kit.NewPath();
    try {
      for (const contour of contours) drawContour(contour, path);
      if (!path.simplify()) return null;
      const pen = new ContourPen();
      for (const [verb, ...n] of path.toCmds()) {
        if (n.some((v) => !Number.isFinite(v))) return null;
        if (verb === MOVE) pen.moveTo(n[0]!, n[1]!);
        else if (verb === LINE) pen.lineTo(n[0]!, n[1]!);
        else if (verb === QUAD) pen.quadTo(n[0]!, n[1]!, n[2]!, n[3]!);
        else if (verb === CUBIC) pen.cubicTo(n[0]!, n[1]!, n[2]!, n[3]!, n[4]!, n[5]!);
        else if (verb === CONIC) return null;
        else pen.closePath();
      }
      pen.closePath();
      return directed(pen.contours, 'counter-clockwise');
    } finally {
      path.delete();
    }
  };
  return {
    unite(contours, em) {
      const united = simplified(contours);
      return united && sameInk(contours, united, em * SHOWS) ? united : null;
    },
  };
}
