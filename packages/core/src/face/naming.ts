import { OPTICAL_WORDS, SLOPE_WORDS, WEIGHT_WORDS, WIDTH_WORDS } from './data/style-words.js';
import type { FaceFacts } from './facts.js';

/** Something of a file's own record that we read otherwise; the file stays as it is. */
export interface Repair {
  field: 'family' | 'style' | 'weight' | 'width' | 'slope';
  /** What the file says, in words. */
  found: string;
  used: string;
  reason: string;
}

/** Where a face stands: its family, and its cell in the family's table of styles. */
export interface Naming {
  family: string;
  style: string;
  /** usWeightClass, 1 to 1000. */
  weightClass: number;
  /** usWidthClass, 1 to 9. */
  widthClass: number;
  slope: 'upright' | 'italic' | 'oblique';
  /** The size it is drawn for as its style name says it ("Caption", "Display"), or null. */
  opticalSize: string | null;
  repairs: Repair[];
}

interface Attributes {
  weight: number | null;
  width: number | null;
  slope: 'italic' | 'oblique' | null;
  optical: string | null;
}

const squeeze = (s: string): string => s.toLowerCase().replace(/[\s_-]+/g, '');

/** Cuts a name into words: at spaces, hyphens and underscores, and where small letters meet capitals ("SemiBold"). */
const wordsOf = (name: string): string[] =>
  name
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .split(/[\s_-]+/u)
    .filter(Boolean);

/** Reads trailing style words, longest first ("Extra Bold" before "Bold"). */
function readWords(words: readonly string[]): { attributes: Attributes; rest: string[] } {
  const attributes: Attributes = { weight: null, width: null, slope: null, optical: null };
  const rest: string[] = [];
  for (let i = 0; i < words.length;) {
    let taken = 0;
    for (let n = Math.min(3, words.length - i); n > 0 && taken === 0; n--) {
      const word = squeeze(words.slice(i, i + n).join(''));
      if (attributes.weight === null && WEIGHT_WORDS[word] !== undefined) attributes.weight = WEIGHT_WORDS[word];
      // "Regular" beside another weight says nothing more.
      else if (WEIGHT_WORDS[word] === 400) taken = n;
      else if (attributes.width === null && WIDTH_WORDS[word] !== undefined) attributes.width = WIDTH_WORDS[word];
      else if (attributes.slope === null && SLOPE_WORDS[word] !== undefined) attributes.slope = SLOPE_WORDS[word];
      else if (attributes.optical === null && OPTICAL_WORDS[word] !== undefined) attributes.optical = words.slice(i, i + n).join(' ');
      else continue;
      taken = n;
    }
    if (taken === 0) rest.push(words[i++]!);
    else i += taken;
  }
  return { attributes, rest };
}

const clean = (name: string | null): string | null => {
  // Control and format characters would hide in lists; joiners belong to words of some scripts.
  const text = (name ?? '')
    .replace(/(?![\u200C\u200D])[\p{Cc}\p{Cf}]/gu, ' ')
    .replace(/\s+/gu, ' ')
    .trim();
  return text === '' ? null : text;
};

const quote = (s: string): string => `“${s}”`;
const MOST = 200;

const WEIGHT_NAMES: readonly [number, string][] = [
  [100, 'Thin'],
  [200, 'Extra Light'],
  [300, 'Light'],
  [400, 'Regular'],
  [500, 'Medium'],
  [600, 'Semi Bold'],
  [700, 'Bold'],
  [800, 'Extra Bold'],
  [900, 'Black'],
];
/** The nearest named weight: 600 is "Semi Bold". Source: OpenType specification, OS/2, usWeightClass. */
export const weightWord = (weight: number): string =>
  WEIGHT_NAMES.reduce((best, entry) => (Math.abs(entry[0] - weight) < Math.abs(best[0] - weight) ? entry : best))[1];

