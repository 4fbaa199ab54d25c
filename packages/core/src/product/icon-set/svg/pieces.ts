import type { NormalSvg, Paths, Stretch, StrokeStyle } from '../../../engines/index.js';
import {
  areaOf,
  directed,
  reversed,
  BoundsPen,
  ContourPen,
  drawContour,
  TransformPen,
  type Bounds,
  type Contour,
  type Fill,
  type Matrix,
  type Segment,
} from '../../../outline/index.js';
import { dashed } from './dashes.js';
import { readTree, within, type Element } from './tree.js';

/** Something painted, in the order of painting: a shape in one paint. */
export interface Piece {
  /** sRGB, 0xRRGGBB; a gradient's or pattern's mean where it has no one color. */
  color: number;
  /** 0 to 1, by everything around it. */
  alpha: number;
  /** Overlapping contours that wind counter-clockwise around ink (y up), to be filled by the nonzero rule. Font units. */
  contours: Contour[];
}

/** What was painted in a way that a shape cannot show, or could not be found. */
export type PaintLoss =
  | 'gradient'
  | 'pattern'
  | 'opacity'
  | 'mask'
  | 'filter'
  | 'picture'
  | 'blend'
  | 'shape-failed'
  | 'clip-failed'
  /** An open line without a fill of its own is filled: it may have been meant as a line. */
  | 'open-filled';

/** What lines of a drawing are like, in parts of the board's longer side. */
export interface Lines {
  /** Widths, narrowest first. */
  widths: number[];
  /** How open lines end. */
  caps: string[];
}

export interface Pieces {
  pieces: Piece[];
  losses: PaintLoss[];
  lines: Lines;
}

interface State {
  /** To font units. */
  matrix: Matrix;
  alpha: number;
}

const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];
/** First b, then a. */
const times = (a: Matrix, b: Matrix): Matrix => [
  a[0] * b[0] + a[2] * b[1],
  a[1] * b[0] + a[3] * b[1],
  a[0] * b[2] + a[2] * b[3],
  a[1] * b[2] + a[3] * b[3],
  a[0] * b[4] + a[2] * b[5] + a[4],
  a[1] * b[4] + a[3] * b[5] + a[5],
];
const numbers = (text: string | undefined): number[] => (text?.match(/[^\s,()]+/g) ?? []).map(Number).filter((n) => Number.isFinite(n));
const matrixOf = (text: string | undefined): Matrix => {
  const n = numbers(text?.replace(/^matrix/, ''));
  return n.length === 6 ? (n as unknown as Matrix) : IDENTITY;
};
const number = (text: string | undefined, otherwise: number): number => {
  const n = Number(text);
  return text === undefined || !Number.isFinite(n) ? otherwise : n;
};

/** Path data as the normaliser writes it: absolute M, L, Q, C and Z. */
function stretches(d: string, m: Matrix): Stretch[] {
  const out: { start: [number, number]; segments: Segment[]; closed: boolean }[] = [];
  const tokens = d.split(' ');
  const point = (i: number): [number, number] => {
    const [x, y] = [Number(tokens[i]), Number(tokens[i + 1])];
    return [m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]];
  };
  let current: (typeof out)[number] | null = null;
  for (let i = 0; i < tokens.length;) {
    const verb = tokens[i++]!;
    const count = { M: 1, L: 1, Q: 2, C: 3, Z: 0 }[verb];
    if (count === undefined) continue;
    const points: number[] = [];
    for (let k = 0; k < count; k++, i += 2) points.push(...point(i));
    if (points.some((v) => !Number.isFinite(v))) continue;
    if (verb === 'M') out.push((current = { start: [points[0]!, points[1]!], segments: [], closed: false }));
    else if (verb === 'Z') {
      if (current) {
        current.closed = true;
        // What follows without a move begins where this began.
        current = null;
      }
    } else {
      const before = out[out.length - 1];
      if (!current && before) out.push((current = { start: before.start, segments: [], closed: false }));
      current?.segments.push(points);
    }
  }
  return out;
}

