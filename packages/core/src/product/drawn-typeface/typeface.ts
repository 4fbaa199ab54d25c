import type { Paths } from '../../engines/index.js';
import {
  bearingsOf,
  cellsFor,
  compose,
  connectedSides,
  connectionOf,
  classKerning,
  recipeOf,
  shapeOf,
  SPECK,
  INK_EM,
  usualTarget,
  wantedCharacters,
  withoutDot,
  type Adjustment,
  type Band,
  type ClassKerning,
  type CharacterWish,
  type Heights,
  type Kernable,
  type LetterKind,
  type Pair,
  type Shape,
} from '../../drawn/index.js';
import { areaOf, spansAtY, type Contour } from '../../outline/index.js';
import { outlineOf, type DrawnLetter } from './letters.js';

/** What is true of a whole typeface. */
export interface TypefaceFacts {
  family: string;
  style: string;
  maker: string;
  license: string;
  licenseUrl: string;
  /** OS/2 fsType: 0 anybody may embed it, 8 in documents that are edited, 4 to print and look, 2 nowhere. */
  embedding: 0 | 2 | 4 | 8;
}

/** Side bearings that a person set; null: as computed. `As` names a letter whose bearing it takes. */
export interface SetBearings {
  left: number | null;
  right: number | null;
  leftAs: string | null;
  rightAs: string | null;
}

/** A drawn typeface as its maker decided it. */
export interface Typeface {
  facts: TypefaceFacts;
  wish: CharacterWish;
  letters: readonly DrawnLetter[];
  /** Shifts of marks that a person made, by composed letter. */
  adjusted: Readonly<Record<string, Adjustment>>;
  /** By character; what stands here is never overwritten. */
  spacing: Readonly<Record<string, SetBearings>>;
  /** Pairs that a person set. */
  kerning: readonly Pair[];
  /** White beside a straight small letter, learned from written words; null: by the letters themselves. */
  learned: number | null;
  /** The same as a person set it. */
  white: number | null;
  /** Whether pairs are kerned by computation, drawings take turns, and figures of equal width are made. */
  kern: boolean;
  turns: boolean;
  tabular: boolean;
  /** Whether small letters connect, as in a hand that does not lift the pen. */
  connected: boolean;
}

/** What looks wrong about a glyph. */
export interface LetterFinding {
  code: 'height' | 'baseline' | 'weight' | 'specks' | 'counter-open' | 'counter-filled' | 'tall' | 'no-join';
  message: string;
}

/** A glyph of a typeface as it would be released; lengths in thousandths of the em. */
export interface PlannedGlyph {
  /** The glyph's name in the font. */
  name: string;
  character: string;
  variant: number;
  kind: LetterKind | 'mark';
  contours: Contour[];
  /** Whether contours may lie over one another. */
  overlaps: boolean;
  advance: number;
  /** Between which places its ink is spaced: all of it, or that of its letter where marks reach farther. */
  from: number;
  to: number;
  /** From the edges of the advance to those places. */
  left: number;
  right: number;
  /** Whether a person set them. */
  locked: { left: boolean; right: boolean };
  /** How it came about: drawn, or of which others. */
  of: string[] | null;
  shifts: { x: number; y: number }[];
  findings: LetterFinding[];
}

export interface Plan {
  heights: Heights;
  /** White beside a straight small letter, and where it is from. */
  white: number;
  whiteFrom: 'set' | 'words' | 'letters';
  glyphs: PlannedGlyph[];
  /** Wanted characters that nothing makes. */
  missing: string[];
  /** Kerning as computed, by classes of the letters that glyphs are grouped under; null where it is off. */
  classes: ClassKerning | null;
  /** Every pair that moves, what a person set first and then the largest; under the letters that glyphs are grouped under. */
  pairs: (Pair & { locked: boolean })[];
}

const USUAL: Heights = { xHeight: 480, capHeight: 700 };
const middle = (values: number[]): number | null => (values.length === 0 ? null : values.sort((a, b) => a - b)[values.length >> 1]!);

