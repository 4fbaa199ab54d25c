import { createRequire } from 'node:module';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import chardet from 'chardet';
import iconv from 'iconv-lite';
import type * as Rtf from 'rtf-stream-parser';
import yauzl from 'yauzl';

/** What a companion turned out to be. 'office' and 'old-office' are documents whose text is not read. */
export type DocumentKind = 'text' | 'html' | 'mail' | 'rtf' | 'pdf' | 'docx' | 'office' | 'old-office';

export interface ReadDocument {
  /** The text as paragraphs; null when it could not be read. */
  text: string | null;
  /** Why not, in one sentence with what to do; null when it was read. */
  unread: string | null;
}

/** Terms are a few pages. What is longer than this, in characters, is kept and left for a person to read, never read in part. */
export const MOST_TEXT = 400_000;
const MOST_PAGES = 300;
/** What a document may unpack to, pictures included, and its text alone; terms are a few pages. */
const MOST_UNPACKED = 96 * 1024 * 1024;
const MOST_TEXT_PART = 6 * 1024 * 1024;
/** Real documents pack to a twentieth at most (common practice). */
const MOST_GROWTH = 100;

const begins = (bytes: Uint8Array, ...values: number[]): boolean => values.every((v, i) => bytes[i] === v);
const latin = (bytes: Uint8Array, start: number, end: number): string => String.fromCharCode(...bytes.subarray(start, end));

/** Sorts bytes by how they begin, whatever their name says; null for what is no document. */
export function documentKind(bytes: Uint8Array): DocumentKind | null {
  const head = latin(bytes, 0, 4096);
  if (head.slice(0, 1024).includes('%PDF-')) return 'pdf';
  if (head.startsWith('{\\rtf')) return 'rtf';
  if (begins(bytes, 0x50, 0x4b, 3, 4)) {
    // Office documents are ZIPs whose first entries say so.
    if (!/^(\[Content_Types\]\.xml|mimetype|word\/|_rels\/|docProps\/|xl\/|ppt\/)/.test(latin(bytes, 30, 60))) return null;
    return head.startsWith('mimetype', 30)
      ? 'office'
      : latin(bytes, 0, Math.min(bytes.length, 65_536)).includes('word/') || hasWord(bytes)
        ? 'docx'
        : 'office';
  }
  if (begins(bytes, 0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1)) return 'old-office';
  const encoding = encodingOf(bytes.subarray(0, 65_536));
  if (encoding === null) return null;
  const text = iconv.decode(Buffer.from(bytes.subarray(0, 4096)), encoding);
  if (/^<(?:!doctype html|html|head|body)\b/i.test(afterProlog(text))) return 'html';
  if (
    /^(From|To|Date|Subject|Received|Return-Path|Delivered-To|MIME-Version|Message-ID|X-[\w-]+): /i.test(text) &&
    /^(MIME-Version|Message-ID|Received): /im.test(text)
  )
    return 'mail';
  return 'text';
}

/** What stands after white space, an XML declaration and comments, found in one walk along the text. */
export function afterProlog(text: string): string {
  let at = 0;
  for (;;) {
    while (at < text.length && text.charCodeAt(at) <= 32) at++;
    const end = text.startsWith('<!--', at) ? text.indexOf('-->', at + 4) + 3 : text.startsWith('<?', at) ? text.indexOf('>', at) + 1 : 0;
    if (end <= at) return text.slice(at);
    at = end;
  }
}

/** The name of the main part stands in the directory at the end when it is not among the first entries. */
const hasWord = (bytes: Uint8Array): boolean => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length).includes('word/document.xml');

/**
 * The encoding of a text, by its byte order mark, by being well-formed UTF-8, by the shape of UTF-16, by what it declares,
 * or else by the letters that are frequent in it. Null when it holds binary data.
 */
