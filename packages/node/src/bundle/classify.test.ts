import { readFont } from '../../../core/test/fonts.js';
import { zip } from '../../../../apps/server/test/zips.js';
import { classify, textKind } from './classify.js';

const bytes = (...parts: (string | number[])[]): Uint8Array =>
  Uint8Array.from(parts.flatMap((p) => (typeof p === 'string' ? [...new TextEncoder().encode(p)] : p)));
const as = (data: Uint8Array, path: string): string => {
  const sorted = classify(data, path);
  return 'kind' in sorted ? `${sorted.as} ${sorted.kind}` : sorted.as;
};

// Leading bytes by the formats' own specifications: PNG, JPEG, GIF, WebP, TIFF, PSD, PDF, ZIP, RAR, 7z, gzip, AppleDouble.
test.each<[string, Uint8Array, string]>([
  ['a.ttf', readFont('gochiHand'), 'font'],
  ['named.txt', readFont('serifOtf'), 'font'],
  ['x.woff2', readFont('serifWoff2'), 'font'],
  ['a.png', bytes([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]), 'companion picture'],
  ['photo.jpg', bytes([0xff, 0xd8, 0xff, 0xe0, 0, 16]), 'companion picture'],
  ['a.gif', bytes('GIF89a', [1, 0, 1, 0]), 'companion picture'],
  ['a.webp', bytes('RIFF', [4, 0, 0, 0], 'WEBPVP8 '), 'companion picture'],
  ['a.tif', bytes([0x49, 0x49, 0x2a, 0, 8, 0]), 'companion picture'],
  ['a.psd', bytes('8BPS', [0, 1]), 'companion picture'],
  ['terms.pdf', bytes('%PDF-1.7\n'), 'document pdf'],
  ['terms.rtf', bytes('{\\rtf1 x}'), 'document rtf'],
  ['terms.html', bytes('<!DOCTYPE html><p>x'), 'document html'],
  ['old.doc', bytes([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1, 0]), 'document old-office'],
  ['LICENSE', bytes('You may use it.'), 'document text'],
  ['a.rar', bytes('Rar!', [0x1a, 7, 0]), 'refused'],
  ['a.7z', bytes('7z', [0xbc, 0xaf, 0x27, 0x1c]), 'refused'],
  ['a.tar.gz', bytes([0x1f, 0x8b, 8, 0]), 'refused'],
  ['blob.bin', bytes([1, 2, 3, 0, 5]), 'refused'],
  ['empty.txt', bytes(), 'refused'],
  ['page.ttf', bytes('<!doctype html><title>Moved'), 'refused'],
  ['picture.otf', bytes([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]), 'refused'],
  ['report.woff', bytes('%PDF-1.7\n'), 'refused'],
  ['__MACOSX/._a.ttf', bytes([0, 5, 22, 7, 0, 2]), 'set-aside'],
  ['Fonts/.DS_Store', bytes([0, 0, 0, 1], 'Bud1'), 'set-aside'],
  ['Fonts/Thumbs.db', bytes([0xd0, 0xcf, 0x11, 0xe0]), 'set-aside'],
  ['desktop.ini', bytes('[x]'), 'set-aside'],
])('%s is sorted by its content', (path, data, wanted) => {
  expect(as(data, path)).toBe(wanted);
});

test('a ZIP is a bundle, an office document in a ZIP is a document', async () => {
  expect(as(new Uint8Array(await zip([['a.ttf', 'x']])), 'a.zip')).toBe('zip');
  expect(as(new Uint8Array(await zip([['a.ttf', 'x']])), 'named.docx')).toBe('zip');
  expect(
    as(
      new Uint8Array(
        await zip([
          ['[Content_Types].xml', 'x'],
          ['word/document.xml', 'x'],
        ]),
      ),
      'terms.docx',
    ),
  ).toBe('document docx');
  expect(as(new Uint8Array(await zip([['mimetype', 'application/vnd.oasis.opendocument.text']])), 'terms.odt')).toBe('document office');
});

test('every refusal says what it is and what to do', () => {
  for (const [data, path] of [
    [bytes(), 'a.ttf'],
    [bytes('Rar!', [0x1a, 7, 0]), 'a.rar'],
    [bytes('<html>'), 'a.ttf'],
    [bytes([1, 2, 3, 0, 5]), 'a.ttf'],
    [bytes([1, 2, 3, 0, 5]), 'a.xyz'],
  ] as const) {
    const sorted = classify(data, path);
    expect(sorted.as).toBe('refused');
    expect((sorted as { reason: string }).reason).toMatch(/^[A-Z].{20,}\.$/);
  }
});

test.each<[string, string, string]>([
  ['RECEIPT 2026. Amount paid 12.00', 'receipt.txt', 'receipt'],
  ['Invoice 7 for one font', 'x.txt', 'receipt'],
  ['This font is licensed under the following terms.', 'x.txt', 'terms'],
  ['Terms of sale. You may install it on two computers.', 'x.txt', 'terms'],
  ['Free for personal use', 'x.txt', 'terms'],
  ['Thanks for downloading!', 'x.txt', 'readme'],
  ['How to install', 'READ ME.txt', 'readme'],
  ['<svg xmlns="http://www.w3.org/2000/svg"></svg>', 'sample.svg', 'picture'],
  ['@font-face { font-family: X; } /* see the license */', 'fonts.css', 'other'],
  ['kerning notes', 'notes.txt', 'other'],
])('“%s” in %s is kept as %s', (text, path, kind) => {
  expect(textKind(text, path).kind).toBe(kind);
});

test('one text can be terms and a receipt, and is then both', () => {
  const read = textKind('Receipt 12. Amount paid 20 EUR. Terms of sale: you may install the font on two computers.', 'x.txt');
  expect([read.terms, read.receipt]).toEqual([true, true]);
});