/** Letters whose tops are the height of small letters, and of capitals; round ones stand out by little. */
const FLAT_SMALL = [...'xzvwuнпи'];
const ROUND_SMALL = [...'acemnorsеоαονυ'];
const FLAT_CAPITAL = [...'HEFIKLMNTXZНПИ'];
const ROUND_CAPITAL = [...'ABCDGOPRSUVWY'];

/** Heights of the hand itself. */
export function heightsOf(shapes: ReadonlyMap<string, Shape>): Heights {
  const tops = (list: readonly string[]): number[] => list.flatMap((c) => shapes.get(c)?.box.yMax ?? []);
  return {
    xHeight: middle(tops(FLAT_SMALL)) ?? middle(tops(ROUND_SMALL)) ?? USUAL.xHeight,
    capHeight: middle(tops(FLAT_CAPITAL)) ?? middle(tops(ROUND_CAPITAL)) ?? USUAL.capHeight,
  };
}

/** What a character is to spacing and kerning. */
export function kindOf(character: string): LetterKind | 'mark' {
  if (/^\p{M}/u.test(character)) return 'mark';
  if (/^\p{Lu}/u.test(character)) return 'capital';
  if (/^\p{L}/u.test(character)) return 'small';
  if (/^\p{N}/u.test(character)) return 'figure';
  return 'punctuation';
}
const bandOf = (kind: PlannedGlyph['kind']): Band =>
  kind === 'small' ? 'small' : kind === 'punctuation' || kind === 'mark' ? 'own' : 'capital';

/** As AGL would name it where that is letters alone, and by its code point elsewhere. Source: Adobe Glyph List Specification. */
export function nameOf(character: string, variant = 0): string {
  const one = (c: string): string => (/^[A-Za-z]$/.test(c) ? c : `uni${c.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`);
  const name = [...character]
    .map((c) => (c.codePointAt(0)! > 0xffff ? `u${c.codePointAt(0)!.toString(16).toUpperCase()}` : one(c)))
    .join('_');
  return variant > 0 ? `${name}.alt${variant}` : name;
}

/** How many counters a letter has when it is written in print; null where hands differ. */
const COUNTERS: Readonly<Record<string, readonly [number, number]>> = Object.fromEntries(
  Object.entries({
    ADOPQRadeopqb0469: [1, 1],
    B8: [2, 2],
    g: [0, 2],
    CEFGHIJKLMNSTUVWXYZcfhijklmnrstuvwxz12357: [0, 0],
  }).flatMap(([letters, counts]) => [...letters].map((c) => [c, counts as [number, number]])),
);

