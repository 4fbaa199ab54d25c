import type { Face } from '../font/index.js';
import type { Kind } from '../kinds/index.js';
import { HHEA, OS2 } from '../sfnt/index.js';
import { language, sampleOf } from '../unicode/index.js';
import { FALLBACK_WIDTHS, FREQUENCIES } from './data/running-text.js';

/** A face that a reader's system has, made to take the room of a web face until that arrives. All but the name in parts of 1. */
export interface Fallback {
  /** As `local()` calls it. */
  local: string;
  sizeAdjust: number;
  ascentOverride: number;
  descentOverride: number;
  lineGapOverride: number;
}

/** Characters of running text, each with its share. */
export type Shares = ReadonlyMap<string, number>;

/**
 * How often characters stand in running text of some languages, each language counting the same: from counted text where we
 * have it, else from a sentence or the alphabet. Null when none of the tags is a language.
 */
export function sharesOf(tags: readonly string[]): Shares | null {
  const out = new Map<string, number>();
  let known = 0;
  for (const tag of tags) {
    const own = FREQUENCIES[tag] ?? FREQUENCIES[tag.split('-')[0]!];
    const counts: [string, number][] = own
      ? own.split('\u0001').map((p): [string, number] => {
          const c = String.fromCodePoint(p.codePointAt(0)!);
          return [c, Number(p.slice(c.length))];
        })
      : language(tag)
        ? [...(sampleOf(tag) ?? '')].map((c): [string, number] => [c, 1])
        : [];
    const all = counts.reduce((sum, [, n]) => sum + n, 0);
    if (all === 0) continue;
    known++;
    for (const [c, n] of counts) out.set(c, (out.get(c) ?? 0) + n / all);
  }
  return known === 0 ? null : new Map([...out].map(([c, n]) => [c, n / known]));
}

const widthsKnown = new Map<string, ReadonlyMap<number, number>>();
function widthsOf(local: string): { unitsPerEm: number; widths: ReadonlyMap<number, number> } | null {
  const found = FALLBACK_WIDTHS.find((f) => f.local === local);
  if (!found) return null;
  let widths = widthsKnown.get(local);
  if (!widths) {
    const map = new Map<number, number>();
    for (const run of found.widths.split(' ')) {
      const [first, list] = run.split(':');
      list!.split('.').forEach((w, i) => map.set(parseInt(first!, 36) + i, parseInt(w, 36)));
    }
    widthsKnown.set(local, (widths = map));
  }
  return { unitsPerEm: found.unitsPerEm, widths };
}

/** The local names that a fallback can be computed for. */
export const FALLBACK_NAMES: readonly string[] = FALLBACK_WIDTHS.map((f) => f.local);

/**
 * What makes a fallback take the room of a face, so that a text does not jump when the face arrives: the share of the widths
 * of running text, characters that one of them lacks left out, and the line metrics divided by it, since they are of the
 * adjusted size. Null when they share no characters of these languages.
 * @param local one of `FALLBACK_NAMES`
 * @param tags CLDR tags of the languages that will be set
 * Source: CSS Fonts Module Level 5, size-adjust, ascent-override, descent-override, line-gap-override.
 * @throws FontError when the face's metrics cannot be read
 */
export function fallbackFor(face: Face, local: string, tags: readonly string[]): Fallback | null {
  const other = widthsOf(local);
  const shares = sharesOf(tags);
  if (!other || !shares || !face.advances) return null;
  const em = face.unitsPerEm;
  let own = 0;
  let theirs = 0;
  for (const [c, share] of shares) {
    const codePoint = c.codePointAt(0)!;
    const glyph = face.glyphOf(codePoint);
    const width = other.widths.get(codePoint);
    if (glyph === 0 || width === undefined) continue;
    own += (share * face.advances.advanceWidth(glyph)) / em;
    theirs += (share * width) / other.unitsPerEm;
  }
  if (own === 0 || theirs === 0) return null;
  const sizeAdjust = (own / theirs) * kerningOf(face, tags);
  const { ascent, descent, lineGap } = lineMetrics(face);
  return {
    local,
    sizeAdjust,
    ascentOverride: ascent / sizeAdjust,
    descentOverride: descent / sizeAdjust,
    lineGapOverride: lineGap / sizeAdjust,
  };
}

/** How much wider or narrower kerning makes words of some languages, as a factor. */
function kerningOf(face: Face, tags: readonly string[]): number {
  let plain = 0;
  let kerned = 0;
  for (const tag of tags)
    for (const glyph of face.shaper.shape(sampleOf(tag) ?? '')) {
      kerned += glyph.xAdvance;
      plain += face.advances!.advanceWidth(glyph.glyph);
    }
  return plain === 0 ? 1 : kerned / plain;
}

/** The generic family that stands at the end of a list of families. Source: CSS Fonts Module Level 4, generic font families. */
export type Generic = 'serif' | 'sans-serif' | 'monospace' | 'cursive';

const GENERIC: Readonly<Partial<Record<Kind, Generic>>> = { serif: 'serif', monospaced: 'monospace', handwriting: 'cursive' };

/** The generic family of a kind of typeface. */
export const genericOf = (kind: Kind | null): Generic => (kind && GENERIC[kind]) ?? 'sans-serif';

/** The face of a reader's system that stands in for one of a generic family and a weight. */
export const standInFor = (generic: Generic, weightClass: number): string =>
  `${generic === 'monospace' ? 'Courier New' : generic === 'serif' ? 'Times New Roman' : 'Arial'}${weightClass >= 600 ? ' Bold' : ''}`;

/** Ascent, descent (downwards) and gap as browsers take them, in parts of the em: hhea, or OS/2 where it asks or hhea is empty. */
export function lineMetrics(face: Face): { ascent: number; descent: number; lineGap: number } {
  const em = face.unitsPerEm;
  const hhea = face.need(HHEA);
  const os2 = face.table(OS2);
  const typo = os2 && ((os2.version >= 4 && (os2.fsSelection & 0x80) !== 0) || (hhea.ascender === 0 && hhea.descender === 0));
  const [ascent, descent, lineGap] = typo
    ? [os2.sTypoAscender ?? 0, -(os2.sTypoDescender ?? 0), os2.sTypoLineGap ?? 0]
    : [hhea.ascender, -hhea.descender, hhea.lineGap];
  return { ascent: ascent / em, descent: descent / em, lineGap: Math.max(0, lineGap) / em };
}
