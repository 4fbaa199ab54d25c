import { documentKind, readDocument } from '@orderly-glyph/node';
import { writeCsv, writePdf } from './document.js';

const textOf = async (pdf: Uint8Array): Promise<string> => (await readDocument(pdf, documentKind(pdf)!)).text!.replace(/\s+/g, ' ');

test('a CSV per RFC 4180: quotes doubled, lines ended by CR LF, marked as UTF-8', async () => {
  const csv = await writeCsv(
    ['Face', 'Why'],
    [
      ['Łąka "Bold"', 'one, two'],
      ['two\nlines', ''],
    ],
  );
  expect(csv).toBe('\ufeffFace,Why\r\n"Łąka ""Bold""","one, two"\r\n"two\nlines",\r\n');
});

test('no cell of a CSV is run as a formula', async () => {
  const csv = await writeCsv(['Name'], [['=1+1'], ['+1'], ['-1'], ['@SUM(A1)'], ['\tx'], ['plain']]);
  expect(
    csv
      .split('\r\n')
      .slice(1, -1)
      .every((line) => !/^"?[=+\-@\t]/.test(line)),
  ).toBe(true);
  expect(csv).toContain('plain');
});

test('a report as PDF holds its words, in scripts its face has; others as code points', async () => {
  const pdf = await writePdf({
    title: 'Audit of “Łąka”',
    about: 'Σπόροι, Насіння',
    parts: [
      { kind: 'heading', text: 'First' },
      { kind: 'text', text: 'A sentence it rests on.', quote: true },
      {
        kind: 'table',
        head: ['Face', 'Why'],
        widths: [100, '*'],
        rows: [
          ['بذور', 'no\tright'],
          ['', 'x'.repeat(3000)],
        ],
      },
    ],
  });
  const text = await textOf(pdf);
  for (const part of ['Audit of “Łąka”', 'Σπόροι, Насіння', 'A sentence it rests on.', '[U+0628]', 'no right', 'page 1 of'])
    expect(text).toContain(part);
});

test('a long table runs over pages and repeats its head', async () => {
  const rows = Array.from({ length: 400 }, (_, i) => [`Face ${i}`, 'because']);
  const text = await textOf(
    await writePdf({ title: 'Long', about: '', parts: [{ kind: 'table', head: ['Face', 'Reason given'], widths: ['*', '*'], rows }] }),
  );
  expect(text).toContain('Face 399');
  expect(text.split('Reason given').length - 1).toBeGreaterThan(5);
});
