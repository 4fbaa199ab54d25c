import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { inRuns, readFacts } from '@orderly-glyph/core';
import { nodeCodec } from '@orderly-glyph/node';
import type * as Pdfmake from 'pdfmake';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces.js';

/** A report: headings, paragraphs and tables, as plain data that crosses a thread. */
export interface Report {
  title: string;
  /** What is said in small under the title. */
  about: string;
  parts: ReportPart[];
}

export type ReportPart =
  | { kind: 'heading'; text: string }
  | { kind: 'text'; text: string; quote?: boolean; small?: boolean }
  /** Widths in points, or '*' for what is left. */
  | { kind: 'table'; head: string[]; widths: (number | '*')[]; rows: string[][] };

const load = createRequire(import.meta.url);
const FACES = {
  normal: '@expo-google-fonts/noto-sans/400Regular/NotoSans_400Regular.ttf',
  bold: '@expo-google-fonts/noto-sans/600SemiBold/NotoSans_600SemiBold.ttf',
  italics: '@expo-google-fonts/noto-sans/400Regular_Italic/NotoSans_400Regular_Italic.ttf',
};

type Printer = typeof Pdfmake & {
  setUrlAccessPolicy(allowed: (url: string) => boolean): void;
  setLocalAccessPolicy(allowed: (path: string) => boolean): void;
};
let ready: Promise<{ printer: Printer; runs: readonly number[] }> | null = null;

function open(): Promise<{ printer: Printer; runs: readonly number[] }> {
  ready ??= (async () => {
    const printer = load('pdfmake') as Printer;
    const paths = Object.fromEntries(Object.entries(FACES).map(([style, file]) => [style, load.resolve(file)]));
    printer.setFonts({ Report: paths as { normal: string; bold: string; italics: string } });
    // A report takes nothing from anywhere but its own faces, whatever a name in it says.
    printer.setUrlAccessPolicy(() => false);
    printer.setLocalAccessPolicy((path) => Object.values(paths).includes(path));
    return { printer, runs: readFacts(await readFile(paths.normal!), nodeCodec).faces[0]!.runs };
  })();
  return ready;
}

/** Writes a report as PDF. Characters that its face cannot show are written as their code points, never as boxes. */
export async function writePdf(report: Report): Promise<Uint8Array> {
  const { printer, runs } = await open();
  const plain = (text: string): string =>
    [...text.replace(/[\t\r]/g, ' ')]
      .map((c) => {
        const codePoint = c.codePointAt(0)!;
        return c === '\n' || inRuns(runs, codePoint) ? c : `[U+${codePoint.toString(16).toUpperCase().padStart(4, '0')}]`;
      })
      .join('');
  const content: Content[] = [
    { text: plain(report.title), fontSize: 20, bold: true },
    { text: plain(report.about), color: '#5F594F', margin: [0, 2, 0, 10] },
    ...report.parts.map((part): Content => {
      if (part.kind === 'heading') return { text: plain(part.text), fontSize: 12, bold: true, margin: [0, 12, 0, 4] };
      if (part.kind === 'text')
        return {
          text: plain(part.text),
          margin: part.quote ? [12, 0, 0, 4] : [0, 0, 0, 4],
          ...(part.quote ? { italics: true } : {}),
          ...(part.small ? { fontSize: 7.5 } : {}),
        };
      return {
        table: {
          headerRows: 1,
          widths: part.widths,
          dontBreakRows: true,
          body: [part.head.map((t) => ({ text: plain(t), bold: true })), ...part.rows.map((row) => row.map(plain))],
        },
        layout: { hLineWidth: () => 0.5, vLineWidth: () => 0, hLineColor: () => '#DDD7CB', paddingLeft: () => 0, paddingRight: () => 6 },
        fontSize: 8,
        margin: [0, 2, 0, 6],
      };
    }),
  ];
  const definition: TDocumentDefinitions = {
    pageSize: 'A4',
    pageMargins: [42, 42, 42, 48],
    info: { title: report.title, creator: 'Orderly Glyph' },
    defaultStyle: { font: 'Report', fontSize: 9, lineHeight: 1.15 },
    content,
    footer: (page, pages) => ({
      text: `${plain(report.title)}, page ${page} of ${pages}`,
      fontSize: 7.5,
      color: '#5F594F',
      margin: [42, 16, 42, 0],
    }),
  };
  return new Uint8Array(await printer.createPdf(definition).getBuffer());
}

/** A CSV per RFC 4180. Cells that a spreadsheet would run as a formula are given a leading apostrophe. */
export async function writeCsv(head: readonly string[], rows: readonly (readonly string[])[]): Promise<string> {
  const { stringify } = await import('csv-stringify/sync');
  const safe = (cell: string): string => (/^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell);
  // The mark lets spreadsheets see that it is UTF-8.
  return `\ufeff${stringify([[...head], ...rows.map((row) => row.map(safe))], { record_delimiter: '\r\n', quoted_match: /[\r\n]/ })}`;
}
