import type { GivenCodePoint } from '../product.js';
import type { Inking } from './drawing.js';
import { ICON_NAME, LIGATURE, PREFIX } from './names.js';
import { isPrivateUse, uPlus } from './codes.js';
import type { PlaceStep } from './place.js';

/** How a page names a drawing: a class on its element, or an attribute that has the name. */
export type Selector = 'class' | 'attribute';
/** Where a drawing's board stands in a line of text: its lower edge on the baseline, or its middle at the middle of capitals. */
export type Line = 'baseline' | 'middle';
export const ICON_FORMATS = ['ttf', 'woff', 'woff2', 'otf'] as const;
export type IconFormat = (typeof ICON_FORMATS)[number];

/** What is true of a whole set. */
export interface SetFacts {
  family: string;
  /** What stands before a name in its class, as "seed-"; ends in a hyphen. */
  prefix: string;
  /** The class that every drawing of the set has beside its own. */
  base: string;
  selector: Selector;
  maker: string;
  license: string;
  licenseUrl: string;
  /** Font units an em; null: by the boards of the drawings. */
  em: number | null;
  line: Line;
  /** px of the smallest size at which it is shown. */
  smallest: number;
  formats: readonly IconFormat[];
}

/** One drawing of a set and what a person decided about it. */
export interface Icon {
  /** Stays when the name changes. */
  id: string;
  name: string;
  /** Older or further names whose classes work as well. */
  aliases: readonly string[];
  /** Of the private-use area; null until it is given one. */
  codePoint: number | null;
  /** Characters of Unicode that it is, as an arrow; on request. */
  characters: readonly number[];
  /** Words that become it when typed. */
  words: readonly string[];
  /** The drawing as it came in, with what could run or be fetched left out. */
  svg: string;
  inking: Inking | 'color' | null;
  /** The drawing of the set that a style sheet lays under it in a paler tone, by its id; null: it stands alone. */
  beneath: string | null;
  cut: boolean;
  place: readonly PlaceStep[];
  /** Whether it is mirrored in text that runs right to left, as arrows are. */
  mirror: boolean;
}

export interface IconSet {
  facts: SetFacts;
  icons: readonly Icon[];
  /** All that releases gave away, drawings that are gone among them. */
  given: readonly GivenCodePoint[];
}

/** What is true of a set when nothing else was said. */
export const DEFAULT_FACTS: Omit<SetFacts, 'family' | 'prefix' | 'base'> = {
  selector: 'class',
  maker: '',
  license: '',
  licenseUrl: '',
  em: null,
  line: 'middle',
  smallest: 16,
  formats: ['ttf', 'woff', 'woff2'],
};

/** A drawing as it is when it has just come in. */
export const newIcon = (id: string, name: string, svg: string): Icon => ({
  id,
  name,
  aliases: [],
  codePoint: null,
  characters: [],
  words: [],
  svg,
  inking: null,
  beneath: null,
  cut: true,
  place: [],
  mirror: false,
});

/** What keeps a set from being made, in sentences; none: it can be. */
export function contradictionsOf({ facts, icons, given }: IconSet): string[] {
  const out: string[] = [];
  if (facts.family.trim() === '' || facts.family.length > 60) out.push('A set needs a family name of 1 to 60 letters.');
  if (!PREFIX.test(facts.prefix) || facts.prefix.length > 24)
    out.push('A prefix has small letters, figures and hyphens and begins with a letter, as “seed-”.');
  if (!PREFIX.test(facts.base) || facts.base.length > 40)
    out.push('The base class has small letters, figures and hyphens and begins with a letter.');
  if (icons.some((i) => [i.name, ...i.aliases].some((n) => `${facts.prefix}${n}` === facts.base)))
    out.push(`“${facts.base}” would be the base class and a drawing’s own.`);
  if (facts.formats.length === 0) out.push('Choose at least one format.');
  if (facts.em !== null && !(Number.isInteger(facts.em) && facts.em >= 16 && facts.em <= 16384)) out.push('An em has 16 to 16,384 units.');
  if (facts.licenseUrl !== '' && !/^https?:\/\/[^\s<>"]+$/.test(facts.licenseUrl))
    out.push('The address of the license begins with https://.');
  if (icons.length === 0) out.push('There is no drawing in it yet.');
  if (icons.length > 6000) out.push(`A set has 6,000 drawings at most; this one has ${icons.length.toLocaleString('en-US')}.`);
  const classes = new Map<string, string>();
  const points = new Map<number, string>();
  const words = new Map<string, string>();
  const before = new Map(given.map((g) => [g.codePoint, g.name]));
  const byId = new Map(icons.map((i) => [i.id, i]));
  for (const icon of icons) {
    if (!ICON_NAME.test(icon.name)) out.push(`“${icon.name}” cannot be a name: small letters, figures and hyphens, at most 60.`);
    if (icon.beneath !== null) {
      const under = byId.get(icon.beneath);
      if (!under || under === icon)
        out.push(`The layer beneath “${icon.name}” is not in the set. Bring it back, or let the drawing stand alone.`);
      else if (under.beneath !== null)
        out.push(`“${under.name}” lies beneath “${icon.name}” and has a layer beneath itself; two are all there are.`);
    }
    for (const name of [icon.name, ...icon.aliases]) {
      const other = classes.get(name);
      if (other !== undefined) out.push(`“${facts.prefix}${name}” would be the class of two drawings, “${other}” and “${icon.name}”.`);
      classes.set(name, icon.name);
    }
    for (const c of [...(icon.codePoint === null ? [] : [icon.codePoint]), ...icon.characters]) {
      const other = points.get(c);
      if (other !== undefined) out.push(`${uPlus(c)} would be two drawings, “${other}” and “${icon.name}”.`);
      points.set(c, icon.name);
    }
    if (icon.codePoint !== null && !isPrivateUse(icon.codePoint))
      out.push(`${uPlus(icon.codePoint)}, of “${icon.name}”, is not in the private-use area; characters of Unicode are given beside it.`);
    const kept = icon.codePoint === null ? undefined : before.get(icon.codePoint);
    if (kept !== undefined && kept !== icon.id)
      out.push(`${uPlus(icon.codePoint!)} belongs to another drawing since a release; it never means anything else.`);
    for (const g of given)
      if (g.name === icon.id && g.codePoint !== icon.codePoint && !icon.characters.includes(g.codePoint))
        out.push(`“${icon.name}” was released as ${uPlus(g.codePoint)}; a released code point never moves.`);
    for (const word of icon.words) {
      if (!LIGATURE.test(word))
        out.push(`“${word}” cannot be a word that becomes a drawing: small letters, figures, hyphens and underscores, two at least.`);
      const other = words.get(word);
      if (other !== undefined) out.push(`The word “${word}” would become two drawings, “${other}” and “${icon.name}”.`);
      words.set(word, icon.name);
    }
    for (const c of icon.characters)
      if (c < 0x20 || c > 0x10ffff || (c >= 0xd800 && c <= 0xdfff) || isPrivateUse(c) || /^[\p{L}\p{N}\s]$/u.test(String.fromCodePoint(c)))
        out.push(`${uPlus(c)} cannot be “${icon.name}”: letters, figures and spaces stay with text.`);
  }
  return [...new Set(out)];
}