/** Works out every glyph of a typeface: outlines, composed letters, spacing, kerning, and what looks wrong. */
export function planTypeface(face: Typeface, paths: Paths): Plan {
  const drawn = new Map<string, { letter: DrawnLetter; contours: Contour[] }>();
  for (const letter of face.letters) {
    const contours = outlineOf(letter, paths);
    if (contours.length > 0) drawn.set(`${letter.character}/${letter.variant}`, { letter, contours });
  }
  const outlines = new Map<string, Contour[]>();
  for (const { letter, contours } of drawn.values()) if (letter.variant === 0) outlines.set(letter.character, contours);
  // A hand that has capitals only writes small letters with them.
  if (face.wish.capitalsOnly)
    for (const [c, contours] of [...outlines]) {
      const small = c.toLowerCase();
      if (small !== c && [...small].length === 1 && !outlines.has(small)) outlines.set(small, contours);
    }
  const shapes = new Map(
    [...outlines].flatMap(([c, contours]) => {
      const shape = shapeOf(contours);
      return shape ? [[c, shape] as const] : [];
    }),
  );
  const heights = heightsOf(shapes);
  const dotless = outlines.get('i');
  if (dotless && !outlines.has('ı')) {
    const bare = withoutDot(dotless, heights);
    if (bare) outlines.set('ı', bare);
  }
  const white =
    face.white ??
    face.learned ??
    usualTarget(
      ['n', 'h', 'u'].flatMap((c) => shapes.get(c) ?? []),
      heights,
      (shape, y) => spansAtY(shape.polygons, y),
    );
  const connection =
    face.connected && !face.wish.capitalsOnly
      ? connectionOf(
          [...shapes].flatMap(([c, shape]) => (kindOf(c) === 'small' ? [shape] : [])),
          heights,
        )
      : null;
  const glyphs: PlannedGlyph[] = [];
  const missing: string[] = [];
  const own = (
    character: string,
    variant: number,
    contours: Contour[],
    of: string[] | null,
    overlaps = false,
    shifts: PlannedGlyph['shifts'] = [],
  ): void => {
    const shape = shapeOf(contours);
    if (!shape) return;
    const kind = kindOf(character);
    // Copies of capitals stand as capitals do.
    const band: Band = face.wish.capitalsOnly && kind === 'small' ? 'capital' : bandOf(kind);
    const spaced = within(shape, of, shapes);
    const plain = kind === 'mark' ? { left: 0, right: 0 } : bearingsOf({ shape: spaced, band }, white, heights);
    const joined = connection && kind === 'small' ? connectedSides(spaced, plain, connection, heights) : null;
    const computed = joined ?? plain;
    glyphs.push({
      name: nameOf(character, variant),
      character,
      variant,
      kind,
      contours,
      overlaps,
      ...sided({ from: spaced.box.xMin, to: spaced.box.xMax }, computed, kind),
      locked: { left: false, right: false },
      of,
      shifts,
      findings:
        joined && !joined.leadsOut && of === null
          ? [{ code: 'no-join', message: 'No stroke leads out of it to the right, so the next letter stands apart from it.' }]
          : [],
    });
  };
  const characters = new Set([...outlines.keys(), ...wantedCharacters(face.wish)]);
  for (const character of [...characters].sort((a, b) => a.codePointAt(0)! - b.codePointAt(0)! || a.length - b.length)) {
    const contours = outlines.get(character);
    if (contours) {
      own(character, 0, contours, drawn.has(`${character}/0`) ? null : [character.toUpperCase()]);
      continue;
    }
    const composed = compose(character, outlines, heights, face.adjusted[character]);
    if (!composed) {
      missing.push(character);
      continue;
    }
    const united = composed.overlaps ? paths.unite(composed.contours, INK_EM) : null;
    own(character, 0, united ?? composed.contours, composed.parts, composed.overlaps && !united, composed.shifts);
  }
  for (const { letter, contours } of drawn.values()) if (letter.variant > 0) own(letter.character, letter.variant, contours, null);
  // Pairs are of the sides as computed: else they would take back what a person sets.
  const classes = face.kern ? kerningOf(face, glyphs, heights) : null;
  locks(face, glyphs);
  lookOver(glyphs, heights);
  const pairs = pairsOf(face, classes);
  return {
    heights,
    white,
    whiteFrom: face.white !== null ? 'set' : face.learned !== null ? 'words' : 'letters',
    glyphs,
    missing,
    classes,
    pairs,
  };
}

/** A composed letter is spaced as its letter is: marks reach over neighbors without pushing them away. */
function within(shape: Shape, of: readonly string[] | null, shapes: ReadonlyMap<string, Shape>): Shape {
  const base = of && of.length > 1 ? shapes.get(of[0]!) : undefined;
  return base && kindOf(of![0]!) !== 'punctuation' && of!.slice(1).every((c) => /^\p{M}$/u.test(c))
    ? { polygons: shape.polygons, box: { ...shape.box, xMin: base.box.xMin, xMax: base.box.xMax } }
    : shape;
}

/** The advance, and how the ink stands in it. */
function sided(
  { from, to }: { from: number; to: number },
  { left, right }: { left: number; right: number },
  kind: PlannedGlyph['kind'],
): Pick<PlannedGlyph, 'advance' | 'from' | 'to' | 'left' | 'right'> {
  if (kind === 'mark') return { advance: 0, from, to, left: 0, right: 0 };
  const advance = Math.max(1, Math.round(to - from + left + right));
  return { advance, from, to, left: Math.round(left), right: advance - (to - from) - Math.round(left) };
}

