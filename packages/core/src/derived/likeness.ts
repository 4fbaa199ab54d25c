import { describeLetters, likenessOf, type Likeness } from '../match/index.js';
import type { Derived } from './derived.js';
import { LETTERS } from './letters.js';

/** Where it stands among all faces; null with too few Latin letters. */
export const LIKENESS: Derived<Likeness | null> = {
  id: 'likeness',
  version: 6,
  from: (made) => likenessOf(describeLetters(made.of(LETTERS))),
};
