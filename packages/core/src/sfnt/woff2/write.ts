import type { Codec } from '../codec.js';
import type { SfntFont } from '../container.js';
import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { writeSfnt } from '../write.js';
import { Writer } from '../writer.js';
import { restoreGlyf, transformGlyf } from './glyf.js';
import { KNOWN_TAGS } from './tags.js';
import { putBase128 } from './varint.js';

const HEAD_FLAG_LOSSLESS = 1 << 11;

/**
 * Writes WOFF 2.0 with the glyf/loca transform; outlines, metrics, names and layout stay what they were.
 * As the standard asks, DSIG is left out and bit 11 of head.flags is set; glyphs are normalised.
 * Source: WOFF 2.0 (W3C Recommendation), sections 4 and 5.
 * @throws FontError when head or maxp is missing or cut short.
 */
export function writeWoff2(font: SfntFont, codec: Codec): Uint8Array {
  const tables = new Map([...font.tables].filter(([tag]) => tag !== 'DSIG').sort(([a], [b]) => (a < b ? -1 : 1)));
  const head = tables.get('head');
  const maxp = tables.get('maxp');
  if (!head || head.length < 54)
    throw new FontError('missing-table', 'The font has no head table, so it cannot be packed as WOFF2.', { table: 'head' });
  if (!maxp || maxp.length < 6)
    throw new FontError('missing-table', 'The font has no maxp table, so it cannot be packed as WOFF2.', { table: 'maxp' });
  const longFormat = new Reader(head, 'head').i16(50) !== 0;
  const numGlyphs = new Reader(maxp, 'maxp').u16(4);
  const flagged = head.slice();
  flagged[16] = flagged[16]! | (HEAD_FLAG_LOSSLESS >> 8);
  tables.set('head', flagged);

  const packedGlyf = tryTransform(tables, numGlyphs, longFormat);
  if (packedGlyf) {
    // What a reader will restore decides loca's length and the checksums, so it is worked out here.
    const restored = restoreGlyf(packedGlyf);
    tables.set('glyf', restored.glyf);
    tables.set('loca', restored.loca);
    new DataView(flagged.buffer).setInt16(50, restored.longFormat ? 1 : 0);
  }
  const sfnt = writeSfnt({ ...font, tables });
  flagged.set(headOf(sfnt));

  const directory = new Writer(tables.size * 8);
  const body = new Writer(sfnt.length);
  for (const [tag, data] of tables) {
    const transformed = packedGlyf !== null && (tag === 'glyf' || tag === 'loca');
    const isGlyph = tag === 'glyf' || tag === 'loca';
    const known = KNOWN_TAGS.indexOf(tag);
    directory.u8((known < 0 ? 63 : known) | (isGlyph && !transformed ? 0xc0 : 0));
    if (known < 0) directory.tag(tag);
    putBase128(directory, data.length);
    if (transformed) {
      const stored = tag === 'glyf' ? packedGlyf! : new Uint8Array(0);
      putBase128(directory, stored.length);
      body.put(stored);
    } else body.put(data);
  }
  const packed = codec.brotliCompress(body.done());

  const out = new Writer(48 + directory.length + packed.length + 4);
  out.tag('wOF2');
  out.u32(font.flavor);
  const unpadded = 48 + directory.length + packed.length;
  out.u32((unpadded + 3) & ~3);
  out.u16(tables.size);
  out.u16(0);
  out.u32(sfnt.length);
  out.u32(packed.length);
  out.u16(1);
  out.u16(0);
  for (let i = 0; i < 5; i++) out.u32(0); // no metadata, no private data
  out.put(directory.done());
  out.put(packed);
  out.pad4();
  return out.done().slice();
}

/**
 * The head table of a freshly written sfnt.
 * @throws FontError when it is damaged or does not fit
 */
function headOf(sfnt: Uint8Array): Uint8Array {
  const file = new Reader(sfnt);
  for (let i = 0; i < file.u16(4); i++)
    if (file.tag(12 + 16 * i) === 'head') return file.slice(file.u32(20 + 16 * i), file.u32(24 + 16 * i));
  throw new FontError('missing-table', 'The font has no head table.', { table: 'head' });
}

/**
 * The transformed glyf table, or null where the font has none or a glyph is too odd to be transformed.
 * @throws FontError when it is damaged or does not fit
 */
function tryTransform(tables: Map<string, Uint8Array>, numGlyphs: number, longFormat: boolean): Uint8Array | null {
  const glyf = tables.get('glyf');
  const loca = tables.get('loca');
  if (!glyf || !loca) return null;
  try {
    return transformGlyf(glyf, loca, numGlyphs, longFormat);
  } catch (error) {
    if (error instanceof FontError) return null;
    throw error;
  }
}
