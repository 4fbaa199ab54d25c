import { language } from '../unicode/index.js';
import type { Cell } from './sheet.js';

/** Scripts whose letters stand side by side as they are; others join, stack or move and are not made from boxes. */
export const DRAWN_SCRIPTS: readonly string[] = ['Latn', 'Cyrl', 'Grek'];

/** What a face shall have. */
export interface CharacterWish {
  /** CLDR tags. */
  languages: readonly string[];
  figures: boolean;
  punctuation: boolean;
  currency: boolean;
  fractions: boolean;
  /** Small letters are copies of the capitals. */
  capitalsOnly: boolean;
  /** Drawings of each small letter beside the first, which take turns. */
  variants: number;
  /** Sequences that are drawn as one, such as "th". */
  ligatures: readonly string[];
  /** Further characters. */
  also: string;
}

/** How a character comes of others. */
export type Composition =
  /** The same shape as another one. */
  | { kind: 'copy'; of: string }
  /** A letter with marks, inner ones first. */
  | { kind: 'marks'; base: string; marks: readonly string[] }
  /** A letter with a bar through it, made of the hyphen or the slash. */
  | { kind: 'barred'; base: string; bar: '-' | '/'; height: number; at: 'stem' | 'middle' }
  | { kind: 'turned'; of: string; low: number }
  | { kind: 'raised'; of: string; to: number }
  | { kind: 'row'; of: readonly string[] }
  | { kind: 'stack'; lower: string; upper: string }
  | { kind: 'stretched'; of: string; by: number; y: number | null }
  | { kind: 'fraction'; over: string; under: string };

/** Common practice of type design, but for compositions, which are Unicode's. Heights in thousandths of the em. */
const RECIPES: Readonly<Record<string, Composition>> = {
  '‘': { kind: 'turned', of: ',', low: 480 },
  '’': { kind: 'raised', of: ',', to: 700 },
  '‚': { kind: 'copy', of: ',' },
  '“': { kind: 'row', of: ['‘', '‘'] },
  '”': { kind: 'row', of: ['’', '’'] },
  '„': { kind: 'row', of: [',', ','] },
  '"': { kind: 'row', of: ["'", "'"] },
  '…': { kind: 'row', of: ['.', '.', '.'] },
  ':': { kind: 'stack', lower: '.', upper: '.' },
  ';': { kind: 'stack', lower: ',', upper: '.' },
  '·': { kind: 'raised', of: '.', to: 380 },
  '¡': { kind: 'turned', of: '!', low: -200 },
  '¿': { kind: 'turned', of: '?', low: -200 },
  '–': { kind: 'stretched', of: '-', by: 1.6, y: null },
  '—': { kind: 'stretched', of: '-', by: 2.8, y: null },
  '−': { kind: 'stretched', of: '-', by: 1.5, y: null },
  _: { kind: 'stretched', of: '-', by: 1.8, y: -120 },
  '\u2010': { kind: 'copy', of: '-' },
  '\u2011': { kind: 'copy', of: '-' },
  '\u00ad': { kind: 'copy', of: '-' },
  '′': { kind: 'copy', of: "'" },
  '″': { kind: 'row', of: ["'", "'"] },
  '»': { kind: 'row', of: ['›', '›'] },
  '«': { kind: 'row', of: ['‹', '‹'] },
  '½': { kind: 'fraction', over: '1', under: '2' },
  '¼': { kind: 'fraction', over: '1', under: '4' },
  '¾': { kind: 'fraction', over: '3', under: '4' },
  đ: { kind: 'barred', base: 'd', bar: '-', height: 620, at: 'stem' },
  Đ: { kind: 'barred', base: 'D', bar: '-', height: 350, at: 'stem' },
  ħ: { kind: 'barred', base: 'h', bar: '-', height: 620, at: 'stem' },
  Ħ: { kind: 'barred', base: 'H', bar: '-', height: 540, at: 'middle' },
  ŧ: { kind: 'barred', base: 't', bar: '-', height: 260, at: 'middle' },
  Ŧ: { kind: 'barred', base: 'T', bar: '-', height: 350, at: 'middle' },
  ł: { kind: 'barred', base: 'l', bar: '/', height: 370, at: 'middle' },
  Ł: { kind: 'barred', base: 'L', bar: '/', height: 350, at: 'stem' },
  ø: { kind: 'barred', base: 'o', bar: '/', height: 240, at: 'middle' },
  Ø: { kind: 'barred', base: 'O', bar: '/', height: 350, at: 'middle' },
  // Letters that look the same in another script.
  ...Object.fromEntries(
    [
      'аa',
      'еe',
      'оo',
      'рp',
      'сc',
      'хx',
      'уy',
      'іi',
      'јj',
      'ѕs',
      'АA',
      'ВB',
      'ЕE',
      'КK',
      'МM',
      'НH',
      'ОO',
      'РP',
      'СC',
      'ТT',
      'ХX',
      'ІI',
      'ЈJ',
      'ЅS',
      'οo',
      'ΑA',
      'ΒB',
      'ΕE',
      'ΖZ',
      'ΗH',
      'ΙI',
      'ΚK',
      'ΜM',
      'ΝN',
      'ΟO',
      'ΡP',
      'ΤT',
      'ΥY',
      'ΧX',
    ].map((pair) => [[...pair][0]!, { kind: 'copy', of: [...pair][1]! } as const]),
  ),
};

/** Spacing forms of marks, for those who type them alone. */
const SPACING: Readonly<Record<string, string>> = {
  '´': '\u0301',
  '`': '\u0300',
  '¨': '\u0308',
  '˜': '\u0303',
  '¸': '\u0327',
  '΄': '\u0301',
  '΅': '\u0301',
};

