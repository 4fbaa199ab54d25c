import type { Codec } from '../codec.js';
import type { SfntFont } from '../container.js';
import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { checkUnpacked } from '../woff.js';
import { Writer } from '../writer.js';
import { restoreGlyf, type RestoredGlyf } from './glyf.js';
import { KNOWN_TAGS } from './tags.js';
import { Cursor } from './varint.js';

interface Entry {
  tag: string;
  transform: number;
  origLength: number;
  storedLength: number;
  offset: number;
}

const FLAVOR_TTC = 0x74746366;

/**
 * Reads WOFF 2.0, single fonts and collections, and undoes its table transforms.
 * Source: WOFF 2.0 (W3C Recommendation), sections 4 and 5.
 * @throws FontError when the directory, the compression or a transformed table is damaged.
 */
export function readWoff2(bytes: Uint8Array, codec: Codec): SfntFont[] {
  const file = new Reader(bytes);
  const flavor = file.u32(4);
  if (file.u32(8) > bytes.length)
    throw new FontError('truncated', 'The WOFF2 file is shorter than it says: it was cut short.', { offset: 8 });
  const count = file.u16(12);
  const compressedSize = file.u32(20);
  if (count === 0) throw new FontError('bad-directory', 'The WOFF2 file has no tables.', { offset: 12 });
  const cursor = new Cursor(file, 48);
  const entries: Entry[] = [];
  let total = 0;
  for (let i = 0; i < count; i++) {
    const entry = readEntry(cursor, total);
    total += entry.storedLength;
    checkUnpacked(total + entry.origLength - entry.storedLength, bytes.length, entry.tag);
    entries.push(entry);
  }
  const groups = flavor === FLAVOR_TTC ? readCollectionDirectory(cursor, count) : [{ flavor, indices: entries.map((_, i) => i) }];
  let data: Uint8Array;
  try {
    data = codec.brotliDecompress(file.slice(cursor.at, compressedSize), total);
  } catch (error) {
    if (error instanceof FontError) throw error;
    throw new FontError('bad-compression', 'The WOFF2 data cannot be unpacked: the file is damaged.', { offset: cursor.at });
  }
  if (data.length !== total)
    throw new FontError('bad-compression', 'The WOFF2 data unpacks to another length than stated: the file is damaged.', {
      offset: cursor.at,
    });
  const glyphs = new Map<number, RestoredGlyf>();
  return groups.map((group) => assemble(group.flavor, group.indices, entries, data, glyphs));
}

function readEntry(cursor: Cursor, offset: number): Entry {
  const flags = cursor.u8();
  const known = flags & 0x3f;
  let tag = KNOWN_TAGS[known];
  if (known === 63) {
    tag = cursor.reader.tag(cursor.at);
    cursor.at += 4;
  }
  const version = flags >> 6;
  const origLength = cursor.base128();
  // glyf and loca count the null transform as version 3, every other table as version 0.
  const isGlyph = tag === 'glyf' || tag === 'loca';
  const transform = isGlyph ? (version === 3 ? 0 : 1) : version;
  if ((isGlyph && version !== 0 && version !== 3) || (!isGlyph && version !== 0 && !(tag === 'hmtx' && version === 1)))
    throw new FontError('unsupported', `The ${tag!.trim()} table uses a transform that WOFF2 does not define.`, { table: tag! });
  const storedLength = transform ? cursor.base128() : origLength;
  if (tag === 'loca' && transform && storedLength !== 0)
    throw new FontError('bad-directory', 'The transformed loca table should be empty and is not.', { table: 'loca' });
  return { tag: tag!, transform, origLength, storedLength, offset };
}

function readCollectionDirectory(cursor: Cursor, count: number): { flavor: number; indices: number[] }[] {
  cursor.u32(); // version
  const fonts = cursor.u255();
  if (fonts === 0 || fonts > 512)
    throw new FontError('too-many-faces', 'The collection holds no fonts or more than 512.', { offset: cursor.at });
  return Array.from({ length: fonts }, () => {
    const tables = cursor.u255();
    const flavor = cursor.u32();
    const indices = Array.from({ length: Math.min(tables, count) }, () => {
      const index = cursor.u255();
      if (index >= count)
        throw new FontError('bad-directory', 'A font of the collection names a table that is not there.', { offset: cursor.at });
      return index;
    });
    return { flavor, indices };
  });
}

