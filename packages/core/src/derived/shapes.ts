import { encodeShapes } from '../match/index.js';
import type { Derived } from './derived.js';

/** What its letters look like, to be found in pictures: the bytes of `encodeShapes` as Base64; null without letters. */
export const SHAPES: Derived<string | null> = {
  id: 'shapes',
  version: 1,
  from({ face }) {
    const bytes = encodeShapes(face);
    if (!bytes) return null;
    let binary = '';
    for (let i = 0; i < bytes.length; i += 8192) binary += String.fromCharCode(...bytes.subarray(i, i + 8192));
    return btoa(binary);
  },
};
