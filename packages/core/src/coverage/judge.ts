import type { Face, Setting } from '../font/index.js';
import { completeWriting, languages, RARE, scripts, type Language } from '../unicode/index.js';

export interface LanguageVerdict {
  tag: string;
  level: 'full' | 'near';
  /** Letters that are missing, at most six; sequences as their characters. */
  missing: string[];
  /** Letters whose marks only the shaper of a browser sets right, since the face says nothing of them; at most six. */
  browsersOnly: string[];
  /** Whether its complete writing comes out as well, where that is more than the usual; null where it is not, or not even that. */
  complete: { what: string; comesOut: boolean } | null;
  /** Figures and punctuation are a mark of their own and never cost a language its level. */
  missingNumbers: string[];
  missingPunctuation: string[];
  missingRare: string[];
  missingCurrency: string[];
}

export interface ScriptVerdict {
  script: string;
  level: 'full' | 'partial';
}

export interface Coverage {
  languages: LanguageVerdict[];
  scripts: ScriptVerdict[];
  /** Scripts whose letters are there and whose shaping does not work, with what failed. */
  broken: { script: string; sample: string }[];
  /** What it can set, the one answer for every text; see `Writes`. */
  writes: { runs: number[]; loose: string[] };
}

const MOST_MISSING = 6;
const MOST_MISSING_SHARE = 0.1;
const SCRIPT_SHARE = 0.8;
const PARTIAL_SHARE = 0.2;

const HOPE = 1;
const NO_HOPE = 2;

interface Row {
  language: Language;
  /** Indices into the universe's code points. */
  letters: Uint32Array;
  numbers: Uint32Array;
  punctuation: Uint32Array;
}

interface Universe {
  /** Every letter, figure and mark of every language, once, ascending. */
  codePoints: Uint32Array;
  rows: Row[];
}

let universe: Universe | null = null;

/** What must be drawn: no controls, no spaces. */
const drawn = (points: Uint32Array): Uint32Array =>
  points.filter((c) => !/^[\p{Default_Ignorable_Code_Point}\p{Zs}\p{Cf}]$/u.test(String.fromCodePoint(c)));

/** All characters of all languages, each once, and each language as indices into them: what makes the check quick. */
function characterUniverse(): Universe {
  if (universe) return universe;
  const sets = languages().map((language) => ({
    language,
    letters: language.letters,
    numbers: drawn(language.numbers),
    punctuation: drawn(language.punctuation),
  }));
  const all = new Set<number>([0x2d, 0x2010]);
  for (const set of sets) for (const list of [set.letters, set.numbers, set.punctuation]) for (const c of list) all.add(c);
  const codePoints = Uint32Array.from(all).sort();
  const index = new Map<number, number>();
  codePoints.forEach((c, i) => index.set(c, i));
  const indices = (list: Uint32Array): Uint32Array => Uint32Array.from(list, (c) => index.get(c)!);
  universe = {
    codePoints,
    rows: sets.map((s) => ({
      language: s.language,
      letters: indices(s.letters),
      numbers: indices(s.numbers),
      punctuation: indices(s.punctuation),
    })),
  };
  return universe;
}

/**
 * Judges a face for every language and script by its character map, its anchors and real shaping.
 * A letter counts as present when it has a glyph, or when its decomposed form shapes with each mark where its anchor puts
 * it. A language whose script's shaping does not work is not supported. A face without a character map covers nothing.
 * @throws FontError when the character map is damaged
 */
