import { detectFormat, looksLikeSvgFont, oldFont } from '@orderly-glyph/core';
import { afterProlog, documentKind, type DocumentKind } from '../documents.js';

export type CompanionKind = 'terms' | 'receipt' | 'readme' | 'picture' | 'document' | 'other';

export type Sorted =
  | { as: 'font' }
  | { as: 'zip' }
  | { as: 'companion'; kind: CompanionKind }
  /** Its text has to be taken out before it is known what it is. */
  | { as: 'document'; kind: DocumentKind }
  | { as: 'set-aside'; reason: string }
  | { as: 'refused'; reason: string };

function startsWith(bytes: Uint8Array, ...values: number[]): boolean {
  return values.every((value, i) => bytes[i] === value);
}

const ascii = (bytes: Uint8Array, start: number, length: number): string => String.fromCharCode(...bytes.subarray(start, start + length));

function isPicture(bytes: Uint8Array): boolean {
  return (
    startsWith(bytes, 0x89, 0x50, 0x4e, 0x47) ||
    startsWith(bytes, 0xff, 0xd8, 0xff) ||
    ascii(bytes, 0, 4) === 'GIF8' ||
    (ascii(bytes, 0, 4) === 'RIFF' && ascii(bytes, 8, 4) === 'WEBP') ||
    startsWith(bytes, 0x49, 0x49, 0x2a, 0) ||
    startsWith(bytes, 0x4d, 0x4d, 0, 0x2a) ||
    ascii(bytes, 0, 4) === '8BPS'
  );
}

/** Whether a text is a drawing: SVG after whatever may stand before its root. */
export const isSvg = (text: string): boolean => /^(?:<!doctype svg[^>]{0,400}>\s*)?<svg[\s>]/i.test(afterProlog(text.slice(0, 20_000)));

const GRANTS_OR_DENIES =
  /\b(?:licen[cs]ed? (?:under|to|for|agreement)|end.user|copyright holder|terms (?:and conditions )?of (?:use|service)|terms and conditions|permission is hereby|(?:personal|commercial|private) use|you (?:may|can|are (?:not )?allowed|must) (?:not )?(?:use|install|embed|modify|share|sell|redistribute|convert)|(?:may|must|can) ?not be (?:used|sold|modified|shared|embedded|redistributed)|free (?:for|to use)|public domain|all rights reserved)\b/i;
const SPEAKS_OF_RIGHTS = /\b(?:licen[cs]e|licen[cs]ed|terms of sale|rights|permission)\b/i;
const BOUGHT =
  /\b(?:invoice|receipt|order (?:number|no\.?|confirmation)|amount paid|total paid|payment (?:received|method)|tax invoice)\b/i;
const MONEY = /(?:[$€£¥]\s?\d|\d[\d.,]*\s?(?:eur|usd|gbp|pln|chf|\$|€|£|zł)\b|\b\d+[.,]\d{2}\b)/i;

/**
 * What a text is, by all it says and whatever it is called: terms and receipts are looked for in every text, and one text
 * may be both. A style sheet is code even where it speaks of a license.
 */
export function textKind(text: string, path: string): { kind: CompanionKind; terms: boolean; receipt: boolean } {
  if (isSvg(text)) return { kind: 'picture', terms: false, receipt: false };
  const name = path.toLowerCase().split('/').pop()!;
  const code = /^\s{0,200}[@.#\w-]{1,80}\s{0,20}\{/.test(text) || /\.(?:css|js|json|html?)$/.test(name);
  const strong = GRANTS_OR_DENIES.test(text);
  const receipt = BOUGHT.test(text) && (MONEY.test(text) || /\d/.test(text));
  const terms = !code && (strong || (SPEAKS_OF_RIGHTS.test(text) && !receipt && /licen[cs]e|eula|terms|copying|ofl/.test(name)));
  if (terms) return { kind: 'terms', terms, receipt };
  if (receipt) return { kind: 'receipt', terms, receipt };
  const note = /readme|read[ _-]?me|liesmich/.test(name) || /\bthank(?:s| you) for (?:downloading|buying|purchas)/i.test(text);
  return { kind: note ? 'readme' : 'other', terms, receipt };
}

/**
 * Sorts one file by its content. The name only serves to say that something which calls itself a font is none,
 * and to spot what operating systems leave in archives.
 */
export function classify(bytes: Uint8Array, path: string): Sorted {
  const name = path.split('/').pop() ?? path;
  if (/(^|\/)__MACOSX\//.test(path) || startsWith(bytes, 0x00, 0x05, 0x16, 0x07))
    return { as: 'set-aside', reason: 'A resource fork that macOS leaves in archives. It holds nothing you need.' };
  if (/^(\.DS_Store|Thumbs\.db|ehthumbs\.db|desktop\.ini|\.localized)$/i.test(name))
    return { as: 'set-aside', reason: 'A thumbnail or folder setting of an operating system. It holds nothing you need.' };
  if (bytes.length === 0) return { as: 'refused', reason: 'The file is empty. Ask whoever sent it to send it again.' };
  if (detectFormat(bytes) !== null || looksLikeSvgFont(bytes)) return { as: 'font' };
  const old = oldFont(bytes);
  if (old) return { as: 'refused', reason: old };
  const claimsFont = /\.(ttf|otf|ttc|otc|woff2?|eot|dfont|suit|pf[ab])$/i.test(name);
  const document = documentKind(bytes);
  if (document === null && (startsWith(bytes, 0x50, 0x4b, 3, 4) || startsWith(bytes, 0x50, 0x4b, 5, 6))) return { as: 'zip' };
  if (isPicture(bytes))
    return claimsFont
      ? { as: 'refused', reason: 'This is a picture, not a font, whatever its name says.' }
      : { as: 'companion', kind: 'picture' };
  if (/^(Rar!|7z\xbc\xaf)/.test(ascii(bytes, 0, 4)) || startsWith(bytes, 0x1f, 0x8b))
    return {
      as: 'refused',
      reason: 'This is an archive of a kind we do not open. Unpack it and bring in the folder, or pack it as a ZIP.',
    };
  if (document !== null) {
    if (claimsFont)
      return {
        as: 'refused',
        reason: ['text', 'html'].includes(document)
          ? 'This is text, not a font, whatever its name says. Perhaps a web page was saved instead of the file.'
          : 'This is a document, not a font, whatever its name says.',
      };
    return { as: 'document', kind: document };
  }
  if (claimsFont) return { as: 'refused', reason: 'This is not a font file, whatever its name says: it starts like no format we know.' };
  return { as: 'refused', reason: 'This is neither a font nor a text, document or picture, so there is nothing to do with it here.' };
}

/** The same, for bytes that came by another way than an intake. */
export const sortBytes = (bytes: Uint8Array, path: string): Sorted => classify(bytes, path);
