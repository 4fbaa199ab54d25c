import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { convertTo, faceOf } from '../../test/face.js';
import { FONTS, patch16, readFont, withTable } from '../../test/fonts.js';
import type { Face } from '../font/index.js';
import { FlattenPen, rasterize, spansAtX, spansAtY } from '../outline/index.js';
import {
  compareVersions,
  findDoubles,
  newerFirst,
  readPrints,
  TRAITS,
  versionNumbers,
  type DoubleCandidate,
  type Traits,
} from './index.js';

const open = (bytes: Uint8Array): Face => faceOf(bytes);
const module = (path: string): string => join(process.cwd(), 'node_modules', path);
const OLDER = module('caveat-before/Caveat_400Regular.ttf');
const NEWER = module('@expo-google-fonts/caveat/400Regular/Caveat_400Regular.ttf');
const read = (path: string): Uint8Array => new Uint8Array(readFileSync(path));

test('prints are the same in every container and under every name, and no others', () => {
  const ttf = readFont('literata');
  const prints = readPrints(open(ttf));
  expect(prints!.all).toMatch(/^[0-9a-f]{16}$/);
  for (const format of ['woff', 'woff2'] as const) expect(readPrints(open(convertTo(ttf, format)))).toEqual(prints);
  const nameless = open(withTable(open(ttf).font, 'name', null));
  expect(readPrints(nameless)).toEqual({
    ...prints,
    traits: { ...prints!.traits, names: expect.not.stringMatching(prints!.traits.names) },
  });
  // What else makes a face is told apart, table by table.
  const other = (tag: string, data: Uint8Array | null): string[] => {
    const { traits } = readPrints(open(withTable(open(ttf).font, tag, data)))!;
    return TRAITS.filter((t) => traits[t] !== prints!.traits[t]);
  };
  expect(other('GSUB', null)).toEqual(['features']);
  expect(other('COLR', new Uint8Array(14))).toEqual(['color']);
  expect(other('prep', Uint8Array.of(0xb0, 1))).toEqual(['hinting']);
  expect(other('hhea', patch16(open(ttf).bytes('hhea')!, 4, 1234))).toEqual(['metrics']);
  expect(readPrints(open(readFont('didot')))!.all).not.toBe(prints!.all);
});

test('the basic print takes the 62 letters and figures, and the faces that lack too many have none', () => {
  const font = open(readFont('literata')).font;
  // A character map of format 12 with the given characters alone, all on glyphs that differ.
  const only = (codePoints: readonly number[]) => {
    const bytes = new Uint8Array(28 + 12 * codePoints.length);
    const view = new DataView(bytes.buffer);
    [0, 1, 3, 10, 0, 12, 12, 0].forEach((v, i) => view.setUint16(2 * i, v));
    view.setUint32(16, 16 + 12 * codePoints.length);
    view.setUint32(24, codePoints.length);
    codePoints.forEach((c, i) => [c, c, 20 + i].forEach((v, k) => view.setUint32(28 + 12 * i + 4 * k, v)));
    return readPrints(open(withTable(font, 'cmap', bytes)))!.basic;
  };
  const run = (first: number, last: number): number[] => Array.from({ length: last - first + 1 }, (_, i) => first + i);
  const letters = [...run(48, 57), ...run(65, 90), ...run(97, 122)];
  expect(only(letters)).not.toBeNull();
  // Neighbors of the three runs do not count: 51 letters and six signs are too few, 52 letters are enough.
  expect(only([47, ...letters.slice(0, 10), 58, 64, ...letters.slice(10, 36), 91, 96, ...letters.slice(36, 51), 123])).toBeNull();
  expect(only(letters.slice(0, 51))).toBeNull();
  expect(only(letters.slice(0, 52))).not.toBeNull();
  // What stands beside them does not change the print.
  expect(only([...letters, 200, 300])).toBe(only(letters));
});

test('one moved point makes another print', () => {
  const font = open(readFont('gochiHand'));
  const glyf = new Uint8Array(font.bytes('glyf')!);
  const before = readPrints(font);
  // The last byte of some glyph's coordinates: outlines change, nothing else does.
  for (let i = 4000; i < 4400; i++) glyf[i] = glyf[i]! ^ 1;
  expect(readPrints(open(withTable(font.font, 'glyf', glyf)))!.all).not.toBe(before!.all);
});

