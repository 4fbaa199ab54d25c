import { ContourPen, drawContour, reversed, TransformPen, type Contour, type Matrix } from '../outline/index.js';
import { recipeOf, SPACING } from './characters.js';
import { edgesOf, shapeOf, type Shape } from './profile.js';
import { GUIDES } from './sheet.js';
import type { Heights } from './spacing.js';

/** Shifts of the parts of a composed letter that a person made, in the order of its marks; thousandths of the em. */
export type Adjustment = readonly { x: number; y: number }[];

/** What letters are composed from: outlines of what is drawn, by character. */
export interface Parts {
  get(character: string): readonly Contour[] | undefined;
}

/** A composed letter. */
export interface Composed {
  contours: Contour[];
  /** What it was made of, the letter first. */
  parts: string[];
  /** How far each mark was moved, in the order of the parts after the first. */
  shifts: { x: number; y: number }[];
  /** Whether contours may lie over one another and are to be united. */
  overlaps: boolean;
}

/** Outlines under a map; a mirror turns them round again, so that ink stays ink. */
export const moved = (contours: readonly Contour[], matrix: Matrix): Contour[] => {
  const pen = new ContourPen();
  for (const contour of contours) drawContour(contour, new TransformPen(matrix, pen));
  pen.closePath();
  return matrix[0] * matrix[3] - matrix[1] * matrix[2] < 0 ? pen.contours.map(reversed) : pen.contours;
};
/** Outlines moved. */
export const shift = (contours: readonly Contour[], x: number, y: number): Contour[] => moved(contours, [1, 0, 0, 1, x, y]);

const MARK_BELOW = /^[\u0316-\u0319\u031c-\u0333\u0339-\u033c\u0345\u0347-\u0349\u034d\u034e\u0353-\u0356\u0359\u035a]$/;
/** Marks that join their letter: cedilla, ogonek, horn, hook. Source: Unicode, combining classes 202 and 216. */
const ATTACHED = /^[\u031b\u0321\u0322\u0327\u0328]$/;
const SOFT_DOTTED = /^\p{Soft_Dotted}$/u;
/** White between stacked marks, thousandths of the em. */
const STACKED = 35;
/** A comma under or over a letter is smaller than one in a sentence; common practice. */
const SMALL_COMMA = 0.8;
/** Over capitals marks stand nearer, by so much of the gap. */
const OVER_CAPITALS = 0.75;

/** How a mark was drawn: over (or under) a pale o of the height of the guides. */
interface Mark {
  contours: readonly Contour[];
  shape: Shape;
  /** From the letter's top (or baseline) to the mark's near edge; thousandths of the em. */
  gap: number;
  side: 'above' | 'below' | 'attached';
}

function markOf(character: string, parts: Parts): Mark | null {
  const contours = parts.get(character);
  const shape = contours && shapeOf(contours);
  if (!contours || !shape) return null;
  if (character === '\u031b') return { contours, shape, gap: shape.box.yMin - GUIDES.xHeight * 1000, side: 'attached' };
  if (ATTACHED.test(character)) return { contours, shape, gap: shape.box.yMax, side: 'attached' };
  if (MARK_BELOW.test(character)) return { contours, shape, gap: Math.min(200, Math.max(15, -shape.box.yMax)), side: 'below' };
  return { contours, shape, gap: Math.min(220, Math.max(25, shape.box.yMin - GUIDES.xHeight * 1000)), side: 'above' };
}

/** Where marks stand over or under a letter. */
export interface Anchors {
  top: { x: number; y: number };
  bottom: { x: number; y: number };
}

/** The middle of what a letter shows at its top and foot. */
export function anchorsOf({ polygons, box }: Shape): Anchors {
  const middle = (box.xMin + box.xMax) / 2;
  const height = box.yMax - box.yMin;
  const at = (from: number, to: number): number => {
    const { first, last } = edgesOf({ polygons, box }, from, to, Math.max(2, (to - from) / 12));
    let [a, b] = [Infinity, -Infinity];
    for (let i = 0; i < first.length; i++) {
      if (first[i]! < a) a = first[i]!;
      if (last[i]! > b) b = last[i]!;
    }
    if (a > b) return middle;
    const own = (a + b) / 2;
    // A stem or an apex carries its mark; a broad top shares it with the whole letter.
    return b - a < 0.4 * (box.xMax - box.xMin) ? own : (own + middle) / 2;
  };
  return {
    top: { x: at(box.yMax - 0.16 * height, box.yMax), y: box.yMax },
    bottom: { x: at(box.yMin, box.yMin + 0.16 * height), y: Math.min(0, box.yMin) },
  };
}

/** i or j without its dot: what stands clear above the height of small letters is left out. Null where the dot joins the stem. */
export function withoutDot(contours: readonly Contour[], heights: Heights): Contour[] | null {
  const kept = contours.filter((c) => {
    const box = shapeOf([c])?.box;
    return box && box.yMin < heights.xHeight * 0.85;
  });
  return kept.length > 0 && kept.length < contours.length ? kept : null;
}

