import { rasterize } from '../outline/index.js';
import type { Letters } from '../face/index.js';

/** Letters that tell typefaces apart, in the order of the descriptor. */
export const LETTERS = 'abcdefghijklmnopqrstuvwxyzABCDEFGHJKMNOPQRSTUVWYZ0123456789&';
const GRID = 6;
const PER_LETTER = GRID * GRID + 4;
/** Length of a raw descriptor. */
export const RAW_LENGTH = LETTERS.length * PER_LETTER;

/**
 * Describes the letters of a face, whatever its size and slant: for each of `LETTERS` a 6 by 6 raster of its ink within
 * its own bounds, then its width, height, bottom and advance against the height of capitals. Values about 0 to 1;
 * a letter that the face lacks leaves NaN.
 */
export function describeLetters({ drawn, unitsPerEm }: Pick<Letters, 'drawn' | 'unitsPerEm'>): Float32Array {
  const out = new Float32Array(RAW_LENGTH).fill(NaN);
  const cap = drawn.get('H')?.bounds.yMax ?? drawn.get('E')?.bounds.yMax ?? drawn.get('I')?.bounds.yMax ?? unitsPerEm * 0.7;
  const unit = cap > 0 ? cap : unitsPerEm * 0.7;
  [...LETTERS].forEach((character, i) => {
    const letter = drawn.get(character);
    if (!letter) return;
    const { bounds } = letter;
    const at = i * PER_LETTER;
    out.set(rasterize(letter.polygons, bounds, GRID, GRID), at);
    out[at + GRID * GRID] = clamp((bounds.xMax - bounds.xMin) / unit);
    out[at + GRID * GRID + 1] = clamp((bounds.yMax - bounds.yMin) / unit);
    out[at + GRID * GRID + 2] = clamp(bounds.yMin / unit);
    out[at + GRID * GRID + 3] = clamp(letter.advance / unit);
  });
  return out;
}

const clamp = (v: number): number => Math.min(3, Math.max(-3, v));
