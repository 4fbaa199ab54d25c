import type { OutlineKind } from '../font/index.js';
import type { FontFormat } from '../sfnt/index.js';
import { toRuns } from '../text/index.js';
import { language } from '../unicode/index.js';
import type { Options, Recipe, RecipeStep, TargetFormat } from './step.js';

/** What somebody wants of a face, in the words of a form or a command; what is left out stays as it is. */
export interface Wish {
  to: TargetFormat;
  /** Thousandths of the em. */
  tolerance?: number;
  /** Quadratic outlines in a fraction of the time, with more points. */
  quick?: boolean;
  /** Characters that must stay, as runs [first, last, ...]. */
  runs?: readonly number[];
  /** Features that stay, or that go, by their tags; only one of the two. */
  keep?: string;
  drop?: string;
  /** Where a variable face is fixed: "wght=700,wdth=100", or the name of an instance; '' is its usual design. */
  at?: string;
  /** Axes that are narrowed or taken out: "wght=300:700,opsz=14". */
  axes?: string;
  /** Whether color is taken out. */
  plain?: boolean;
  /** Whether contours that overlap become one outline. */
  unite?: boolean;
  /** Whether faults are put right first. */
  mend?: boolean;
  /** Other names: family, style, version, vendor and those of GIVEN_NAMES; what is left out stays. */
  names?: Options;
}

/** What must be known of a face to plan for it. */
export interface Wanted {
  readonly outlineKind: OutlineKind;
  /** Its characters, as runs [first, last, ...]. */
  readonly runs: readonly number[];
}

/**
 * The recipe that a wish comes to: first the place of the axes, then what is cut away, then other outlines, then the container.
 * Steps that would change nothing are left out.
 */
export function recipeFor(face: Wanted, format: FontFormat, wish: Wish): Recipe {
  const recipe: RecipeStep[] = [];
  if (wish.mend) recipe.push({ step: 'mend', options: {} });
  if (wish.at !== undefined) recipe.push({ step: 'instance', options: { at: wish.at } });
  else if (wish.axes !== undefined) recipe.push({ step: 'axes', options: { keep: wish.axes } });
  if (wish.plain) recipe.push({ step: 'plain', options: {} });
  if (wish.runs || wish.keep !== undefined || wish.drop !== undefined) {
    const options: Record<string, Options[string]> = { runs: wish.runs ?? face.runs };
    if (wish.keep !== undefined) options.keep = wish.keep;
    else if (wish.drop !== undefined) options.drop = wish.drop;
    recipe.push({ step: 'subset', options });
  }
  if (wish.unite) recipe.push({ step: 'overlaps', options: {} });
  const outlines = face.outlineKind === 'glyf' ? 'glyf' : 'CFF';
  const wanted = wish.to === 'ttf' ? 'glyf' : wish.to === 'otf' ? 'CFF' : outlines;
  if (wanted !== outlines)
    recipe.push({
      step: 'outlines',
      options: {
        to: wanted,
        ...(wish.tolerance === undefined ? {} : { tolerance: wish.tolerance }),
        ...(wish.quick && wanted === 'glyf' ? { quick: true } : {}),
      },
    });
  if (wish.names && Object.keys(wish.names).length > 0) recipe.push({ step: 'rename', options: wish.names });
  const plain = wanted === 'glyf' ? 'ttf' : 'otf';
  if (wish.to !== (recipe.length > 0 ? plain : format)) recipe.push({ step: 'container', options: { to: wish.to } });
  return recipe;
}

/**
 * What some languages are written with, and what running text of any needs, as runs: letters with their parts, figures,
 * punctuation and currency signs.
 * @param tags CLDR tags; unknown ones add nothing
 */
export function runsOfLanguages(tags: readonly string[]): number[] {
  const points = new Set<number>(Array.from({ length: 0x5f }, (_, i) => 0x20 + i));
  // The no-break space, quotes, dashes, the ellipsis and the euro (common practice).
  for (const c of '\u00a0\u00ad«»‘’‚“”„–—…€·©®°') points.add(c.codePointAt(0)!);
  for (const tag of tags) {
    const found = language(tag);
    if (!found) continue;
    for (const list of [found.letters, found.numbers, found.punctuation]) for (const c of list) points.add(c);
    for (const text of [...found.clusters, ...found.currencySigns]) for (const c of text) points.add(c.codePointAt(0)!);
  }
  // Where a mark stands alone, shapers draw it on a dotted circle. Source: OpenType script specifications (Indic and others).
  if ([...points].some((c) => /^\p{M}$/u.test(String.fromCodePoint(c)))) points.add(0x25cc);
  // Letters may be written in parts as well.
  for (const c of [...points]) for (const part of String.fromCodePoint(c).normalize('NFD')) points.add(part.codePointAt(0)!);
  return toRuns([...points].sort((a, b) => a - b));
}