export function encodingOf(bytes: Uint8Array): string | null {
  if (begins(bytes, 0xef, 0xbb, 0xbf)) return 'utf-8';
  if (begins(bytes, 0xff, 0xfe)) return 'utf-16le';
  if (begins(bytes, 0xfe, 0xff)) return 'utf-16be';
  const sample = bytes.subarray(0, 65_536);
  const zeros = [0, 0];
  for (let i = 0; i < sample.length; i++) if (sample[i] === 0) zeros[i & 1]!++;
  // Latin text in UTF-16 has a zero in nearly every other byte and none between.
  const half = sample.length / 2;
  if (zeros[1]! > half * 0.4 && zeros[0]! < half * 0.02) return 'utf-16le';
  if (zeros[0]! > half * 0.4 && zeros[1]! < half * 0.02) return 'utf-16be';
  if (sample.some((b) => b < 9 || (b > 13 && b < 27) || (b > 27 && b < 32))) return null;
  // A sample may end within a character.
  for (let cut = 0; cut < 4 && cut <= sample.length; cut++)
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(sample.subarray(0, sample.length - (sample.length < bytes.length ? cut : 0)));
      return 'utf-8';
    } catch {
      // One byte less, or another encoding.
    }
  const declared =
    /<meta[^>]+charset\s*=\s*["']?([\w-]+)|<\?xml[^>]+encoding\s*=\s*["']([\w-]+)|^\s*content-type:[^\n]*charset="?([\w-]+)/im.exec(
      latin(sample, 0, Math.min(sample.length, 4096)),
    );
  const name = declared?.[1] ?? declared?.[2] ?? declared?.[3];
  if (name && iconv.encodingExists(name)) return name.toLowerCase();
  // Common practice: texts of makers come in one of these when they are not in Unicode.
  const likely = chardet
    .analyse(sample)
    .find((m) => /^(windows-125\d|ISO-8859-\d+|KOI8-R|Shift_JIS|EUC-JP|EUC-KR|Big5|GB18030)$/i.test(m.name));
  const guess = likely && likely.confidence >= 20 ? likely.name : 'windows-1252';
  // The ISO sets leave empty what their Windows counterparts fill with quotes and dashes.
  if (guess === 'ISO-8859-1') return 'windows-1252';
  return guess === 'ISO-8859-2' && sample.some((b) => b >= 0x80 && b < 0xa0) ? 'windows-1250' : guess;
}

const tidy = (text: string): string =>
  text
    .replace(/\r\n?|\u2028|\u2029/g, '\n')
    .replace(/\0/g, '')
    .replace(/\u00a0/g, ' ')
    .replace(/\n{3,}/g, '\n\n')
    .trim();

const told = (unread: string): ReadDocument => ({ text: null, unread });
const plainHtml = async (html: string): Promise<string> => {
  const { convert } = await import('html-to-text');
  return convert(html, {
    wordwrap: false,
    selectors: [
      { selector: 'a', options: { ignoreHref: true } },
      { selector: 'img', format: 'skip' },
      ...['h1', 'h2', 'h3', 'h4', 'h5', 'h6'].map((selector) => ({ selector, options: { uppercase: false } })),
    ],
  });
};

/**
 * Takes the text out of a companion. What cannot be read is said in a sentence, never thrown: the bytes are kept as they
 * are in any case.
 */
export async function readDocument(bytes: Uint8Array, kind: DocumentKind): Promise<ReadDocument> {
  try {
    const read = await READERS[kind](bytes);
    if (read.text === null) return read;
    const text = tidy(read.text);
    if (text.length > MOST_TEXT)
      return told(
        'It is kept, and not read: its text is longer than any terms, over 400,000 characters. Read it yourself and record what it allows.',
      );
    if (text === '') return told('It is kept; there is no text in it.');
    return { text, unread: null };
  } catch {
    return told('It is kept, and could not be read: the document is damaged or of an unusual make. Open it in its own program.');
  }
}

const decoded = (bytes: Uint8Array): string =>
  iconv.decode(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length), encodingOf(bytes) ?? 'windows-1252');

const READERS: Readonly<Record<DocumentKind, (bytes: Uint8Array) => Promise<ReadDocument>>> = {
  text: (bytes) => Promise.resolve({ text: decoded(bytes), unread: null }),
  html: async (bytes) =>
    bytes.length > 20 * MOST_TEXT
      ? told('It is kept, and not read: the page is too long to be terms.')
      : { text: await plainHtml(decoded(bytes)), unread: null },
  mail: readMail,
  rtf: readRtf,
  pdf: readPdf,
  docx: readDocx,
  office: () =>
    Promise.resolve(
      told('It is kept, and not read: only DOCX is read of office documents. Save it as PDF or DOCX to have its terms read.'),
    ),
  'old-office': () =>
    Promise.resolve(told('It is kept, and not read: it is in an old office format. Save it as PDF or DOCX to have its terms read.')),
};

async function readMail(bytes: Uint8Array): Promise<ReadDocument> {
  const { default: PostalMime } = await import('postal-mime');
  const mail = await PostalMime.parse(bytes);
  const body = mail.text?.trim() ? mail.text : mail.html ? await plainHtml(mail.html) : '';
  const head = [
    mail.from && `From: ${mail.from.name || mail.from.address}`,
    mail.date && `Date: ${mail.date}`,
    mail.subject && `Subject: ${mail.subject}`,
  ];
  return { text: [head.filter(Boolean).join('\n'), body].join('\n\n'), unread: null };
}

/** Destinations of RTF that are not the document's text. Source: Rich Text Format Specification 1.9.1. */
const NOT_TEXT = new Set(
  'info pict object header headerl headerr headerf footer footerl footerr footerf footnote annotation fonttbl colortbl stylesheet listtable htmltag'.split(
    ' ',
  ),
);

