import type { Face } from '../../font/index.js';
import { HashPen } from '../../outline/index.js';
import { FontError, writeSfnt } from '../../sfnt/index.js';
import type { Comparison, Step } from '../step.js';

/** Tables that only color pictures need. Source: OpenType specification, "Tables Related to Color Fonts". */
const COLOR_TABLES = ['COLR', 'CPAL', 'SVG ', 'sbix', 'CBDT', 'CBLC'];

/** Takes the color out of a face: what is left is what programs without color show of it, its plain outlines. */
export const PLAIN: Step = {
  id: 'plain',
  version: 1,
  change: 'outlines',
  label: () => 'made plain, without color',
  needs: (state, accepts) =>
    state.color && accepts.color === 'refused' && state.outlines !== 'none'
      ? [{ options: {}, after: { ...state, color: false, format: state.outlines === 'glyf' ? 'ttf' : 'otf' } }]
      : [],
  run({ face }) {
    if (face.color.length === 0) throw new FontError('does-not-fit', 'This face has no color.');
    if (face.outlineKind === 'none' || !drawsLetters(face))
      throw new FontError(
        'outline-conversion',
        'The color pictures of this face have no outlines beneath them, so nothing would be left to see.',
      );
    const tables = new Map([...face.font.tables].filter(([tag]) => !COLOR_TABLES.includes(tag) && tag !== 'DSIG'));
    return writeSfnt({ ...face.font, tables });
  },
  prove: provePlain,
};

/** Whether most characters that are drawn in color are drawn in outline as well. */
function drawsLetters(face: Face): boolean {
  const map = face.characters;
  if (!map) return false;
  let [seen, drawn] = [0, 0];
  map.codePoints.forEach((c, i) => {
    if (/^[\p{White_Space}\p{Default_Ignorable_Code_Point}\p{Cc}\p{Cf}]$/u.test(String.fromCodePoint(c))) return;
    seen++;
    const pen = new HashPen();
    const empty = pen.digest;
    if (face.draw(map.glyphs[i]!, pen) && pen.digest !== empty) drawn++;
  });
  return drawn > 0 && drawn >= seen / 2;
}

/** Shows that all but the color is byte for byte the same. */
function provePlain(before: Face, after: Face): Comparison {
  const differences: string[] = [];
  if (after.color.length > 0) differences.push('The face still has color.');
  for (const [tag, bytes] of before.font.tables) {
    if (COLOR_TABLES.includes(tag) || tag === 'DSIG') continue;
    const now = after.bytes(tag);
    // head holds a checksum of the whole file, in bytes 8 to 11.
    const skip = tag === 'head' ? 12 : 0;
    if (!now || now.length !== bytes.length || !now.subarray(skip).every((v, i) => v === bytes[i + skip]))
      differences.push(`The ${tag.trim()} table differs.`);
  }
  return { equal: differences.length === 0, differences, glyphsCompared: 0 };
}
