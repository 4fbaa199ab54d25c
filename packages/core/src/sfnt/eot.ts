import type { SfntFont } from './container.js';
import { FontError } from './errors.js';
import { Reader } from './reader.js';

const MAGIC_OFFSET = 34;
const MAGIC = 0x504c;
const COMPRESSED = 0x4;
const XOR = 0x10000000;
const HEADER = 82;

const swap16 = (v: number): number => ((v & 0xff) << 8) | (v >> 8);
const swap32 = (v: number): number => ((v << 24) | ((v & 0xff00) << 8) | ((v >>> 8) & 0xff00) | (v >>> 24)) >>> 0;

/** Whether bytes begin as an Embedded OpenType file does. */
export function looksLikeEot(bytes: Uint8Array): boolean {
  if (bytes.length < HEADER) return false;
  const r = new Reader(bytes);
  return swap16(r.u16(MAGIC_OFFSET)) === MAGIC && [0x00010000, 0x00020001, 0x00020002].includes(swap32(r.u32(8)));
}

/**
 * Takes the font out of an Embedded OpenType file; numbers in its header are little-endian.
 * Source: Embedded OpenType (EOT) File Format, W3C Member Submission 2008, section 4.
 * @param read reads the plain font inside
 * @throws FontError when it is cut short, or packed in a way that is not read
 */
export function readEot(bytes: Uint8Array, read: (plain: Uint8Array) => SfntFont): SfntFont {
  const r = new Reader(bytes);
  const [size, dataSize, version, flags] = [0, 4, 8, 12].map((at) => swap32(r.u32(at))) as [number, number, number, number];
  const from = size - dataSize;
  if (size > bytes.length) throw new FontError('truncated', 'The EOT file is shorter than it says: it was cut short.', { offset: 0 });
  if (dataSize === 0 || from < HEADER)
    throw new FontError('bad-directory', 'The sizes in the header of the EOT file do not hold together.', { offset: 4 });
  if (flags & COMPRESSED)
    throw new FontError(
      'unsupported',
      'This EOT file is packed with MicroType Express, which is not read here. Ask for the face as TTF, OTF or WOFF2.',
      { offset: 12 },
    );
  const plain = bytes.slice(from, size);
  if (flags & XOR) for (let i = 0; i < plain.length; i++) plain[i]! ^= 0x50;
  const font = read(plain);
  const sites = version === 0x00010000 ? '' : rootString(r, from);
  if (!sites) return font;
  return {
    ...font,
    faults: [
      ...font.faults,
      {
        code: 'bound-to-sites',
        message: `The file says where it may be used: ${sites}. Ask whoever licensed it before it is used anywhere else.`,
      },
    ],
  };
}

/**
 * Addresses a file is bound to, from version 2.1 on, behind four texts of any length.
 * @throws FontError when they reach into the font
 */
function rootString(r: Reader, end: number): string {
  let at = HEADER;
  // Family, style, version and full name, each with its size before and padding behind.
  for (let i = 0; i < 4; i++) at += 2 + swap16(r.u16(at)) + 2;
  if (at + 2 > end) throw new FontError('bad-directory', 'The names in the header of the EOT file reach into the font.', { offset: at });
  const length = Math.min(swap16(r.u16(at)), end - at - 2);
  let text = '';
  for (let i = 0; i + 1 < length; i += 2) text += String.fromCharCode(swap16(r.u16(at + 2 + i)));
  return text.split('\0').filter(Boolean).join(', ').slice(0, 300);
}