export function judgeCoverage(face: Face): Coverage {
  const covered = face.characters?.codePoints;
  if (!covered) return { languages: [], scripts: [], broken: [], writes: { runs: [], loose: [] } };
  const { setting } = face;
  const { codePoints, rows } = characterUniverse();
  const present = new Uint8Array(codePoints.length);
  // Both lists ascend, so one walk along them finds what they share.
  for (let i = 0, j = 0; i < codePoints.length && j < covered.length;) {
    const difference = codePoints[i]! - covered[j]!;
    if (difference === 0) present[i] = 1;
    if (difference <= 0) i++;
    if (difference >= 0) j++;
  }
  const hope = new Uint8Array(codePoints.length);
  const found: LanguageVerdict[] = [];
  const broken = new Map<string, string>();
  const scriptLevels = new Map<string, 'full' | 'partial'>();
  const known: Known = { codePoints, present, hope, setting };
  for (const row of rows) {
    const { language } = row;
    const letters = lettersOf(row, known);
    if (letters === null) continue;
    const { missing, browsersOnly } = letters;
    const failure = setting.scriptFailure(language.script) ?? setting.joiningFailure(language);
    if (failure !== null) {
      broken.set(language.script, failure);
      continue;
    }
    const level = missing.length + browsersOnly.length === 0 ? 'full' : 'near';
    if (level === 'full') scriptLevels.set(language.script, 'full');
    else if (!scriptLevels.has(language.script)) scriptLevels.set(language.script, 'partial');
    const complete = level === 'full' ? completeIn(face, language.tag) : null;
    found.push({ tag: language.tag, level, missing, browsersOnly, complete, ...marksOf(face, row, present, codePoints) });
  }
  return {
    languages: found,
    scripts: judgeScripts(covered, scriptLevels, setting),
    broken: [...broken].map(([script, sample]) => ({ script, sample })),
    writes: setting.all(),
  };
}

/** What is known of a face while it is judged, each list by index into `codePoints`. */
interface Known {
  codePoints: Uint32Array;
  /** 1 where the face has a glyph. */
  present: Uint8Array;
  /** Whether a letter without a glyph may come out of its parts, once that was asked. */
  hope: Uint8Array;
  setting: Setting;
}

/** Letters of a language that do not come out, or in browsers only; null when those that do not are too many. */
function lettersOf({ language, letters }: Row, known: Known): { missing: string[]; browsersOnly: string[] } | null {
  const { codePoints, present, setting } = known;
  // A language without letters would be written by every face.
  if (letters.length === 0) return null;
  const limit = mostMissing(letters.length + language.clusters.length);
  if (lostMoreThan(limit, letters, known)) return null;
  const missing: string[] = [];
  const browsersOnly: string[] = [];
  const take = (letter: string): void => {
    if (setting.composes(letter)) return;
    if (!setting.composesInBrowsers(letter)) missing.push(letter);
    else if (browsersOnly.length < MOST_MISSING) browsersOnly.push(letter);
  };
  for (let i = 0; i < letters.length && missing.length <= limit; i++)
    if (present[letters[i]!] !== 1) take(String.fromCodePoint(codePoints[letters[i]!]!));
  for (const cluster of language.clusters) if (missing.length <= limit) take(cluster);
  return missing.length > limit ? null : { missing, browsersOnly };
}

/** How many letters a language may lack and still be nearly written. */
const mostMissing = (letters: number): number => Math.min(MOST_MISSING, Math.floor(letters * MOST_MISSING_SHARE));

/** Whether what a complete text needs beyond a usual one comes out; null where there is no difference. */
function completeIn(face: Face, tag: string): LanguageVerdict['complete'] {
  const complete = completeWriting(tag);
  if (!complete) return null;
  const { what, letters } = complete;
  const one = (letter: string): boolean => [...letter].length === 1 && face.glyphOf(letter.codePointAt(0)!) !== 0;
  return { what, comesOut: letters.every((l) => one(l) || face.setting.composes(l)) };
}

/** A count without shaping, which rules most languages out: only a letter whose parts are all there can still be mended. */
function lostMoreThan(limit: number, letters: Uint32Array, { codePoints, present, hope, setting }: Known): boolean {
  let lost = 0;
  for (let i = 0; i < letters.length && lost <= limit; i++) {
    const letter = letters[i]!;
    if (present[letter] === 1) continue;
    hope[letter] ||= setting.hasParts(String.fromCodePoint(codePoints[letter]!)) ? HOPE : NO_HOPE;
    if (hope[letter] === NO_HOPE) lost++;
  }
  return lost > limit;
}

