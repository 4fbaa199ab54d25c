import type { Bounds, Polygon } from '../outline/index.js';

/** The ink of one glyph of a letter, where it stands, in font units, y up. */
export interface Ink {
  box: Bounds;
  polygons: readonly Polygon[];
}

/** A mark and how it was placed. */
export interface PlacedMark {
  codePoint: number;
  /** Null when it draws nothing. */
  ink: Ink | null;
  /** Whether an anchor of the face put it there: what its designer decided is not judged again. */
  anchored: boolean;
}

/** What the letters of a face are measured by, in font units. */
export interface Measure {
  xHeight: number;
  unitsPerEm: number;
  /** Tangent of the slant, positive where letters lean to the right. */
  slant: number;
}

/*
 * Limits in heights of the letter x, but for distances, which are parts of the em. Found over precomposed letters of well-made
 * faces and tuned on letters that were looked at; what they came to on letters put away stands in bench/README.md.
 */
const CLEAR = 0.012;
const ABOVE = { gapMin: -0.02, gapMax: 0.62, offset: 0.33, overhang: 0.36 };
const ASCENDER = { gapMin: 0, offset: 0.3 };
const BELOW = { gapMin: -0.05, gapMax: 0.5, offset: 0.33, ofWidth: 0.36, overhang: 0.34 };
const STACK = { gap: 0.02, offset: 0.3, gapMax: 0.5 };
const TOUCH = 0.08;
const TOUCH_LOOSE = 0.1;

type Side = 'above' | 'below' | 'joined-below' | 'horn' | 'other';

const HORN = 0x31b;
const CEDILLA = 0x327;
const OGONEK = 0x328;
const CARON = 0x30c;

/** Marks that stand over a letter and those that stand under it, by their combining classes 230 and 220. Unicode 17. */
const OVER =
  /^[\u0300-\u0314\u033D-\u0344\u0346\u034A-\u034C\u0350-\u0352\u0357\u035B\u0363-\u036F\u0483-\u0487\u1DC0\u1DC1\u1DC3-\u1DC9\u1DCB\u1DCC\u1DD1-\u1DE6\u1DFE]$/u;
const UNDER =
  /^[\u0316-\u0319\u031C-\u0320\u0323-\u0326\u0329-\u0333\u0339-\u033C\u0347-\u0349\u034D\u034E\u0353-\u0356\u0359\u035A\u1DC2\u1DCA\u1DFF]$/u;

function sideOf(mark: number): Side {
  if (mark === HORN) return 'horn';
  if (mark === CEDILLA || mark === OGONEK) return 'joined-below';
  const text = String.fromCodePoint(mark);
  return OVER.test(text) ? 'above' : UNDER.test(text) ? 'below' : 'other';
}

/** Letters whose U+0327 is drawn as a comma beneath, Latvian's and their like; source: Unicode chart, notes on U+0122 to U+0157. */
const COMMA_BENEATH = 'GgKkLlNnRr';
/** Letters whose U+030C is drawn as a comma at their right; source: Unicode chart, notes on U+010F, U+013D, U+013E and U+0165. */
const COMMA_BESIDE = 'dLlt';
/** Soft-dotted letters, which lose their dot under a mark above. */
const SOFT_DOTTED = /^\p{Soft_Dotted}$/u;
/** Breathings and accents of Greek capitals stand before them. */
const GREEK_CAPITAL = /^[Α-Ω]$/u;
const CAPITAL = /^\p{Lu}$/u;

/**
 * Whether a letter reads right with its marks where shaping leaves them: every mark that no anchor placed must stand clear of
 * all other ink, over or under its letter and not beside it, at the distance that drawn letters have, and have the form that
 * this letter asks for. Marks through a letter, and any whose place is not known here, do not pass: when in doubt, no.
 * @param base the letter, as a code point and as it is drawn under its marks
 */