/** Marks that letters with ascenders or capitals write as a comma. Source: Unicode code charts, notes on U+010F, U+013E, U+0122 and their like. */
const caronBeside = (base: string, mark: string): boolean => mark === '\u030c' && 'dtlL'.includes(base);
const commaBeneath = (base: string, mark: string): boolean => mark === '\u0327' && 'GKLNRklnr'.includes(base);
const commaAbove = (base: string, mark: string): boolean => mark === '\u0327' && base === 'g';

/**
 * Composes a character of what is drawn.
 * @returns null when a part is missing
 */
export function compose(character: string, parts: Parts, heights: Heights, adjustment: Adjustment = [], deep = 0): Composed | null {
  const own = parts.get(character);
  if (own && own.length > 0 && deep > 0) return { contours: [...own], parts: [character], shifts: [], overlaps: false };
  if (deep > 6) return null;
  const spacing = SPACING[character];
  const recipe = spacing ? ({ kind: 'copy', of: spacing } as const) : recipeOf(character);
  if (!recipe) return null;
  const part = (c: string): Contour[] | null => {
    const drawn = parts.get(c);
    if (drawn && drawn.length > 0) return [...drawn];
    return compose(c, parts, heights, [], deep + 1)?.contours ?? null;
  };
  const made = (contours: Contour[], of: string[], overlaps = false, shifts: Composed['shifts'] = []): Composed => ({
    contours,
    parts: of,
    shifts,
    overlaps,
  });
  switch (recipe.kind) {
    case 'copy': {
      const found = part(recipe.of);
      return found && made(found, [recipe.of]);
    }
    case 'marks':
      return withMarks(recipe.base, recipe.marks, part, parts, heights, adjustment);
    case 'barred': {
      const [base, bar] = [part(recipe.base), part(recipe.bar)];
      const [b, s] = [base && shapeOf(base), bar && shapeOf(bar)];
      if (!base || !bar || !b || !s) return null;
      const scale =
        recipe.bar === '/'
          ? Math.min(
              1,
              (recipe.base === 'l' || recipe.base === 'L' ? 0.42 : 0.95) * ((b.box.yMax - b.box.yMin) / (s.box.yMax - s.box.yMin)),
            )
          : 1;
      const { first, last } = edgesOf(b, recipe.height - 30, recipe.height + 30, 6);
      const seen = [...first].flatMap((v, i) => (Number.isNaN(v) ? [] : [v, last[i]!]));
      const middle =
        recipe.at === 'middle' || seen.length === 0
          ? (b.box.xMin + b.box.xMax) / 2
          : recipe.base === 'd'
            ? Math.max(...seen) - 40
            : Math.min(...seen) + 40;
      const own = adjustment[0] ?? { x: 0, y: 0 };
      const [x, y] = [
        middle - (scale * (s.box.xMin + s.box.xMax)) / 2 + own.x,
        recipe.height - (scale * (s.box.yMin + s.box.yMax)) / 2 + own.y,
      ];
      return made([...base, ...moved(bar, [scale, 0, 0, scale, x, y])], [recipe.base, recipe.bar], true, [{ x, y }]);
    }
    case 'turned': {
      const of = part(recipe.of);
      const box = of && shapeOf(of)?.box;
      return box ? made(moved(of, [-1, 0, 0, -1, box.xMin + box.xMax, recipe.low + box.yMax]), [recipe.of]) : null;
    }
    case 'raised': {
      const of = part(recipe.of);
      const box = of && shapeOf(of)?.box;
      return box ? made(shift(of, 0, recipe.to - box.yMax), [recipe.of]) : null;
    }
    case 'row': {
      const all: Contour[] = [];
      let x = 0;
      for (const c of recipe.of) {
        const of = part(c);
        const box = of && shapeOf(of)?.box;
        if (!box) return null;
        all.push(...shift(of, x - box.xMin, 0));
        x += box.xMax - box.xMin + Math.max(50, 0.45 * (box.xMax - box.xMin));
      }
      return made(all, [...recipe.of]);
    }
    case 'stack': {
      const [lower, upper] = [part(recipe.lower), part(recipe.upper)];
      const [a, b] = [lower && shapeOf(lower)?.box, upper && shapeOf(upper)?.box];
      if (!lower || !upper || !a || !b) return null;
      const y = heights.xHeight * 0.92 - b.yMax;
      return made([...lower, ...shift(upper, (a.xMin + a.xMax - b.xMin - b.xMax) / 2, y)], [recipe.lower, recipe.upper]);
    }
    case 'stretched': {
      const of = part(recipe.of);
      const box = of && shapeOf(of)?.box;
      return box ? made(moved(of, [recipe.by, 0, 0, 1, 0, recipe.y === null ? 0 : recipe.y - box.yMax]), [recipe.of]) : null;
    }
    case 'fraction': {
      const [over, under, bar] = [part(recipe.over), part(recipe.under), part('/')];
      const [a, b, s] = [over && shapeOf(over)?.box, under && shapeOf(under)?.box, bar && shapeOf(bar)?.box];
      if (!over || !under || !bar || !a || !b || !s) return null;
      const small = 0.55;
      const height = heights.capHeight;
      const up = moved(over, [small, 0, 0, small, -small * a.xMin, height - small * a.yMax]);
      const slash = height / (s.yMax - s.yMin);
      const x = small * (a.xMax - a.xMin) - 0.15 * height;
      const line = moved(bar, [slash, 0, 0, slash, x - slash * s.xMin, -slash * s.yMin]);
      const right = x + slash * (s.xMax - s.xMin) - 0.15 * height;
      const down = moved(under, [small, 0, 0, small, right - small * b.xMin, -small * b.yMin]);
      return made([...up, ...line, ...down], [recipe.over, '/', recipe.under], true);
    }
  }
}

