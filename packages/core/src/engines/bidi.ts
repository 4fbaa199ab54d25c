import bidiModule, { type Bidi } from 'bidi-js';

// The package says it has its maker under `default`; what Node gives is the maker itself.
const bidi = (bidiModule as unknown as () => Bidi)();

/** Embedding level of each UTF-16 unit of a line; odd ones run from right to left. Source: Unicode Standard Annex 9. */
export const bidiLevels = (line: string): ArrayLike<number> => bidi.getEmbeddingLevels(line).levels;