export function readsRight(base: { codePoint: number; ink: Ink | null }, marks: readonly PlacedMark[], measure: Measure): boolean {
  const { ink } = base;
  if (!ink || marks.some((m) => !m.ink)) return false;
  const letter = String.fromCodePoint(base.codePoint);
  const x = measure.xHeight;
  // A dot that stays under an accent.
  if (
    SOFT_DOTTED.test(letter) &&
    marks.some((m) => sideOf(m.codePoint) === 'above' && !m.anchored) &&
    ink.box.yMax > (letter === 'ɉ' ? 1.2 : 1.14) * x
  )
    return false;
  let over: Ink | null = null;
  let under: Ink | null = null;
  for (const [i, mark] of marks.entries()) {
    const side = sideOf(mark.codePoint);
    const own = mark.ink!;
    if (!mark.anchored) {
      if (wrongForm(letter, mark.codePoint)) return false;
      const others = [...marks.slice(0, i), ...marks.slice(i + 1)].map((m) => m.ink!);
      if (others.some((o) => distance(own, o) < CLEAR * measure.unitsPerEm)) return false;
      const stands =
        side === 'above'
          ? over
            ? onTop(own, over, measure)
            : standsAbove(own, ink, letter, measure)
          : side === 'below'
            ? under
              ? false
              : standsBelow(own, ink, measure)
            : side === 'horn' || side === 'joined-below'
              ? touches(own, ink, mark.codePoint, measure)
              : false;
      if (!stands) return false;
    }
    if (side === 'above') over = own;
    if (side === 'below' || side === 'joined-below') under = own;
  }
  return true;
}

function wrongForm(letter: string, mark: number): boolean {
  if (mark === CEDILLA && COMMA_BENEATH.includes(letter)) return true;
  if (mark === CARON && COMMA_BESIDE.includes(letter)) return true;
  return GREEK_CAPITAL.test(letter) && mark !== 0x308 && sideOf(mark) === 'above';
}

/**
 * Where HarfBuzz, and so most browsers, puts the marks of a face that has no GPOS: over, under or at the side of the letter's
 * advance, each kind of mark away from the one before it. Null for marks whose place is not known here.
 * Source: HarfBuzz, hb-ot-shape-fallback.cc, position_mark and position_around_base.
 * @param base the letter's ink with its advance in font units, where the letter stands at 0
 * @returns how far each mark goes from its own origin laid on the letter's, font units
 */
export function placesInBrowsers(
  base: { ink: Ink; advance: number },
  marks: readonly { codePoint: number; ink: Ink }[],
  unitsPerEm: number,
): { x: number; y: number }[] | null {
  const gap = Math.trunc(unitsPerEm / 16);
  let bottom = base.ink.box.yMin;
  let top = base.ink.box.yMax;
  let last: Side | null = null;
  const out: { x: number; y: number }[] = [];
  for (const { codePoint, ink } of marks) {
    const side = sideOf(codePoint);
    if (side === 'other') return null;
    // Marks of another class begin at the letter again.
    if (last !== null && last !== side) ({ yMin: bottom, yMax: top } = base.ink.box);
    last = side;
    const { box } = ink;
    const width = box.xMax - box.xMin;
    const height = box.yMax - box.yMin;
    const x = side === 'horn' ? base.advance - width - box.xMin : Math.trunc((base.advance - width) / 2) - box.xMin;
    let y: number;
    if (side === 'below' || side === 'joined-below') {
      if (side === 'below') bottom -= gap;
      y = bottom - box.yMax;
      if (y > 0) {
        // A mark below is never lifted.
        bottom -= y;
        y = 0;
      }
      bottom -= height;
    } else {
      if (side === 'above') top += gap;
      y = top - box.yMin;
      if (y < 0) {
        // A mark above is lowered by half of what it could be.
        const correction = Math.trunc(-y / 2);
        top += correction;
        y += correction;
      }
      top += height;
    }
    out.push({ x, y });
  }
  return out;
}

