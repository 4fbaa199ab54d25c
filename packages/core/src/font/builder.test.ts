import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { faceFrom, faceOf } from '../../test/face.js';
import { readFont } from '../../test/fonts.js';
import { python } from '../../test/python.js';
import { factsOf, inspectFace } from '../face/index.js';
import type { Pen } from '../outline/index.js';
import { GSUB, OS2, writeSfnt, type SfntFont } from '../sfnt/index.js';
import { Builder, codePages, Face, unicodeRanges } from './index.js';

const box =
  (width: number, height: number) =>
  (pen: Pen): void => {
    pen.moveTo(50, 0);
    pen.lineTo(50 + width, 0);
    pen.cubicTo(50 + width + 80, height / 3, 50 + width + 80, height / 1.5, 50 + width, height);
    pen.lineTo(50, height);
    pen.closePath();
  };

function made(outlines: 'glyf' | 'CFF'): SfntFont {
  const builder = new Builder({
    names: { 1: 'Made Here', 2: 'Regular', 0: 'Copyright © made' },
    outlines,
    modified: 1_700_000_000,
    vendor: 'OG',
    fsType: 8,
  });
  builder.add({ name: '.notdef', codePoints: [], advance: 500, draw: box(400, 700) });
  builder.add({ name: 'space', codePoints: [0x20, 0xa0], advance: 250, draw: null });
  for (const c of 'ABCfi') builder.add({ name: c, codePoints: [c.codePointAt(0)!], advance: 480 + c.charCodeAt(0), draw: box(300, 600) });
  builder.add({ name: 'acutecomb', codePoints: [0x301], advance: 0, draw: box(60, 120), class: 3 });
  builder.add({ name: 'f_i', codePoints: [], advance: 800, draw: box(700, 600), class: 2 });
  builder.add({ name: 'B.alt', codePoints: [], advance: 520, draw: box(350, 620) });
  builder.add({ name: 'u1F331', codePoints: [0x1f331], advance: 1000, draw: box(900, 700) });
  const id = (name: string): number => builder.glyph(name);
  builder.features([
    { kind: 'ligature', feature: 'liga', from: [id('f'), id('i')], to: id('f_i') },
    { kind: 'single', feature: 'ss01', from: id('B'), to: id('B.alt') },
    { kind: 'alternates', feature: 'salt', from: id('B'), to: [id('B.alt')] },
    { kind: 'pair', feature: 'kern', left: id('A'), right: id('B'), value: -70 },
    { kind: 'mark', feature: 'mark', base: id('A'), mark: id('acutecomb'), baseX: 250, baseY: 650, markX: 80, markY: 0, class: 'top' },
  ]);
  return builder.build();
}

describe.each(['glyf', 'CFF'] as const)('a face built with %s outlines', (outlines) => {
  const font = made(outlines);
  const bytes = writeSfnt(font);
  const dir = mkdtempSync(join(tmpdir(), 'built-'));
  const file = join(dir, 'built.otf');
  writeFileSync(file, bytes);
  afterAll(() => rmSync(dir, { recursive: true }));

  test('is taken by OpenType Sanitizer and found sound by our own look', () => {
    const run = spawnSync('ots-sanitize', [file], { encoding: 'utf8' });
    expect([run.status, run.stdout + run.stderr]).toEqual([0, expect.not.stringMatching(/WARNING|ERROR/)]);
    expect(inspectFace(faceFrom(font)).findings).toEqual([]);
  });

  test('says of itself what fontTools reads: names, metrics, characters', () => {
    const theirs = python<Record<string, unknown>>(
      `
from fontTools.ttLib import TTFont
f = TTFont(given)
print(json.dumps({'names': {str(n.nameID): n.toUnicode() for n in f['name'].names}, 'order': f.getGlyphOrder(), 'cmap': {str(k): v for k, v in f.getBestCmap().items()},
  'hmtx': {k: list(v) for k, v in f['hmtx'].metrics.items()}, 'fsType': f['OS/2'].fsType, 'avg': f['OS/2'].xAvgCharWidth, 'created': f['head'].created, 'lines': [f['hhea'].ascent, f['hhea'].descent]}))`,
      file,
    );
    expect(theirs).toMatchObject({
      names: { 0: 'Copyright © made', 1: 'Made Here', 2: 'Regular', 4: 'Made Here', 5: 'Version 1.000', 6: 'MadeHere-Regular' },
      order: ['.notdef', 'space', 'A', 'B', 'C', 'f', 'i', 'acutecomb', 'f_i', 'B.alt', 'u1F331'],
      cmap: { 32: 'space', 160: 'space', 65: 'A', 0x301: 'acutecomb', 0x1f331: 'u1F331' },
      hmtx: { space: [250, 0], A: [545, 50], 'B.alt': [520, 50] },
      fsType: 8,
      // Seconds since 1904 of 2023-11-14.
      created: 1_700_000_000 + 2_082_844_800,
      lines: [800, -200],
    });
  });

  test('sets text as hb-shape does, with ligature, kerning and mark', () => {
    const shaped = (text: string, features = ''): { g: string; ax: number; dx: number; dy: number }[] => {
      const run = spawnSync(
        'hb-shape',
        [file, `--text=${text}`, '--output-format=json', '--no-clusters', ...(features ? [`--features=${features}`] : [])],
        { encoding: 'utf8' },
      );
      return JSON.parse(run.stdout) as { g: string; ax: number; dx: number; dy: number }[];
    };
    expect(shaped('fi').map((g) => g.g)).toEqual(['f_i']);
    expect(shaped('AB').map((g) => g.ax)).toEqual([545 - 70, 546]);
    expect(shaped('B', 'ss01').map((g) => g.g)).toEqual(['B.alt']);
    expect(shaped('B', 'salt=1').map((g) => g.g)).toEqual(['B.alt']);
    // The mark's anchor lies on that of the letter: 250 - 80 from its origin.
    expect(shaped('A\u0301')[1]).toMatchObject({ ax: 0, dx: 250 - 80 - 545, dy: 650 });
    expect(faceFrom(font).writes('ABC fi Ƶ')).toEqual([{ codePoint: 0x1b5, count: 1 }]);
  });

  test('the same sources give the same bytes', () => {
    expect(Buffer.compare(Buffer.from(writeSfnt(made(outlines))), Buffer.from(bytes))).toBe(0);
  });
});