function assemble(flavor: number, indices: number[], entries: Entry[], data: Uint8Array, glyphs: Map<number, RestoredGlyf>): SfntFont {
  const tables = new Map<string, Uint8Array>();
  const faults: SfntFont['faults'] = [];
  const stored = (entry: Entry): Uint8Array => data.subarray(entry.offset, entry.offset + entry.storedLength);
  let restored: RestoredGlyf | null = null;
  let hmtx: Entry | null = null;
  for (const index of indices) {
    const entry = entries[index]!;
    if (tables.has(entry.tag)) {
      faults.push({
        code: 'duplicate-table',
        table: entry.tag,
        message: `The ${entry.tag.trim()} table is listed twice; the first one is used.`,
      });
      continue;
    }
    tables.set(entry.tag, stored(entry));
    if (entry.tag === 'glyf' && entry.transform) {
      restored = glyphs.get(index) ?? restoreGlyf(stored(entry));
      glyphs.set(index, restored);
    }
    if (entry.tag === 'hmtx' && entry.transform) hmtx = entry;
  }
  if (restored) {
    tables.set('glyf', restored.glyf);
    tables.set('loca', restored.loca);
    setLocaFormat(tables, restored.longFormat);
  } else if (indices.some((i) => entries[i]!.tag === 'loca' && entries[i]!.transform)) {
    throw new FontError('missing-table', 'The loca table is transformed and there is no transformed glyf table beside it.', {
      table: 'loca',
    });
  }
  if (hmtx) tables.set('hmtx', restoreHmtx(stored(hmtx), tables, restored));
  return { flavor, tables, faults };
}

function setLocaFormat(tables: Map<string, Uint8Array>, longFormat: boolean): void {
  const head = tables.get('head');
  if (!head || head.length < 54) return;
  const copy = head.slice();
  new DataView(copy.buffer).setInt16(50, longFormat ? 1 : 0);
  tables.set('head', copy);
}

/**
 * Source: WOFF 2.0, section 5.4: left side bearings that equal xMin are left out.
 * @throws FontError when it is damaged or does not fit
 */
function restoreHmtx(data: Uint8Array, tables: Map<string, Uint8Array>, restored: RestoredGlyf | null): Uint8Array {
  const hhea = tables.get('hhea');
  const maxp = tables.get('maxp');
  if (!restored || !hhea || !maxp)
    throw new FontError('missing-table', 'The hmtx table is transformed and what it needs to be restored is missing.', { table: 'hmtx' });
  const metrics = new Reader(hhea, 'hhea').u16(34);
  const numGlyphs = new Reader(maxp, 'maxp').u16(4);
  if (metrics === 0 || metrics > numGlyphs || numGlyphs > restored.xMins.length)
    throw new FontError('bad-table', 'The number of advance widths does not fit the number of glyphs.', { table: 'hmtx' });
  const cursor = new Cursor(new Reader(data, 'hmtx'));
  const flags = cursor.u8();
  if ((flags & 0xfc) !== 0 || (flags & 3) === 0)
    throw new FontError('bad-table', 'The transformed hmtx table has flags WOFF2 does not define.', { table: 'hmtx' });
  const advances = Array.from({ length: metrics }, () => cursor.u16());
  const bearing = (i: number, leftOut: boolean): number => (leftOut ? restored.xMins[i]! : cursor.i16());
  const proportional = advances.map((_, i) => bearing(i, (flags & 1) !== 0));
  const out = new Writer(2 * (metrics + numGlyphs));
  advances.forEach((advance, i) => {
    out.u16(advance);
    out.u16(proportional[i]! & 0xffff);
  });
  for (let i = metrics; i < numGlyphs; i++) out.u16(bearing(i, (flags & 2) !== 0) & 0xffff);
  return out.done();
}
