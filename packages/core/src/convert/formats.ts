import type { FontFormat } from '../sfnt/index.js';

/** File name extension and media type of each format. Source: RFC 8081 (font/*). */
export const FORMAT_INFO: Readonly<Record<FontFormat, { extension: string; mediaType: string; label: string }>> = {
  ttf: { extension: 'ttf', mediaType: 'font/ttf', label: 'TTF' },
  otf: { extension: 'otf', mediaType: 'font/otf', label: 'OTF' },
  ttc: { extension: 'ttc', mediaType: 'font/collection', label: 'TTC' },
  woff: { extension: 'woff', mediaType: 'font/woff', label: 'WOFF' },
  woff2: { extension: 'woff2', mediaType: 'font/woff2', label: 'WOFF2' },
};
