import type { Contour } from '../../outline/index.js';
import { FontError } from '../../sfnt/index.js';
import { STEP_LIMITS, type DrawnLetter, type LetterStep } from './letters.js';
import type { SetBearings, Typeface } from './typeface.js';

/** A whole typeface as a file: ink, recipes and what was decided. Described in docs/drawn-typeface.schema.json. */
export interface TypefaceFile {
  format: 'drawn-typeface';
  version: 1;
  release: { number: number; day: string } | null;
  typeface: Typeface;
}

/** A typeface as its file. The same typeface gives the same text. */
export function writeTypeface(typeface: Typeface, release: TypefaceFile['release']): string {
  const { facts, wish, letters, adjusted, spacing, kerning, learned, white, kern, turns, tabular, connected } = typeface;
  const file: TypefaceFile = {
    format: 'drawn-typeface',
    version: 1,
    release,
    typeface: {
      facts,
      wish,
      letters: letters.map(({ id, character, variant, ink, steps }) => ({ id, character, variant, ink, steps })),
      adjusted,
      spacing,
      kerning,
      learned,
      white,
      kern,
      turns,
      tabular,
      connected,
    },
  };
  return `${JSON.stringify(file)}\n`;
}

type Json = Record<string, unknown>;
const isRecord = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);
const MOST_LETTERS = 4000;
const MOST_POINTS = 20_000;
const REACH = 20_000;

const wrong = (what: string): never => {
  throw new FontError('bad-table', `This is no file of a drawn typeface: ${what}.`);
};
const text = (v: unknown, what: string, most: number): string =>
  typeof v === 'string' && v.length <= most ? v : wrong(`${what} is not a text of at most ${most} letters`);
const flag = (v: unknown, what: string): boolean => (typeof v === 'boolean' ? v : wrong(`${what} is neither true nor false`));
const list = (v: unknown, what: string, most: number): unknown[] =>
  Array.isArray(v) && v.length <= most ? v : wrong(`${what} is not a list of at most ${most}`);
const number = (v: unknown, what: string, least = -REACH, most = REACH): number =>
  typeof v === 'number' && v >= least && v <= most ? v : wrong(`${what} is not a number from ${least} to ${most}`);
const maybe = <T>(v: unknown, read: (v: unknown) => T): T | null => (v === null || v === undefined ? null : read(v));

/** Outlines as data from outside. @throws FontError when they are none */
export function contoursOf(v: unknown, what: string): Contour[] {
  let points = 0;
  return list(v, `the outline of ${what}`, 2000).map((c) => {
    if (!isRecord(c)) return wrong(`a contour of ${what} is none`);
    const start = list(c.start, `the start of a contour of ${what}`, 2);
    if (start.length !== 2) wrong(`the start of a contour of ${what} is no place`);
    const segments = list(c.segments, `the pieces of a contour of ${what}`, MOST_POINTS).map((s) => {
      const values = list(s, `a piece of ${what}`, 6);
      if (values.length !== 2 && values.length !== 4 && values.length !== 6) wrong(`a piece of ${what} has ${values.length} numbers`);
      points += values.length / 2;
      if (points > MOST_POINTS) wrong(`${what} has more than ${MOST_POINTS} points`);
      return values.map((n) => number(n, `a place in ${what}`));
    });
    return { start: [number(start[0], `a place in ${what}`), number(start[1], `a place in ${what}`)], segments };
  });
}

/** A step of a letter from outside; null where it is none. */
export function letterStepOf(v: unknown): LetterStep | null {
  if (!isRecord(v)) return null;
  const within = (key: string, least: number, most: number): number | null => {
    const n = v[key];
    return typeof n === 'number' && n >= least && n <= most ? n : null;
  };
  const { shift, scale, weight, smooth } = STEP_LIMITS;
  const [x, y] = [within('x', -shift, shift), within('y', -shift, shift)];
  switch (v.step) {
    case 'move':
      return x === null || y === null ? null : { step: 'move', x, y };
    case 'scale': {
      const by = within('by', scale[0], scale[1]);
      return by === null ? null : { step: 'scale', by };
    }
    case 'flip':
      return v.across === 'vertical' || v.across === 'horizontal' ? { step: 'flip', across: v.across } : null;
    case 'turn': {
      const degrees = within('degrees', -360, 360);
      return degrees === null ? null : { step: 'turn', degrees };
    }
    case 'weight': {
      const by = within('by', -weight, weight);
      return by === null ? null : { step: 'weight', by };
    }
    case 'smooth': {
      const most = within('within', 0.1, smooth);
      return most === null ? null : { step: 'smooth', within: most };
    }
    case 'cut':
      return { step: 'cut' };
    case 'clean':
      return { step: 'clean' };
    case 'edit':
      return { step: 'edit', contours: contoursOf(v.contours, 'an edited letter') };
    default:
      return null;
  }
}

/**
 * Reads a typeface from its file.
 * @throws FontError in words at the first thing that is not as it should be
 */
