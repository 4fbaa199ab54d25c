/** A page as shapes: everything on it is outlines, so that no font has to go with it. Points, y down from the top. */
export interface SheetPage {
  width: number;
  height: number;
  paper: string;
  shapes: (
    | { kind: 'path'; path: string; x: number; y: number; scale: number; color: string }
    | { kind: 'rule'; x: number; y: number; width: number; height: number; color: string }
  )[];
}

/** ISO 216 A4 in points. */
export const A4 = { width: 595.28, height: 841.89 };

/** Pages as PDF 1.7; all type is outlines. */
export async function pagesPdf(pages: readonly SheetPage[], title: string, author: string): Promise<Uint8Array> {
  // Loaded when first needed: it takes as long as all else that a worker loads.
  const { default: PDFDocument } = await import('pdfkit');
  return new Promise((resolve, reject) => {
    const doc = new PDFDocument({
      autoFirstPage: false,
      pdfVersion: '1.7',
      info: { Title: title, Author: author, Creator: 'Orderly Glyph' },
    });
    const parts: Buffer[] = [];
    doc.on('data', (part: Buffer) => parts.push(part));
    doc.on('end', () => resolve(new Uint8Array(Buffer.concat(parts))));
    doc.on('error', reject);
    for (const page of pages) {
      doc.addPage({ size: [page.width, page.height], margin: 0 });
      doc.rect(0, 0, page.width, page.height).fill(page.paper);
      for (const shape of page.shapes) {
        if (shape.kind === 'rule') doc.rect(shape.x, shape.y, shape.width, shape.height).fill(shape.color);
        else
          doc.save().transform(shape.scale, 0, 0, -shape.scale, shape.x, shape.y).path(shape.path).fill(shape.color, 'non-zero').restore();
      }
    }
    doc.end();
  });
}
