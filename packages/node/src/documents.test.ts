import { createRequire } from 'node:module';
import { join } from 'node:path';
import iconv from 'iconv-lite';
import type PdfKit from 'pdfkit';
import { zip } from '../../../apps/server/test/zips.js';
import { documentKind, encodingOf, readDocument } from './index.js';

const PdfDocument = createRequire(join(process.cwd(), 'apps/server/package.json'))('pdfkit') as typeof PdfKit;

const ENGLISH = 'Thank you – you may use “Plot” on one website. It’s © 2020 Café Types.';
const POLISH =
  'Licencja na czcionkę. Wolno używać czcionki na jednej stronie internetowej. Zażółć gęślą jaźń – „Plot” nie może być sprzedawany. Użytkownik nie może modyfikować pliku.';
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

/** Reads by content alone, as an intake does. */
async function read(data: Uint8Array): Promise<{ kind: string | null; text: string | null; unread: string | null }> {
  const kind = documentKind(data);
  return kind === null ? { kind, text: null, unread: null } : { kind, ...(await readDocument(data, kind)) };
}

const pdf = (make: (d: PDFKit.PDFDocument) => void, options: PDFKit.PDFDocumentOptions = {}): Promise<Uint8Array> =>
  new Promise((resolve) => {
    const document = new PdfDocument(options);
    const parts: Buffer[] = [];
    document.on('data', (part: Buffer) => parts.push(part));
    document.on('end', () => resolve(new Uint8Array(Buffer.concat(parts))));
    make(document);
    document.end();
  });

test.each([
  ['UTF-8', bytes(ENGLISH), ENGLISH],
  ['UTF-8 with a mark', bytes(`\ufeff${ENGLISH}`), ENGLISH],
  ['UTF-16 little-endian with a mark', new Uint8Array(iconv.encode(ENGLISH, 'utf-16le', { addBOM: true })), ENGLISH],
  ['UTF-16 big-endian with a mark', new Uint8Array(iconv.encode(ENGLISH, 'utf-16be', { addBOM: true })), ENGLISH],
  ['UTF-16 little-endian without one', new Uint8Array(iconv.encode(ENGLISH, 'utf-16le')), ENGLISH],
  ['UTF-16 big-endian without one', new Uint8Array(iconv.encode(ENGLISH, 'utf-16be')), ENGLISH],
  ['Windows-1252, not declared', new Uint8Array(iconv.encode(ENGLISH, 'windows-1252')), ENGLISH],
  ['Windows-1250, not declared', new Uint8Array(iconv.encode(POLISH, 'windows-1250')), POLISH],
  [
    'Windows-1251, not declared',
    new Uint8Array(iconv.encode('Лицензия на шрифт. Разрешается использовать шрифт на сайте.', 'windows-1251')),
    'Лицензия на шрифт. Разрешается использовать шрифт на сайте.',
  ],
])('text in %s', async (_name, data, wanted) => {
  expect(await read(data)).toEqual({ kind: 'text', text: wanted, unread: null });
});

test('a declared encoding is believed where the bytes are not UTF-8', () => {
  const page = iconv.encode('<html><head><meta charset="iso-8859-2"></head><body>Zażółć</body></html>', 'iso-8859-2');
  expect(encodingOf(new Uint8Array(page))).toBe('iso-8859-2');
  expect(encodingOf(new Uint8Array([1, 2, 3, 0, 5]))).toBeNull();
});

test('HTML gives its text without scripts, styles and addresses', async () => {
  const page =
    '<!doctype html><html><head><title>T</title><style>p{color:red}</style></head><body><h1>Terms</h1><p>You may <b>not</b> sell&nbsp;it.</p><script>alert(1)</script><a href="http://a.example">Ask</a></body></html>';
  expect(await read(bytes(page))).toMatchObject({ kind: 'html', text: 'Terms\n\nYou may not sell it.\n\nAsk' });
});