/** What a person set about sides, and sides that follow another letter's. */
function locks(face: Typeface, glyphs: PlannedGlyph[]): void {
  const byCharacter = new Map(glyphs.filter((g) => g.variant === 0).map((g) => [g.character, g]));
  const sideOf = (character: string, side: 'left' | 'right', seen: readonly string[]): number | null => {
    const set = face.spacing[character];
    const value = side === 'left' ? set?.left : set?.right;
    if (value !== null && value !== undefined) return value;
    const as = side === 'left' ? set?.leftAs : set?.rightAs;
    // Letters that follow each other in a ring are as computed.
    if (as && !seen.includes(as)) return sideOf(as, side, [...seen, as]);
    return byCharacter.get(character)?.[side] ?? null;
  };
  for (const g of glyphs) {
    // Composed letters follow their letter.
    const base = g.of && g.of.length > 1 && g.of.slice(1).every((c) => /^\p{M}$/u.test(c)) ? g.of[0]! : null;
    const from = face.spacing[g.character] ? g.character : base;
    if (!from || !face.spacing[from] || g.kind === 'mark') continue;
    const [left, right] = [sideOf(from, 'left', [from]) ?? g.left, sideOf(from, 'right', [from]) ?? g.right];
    const set = face.spacing[from];
    g.locked = { left: set.left !== null || set.leftAs !== null, right: set.right !== null || set.rightAs !== null };
    Object.assign(g, sided(g, { left, right }, g.kind));
  }
}

/** Thickness of strokes: twice the area by the length of the outline. */
function thickness(contours: readonly Contour[], shape: Shape): number {
  const area = contours.reduce((s, c) => s + areaOf(c), 0);
  let length = 0;
  for (const p of shape.polygons)
    for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) length += Math.hypot(p[i]! - p[j]!, p[i + 1]! - p[j + 1]!);
  return length > 0 ? (2 * area) / length : 0;
}

const STANDS = /^[A-IK-PR-Za-fhik-orstu-xz0-9]$/;

/** What looks wrong beside the others. */
function lookOver(glyphs: PlannedGlyph[], heights: Heights): void {
  const drawn = glyphs.flatMap((g) => {
    const shape = g.of === null ? shapeOf(g.contours) : null;
    return shape ? [{ g, shape, thick: thickness(g.contours, shape) }] : [];
  });
  const usual = new Map(
    (['small', 'capital', 'figure'] as const).map(
      (kind) => [kind, middle(drawn.filter((d) => d.g.kind === kind).map((d) => d.thick))] as const,
    ),
  );
  for (const { g, shape, thick } of drawn) {
    const say = (code: LetterFinding['code'], message: string): void => void g.findings.push({ code, message });
    const { yMin, yMax } = shape.box;
    if (STANDS.test(g.character)) {
      if (Math.abs(yMin) > 45)
        say(
          'baseline',
          yMin > 0
            ? `It stands ${Math.round(yMin)} thousandths of the em above the baseline.`
            : `It reaches ${Math.round(-yMin)} thousandths of the em below the baseline.`,
        );
      if (g.kind === 'capital' && Math.abs(yMax - heights.capHeight) > 55)
        say(
          'height',
          `It is ${yMax > heights.capHeight ? 'taller' : 'lower'} than the other capitals by ${Math.round(Math.abs(yMax - heights.capHeight))}.`,
        );
      if ('acemnorsuvwxz'.includes(g.character) && Math.abs(yMax - heights.xHeight) > 50)
        say(
          'height',
          `It is ${yMax > heights.xHeight ? 'taller' : 'lower'} than the other small letters by ${Math.round(Math.abs(yMax - heights.xHeight))}.`,
        );
    }
    const other = g.kind === 'mark' || g.kind === 'punctuation' ? null : usual.get(g.kind);
    if (other && Math.abs(Math.log(thick / other)) > Math.log(1.35))
      say(
        'weight',
        `Its strokes are ${thick > other ? 'thicker' : 'thinner'} than those of the others by ${Math.round(Math.abs(thick / other - 1) * 100)}%.`,
      );
    const outer = g.contours.filter((c) => areaOf(c) > 0);
    const small = outer.filter((c) => areaOf(c) < 6 * SPECK * INK_EM * INK_EM);
    if (small.length > 0 && small.length < outer.length)
      say('specks', `${small.length === 1 ? 'A speck lies' : `${small.length} specks lie`} beside it.`);
    const expected = g.variant === 0 ? COUNTERS[g.character] : undefined;
    const holes = g.contours.filter((c) => areaOf(c) < 0).length;
    if (expected && holes < expected[0]) say('counter-open', 'A counter is open or filled in; in print it is closed.');
    if (expected && holes > expected[1])
      say(
        'counter-filled',
        `It has ${holes === 1 ? 'a counter' : `${holes} counters`} where print has ${expected[1] === 0 ? 'none' : expected[1]}.`,
      );
    if (yMax > 1000 || yMin < -450) say('tall', 'It reaches far beyond the lines; it would be cut in narrow lines of text.');
  }
}

