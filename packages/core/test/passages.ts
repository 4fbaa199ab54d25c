import type { Answer, Limit, Use } from '../src/rights/index.js';
import { PASSAGE_SET_1 } from './passage-set-1.js';
import { PASSAGE_SET_2 } from './passage-set-2.js';
import { PASSAGE_SET_3 } from './passage-set-3.js';
import { PASSAGE_SET_4 } from './passage-set-4.js';
import { PASSAGE_SET_5 } from './passage-set-5.js';

type Key = 'd' | 'g' | 'o' | 'w' | 'e' | 't' | 'p' | 'a' | 'c' | 'm' | 'x' | 'C';

/** A text with what a careful reader takes from it; passage-set-1.ts says how to read it. */
export interface Labelled {
  kind: string;
  text: string;
  /** "answer: words|words"; an answer of "?" is one that careful readers may give either way. */
  says: Partial<Record<Key, string>>;
  restricts?: readonly string[];
  limits?: Partial<Record<Limit, number>>;
}

const USE_OF: Readonly<Record<Key, readonly Use[]>> = {
  d: ['design-work'],
  g: ['printed-goods'],
  o: ['logo'],
  w: ['website'],
  e: ['online-store'],
  t: ['design-tool'],
  p: ['documents'],
  a: ['app'],
  c: ['customers-words'],
  m: ['changing'],
  x: ['passing-on'],
  C: ['printed-goods', 'logo'],
};

export interface Truth {
  kind: string;
  text: string;
  /** Uses the text speaks of: the answer, null where it may be any, and words that must stand beside it. */
  uses: Map<Use, { answer: Answer | null; words: string[] }>;
  restricts: readonly string[];
  limits: Partial<Record<Limit, number>>;
}

const truthOf = ({ kind, text, says, restricts = [], limits = {} }: Labelled): Truth => {
  const uses: Truth['uses'] = new Map();
  for (const [key, said] of Object.entries(says) as [Key, string][]) {
    const [, answer, words] = /^(yes|no|ask|\?): (.+)$/s.exec(said)!;
    for (const use of USE_OF[key]) uses.set(use, { answer: answer === '?' ? null : (answer as Answer), words: words!.split('|') });
  }
  if (uses.has('website') && !uses.has('online-store')) uses.set('online-store', uses.get('website')!);
  return { kind, text, uses, restricts, limits };
};

const all = [...PASSAGE_SET_1, ...PASSAGE_SET_2].map(truthOf);
/** The half that rules were tuned on, and the half put away before it. Every other text, so that both have each kind. */
export const TUNED = all.filter((_, i) => i % 2 === 0);
export const PUT_AWAY = all.filter((_, i) => i % 2 === 1);
/** Texts put away a second time, once the first put-away half had been looked at. */
export const PUT_AWAY_AGAIN = PASSAGE_SET_3.map(truthOf);
export const PUT_AWAY_LAST = PASSAGE_SET_4.map(truthOf);
/** Written last; looked at once. */
export const UNSEEN = PASSAGE_SET_5.map(truthOf);
