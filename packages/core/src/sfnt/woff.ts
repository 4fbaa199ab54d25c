import { headChecksum, tableChecksum } from './checksum.js';
import type { Codec } from './codec.js';
import type { ContainerFault, SfntFont } from './container.js';
import { FontError } from './errors.js';
import { Reader } from './reader.js';
import { writeSfnt } from './write.js';
import { Writer } from './writer.js';

/** What a packed font may hold once it is unpacked, all tables together, known or not. */
const MAX_UNPACKED = 160 * 1024 * 1024;
/** Beyond 4 MiB a font may grow by this factor. Real tables pack to a tenth, color bitmaps hardly at all (common practice). */
const MAX_GROWTH = 100;

/**
 * Refuses a packed font by what its directory says it unpacks to.
 * @throws FontError
 */
export function checkUnpacked(total: number, packed: number, table?: string): void {
  if (total > MAX_UNPACKED || (total > 4 * 1024 * 1024 && total > MAX_GROWTH * packed))
    throw new FontError(
      'too-large',
      'Unpacked, the font would be far larger than real fonts are, as harmful files are. It was not unpacked.',
      table ? { table } : {},
    );
}

/**
 * Reads WOFF 1.0. Source: WOFF File Format 1.0 (W3C Recommendation), sections 3 to 5.
 * @throws FontError when the directory or a table's compression is damaged.
 */
export function readWoff(bytes: Uint8Array, codec: Codec): SfntFont {
  const file = new Reader(bytes);
  const flavor = file.u32(4);
  const stated = file.u32(8);
  const count = file.u16(12);
  if (stated > bytes.length) throw new FontError('truncated', 'The WOFF file is shorter than it says: it was cut short.', { offset: 8 });
  if (count === 0) throw new FontError('bad-directory', 'The WOFF file has no tables.', { offset: 12 });
  file.need(44, 20 * count);
  const tables = new Map<string, Uint8Array>();
  const faults: ContainerFault[] = [];
  let total = 0;
  const offsets = new Map<string, number>();
  for (let i = 0; i < count; i++) {
    const at = 44 + 20 * i;
    const tag = file.tag(at);
    const offset = file.u32(at + 4);
    const compLength = file.u32(at + 8);
    const origLength = file.u32(at + 12);
    const checksum = file.u32(at + 16);
    if (offset + compLength > bytes.length)
      throw new FontError('truncated', `The ${tag.trim()} table reaches past the end of the file: the file is cut short or damaged.`, {
        table: tag,
        offset,
      });
    if (compLength > origLength)
      throw new FontError('bad-directory', `The ${tag.trim()} table is larger compressed than plain, which WOFF forbids.`, { table: tag });
    total += origLength;
    checkUnpacked(total, bytes.length, tag);
    const raw = file.slice(offset, compLength);
    const data = compLength === origLength ? raw : inflateTable(raw, origLength, tag, codec);
    if (tables.has(tag)) {
      faults.push({ code: 'duplicate-table', table: tag, message: `The ${tag.trim()} table is listed twice; the first one is used.` });
      continue;
    }
    tables.set(tag, data);
    offsets.set(tag, offset);
    if ((tag === 'head' ? headChecksum(data) : tableChecksum(data)) !== checksum)
      faults.push({
        code: 'bad-checksum',
        table: tag,
        message: `The ${tag.trim()} table does not match its checksum: it was changed or damaged after the font was made.`,
      });
  }
  const inFileOrder = [...tables].sort(([a], [b]) => offsets.get(a)! - offsets.get(b)!);
  return { flavor, tables: new Map(inFileOrder), faults };
}

function inflateTable(raw: Uint8Array, length: number, tag: string, codec: Codec): Uint8Array {
  let data: Uint8Array;
  try {
    data = codec.inflate(raw, length);
  } catch {
    throw new FontError('bad-compression', `The ${tag.trim()} table cannot be unpacked: the file is damaged.`, { table: tag });
  }
  if (data.length !== length)
    throw new FontError('bad-compression', `The ${tag.trim()} table unpacks to another length than stated: the file is damaged.`, {
      table: tag,
    });
  return data;
}

/**
 * Writes WOFF 1.0 with each table compressed where that makes it smaller; no metadata block.
 * Source: WOFF File Format 1.0 (W3C Recommendation), sections 3 to 5.
 */
export function writeWoff(font: SfntFont, codec: Codec): Uint8Array {
  // The sfnt as it will be after unpacking, so that checksums and checkSumAdjustment are right there.
  const sfnt = writeSfnt(font);
  const directory = new Reader(sfnt);
  const count = font.tables.size;
  const start = 44 + 20 * count;
  const body = new Writer(sfnt.length);
  const packed = new Map<string, { offset: number; compLength: number }>();
  const records = Array.from({ length: count }, (_, i) => ({
    tag: directory.tag(12 + 16 * i),
    checksum: directory.u32(16 + 16 * i),
    offset: directory.u32(20 + 16 * i),
    length: directory.u32(24 + 16 * i),
  }));
  for (const { tag, offset, length } of [...records].sort((a, b) => a.offset - b.offset)) {
    const plain = sfnt.subarray(offset, offset + length);
    const smaller = codec.deflate(plain);
    const data = smaller.length < plain.length ? smaller : plain;
    packed.set(tag, { offset: start + body.length, compLength: data.length });
    body.put(data);
    body.pad4();
  }
  const head = new Writer(start + body.length);
  head.tag('wOFF');
  head.u32(font.flavor);
  head.u32(start + body.length);
  head.u16(count);
  head.u16(0);
  head.u32(sfnt.length);
  head.u16(1);
  head.u16(0);
  for (let i = 0; i < 5; i++) head.u32(0); // no metadata, no private data
  for (const r of records) {
    head.tag(r.tag);
    head.u32(packed.get(r.tag)!.offset);
    head.u32(packed.get(r.tag)!.compLength);
    head.u32(r.length);
    head.u32(r.checksum);
  }
  head.put(body.done());
  return head.done().slice();
}