/** The letter whose sides a glyph has: its own, or that of the letter it was made of. */
export function groupOf(g: Pick<PlannedGlyph, 'character' | 'of'>): string {
  const { of } = g;
  if (!of) return g.character;
  const recipe = recipeOf(g.character);
  if (of.length === 1 && (recipe?.kind === 'copy' || !recipe)) return of[0]!;
  return of.length > 1 && of.slice(1).every((c) => /^\p{M}$/u.test(c)) ? of[0]! : g.character;
}

const SCRIPTS = ['Latn', 'Cyrl', 'Grek'] as const;
const SCRIPT_OF = { Latn: /^\p{Script=Latin}/u, Cyrl: /^\p{Script=Cyrillic}/u, Grek: /^\p{Script=Greek}/u };

/** Kerning as computed, letter by letter: accented ones and further drawings go with their letter. */
function kerningOf(face: Typeface, glyphs: readonly PlannedGlyph[], heights: Heights): ClassKerning {
  const groups = new Map<string, { g: PlannedGlyph; scripts: Set<string> }>();
  for (const g of glyphs) {
    if (g.variant !== 0 || g.kind === 'mark') continue;
    const key = groupOf(g);
    const group = groups.get(key) ?? { g, scripts: new Set() };
    if (g.character === key) group.g = g;
    for (const s of SCRIPTS) if (SCRIPT_OF[s].test(g.character)) group.scripts.add(s);
    groups.set(key, group);
  }
  const letters = [...groups].flatMap(([key, { g, scripts }]): Kernable[] => {
    const shape = shapeOf(g.contours);
    const kind = face.wish.capitalsOnly && g.kind === 'small' ? 'capital' : (g.kind as LetterKind);
    return shape
      ? [
          {
            key,
            kind,
            shape,
            left: g.left,
            right: g.right,
            connected: face.connected && kind === 'small',
            ...(scripts.size > 0 ? { scripts: [...scripts] } : {}),
          },
        ]
      : [];
  });
  return classKerning(letters, heights);
}

function pairsOf(face: Typeface, classes: ClassKerning | null): Plan['pairs'] {
  const set = new Set(face.kerning.map((p) => `${p.left}\0${p.right}`));
  const computed: Plan['pairs'] = [];
  classes?.values.forEach((row, r) =>
    row.forEach((value, c) => {
      if (value === 0) return;
      for (const left of classes.firsts[r]!)
        for (const right of classes.seconds[c]!) if (!set.has(`${left}\0${right}`)) computed.push({ left, right, value, locked: false });
    }),
  );
  computed.sort((p, q) => Math.abs(q.value) - Math.abs(p.value));
  return [...face.kerning.map((p) => ({ ...p, locked: true })), ...computed];
}

/** The boxes that are still without a drawing. */
export const openCells = (face: Pick<Typeface, 'wish' | 'letters'>): { character: string; variant: number }[] => {
  const has = new Set(face.letters.map((l) => `${l.character}/${l.variant}`));
  return cellsFor(face.wish).filter((c) => !has.has(`${c.character}/${c.variant}`));
};