/** Where the middle of some ink would be were the face upright, at the height of the baseline. */
function middle({ box }: Ink, slant: number): number {
  return (box.xMin + box.xMax) / 2 - (slant * (box.yMin + box.yMax)) / 2;
}

/** How far some ink reaches out over other ink at its sides, were the face upright. */
function overhang(mark: Ink, base: Ink, slant: number): number {
  const leftOf = (ink: Ink, way: 1 | -1): number => {
    let most = -Infinity;
    for (const polygon of ink.polygons)
      for (let i = 0; i < polygon.length; i += 2) most = Math.max(most, way * (polygon[i]! - slant * polygon[i + 1]!));
    return most;
  };
  const right = leftOf(mark, 1) - leftOf(base, 1);
  const left = leftOf(mark, -1) - leftOf(base, -1);
  // A mark that is wider than its letter reaches out at both sides; only what one side has more than the other counts.
  return Math.max(right - Math.max(0, left), left - Math.max(0, right));
}

function standsAbove(mark: Ink, base: Ink, letter: string, { xHeight: x, unitsPerEm, slant }: Measure): boolean {
  const tall = !CAPITAL.test(letter) && base.box.yMax > 1.18 * x;
  const gap = mark.box.yMin - base.box.yMax;
  const offset = Math.abs(middle(mark, slant) - middle(base, slant));
  return (
    gap >= (tall ? ASCENDER.gapMin : ABOVE.gapMin) * x &&
    gap <= ABOVE.gapMax * x &&
    offset <= (tall ? ASCENDER.offset : ABOVE.offset) * x &&
    overhang(mark, base, slant) <= ABOVE.overhang * x &&
    distance(mark, base) >= CLEAR * unitsPerEm
  );
}

function standsBelow(mark: Ink, base: Ink, { xHeight: x, unitsPerEm, slant }: Measure): boolean {
  const foot = Math.min(0, base.box.yMin);
  const gap = foot - mark.box.yMax;
  const width = base.box.xMax - base.box.xMin;
  const offset = Math.abs(middle(mark, slant) - middle(base, slant));
  // Beside a tail that goes down, a mark stands under the body of its letter.
  const beside = base.box.yMin < -0.15 * x && -mark.box.yMax >= BELOW.gapMin * x;
  return (
    (beside || gap >= BELOW.gapMin * x) &&
    gap <= BELOW.gapMax * x &&
    offset <= Math.max(BELOW.offset * x, Math.min(BELOW.ofWidth * width, 0.5 * x)) &&
    overhang(mark, base, slant) <= BELOW.overhang * x &&
    distance(mark, base) >= CLEAR * unitsPerEm
  );
}

/** A mark over another mark. */
function onTop(mark: Ink, lower: Ink, { xHeight: x, slant }: Measure): boolean {
  const gap = mark.box.yMin - lower.box.yMax;
  return gap >= STACK.gap * x && gap <= STACK.gapMax * x && Math.abs(middle(mark, slant) - middle(lower, slant)) <= STACK.offset * x;
}

/** A mark that is drawn as a part of its letter. */
function touches(mark: Ink, base: Ink, codePoint: number, { xHeight: x, unitsPerEm, slant }: Measure): boolean {
  const near = distance(mark, base) <= (codePoint === CEDILLA ? TOUCH : TOUCH_LOOSE) * x;
  if (!near) return false;
  const width = base.box.xMax - base.box.xMin;
  const shift = middle(mark, slant) - middle(base, slant);
  if (codePoint === HORN) return shift > 0.2 * width && mark.box.yMax > 0.6 * base.box.yMax;
  // A cedilla hangs under the middle, an ogonek from there to the right foot; neither goes through the letter.
  const sunk = Math.min(mark.box.yMax, base.box.yMax) - Math.min(0, base.box.yMin);
  if (sunk > 0.3 * x || mark.box.yMin > -0.08 * unitsPerEm) return false;
  return codePoint === CEDILLA
    ? Math.abs(shift) <= Math.max(0.33 * x, Math.min(0.3 * width, 0.5 * x))
    : shift > -0.25 * width && shift < 0.6 * width;
}