function withMarks(
  base: string,
  marks: readonly string[],
  part: (c: string) => Contour[] | null,
  parts: Parts,
  heights: Heights,
  adjustment: Adjustment,
): Composed | null {
  const letter = part(base);
  if (!letter) return null;
  const above = marks.some((m) => !MARK_BELOW.test(m) && !ATTACHED.test(m));
  const bare = above && SOFT_DOTTED.test(base) ? (withoutDot(letter, heights) ?? letter) : letter;
  const shape = shapeOf(bare);
  if (!shape) return null;
  const anchors = anchorsOf(shape);
  const capital = /^\p{Lu}$/u.test(base);
  const greekCapital = /^[Α-Ω]$/u.test(base);
  const out = [...bare];
  const shifts: Composed['shifts'] = [];
  let [top, bottom] = [shape.box.yMax, Math.min(0, shape.box.yMin)];
  let overlaps = false;
  for (const [i, m] of marks.entries()) {
    const own = adjustment[i] ?? { x: 0, y: 0 };
    const put = (contours: readonly Contour[], x: number, y: number): Shape => {
      const placed = shift(contours, x + own.x, y + own.y);
      out.push(...placed);
      shifts.push({ x: x + own.x, y: y + own.y });
      return shapeOf(placed)!;
    };
    const comma = caronBeside(base, m) || commaBeneath(base, m) || commaAbove(base, m) ? part(',') : null;
    const c = comma && shapeOf(comma)?.box;
    if (comma && c) {
      if (caronBeside(base, m)) put(comma, shape.box.xMax + 20 - c.xMin, (base === 'L' ? heights.capHeight : shape.box.yMax) - c.yMax);
      else if (commaBeneath(base, m))
        put(
          moved(comma, [SMALL_COMMA, 0, 0, SMALL_COMMA, 0, 0]),
          anchors.bottom.x - (SMALL_COMMA * (c.xMin + c.xMax)) / 2,
          bottom - 40 - SMALL_COMMA * c.yMax,
        );
      else
        put(
          moved(comma, [-SMALL_COMMA, 0, 0, -SMALL_COMMA, 0, 0]),
          anchors.top.x + (SMALL_COMMA * (c.xMin + c.xMax)) / 2,
          top + 30 + SMALL_COMMA * c.yMax,
        );
      continue;
    }
    const mark = markOf(m, parts);
    if (!mark) return null;
    const { box } = mark.shape;
    const middle = (box.xMin + box.xMax) / 2;
    if (greekCapital && m === '\u0301') put(mark.contours, shape.box.xMin - 30 - box.xMax, heights.capHeight - box.yMax);
    else if (m === '\u031b') {
      // The horn joins the upper right.
      put(mark.contours, shape.box.xMax - 30 - box.xMin, (capital ? heights.capHeight : heights.xHeight) - 40 - box.yMin);
      overlaps = true;
    } else if (mark.side === 'attached') {
      const right = m === '\u0328' ? shape.box.xMax - 0.3 * (shape.box.xMax - shape.box.xMin) : anchors.bottom.x;
      put(mark.contours, right - middle, Math.min(15, Math.max(-15, mark.gap)) + bottom - box.yMax + 10);
      overlaps = true;
    } else if (mark.side === 'below') {
      const placed = put(mark.contours, anchors.bottom.x - middle, bottom - (i > 0 ? Math.max(STACKED, mark.gap) : mark.gap) - box.yMax);
      bottom = placed.box.yMin;
    } else {
      const gap = top > shape.box.yMax ? STACKED : mark.gap * (capital ? OVER_CAPITALS : 1);
      const placed = put(mark.contours, anchors.top.x - middle, top + gap - box.yMin);
      top = placed.box.yMax;
    }
  }
  return { contours: out, parts: [base, ...marks], shifts, overlaps };
}
