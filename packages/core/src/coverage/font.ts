import { openFace } from '../engines/index.js';
import { glyphOf, MarkAnchors, readCmap, readFontFile, readMaxp, type Codec } from '../sfnt/index.js';
import { judgeCoverage, type Coverage } from './judge.js';

/**
 * Judges one face of an sfnt file. A face without a character map covers nothing.
 * @param sfnt a whole TTF, OTF or TTC file (not WOFF)
 * @throws FontError when the file cannot be read
 */
export function judgeFont(sfnt: Uint8Array, faceIndex: number, codec: Codec): Coverage {
  const { tables } = readFontFile(sfnt, codec).fonts[faceIndex]!;
  const cmap = tables.has('cmap') && tables.has('maxp') ? readCmap(tables.get('cmap')!, readMaxp(tables.get('maxp')!).numGlyphs) : null;
  if (!cmap) return { languages: [], scripts: [], broken: [] };
  const gpos = tables.get('GPOS');
  return judgeCoverage({
    codePoints: cmap.codePoints,
    glyphOf: (codePoint) => glyphOf(cmap, codePoint),
    shaper: openFace(sfnt, faceIndex),
    anchors: gpos ? new MarkAnchors(gpos) : null,
    hasGsub: tables.has('GSUB'),
  });
}
