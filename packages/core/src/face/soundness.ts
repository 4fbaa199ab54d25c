import { glyphOf, Reader } from '../sfnt/index.js';
import type { FaceFacts, FaceTables } from './facts.js';

/**
 * One thing found amiss. `blocks`: a browser or a shaping engine will refuse the face; `fault`: it works but
 * something is wrong; `note`: worth knowing.
 */
export interface Finding {
  code: string;
  severity: 'blocks' | 'fault' | 'note';
  message: string;
  table?: string;
}

type Check = (tables: FaceTables, facts: Omit<FaceFacts, 'findings'>) => Finding[];

const blocks = (code: string, table: string, message: string): Finding => ({ code, severity: 'blocks', table, message });
const fault = (code: string, table: string, message: string): Finding => ({ code, severity: 'fault', table, message });
const note = (code: string, message: string): Finding => ({ code, severity: 'note', message });

/** Tables without which browsers refuse a face. Source: OpenType specification, "Required tables". */
const REQUIRED = ['cmap', 'head', 'hhea', 'hmtx', 'maxp', 'name', 'OS/2', 'post'] as const;

const container: Check = ({ face }) =>
  face.font.faults.map((f) => ({
    code: f.code,
    severity: f.code === 'overlapping-tables' ? 'blocks' : 'fault',
    ...(f.table ? { table: f.table } : {}),
    message: f.message,
  }));

const requiredTables: Check = ({ face }) =>
  REQUIRED.filter((tag) => !face.has(tag)).map((tag) =>
    tag === 'name' || tag === 'OS/2' || tag === 'post'
      ? fault('missing-table', tag, `The ${tag} table is missing. Browsers show the face all the same; design programs may refuse it.`)
      : blocks('missing-table', tag, `The ${tag} table is missing: browsers refuse the face.`),
  );

const outlines: Check = ({ face, head, numGlyphs }, facts) => {
  if (facts.outlines === 'none')
    return facts.color.some((c) => c === 'sbix' || c === 'CBDT')
      ? [note('bitmap-only', 'The face has pictures instead of outlines; many programs do not show it.')]
      : [blocks('no-outlines', 'glyf', 'The face has no outlines at all: there is nothing to show.')];
  if (facts.outlines !== 'glyf') return [];
  const loca = face.bytes('loca');
  const glyf = face.bytes('glyf')!;
  if (!loca)
    return [blocks('missing-table', 'loca', 'The loca table is missing, so the outlines cannot be found: browsers refuse the face.')];
  const size = head.indexToLocFormat === 0 ? 2 : 4;
  if (loca.length < (numGlyphs + 1) * size)
    return [blocks('short-loca', 'loca', 'The loca table is too short for the number of glyphs: browsers refuse the face.')];
  const r = new Reader(loca, 'loca');
  let previous = 0;
  for (let i = 0; i <= numGlyphs; i++) {
    const offset = size === 2 ? 2 * r.u16(2 * i) : r.u32(4 * i);
    if (offset < previous || offset > glyf.length)
      return [
        blocks('bad-loca', 'loca', `The outline of glyph ${Math.max(0, i - 1)} lies outside the glyf table: browsers refuse the face.`),
      ];
    previous = offset;
  }
  return [];
};

const metrics: Check = ({ head, hhea, hmtx, os2, face, numGlyphs }) => {
  const found: Finding[] = [];
  if (head.magicNumber !== 0x5f0f3cf5)
    found.push(blocks('bad-magic', 'head', 'The head table does not carry its magic number: browsers refuse the face.'));
  if (head.unitsPerEm < 16 || head.unitsPerEm > 16384)
    found.push(blocks('bad-em', 'head', `The em has ${head.unitsPerEm} units; 16 to 16384 are allowed and browsers refuse anything else.`));
  if (head.indexToLocFormat !== 0 && head.indexToLocFormat !== 1)
    found.push(blocks('bad-loca-format', 'head', 'The head table names a loca format that does not exist: browsers refuse the face.'));
  if (numGlyphs === 0) found.push(blocks('no-glyphs', 'maxp', 'The font holds no glyphs.'));
  if (hhea.numberOfHMetrics === 0 || hhea.numberOfHMetrics > numGlyphs)
    found.push(
      blocks('bad-metrics-count', 'hhea', 'The number of advance widths does not fit the number of glyphs: browsers refuse the face.'),
    );
  else if (!hmtx) {
    if (face.has('hmtx'))
      found.push(blocks('short-hmtx', 'hmtx', 'The hmtx table is too short for the widths it should hold: browsers refuse the face.'));
  } else if (face.bytes('hmtx')!.length < 4 * hhea.numberOfHMetrics + 2 * (numGlyphs - hhea.numberOfHMetrics))
    found.push(blocks('short-hmtx', 'hmtx', 'The hmtx table is too short for the side bearings it should hold: browsers refuse the face.'));
  if (hhea.ascender - hhea.descender <= 0)
    found.push(
      fault('contradictory-metrics', 'hhea', 'The ascender is not above the descender, so lines of text will fall on one another.'),
    );
  if (os2 && os2.sTypoAscender !== null && os2.sTypoDescender !== null && (os2.fsSelection & 0x80) !== 0 && os2.version >= 4) {
    const typo = os2.sTypoAscender - os2.sTypoDescender + (os2.sTypoLineGap ?? 0);
    const line = hhea.ascender - hhea.descender + hhea.lineGap;
    if (Math.abs(typo - line) > head.unitsPerEm / 50)
      found.push(
        fault(
          'contradictory-metrics',
          'OS/2',
          'The two sets of line metrics (hhea and OS/2) differ, so line spacing will not be the same in every program.',
        ),
      );
  }
  return found;
};

