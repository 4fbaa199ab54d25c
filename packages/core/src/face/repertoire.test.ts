import { execFileSync } from 'node:child_process';
import { faceOf } from '../../test/face.js';
import { FONTS, readFont } from '../../test/fonts.js';
import { drawGlyph, readRepertoire, relateGlyph } from './index.js';

test.each(['serifOtf', 'literata', 'notoSans'] as const)(
  'glyphs of %s without a code point come up in hb-shape with the feature we name',
  (name) => {
    const { variants } = readRepertoire(faceOf(readFont(name)));
    expect(variants.length).toBeGreaterThan(50);
    // Debian's hb-shape is the judge; features that shapers apply by themselves in some words only are left out.
    const asked = variants.filter(
      (v) =>
        /^(smcp|c2sc|onum|lnum|tnum|pnum|sups|subs|sinf|ordn|dnom|numr|salt|ss\d\d|zero|case)$/.test(v.feature) && [...v.text].length === 1,
    );
    const sample = asked.filter((_, i) => i % Math.ceil(asked.length / 25) === 0);
    expect(sample.length).toBeGreaterThan(10);
    for (const v of sample) {
      const shaped = execFileSync(
        'hb-shape',
        ['--no-glyph-names', '--no-positions', '--no-clusters', `--features=${v.feature}=${v.value}`, FONTS[name], v.text],
        { encoding: 'utf8' },
      ).trim();
      expect([v, shaped]).toEqual([v, `[${v.glyph}]`]);
    }
  },
);

test('variants and characters are different glyphs, and the rest is counted', () => {
  const bytes = readFont('serifOtf');
  const { variants, unreached } = readRepertoire(faceOf(bytes));
  const ids = variants.map((v) => v.glyph);
  expect(new Set(ids).size).toBe(ids.length);
  for (const c of [0x41, 0x61, 0x30]) expect(ids).not.toContain(faceOf(bytes).glyphOf(c));
  // Characters, variants and the rest make up the font: 1,464 glyphs (fontTools, maxp), .notdef aside.
  expect(variants.length + unreached).toBeLessThan(1464);
  expect(unreached).toBeGreaterThan(0);
});

test.each(['literata', 'serifOtf'] as const)('a glyph of %s is measured as fontTools measures it', (name) => {
  const bytes = readFont(name);
  const drawn = drawGlyph(faceOf(bytes), faceOf(bytes).glyphOf(0x67));
  const script = `
from fontTools.ttLib import TTFont
from fontTools.pens.boundsPen import BoundsPen
import json
font = TTFont(${JSON.stringify(FONTS[name])}); glyphs = font.getGlyphSet(); name = font.getBestCmap()[0x67]
pen = BoundsPen(glyphs); glyphs[name].draw(pen)
print(json.dumps({'advance': font['hmtx'][name][0], 'box': pen.bounds, 'glyph': font.getGlyphID(name)}))`;
  const theirs = JSON.parse(execFileSync('/usr/bin/python3', ['-c', script], { encoding: 'utf8' })) as {
    advance: number;
    box: number[];
    glyph: number;
  };
  expect(drawn).toMatchObject({ glyph: theirs.glyph, advanceWidth: theirs.advance });
  expect(drawn.leftSideBearing).toBeCloseTo(theirs.box[0]!, 0);
  expect(drawn.rightSideBearing).toBeCloseTo(theirs.advance - theirs.box[2]!, 0);
  expect(drawn.path).toMatch(/^M[\d.-]+ [\d.-]+[LQC].*Z$/);
  expect(drawn.points.some((p) => !p.on)).toBe(true);
});

test.each(['literata', 'serifOtf'] as const)('what %s kerns a V with is what hb-shape moves', (name) => {
  const face = faceOf(readFont(name));
  const { kerning } = relateGlyph(face, face.glyphOf(0x56), 0x56);
  const advance = (text: string, kern: number): number =>
    (
      JSON.parse(
        execFileSync('hb-shape', ['--output-format=json', `--features=kern=${kern}`, FONTS[name], text], { encoding: 'utf8' }),
      ) as { ax: number }[]
    ).reduce((sum, g) => sum + g.ax, 0);
  const theirs = (text: string): number => advance(text, 1) - advance(text, 0);
  expect(kerning.before.length).toBeGreaterThan(3);
  expect(kerning.after.length).toBeGreaterThan(3);
  for (const side of ['before', 'after'] as const) {
    const pairs = kerning[side].slice(0, 6).map(({ codePoint, value }) => [String.fromCodePoint(codePoint), value] as const);
    expect(pairs.map(([c]) => theirs(side === 'before' ? `${c}V` : `V${c}`))).toEqual(pairs.map(([, v]) => v));
    // The strongest come first, and what is not moved is not named.
    const sizes = kerning[side].map((k) => Math.abs(k.value));
    expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
    expect(sizes.every((v) => v > 0)).toBe(true);
  }
  // A glyph without a character stands beside nothing.
  expect(relateGlyph(face, face.glyphOf(0x56), null).kerning).toEqual({ before: [], after: [] });
});
