import { FontError, MAC_GLYPH_NAMES, NAME_ID, POST, type OpenTables, type Post } from '../index.js';

const NO_TABLES = { table: () => null, has: () => false, bytes: () => null } as unknown as OpenTables;
const header = {
  italicAngle: -12.5,
  underlinePosition: -100,
  underlineThickness: 50,
  isFixedPitch: 0,
  minMemType42: 1,
  maxMemType42: 2,
  minMemType1: 3,
  maxMemType1: 4,
};
const V2 = 0x00020000;
const V25 = 0x00025000;
const post = (version: number, glyphNames: string[] | null): Post => ({ version, ...header, glyphNames });
const again = (p: Post): Post => POST.read(POST.write(p, NO_TABLES), NO_TABLES);

test('names of glyphs: standard ones by number, others as text, none longer than 255 letters or beyond one byte', () => {
  // Source: OpenType specification, post, version 2.0: Pascal strings.
  const names = ['.notdef', 'A', 'own', 'x'.repeat(255), 'dcroat', 'own', 'caf\xe9', '\xff'];
  expect(again(post(V2, names))).toEqual(post(V2, names));
  expect(() => again(post(V2, ['x'.repeat(256)]))).toThrow('too long');
  expect(() => again(post(V2, ['\u0100']))).toThrow(FontError);
  // Glyph names of the Macintosh: 258, the first .notdef, the last dcroat (OpenType specification, post).
  expect([MAC_GLYPH_NAMES.length, MAC_GLYPH_NAMES[0], MAC_GLYPH_NAMES[257]]).toEqual([258, '.notdef', 'dcroat']);
  expect(again(post(0x00030000, null)).glyphNames).toBeNull();
});

test('version 2.5 names glyphs by their distance from the standard order, at most 127 up and 128 down', () => {
  // Source: OpenType specification, post, version 2.5 (deprecated): signed bytes.
  const up = [MAC_GLYPH_NAMES[127]!, 'A'];
  expect(again(post(V25, up)).glyphNames).toEqual(up);
  expect(() => again(post(V25, [MAC_GLYPH_NAMES[128]!]))).toThrow('2.5');
  const down = [...MAC_GLYPH_NAMES.slice(0, 128), '.notdef'];
  expect(again(post(V25, down)).glyphNames).toEqual(down);
  expect(() => again(post(V25, [...MAC_GLYPH_NAMES.slice(0, 129), '.notdef']))).toThrow('2.5');
});

test('a name that is missing or cut short is told, and one that nothing asks for is not', () => {
  const bytes = POST.write(post(V2, ['.notdef', 'own']), NO_TABLES);
  expect(() => POST.read(bytes.slice(0, bytes.length - 1), NO_TABLES)).toThrow('name of glyph 1 is missing');
  const more = Uint8Array.from([...bytes, 9, 65]);
  expect(POST.read(more, NO_TABLES).glyphNames).toEqual(['.notdef', 'own']);
  const count = bytes.slice();
  // The second glyph asks for a name of its own that is the second of one.
  new DataView(count.buffer).setUint16(36, 259);
  expect(() => POST.read(count, NO_TABLES)).toThrow('name of glyph 1 is missing');
});

test('numbers of names are those of the specification', () => {
  // Source: OpenType specification, name table, name IDs.
  expect(NAME_ID).toEqual({
    copyright: 0,
    family: 1,
    subfamily: 2,
    uniqueId: 3,
    fullName: 4,
    version: 5,
    postScriptName: 6,
    trademark: 7,
    manufacturer: 8,
    designer: 9,
    description: 10,
    vendorUrl: 11,
    designerUrl: 12,
    license: 13,
    licenseUrl: 14,
    typographicFamily: 16,
    typographicSubfamily: 17,
    compatibleFull: 18,
    sampleText: 19,
    wwsFamily: 21,
    wwsSubfamily: 22,
    variationsPostScriptPrefix: 25,
  });
});