test('RTF: code page, Unicode escapes, quotes; no titles, pictures and fonts; a document that was cut short', async () => {
  // Source of the control words: Rich Text Format Specification 1.9.1.
  const rtf = `{\\rtf1\\ansi\\ansicpg1250{\\fonttbl{\\f0\\fnil\\fcharset238 Calibri;}}{\\info{\\title Secret}}\\f0 za\\'bf\\'f3\\'b3\\'e6 \\ldblquote Plot\\rdblquote .\\par\\u321? it\\rquote s {\\b not} allowed{\\pict\\pngblip 8950}\\par}`;
  expect(await read(new Uint8Array(Buffer.from(rtf, 'latin1')))).toMatchObject({ kind: 'rtf', text: 'zażółć “Plot”.\nŁ it’s not allowed' });
  expect((await read(bytes('{\\rtf1 unclosed {\\b text'))).text).toBe('unclosed text');
  // Mail programs wrap HTML this way; nothing that is said may be hidden by it.
  const wrapped = '{\\rtf1\\ansi\\fromhtml1{\\*\\htmltag64 <p>}Personal use \\htmlrtf only\\htmlrtf0 .{\\*\\htmltag72 </p>}}';
  expect((await read(bytes(wrapped))).text).toBe('Personal use only.');
});

test('DOCX: paragraphs of the main part', async () => {
  // Source of the parts: ECMA-376, Office Open XML.
  const paragraph = (text: string): string => `<w:p><w:r><w:t xml:space="preserve">${text}</w:t></w:r></w:p>`;
  const docx = await zip([
    [
      '[Content_Types].xml',
      bytes(
        '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/></Types>',
      ),
    ],
    [
      '_rels/.rels',
      bytes(
        '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
      ),
    ],
    [
      'word/document.xml',
      bytes(
        `<?xml version="1.0"?><w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>${paragraph('You may print.')}${paragraph('You may not sell it.')}</w:body></w:document>`,
      ),
    ],
  ]);
  expect(await read(new Uint8Array(docx))).toMatchObject({ kind: 'docx', text: 'You may print.\n\nYou may not sell it.' });
});

test('PDF: its text; without text, locked or broken it says so', async () => {
  expect(await read(await pdf((d) => void d.text('You may use the font on one website.')))).toMatchObject({
    kind: 'pdf',
    text: 'You may use the font on one website.',
  });
  const unread = async (data: Uint8Array): Promise<string | null> => (await read(data)).unread;
  expect(await unread(await pdf((d) => void d.rect(0, 0, 9, 9).fill()))).toMatch(/pictures without text/);
  expect(await unread(await pdf((d) => void d.text('x'), { userPassword: 'a', ownerPassword: 'b' }))).toMatch(/password/);
  expect(await unread(bytes('%PDF-1.4 nothing of the kind'))).toMatch(/damaged/);
});

test('an e-mail: who, when, about what, and its decoded body', async () => {
  const mail = `From: Anna <a@b.example>\r\nSubject: Your =?utf-8?q?license_=E2=82=AC?=\r\nMIME-Version: 1.0\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: base64\r\n\r\n${Buffer.from(POLISH).toString('base64')}`;
  expect(await read(bytes(mail))).toMatchObject({ kind: 'mail', text: `From: Anna\nSubject: Your license €\n\n${POLISH}` });
});

test('what is too long, old or of another program is kept and told; what is no document is none', async () => {
  expect((await read(bytes('all of it '.repeat(41_000)))).unread).toMatch(/400,000/);
  expect((await read(new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1, 0, 0]))).unread).toMatch(/old office format/);
  expect((await read(bytes('  \n '))).unread).toMatch(/no text/);
  expect(documentKind(new Uint8Array([1, 2, 3, 4, 0, 5]))).toBeNull();
  expect(documentKind(new Uint8Array(await zip([['a.ttf', bytes('x')]])))).toBeNull();
  const broken = new Uint8Array([...bytes('PK\x03\x04'), ...new Uint8Array(26), ...bytes('word/document.xml')]);
  expect((await read(broken)).unread).toMatch(/damaged/);
});
