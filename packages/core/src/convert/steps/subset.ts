import { HashPen } from '../../outline/index.js';
import { FontError, GPOS, GSUB } from '../../sfnt/index.js';
import type { Face } from '../../font/index.js';
import type { Comparison, Options, Step } from '../step.js';

/** Cuts a face down to some characters, with the glyphs that features reach from them; hints go. */
export const SUBSET: Step = {
  id: 'subset',
  version: 1,
  change: 'subset',
  label: ({ runs, keep, drop }) =>
    `cut down to at most ${countOf(runs as readonly number[]).toLocaleString('en-US')} characters${
      keep !== undefined ? `, with the features ${String(keep)} only` : drop !== undefined ? `, without the features ${String(drop)}` : ''
    }`,
  // A smaller face is another face: it is asked for, never proposed by itself.
  needs: () => [],
  run({ face }, options, { subsetter }) {
    if (!subsetter) throw new FontError('unsupported', 'Faces cannot be cut down here.');
    const codePoints = codePointsOf(face, options.runs as readonly number[]);
    if (codePoints.length === 0)
      throw new FontError('does-not-fit', 'The face has none of these characters, so nothing would be left of it.');
    return subsetter.cut(face.sfnt.sfnt, face.sfnt.faceIndex, { codePoints, ...keptFeatures(face, options) });
  },
  prove(before, after, options) {
    const codePoints = codePointsOf(before, options.runs as readonly number[]);
    const kept = proveKept(before, after, codePoints);
    // Without some features text is set otherwise, as was asked.
    if (kept.equal && options.keep === undefined && options.drop === undefined)
      kept.differences.push(...settingDifferences(before, after, codePoints));
    return { ...kept, equal: kept.differences.length === 0 };
  },
};

/** Tags in an option, separated by commas or spaces. */
const tagsIn = (option: Options[string]): string[] =>
  String(option)
    .split(/[\s,]+/)
    .filter(Boolean);

/**
 * Which features stay: those that are named, all but those that are named, or all.
 * @throws FontError for a tag that cannot be one
 */
function keptFeatures(face: Face, { keep, drop }: Options): { features?: string[] } {
  if (keep === undefined && drop === undefined) return {};
  for (const tag of tagsIn(keep ?? drop!))
    if (!/^[\x20-\x7e]{1,4}$/.test(tag))
      throw new FontError('does-not-fit', `“${tag}” cannot be the name of a feature; those have four letters or figures.`);
  if (keep !== undefined) return { features: tagsIn(keep) };
  const without = new Set(tagsIn(drop!));
  const own = [GSUB, GPOS].flatMap((t) => (face.table(t)?.featureList ?? []).map((f) => f.featureTag));
  return { features: [...new Set(own)].filter((tag) => !without.has(tag.trim())) };
}

/** Lines of kept characters that are set otherwise than before; at most a few. */
function settingDifferences(before: Face, after: Face, codePoints: readonly number[]): string[] {
  const out: string[] = [];
  const set = (face: Face, line: string): string =>
    face.shaper
      .shape(line)
      .map((g) => `${g.xAdvance},${g.xOffset},${g.yOffset}`)
      .join(' ');
  // Neighbors in order and every third after another, so that pairs of all kinds stand beside each other.
  const letters = codePoints.filter((c) => c > 0x20).map((c) => String.fromCodePoint(c));
  for (let from = 0; from < letters.length && out.length < 3; from += 48) {
    const part = letters.slice(from, from + 48);
    for (const line of [part.join(''), [0, 1, 2].flatMap((k) => part.filter((_, i) => i % 3 === k)).join('')])
      if (set(before, line) !== set(after, line)) out.push(`The line “${line.slice(0, 24)}…” is set otherwise.`);
  }
  return out;
}

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
function proveKept(before: Face, after: Face, codePoints: readonly number[]): { -readonly [K in keyof Comparison]: Comparison[K] } {
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
