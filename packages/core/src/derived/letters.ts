import { readLetters, type Letters } from '../face/index.js';
import type { Derived } from './derived.js';

/** The letters that kinds and look-alikes are judged by. Only a step between: nobody keeps it, so it is in no registry. */
export const LETTERS: Derived<Letters> = { id: 'letters', version: 1, from: ({ face }) => readLetters(face) };
