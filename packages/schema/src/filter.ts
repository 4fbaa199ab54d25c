import { isSure, type Wanted } from './order.js';
import type { z } from 'zod';
import type { answer } from './words.js';

type Answer = z.infer<typeof answer>;

/** What the filter needs of a family; both the list in the browser and the one on the server have it. */
export interface Filtered {
  id: string;
  name: string;
  /** Names of families whose faces are folded behind it: searching them finds it. */
  also: readonly string[];
  note: string;
  labels: readonly string[];
  favorite: boolean;
  archived: boolean;
  kind: string | null;
  confidence: number;
  scripts: readonly string[];
  languages: readonly string[];
  features: readonly string[];
  axes: readonly string[];
  color: boolean;
  places: readonly string[];
  sources: readonly string[];
  verdicts: Readonly<Record<string, Answer>>;
  formats: readonly string[];
  addedAt: string;
  licenseName: string | null;
  faces: readonly Styled[];
}

/** What of a face's style can be asked for. Units: usWeightClass, usWidthClass, and the axes' own. */
export interface Styled {
  style: string;
  weightClass: number;
  widthClass: number;
  italic: boolean;
  variable: boolean;
  ranges: { wght?: readonly [number, number] | undefined; wdth?: readonly [number, number] | undefined };
}

/** usWeightClass from and to. Source: OpenType specification, OS/2. */
const WEIGHTS = { light: [1, 349], regular: [350, 449], medium: [450, 649], bold: [650, 1000] } as const;
/** usWidthClass from and to, and the wdth axis in per cent. Source: OpenType specification, OS/2 and the axis registry. */
const WIDTHS = { narrow: [1, 4, 0, 93.75], normal: [5, 5, 93.75, 106.25], wide: [6, 9, 106.25, 1000] } as const;
/** The styles by which each is asked for. */
export const WEIGHT_LABELS: Readonly<Record<keyof typeof WEIGHTS, string>> = {
  light: 'light or thinner',
  regular: 'regular',
  medium: 'medium or semi-bold',
  bold: 'bold or heavier',
};
export const WIDTH_LABELS: Readonly<Record<keyof typeof WIDTHS, string>> = {
  narrow: 'condensed',
  normal: 'of normal width',
  wide: 'expanded',
};
export const SLOPE_LABELS = { upright: 'upright', slanted: 'italic or slanted' } as const;

/** Whether one style is what the sentence asks for. A variable face counts with all it can become. */
function styleFits(wanted: Pick<Wanted, 'weight' | 'width' | 'slope'>, f: Styled): boolean {
  if (wanted.slope !== '' && f.italic !== (wanted.slope === 'slanted')) return false;
  if (wanted.weight !== '') {
    const [from, to] = WEIGHTS[wanted.weight];
    const [low, high] = f.ranges.wght ?? [f.weightClass, f.weightClass];
    if (high < from || low > to) return false;
  }
  if (wanted.width !== '') {
    const [from, to, least, most] = WIDTHS[wanted.width];
    if (f.ranges.wdth ? f.ranges.wdth[1] < least || f.ranges.wdth[0] > most : f.widthClass < from || f.widthClass > to) return false;
  }
  return true;
}

/** Everyday words for uses; a search finds families cleared for them. */
const USE_SEARCH: Readonly<Record<string, string>> = {
  'design-work': 'design layout drawing desktop',
  'printed-goods':
    'print printing t-shirts tshirts shirts aprons bags mugs posters labels packaging packets goods merchandise signs flyers cards stickers',
  logo: 'logo logos brand trademark mark',
  website: 'website web site online pages',
  'online-store': 'store shop webshop online',
  'design-tool': 'tool template online',
  documents: 'documents pdf ebook e-book epub books',
  app: 'app apps game games program',
  'customers-words': 'personalized customers custom engraving made-to-order',
  changing: 'changing editing modify',
  'passing-on': 'printer contractor share',
};
const KIND_SEARCH: Readonly<Record<string, string>> = {
  serif: 'serif serifs roman antiqua',
  sans: 'sans sans-serif sansserif grotesque',
  handwriting: 'handwriting handwritten script scripts cursive brush lettering',
  monospaced: 'monospaced mono monospace fixed-width typewriter code',
  symbols: 'symbols icons pictograms dingbats ornaments',
};
/** Source: OpenType Layout tag registry. */
const FEATURE_SEARCH: Readonly<Record<string, string>> = {
  smcp: 'smallcaps small-caps small capitals',
  c2sc: 'smallcaps small-caps small capitals',
  tnum: 'tabular figures numbers',
  pnum: 'proportional figures numbers',
  onum: 'old-style oldstyle figures numbers',
  lnum: 'lining figures numbers',
  frac: 'fractions',
  afrc: 'fractions',
  liga: 'ligatures',
  dlig: 'ligatures discretionary',
  swsh: 'swashes',
  cswh: 'swashes',
  salt: 'alternates stylistic',
  calt: 'alternates contextual',
  titl: 'titling',
  ordn: 'ordinals',
  sups: 'superscript superior',
  subs: 'subscript inferior',
  zero: 'slashed zero',
  case: 'case-sensitive capitals',
  unic: 'unicase',
};
const AXIS_SEARCH: Readonly<Record<string, string>> = { wght: 'weight', wdth: 'width', opsz: 'optical', slnt: 'slant', ital: 'italic' };
const SLOPED = 'italic italics slanted oblique';

