import {
  ALLOWS,
  CONDITIONS,
  FORBIDS,
  LIMITS,
  NEEDS_LICENSE,
  NOT_ONLY_PERSONAL,
  OBLIGES,
  ONLY,
  PERSONAL,
  SOFTENERS,
  USE_PATTERNS,
} from './data/terms-words.js';
import type { Answer, Use } from './uses.js';

/**
 * What a sentence of somebody's own terms seems to say about a use. A suggestion is never a verdict: each needs a person
 * to confirm it beside its sentence.
 */
export interface TermsSuggestion {
  use: Use;
  answer: Answer;
  /** How much of the use it covers, in the units of `LIMITS`. */
  limit: number | null;
  /** The sentence as it stands, and where it begins. */
  sentence: string;
  start: number;
  /** 0 to 1. */
  confidence: number;
}

export interface TermsReading {
  suggestions: TermsSuggestion[];
  /** Sentences that ask something in return: a credit, the license text, keeping the name. */
  duties: { sentence: string; start: number }[];
  /** Whether the text is English, the only language whose terms are read; false also for a text of a few words. */
  english: boolean;
}

/** Frequent words of English. In terms they make up about a third of all words; in other languages hardly any. */
const FREQUENT = new Set('the of and to you may not is for in or this use any with by your are as be on that it if from'.split(' '));

function isEnglish(text: string): boolean {
  const words =
    text
      .slice(0, 20_000)
      .toLowerCase()
      .match(/\p{L}+/gu) ?? [];
  return words.length > 0 && words.filter((w) => FREQUENT.has(w)).length >= words.length * 0.12;
}

interface Clause {
  text: string;
  sentence: string;
  start: number;
}

/** Cuts a text into sentences, and these where the direction may turn ("but", "however", a semicolon). */
function clausesOf(text: string): Clause[] {
  const out: Clause[] = [];
  const plain = text.replace(/\r\n?/g, '\n');
  for (const match of plain.matchAll(/[^.!?\n]+(?:\.(?=\S)[^.!?\n]*)*(?:[.!?]+|\n|$)/g)) {
    const sentence = match[0].trim();
    if (sentence.length < 4) continue;
    const start = match.index + match[0].indexOf(sentence);
    for (const part of sentence.split(
      /;|\s(?=but\s|however\b|although\b|except\s|excluding\b|though\b)|,\s(?=but\s|not\s(?!only)|no\s|never\s|however\b|except\b)/i,
    ))
      if (part.trim().length > 2) out.push({ text: part.trim(), sentence, start });
  }
  return out;
}

const any = (patterns: readonly RegExp[], text: string): boolean => patterns.some((p) => p.test(text));

/** The direction of one clause; null when it says nothing about what is allowed. */
function directionOf(clause: string): { answer: Answer; sure: number } | null {
  // "Not only for print but also ..." and "not limited to" deny nothing.
  const text = SOFTENERS.reduce((t, p) => t.replace(p, ' '), clause);
  const except = /^(except|excluding|but not|not|no|never)\b/i.test(text);
  if (any(NEEDS_LICENSE, text)) return { answer: 'no', sure: 0.85 };
  if (any(FORBIDS, text) || except) return { answer: 'no', sure: 0.9 };
  if (any(ALLOWS, text)) return any(CONDITIONS, text) ? { answer: 'ask', sure: 0.7 } : { answer: 'yes', sure: 0.8 };
  return null;
}

function limitOf(clause: string, use: Use): number | null {
  for (const { uses, pattern } of LIMITS) {
    if (!uses.includes(use)) continue;
    const match = pattern.exec(clause);
    if (!match) continue;
    const words: Record<string, number> = { a: 1, an: 1, one: 1, single: 1, two: 2, three: 3, five: 5, ten: 10 };
    const raw = match[1]!.toLowerCase().replace(/[,\s]/g, '');
    const number = words[raw] ?? Number(raw.replace(/k$/, '000').replace(/m(illion)?$/, '000000'));
    if (Number.isFinite(number) && number > 0) return number;
  }
  return null;
}

/**
 * Reads free-form terms in English, sentence by sentence. A sentence that says that only some uses are meant ("personal use
 * only") denies the others. Of sentences that contradict each other the stricter counts.
 */
export function readTerms(text: string): TermsReading {
  const found = new Map<Use, TermsSuggestion>();
  const duties: TermsReading['duties'] = [];
  const strict = { yes: 0, ask: 1, no: 2 };
  const suggest = (s: TermsSuggestion): void => {
    const known = found.get(s.use);
    if (!known) found.set(s.use, s);
    else if (strict[s.answer] > strict[known.answer]) found.set(s.use, { ...s, limit: s.limit ?? known.limit });
    else if (s.answer === known.answer && s.limit !== null) found.set(s.use, { ...known, limit: s.limit });
  };
  let inherited: { answer: Answer; sure: number } | null = null;
  let last = '';
  for (const clause of clausesOf(text)) {
    const { sentence, start } = clause;
    if (any(OBLIGES, clause.text)) duties.push({ sentence, start });
    if (sentence !== last) inherited = null;
    last = sentence;
    const only = ONLY.find((o) => o.pattern.test(clause.text));
    if (only) {
      for (const use of only.denies) suggest({ use, answer: 'no', limit: null, sentence, start, confidence: 0.85 });
      for (const use of only.asks ?? []) suggest({ use, answer: 'ask', limit: null, sentence, start, confidence: 0.8 });
      for (const use of only.allows) suggest({ use, answer: 'yes', limit: limitOf(clause.text, use), sentence, start, confidence: 0.8 });
      continue;
    }
    const direction: { answer: Answer; sure: number } | null = directionOf(clause.text) ?? inherited;
    if (!direction) continue;
    inherited = direction;
    const personal = direction.answer === 'yes' && PERSONAL.test(clause.text) && !NOT_ONLY_PERSONAL.test(clause.text);
    for (const { uses, patterns } of USE_PATTERNS) {
      if (!any(patterns, clause.text)) continue;
      for (const use of uses)
        suggest({
          use,
          answer: personal ? 'ask' : direction.answer,
          limit: limitOf(clause.text, use),
          sentence,
          start,
          confidence: direction.sure,
        });
    }
  }
  return {
    suggestions: [...found.values()],
    duties: duties.filter((d, i) => duties.findIndex((x) => x.start === d.start) === i),
    english: isEnglish(text),
  };
}
