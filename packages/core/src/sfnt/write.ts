import { headChecksum, tableChecksum } from './checksum.js';
import type { SfntFont } from './container.js';
import { Writer } from './writer.js';

/** searchRange, entrySelector and rangeShift of a directory of `count` records of `size` bytes. */
export function searchFields(count: number, size: number): [number, number, number] {
  const entrySelector = Math.max(0, Math.floor(Math.log2(Math.max(1, count))));
  const searchRange = 2 ** entrySelector * size;
  return [searchRange, entrySelector, count * size - searchRange];
}

/**
 * Writes tables as one sfnt file (TTF or OTF by the flavor) with fresh checksums and head.checkSumAdjustment.
 * Tables lie in the order of the map, which readers fill in the order of the file: a well-formed font
 * that was read comes out byte for byte the same.
 * Source: OpenType specification, "Organization of an OpenType Font" and head.checkSumAdjustment.
 */
export function writeSfnt(font: SfntFont): Uint8Array {
  const tags = [...font.tables.keys()].sort();
  const headerLength = 12 + 16 * tags.length;
  const offsets = new Map<string, number>();
  let end = headerLength;
  for (const [tag, data] of font.tables) {
    offsets.set(tag, end);
    end += (data.length + 3) & ~3;
  }
  const header = new Writer(headerLength);
  header.u32(font.flavor);
  header.u16(tags.length);
  for (const field of searchFields(tags.length, 16)) header.u16(field);
  for (const tag of tags) {
    const data = font.tables.get(tag)!;
    header.tag(tag);
    header.u32(tag === 'head' ? headChecksum(data) : tableChecksum(data));
    header.u32(offsets.get(tag)!);
    header.u32(data.length);
  }
  const out = new Uint8Array(end);
  out.set(header.done());
  for (const tag of tags) out.set(font.tables.get(tag)!, offsets.get(tag)!);
  const head = offsets.get('head');
  if (head !== undefined && font.tables.get('head')!.length >= 12) {
    const view = new DataView(out.buffer);
    view.setUint32(head + 8, 0);
    view.setUint32(head + 8, (0xb1b0afba - tableChecksum(out)) >>> 0);
  }
  return out;
}