/** What a text is written with, as runs: as it stands, composed and taken apart. Controls and line ends are left out. */
export function runsOfText(text: string): number[] {
  const points = new Set<number>();
  for (const form of [text, text.normalize('NFC'), text.normalize('NFD')])
    for (const c of form) if (!/^\p{Cc}$/u.test(c)) points.add(c.codePointAt(0)!);
  return toRuns([...points].sort((a, b) => a - b));
}

/**
 * Ranges as CSS and people write them: "U+0020-007E, U+20AC, U+04??". Null where a part is none.
 * Source: CSS Fonts Module Level 4, unicode-range.
 */
export function runsOfRanges(text: string): number[] | null {
  const points = new Set<number>();
  for (const part of text.split(/[\s,]+/).filter(Boolean)) {
    const match = /^(?:U\+)?([0-9A-F]{1,6})(\?{0,5})(?:-(?:U\+)?([0-9A-F]{1,6}))?$/i.exec(part);
    if (!match || (match[2] !== '' && match[3] !== undefined)) return null;
    const first = parseInt(match[1]! + '0'.repeat(match[2]!.length), 16);
    const last = match[3] === undefined ? parseInt(match[1]! + 'F'.repeat(match[2]!.length), 16) : parseInt(match[3], 16);
    if (last < first || last > 0x10ffff) return null;
    for (let c = first; c <= last; c++) points.add(c);
  }
  return points.size === 0 ? null : toRuns([...points].sort((a, b) => a - b));
}

/** What a file comes to in another container, against the plain one; means over text faces, measured (bench/README.md). */
const PACKED: Readonly<Record<'glyf' | 'CFF', Readonly<Record<FontFormat, number>>>> = {
  glyf: { ttf: 1, otf: 1, ttc: 1, eot: 1, svg: 2.5, woff: 0.55, woff2: 0.42 },
  CFF: { ttf: 1, otf: 1, ttc: 1, eot: 1, svg: 2.5, woff: 0.74, woff2: 0.66 },
};
/** Tables that every file has, bytes. */
const LEAST = 2500;

/**
 * About how large a face is after a recipe, before anything is made: by the share of its characters that stay, its container and
 * its outlines. Right within a factor of two for most faces, and no promise.
 * @param bytes size of the file as it is
 */
export function estimateBytes(face: Wanted & { readonly axisCount: number }, format: FontFormat, bytes: number, recipe: Recipe): number {
  let kind: 'glyf' | 'CFF' = face.outlineKind === 'glyf' ? 'glyf' : 'CFF';
  let plain = bytes / PACKED[kind][format];
  let container: FontFormat = kind === 'glyf' ? 'ttf' : 'otf';
  const count = (runs: readonly number[]): number => {
    let sum = 0;
    for (let i = 0; i < runs.length; i += 2) sum += runs[i + 1]! - runs[i]! + 1;
    return sum;
  };
  const both = (a: readonly number[], b: readonly number[]): number => {
    let sum = 0;
    for (let i = 0; i < a.length; i += 2)
      for (let k = 0; k < b.length; k += 2) sum += Math.max(0, Math.min(a[i + 1]!, b[k + 1]!) - Math.max(a[i]!, b[k]!) + 1);
    return sum;
  };
  for (const { step, options } of recipe) {
    if (step === 'subset') plain = LEAST + (plain * both(face.runs, options.runs as readonly number[])) / Math.max(1, count(face.runs));
    // Each axis about doubles what outlines take.
    if (step === 'instance') plain /= 1 + face.axisCount;
    if (step === 'outlines') {
      const to = options.to === 'CFF' ? 'CFF' : 'glyf';
      if (to !== kind) plain *= to === 'CFF' ? 0.7 : 1.4;
      kind = to;
      container = to === 'CFF' ? 'otf' : 'ttf';
    }
    if (step === 'container') container = options.to as FontFormat;
  }
  return Math.round(recipe.length === 0 ? bytes : plain * PACKED[kind][container]);
}
