import { BINDING, HOLDING, PLACES, RIGHTS, USING } from './data/beside-words.js';
import { CORE_WORDS, KNOWN_SENTENCES, WIDE_WORDS } from './data/harmless-words.js';

/** A word with its apostrophes and hyphens. */
export const WORD = /[\p{L}\p{M}]+(?:['’-][\p{L}\p{M}]+)*/gu;

interface Vocabulary {
  /** Words of what comes with fonts. */
  core: ReadonlySet<string>;
  /** Words of what is written about software at large. */
  wide: ReadonlySet<string>;
  sentences: ReadonlySet<string>;
}
let vocabulary: Vocabulary | null = null;
/** The words and sentences that were gathered, taken apart when first asked for. */
export const gathered = (): Vocabulary =>
  (vocabulary ??= {
    core: new Set(CORE_WORDS.split(' ')),
    wide: new Set(WIDE_WORDS.split(' ')),
    sentences: new Set(KNOWN_SENTENCES.split('\n')),
  });

const within = (word: string, list: ReadonlySet<string>): boolean =>
  list.has(word) ||
  (word.endsWith("'s") && list.has(word.slice(0, -2))) ||
  (word.includes('-') && word.split('-').every((p) => p.length < 2 || list.has(p)));
/** Whether a word of lower case is one of those that come with fonts. */
export const isCore = (word: string): boolean => within(word, gathered().core);
/** Whether a word of lower case is known at all. */
export const isKnown = (word: string): boolean => isCore(word) || within(word, gathered().wide);

/** Whether a word of lower case may bear on what is allowed. */
export const bears = (word: string): boolean =>
  HOLDING.test(word) || RIGHTS.test(word) || USING.test(word) || PLACES.test(word) || BINDING.test(word);

/** A sentence as it is compared: without case, punctuation and addresses, any number as "#". */
export const sentenceKey = (sentence: string): string =>
  sentence
    .toLowerCase()
    .replace(/https?:\/\/\S+|www\.\S+/g, ' ')
    .replace(/[^\p{L}\p{M}\d]+/gu, ' ')
    .replace(/\d+/g, '#')
    .trim();
