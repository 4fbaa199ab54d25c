import type { FontFormat } from '../sfnt/index.js';
import type { FaceFacts } from './facts.js';

/** Family as people see it: the typographic family where given, else name ID 1, else the file's name. */
export function familyName(facts: FaceFacts, fileName: string): string {
  return (facts.typographicFamily ?? facts.family ?? fileName.replace(/^.*\//, '').replace(/\.[^.]*$/, '')).trim() || 'Unnamed';
}

/** The style a face says it is: typographic subfamily, else subfamily, else Regular. */
export function styleName(facts: FaceFacts): string {
  return (facts.typographicSubfamily ?? facts.subfamily ?? 'Regular').trim() || 'Regular';
}

/** Names are compared without case, spaces and marks: "Source Serif 4" and "SourceSerif4" are one. */
export function nameKey(name: string): string {
  return (
    name
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]/gu, '') || name
  );
}

/** The digits of a version string, without leading zeros: "Version 1.003;PS 1" gives "1.3". */
export function versionKey(version: string | null): string {
  const match = /(\d+)(?:\.(\d+))?/.exec(version ?? '');
  return match ? `${Number(match[1])}.${Number(match[2] ?? 0)}` : '';
}

/**
 * Two files hold the same face when this agrees: family, style, version and axes. The container and the kind of
 * outline do not matter, since makers deliver one face as OTF, TTF and web files.
 */
export function faceKey(facts: FaceFacts, fileName: string): string {
  const axes = facts.axes
    .map((axis) => axis.tag)
    .sort()
    .join(',');
  return [nameKey(familyName(facts, fileName)), nameKey(styleName(facts)), versionKey(facts.version), axes].join('|').slice(0, 190);
}

/** Which container leads when a face came in several; common practice: OTF before TTF, desktop before web. */
const FORMAT_ORDER: readonly FontFormat[] = ['otf', 'ttf', 'ttc', 'woff2', 'woff', 'eot', 'svg'];

/** Sorts a face's files so that the leading one comes first: a fuller character set wins, then the format. */
export function leadOrder(a: { format: FontFormat; codePoints: number }, b: { format: FontFormat; codePoints: number }): number {
  const fuller = Math.max(a.codePoints, b.codePoints);
  if (Math.abs(a.codePoints - b.codePoints) > fuller * 0.02) return b.codePoints - a.codePoints;
  return FORMAT_ORDER.indexOf(a.format) - FORMAT_ORDER.indexOf(b.format);
}