const contoursOf = (lines: readonly Stretch[]): Contour[] => {
  const pen = new ContourPen();
  for (const { start, segments } of lines) drawContour({ start, segments: [...segments] }, pen);
  pen.closePath();
  return pen.contours;
};
const moved = (contours: readonly Contour[], m: Matrix): Contour[] => {
  const pen = new ContourPen();
  for (const contour of contours) drawContour(contour, new TransformPen(m, pen));
  pen.closePath();
  return pen.contours;
};
const boundsOf = (contours: readonly Contour[]): Bounds | null => {
  const pen = new BoundsPen();
  for (const contour of contours) drawContour(contour, pen);
  return pen.bounds;
};
const rectangle = (x: number, y: number, width: number, height: number, m: Matrix): Contour[] =>
  contoursOf(stretches(`M ${x} ${y} L ${x + width} ${y} L ${x + width} ${y + height} L ${x} ${y + height} Z`, m));

const colorOf = (text: string): number => (/^#[0-9a-f]{6}$/i.test(text) ? parseInt(text.slice(1), 16) : 0);

/** Relative luminance, 0 to 1. Source: WCAG 2.2, "relative luminance". */
export function luminance(color: number): number {
  const [r, g, b] = [16, 8, 0].map((shift) => {
    const c = ((color >> shift) & 255) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}

/**
 * The shapes that a drawing paints.
 * @param to from px of the viewport to font units, y up
 * @param em font units an em
 */
export function piecesOf(drawing: NormalSvg, to: Matrix, em: number, paths: Paths): Pieces {
  const root = readTree(drawing.svg);
  const byId = new Map<string, Element>();
  for (const element of within(root)) if (element.attributes.id) byId.set(element.attributes.id, element);
  const referred = (value: string | undefined): Element | null => {
    const id = /^url\(#(.+)\)$/.exec(value ?? '')?.[1];
    return (id !== undefined && byId.get(id)) || null;
  };
  const losses = new Set<PaintLoss>();
  const widths: number[] = [];
  const caps = new Set<string>();

  /** Contours that are united, or as they are where that fails, with a word about it. */
  const united = (contours: readonly Contour[]): Contour[] => {
    const found = paths.unite(contours, em);
    if (!found) losses.add('shape-failed');
    return found ?? [...contours];
  };
  const clipped = (contours: readonly Contour[], clip: readonly Contour[]): Contour[] => {
    const b = boundsOf(contours);
    const c = boundsOf(clip);
    if (!b || !c) return [];
    const found = paths.combine('intersection', united(contours), clip, em);
    if (!found) losses.add('clip-failed');
    return found ?? [...contours];
  };
  /** Bounds of what a group holds, without strokes and in the group's own units. Source: SVG 2, 8.10, the object bounding box. */
  const boxOf = (element: Element, m: Matrix = IDENTITY): Bounds | null => {
    const all: Contour[] = [];
    const collect = (e: Element, at: Matrix): void => {
      const here = e === element ? at : times(at, matrixOf(e.attributes.transform));
      if (e.name === 'path') all.push(...contoursOf(stretches(e.attributes.d ?? '', here)));
      for (const child of e.children) collect(child, here);
    };
    collect(element, m);
    return boundsOf(all);
  };
  const unitsOf = (box: Bounds | null): Matrix => (box ? [box.xMax - box.xMin, 0, 0, box.yMax - box.yMin, box.xMin, box.yMin] : IDENTITY);

  /** The region that a clip path leaves, in font units. */
  const clipRegion = (clip: Element, target: Element, m: Matrix, seen: ReadonlySet<Element>): Contour[] => {
    if (seen.has(clip)) return [];
    const inner = new Set([...seen, clip]);
    const base = times(
      times(m, matrixOf(clip.attributes.transform)),
      clip.attributes.clipPathUnits === 'objectBoundingBox' ? unitsOf(boxOf(target)) : IDENTITY,
    );
    const parts: Contour[] = [];
    const collect = (e: Element, at: Matrix): void => {
      const here = e === clip ? at : times(at, matrixOf(e.attributes.transform));
      let own: Contour[] = [];
      if (e.name === 'path') own = filled(stretches(e.attributes.d ?? '', here), (e.attributes['clip-rule'] ?? 'nonzero') as Fill);
      else
        for (const child of e.children) {
          const before = parts.length;
          collect(child, here);
          own.push(...parts.splice(before));
        }
      const further = e === clip ? null : referred(e.attributes['clip-path']);
      parts.push(...(further ? clipped(own, clipRegion(further, e, here, inner)) : own));
    };
    collect(clip, base);
    const region = united(parts);
    const further = referred(clip.attributes['clip-path']);
    return further ? clipped(region, clipRegion(further, target, m, inner)) : region;
  };
  const filled = (lines: readonly Stretch[], fill: Fill): Contour[] => {
    const contours = contoursOf(lines);
    const found = paths.filled(contours, fill, em);
    if (!found) losses.add('shape-failed');
    if (found) return found;
    if (fill === 'evenodd') return directed(contours, 'counter-clockwise');
    // As they are, and as a whole wound the way that ink is.
    return contours.reduce((sum, c) => sum + areaOf(c), 0) < 0 ? contours.map(reversed) : contours;
  };

  /** The region that a mask leaves: what white or light paints in it, as far as paint is either light or dark. */
  const maskRegion = (mask: Element, target: Element, m: Matrix, seen: ReadonlySet<Element>): Contour[] => {
    if (seen.has(mask)) return [];
    const box = boxOf(target);
    const byBox = mask.attributes.maskUnits !== 'userSpaceOnUse';
    const number4 = ['x', 'y', 'width', 'height'].map((k, i) => number(mask.attributes[k], [-0.1, -0.1, 1.2, 1.2][i]!)) as [
      number,
      number,
      number,
      number,
    ];
    const frame = rectangle(...number4, byBox ? times(m, unitsOf(box)) : m);
    const content = times(m, mask.attributes.maskContentUnits === 'objectBoundingBox' ? unitsOf(box) : IDENTITY);
    const inside: Piece[] = [];
    const byAlpha = mask.attributes['mask-type'] === 'alpha' || /mask-type\s*:\s*alpha/.test(mask.attributes.style ?? '');
    for (const child of mask.children) paint(child, { matrix: content, alpha: 1 }, inside, new Set([...seen, mask]));
    const strength = (p: Piece): number => p.alpha * (byAlpha ? 1 : luminance(p.color));
    if (inside.some((p) => strength(p) > 0.02 && strength(p) < 0.98 && p.alpha > 0.02)) losses.add('mask');
    let region: Contour[] = [];
    for (const piece of inside)
      if (strength(piece) >= 0.5) region = united([...region, ...piece.contours]);
      else if (piece.alpha >= 0.5 && !byAlpha) {
        const rest = paths.combine('difference', region, united(piece.contours), em);
        if (!rest) losses.add('clip-failed');
        region = rest ?? region;
      }
    const further = referred(mask.attributes.mask);
    const all = clipped(region, united(frame));
    return further ? clipped(all, maskRegion(further, target, m, new Set([...seen, mask]))) : all;
  };

  /** One color for a paint, and how strong it is. */
  const paintOf = (value: string | undefined, opacity: number): { color: number; alpha: number } | null => {
    if (value === undefined || value === 'none') return null;
    const server = referred(value);
    if (!server) return { color: colorOf(value), alpha: opacity };
    if (server.name === 'pattern') {
      losses.add('pattern');
      return { color: 0, alpha: opacity };
    }
    const stops = server.children.filter((e) => e.name === 'stop');
    const opacities = stops.map((s) => number(s.attributes['stop-opacity'], 1));
    const colors = new Set(stops.map((s) => s.attributes['stop-color']));
    if (colors.size > 1 || new Set(opacities).size > 1) losses.add('gradient');
    const mean = (shift: number): number =>
      Math.round(
        stops.reduce((sum, s) => sum + ((colorOf(s.attributes['stop-color'] ?? '') >> shift) & 255), 0) / Math.max(1, stops.length),
      );
    const strength = opacities.reduce((a, b) => a + b, 0) / Math.max(1, stops.length);
    return { color: (mean(16) << 16) | (mean(8) << 8) | mean(0), alpha: opacity * strength };
  };

  const stroked = (lines: readonly Stretch[], a: Readonly<Record<string, string>>, m: Matrix): Contour[] => {
    const size = Math.sqrt(Math.abs(m[0] * m[3] - m[1] * m[2]));
    if (!(size > 0)) return [];
    // Where sides keep their proportions the line is stroked in font units; else in its own, as large as those, and sent on.
    const even =
      Math.abs(m[0] * m[2] + m[1] * m[3]) < 1e-4 * size * size && Math.abs(Math.hypot(m[0], m[1]) - Math.hypot(m[2], m[3])) < 1e-3 * size;
    const first: Matrix = even ? m : [size, 0, 0, size, 0, 0];
    const then: Matrix | null = even ? null : [m[0] / size, m[1] / size, m[2] / size, m[3] / size, m[4], m[5]];
    const width = number(a['stroke-width'], 1);
    widths.push((width * size) / em);
    const cap = (a['stroke-linecap'] ?? 'butt') as StrokeStyle['cap'];
    const join = a['stroke-linejoin'] ?? 'miter';
    const style: StrokeStyle = {
      width: width * size,
      cap: ['butt', 'round', 'square'].includes(cap) ? cap : 'butt',
      join: join === 'round' || join === 'bevel' ? join : 'miter',
      miterLimit: number(a['stroke-miterlimit'], 4),
    };
    const pattern = numbers(a['stroke-dasharray']).map((n) => n * size);
    const out: Contour[] = [];
    for (const line of lines) {
      const sent: Stretch = {
        start: [
          first[0] * line.start[0] + first[2] * line.start[1] + first[4],
          first[1] * line.start[0] + first[3] * line.start[1] + first[5],
        ],
        segments: line.segments.map((s) =>
          s.map((_, i) =>
            i % 2 === 0 ? first[0] * s[i]! + first[2] * s[i + 1]! + first[4] : first[1] * s[i - 1]! + first[3] * s[i]! + first[5],
          ),
        ),
        closed: line.closed,
      };
      if (!line.closed && pattern.length === 0) caps.add(style.cap);
      for (const dash of pattern.length > 0 ? dashed(sent, pattern, number(a['stroke-dashoffset'], 0) * size) : [sent]) {
        if (dash.segments.length === 0 && !dash.closed) continue;
        const ink = paths.stroked(dash, style);
        if (!ink) losses.add('shape-failed');
        else out.push(...ink);
      }
    }
    return then ? positive(moved(out, then)) : out;
  };
  /** A mirror turns contours round; strokes must wind as all others do. */
  const positive = (contours: Contour[]): Contour[] => {
    const found = paths.unite(contours, em);
    if (!found) losses.add('shape-failed');
    return found ?? contours;
  };

  function paint(element: Element, state: State, into: Piece[], seen: ReadonlySet<Element>): void {
    const a = element.attributes;
    if (element.name === 'image') return void losses.add('picture');
    if (element.name === 'path') return paintPath(a, state, into);
    if (element.name !== 'g' && element.name !== 'svg') return;
    const matrix = element.name === 'g' ? times(state.matrix, matrixOf(a.transform)) : state.matrix;
    const here: Piece[] = [];
    const alpha = state.alpha * number(a.opacity, 1);
    if (a.filter) losses.add('filter');
    if (/mix-blend-mode\s*:\s*(?!normal)/.test(a.style ?? '')) losses.add('blend');
    for (const child of element.children) paint(child, { matrix, alpha }, here, seen);
    for (const [name, region] of [
      ['clip-path', clipRegion],
      ['mask', maskRegion],
    ] as const) {
      const by = referred(a[name]);
      if (!by || here.length === 0) continue;
      const left = region(by, element, matrix, seen);
      for (const piece of here) piece.contours = clipped(piece.contours, left);
    }
    into.push(...here.filter((p) => p.contours.length > 0));
  }
  function paintPath(a: Readonly<Record<string, string>>, state: State, into: Piece[]): void {
    if (a.visibility === 'hidden' || a.visibility === 'collapse') return;
    const d = a.d ?? '';
    const fill = paintOf(a.fill ?? '#000000', number(a['fill-opacity'], 1));
    const stroke = paintOf(a.stroke, number(a['stroke-opacity'], 1));
    const paints: (() => void)[] = [];
    const add = (paint: { color: number; alpha: number }, contours: Contour[]): void => {
      const alpha = paint.alpha * state.alpha;
      if (alpha > 0.02 && alpha < 0.98) losses.add('opacity');
      if (alpha > 0.02 && contours.length > 0) into.push({ color: paint.color, alpha, contours });
    };
    if (fill)
      paints.push(() => {
        const lines = stretches(d, state.matrix);
        const shape = filled(lines, (a['fill-rule'] ?? 'nonzero') as Fill);
        const area = shape.reduce((sum, c) => sum + areaOf(c), 0) / (em * em);
        const covers = area > 1 / 1000;
        // A straight line encloses nothing, whatever its fill is said to be.
        if (Math.abs(area) < 1e-7) return;
        if (stroke && covers && lines.some((l) => !l.closed && gapOf(l) > em / 20)) losses.add('open-filled');
        add(fill, shape);
      });
    if (stroke) paints.push(() => add(stroke, stroked(stretches(d, IDENTITY), a, state.matrix)));
    if (a['paint-order']?.startsWith('stroke')) paints.reverse();
    for (const one of paints) one();
  }

  const pieces: Piece[] = [];
  paint(root, { matrix: times(to, viewBoxMatrix(root, drawing)), alpha: 1 }, pieces, new Set());
  return {
    pieces,
    losses: [...losses],
    lines: { widths: [...new Set(widths.map((w) => Math.round(w * 1e5) / 1e5))].sort((x, y) => x - y), caps: [...caps] },
  };
}

/** How far the ends of an open line are apart. */
function gapOf({ start, segments }: Stretch): number {
  const last = segments[segments.length - 1];
  return last ? Math.hypot(last[last.length - 2]! - start[0], last[last.length - 1]! - start[1]) : 0;
}

/** From a drawing's own units to px of its viewport. Source: SVG 2, 8.2, "Computing the equivalent transform of an SVG viewport". */
function viewBoxMatrix({ attributes }: Element, { width, height }: NormalSvg): Matrix {
  const [x, y, w, h] = numbers(attributes.viewBox);
  if (!(w! > 0 && h! > 0)) return IDENTITY;
  const [align = 'xMidYMid', how = 'meet'] = (attributes.preserveAspectRatio ?? '').split(' ').filter((t) => t !== '');
  let [sx, sy] = [width / w!, height / h!];
  if (align === 'none') return [sx, 0, 0, sy, -x! * sx, -y! * sy];
  sx = sy = how === 'slice' ? Math.max(sx, sy) : Math.min(sx, sy);
  const share = (part: string): number => ({ Min: 0, Mid: 0.5, Max: 1 })[part] ?? 0.5;
  const dx = (width - w! * sx) * share(align.slice(1, 4));
  const dy = (height - h! * sy) * share(align.slice(5, 8));
  return [sx, 0, 0, sy, dx - x! * sx, dy - y! * sy];
}
