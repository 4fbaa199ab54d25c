import { COMPLETE_WRITING, POLYTONIC_OF } from './data/complete.js';
import { CORRECTIONS } from './data/corrections.js';
import { DUAL_JOINING, LANGUAGES, SCRIPTS, SETS, TERRITORIES } from './data/languages.js';

/** Runs of a compiled set, ascending: [first, last, first, last, ...]. */
function decodeRuns(index: number): number[] {
  const text = SETS[index]!;
  const out: number[] = [];
  let at = 0;
  if (text === '') return out;
  for (const part of text.split(' ')) {
    const [gap, length] = part.split('.');
    at += parseInt(gap!, 36);
    const last = at + (length ? parseInt(length, 36) : 0);
    out.push(at, last);
    at = last + 1;
  }
  return out;
}

/** Code points of a compiled set, ascending. */
export function decodeSet(index: number): Uint32Array {
  const out: number[] = [];
  const runs = decodeRuns(index);
  for (let i = 0; i < runs.length; i += 2) for (let c = runs[i]!; c <= runs[i + 1]!; c++) out.push(c);
  return Uint32Array.from(out);
}

/** A language as CLDR describes its writing. Code points; populations in people. */
export interface Language {
  tag: string;
  name: string;
  /** ISO 15924. */
  script: string;
  /** Main exemplar letters with their capitals, sequences taken apart. */
  letters: Uint32Array;
  /** Letters with marks that Unicode has no single character for. */
  clusters: readonly string[];
  numbers: Uint32Array;
  punctuation: Uint32Array;
  currencySigns: readonly string[];
  speakers: readonly { territory: string; people: number; official: boolean }[];
}

/** Letters of a language as they are written, where CLDR's list misleads. */
function corrected(tag: string, letters: Uint32Array): Uint32Array {
  const found = CORRECTIONS.find((c) => c.tag === tag);
  if (!found) return letters;
  const set = new Set(letters);
  const each = (runs: readonly number[], act: (codePoint: number) => void): void => {
    for (let i = 0; i < runs.length; i += 2) for (let c = runs[i]!; c <= runs[i + 1]!; c++) act(c);
  };
  each(found.drop ?? [], (c) => set.delete(c));
  each(found.add ?? [], (c) => set.add(c));
  return Uint32Array.from(set).sort();
}

let all: Language[] | null = null;

/** Every language CLDR has letters for, by tag. */
export function languages(): readonly Language[] {
  all ??= LANGUAGES.map(([tag, name, script, letters, clusters, , numbers, punctuation, signs, speakers]) => ({
    tag,
    name,
    script,
    letters: corrected(tag, decodeSet(letters)),
    clusters: clusters === '' ? [] : clusters.split('\u0001'),
    numbers: decodeSet(numbers),
    punctuation: decodeSet(punctuation),
    currencySigns: [...signs],
    speakers:
      (speakers as string) === ''
        ? []
        : speakers
            .split(' ')
            .map((s) => ({ territory: s.slice(0, 2), official: s[2] === '!', people: parseInt(s.slice(s[2] === '!' ? 3 : 2), 36) })),
  }));
  return all;
}

/** A language by its CLDR tag; null for an unknown one. */
export function language(tag: string): Language | null {
  return languages().find((l) => l.tag === tag) ?? null;
}

/** What the complete writing of a language needs beyond its usual one, and what that adds; null where the two are the same. */
export function completeWriting(tag: string): { what: string; letters: readonly string[] } | null {
  const polytonic = POLYTONIC_OF[tag];
  if (polytonic) return { what: polytonic.what, letters: Array.from(language(polytonic.tag)!.letters, (c) => String.fromCodePoint(c)) };
  return COMPLETE_WRITING.find((c) => c.tags.includes(tag)) ?? null;
}

/** Letters of a language that are only auxiliary in CLDR: foreign words and old spellings. For information. */
export function auxiliaryLetters(tag: string): Uint32Array {
  const row = LANGUAGES.find((l) => l[0] === tag);
  return row ? decodeSet(row[5]) : new Uint32Array(0);
}

/** A script and its letters as runs [first, last, ...]. */
export interface ScriptLetters {
  code: string;
  name: string;
  runs: readonly number[];
  count: number;
}

let scriptList: ScriptLetters[] | null = null;

/** Every script that CLDR has a language or Unicode letters for. */
export function scripts(): readonly ScriptLetters[] {
  scriptList ??= SCRIPTS.map(([code, name, letters]) => {
    const runs = decodeRuns(letters);
    let count = 0;
    for (let i = 0; i < runs.length; i += 2) count += runs[i + 1]! - runs[i]! + 1;
    return { code, name, runs, count };
  });
  return scriptList;
}

/** The English name of a script by its ISO 15924 code; the code itself for an unknown one. */
export const scriptName = (code: string): string => scripts().find((s) => s.code === code)?.name ?? code;

let joining: Set<number> | null = null;
/** Letters that join on both sides. Source: Unicode Character Database, Joining_Type. */
export function joinsOnBothSides(codePoint: number): boolean {
  joining ??= new Set(decodeSet(DUAL_JOINING));
  return joining.has(codePoint);
}

/** How many people a set of languages reaches: bounds, since many people use several. */
export interface Reach {
  atLeast: number;
  atMost: number;
  /** Territories in which at least one of the languages is official. */
  officialIn: number;
}

/**
 * Bounds by territory: at least the speakers of the largest of the languages there, at most their sum or everybody.
 * Source: CLDR territoryInfo, whose populations count second languages and so overlap.
 */
export function reach(tags: readonly string[]): Reach {
  const population = new Map(TERRITORIES.split(' ').map((t) => [t.slice(0, 2), parseInt(t.slice(2), 36)]));
  const largest = new Map<string, number>();
  const sum = new Map<string, number>();
  const official = new Set<string>();
  // A language in two scripts is one language.
  const wanted = new Set(tags);
  for (const l of languages()) {
    if (!wanted.has(l.tag)) continue;
    for (const s of l.speakers) {
      largest.set(s.territory, Math.max(largest.get(s.territory) ?? 0, s.people));
      sum.set(s.territory, (sum.get(s.territory) ?? 0) + s.people);
      if (s.official) official.add(s.territory);
    }
  }
  let atLeast = 0;
  let atMost = 0;
  for (const [territory, people] of largest) {
    const everybody = population.get(territory) ?? people;
    atLeast += Math.min(people, everybody);
    atMost += Math.min(sum.get(territory)!, everybody);
  }
  return { atLeast, atMost, officialIn: official.size };
}
