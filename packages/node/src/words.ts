import { drawContour, FlattenPen, FontError, LENGTH_UNITS, piecePath, rasterize, type WordShapes } from '@orderly-glyph/core';
import { PNG } from 'pngjs';

/** Rows that are drawn at a time, which bounds the memory of a large picture. */
const BAND = 256;
const MOST_PIXELS = 40_000_000;
/** Points of PDF a millimetre. Source: ISO 32000-1, 8.3.2.3. */
const POINTS = 72 / 25.4;
/** Pages of PDF are at most this many points wide or high. Source: ISO 32000-1, annex C. */
const MOST_POINTS = 14_400;

const rgbOf = (color: string): [number, number, number] => {
  const hex = parseInt(color.slice(1), 16);
  return [hex >> 16, (hex >> 8) & 0xff, hex & 0xff];
};

/**
 * Words as a PDF page of their own size, outlines and no font.
 * @param color #rrggbb
 * @throws FontError when they are larger than a page can be
 */
export async function wordsPdf(words: WordShapes, color: string, about: string): Promise<Uint8Array> {
  const scale = LENGTH_UNITS[words.unit] * POINTS;
  const size: [number, number] = [Math.max(words.width * scale, 1), Math.max(words.height * scale, 1)];
  if (Math.max(...size) > MOST_POINTS) throw new FontError('does-not-fit', 'A PDF page is at most 5 metres wide and high. Take an SVG.');
  const { default: Pdf } = await import('pdfkit');
  const doc = new Pdf({
    size,
    margin: 0,
    info: {
      Title: words.pieces
        .map((p) => p.text)
        .join('')
        .replaceAll('\n', ' '),
      Subject: about,
    },
  });
  const parts: Buffer[] = [];
  doc.on('data', (part: Buffer) => parts.push(part));
  const done = new Promise<Uint8Array>((resolve, reject) => {
    doc.on('end', () => resolve(new Uint8Array(Buffer.concat(parts))));
    doc.on('error', reject);
  });
  doc.scale(scale);
  for (const piece of words.pieces) doc.path(piecePath(piece, 4)).fill(color);
  doc.end();
  return done;
}

/**
 * Words as a picture on a clear ground.
 * @param columns pixels across
 * @throws FontError when it would be too large
 */
export function wordsPng(words: WordShapes, color: string, columns: number): Uint8Array {
  const cell = words.width / columns;
  const rows = Math.max(1, Math.ceil(words.height / cell - 1e-6));
  if (columns * rows > MOST_PIXELS)
    throw new FontError('does-not-fit', 'The picture would have more than 40 million pixels. Take fewer, or an SVG.');
  const png = new PNG({ width: columns, height: rows });
  const [r, g, b] = rgbOf(color);
  const ink = new Float32Array(columns * BAND);
  const pieces = words.pieces.map((piece) => {
    const pen = new FlattenPen(cell / 16);
    for (const contour of piece.contours) drawContour(contour, pen);
    pen.closePath();
    return pen.polygons;
  });
  for (let first = 0; first < rows; first += BAND) {
    const count = Math.min(BAND, rows - first);
    ink.fill(0);
    for (const polygons of pieces) {
      // Rows come from the top down, as the drawing has them.
      const box = { xMin: 0, xMax: columns * cell, yMin: first * cell, yMax: (first + count) * cell };
      const own = rasterize(polygons, box, columns, count);
      // Letters lie over one another: what one covers is no clearer for the other.
      for (let i = 0; i < own.length; i++) ink[i] = 1 - (1 - ink[i]!) * (1 - own[i]!);
    }
    for (let i = 0; i < columns * count; i++) {
      const at = 4 * (first * columns + i);
      png.data[at] = r;
      png.data[at + 1] = g;
      png.data[at + 2] = b;
      png.data[at + 3] = Math.round(255 * ink[i]!);
    }
  }
  return new Uint8Array(PNG.sync.write(png));
}
