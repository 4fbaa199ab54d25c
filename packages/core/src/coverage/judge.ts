import type { OpenFace } from '../engines/index.js';
import type { MarkAnchors } from '../sfnt/index.js';
import { toRuns } from '../face/index.js';
import { JOINING_SCRIPTS, MELTING, RARE } from './data/behaviour.js';
import { joinsOnBothSides, languages, scripts, type Language } from './languages.js';

/** What the judgement needs to know of a face. */
export interface JudgedFace {
  /** Covered code points, ascending. */
  codePoints: Uint32Array;
  /** Glyph of a code point, 0 when it has none. */
  glyphOf(codePoint: number): number;
  shaper: OpenFace;
  anchors: MarkAnchors | null;
  hasGsub: boolean;
}

export interface LanguageVerdict {
  tag: string;
  level: 'full' | 'near';
  /** Letters that are missing, at most six; sequences as their characters. */
  missing: string[];
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

const IGNORABLE = /^\p{Default_Ignorable_Code_Point}$/u;

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
 * it. A language whose script's shaping does not work is not supported.
 */
export function judgeCoverage(face: JudgedFace): Coverage {
  const { codePoints, rows } = characterUniverse();
  const present = new Uint8Array(codePoints.length);
  // Both lists ascend, so one walk along them finds what they share.
  for (let i = 0, j = 0; i < codePoints.length && j < face.codePoints.length;) {
    const difference = codePoints[i]! - face.codePoints[j]!;
    if (difference === 0) present[i] = 1;
    if (difference <= 0) i++;
    if (difference >= 0) j++;
  }
  const hope = new Uint8Array(codePoints.length);
  const composed = new Map<string, boolean>();
  const composes = (text: string): boolean => {
    let known = composed.get(text);
    if (known === undefined) composed.set(text, (known = composedOf(face, text)));
    return known;
  };
  const joins = new Map<number, boolean>();
  const behaviour = new Map<string, string | null>();
  const fails = (script: string): string | null => {
    let known = behaviour.get(script);
    if (known === undefined) behaviour.set(script, (known = shapingFailure(face, script)));
    return known;
  };

  const found: LanguageVerdict[] = [];
  const broken = new Map<string, string>();
  const scriptLevels = new Map<string, 'full' | 'partial'>();
  for (const row of rows) {
    const { language, letters } = row;
    const total = letters.length + language.clusters.length;
    const limit = Math.min(MOST_MISSING, Math.floor(total * MOST_MISSING_SHARE));
    // A count without shaping rules most languages out: only a letter whose parts are all there can still be mended.
    let lost = 0;
    for (let i = 0; i < letters.length && lost <= limit; i++) {
      const letter = letters[i]!;
      if (present[letter] === 1) continue;
      hope[letter] ||= hasParts(face, String.fromCodePoint(codePoints[letter]!)) ? HOPE : NO_HOPE;
      if (hope[letter] === NO_HOPE) lost++;
    }
    if (lost > limit) continue;
    const missing: string[] = [];
    for (let i = 0; i < letters.length && missing.length <= limit; i++) {
      if (present[letters[i]!] === 1) continue;
      const letter = String.fromCodePoint(codePoints[letters[i]!]!);
      if (!composes(letter)) missing.push(letter);
    }
    for (const cluster of language.clusters) if (missing.length <= limit && !composes(cluster)) missing.push(cluster);
    if (missing.length > limit) continue;
    const failure = fails(language.script) ?? joiningFailure(face, language, joins);
    if (failure !== null) {
      broken.set(language.script, failure);
      continue;
    }
    const level = missing.length === 0 ? 'full' : 'near';
    if (level === 'full') scriptLevels.set(language.script, 'full');
    else if (!scriptLevels.has(language.script)) scriptLevels.set(language.script, 'partial');
    found.push({ tag: language.tag, level, missing, ...marksOf(face, row, present, codePoints) });
  }
  return {
    languages: found,
    scripts: judgeScripts(face, scriptLevels, fails),
    broken: [...broken].map(([script, sample]) => ({ script, sample })),
    writes: { runs: writableRuns(face, composes, fails, joins), loose: looseClusters().filter(composes) },
  };
}

let singles: readonly [codePoint: number, letter: string, parts: readonly number[]][] | null = null;
/** Characters that Unicode takes apart into several, but for the syllables of Hangul. */
function decomposable(): NonNullable<typeof singles> {
  if (singles) return singles;
  const out: [number, string, number[]][] = [];
  for (let c = 0xa0; c < 0x1d200; c++) {
    if (c === 0x3400) c = 0xa000;
    if (c === 0xac00) c = 0xf900;
    const letter = String.fromCodePoint(c);
    const parts = letter.normalize('NFD');
    // Only what normalizing a text leaves in one piece can stand in it.
    if (parts.length > 1 && parts !== letter && letter.normalize('NFC') === letter)
      out.push([c, letter, Array.from(parts, (p) => p.codePointAt(0)!)]);
  }
  return (singles = out);
}

let loose: readonly string[] | null = null;
/** Letters with marks that have no character of their own, of all languages. */
function looseClusters(): readonly string[] {
  return (loose ??= [...new Set(languages().flatMap((l) => l.clusters))]);
}

/**
 * Code points that a face can set: those of its character map and those that come out of their parts, without the letters
 * of scripts whose shaping does not work and those that do not join as they must.
 */
function writableRuns(
  face: JudgedFace,
  composes: (letter: string) => boolean,
  fails: (script: string) => string | null,
  joins: Map<number, boolean>,
): number[] {
  const own = new Set<number>(face.codePoints);
  for (const [c, letter, parts] of decomposable()) if (!own.has(c) && parts.every((p) => own.has(p)) && composes(letter)) own.add(c);
  for (const script of scripts()) {
    const melting = script.code in MELTING;
    if (!melting && !JOINING_SCRIPTS.includes(script.code)) continue;
    let failed: boolean | null = null;
    for (let i = 0; i < script.runs.length; i += 2)
      for (let c = script.runs[i]!; c <= script.runs[i + 1]!; c++) {
        if (!own.has(c)) continue;
        if (melting) failed ??= fails(script.code) !== null;
        if (failed || (!melting && joinsOnBothSides(c) && !joinsWell(face, c, joins))) own.delete(c);
      }
  }
  return toRuns([...own].sort((a, b) => a - b));
}

/** Figures, punctuation and currency signs. Hyphens count as one, spaces as a space, controls not at all. */
function marksOf(
  face: JudgedFace,
  row: Row,
  present: Uint8Array,
  codePoints: Uint32Array,
): Omit<LanguageVerdict, 'tag' | 'level' | 'missing'> {
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

/** Whether a letter has parts and the face has them all. */
function hasParts(face: JudgedFace, text: string): boolean {
  const parts = [...text.normalize('NFD')];
  return parts.length > 1 && parts.every((c) => face.glyphOf(c.codePointAt(0)!) !== 0);
}

/** Whether a letter comes out of its parts: in one glyph by substitution, or with each mark where its anchor puts it. */
function composedOf(face: JudgedFace, text: string): boolean {
  if (!hasParts(face, text)) return false;
  const glyphs = face.shaper.shape(text.normalize('NFD'));
  if (glyphs.some((g) => g.glyph === 0)) return false;
  let x = 0;
  const placed = glyphs.map(({ glyph, xAdvance, xOffset, yOffset }) => {
    const at = { glyph, x: x + xOffset, y: yOffset };
    x += xAdvance;
    return at;
  });
  // That a font has anchors is not enough: shaping must have used them, in this script and with its features.
  const stands = (mark: (typeof placed)[number]): boolean =>
    placed.some(
      (base) =>
        base !== mark &&
        (face.anchors?.offsets(base.glyph, mark.glyph) ?? []).some(
          (o) => Math.abs(base.x + o.x - mark.x) <= 1 && Math.abs(base.y + o.y - mark.y) <= 1,
        ),
    );
  return placed.filter((g) => !stands(g)).length === 1;
}

/** Whether shaping gives other glyphs than the character map alone; order does not count, the shaper does that itself. */
function melts(face: JudgedFace, text: string): boolean {
  const plain = [...text].filter((c) => !IGNORABLE.test(c)).map((c) => face.glyphOf(c.codePointAt(0)!));
  if (plain.includes(0)) return false;
  const circle = face.glyphOf(0x25cc);
  const space = face.glyphOf(0x20);
  const shaped = face.shaper
    .shape(text)
    .filter((g) => !(g.glyph === space && g.xAdvance === 0))
    .map((g) => g.glyph);
  if (shaped.includes(0) || (circle !== 0 && shaped.includes(circle))) return false;
  return shaped.sort((a, b) => a - b).join() !== plain.sort((a, b) => a - b).join();
}

/** The first sample of a script that does not come out as it must, or null when all do. */
function shapingFailure(face: JudgedFace, script: string): string | null {
  const samples = MELTING[script];
  if (samples) return face.hasGsub ? (samples.find((s) => !melts(face, s)) ?? null) : samples[0]!;
  return null;
}

/** The first letter of a language that does not join with its like, or null. */
function joiningFailure(face: JudgedFace, language: Language, known: Map<number, boolean>): string | null {
  if (!JOINING_SCRIPTS.includes(language.script)) return null;
  for (const c of language.letters) {
    if (!joinsOnBothSides(c) || face.glyphOf(c) === 0) continue;
    if (!joinsWell(face, c, known)) return String.fromCodePoint(c);
  }
  return null;
}

/** Whether a letter changes its form between its like. */
function joinsWell(face: JudgedFace, c: number, known: Map<number, boolean>): boolean {
  let joins = known.get(c);
  if (joins === undefined) known.set(c, (joins = face.hasGsub && melts(face, String.fromCodePoint(c).repeat(3))));
  return joins;
}

function judgeScripts(
  face: JudgedFace,
  byLanguage: ReadonlyMap<string, 'full' | 'partial'>,
  fails: (script: string) => string | null,
): ScriptVerdict[] {
  const withLanguage = new Set(languages().map((l) => l.script));
  // Locales of CLDR name the Han script by its two ways of writing, and Japanese and Korean by their mixtures.
  const out = new Map<string, 'full' | 'partial'>(byLanguage);
  for (const script of scripts()) {
    if (out.has(script.code)) continue;
    let have = 0;
    for (let i = 0; i < script.runs.length; i += 2) have += countBetween(face.codePoints, script.runs[i]!, script.runs[i + 1]!);
    const share = have / script.count;
    if (!withLanguage.has(script.code) && share >= SCRIPT_SHARE && fails(script.code) === null) out.set(script.code, 'full');
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
  /** Figures, punctuation and currency signs. */
  marks: string[];
  /** The first sample that does not join, stack or reorder as it must; null when shaping is right or cannot be tried yet. */
  failure: string | null;
}

/** What adding a language would need. Letters that come out of their parts are not counted as missing. Null for an unknown tag. */
export function needsFor(face: JudgedFace, tag: string): LanguageNeeds | null {
  const { codePoints, rows } = characterUniverse();
  const row = rows.find((r) => r.language.tag === tag);
  if (!row) return null;
  const { language } = row;
  const letters: string[] = [];
  for (const i of row.letters) {
    const letter = String.fromCodePoint(codePoints[i]!);
    if (face.glyphOf(codePoints[i]!) === 0 && !composedOf(face, letter)) letters.push(letter);
  }
  for (const cluster of language.clusters) if (!composedOf(face, cluster)) letters.push(cluster);
  const present = Uint8Array.from(codePoints, (c) => Number(face.glyphOf(c) !== 0));
  const marks = marksOf(face, row, present, codePoints);
  const total = row.letters.length + language.clusters.length;
  const failure = letters.length === total ? null : (shapingFailure(face, language.script) ?? joiningFailure(face, language, new Map()));
  const near = letters.length <= Math.min(MOST_MISSING, Math.floor(total * MOST_MISSING_SHARE));
  return {
    level: failure !== null || !near ? 'none' : letters.length === 0 ? 'full' : 'near',
    letters,
    marks: [...new Set([...marks.missingNumbers, ...marks.missingPunctuation, ...marks.missingCurrency])],
    failure,
  };
}
