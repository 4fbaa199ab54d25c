import { HashPen } from '../../outline/index.js';
import { FontError, GPOS, GSUB, Reader } from '../../sfnt/index.js';
import type { Face } from '../../font/index.js';
import { blockOf, languages, sampleOf } from '../../unicode/index.js';
import type { Comparison, Options, Step } from '../step.js';

/** Cuts a face down to some characters, with the glyphs that features reach from them; hints go. */
export const SUBSET: Step = {
  id: 'subset',
  version: 2,
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
    const made = subsetter.cut(face.sfnt.sfnt, face.sfnt.faceIndex, { codePoints, ...keptFeatures(face, options) });
    const left = new Set(readDirectoryTags(made));
    const gone = COLOR_TABLES.find((tag) => face.has(tag) && !left.has(tag));
    if (gone !== undefined)
      throw new FontError(
        'unsupported',
        `This face is colored in a way (${gone.trim()}) that cannot be kept where characters are left out. Keep every character, or take the color out first.`,
        { table: gone },
      );
    return made;
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

/** Tables that hold the color of glyphs. Source: OpenType specification, "Tables Related to Color Fonts". */
const COLOR_TABLES = ['COLR', 'SVG ', 'sbix', 'CBDT'];

/** Tags of the tables of a plain file. */
function readDirectoryTags(bytes: Uint8Array): string[] {
  const r = new Reader(bytes);
  return Array.from({ length: r.u16(4) }, (_, i) => r.tag(12 + 16 * i));
}

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

/** Texts that are set otherwise than before: lines of the kept characters, and samples of languages that can be written with them. */
function settingDifferences(before: Face, after: Face, codePoints: readonly number[]): string[] {
  const out: string[] = [];
  const set = (face: Face, line: string): string =>
    face.shaper
      .shape(line)
      .map((g) => `${g.xAdvance},${g.xOffset},${g.yOffset}`)
      .join(' ');
  for (const line of [...linesOf(codePoints), ...samplesOf(new Set(codePoints))]) {
    if (set(before, line) !== set(after, line)) out.push(`The line “${[...line].slice(0, 24).join('')}…” is set otherwise.`);
    if (out.length >= 3) break;
  }
  return out;
}

const isMark = (c: number): boolean => /^\p{M}$/u.test(String.fromCodePoint(c));

/** Neighbors in order and every third after another, so that pairs of all kinds stand beside each other; marks on letters. */
function* linesOf(codePoints: readonly number[]): Generator<string> {
  const kept = new Set(codePoints);
  const letters = codePoints.filter((c) => c > 0x20 && !isMark(c)).map((c) => String.fromCodePoint(c));
  for (let from = 0; from < letters.length; from += 48) {
    const part = letters.slice(from, from + 48);
    yield part.join('');
    yield [0, 1, 2].flatMap((k) => part.filter((_, i) => i % 3 === k)).join('');
  }
  // A mark stands on a letter that it makes no other character with, or one that is kept: so it does in real text.
  const bases = letters.filter((l) => /^\p{L}$/u.test(l));
  for (const mark of codePoints.filter(isMark).map((c) => String.fromCodePoint(c))) {
    const script = bases.filter((l) => blockOf(l.codePointAt(0)!) === blockOf(mark.codePointAt(0)!));
    const fits = (base: string): boolean =>
      [...(base + mark).normalize('NFC')].length > 1 || kept.has((base + mark).normalize('NFC').codePointAt(0)!);
    const on = (script.length > 0 ? script : bases).filter(fits).slice(0, 4);
    if (on.length > 0) yield on.map((base) => base + mark).join('');
  }
}

/** Most languages whose samples are set: a face of many scripts has hundreds. */
const MOST_SAMPLES = 80;

function* samplesOf(kept: ReadonlySet<number>): Generator<string> {
  let count = 0;
  for (const { tag, letters } of languages()) {
    if (count >= MOST_SAMPLES) return;
    if (letters.length === 0 || !letters.every((c) => kept.has(c))) continue;
    const whole = sampleOf(tag) ?? '';
    const sample = kept.has(0x20) ? whole : whole.replaceAll(' ', '');
    if (sample === '' || ![...sample].every((c) => kept.has(c.codePointAt(0)!))) continue;
    count++;
    yield sample;
  }
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
  for (const tag of COLOR_TABLES) if (before.has(tag) && !after.has(tag)) differences.push(`The color (${tag.trim()}) is gone.`);
  return { equal: differences.length === 0, differences, glyphsCompared: codePoints.length };
}
