import { nodeCodec } from '@orderly-glyph/node';
import { containerRecipe, proveEqual, render, type Comparison } from '../src/convert/index.js';
import { openFace, type Face } from '../src/font/index.js';
import type { SfntFont } from '../src/sfnt/index.js';
import { writeSfnt } from '../src/sfnt/index.js';

export const faceOf = (bytes: Uint8Array, index = 0): Face => openFace(bytes, nodeCodec, index);
export const faceFrom = (font: SfntFont): Face => faceOf(writeSfnt(font));
/** A face in another container. */
export const convertTo = (bytes: Uint8Array, to: string, index = 0): Uint8Array =>
  render(bytes, index, containerRecipe(to), { codec: nodeCodec }).bytes;
export const proveSame = (before: Uint8Array, after: Uint8Array, index = 0): Comparison => proveEqual(faceOf(before, index), faceOf(after));
