import { headChecksum, tableChecksum } from './checksum.js';
import type { Codec } from './codec.js';
import { looksLikeEot, readEot } from './eot.js';
import { FontError } from './errors.js';
import { Reader } from './reader.js';
import { readWoff } from './woff.js';
import { readWoff2 } from './woff2/read.js';

/** `eot` and `svg` are only read: no browser of today takes them. */
export type FontFormat = 'ttf' | 'otf' | 'ttc' | 'woff' | 'woff2' | 'eot' | 'svg';
/** What bytes tell at their beginning. A font drawn in SVG is text, and told by what is in it. */
type Binary = Exclude<FontFormat, 'svg'>;

/** One font's tables. Bytes are views into the file (or into what was decompressed) and must not be written to. */
export interface SfntFont {
  /** sfnt version: 0x00010000, 'true', 'typ1' or 'OTTO' as a number. */
  flavor: number;
  /** In the order in which they lie in the file. */
  tables: Map<string, Uint8Array>;
  /** What was found amiss in the directory itself; sentences for people. */
  faults: ContainerFault[];
}

export interface ContainerFault {
  code:
    | 'misaligned-table'
    | 'bad-checksum'
    | 'overlapping-tables'
    | 'unsorted-directory'
    | 'duplicate-table'
    | 'gap-or-trailing-data'
    | 'bound-to-sites'
    | 'left-out';
  table?: string;
  message: string;
}

export interface FontFile {
  format: FontFormat;
  fonts: SfntFont[];
}

export const FLAVOR_TRUETYPE = 0x00010000;
export const FLAVOR_CFF = 0x4f54544f;
const FLAVOR_TRUE = 0x74727565;
const FLAVOR_TYP1 = 0x74797031;
const SIGNATURE_TTC = 0x74746366;
const SIGNATURE_WOFF = 0x774f4646;
const SIGNATURE_WOFF2 = 0x774f4632;

/** More faces than any real collection holds; a bound against hostile headers. */
const MAX_FACES = 512;

/** Judges by content what the file is; null for anything that is not a font. Never looks past its header. */
export function detectFormat(bytes: Uint8Array): Binary | null {
  if (bytes.length < 4) return null;
  switch (new DataView(bytes.buffer, bytes.byteOffset).getUint32(0)) {
    case FLAVOR_TRUETYPE:
    case FLAVOR_TRUE:
    case FLAVOR_TYP1:
      return 'ttf';
    case FLAVOR_CFF:
      return 'otf';
    case SIGNATURE_TTC:
      return 'ttc';
    case SIGNATURE_WOFF:
      return 'woff';
    case SIGNATURE_WOFF2:
      return 'woff2';
    default:
      return looksLikeEot(bytes) ? 'eot' : null;
  }
}

/**
 * Reads a font file of any container into tables.
 * Source: OpenType specification, "Organization of an OpenType Font"; WOFF 1.0 and WOFF 2.0 (W3C).
 * @throws FontError for anything that is not a sound container.
 */
export function readFontFile(input: Uint8Array, codec: Codec): FontFile {
  // A plain view: subclasses such as Node's Buffer slice without copying, and the caller's bytes must stay as they are.
  const bytes = new Uint8Array(input.buffer, input.byteOffset, input.length);
  if (bytes.length === 0) throw new FontError('empty', 'The file is empty.');
  const format = detectFormat(bytes);
  if (format === null) throw notAFont(bytes);
  switch (format) {
    case 'woff':
      return { format, fonts: [readWoff(bytes, codec)] };
    case 'woff2':
      return { format, fonts: readWoff2(bytes, codec) };
    case 'ttc':
      return { format, fonts: readCollection(bytes) };
    case 'eot':
      return { format, fonts: [readEot(bytes, (plain) => readDirectory(plain, 0))] };
    default:
      return { format, fonts: [readDirectory(bytes, 0)] };
  }
}

function notAFont(bytes: Uint8Array): FontError {
  const old = oldFont(bytes);
  if (old) return new FontError('unsupported', old);
  const head = bytes.subarray(0, 512);
  const printable = head.every((b) => b === 9 || b === 10 || b === 13 || (b >= 32 && b !== 127));
  if (printable) return new FontError('text-not-font', 'This is text, not a font, whatever its name says.');
  return new FontError('not-a-font', 'This is not a font file: it starts like no format we know.');
}

/**
 * A sentence for fonts of kinds that are not read; null for anything else. Sources: Inside Macintosh, More Macintosh Toolbox,
 * chapter 1 (resource files); Adobe Type 1 Font Format; Adobe Technical Note 5040 (PFB).
 */
