import { SENTENCES } from './data/sentences.js';
import { language } from './languages.js';

/** Most letters of an alphabet that a line of them shows. */
const MOST = 40;

/**
 * Words to see a language set in: a sentence of ours, or, where we have none, the letters that CLDR says it is written with.
 * @param tag CLDR tag of a language; null where there is no such language
 */
export function sampleOf(tag: string): string | null {
  const found = language(tag);
  if (!found) return null;
  const sentence = SENTENCES[tag];
  if (sentence !== undefined) return sentence;
  const letters = [...found.letters].map((c) => String.fromCodePoint(c)).filter((c) => /\p{L}/u.test(c));
  // Capitals without small letters of their own, as in Cherokee, are the whole alphabet.
  const small = letters.filter((c) => c === c.toLowerCase() || !letters.includes(c.toLowerCase()));
  return small
    .slice(0, MOST)
    .map((c) => (letters.includes(c.toUpperCase()) && c.toUpperCase() !== c ? c.toUpperCase() + c : c))
    .join(' ');
}
