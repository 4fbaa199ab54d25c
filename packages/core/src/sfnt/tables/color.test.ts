import { python } from '../../../test/python.js';
import { CPAL, FontError, SVG, type Cpal, type OpenTables } from '../index.js';

const NO_TABLES = { table: () => null, has: () => false, bytes: () => null } as unknown as OpenTables;
const bytesOf = (hex: string): Uint8Array => Uint8Array.from(hex.match(/../g)!, (b) => parseInt(b, 16));
const color = (blue: number, green: number, red: number, alpha: number) => ({ blue, green, red, alpha });
const RED = color(0, 0, 255, 255);
const GLASS = color(1, 2, 3, 40);
const PALETTES = [
  [RED, GLASS],
  [GLASS, RED],
  [RED, GLASS],
];
const NEW: Cpal = {
  version: 1,
  palettes: PALETTES,
  paletteTypes: [1, 2, 0],
  paletteLabels: [256, 0xffff, 257],
  paletteEntryLabels: [300, 301],
};
const OLD: Cpal = { version: 0, palettes: PALETTES, paletteTypes: null, paletteLabels: null, paletteEntryLabels: null };

test.each([
  ['0', OLD],
  ['1', NEW],
])('palettes of version %s are what fontTools reads and writes', (_v, cpal) => {
  const ours = CPAL.write(cpal, NO_TABLES);
  expect(CPAL.read(ours, NO_TABLES)).toEqual(cpal);
  const theirs = python<{ version: number; colors: number[][][]; types: number[]; labels: number[]; entries: number[]; again: string }>(
    `
from fontTools.ttLib import newTable
t = newTable('CPAL'); t.decompile(bytes.fromhex(given), None)
print(json.dumps({'version': t.version, 'colors': [[[c.blue, c.green, c.red, c.alpha] for c in p] for p in t.palettes], 'types': t.paletteTypes, 'labels': t.paletteLabels, 'entries': t.paletteEntryLabels, 'again': t.compile(None).hex()}))`,
    Buffer.from(ours).toString('hex'),
  );
  expect(theirs.version).toBe(cpal.version);
  expect(theirs.colors).toEqual(cpal.palettes.map((p) => p.map((c) => [c.blue, c.green, c.red, c.alpha])));
  if (cpal.version === 1)
    expect([theirs.types, theirs.labels, theirs.entries]).toEqual([cpal.paletteTypes, cpal.paletteLabels, cpal.paletteEntryLabels]);
  expect(CPAL.read(bytesOf(theirs.again), NO_TABLES)).toEqual(cpal);
  // Equal palettes are stored once, as fontTools does.
  expect(ours.length).toBeLessThanOrEqual(theirs.again.length / 2);
});

test('palettes beyond what the table holds are refused', () => {
  const many = (n: number): Cpal => ({ ...OLD, palettes: [Array.from({ length: n }, (_, i) => color(i & 255, i >> 8, 0, 255))] });
  expect(CPAL.read(CPAL.write(many(0xffff), NO_TABLES), NO_TABLES).palettes[0]).toHaveLength(0xffff);
  expect(() => CPAL.write(many(0x10000), NO_TABLES)).toThrow(FontError);
  // 16 palettes of 65,535 entries are under 2^20 colors, 17 above; they may all be the same.
  const claimed = (count: number): Uint8Array => {
    const out = new Uint8Array(12 + 2 * count + 4 * 0xffff);
    [0, 0xffff, count, 0xffff].forEach((v, i) => new DataView(out.buffer).setUint16(2 * i, v));
    new DataView(out.buffer).setUint32(8, 12 + 2 * count);
    return out;
  };
  expect(CPAL.read(claimed(16), NO_TABLES).palettes).toHaveLength(16);
  expect(() => CPAL.read(claimed(17), NO_TABLES)).toThrow('more colors than any font has');
});

test('documents of pictures, shared and not, are what fontTools reads', () => {
  const text = (s: string): Uint8Array => new TextEncoder().encode(s);
  const one = text('<svg xmlns="http://www.w3.org/2000/svg"><g id="glyph1"/></svg>');
  const two = text('<svg xmlns="http://www.w3.org/2000/svg"><g id="glyph9"/></svg>');
  const value = {
    version: 0,
    documents: [
      { startGlyphID: 1, endGlyphID: 3, document: one },
      { startGlyphID: 4, endGlyphID: 4, document: one },
      { startGlyphID: 9, endGlyphID: 9, document: two },
    ],
  };
  const ours = SVG.write(value as never, NO_TABLES);
  expect(SVG.read(ours, NO_TABLES)).toMatchObject(value);
  const theirs = python<[string, number, number][]>(
    `
from fontTools.ttLib import newTable
t = newTable('SVG '); t.decompile(bytes.fromhex(given), None)
print(json.dumps([[d[0], d[1], d[2]] if not hasattr(d, 'data') else [d.data, d.startGlyphID, d.endGlyphID] for d in t.docList]))`,
    Buffer.from(ours).toString('hex'),
  );
  expect(theirs).toEqual(value.documents.map((d) => [new TextDecoder().decode(d.document), d.startGlyphID, d.endGlyphID]));
  expect(ours.length).toBe(10 + 2 + 12 * 3 + one.length + two.length);
});