async function readRtf(bytes: Uint8Array): Promise<ReadDocument> {
  const load = createRequire(import.meta.url);
  const { DeEncapsulate, Tokenize } = load('rtf-stream-parser') as typeof Rtf;
  interface Token {
    type: number;
    word?: string;
  }
  const GROUP_START = 0;
  const GROUP_END = 1;
  const CONTROL = 2;
  async function* withoutAsides(tokens: AsyncIterable<Token>): AsyncGenerator<Token> {
    let depth = 0;
    let aside: number | null = null;
    for await (const token of tokens) {
      if (token.type === GROUP_START) depth++;
      else if (token.type === GROUP_END) {
        if (aside !== null && depth <= aside) aside = null;
        depth--;
      } else if (aside === null && token.word !== undefined && NOT_TEXT.has(token.word)) aside = depth;
      // What a document says of having been HTML or text is left out: nothing of it may be hidden for that.
      if (token.word === 'fromhtml' || token.word === 'fromtext' || token.word === 'htmlrtf') continue;
      if (aside === null || token.type === GROUP_START || token.type === GROUP_END) yield token;
      // The reader gives plain text for documents that say they were plain text.
      if (depth === 1 && token.word === 'rtf') yield { type: CONTROL, word: 'fromtext' };
    }
  }
  let text = '';
  const out = new DeEncapsulate({
    mode: 'text',
    warn: () => undefined,
    decode: (data, encoding) => iconv.decode(data, iconv.encodingExists(encoding) ? encoding : 'windows-1252'),
  });
  out.on('data', (piece: unknown) => (text += String(piece)));
  try {
    await pipeline(Readable.from([Buffer.from(bytes)]), new Tokenize(), withoutAsides, out);
  } catch (error) {
    // A document that was cut short has said what it could until then.
    if (!/closing brackets/i.test((error as Error).message)) throw error;
  }
  return { text, unread: null };
}

async function readPdf(bytes: Uint8Array): Promise<ReadDocument> {
  const pdf = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const task = pdf.getDocument({
    data: new Uint8Array(bytes),
    isEvalSupported: false,
    disableFontFace: true,
    useSystemFonts: false,
    verbosity: pdf.VerbosityLevel.ERRORS,
  });
  try {
    const document = await task.promise;
    if (document.numPages > MOST_PAGES)
      return told(`It is kept, and not read: with ${document.numPages} pages it is too long to be terms.`);
    let text = '';
    for (let n = 1; n <= document.numPages; n++) {
      const page = await document.getPage(n);
      for (const item of (await page.getTextContent()).items) if ('str' in item) text += item.str + (item.hasEOL ? '\n' : '');
      text += '\n\n';
      page.cleanup();
    }
    return text.trim() === ''
      ? told(
          'It is kept, and could not be read: its pages are pictures without text, as scanners make. Read it yourself and record what it allows.',
        )
      : { text, unread: null };
  } catch (error) {
    if ((error as Error).name === 'PasswordException')
      return told('It is kept, and could not be read: it is locked with a password. Save it without one and bring it in again.');
    throw error;
  } finally {
    await task.destroy();
  }
}

async function readDocx(bytes: Uint8Array): Promise<ReadDocument> {
  const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
  const parts = await partsOf(buffer);
  const total = parts.reduce((sum, p) => sum + p.uncompressedSize, 0);
  const xml = parts.filter((p) => !/\.(?:png|jpe?g|gif|emf|wmf|tiff?|bin|odttf|ttf)$/i.test(p.fileName));
  if (
    total > MOST_UNPACKED ||
    xml.some((p) => p.uncompressedSize > MOST_TEXT_PART) ||
    parts.some((p) => p.uncompressedSize > 1024 * 1024 && p.uncompressedSize > MOST_GROWTH * Math.max(1, p.compressedSize))
  )
    return told('It is kept, and not read: it would unpack to more than any document of terms needs.');
  const { default: mammoth } = await import('mammoth');
  const { value } = await mammoth.extractRawText({ buffer });
  return { text: value, unread: null };
}

/** The entries of an archive. @throws Error for one with more than any document has */
function partsOf(buffer: Buffer): Promise<yauzl.Entry[]> {
  return new Promise((resolve, reject) => {
    yauzl.fromBuffer(buffer, { lazyEntries: true, validateEntrySizes: true }, (error, zip) => {
      if (error || !zip) return reject(error ?? new Error('no archive'));
      if (zip.entryCount > 2000) return reject(new Error('too many parts'));
      const out: yauzl.Entry[] = [];
      zip.on('entry', (entry: yauzl.Entry) => {
        out.push(entry);
        zip.readEntry();
      });
      zip.on('end', () => resolve(out));
      zip.on('error', reject);
      zip.readEntry();
    });
  });
}
