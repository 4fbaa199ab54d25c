import { HEAD, Loca, type OpenTables } from '../sfnt/index.js';
import { CffOutlines } from './cff.js';
import { GlyfOutlines } from './glyf.js';
import type { Pen } from './pen.js';

/** Whatever kind of outlines a face has. */
export interface Outlines {
  /** Draws at the default instance. @throws FontError when the glyph is damaged. */
  draw(glyph: number, pen: Pen): void;
}

/** The outlines of a face, or null when it has none. @throws FontError when their table is damaged. */
export function openOutlines(face: OpenTables): Outlines | null {
  const cff = face.bytes('CFF2') ?? face.bytes('CFF ');
  if (cff) return new CffOutlines(cff, face.has('CFF2'));
  const glyf = face.bytes('glyf');
  const loca = face.bytes('loca');
  if (!glyf || !loca) return null;
  return new GlyfOutlines(glyf, new Loca(loca, face.need(HEAD).indexToLocFormat !== 0));
}
