import { BLOCKS } from './data/languages.js';

/** The block of Unicode a code point lies in, or null between blocks. */
export function blockOf(codePoint: number): string | null {
  let low = 0;
  let high = BLOCKS.length - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    const [first, last, name] = BLOCKS[middle]!;
    if (codePoint < first) high = middle - 1;
    else if (codePoint > last) low = middle + 1;
    else return name;
  }
  return null;
}
