import { nodeCodec } from '@orderly-glyph/node';
import { readFont } from '../../test/fonts.js';
import { FontError, readFontFile } from './index.js';

/** An Embedded OpenType file by its published layout (W3C Member Submission 2008, section 4), numbers little-endian. */
function eot(plain: Uint8Array, { version = 0x00020001, flags = 0, sites = '', cut = 0 } = {}): Uint8Array {
  const texts = ['Garden', 'Regular', 'Version 1', 'Garden Regular'].map((t) => Buffer.from(t, 'utf16le'));
  const parts: Buffer[] = [];
  for (const text of texts) parts.push(u16(text.length), text, u16(0));
  if (version > 0x00010000) {
    const root = Buffer.from(sites, 'utf16le');
    parts.push(u16(root.length), root);
  }
  const header = Buffer.alloc(82);
  const rest = Buffer.concat(parts);
  header.writeUInt32LE(82 + rest.length + plain.length, 0);
  header.writeUInt32LE(plain.length, 4);
  header.writeUInt32LE(version, 8);
  header.writeUInt32LE(flags, 12);
  header.writeUInt16LE(0x504c, 34);
  const data = flags & 0x10000000 ? plain.map((b) => b ^ 0x50) : plain;
  return new Uint8Array(Buffer.concat([header, rest, data]).subarray(0, 82 + rest.length + plain.length - cut));
}
const u16 = (v: number): Buffer => Buffer.from([v & 0xff, v >> 8]);
const plain = readFont('gochiHand');
const read = (bytes: Uint8Array) => readFontFile(bytes, nodeCodec);

test.each([
  ['version 1', { version: 0x00010000 }],
  ['version 2.1', {}],
  ['scrambled', { flags: 0x10000000 }],
] as const)('the font in an EOT file of %s is the one that went in, byte for byte', (_what, options) => {
  const { format, fonts } = read(eot(plain, options));
  expect(format).toBe('eot');
  const source = readFontFile(plain, nodeCodec).fonts[0]!;
  expect([...fonts[0]!.tables.keys()]).toEqual([...source.tables.keys()]);
  for (const [tag, bytes] of source.tables) expect(Buffer.compare(fonts[0]!.tables.get(tag)!, bytes)).toBe(0);
  expect(fonts[0]!.faults.map((f) => f.code)).not.toContain('bound-to-sites');
});

test('sites that a file is bound to are told', () => {
  const { faults } = read(eot(plain, { sites: 'http://garden.example/\0http://shop.example/' })).fonts[0]!;
  expect(faults.find((f) => f.code === 'bound-to-sites')?.message).toContain('http://garden.example/, http://shop.example/.');
});

test('what is packed in another way, or cut short, is refused in words', () => {
  expect(() => read(eot(plain, { flags: 4 }))).toThrow(/MicroType Express/);
  expect(() => read(eot(plain, { cut: 1 }))).toThrow(/cut short/);
  const wrong = eot(plain);
  new DataView(wrong.buffer).setUint32(4, wrong.length - 81, true);
  expect(() => read(wrong)).toThrow(/do not hold together/);
  // A name that reaches into the font.
  const long = eot(plain);
  new DataView(long.buffer).setUint16(82, 0xffff, true);
  expect(() => read(long)).toThrow(FontError);
});

// Sources: Inside Macintosh, More Macintosh Toolbox, chapter 1; Adobe Technical Note 5040.
test('suitcases of macOS and PostScript fonts are told from other files', () => {
  const suitcase = (type: string): Uint8Array => {
    const data = 40;
    const bytes = Buffer.alloc(256 + data + 28 + 2 + 8);
    bytes.writeUInt32BE(256, 0);
    bytes.writeUInt32BE(256 + data, 4);
    bytes.writeUInt32BE(data, 8);
    bytes.writeUInt32BE(38, 12);
    bytes.writeUInt16BE(28, 256 + data + 24);
    bytes.write(type, 256 + data + 30, 'latin1');
    return new Uint8Array(bytes);
  };
  const why = (bytes: Uint8Array): string => {
    try {
      read(bytes);
    } catch (error) {
      return (error as FontError).message;
    }
    return '';
  };
  expect(why(suitcase('sfnt'))).toMatch(/macOS font suitcase/);
  expect(why(suitcase('PICT'))).toMatch(/like no format we know/);
  expect(why(new TextEncoder().encode('%!PS-AdobeFont-1.0: Garden\n%%Title'))).toMatch(/PostScript Type 1/);
  expect(why(new Uint8Array([0x80, 1, 9, 0, 0, 0, 0x25, 0x21, 0x50]))).toMatch(/PostScript Type 1/);
  // Any white space of plain text is white space.
  for (const text of ['a\nb', 'a\tb', 'a\r\nb', 'plain']) expect(why(new TextEncoder().encode(text))).toMatch(/This is text/);
  for (const bytes of [
    [1, 2, 3],
    [0x61, 11, 0x62],
    [0x61, 0x7f],
    [0x61, 31],
  ])
    expect(why(Uint8Array.from(bytes))).toMatch(/like no format we know/);
});
