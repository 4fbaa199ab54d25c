import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import { render } from '../src/convert/index.js';
import type { Face } from '../src/font/index.js';
import { FontError } from '../src/sfnt/index.js';
import { faceOf } from './face.js';
import { readFont, type FONTS } from './fonts.js';

const subsetter = await nodeSubsetter();
/** A font with the glyphs of a few characters, made by HarfBuzz, so that each byte of it can be changed. */
export const smallFace = (name: keyof typeof FONTS, text: string): Face => {
  const runs = [...new Set(text)].map((c) => c.codePointAt(0)!).flatMap((c) => [c, c]);
  return faceOf(render(readFont(name), 0, [{ step: 'subset', options: { runs } }], { codec: nodeCodec, subsetter }).bytes);
};

/** Errors that are no refusal of ours: faults of the readers. */
const faults: string[] = [];
afterEach(() => expect(faults.splice(0)).toEqual([]));
/** What comes of reading: the data, or the sentence that refuses it. Any other error fails the test that it came up in. */
export function outcome(read: () => unknown): unknown {
  try {
    return read();
  } catch (error) {
    if (error instanceof FontError) return `${error.code}: ${error.message}`;
    faults.push(
      String((error as Error).stack)
        .split('\n')
        .slice(0, 3)
        .join(' '),
    );
    return null;
  }
}
