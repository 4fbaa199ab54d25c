import { answerOf, type FaceAnswer } from './answer.js';
import type { IndexedFace } from './coarse.js';
import type { ReadWord } from './letters.js';
import { charactersOf, namedLetters } from './reader.js';
import { searchFaces, type SearchOptions } from './search.js';
import type { FaceShapes } from './shapes.js';
import { searchWord, type WordShape } from './word.js';

/** From this share of cut letters on a word is compared as one shape. */
const MOSTLY_CUT = 0.34;

/** Whether a word is better compared as one shape than letter by letter, when nobody says. */
export const readsAsWord = ({ cut, whole }: ReadWord): boolean => whole !== null && cut >= MOSTLY_CUT;

/** How a person wants a word to be looked for. */
export interface FindOptions extends SearchOptions {
  /** Places in the word that are left out. */
  without?: readonly number[];
  /** As one shape, or not; null or left out as the word itself asks. */
  asWord?: boolean | null;
}

export interface FoundFaces<T> {
  answer: FaceAnswer<T>;
  /** Whether the word was compared as one shape. */
  asWord: boolean;
  /** Letters that were compared. */
  letters: number;
}

/**
 * Which faces a word of a picture is set in: by its letters, or as one shape. One place decides that for the page, the server and the
 * benches.
 * @param wordOf the word as a face shapes it; it is then compared as one shape
 */
export function findFaces<T>(
  word: string,
  read: ReadWord,
  faces: readonly IndexedFace<T>[],
  familyOf: (item: T) => string,
  { without = [], asWord = null, ...options }: FindOptions = {},
  wordOf: ((face: IndexedFace<T>) => WordShape | null) | null = null,
): FoundFaces<T> {
  const shapes = new Map<T, FaceShapes>(faces.map((f) => [f.item, f.shapes]));
  const shapesOf = (item: T): FaceShapes => shapes.get(item)!;
  const codePoints = charactersOf(word).map((c) => c.codePointAt(0)!);
  // A word with letters that no face is indexed by can only be compared by its others.
  const able = wordOf !== null || faces.some((f) => codePoints.every((c) => f.shapes.letters.has(c)));
  if (read.whole && able && (wordOf !== null || (asWord ?? readsAsWord(read)))) {
    const search = searchWord(read.whole, word, faces, familyOf, options, wordOf);
    return { answer: answerOf(search, familyOf, shapesOf, codePoints, true), asWord: true, letters: codePoints.length };
  }
  const letters = namedLetters(word, read, faces, without);
  const search = searchFaces(letters, faces, familyOf, options);
  const compared = letters.map((l) => l.codePoint);
  return { answer: answerOf(search, familyOf, shapesOf, compared), asWord: false, letters: letters.length };
}