test('ranges of OS/2 are those fontTools computes, code pages those the makers state', () => {
  for (const name of ['notoSans', 'literata', 'scheherazade', 'khmer', 'didot'] as const) {
    const points = [...faceOf(readFont(name)).characters!.codePoints];
    const theirs = python<number[]>(
      `
from fontTools.ttLib.tables.O_S_2f_2 import intersectUnicodeRanges
print(json.dumps(sorted(intersectUnicodeRanges(given))))`,
      points,
    );
    const bits = (words: readonly number[]): number[] =>
      words.flatMap((w, i) => Array.from({ length: 32 }, (_, b) => 32 * i + b).filter((b) => (w >>> (b % 32)) & 1));
    expect(bits(unicodeRanges(points))).toEqual(theirs);
    // Latin, Greek, Cyrillic, Hebrew, Arabic, Baltic: what the makers of these faces say of them.
    const pages = (word: number): number[] => bits([word]).filter((b) => b <= 7);
    expect([name, pages(codePages(points))]).toEqual([name, pages(faceOf(readFont(name)).need(OS2).ulCodePageRange1!)]);
  }
});

test('what a font cannot hold is refused in words', () => {
  expect(() => new Builder({ names: {} })).toThrow(/family name/);
  expect(() => new Builder({ names: { 1: 'X' }, unitsPerEm: 20000 })).toThrow(/16 to 16384/);
  const builder = new Builder({ names: { 1: 'X' } });
  expect(() => builder.add({ name: 'A', codePoints: [65], advance: 1, draw: null })).toThrow(/\.notdef/);
  builder.add({ name: '.notdef', codePoints: [], advance: 500, draw: null });
  builder.add({ name: 'A', codePoints: [65], advance: 1, draw: null });
  expect(() => builder.add({ name: 'A', codePoints: [], advance: 1, draw: null })).toThrow(/Two glyphs/);
  expect(() => builder.add({ name: 'B', codePoints: [65], advance: 1, draw: null })).toThrow(/U\+0041/);
  expect(() => builder.add({ name: 'b c', codePoints: [], advance: 1, draw: null })).toThrow(/cannot be the name/);
  const far = new Builder({ names: { 1: 'X' } });
  far.add({ name: '.notdef', codePoints: [], advance: 500, draw: box(40_000, 10) });
  expect(() => far.build()).toThrow(/farther/);
});

test('each table of a face is read once, and what went wrong is told again', () => {
  const source = faceOf(readFont('serifWoff2'));
  expect(source.need(OS2)).toBe(source.need(OS2));
  expect(source.characters).toBe(source.characters);
  expect(source.sfnt.sfnt).toBe(source.sfnt.sfnt);
  let reads = 0;
  const counting = { tag: 'OS/2', read: () => reads++, write: () => new Uint8Array(0) };
  for (let i = 0; i < 3; i++) source.table(counting);
  expect(reads).toBe(1);
  const damaged = new Face({ ...source.font, tables: new Map([...source.font.tables, ['GSUB', new Uint8Array(3)]]) }, 0, null);
  for (let i = 0; i < 2; i++) expect(() => damaged.need(GSUB)).toThrow(/GSUB/);
  expect(factsOf(source).glyphCount).toBe(source.glyphCount);
});