export function readTypeface(source: string): { typeface: Typeface; release: TypefaceFile['release'] } {
  let given: unknown;
  try {
    given = JSON.parse(source);
  } catch {
    return wrong('it is no JSON');
  }
  if (!isRecord(given) || given.format !== 'drawn-typeface') return wrong('“format” is not “drawn-typeface”');
  if (given.version !== 1) return wrong('it is of a version that is not known here');
  const t = isRecord(given.typeface) ? given.typeface : wrong('“typeface” is missing');
  const f = isRecord(t.facts) ? t.facts : wrong('“facts” is missing');
  const w = isRecord(t.wish) ? t.wish : wrong('“wish” is missing');
  const embedding = f.embedding;
  if (embedding !== 0 && embedding !== 2 && embedding !== 4 && embedding !== 8) return wrong('“embedding” is none of 0, 2, 4, 8');
  const ids = new Set<string>();
  const letters = list(t.letters, '“letters”', MOST_LETTERS).map((v, i): DrawnLetter => {
    const what = `letter ${i + 1}`;
    if (!isRecord(v)) return wrong(`${what} is none`);
    const id = text(v.id, `the id of ${what}`, 120);
    if (ids.has(id)) wrong(`two letters have the id “${id}”`);
    ids.add(id);
    return {
      id,
      character: text(v.character, `the character of ${what}`, 20),
      variant: number(v.variant, `the variant of ${what}`, 0, 9),
      ink: contoursOf(v.ink, what),
      steps: list(v.steps, `the steps of ${what}`, 200).map((s) => letterStepOf(s) ?? wrong(`a step of ${what} is not known here`)),
    };
  });
  const record = <T>(v: unknown, what: string, read: (v: unknown, key: string) => T): Record<string, T> => {
    if (!isRecord(v)) return wrong(`${what} is missing`);
    if (Object.keys(v).length > MOST_LETTERS) wrong(`${what} has too many letters`);
    return Object.fromEntries(Object.entries(v).map(([key, value]) => [text(key, what, 20), read(value, key)]));
  };
  const side = (v: unknown): number => number(v, 'a side bearing', -2000, 4000);
  const r = given.release;
  return {
    typeface: {
      facts: {
        family: text(f.family, '“family”', 60),
        style: text(f.style, '“style”', 40),
        maker: text(f.maker, '“maker”', 200),
        license: text(f.license, '“license”', 1000),
        licenseUrl: text(f.licenseUrl, '“licenseUrl”', 500),
        embedding,
      },
      wish: {
        languages: list(w.languages, '“languages”', 400).map((l) => text(l, 'a language', 30)),
        figures: flag(w.figures, '“figures”'),
        punctuation: flag(w.punctuation, '“punctuation”'),
        currency: flag(w.currency, '“currency”'),
        fractions: flag(w.fractions, '“fractions”'),
        capitalsOnly: flag(w.capitalsOnly, '“capitalsOnly”'),
        variants: number(w.variants, '“variants”', 0, 3),
        ligatures: list(w.ligatures, '“ligatures”', 40).map((l) => text(l, 'a ligature', 10)),
        also: text(w.also, '“also”', 500),
      },
      letters,
      adjusted: record(t.adjusted, '“adjusted”', (v) =>
        list(v, 'shifts of marks', 6).map((s) =>
          isRecord(s)
            ? { x: number(s.x, 'a shift', -1000, 1000), y: number(s.y, 'a shift', -1000, 1000) }
            : wrong('a shift of a mark is none'),
        ),
      ),
      spacing: record(t.spacing, '“spacing”', (v): SetBearings => {
        if (!isRecord(v)) return wrong('the sides of a letter are none');
        return {
          left: maybe(v.left, side),
          right: maybe(v.right, side),
          leftAs: maybe(v.leftAs, (n) => text(n, 'a letter to follow', 20)),
          rightAs: maybe(v.rightAs, (n) => text(n, 'a letter to follow', 20)),
        };
      }),
      kerning: list(t.kerning, '“kerning”', 20_000).map((p) =>
        isRecord(p)
          ? { left: text(p.left, 'a pair', 20), right: text(p.right, 'a pair', 20), value: number(p.value, 'a pair', -1000, 1000) }
          : wrong('a pair is none'),
      ),
      learned: maybe(t.learned, (v) => number(v, '“learned”', 0, 400)),
      white: maybe(t.white, (v) => number(v, '“white”', 0, 400)),
      kern: flag(t.kern, '“kern”'),
      turns: flag(t.turns, '“turns”'),
      tabular: flag(t.tabular, '“tabular”'),
      // Files of before say nothing about it.
      connected: t.connected === undefined ? false : flag(t.connected, '“connected”'),
    },
    release:
      isRecord(r) && Number.isInteger(r.number) && (r.number as number) > 0 && /^\d{4}-\d{2}-\d{2}$/.test(String(r.day))
        ? { number: r.number as number, day: String(r.day) }
        : null,
  };
}
