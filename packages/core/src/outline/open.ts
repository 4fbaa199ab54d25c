import { Loca, readHead, type SfntFont } from '../sfnt/index.js';
import { CffOutlines } from './cff.js';
import { GlyfOutlines } from './glyf.js';
import type { Pen } from './pen.js';

/** Whatever kind of outlines a face has. */
export interface Outlines {
  /** Draws at the default instance. @throws FontError when the glyph is damaged. */
  draw(glyph: number, pen: Pen): void;
}

/** The outlines of a face, or null when it has none. @throws FontError when their table is damaged. */
export function openOutlines({ tables }: SfntFont): Outlines | null {
  const cff = tables.get('CFF2') ?? tables.get('CFF ');
  if (cff) return new CffOutlines(cff, tables.has('CFF2'));
  const glyf = tables.get('glyf');
  const loca = tables.get('loca');
  if (!glyf || !loca) return null;
  return new GlyfOutlines(glyf, new Loca(loca, readHead(tables.get('head')!).indexToLocFormat !== 0));
}
