import { brotliDecompressSync, inflateSync } from 'node:zlib';
import { Refused } from '../common/refused.js';

export const MAX_BYTES = 1024 * 1024;
const MAX_UNPACKED = 30 * MAX_BYTES;
const NEEDED = ['cmap', 'head', 'hhea', 'hmtx', 'maxp'];

/** Tag numbers of WOFF2's table directory (WOFF 2.0, section 4.1) as far as this site looks at them. */
const TAGS: Record<number, string> = {
  0: 'cmap',
  1: 'head',
  2: 'hhea',
  3: 'hmtx',
  4: 'maxp',
  5: 'name',
  6: 'OS/2',
  7: 'post',
  10: 'glyf',
  11: 'loca',
  13: 'CFF ',
};

/**
 * The site's own look at a font file, as careful hosts do it: signature, lengths, tables, embedding permission.
 * @throws Refused with the reason.
 */
export function checkFont(data: Buffer): 'woff2' | 'woff' {
  if (data.length > MAX_BYTES) throw new Refused(413, `The file is ${data.length} bytes; this site takes 1 MiB at most.`);
  const signature = data.subarray(0, 4).toString('latin1');
  if (signature !== 'wOF2' && signature !== 'wOFF') throw new Refused(415, 'Only WOFF2 and WOFF files may be put here.');
  if (data.length < 48 || data.readUInt32BE(8) !== data.length) throw new Refused(422, 'The file is not as long as it says.');
  let tables: Map<string, Buffer>;
  try {
    tables = signature === 'wOF2' ? openWoff2(data) : openWoff(data);
  } catch (error) {
    if (error instanceof Refused) throw error;
    throw new Refused(422, 'The file cannot be unpacked.');
  }
  for (const tag of NEEDED) if (!tables.has(tag)) throw new Refused(422, `The file has no ${tag} table.`);
  if (!tables.has('glyf') && !tables.has('CFF ') && !tables.has('CFF2')) throw new Refused(422, 'The file has no outlines.');
  if (tables.get('head')!.readUInt32BE(12) !== 0x5f0f3cf5) throw new Refused(422, 'The head table is damaged.');
  checkEmbedding(tables.get('OS/2'));
  return signature === 'wOF2' ? 'woff2' : 'woff';
}

/** fsType of OS/2: bits 1 to 3 are the permission, bit 9 bitmaps only. */
function checkEmbedding(os2: Buffer | undefined): void {
  if (!os2 || os2.length < 10) return;
  const fsType = os2.readUInt16BE(8);
  if ((fsType & 0x000e) === 0x0002) throw new Refused(403, 'The font forbids embedding (fsType 2, restricted license).');
  if (os2.readUInt16BE(0) >= 2 && (fsType & 0x0200) !== 0)
    throw new Refused(403, 'The font only lets its bitmaps be embedded (fsType bit 9).');
}

function openWoff(data: Buffer): Map<string, Buffer> {
  const tables = new Map<string, Buffer>();
  const count = data.readUInt16BE(12);
  let total = 0;
  for (let i = 0; i < count; i++) {
    const at = 44 + 20 * i;
    const [offset, packed, length] = [data.readUInt32BE(at + 4), data.readUInt32BE(at + 8), data.readUInt32BE(at + 12)];
    if (offset + packed > data.length) throw new Refused(422, 'A table lies outside the file.');
    total += length;
    if (total > MAX_UNPACKED) throw new Refused(422, 'The file grows too large when unpacked.');
    const raw = data.subarray(offset, offset + packed);
    const table = packed === length ? raw : inflateSync(raw, { maxOutputLength: Math.max(1, length) });
    if (table.length !== length) throw new Refused(422, 'A table has another length than stated.');
    tables.set(data.subarray(at, at + 4).toString('latin1'), table);
  }
  return tables;
}

function openWoff2(data: Buffer): Map<string, Buffer> {
  const count = data.readUInt16BE(12);
  let at = 48;
  const base128 = (): number => {
    let value = 0;
    for (let i = 0; i < 5; i++) {
      const byte = data.readUInt8(at++);
      value = value * 128 + (byte & 127);
      if (byte < 128) return value;
    }
    throw new Refused(422, 'The table directory is damaged.');
  };
  const list: { tag: string; length: number }[] = [];
  let total = 0;
  for (let i = 0; i < count; i++) {
    const flags = data.readUInt8(at++);
    let tag = TAGS[flags & 63] ?? `#${flags & 63}`;
    if ((flags & 63) === 63) {
      tag = data.subarray(at, at + 4).toString('latin1');
      at += 4;
    }
    const original = base128();
    const glyphs = tag === 'glyf' || tag === 'loca';
    const transformed = glyphs ? flags >> 6 === 0 : flags >> 6 !== 0;
    const length = transformed ? base128() : original;
    list.push({ tag, length });
    total += length;
  }
  if (total > MAX_UNPACKED) throw new Refused(422, 'The file grows too large when unpacked.');
  const size = data.readUInt32BE(20);
  if (at + size > data.length) throw new Refused(422, 'The packed data lies outside the file.');
  const body = brotliDecompressSync(data.subarray(at, at + size), { maxOutputLength: Math.max(1, total) });
  if (body.length !== total) throw new Refused(422, 'The packed data has another length than stated.');
  const tables = new Map<string, Buffer>();
  let start = 0;
  for (const { tag, length } of list) {
    tables.set(tag, body.subarray(start, start + length));
    start += length;
  }
  return tables;
}