/** The smallest distance between two inks in font units, 0 where they cross or one lies in the other. */
export function distance(a: Ink, b: Ink): number {
  const apart = Math.hypot(
    Math.max(0, a.box.xMin - b.box.xMax, b.box.xMin - a.box.xMax),
    Math.max(0, a.box.yMin - b.box.yMax, b.box.yMin - a.box.yMax),
  );
  let least = Infinity;
  for (const p of a.polygons)
    for (const q of b.polygons) {
      least = Math.min(least, betweenPolygons(p, q, least));
      if (least === 0) return 0;
    }
  if (a.polygons.some((p) => inside(p[0]!, p[1]!, b.polygons)) || b.polygons.some((p) => inside(p[0]!, p[1]!, a.polygons))) return 0;
  return Math.max(apart, least);
}

function betweenPolygons(p: Polygon, q: Polygon, known: number): number {
  let least = known * known;
  for (let i = 0; i < p.length; i += 2) {
    const ax = p[i]!;
    const ay = p[i + 1]!;
    const bx = p[(i + 2) % p.length]!;
    const by = p[(i + 3) % p.length]!;
    for (let j = 0; j < q.length; j += 2) {
      const cx = q[j]!;
      const cy = q[j + 1]!;
      const dx = q[(j + 2) % q.length]!;
      const dy = q[(j + 3) % q.length]!;
      // Sides whose boxes are farther apart than what is known need no look.
      const wide = Math.max(0, Math.min(ax, bx) - Math.max(cx, dx), Math.min(cx, dx) - Math.max(ax, bx));
      const high = Math.max(0, Math.min(ay, by) - Math.max(cy, dy), Math.min(cy, dy) - Math.max(ay, by));
      if (wide * wide + high * high >= least) continue;
      if (cross(ax, ay, bx, by, cx, cy, dx, dy)) return 0;
      least = Math.min(
        least,
        toSide(ax, ay, cx, cy, dx, dy),
        toSide(bx, by, cx, cy, dx, dy),
        toSide(cx, cy, ax, ay, bx, by),
        toSide(dx, dy, ax, ay, bx, by),
      );
    }
  }
  return Math.sqrt(least);
}

function cross(ax: number, ay: number, bx: number, by: number, cx: number, cy: number, dx: number, dy: number): boolean {
  const turn = (px: number, py: number, qx: number, qy: number, rx: number, ry: number): number =>
    (qx - px) * (ry - py) - (qy - py) * (rx - px);
  return turn(ax, ay, bx, by, cx, cy) * turn(ax, ay, bx, by, dx, dy) < 0 && turn(cx, cy, dx, dy, ax, ay) * turn(cx, cy, dx, dy, bx, by) < 0;
}

/** Square of the distance of a point to a side. */
function toSide(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
  const length = (bx - ax) ** 2 + (by - ay) ** 2;
  const t = length === 0 ? 0 : Math.max(0, Math.min(1, ((px - ax) * (bx - ax) + (py - ay) * (by - ay)) / length));
  return (px - ax - t * (bx - ax)) ** 2 + (py - ay - t * (by - ay)) ** 2;
}

/** Whether a point lies in the ink, by the non-zero rule. */
function inside(x: number, y: number, polygons: readonly Polygon[]): boolean {
  let winding = 0;
  for (const p of polygons)
    for (let i = 0; i < p.length; i += 2) {
      const y0 = p[i + 1]!;
      const y1 = p[(i + 3) % p.length]!;
      if (y0 <= y === y1 <= y) continue;
      const at = p[i]! + ((y - y0) / (y1 - y0)) * (p[(i + 2) % p.length]! - p[i]!);
      if (at > x) winding += y1 > y0 ? 1 : -1;
    }
  return winding !== 0;
}