test('what changed between two versions agrees with fontTools drawing every glyph', () => {
  const script = `
import sys, json
from fontTools.ttLib import TTFont
from fontTools.pens.recordingPen import DecomposingRecordingPen
def drawings(path):
    font = TTFont(path); glyphs = font.getGlyphSet(); out = {}
    for code, name in font.getBestCmap().items():
        pen = DecomposingRecordingPen(glyphs); glyphs[name].draw(pen); out[code] = (glyphs[name].width, str(pen.value))
    return out
a, b = drawings(sys.argv[1]), drawings(sys.argv[2])
print(json.dumps({"added": sorted(b.keys() - a.keys()), "removed": sorted(a.keys() - b.keys()), "changed": sorted(c for c in a.keys() & b.keys() if a[c] != b[c])}))
`;
  const theirs = JSON.parse(execFileSync('/usr/bin/python3', ['-c', script, OLDER, NEWER], { encoding: 'utf8' })) as Record<
    string,
    number[]
  >;
  const ours = compareVersions(open(read(OLDER)), open(read(NEWER)));
  const ascending = (list: number[]): number[] => [...list].sort((a, b) => a - b);
  expect(ascending(ours.added)).toEqual(theirs.added);
  expect(ascending(ours.removed)).toEqual(theirs.removed);
  expect(ascending(ours.changed.map((c) => c.codePoint))).toEqual(theirs.changed);
  expect(theirs.changed!.length).toBeGreaterThan(700);
  // Most were only drawn with other points.
  expect(ours.changed.filter((c) => c.difference < 0.03).length).toBeGreaterThan(ours.changed.length / 2);
  expect(ours.changed[0]!.difference).toBeGreaterThan(0.1);
});

test('another advance counts by twice its share of the em, also where nothing is drawn, and at most as all', () => {
  const face = open(readFont('literata'));
  const em = face.unitsPerEm;
  const changed = (text: string, by: number) => {
    const hmtx = face.bytes('hmtx')!.slice();
    const view = new DataView(hmtx.buffer);
    for (const c of text) {
      const at = 4 * face.glyphOf(c.codePointAt(0)!);
      view.setUint16(at, view.getUint16(at) + by);
    }
    return compareVersions(face, open(withTable(face.font, 'hmtx', hmtx))).changed.filter((c) =>
      text.includes(String.fromCodePoint(c.codePoint)),
    );
  };
  const share = (by: number): number => Math.round(1000 * Math.min(1, (2 * by) / em)) / 1000;
  expect(changed(' A', 20)).toEqual([
    { codePoint: 0x20, difference: share(20) },
    { codePoint: 0x41, difference: share(20) },
  ]);
  expect(changed(' ', em)).toEqual([{ codePoint: 0x20, difference: 1 }]);
});

test('versions are two whole numbers, the newer first', () => {
  // OpenType, name ID 5: "Version 1.10" comes after "Version 1.9".
  expect(versionNumbers('Version 1.003;PS 1')).toEqual([1, 3]);
  expect(['Version 1.9', null, 'Version 2.0', '1.10; build 7'].sort(newerFirst)).toEqual([
    'Version 2.0',
    '1.10; build 7',
    'Version 1.9',
    null,
  ]);
});