/** How a character is made of others where it is not drawn itself; null where it must be drawn. */
export function recipeOf(character: string): Composition | null {
  const known = RECIPES[character];
  if (known) return known;
  const [base, ...marks] = [...character.normalize('NFD')];
  if (marks.length === 0 || base === undefined || marks.some((m) => !/^\p{M}$/u.test(m))) return null;
  return { kind: 'marks', base, marks };
}

/** Everything that a recipe stands on, taken apart until it is drawn. */
export function partsOf(character: string, deep = 0): string[] {
  const recipe = recipeOf(character);
  if (!recipe || deep > 6) return [character];
  const direct =
    recipe.kind === 'marks'
      ? [recipe.base, ...recipe.marks]
      : recipe.kind === 'barred'
        ? [recipe.base, recipe.bar]
        : recipe.kind === 'row'
          ? recipe.of
          : recipe.kind === 'stack'
            ? [recipe.lower, recipe.upper]
            : recipe.kind === 'fraction'
              ? [recipe.over, recipe.under, '/']
              : [recipe.of];
  return [...new Set(direct.flatMap((c) => partsOf(c, deep + 1)))];
}

const FIGURES = [...'0123456789'];
const COMMON = [...'.,:;!?\'"()-–—/&@#%+*=…‘’“”„'];
const CURRENCY = [...'€$£'];
const FRACTIONS = [...'½¼¾'];

/** All code points that a face of this wish shall have, ascending. */
export function wantedCharacters(wish: CharacterWish): string[] {
  const out = new Set<string>();
  for (const tag of wish.languages) {
    const l = language(tag);
    if (!l || !DRAWN_SCRIPTS.includes(l.script)) continue;
    const add = (points: Iterable<number>): void => {
      for (const c of points) out.add(String.fromCodePoint(c));
    };
    add(l.letters);
    // Letters that Unicode has no single character for need their marks.
    for (const cluster of l.clusters) for (const c of cluster.normalize('NFD')) out.add(c);
    if (wish.figures) add([...l.numbers].filter((c) => c < 0x80));
    if (wish.punctuation)
      add([...l.punctuation].filter((c) => !/\s/.test(String.fromCodePoint(c)) && COMMON_OR_USUAL.has(String.fromCodePoint(c))));
    // A language of half the world has the signs of half the world; those are not asked of a hand.
    if (wish.currency && l.currencySigns.length <= 3) for (const sign of l.currencySigns) if ([...sign].length === 1) out.add(sign);
  }
  if (wish.figures) FIGURES.forEach((c) => out.add(c));
  if (wish.punctuation) COMMON.forEach((c) => out.add(c));
  if (wish.currency) CURRENCY.forEach((c) => out.add(c));
  if (wish.fractions) FRACTIONS.forEach((c) => out.add(c));
  for (const c of wish.also) if (!/[\s\p{C}]/u.test(c)) out.add(c);
  return [...out].sort((a, b) => a.codePointAt(0)! - b.codePointAt(0)!);
}
/** Punctuation of languages that is asked of a hand beside the common marks. */
const COMMON_OR_USUAL = new Set([...COMMON, ...'«»‹›‚¡¿·‐‑†§№{}[]&@']);

const RANK: readonly RegExp[] = [/^\p{Ll}$/u, /^\p{Lu}$/u, /^\p{L}/u, /^\p{Nd}$/u, /^[.,]$/, /^\p{P}$/u, /^\p{S}$/u, /^\p{M}$/u];
const rankOf = (c: string): number => {
  const at = RANK.findIndex((r) => r.test(c));
  return at < 0 ? RANK.length : at;
};

/**
 * The boxes of a sheet for a wish: what cannot be made of other boxes, small letters first, then capitals, figures, signs and marks;
 * further drawings of a letter after all first ones, so that hands do not copy what they just drew.
 */
export function cellsFor(wish: CharacterWish): Cell[] {
  const parts = new Set(wantedCharacters(wish).flatMap((c) => partsOf(c)));
  if (parts.has('ı')) parts.add('i');
  parts.delete('ı');
  parts.delete('ȷ');
  const all = [...parts].filter(
    (c) => !wish.capitalsOnly || !(/^\p{Ll}$/u.test(c) && [...c.toUpperCase()].length === 1 && c.toUpperCase() !== c),
  );
  if (wish.capitalsOnly)
    for (const c of parts) {
      const up = c.toUpperCase();
      if ([...up].length === 1) for (const p of partsOf(up)) if (!all.includes(p)) all.push(p);
    }
  const order = [...new Set(all)].sort((a, b) => rankOf(a) - rankOf(b) || a.codePointAt(0)! - b.codePointAt(0)!);
  const first = [...order, ...wish.ligatures].map((character): Cell => ({ character, variant: 0 }));
  const further: Cell[] = [];
  for (let variant = 1; variant <= wish.variants; variant++)
    for (const character of order)
      if (/^\p{L}$/u.test(character) && (wish.capitalsOnly || /^\p{Ll}$/u.test(character))) further.push({ character, variant });
  return [...first, ...further];
}

/** Words that show a hand's spacing: small letters with straight and round sides, of which the sheet has all. */
export function wordsFor(cells: readonly Cell[]): string[] {
  const has = new Set(cells.map((c) => c.character));
  const words = ['minimum honey', 'bread and onion', 'нижнім плином', 'ναι όμοιο'];
  return words.filter((w) => [...w.replace(/ /g, '')].every((c) => partsOf(c).every((p) => has.has(p)))).slice(0, 2);
}

export { SPACING };
