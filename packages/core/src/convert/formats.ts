import type { FontFormat } from '../sfnt/index.js';

/** File name extension and media type of each format. Sources: RFC 8081 (font/*); IANA's media types. */
export const FORMAT_INFO: Readonly<Record<FontFormat, { extension: string; mediaType: string; label: string }>> = {
  ttf: { extension: 'ttf', mediaType: 'font/ttf', label: 'TTF' },
  otf: { extension: 'otf', mediaType: 'font/otf', label: 'OTF' },
  ttc: { extension: 'ttc', mediaType: 'font/collection', label: 'TTC' },
  woff: { extension: 'woff', mediaType: 'font/woff', label: 'WOFF' },
  woff2: { extension: 'woff2', mediaType: 'font/woff2', label: 'WOFF2' },
  eot: { extension: 'eot', mediaType: 'application/vnd.ms-fontobject', label: 'EOT' },
  svg: { extension: 'svg', mediaType: 'image/svg+xml', label: 'SVG' },
};
