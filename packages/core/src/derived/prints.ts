import { readPrints, type Prints } from '../face/index.js';
import type { Derived } from './derived.js';

/** Fingerprints of outlines and of what else makes a face; null for one that draws nothing. */
export const PRINTS: Derived<Prints | null> = { id: 'prints', version: 6, from: ({ face }) => readPrints(face) };
