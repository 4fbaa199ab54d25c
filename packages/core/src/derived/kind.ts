import { judgeKind, type KindJudgement } from '../face/index.js';
import type { Derived } from './derived.js';
import { LETTERS } from './letters.js';

/** Serif, sans, handwriting, monospaced or symbols, with how sure. */
export const KIND: Derived<KindJudgement> = { id: 'kind', version: 6, from: (made) => judgeKind(made.of(LETTERS)) };