const styles: Check = ({ head, os2 }, facts) => {
  const found: Finding[] = [];
  if (!os2) return found;
  if (((os2.fsSelection & 1) !== 0) !== ((head.macStyle & 2) !== 0))
    found.push(
      fault('contradictory-style', 'OS/2', 'One table says the face is italic and another says it is not (fsSelection and macStyle).'),
    );
  if (((os2.fsSelection & 0x20) !== 0) !== ((head.macStyle & 1) !== 0))
    found.push(
      fault('contradictory-style', 'OS/2', 'One table says the face is bold and another says it is not (fsSelection and macStyle).'),
    );
  if (os2.usWeightClass < 1 || os2.usWeightClass > 1000)
    found.push(fault('bad-weight', 'OS/2', `The weight class is ${os2.usWeightClass}; 1 to 1000 are allowed.`));
  if (os2.usWidthClass < 1 || os2.usWidthClass > 9)
    found.push(fault('bad-width', 'OS/2', `The width class is ${os2.usWidthClass}; 1 to 9 are allowed.`));
  if (facts.embedding.contradictory)
    found.push(
      fault('contradictory-embedding', 'OS/2', 'More than one embedding permission is set (fsType); the least restrictive one is taken.'),
    );
  return found;
};

const characterMap: Check = ({ cmap, face }, facts) => {
  if (!cmap)
    return face.has('cmap')
      ? [blocks('no-character-map', 'cmap', 'The face has no character map that can be read, so no text can be set in it.')]
      : [];
  const found: Finding[] = [];
  if (cmap.dangling > 0)
    found.push(
      blocks(
        'dangling-characters',
        'cmap',
        `The character map sends ${cmap.dangling} characters to glyphs that do not exist. Browsers refuse the face.`,
      ),
    );
  for (const message of new Set(cmap.faults)) found.push(blocks('bad-character-map', 'cmap', `${message} Browsers refuse the face.`));
  if (facts.characterMap === 'symbol')
    found.push(
      note(
        'symbol-encoding',
        'A symbol face: its characters sit on private code points and are reached through the keys of other characters.',
      ),
    );
  if (facts.characterMap === 'mac-roman')
    found.push(note('mac-encoding', 'The face only has the old Macintosh character map; some programs will show nothing.'));
  if (facts.codePoints === 0) found.push(fault('no-characters', 'cmap', 'The character map is empty: no character shows.'));
  return found;
};

const names: Check = ({ face }, facts) => {
  if (!face.has('name')) return [];
  const found: Finding[] = [];
  if (!facts.family && !facts.typographicFamily)
    found.push(fault('no-family-name', 'name', 'The face has no family name; it is listed under its file name.'));
  if (facts.postScriptName && !/^[\x21-\x7e]{1,63}$/.test(facts.postScriptName))
    found.push(fault('bad-postscript-name', 'name', 'The PostScript name has characters or a length that print programs may refuse.'));
  return found;
};

/** A line needs a space, and characters need room: without them text runs together. */
const spacing: Check = ({ cmap, hmtx }, facts) => {
  if (!cmap || facts.codePoints === 0 || facts.characterMap === 'symbol') return [];
  const found: Finding[] = [];
  if (facts.codePoints > 20 && glyphOf(cmap, 0x20) === 0)
    found.push(note('no-space', 'The face has no space; programs take one from another face, or show a box between words.'));
  if (hmtx) {
    let wide = 0;
    for (let i = 0; i < cmap.glyphs.length && wide === 0; i++) wide = hmtx.advanceWidth(cmap.glyphs[i]!);
    if (wide === 0) found.push(fault('zero-widths', 'hmtx', 'Every character has a width of zero, so all of a text falls on one spot.'));
  }
  return found;
};

/** Flag against measurement, over the printable ASCII characters present. */
const pitch: Check = ({ cmap, hmtx }, facts) => {
  if (!cmap || !hmtx) return [];
  const widths = new Set<number>();
  let seen = 0;
  for (let i = 0; i < cmap.codePoints.length && cmap.codePoints[i]! < 0x7f; i++) {
    if (cmap.codePoints[i]! < 0x20) continue;
    widths.add(hmtx.advanceWidth(cmap.glyphs[i]!));
    seen++;
  }
  if (seen < 10) return [];
  if (facts.monospaced && widths.size > 1)
    return [fault('contradictory-pitch', 'post', 'The face says all its characters have one width, and they do not.')];
  if (!facts.monospaced && widths.size === 1)
    return [note('unmarked-pitch', 'All characters have one width although the face does not say so.')];
  return [];
};

const CHECKS: readonly Check[] = [container, requiredTables, outlines, metrics, styles, characterMap, names, spacing, pitch];

/** Judges a face by its tables; the worst findings come first. */
export function checkSoundness(tables: FaceTables, facts: Omit<FaceFacts, 'findings'>): Finding[] {
  const order = { blocks: 0, fault: 1, note: 2 };
  return CHECKS.flatMap((check) => check(tables, facts)).sort((a, b) => order[a.severity] - order[b.severity]);
}
