import { FlattenPen, type Pen, type Polygon } from '../outline/index.js';

/** How far apart the outlines of two faces with the same glyphs are. */
export interface OutlineDistance {
  /** Largest distance found, font units. */
  farthest: number;
  /** The glyph it was found in; null when there is nothing to compare. */
  worstGlyph: number | null;
  glyphsCompared: number;
  /** Glyphs drawn in one face and not in the other, or damaged in one. */
  lost: number[];
}

/** Sides are cut so that places along them are no farther apart than this, in parts of the em. */
const STEP = 1 / 100;
/** How exactly curves are followed, in parts of the em. */
const FLATNESS = 1 / 30_000;
const MOST_SIDES = 400;

/** Contours thinner than this, in parts of the em, draw nothing and may go; which of them do, rounding decides near it. */
const SLIVER = 1 / 4000;
const NEAR_SLIVER = 3 * SLIVER;

/** Contours of both that are measured: the same ones where they are as many, without those that hardly draw anything. */
function measured(a: Polygon[], b: Polygon[], em: number): [Polygon[], Polygon[]] {
  if (a.length === b.length) {
    // A contour stays in when either of the two is one that shows, so that one which went is told.
    const [p, q] = [a.map(thickness), b.map(thickness)];
    const stays = a.map((_, i) => Math.min(p[i]!, q[i]!) > em * SLIVER || Math.max(p[i]!, q[i]!) > em * NEAR_SLIVER);
    return [a.filter((_, i) => stays[i]), b.filter((_, i) => stays[i])];
  }
  const shown = (list: Polygon[], least: number): Polygon[] => list.filter((p) => thickness(p) > em * least);
  const [p, q] = [shown(a, SLIVER), shown(b, SLIVER)];
  return p.length === q.length ? [p, q] : [shown(a, NEAR_SLIVER), shown(b, NEAR_SLIVER)];
}

/** The mean thickness of what a polygon encloses: twice its area by its length. */
function thickness(p: Polygon): number {
  let area = 0;
  let length = 0;
  for (let i = 0; i < p.length; i += 2) {
    const j = (i + 2) % p.length;
    area += p[i]! * p[j + 1]! - p[j]! * p[i + 1]!;
    length += Math.hypot(p[j]! - p[i]!, p[j + 1]! - p[i + 1]!);
  }
  return length === 0 ? 0 : Math.abs(area) / length;
}

/** A face as far as its outlines go. */
export interface Drawn {
  /** @returns false when the glyph is damaged */
  draw(glyph: number, pen: Pen): boolean;
}

/**
 * Measures the outlines of two faces against each other, glyph by glyph: from places along each outline to the nearest of the
 * other, both ways, by length.
 * @param em font units an em, the same in both
 * @param ways `new on old` measures from the new outlines alone, where sides of the old ones went on purpose
 */
export function outlineDistance(
  before: Drawn,
  after: Drawn,
  glyphCount: number,
  em: number,
  ways: 'both' | 'new on old' = 'both',
): OutlineDistance {
  const out: OutlineDistance = { farthest: 0, worstGlyph: null, glyphsCompared: 0, lost: [] };
  const shape = (face: Drawn, glyph: number): Polygon[] | null => {
    const pen = new FlattenPen(em * FLATNESS, MOST_SIDES);
    if (!face.draw(glyph, pen)) return null;
    pen.closePath();
    return pen.polygons;
  };
  for (let glyph = 0; glyph < glyphCount; glyph++) {
    const [whole, made] = [shape(before, glyph), shape(after, glyph)];
    const [a, b] = whole && made ? measured(whole, made, em) : [whole, made];
    if (a?.length === 0 && b?.length === 0) continue;
    out.glyphsCompared++;
    // One that is damaged in the source cannot be carried over, and that is told.
    if (!a || !b || (a.length === 0) !== (b.length === 0)) {
      out.lost.push(glyph);
      continue;
    }
    // Contours keep their order; where one was too small to be kept, all are looked at.
    const same = a.length === b.length && ways === 'both';
    let most = 0;
    const pairs: [Polygon[], Polygon[]][] =
      ways === 'both'
        ? [
            [a, b],
            [b, a],
          ]
        : [[b, a]];
    for (const [from, to] of pairs)
      from.forEach((polygon, i) => (most = Math.max(most, farthest(polygon, same ? [to[i]!] : to, em * STEP, most))));
    if (out.worstGlyph === null || most > out.farthest) [out.farthest, out.worstGlyph] = [most, glyph];
  }
  return out;
}

/** The largest distance from places along a polygon to the nearest side of others; less than `known` is not worth finding. */
function farthest(polygon: Polygon, others: readonly Polygon[], step: number, known: number): number {
  let most = known * known;
  const n = polygon.length;
  // The side that was nearest to the place before is most likely near to the next one as well.
  let nearPolygon = 0;
  let nearSide = 0;
  const visit = (x: number, y: number): void => {
    let least = Infinity;
    const side = (k: number, i: number): void => {
      const p = others[k]!;
      const j = (i + 2) % p.length;
      const [ax, ay] = [p[i]!, p[i + 1]!];
      const [ux, uy] = [p[j]! - ax, p[j + 1]! - ay];
      const length = ux * ux + uy * uy;
      const t = length === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * ux + (y - ay) * uy) / length));
      const d = (x - ax - t * ux) ** 2 + (y - ay - t * uy) ** 2;
      if (d < least) [least, nearPolygon, nearSide] = [d, k, i];
    };
    const [k, first] = [nearPolygon, nearSide];
    const around = others[k]!.length;
    for (let i = -4; i <= 8; i += 2) {
      side(k, (((first + i) % around) + around) % around);
      if (least <= most) return;
    }
    for (let other = 0; other < others.length && least > most; other++)
      for (let i = 0; i < others[other]!.length && least > most; i += 2) side(other, i);
    most = Math.max(most, least);
  };
  for (let i = 0; i < n; i += 2) {
    const j = (i + 2) % n;
    const [ax, ay, bx, by] = [polygon[i]!, polygon[i + 1]!, polygon[j]!, polygon[j + 1]!];
    const pieces = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / step));
    for (let s = 0; s < pieces; s++) visit(ax + ((bx - ax) * s) / pieces, ay + ((by - ay) * s) / pieces);
  }
  return Math.sqrt(most);
}
