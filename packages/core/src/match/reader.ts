import type { IndexedFace } from './coarse.js';
import type { PictureLetter, ReadWord } from './letters.js';
import type { NamedLetter } from './search.js';
import { CELLS, type FaceShapes } from './shapes.js';

/** Faces whose letters are looked at to guess what a shape is. */
const LOOKED_AT = 160;
/** How much proportions and heights weigh against rasters. */
const PROPORTION = 0.5;
const HEIGHT = 0.7;
const SHARED = 0.01;

/** How wide each character usually is over some faces, in heights of their capitals. */
export function usualWidths(faces: Iterable<FaceShapes>): Map<number, number> {
  const sums = new Map<number, [number, number]>();
  for (const { letters } of faces) {
    const cap = (letters.get(0x48) ?? letters.get(0x45) ?? letters.values().next().value)?.height ?? 700;
    for (const [c, l] of letters) {
      const s = sums.get(c) ?? [0, 0];
      s[0] += l.width / Math.max(1, cap);
      s[1]++;
      sums.set(c, s);
    }
  }
  return new Map([...sums].map(([c, [s, n]]) => [c, s / n]));
}

/** Width of a character that no face here has. */
const ANY_WIDTH = 0.65;
/** The characters of a word that have ink, composed. */
export const charactersOf = (word: string): string[] => [...word.normalize('NFC')].filter((c) => c.trim() !== '');

/** Widths of the letters of a word. */
export const widthsOf = (word: string, usual: ReadonlyMap<number, number>): number[] =>
  charactersOf(word).map((c) => usual.get(c.codePointAt(0)!) ?? usual.get(c.normalize('NFD').codePointAt(0)!) ?? ANY_WIDTH);

/** Letters whose marks stand apart from them, so that they can be compared without: their base; null for others. */
function baseOf(character: string): string | null {
  const [base, ...marks] = [...character.normalize('NFD')];
  // The marks of i and j stand where their dot was. Ogoneks, cedillas, horns and strokes are joined to their letters.
  const apart = marks.length > 0 && marks.every((m) => /[\u0300-\u030f\u0323-\u0326\u032d-\u0331]/.test(m));
  return apart && !/[ij]/i.test(base!) ? base! : null;
}

/**
 * The letters of a word that can be looked for: those that faces are indexed by, and of letters with accents the letter alone.
 * @param without places in the word that are left out
 */
export function namedLetters<T>(
  word: string,
  read: ReadWord,
  faces: readonly IndexedFace<T>[],
  without: readonly number[] = [],
): NamedLetter[] {
  const known = (codePoint: number): boolean => faces.some((f) => f.shapes.letters.has(codePoint));
  return charactersOf(word).flatMap((character, i): NamedLetter[] => {
    const letter = read.letters[i];
    if (!letter || without.includes(i)) return [];
    const codePoint = character.codePointAt(0)!;
    if (known(codePoint)) return [{ codePoint, letter }];
    const base = baseOf(character)?.codePointAt(0);
    const bare = read.bare[i];
    return base !== undefined && bare && known(base) ? [{ codePoint: base, letter: bare }] : [];
  });
}

/** A guess what a letter is. */
export interface Guess {
  codePoint: number;
  /** 1 for a shape that is very like one, towards 0. */
  score: number;
}

/**
 * What the letters of a line may be, by the shapes of all faces: up to three guesses each, the best first. They are guesses: small
 * letters that are drawn like their capitals are told from them by their height in the line alone.
 */
export function guessLetters<T>(letters: readonly PictureLetter[], faces: readonly IndexedFace<T>[]): Guess[][] {
  if (letters.length === 0 || faces.length === 0) return letters.map(() => []);
  const step = Math.max(1, Math.floor(faces.length / LOOKED_AT));
  const looked = faces.filter((_, i) => i % step === 0);
  const bottoms = letters.map((l) => l.box.y1).sort((a, b) => a - b);
  const base = bottoms[bottoms.length >> 1]!;
  const tallest = Math.max(...letters.map((l) => base - l.box.y0), 1);
  return letters.map((letter) => {
    const [w, h] = [letter.box.x1 - letter.box.x0, letter.box.y1 - letter.box.y0];
    const [top, bottom] = [(base - letter.box.y0) / tallest, (base - letter.box.y1) / tallest];
    const best = new Map<number, number>();
    for (const { shapes } of looked) {
      // The line's tallest letter is a capital or an ascender.
      const cap = shapes.letters.get(0x48)?.height ?? 700;
      for (const own of shapes.letters.values()) {
        const proportion = Math.log(w / h) - Math.log(own.width / own.height);
        let cost = PROPORTION * Math.min(1, proportion * proportion);
        cost += HEIGHT * Math.min(0.5, (top - (own.yMin + own.height) / cap) ** 2 + (bottom - own.yMin / cap) ** 2);
        const known = best.get(own.codePoint) ?? Infinity;
        if (cost >= known) continue;
        let sum = 0;
        for (let i = 0; i < own.raster.length; i++) {
          const r = own.raster[i]!;
          sum += (letter.cells[2 * i]! - (r >> 4)) ** 2 + (letter.cells[2 * i + 1]! - (r & 15)) ** 2;
        }
        cost += sum / (225 * CELLS * CELLS);
        // Of letters that scripts share in form, the one most people mean.
        if (own.codePoint > 0x7f) cost += SHARED;
        if (cost < known) best.set(own.codePoint, cost);
      }
    }
    return [...best]
      .sort((a, b) => a[1] - b[1])
      .slice(0, 3)
      .map(([codePoint, cost]) => ({ codePoint, score: Math.round(1000 * Math.exp(-8 * cost)) / 1000 }));
  });
}
