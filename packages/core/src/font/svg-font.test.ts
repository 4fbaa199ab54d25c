import { nodeCodec } from '@orderly-glyph/node';
import { readFont } from '../../test/fonts.js';
import { faceOf } from '../../test/face.js';
import { python } from '../../test/python.js';
import { AreaPen, ContourPen, SvgPathPen } from '../outline/index.js';
import { writeSfnt } from '../sfnt/index.js';
import { openFont } from './face.js';
import { looksLikeSvgFont } from './svg-font.js';

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const svg = (inside: string, doctype = ''): Uint8Array =>
  bytesOf(`<?xml version="1.0"?>\n${doctype}<svg xmlns="http://www.w3.org/2000/svg"><defs>${inside}</defs></svg>`);
const open = (inside: string, doctype = '') => openFont(svg(inside, doctype), nodeCodec).faces[0]!;
const FACE = '<font-face font-family="Garden Row" font-weight="bold" units-per-em="20" ascent="16" descent="-4"/>';

test('characters, ligatures, joined forms, kerning and metrics of a font drawn in SVG', () => {
  const face = open(`<metadata>Copyright (c) A Gardener</metadata><font id="row" horiz-adv-x="10">${FACE}
    <missing-glyph d="M0 0h8v8h-8z"/>
    <glyph unicode="A" glyph-name="A" d="M0 0L8 0L4 16z" horiz-adv-x="9"/>
    <glyph unicode="V" glyph-name="V" d="M0 16a4 4 0 0 1 8 0z"/>
    <glyph unicode="&#x1F331;" d="M1 1h2v2h-2z M5 5h2v2h-2z"/>
    <glyph unicode="AV" glyph-name="A_V"><path d="M0 0h4v4H0z"/></glyph>
    <glyph unicode="&#x628;" arabic-form="isolated" d="M0 0h9v3H0z"/><glyph unicode="&#x628;" arabic-form="initial" d="M0 0h5v3H0z"/>
    <hkern u1="A" g2="V" k="2"/><hkern u1="U+0041-0042" u2="A" k="-1"/><hkern u1="A" u2="V" k="9"/></font>`);
  // Fifty times as large: twenty units an em would lose all curves. Outlines are those of the file, y up.
  expect([face.unitsPerEm, face.name(1), face.name(2), face.name(0)]).toEqual([1000, 'Garden Row', 'Bold', 'Copyright (c) A Gardener']);
  const contours = new ContourPen();
  face.draw(face.glyphOf(0x41), contours);
  expect(contours.contours).toEqual([
    {
      start: [0, 0],
      segments: [
        [400, 0],
        [200, 800],
      ],
    },
  ]);
  expect(face.glyphOf(0x1f331)).toBeGreaterThan(0);
  // An arc of a half circle with radius 4: its area is 8π. Source: SVG 1.1, 8.3.8.
  const area = new AreaPen();
  face.draw(face.glyphOf(0x56), area);
  expect(Math.abs(area.area) / 2500).toBeCloseTo(8 * Math.PI, 1);
  const shaped = (text: string): { glyph: number; advance: number }[] =>
    face.shaper.shape(text).map((g) => ({ glyph: g.glyph, advance: g.xAdvance }));
  // AV is a ligature of its own; the first pair that fits counts, and a positive k moves closer. Source: SVG 1.1, 20.7.
  expect(shaped('AV')).toHaveLength(1);
  expect(shaped('AA')[0]!.advance).toBe(450 + 50);
  const seen = python<{ kern: number; init: string; ok: boolean }>(
    `
import base64, io
from fontTools.ttLib import TTFont
f = TTFont(io.BytesIO(base64.b64decode(given))); cmap = f.getBestCmap()
pos = f['GPOS'].table; sub = f['GSUB'].table
pairs = {(g, r.SecondGlyph): r.Value1.XAdvance for l in pos.LookupList.Lookup for s in l.SubTable for g, p in zip(s.Coverage.glyphs, s.PairSet) for r in p.PairValueRecord}
init = [l for r in sub.FeatureList.FeatureRecord if r.FeatureTag == 'init' for l in r.Feature.LookupListIndex]
print(json.dumps({'kern': pairs[(cmap[0x41], cmap[0x56])], 'init': sub.LookupList.Lookup[init[0]].SubTable[0].mapping[cmap[0x628]], 'ok': f['OS/2'].usWeightClass == 700}))
`,
    Buffer.from(writeSfnt(face.font)).toString('base64'),
  );
  expect([seen.kern, seen.ok, seen.init !== '']).toEqual([-100, true, true]);
});