/** Figures, punctuation and currency signs. Hyphens count as one, spaces as a space, controls not at all. */
function marksOf(
  face: Face,
  row: Row,
  present: Uint8Array,
  codePoints: Uint32Array,
): Pick<LanguageVerdict, 'missingNumbers' | 'missingPunctuation' | 'missingRare' | 'missingCurrency'> {
  const lacks = (indices: Uint32Array): string[] => {
    const out: string[] = [];
    for (const i of indices) {
      if (present[i] === 1) continue;
      const c = codePoints[i]!;
      // U+2010 and U+2011 are the hyphen under other names.
      if ((c === 0x2010 || c === 0x2011) && (face.glyphOf(0x2d) !== 0 || face.glyphOf(0x2010) !== 0)) continue;
      out.push(String.fromCodePoint(c));
    }
    return out;
  };
  const punctuation = lacks(row.punctuation);
  const numbers = lacks(row.numbers);
  const rare = (c: string): boolean => RARE.includes(c);
  return {
    missingNumbers: numbers.filter((c) => !rare(c)),
    missingPunctuation: punctuation.filter((c) => !rare(c)),
    missingRare: [...new Set([...numbers, ...punctuation])].filter(rare),
    missingCurrency: row.language.currencySigns.filter((s) => face.glyphOf(s.codePointAt(0)!) === 0),
  };
}

function judgeScripts(covered: Uint32Array, byLanguage: ReadonlyMap<string, 'full' | 'partial'>, setting: Setting): ScriptVerdict[] {
  const withLanguage = new Set(languages().map((l) => l.script));
  // Locales of CLDR name the Han script by its two ways of writing, and Japanese and Korean by their mixtures.
  const out = new Map<string, 'full' | 'partial'>(byLanguage);
  for (const script of scripts()) {
    if (out.has(script.code)) continue;
    let have = 0;
    for (let i = 0; i < script.runs.length; i += 2) have += countBetween(covered, script.runs[i]!, script.runs[i + 1]!);
    const share = have / script.count;
    if (!withLanguage.has(script.code) && share >= SCRIPT_SHARE && setting.scriptFailure(script.code) === null)
      out.set(script.code, 'full');
    else if (share >= PARTIAL_SHARE) out.set(script.code, 'partial');
  }
  return [...out].map(([script, level]) => ({ script, level })).sort((a, b) => (a.script < b.script ? -1 : 1));
}

/** How many of some ascending numbers lie between two, both included. */
function countBetween(sorted: Uint32Array, first: number, last: number): number {
  return lowerBound(sorted, last + 1) - lowerBound(sorted, first);
}

function lowerBound(sorted: Uint32Array, value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Everything a face lacks for one language, whatever its level: what a type designer would have to draw. */
export interface LanguageNeeds {
  level: 'full' | 'near' | 'none';
  letters: string[];
  /** How many of these come out all the same in browsers, which set marks by themselves. */
  inBrowsers: number;
  /** Figures, punctuation and currency signs. */
  marks: string[];
  /** The first sample that does not join, stack or reorder as it must; null when shaping is right or cannot be tried yet. */
  failure: string | null;
}

/**
 * What adding a language would need. Letters that come out of their parts are not counted as missing. Null for an unknown
 * tag, and for a face without a character map.
 * @param tag CLDR tag
 * @throws FontError when the character map is damaged
 */
export function needsFor(face: Face, tag: string): LanguageNeeds | null {
  const { codePoints, rows } = characterUniverse();
  const row = rows.find((r) => r.language.tag === tag);
  if (!row) return null;
  if (!face.characters) return null;
  const { language } = row;
  const { setting } = face;
  const letters: string[] = [];
  for (const i of row.letters) {
    const letter = String.fromCodePoint(codePoints[i]!);
    if (face.glyphOf(codePoints[i]!) === 0 && !setting.composes(letter)) letters.push(letter);
  }
  for (const cluster of language.clusters) if (!setting.composes(cluster)) letters.push(cluster);
  const present = Uint8Array.from(codePoints, (c) => Number(face.glyphOf(c) !== 0));
  const marks = marksOf(face, row, present, codePoints);
  const total = row.letters.length + language.clusters.length;
  const failure = letters.length === total ? null : (setting.scriptFailure(language.script) ?? setting.joiningFailure(language));
  const inBrowsers = letters.filter((l) => setting.composesInBrowsers(l)).length;
  const near = letters.length - inBrowsers <= mostMissing(total);
  return {
    level: failure !== null || !near ? 'none' : letters.length === 0 ? 'full' : 'near',
    letters,
    inBrowsers,
    marks: [...new Set([...marks.missingNumbers, ...marks.missingPunctuation, ...marks.missingCurrency])],
    failure,
  };
}
