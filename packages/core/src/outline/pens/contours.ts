import type { Pen } from '../pen.js';
import { AreaPen } from './moments.js';
import { FlattenPen, type Polygon } from '../flatten.js';

/** A piece of a contour: the points after where the pen stands; one for a line, two for a quadratic, three for a cubic. */
export type Segment = readonly number[];
/** A closed contour: where it starts, and its pieces; a last line back to the start is not listed. */
export interface Contour {
  start: readonly [number, number];
  segments: Segment[];
}

/** Keeps an outline as data. */
export class ContourPen implements Pen {
  readonly contours: Contour[] = [];
  private current: Contour | null = null;
  moveTo(x: number, y: number): void {
    this.closePath();
    this.current = { start: [x, y], segments: [] };
  }
  lineTo(x: number, y: number): void {
    this.current?.segments.push([x, y]);
  }
  quadTo(cx: number, cy: number, x: number, y: number): void {
    this.current?.segments.push([cx, cy, x, y]);
  }
  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    this.current?.segments.push([ax, ay, bx, by, x, y]);
  }
  closePath(): void {
    const { current } = this;
    this.current = null;
    if (!current || current.segments.length === 0) return;
    const last = current.segments[current.segments.length - 1]!;
    if (last.length === 2 && last[0] === current.start[0] && last[1] === current.start[1]) current.segments.pop();
    if (current.segments.length > 0) this.contours.push(current);
  }
}

/** Draws a contour. */
export function drawContour({ start, segments }: Contour, pen: Pen): void {
  pen.moveTo(start[0], start[1]);
  for (const s of segments) {
    if (s.length === 2) pen.lineTo(s[0]!, s[1]!);
    else if (s.length === 4) pen.quadTo(s[0]!, s[1]!, s[2]!, s[3]!);
    else pen.cubicTo(s[0]!, s[1]!, s[2]!, s[3]!, s[4]!, s[5]!);
  }
  pen.closePath();
}

/** The same contour run the other way round, from the same start. */
export function reversed({ start, segments }: Contour): Contour {
  const ends: (readonly [number, number])[] = [start, ...segments.map((s): [number, number] => [s[s.length - 2]!, s[s.length - 1]!])];
  const last = ends[ends.length - 1]!;
  const out: Segment[] = last[0] === start[0] && last[1] === start[1] ? [] : [[last[0], last[1]]];
  for (let i = segments.length - 1; i >= 0; i--) {
    const s = segments[i]!;
    const to = ends[i]!;
    if (s.length === 2) out.push([to[0], to[1]]);
    else if (s.length === 4) out.push([s[0]!, s[1]!, to[0], to[1]]);
    else out.push([s[2]!, s[3]!, s[0]!, s[1]!, to[0], to[1]]);
  }
  const end = out[out.length - 1]!;
  if (end.length === 2) out.pop();
  return { start, segments: out };
}

/** Passes each contour on run the other way round. */
export class ReversePen extends ContourPen {
  constructor(private readonly out: Pen) {
    super();
  }
  override closePath(): void {
    super.closePath();
    for (const contour of this.contours.splice(0)) drawContour(reversed(contour), this.out);
  }
}

/** Signed area in square font units; positive where the contour runs counter-clockwise (y up). */
export function areaOf(contour: Contour): number {
  const pen = new AreaPen();
  drawContour(contour, pen);
  return pen.area;
}

const polygonOf = (contour: Contour): Polygon => {
  const pen = new FlattenPen(1);
  drawContour(contour, pen);
  pen.closePath();
  return pen.polygons[0] ?? [];
};

function contains(polygon: Polygon, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = polygon.length - 2; i < polygon.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [polygon[i]!, polygon[i + 1]!, polygon[j]!, polygon[j + 1]!];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

/**
 * Contours run as fonts want them: the outermost one way, those in them the other, and so on by depth. Contours must not
 * cross one another; of those that do, the depth of the first point counts.
 * @param outer which way the outermost run: clockwise in TrueType, counter-clockwise in CFF (y up)
 */
export function directed(contours: readonly Contour[], outer: 'clockwise' | 'counter-clockwise'): Contour[] {
  const polygons = contours.map(polygonOf);
  return contours.map((contour, i) => {
    const [x, y] = [polygons[i]![0] ?? contour.start[0], polygons[i]![1] ?? contour.start[1]];
    const depth = polygons.filter((p, k) => k !== i && contains(p, x, y)).length;
    const wanted = (outer === 'clockwise') === (depth % 2 === 0) ? -1 : 1;
    return areaOf(contour) * wanted < 0 ? reversed(contour) : contour;
  });
}

/** Collects a whole glyph and, with `end`, passes it on with its contours run by depth. */
export class DirectionPen extends ContourPen {
  constructor(
    private readonly out: Pen,
    private readonly outer: 'clockwise' | 'counter-clockwise',
  ) {
    super();
  }
  /** Draws what was collected. */
  end(): void {
    this.closePath();
    for (const contour of directed(this.contours.splice(0), this.outer)) drawContour(contour, this.out);
  }
}