/** All the words that facts of a family answer to. */
function factWords(f: Filtered): string[] {
  const out = [...f.formats];
  if (f.kind !== null && isSure(f.confidence)) out.push(KIND_SEARCH[f.kind] ?? f.kind);
  for (const [use, answer] of Object.entries(f.verdicts)) if (answer === 'yes') out.push(USE_SEARCH[use] ?? '');
  for (const tag of f.features) out.push(FEATURE_SEARCH[tag] ?? (/^(?:ss|cv)\d\d$/.test(tag) ? 'alternates stylistic' : ''));
  for (const axis of f.axes) out.push(AXIS_SEARCH[axis] ?? '');
  for (const face of f.faces) {
    out.push(face.style);
    if (face.italic) out.push(SLOPED);
    if (face.variable) out.push('variable');
    for (const weight of ['light', 'regular', 'medium', 'bold'] as const)
      if (styleFits({ weight, width: '', slope: '' }, face)) out.push(WEIGHT_LABELS[weight]);
    if (styleFits({ weight: '', width: 'narrow', slope: '' }, face)) out.push('condensed narrow compressed');
    if (styleFits({ weight: '', width: 'wide', slope: '' }, face)) out.push('expanded wide extended');
  }
  if (f.color) out.push('colored color');
  return [...new Set(out.join(' ').toLowerCase().split(/\s+/))].filter(
    (word) => word.length > 2 && word !== 'thinner' && word !== 'heavier',
  );
}

/** Features people ask for under one word. Source: OpenType Layout tag registry. */
const FEATURE_GROUPS: Readonly<Record<string, readonly string[]>> = {
  smcp: ['smcp', 'c2sc'],
  salt: ['salt', 'ss01', 'ss02', 'ss03', 'ss04', 'ss05', 'cv01', 'cv02', 'cv03', 'aalt'],
  frac: ['frac', 'afrc'],
};

/**
 * Makes a test from what the sentence asks for. A kind of which the computation is not sure fits no kind, so that a
 * guess hides nothing: it is only shown when its kind is asked for or none is.
 * @param collected ids of the families of the collection asked for, when one is
 */
export function filterFor(
  wanted: Wanted,
  collected: ReadonlySet<string> | null,
  scriptNames: ReadonlyMap<string, string>,
): (f: Filtered) => boolean {
  const words = wanted.q.toLowerCase().split(/\s+/).filter(Boolean);
  const featureSets = wanted.features.map((f) => FEATURE_GROUPS[f] ?? [f]);
  const styled = wanted.weight !== '' || wanted.width !== '' || wanted.slope !== '';
  return (f) => {
    if (wanted.shelf === 'archived' ? !f.archived : f.archived) return false;
    if (wanted.shelf === 'favorites' && !f.favorite) return false;
    if (wanted.kind !== '' && !(f.kind === wanted.kind && isSure(f.confidence))) return false;
    if (wanted.use !== '' && f.verdicts[wanted.use] !== 'yes') return false;
    if (wanted.format !== '' && !f.formats.includes(wanted.format)) return false;
    if (wanted.script !== '' && !f.scripts.includes(wanted.script)) return false;
    if (wanted.axis !== '' && !f.axes.includes(wanted.axis)) return false;
    if (wanted.color !== '' && f.color !== (wanted.color === 'yes')) return false;
    if (wanted.place !== '' && !f.places.includes(wanted.place)) return false;
    if (wanted.label !== '' && !f.labels.includes(wanted.label)) return false;
    if (wanted.from !== '' && !f.sources.includes(wanted.from)) return false;
    if (wanted.since !== '' && f.addedAt.slice(0, 10) < wanted.since) return false;
    if (wanted.collection !== '' && !(collected?.has(f.id) ?? false)) return false;
    if (!wanted.writes.every((l) => f.languages.includes(l))) return false;
    if (!featureSets.every((set) => set.some((tag) => f.features.includes(tag)))) return false;
    if (styled && !f.faces.some((face) => styleFits(wanted, face))) return false;
    if (words.length === 0) return true;
    const text =
      `${f.name} ${f.also.join(' ')} ${f.labels.join(' ')} ${f.note} ${f.places.join(' ')} ${f.licenseName ?? ''} ${f.scripts.map((s) => scriptNames.get(s) ?? s).join(' ')}`.toLowerCase();
    let facts: string[] | undefined;
    return words.every(
      (w) => text.includes(w) || (w.length > 2 && (facts ??= factWords(f)).some((fact) => fact.startsWith(w) || `${fact}s` === w)),
    );
  };
}

const LISTS: readonly (keyof Wanted)[] = ['writes', 'features'];

/** The sentence as query parameters, leaving out what asks for nothing. */
export function wantedToQuery(wanted: Wanted): Record<string, string> {
  const out: Record<string, string> = {};
  for (const [key, value] of Object.entries(wanted)) {
    const text = Array.isArray(value) ? value.join(',') : value;
    if (text !== '') out[key] = text;
  }
  return out;
}

/** Query parameters as raw values for the `wanted` schema; parameters of other things are passed over. */
export function queryToWanted(query: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(query)) {
    if (typeof value !== 'string' || value === '') continue;
    out[key] = LISTS.includes(key as keyof Wanted) ? value.split(',').filter(Boolean) : value;
  }
  return out;
}
