import { openFace } from '../engines/index.js';
import { glyphOf, MarkAnchors, readCmap, readFontFile, readMaxp, type Codec } from '../sfnt/index.js';
import { judgeCoverage, needsFor, type Coverage, type JudgedFace, type LanguageNeeds } from './judge.js';

/** Opens a face for judging; null when it has no character map. @throws FontError when the file cannot be read */
function openJudged(sfnt: Uint8Array, faceIndex: number, codec: Codec): JudgedFace | null {
  const { tables } = readFontFile(sfnt, codec).fonts[faceIndex]!;
  const cmap = tables.has('cmap') && tables.has('maxp') ? readCmap(tables.get('cmap')!, readMaxp(tables.get('maxp')!).numGlyphs) : null;
  if (!cmap) return null;
  const gpos = tables.get('GPOS');
  return {
    codePoints: cmap.codePoints,
    glyphOf: (codePoint) => glyphOf(cmap, codePoint),
    shaper: openFace(sfnt, faceIndex),
    anchors: gpos ? new MarkAnchors(gpos) : null,
    hasGsub: tables.has('GSUB'),
  };
}

/**
 * Judges one face of an sfnt file. A face without a character map covers nothing.
 * @param sfnt a whole TTF, OTF or TTC file (not WOFF)
 * @throws FontError when the file cannot be read
 */
export function judgeFont(sfnt: Uint8Array, faceIndex: number, codec: Codec): Coverage {
  const face = openJudged(sfnt, faceIndex, codec);
  return face ? judgeCoverage(face) : { languages: [], scripts: [], broken: [], writes: { runs: [], loose: [] } };
}

/** What a face of an sfnt file lacks for a language; null for an unknown language or a face without a character map. */
export function fontNeeds(sfnt: Uint8Array, faceIndex: number, tag: string, codec: Codec): LanguageNeeds | null {
  const face = openJudged(sfnt, faceIndex, codec);
  return face && needsFor(face, tag);
}
