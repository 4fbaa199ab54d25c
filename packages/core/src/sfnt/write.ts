import { headChecksum, tableChecksum } from './checksum.js';
import type { SfntFont } from './container.js';
import { FontError } from './errors.js';
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

/**
 * Writes several faces as one collection; tables that are the same byte for byte are stored once.
 * head.checkSumAdjustment keeps the value it has, since it is of no use in a collection.
 * Source: OpenType specification, "Font Collections" (version 1.0 of the header).
 * @throws FontError when there is no face, or more than a collection can hold
 */
export function writeCollection(fonts: readonly SfntFont[]): Uint8Array {
  if (fonts.length === 0) throw new FontError('does-not-fit', 'A collection holds at least one face.');
  const headerLength = 12 + 4 * fonts.length;
  const directories = fonts.map((f) => 12 + 16 * f.tables.size);
  let end = headerLength + directories.reduce((a, b) => a + b, 0);
  // Tables by what is in them: a checksum finds candidates, the bytes decide.
  const placed = new Map<string, { data: Uint8Array; offset: number }[]>();
  const place = (tag: string, data: Uint8Array): { offset: number; checksum: number } => {
    const checksum = tag === 'head' ? headChecksum(data) : tableChecksum(data);
    const key = `${checksum}/${data.length}`;
    const candidates = placed.get(key) ?? [];
    placed.set(key, candidates);
    const known = candidates.find((c) => c.data.every((v, i) => v === data[i]));
    if (known) return { offset: known.offset, checksum };
    const offset = end;
    candidates.push({ data, offset });
    end += (data.length + 3) & ~3;
    return { offset, checksum };
  };
  const w = new Writer(headerLength);
  w.tag('ttcf');
  w.u16(1);
  w.u16(0);
  w.u32(fonts.length);
  let at = headerLength;
  for (const length of directories) {
    w.u32(at);
    at += length;
  }
  for (const font of fonts) {
    w.u32(font.flavor);
    w.u16(font.tables.size);
    for (const field of searchFields(font.tables.size, 16)) w.u16(field);
    for (const tag of [...font.tables.keys()].sort()) {
      const data = font.tables.get(tag)!;
      const { offset, checksum } = place(tag, data);
      w.tag(tag);
      w.u32(checksum);
      w.u32(offset);
      w.u32(data.length);
    }
  }
  if (end > 0xffffffff) throw new FontError('does-not-fit', 'These faces are too large for one collection.');
  const out = new Uint8Array(end);
  out.set(w.done());
  for (const list of placed.values()) for (const { data, offset } of list) out.set(data, offset);
  return out;
}
