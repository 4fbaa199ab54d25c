import { Reader } from '../reader.js';

/** Script and feature tags of a GSUB or GPOS table. Source: OpenType specification, chapter 2 (common layout formats). */
export function readLayoutTags(data: Uint8Array, table: 'GSUB' | 'GPOS'): { scripts: string[]; features: string[] } {
  const r = new Reader(data, table);
  r.need(0, 10);
  return { scripts: tagsAt(r, r.u16(4)), features: tagsAt(r, r.u16(6)) };
}

/** ScriptList and FeatureList begin alike: a count, then records of a tag and an offset. */
function tagsAt(r: Reader, offset: number): string[] {
  if (offset === 0) return [];
  const count = r.u16(offset);
  r.need(offset + 2, 6 * count);
  const tags = new Set<string>();
  for (let i = 0; i < count; i++) tags.add(r.tag(offset + 2 + 6 * i));
  return [...tags].sort();
}
