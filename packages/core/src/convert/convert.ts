import { FontError, readFontFile, writeSfnt, writeWoff, writeWoff2, type Codec, type FontFormat, type SfntFont } from '../sfnt/index.js';

export type TargetFormat = 'ttf' | 'otf' | 'woff' | 'woff2';

/**
 * Puts one face into another container, its outlines as they are.
 * @param faceIndex which face of a collection; 0 for any other file
 * @throws FontError('outline-conversion') when the target wants the other kind of outline
 * @throws FontError('no-such-face') when the file has no such face
 */
export function convertFont(bytes: Uint8Array, to: TargetFormat, codec: Codec, faceIndex = 0): Uint8Array {
  const { fonts } = readFontFile(bytes, codec);
  const font = fonts[faceIndex];
  if (!font)
    throw new FontError(
      'no-such-face',
      `The file holds ${fonts.length} ${fonts.length === 1 ? 'face' : 'faces'}; there is no number ${faceIndex}.`,
    );
  const cff = font.tables.has('CFF ') || font.tables.has('CFF2');
  if (to === 'otf' && !cff)
    throw new FontError(
      'outline-conversion',
      'This face has TrueType outlines; turning them into the outlines of an OTF file is not possible yet. TTF, WOFF and WOFF2 are.',
    );
  if (to === 'ttf' && cff)
    throw new FontError(
      'outline-conversion',
      'This face has CFF outlines; turning them into the outlines of a TTF file is not possible yet. OTF, WOFF and WOFF2 are.',
    );
  switch (to) {
    case 'woff2':
      return writeWoff2(font, codec);
    case 'woff':
      return writeWoff(font, codec);
    default:
      return writeSfnt(font);
  }
}

/** A face as one plain sfnt, whatever it came in; the input itself when it already is one. */
export function toSfnt(bytes: Uint8Array, codec: Codec, faceIndex = 0): { sfnt: Uint8Array; faceIndex: number } {
  const file = readFontFile(bytes, codec);
  if (file.format === 'ttf' || file.format === 'otf' || file.format === 'ttc') return { sfnt: bytes, faceIndex };
  const font: SfntFont | undefined = file.fonts[faceIndex];
  if (!font) throw new FontError('no-such-face', `The file holds no face number ${faceIndex}.`);
  return { sfnt: writeSfnt(font), faceIndex: 0 };
}

/** File name extension and media type of each format. Source: RFC 8081 (font/*). */
export const FORMAT_INFO: Readonly<Record<FontFormat, { extension: string; mediaType: string; label: string }>> = {
  ttf: { extension: 'ttf', mediaType: 'font/ttf', label: 'TTF' },
  otf: { extension: 'otf', mediaType: 'font/otf', label: 'OTF' },
  ttc: { extension: 'ttc', mediaType: 'font/collection', label: 'TTC' },
  woff: { extension: 'woff', mediaType: 'font/woff', label: 'WOFF' },
  woff2: { extension: 'woff2', mediaType: 'font/woff2', label: 'WOFF2' },
};
