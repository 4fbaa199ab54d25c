import { Reader } from '../reader.js';

/** Color tables present, in the words of the specification, with COLR's version. */
export function colorTables(tables: Map<string, Uint8Array>): string[] {
  const found: string[] = [];
  const colr = tables.get('COLR');
  if (colr && colr.length >= 2) found.push(`COLR${new Reader(colr, 'COLR').u16(0)}`);
  if (tables.has('SVG ')) found.push('SVG');
  if (tables.has('sbix')) found.push('sbix');
  if (tables.has('CBDT')) found.push('CBDT');
  return found;
}
