import { HashPen } from '../../outline/index.js';
import { FontError } from '../../sfnt/index.js';
import type { Face } from '../../font/index.js';
import type { Comparison, Step } from '../step.js';

/** Cuts a face down to some characters, with the glyphs that features reach from them; hints go. */
export const SUBSET: Step = {
  id: 'subset',
  version: 1,
  change: 'subset',
  label: ({ runs }) => `cut down to ${countOf(runs as readonly number[]).toLocaleString('en-US')} characters`,
  // A smaller face is another face: it is asked for, never proposed by itself.
  needs: () => [],
  run({ face }, { runs }, { subsetter }) {
    if (!subsetter) throw new FontError('unsupported', 'Faces cannot be cut down here.');
    return subsetter.subset(face.sfnt.sfnt, face.sfnt.faceIndex, codePointsOf(face, runs as readonly number[]));
  },
  prove: (before, after, { runs }) => proveKept(before, after, codePointsOf(before, runs as readonly number[])),
};

const countOf = (runs: readonly number[]): number => {
  let count = 0;
  for (let i = 0; i < runs.length; i += 2) count += runs[i + 1]! - runs[i]! + 1;
  return count;
};

/** Code points of a face that lie in runs [first, last, ...], ascending. */
function codePointsOf(face: Face, runs: readonly number[]): number[] {
  return [...(face.characters?.codePoints ?? [])].filter((c) => {
    for (let i = 0; i < runs.length; i += 2) if (c >= runs[i]! && c <= runs[i + 1]!) return true;
    return false;
  });
}

/** Shows that all characters that were to be kept are there and draw the same, with the same advance. */
function proveKept(before: Face, after: Face, codePoints: readonly number[]): Comparison {
  const differences: string[] = [];
  const print = (face: Face, glyph: number): string => {
    const pen = new HashPen();
    pen.number(face.advances?.advanceWidth(glyph) ?? 0);
    return face.draw(glyph, pen) ? pen.digest : `damaged ${pen.digest}`;
  };
  for (const c of codePoints) {
    const glyph = after.glyphOf(c);
    const name = `U+${c.toString(16).toUpperCase().padStart(4, '0')}`;
    if (glyph === 0) differences.push(`${name} is gone.`);
    else if (print(before, before.glyphOf(c)) !== print(after, glyph)) differences.push(`${name} is drawn differently.`);
    if (differences.length > 5) break;
  }
  if (before.unitsPerEm !== after.unitsPerEm) differences.push('The em has another size.');
  return { equal: differences.length === 0, differences, glyphsCompared: codePoints.length };
}