/** The word of a width: 3 is "Condensed". Source: OpenType specification, OS/2, usWidthClass. */
export const widthWord = (width: number): string =>
  [
    'Ultra Condensed',
    'Extra Condensed',
    'Condensed',
    'Semi Condensed',
    'Normal',
    'Semi Expanded',
    'Expanded',
    'Extra Expanded',
    'Ultra Expanded',
  ][width - 1] ?? 'Normal';

function composeStyle(weight: number, width: number, slope: Naming['slope']): string {
  const parts = [
    width === 5 ? '' : widthWord(width),
    weight === 400 && slope !== 'upright' ? '' : weightWord(weight),
    slope === 'upright' ? '' : slope === 'italic' ? 'Italic' : 'Oblique',
  ];
  return parts.filter(Boolean).join(' ');
}

/**
 * Gives a face its family and its cell among the family's styles, and says where the file's own record was not followed.
 * Typographic names (name IDs 16 and 17) come first, then WWS names (21 and 22), then the style-linked ones (1 and 2), whose
 * family carries the words of weight, width and slope that do not fit the four linked styles.
 * Source: OpenType specification, name table (name IDs 1, 2, 16, 17, 21, 22) and OS/2 (usWeightClass, usWidthClass, fsSelection).
 */
export function nameFace(facts: FaceFacts, fileName: string): Naming {
  const repairs: Repair[] = [];
  const variable = facts.axes.length > 0;
  const has = (tag: string): boolean => facts.axes.some((a) => a.tag === tag);
  const fileBase = fileName.replace(/^.*\//, '').replace(/\.[^.]*$/, '');
  const typographic = clean(facts.typographicFamily) ?? (clean(facts.family) ? null : clean(facts.wwsFamily));
  let family = typographic ?? clean(facts.family);
  let style = typographic
    ? (clean(facts.typographicSubfamily) ?? clean(facts.wwsSubfamily) ?? clean(facts.subfamily))
    : clean(facts.subfamily);
  if (family === null) {
    const [from, source] = clean(facts.fullName)
      ? [clean(facts.fullName)!, 'full name']
      : clean(facts.postScriptName)
        ? [clean(facts.postScriptName)!.replace('-', ' '), 'PostScript name']
        : [fileBase || 'Unnamed', 'file name'];
    const { rest, attributes } = readWords(wordsOf(from));
    family = rest.join(' ') || from;
    if (style === null && rest.length > 0 && (attributes.weight ?? attributes.width ?? attributes.slope) !== null)
      style = wordsOf(from).slice(rest.length).join(' ');
    repairs.push({ field: 'family', found: 'no name', used: family, reason: `The file has no family name; its ${source} gave one.` });
  } else if (typographic === null) {
    // Words of style at the end of a style-linked family name belong to the style.
    const words = wordsOf(family);
    let keep = words.length;
    while (keep > 1) {
      const { attributes, rest } = readWords(words.slice(keep - 1));
      const isWidth = attributes.width !== null;
      const before = words.slice(keep - 2, keep).join('');
      const isPrefix = keep > 1 && /^(extra|ultra|semi|demi)$/i.test(words[keep - 1]!) && keep < words.length;
      if (!isPrefix && (rest.length > 0 || attributes.optical !== null)) break;
      // "Old Italic" is a script: a slope only counts where the face itself says that it slopes.
      if (attributes.slope !== null && !facts.italic && !facts.oblique && Math.abs(facts.italicAngle) < 2) break;
      if (isWidth && facts.widthClass === 5 && WEIGHT_WORDS[squeeze(before)] === undefined) break;
      keep--;
    }
    // Single-word families such as "SemiBold" keep their name.
    const tail = words.slice(keep).join(' ');
    if (tail !== '') {
      const shorter = trimEnd(family, words.length - keep, words);
      const own = readWords(wordsOf(style ?? '')).attributes;
      const told = readWords(words.slice(keep)).attributes;
      const plain = own.weight === 400 || own.weight === null;
      const joined = plain
        ? [tail, own.slope && !told.slope ? (own.slope === 'italic' ? 'Italic' : 'Oblique') : ''].filter(Boolean).join(' ')
        : `${tail} ${style}`;
      repairs.push({
        field: 'family',
        found: family,
        used: `${shorter}, ${joined}`,
        reason: `${quote(tail)} at the end of the family name is a style; programs that know only four styles a family need it there.`,
      });
      family = shorter;
      style = joined;
    }
  }
  if (family.length > MOST) {
    repairs.push({
      field: 'family',
      found: `a name of ${family.length} characters`,
      used: `${family.slice(0, 40)} …`,
      reason: 'The name is too long to be of use and is shortened here.',
    });
    family = `${[...family].slice(0, MOST).join('')} …`;
  }

  const { attributes: told } = readWords(wordsOf(style ?? ''));
  let weightClass = facts.weightClass;
  const fix = (field: Repair['field'], found: string | number, used: string | number, reason: string): void =>
    void repairs.push({ field, found: String(found), used: String(used), reason });
  if (weightClass >= 1 && weightClass <= 9) {
    weightClass *= 100;
    fix('weight', facts.weightClass, weightClass, 'usWeightClass counts in hundreds; the file gives a single digit.');
  } else if (weightClass < 1 || weightClass > 1000) {
    weightClass = told.weight ?? 400;
    fix('weight', facts.weightClass, weightClass, 'usWeightClass must be between 1 and 1000.');
  }
  if (told.weight !== null && !has('wght') && Math.abs(told.weight - weightClass) >= 150) {
    const found = weightClass;
    weightClass = told.weight;
    fix('weight', found, weightClass, `The style is called ${quote(style!)}, and the file’s usWeightClass says otherwise.`);
  }
  let widthClass = facts.widthClass;
  if (widthClass < 1 || widthClass > 9) {
    widthClass = told.width ?? 5;
    fix('width', facts.widthClass, widthClass, 'usWidthClass must be between 1 and 9.');
  } else if (told.width !== null && widthClass === 5 && !has('wdth')) {
    widthClass = told.width;
    fix('width', 5, widthClass, `The style is called ${quote(style!)}, and the file’s usWidthClass says normal.`);
  }
  let slope: Naming['slope'] = facts.oblique ? 'oblique' : facts.italic ? 'italic' : 'upright';
  if (slope === 'upright' && told.slope !== null) {
    slope = told.slope;
    fix('slope', 'upright', slope, `The style is called ${quote(style!)}, and the file does not mark it ${slope}.`);
  } else if (slope === 'upright' && Math.abs(facts.italicAngle) >= 2 && !variable && told.weight === null) {
    // A face that calls itself Regular or Bold is believed: its post table is often a leftover.
    slope = 'oblique';
    fix('slope', 'upright', slope, `The post table gives a slant of ${-facts.italicAngle} degrees.`);
  } else if (slope === 'italic' && told.slope === 'oblique') slope = 'oblique';

  if (style === null || style.length > MOST) {
    const used = composeStyle(weightClass, widthClass, slope);
    fix(
      'style',
      style === null ? 'no name' : `a name of ${style.length} characters`,
      used,
      'The style is named by its weight, width and slope.',
    );
    style = used;
  }
  return { family, style, weightClass, widthClass, slope, opticalSize: told.optical, repairs };
}

/** Takes the last words off a name, as they stand in it, whatever joined them. */
function trimEnd(name: string, count: number, words: readonly string[]): string {
  let out = name;
  for (const word of words.slice(words.length - count).reverse()) {
    const at = out.lastIndexOf(word);
    out = out.slice(0, at).replace(/[\s_-]+$/u, '');
  }
  return out || name;
}

/** Order of styles drawn for a size: from smallest to largest, those for no size in particular between. */
export const opticalOrder = (optical: string | null): number => (optical === null ? 4 : (OPTICAL_WORDS[squeeze(optical)] ?? 4));
