import { createRequire } from 'node:module';
import { FontError, openFont, piecePath, wordShapes, type Face, type Paths, type WordShapes } from '@orderly-glyph/core';
import { nodeCodec } from '@orderly-glyph/node';

/** A role of a house style with its face. Sizes in points. */
export interface HousePart {
  role: string;
  name: string;
  sample: string;
  size: number;
  ink: string;
  paper: string;
  bytes: Uint8Array;
  faceIndex: number;
  /** Whether the face may be embedded; else its letters are drawn. */
  embed: boolean;
}

const load = createRequire(import.meta.url);
const LABEL = load.resolve('@expo-google-fonts/noto-sans/400Regular/NotoSans_400Regular.ttf');
/** A4 in points. */
const [WIDTH, HEIGHT, MARGIN] = [595.28, 841.89, 48];

/** A house style on one page as PDF: each role in its face, size and colors. */
export async function houseSheet(title: string, author: string, parts: readonly HousePart[], paths: Paths): Promise<Uint8Array> {
  const { default: PDFDocument } = await import('pdfkit');
  const doc = new PDFDocument({
    size: [WIDTH, HEIGHT],
    margin: 0,
    pdfVersion: '1.7',
    info: { Title: title, Author: author, Creator: 'Orderly Glyph' },
  });
  const out: Buffer[] = [];
  const ended = new Promise<void>((resolve, reject) => {
    doc.on('data', (part: Buffer) => out.push(part));
    doc.on('end', resolve);
    doc.on('error', reject);
  });
  const label = (text: string, x: number, y: number, size = 9): void =>
    void doc
      .font(LABEL)
      .fontSize(size)
      .fillColor('#5F594F')
      .text(text, x, y, { width: WIDTH - 2 * MARGIN, lineBreak: false, ellipsis: true });
  doc
    .font(LABEL)
    .fontSize(18)
    .fillColor('#1B1916')
    .text(title, MARGIN, MARGIN, { width: WIDTH - 2 * MARGIN, lineBreak: false, ellipsis: true });
  const height = (HEIGHT - 2 * MARGIN - 40) / Math.max(1, parts.length);
  for (const [i, part] of parts.entries()) {
    const top = MARGIN + 40 + i * height;
    label(
      `${part.role}: ${part.name}, ${part.size} pt, ${part.ink} on ${part.paper}${part.embed ? '' : '. Drawn as outlines; it is not embedded'}`,
      MARGIN,
      top,
    );
    const box = { x: MARGIN, y: top + 14, width: WIDTH - 2 * MARGIN, height: height - 26 };
    doc.save().rect(box.x, box.y, box.width, box.height).clip();
    doc.rect(box.x, box.y, box.width, box.height).fill(part.paper);
    // Large sizes are shown as large as the page has room for, and the label tells the true one.
    const size = Math.min(part.size, box.height * 0.55);
    const face = openFont(part.bytes, nodeCodec).faces[part.faceIndex]!;
    const text = [part.sample, part.name].find((t) => [...t].every((c) => c === ' ' || face.glyphOf(c.codePointAt(0)!) !== 0)) ?? '';
    if (text !== '' && part.embed) {
      doc.registerFont(part.role, Buffer.from(part.bytes));
      doc.font(part.role);
      doc
        .fontSize(size)
        .fillColor(part.ink)
        .text(text, box.x + 12, box.y + 10, { width: box.width - 24, height: box.height - 20 });
    } else if (text !== '') {
      const shapes = wrapped(face, text, size, box.width - 24, paths);
      doc.save().translate(box.x + 12, box.y + 10);
      for (const piece of shapes?.pieces ?? []) doc.path(piecePath(piece, 3)).fill(part.ink);
      doc.restore();
    }
    doc.restore();
  }
  doc.end();
  await ended;
  return new Uint8Array(Buffer.concat(out));
}

/** Words as outlines in lines of a width, points; null where the face cannot set them. */
function wrapped(face: Face, text: string, size: number, width: number, paths: Paths): WordShapes | null {
  const set = (lines: string): WordShapes =>
    wordShapes(
      face,
      {
        text: lines,
        size,
        unit: 'pt',
        measure: 'em',
        letterSpacing: 0,
        lineHeight: null,
        align: 'left',
        features: [],
        at: '',
        pieces: 'one',
      },
      paths,
    );
  try {
    const lines = [''];
    for (const word of text.split(/\s+/)) {
      const longer = `${lines[lines.length - 1]!} ${word}`.trim();
      if (lines[lines.length - 1] !== '' && set(longer).width > width) lines.push(word);
      else lines[lines.length - 1] = longer;
    }
    return set(lines.join('\n'));
  } catch (error) {
    if (!(error instanceof FontError)) throw error;
    return null;
  }
}