export function oldFont(bytes: Uint8Array): string | null {
  const starts = (text: string, at = 0): boolean => [...text].every((c, i) => bytes[at + i] === c.charCodeAt(0));
  if (starts('%!PS-AdobeFont') || starts('%!FontType1') || (bytes[0] === 0x80 && bytes[1] === 1 && starts('%!', 6)))
    return 'This is a PostScript Type 1 font, which programs of today no longer open. Ask whoever licensed it for an OTF.';
  if (bytes.length < 16) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const [data, map, dataLength, mapLength] = [0, 4, 8, 12].map((at) => view.getUint32(at)) as [number, number, number, number];
  // A resource file: its data begin at 256, and its map follows them and ends the file.
  if (data !== 256 || map !== data + dataLength || map + mapLength !== bytes.length || mapLength < 30) return null;
  const list = map + view.getUint16(map + 24);
  const types = list + 2 <= bytes.length ? view.getUint16(list) + 1 : 0;
  for (let i = 0; i < Math.min(types, 64) && list + 10 + 8 * i <= bytes.length; i++)
    if (starts('sfnt', list + 2 + 8 * i) || starts('FOND', list + 2 + 8 * i))
      return 'This is a macOS font suitcase, which only macOS opens. Open it there, and export each of its faces as TTF or OTF.';
  return null;
}

function readCollection(bytes: Uint8Array): SfntFont[] {
  const file = new Reader(bytes);
  const count = file.u32(8);
  if (count === 0) throw new FontError('bad-directory', 'The collection says it holds no fonts.', { offset: 8 });
  if (count > MAX_FACES)
    throw new FontError('too-many-faces', `The collection claims ${count} fonts; no real one has more than ${MAX_FACES}.`, { offset: 8 });
  file.need(12, 4 * count);
  const fonts: SfntFont[] = [];
  for (let i = 0; i < count; i++) fonts.push(readDirectory(bytes, file.u32(12 + 4 * i)));
  return fonts;
}

function readDirectory(bytes: Uint8Array, start: number): SfntFont {
  const file = new Reader(bytes);
  const flavor = file.u32(start);
  if (![FLAVOR_TRUETYPE, FLAVOR_CFF, FLAVOR_TRUE, FLAVOR_TYP1].includes(flavor))
    throw new FontError('bad-directory', 'A font inside the collection starts like no font we know.', { offset: start });
  const count = file.u16(start + 4);
  if (count === 0) throw new FontError('bad-directory', 'The font has no tables.', { offset: start + 4 });
  file.need(start + 12, 16 * count);
  const tables = new Map<string, Uint8Array>();
  const faults: ContainerFault[] = [];
  const spans: { tag: string; offset: number; length: number }[] = [];
  let previous = '';
  for (let i = 0; i < count; i++) {
    const at = start + 12 + 16 * i;
    const tag = file.tag(at);
    const stated = file.u32(at + 4);
    const offset = file.u32(at + 8);
    const length = file.u32(at + 12);
    if (offset + length > bytes.length)
      throw new FontError('truncated', `The ${tag.trim()} table reaches past the end of the file: the file is cut short or damaged.`, {
        table: tag,
        offset,
      });
    if (tables.has(tag)) {
      faults.push({ code: 'duplicate-table', table: tag, message: `The ${tag.trim()} table is listed twice; the first one is used.` });
      continue;
    }
    if (tag < previous && !faults.some((f) => f.code === 'unsorted-directory'))
      faults.push({ code: 'unsorted-directory', message: 'The table directory is not in order of its tags.' });
    previous = tag;
    if (offset % 4 !== 0 && !faults.some((f) => f.code === 'misaligned-table'))
      faults.push({
        code: 'misaligned-table',
        table: tag,
        message: `The ${tag.trim()} table does not begin at a multiple of four bytes. Browsers refuse such a file as it is; a converted file is in order again.`,
      });
    const data = bytes.subarray(offset, offset + length);
    tables.set(tag, data);
    spans.push({ tag, offset, length });
    if ((tag === 'head' ? headChecksum(data) : tableChecksum(data)) !== stated)
      faults.push({
        code: 'bad-checksum',
        table: tag,
        message: `The ${tag.trim()} table does not match its checksum: it was changed or damaged after the font was made.`,
      });
  }
  spans.sort((a, b) => a.offset - b.offset);
  for (let i = 1; i < spans.length; i++) {
    const a = spans[i - 1]!;
    const b = spans[i]!;
    if (a.offset + a.length > b.offset && a.length > 0 && b.length > 0)
      faults.push({
        code: 'overlapping-tables',
        table: b.tag,
        message: `The ${a.tag.trim()} and ${b.tag.trim()} tables overlap in the file.`,
      });
  }
  return { flavor, tables: new Map(spans.map(({ tag }) => [tag, tables.get(tag)!])), faults };
}
