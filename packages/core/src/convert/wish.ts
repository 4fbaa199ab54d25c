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
  /** Characters that must stay, as runs [first, last, ...]. */
  runs?: readonly number[];
  /** Features that stay, or that go, by their tags; only one of the two. */
  keep?: string;
  drop?: string;
  /** Where a variable face is fixed: "wght=700,wdth=100", or the name of an instance; '' is its usual design. */
  at?: string;
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
  if (wish.at !== undefined) recipe.push({ step: 'instance', options: { at: wish.at } });
  if (wish.runs || wish.keep !== undefined || wish.drop !== undefined) {
    const options: Record<string, Options[string]> = { runs: wish.runs ?? face.runs };
    if (wish.keep !== undefined) options.keep = wish.keep;
    else if (wish.drop !== undefined) options.drop = wish.drop;
    recipe.push({ step: 'subset', options });
  }
  const outlines = face.outlineKind === 'glyf' ? 'glyf' : 'CFF';
  const wanted = wish.to === 'ttf' ? 'glyf' : wish.to === 'otf' ? 'CFF' : outlines;
  if (wanted !== outlines)
    recipe.push({ step: 'outlines', options: { to: wanted, ...(wish.tolerance === undefined ? {} : { tolerance: wish.tolerance }) } });
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