test('a face written out as SVG comes back with its outlines and advances', () => {
  const source = faceOf(readFont('serifOtf'));
  const glyphs = [...'Hamburg'].map((c) => {
    const pen = new SvgPathPen();
    source.draw(source.glyphOf(c.codePointAt(0)!), pen);
    return { c, d: pen.path, advance: source.advances!.advanceWidth(source.glyphOf(c.codePointAt(0)!)) };
  });
  const face = open(
    `<font horiz-adv-x="0"><font-face units-per-em="1000"/>${glyphs.map((g) => `<glyph unicode="${g.c}" d="${g.d}" horiz-adv-x="${g.advance}"/>`).join('')}</font>`,
  );
  for (const { c, d, advance } of glyphs) {
    const pen = new SvgPathPen();
    const glyph = face.glyphOf(c.codePointAt(0)!);
    face.draw(glyph, pen);
    expect([pen.path, face.advances!.advanceWidth(glyph)]).toEqual([d, advance]);
  }
});

test('what is left out is told, and what is no font in SVG is none', () => {
  const face = open(
    `<font horiz-adv-x="10">${FACE}<glyph unicode="a" d="M0 0L5 5L9 0 x nonsense"/><glyph unicode="b"><circle r="4"/></glyph></font>`,
  );
  expect(face.font.faults.map((f) => f.code)).toEqual(['left-out', 'left-out']);
  expect(looksLikeSvgFont(svg('<path d="M0 0"/>'))).toBe(false);
  expect(looksLikeSvgFont(bytesOf('<p>about <font color="red"> tags</p>'))).toBe(false);
  expect(() => open(`<font>${FACE}</font>`)).toThrow(/draws no glyph/);
  expect(() => open(`<font>${FACE}<glyph unicode="a"`)).toThrow(/cannot be read/);
});

test('entities that a file declares are short texts and nothing more', () => {
  const declared = '<!DOCTYPE svg [<!ENTITY who "Row"><!ENTITY twice "&who;&who;"><!ENTITY out SYSTEM "file:///etc/passwd">]>';
  const inside = (name: string): string =>
    `<font horiz-adv-x="9"><font-face font-family="&${name};" units-per-em="1000"/><glyph unicode="a" d="M0 0h9v9z"/></font>`;
  expect(open(inside('who'), declared).name(1)).toBe('Row');
  expect(() => open(inside('twice'), declared)).toThrow(/cannot be read/);
  expect(() => open(inside('out'), declared)).toThrow(/cannot be read/);
});

test('kerning by classes of hundreds fits, and what is beyond all measure is left out and told', () => {
  const letters = Array.from({ length: 600 }, (_, i) => `<glyph unicode="&#${0x4e00 + i};" d="M0 0h9v9z"/>`).join('');
  const kerns = (last: string): string => `<hkern u1="U+4E00-${last}" u2="U+4E00-4EFF" k="3"/>`;
  const small = open(`<font horiz-adv-x="9">${FACE}${letters}${kerns('4EFF')}</font>`);
  expect(small.font.faults).toEqual([]);
  expect(small.shaper.shape('\u4eff\u4e00')[0]!.xAdvance).toBe(450 - 150);
  const large = open(`<font horiz-adv-x="9">${FACE}${letters}${kerns('4EFF')}${kerns('FFFF').repeat(3)}</font>`);
  expect(large.font.faults[0]!.message).toMatch(/more pairs/);
});