test('doubles are versions first, then equal outlines, then equal letters; a variable face is none', () => {
  const face = (id: string, more: Partial<DoubleCandidate>): DoubleCandidate => ({
    id,
    cell: id,
    version: 'Version 1.0',
    prints: null,
    axes: '',
    codePoints: 100,
    ...more,
  });
  const traits: Traits = { color: '', features: '', hinting: '', metrics: '', names: '' };
  const drawn = (all: string, basic: string, more: Partial<Traits> = {}) => ({ all, basic, traits: { ...traits, ...more } });
  const groups = findDoubles([
    face('old', { cell: 'x', version: 'Version 1.2', prints: drawn('a', 'n', { features: 'fewer' }) }),
    face('new', { cell: 'x', version: 'Version 1.10', prints: drawn('b', 'n') }),
    face('renamed', { prints: drawn('c', 'm', { names: 'other' }), codePoints: 90 }),
    face('original', { prints: drawn('c', 'm') }),
    face('subset', { prints: drawn('d', 'k'), codePoints: 60 }),
    face('whole', { prints: drawn('e', 'k'), codePoints: 900 }),
    face('plain', { prints: drawn('f', 'f') }),
    face('colored', { prints: drawn('f', 'f', { color: 'COLR' }) }),
    face('variable', { prints: drawn('c', 'm'), axes: 'wght' }),
    face('bare', {}),
    face('bare too', {}),
  ]);
  // What is not the same in all is named, so that no rule hides one behind the other; versions differ by nature.
  expect(groups).toEqual([
    { kind: 'versions', ids: ['new', 'old'], differs: [] },
    { kind: 'same-outlines', ids: ['original', 'renamed'], differs: ['names'] },
    { kind: 'same-outlines', ids: ['plain', 'colored'], differs: ['color'] },
    { kind: 'same-letters', ids: ['whole', 'subset'], differs: [] },
  ]);
});

describe('rasters and spans', () => {
  const square = [0, 0, 100, 0, 100, 100, 0, 100];
  const box = { xMin: 0, yMin: 0, xMax: 200, yMax: 200 };
  test('coverage is exact area', () => {
    const cells = rasterize([square], box, 8, 8);
    expect(cells.reduce((a, b) => a + b, 0)).toBeCloseTo(16, 6);
    expect(cells[0]).toBe(1);
    expect(cells[63]).toBe(0);
    // Half of a cell along a diagonal.
    expect(rasterize([[0, 0, 100, 0, 100, 100]], { ...box, xMax: 100, yMax: 100 }, 1, 1)[0]).toBeCloseTo(0.5, 9);
  });
  test('a hole runs the other way', () => {
    const hole = [25, 25, 25, 75, 75, 75, 75, 25];
    const sum = rasterize([square, hole], box, 40, 40).reduce((a, b) => a + b, 0);
    expect(sum / 64).toBeCloseTo((100 * 100 - 50 * 50) / 1600, 4);
    expect(spansAtY([square, hole], 50)).toEqual([0, 25, 75, 100]);
    expect(spansAtX([square, hole], 10)).toEqual([0, 100]);
  });
  test('flattened curves keep to their tolerance: the area of a circle of four cubic arcs', () => {
    // The usual circle approximation, kappa = 4/3 (sqrt 2 - 1): its radius is right to 0.03%.
    const k = 552.2847498;
    const pen = new FlattenPen(0.5);
    pen.moveTo(1000, 0);
    pen.cubicTo(1000, k, k, 1000, 0, 1000);
    pen.cubicTo(-k, 1000, -1000, k, -1000, 0);
    pen.cubicTo(-1000, -k, -k, -1000, 0, -1000);
    pen.cubicTo(k, -1000, 1000, -k, 1000, 0);
    pen.closePath();
    const area = rasterize(pen.polygons, { xMin: -1000, yMin: -1000, xMax: 1000, yMax: 1000 }, 64, 64).reduce((a, b) => a + b, 0) / 4096;
    expect(area * 4).toBeCloseTo(Math.PI, 2);
  });
  test('the stem of a sans I is as wide as fontTools measures it', () => {
    const font = open(readFont('notoSans'));
    const pen = new FlattenPen(1);
    font.draw(font.glyphOf('l'.codePointAt(0)!), pen);
    const [from, to] = spansAtY(pen.polygons, 300) as [number, number];
    const script = `
import sys
from fontTools.ttLib import TTFont
f = TTFont(sys.argv[1]); g = f["glyf"][f.getBestCmap()[ord("l")]]; print(g.xMin, g.xMax)`;
    const [xMin, xMax] = execFileSync('/usr/bin/python3', ['-c', script, FONTS.notoSans], { encoding: 'utf8' })
      .trim()
      .split(' ')
      .map(Number);
    expect([from, to]).toEqual([xMin, xMax]);
  });
});
