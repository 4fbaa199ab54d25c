import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { faceOf } from '../../../test/face.js';
import { FONTS, random } from '../../../test/fonts.js';
import { python } from '../../../test/python.js';
import {
  CMAP,
  GSUB,
  KERN,
  META,
  VMTX,
  locaFormatFor,
  LOCA,
  HEAD,
  TABLES,
  writeGlyphs,
  writeSfnt,
  FontError,
  type Glyph,
  type SfntFont,
  type Table,
} from '../index.js';
import type { Face } from '../../font/index.js';

const NOTO = '/usr/share/fonts/truetype/noto';
const FILES = [
  ...Object.values(FONTS),
  // Layout tables that only fit behind extension subtables.
  join(NOTO, 'NotoNastaliqUrdu-Bold.ttf'),
  ...readdirSync(NOTO)
    .filter((f) => /-(Regular|Bold)\.ttf$/.test(f))
    .sort()
    .filter((_, i) => i % 25 === 0)
    .map((f) => join(NOTO, f)),
];
const open = (path: string): Face => faceOf(new Uint8Array(readFileSync(path)));

/** The font with every table we know written anew from its data. glyf and loca go together. */
function rewritten(face: Face): SfntFont {
  const tables = new Map(face.font.tables);
  for (const table of TABLES) {
    if (!face.has(table.tag) || table.tag === 'loca' || table.tag === 'DSIG') continue;
    tables.set(table.tag, table.write(face.need(table), face));
  }
  tables.delete('DSIG');
  if (face.has('glyf')) {
    const { glyf, offsets } = writeGlyphs(face.need(TABLES.find((t) => t.tag === 'glyf')! as unknown as Table<Glyph[]>));
    const head = { ...face.need(HEAD), indexToLocFormat: locaFormatFor(offsets) };
    tables.set('glyf', glyf);
    tables.set('head', HEAD.write(head, face));
    tables.set('loca', LOCA.write(offsets, { need: () => head, table: () => head } as unknown as Face));
  }
  return { ...face.font, tables };
}

/** Names of one record may be written in another order; nothing else may change. */
const settled = (tag: string, data: unknown): unknown => {
  if (tag === 'head') return { ...(data as object), checksumAdjustment: 0, indexToLocFormat: 0 };
  if (tag === 'loca') return null;
  if (tag !== 'name') return data;
  const { records, ...rest } = data as { records: { string: Uint8Array }[] };
  return { ...rest, records: records.map((r) => JSON.stringify({ ...r, string: [...r.string] })).sort() };
};

test.each(FILES)('read, written and read again, every table of %s says the same', (path) => {
  const face = open(path);
  const again = faceOf(writeSfnt(rewritten(face)));
  let seen = 0;
  for (const table of TABLES) {
    if (!face.has(table.tag) || table.tag === 'DSIG') continue;
    seen++;
    expect([table.tag, settled(table.tag, again.need(table))]).toEqual([table.tag, settled(table.tag, face.need(table))]);
  }
  expect(seen).toBeGreaterThanOrEqual(8);
});

// fontTools takes seconds a font; these have every kind of table and lookup between them.
const COMPARED = [
  FONTS.serifOtf,
  FONTS.serifVariable,
  FONTS.serifVariableOtf,
  FONTS.gochiHand,
  FONTS.khmer,
  join(NOTO, 'NotoNastaliqUrdu-Bold.ttf'),
];

/** A font made by fontTools with what the fonts at hand lack: color, vertical metrics, kern, meta, rare lookups. */
const RARE = `
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import newTable
from fontTools.ttLib.tables import ttProgram
def build(path):
    names = ['.notdef'] + [chr(c) for c in range(65, 91)] + ['mark', 'f_i', 'wide']
    fb = FontBuilder(1000, isTTF=True)
    fb.setupGlyphOrder(names)
    cmap = {ord(n): n for n in names if len(n) == 1}; cmap[0x1F600] = 'wide'; cmap[0x301] = 'mark'
    fb.setupCharacterMap(cmap, uvs=[(0x42, 0xFE00, None), (0x41, 0xFE00, 'wide')])
    def glyph(n):
        pen = TTGlyphPen(None); pen.moveTo((0, 0)); pen.lineTo((400 + n, 0)); pen.qCurveTo((300, 500), (0, 700 - n)); pen.closePath(); return pen.glyph()
    glyphs = {n: glyph(i) for i, n in enumerate(names)}
    pen = TTGlyphPen(glyphs); pen.addComponent('A', (0.5, 0.25, -0.25, 0.5, 20, 30)); pen.addComponent('B', (1, 0, 0, 1, 300, -200)); glyphs['wide'] = pen.glyph()
    fb.setupGlyf(glyphs)
    fb.setupHorizontalMetrics({n: (500 + i % 3, 10 - i) for i, n in enumerate(names)})
    fb.setupHorizontalHeader(ascent=800, descent=-200)
    fb.setupVerticalMetrics({n: (1000 + i % 2, i) for i, n in enumerate(names)})
    fb.setupVerticalHeader(ascent=500, descent=-500)
    fb.setupNameTable({'familyName': 'Rare', 'styleName': 'Regular'})
    fb.setupOS2(sTypoAscender=800)
    fb.setupPost()
    fb.addOpenTypeFeatures('''
      @marks = [mark]; markClass mark <anchor 10 700> @top; markClass f_i <anchor 20 -10> @bottom;
      lookup one { sub A by B; } one; lookup two { sub C by D E; } two; lookup pos1 { pos A 20; } pos1;
      feature ccmp { sub C by D E; } ccmp;
      feature salt { sub A from [B C D]; } salt;
      feature liga { sub f_i A by B; sub A B C by f_i; sub A B by wide; } liga;
      feature calt { sub A' lookup one B; sub [A B] C' lookup two D E; ignore sub X Y' Z; sub X Y' Z by W; rsub [A B] C' D by E; } calt;
      feature ss01 { featureNames { name "Swash"; }; sub A by B; } ss01;
      feature cv01 { cvParameters { FeatUILabelNameID { name "Tail"; }; Character 65; }; sub A by C; } cv01;
      feature size { parameters 10.0 0; } size;
      feature curs { pos cursive A <anchor 0 0> <anchor 500 10>; pos cursive B <anchor NULL> <anchor 400 0>; } curs;
      feature kern { pos A B -30; pos C D <1 2 3 4>; enum pos [E F] [G H] 12; pos [I J] [K L] -7; pos A' lookup pos1 M N; } kern;
      feature mark { pos base A <anchor 250 700> mark @top <anchor 250 0> mark @bottom; pos ligature wide <anchor 100 700> mark @top ligComponent <anchor NULL>; } mark;
      feature mkmk { pos mark mark <anchor 10 900> mark @top; } mkmk;
      table GDEF { GlyphClassDef [A B C], [wide], [mark f_i], ; Attach A 1 2; LigatureCaretByPos wide 200 300; } GDEF;
    ''')
    c = lambda i: {'Format': 2, 'PaletteIndex': i, 'Alpha': 0.5}
    stops = {'Extend': 'reflect', 'ColorStop': [(0.0, 0), (0.5, 1, 0.25), (1.0, 1)]}
    glyphOf = lambda g, p: {'Format': 10, 'Glyph': g, 'Paint': p}
    fb.setupCOLR({
        'A': {'Format': 1, 'Layers': [glyphOf('B', c(0)), glyphOf('C', {'Format': 4, 'ColorLine': stops, 'x0': 1, 'y0': 2, 'x1': 3, 'y1': 4, 'x2': 5, 'y2': 6})]},
        'B': {'Format': 32, 'SourcePaint': glyphOf('C', c(1)), 'CompositeMode': 'src_over', 'BackdropPaint': {'Format': 11, 'Glyph': 'A'}},
        'D': {'Format': 12, 'Paint': glyphOf('C', {'Format': 6, 'ColorLine': stops, 'x0': 1, 'y0': 2, 'r0': 3, 'x1': 4, 'y1': 5, 'r1': 6}), 'Transform': (1, 0.5, -0.5, 1, 10, 20)},
        'E': {'Format': 24, 'angle': 90, 'Paint': {'Format': 16, 'scaleX': 0.5, 'scaleY': 1.5, 'Paint': glyphOf('C', {'Format': 8, 'ColorLine': stops, 'centerX': 1, 'centerY': 2, 'startAngle': 0, 'endAngle': 90})}},
        'F': {'Format': 28, 'xSkewAngle': 10, 'ySkewAngle': 20, 'Paint': {'Format': 14, 'dx': 5, 'dy': 6, 'Paint': glyphOf('C', c(0))}},
    }, clipBoxes={'A': (0, 0, 500, 700)}, version=1)
    fb.setupCPAL([[(1, 0, 0, 1), (0, 1, 0, 0.5)], [(0, 0, 1, 1), (0, 1, 0, 0.5)], [(1, 0, 0, 1), (0, 1, 0, 0.5)]], paletteTypes=[1, 2, 0])
    font = fb.font
    svg = newTable('SVG '); svg.docList = [['<svg id="glyph3"/>', 3, 3], ['<svg id="glyph4"/>', 4, 5]]; font['SVG '] = svg
    from fontTools.ttLib.tables._k_e_r_n import KernTable_format_0
    k = KernTable_format_0(); k.coverage = 1; k.version = 0; k.tupleIndex = None; k.kernTable = {('A', 'B'): -40, ('C', 'D'): 20}
    kern = newTable('kern'); kern.version = 0; kern.kernTables = [k]; font['kern'] = kern
    meta = newTable('meta'); meta.data = {'dlng': 'en-Latn', 'slng': 'en, pl', 'PRIV': b'abc'}; font['meta'] = meta
    gasp = newTable('gasp'); gasp.version = 1; gasp.gaspRange = {8: 10, 65535: 15}; font['gasp'] = gasp
    font.save(path)
`;

test('tables that fonts at hand lack are read and written as fontTools has them', () => {
  const dir = mkdtempSync(join(tmpdir(), 'rare-'));
  try {
    const before = join(dir, 'a.ttf');
    python(`${RARE}\nbuild(given)\nprint('null')`, before);
    const face = open(before);
    const after = join(dir, 'b.ttf');
    const again = faceOf(writeSfnt(rewritten(face)));
    for (const table of TABLES)
      if (face.has(table.tag))
        expect([table.tag, settled(table.tag, again.need(table))]).toEqual([table.tag, settled(table.tag, face.need(table))]);
    for (const tag of ['COLR', 'CPAL', 'SVG ', 'kern', 'meta', 'gasp', 'vhea', 'vmtx', 'GSUB', 'GPOS', 'GDEF'])
      expect([tag, face.has(tag)]).toEqual([tag, true]);
    writeFileSync(after, writeSfnt(rewritten(face)));
    expect(compareXml([[before, after]])).toEqual({ [before]: [] });
    // The values themselves, as the font was built above.
    expect(face.need(META).dataMaps.map((m) => [m.tag, String.fromCharCode(...m.data)])).toContainEqual(['slng', 'en, pl']);
    expect(face.need(KERN).subtables[0]!.pairs).toContainEqual({ left: 1, right: 2, value: -40 });
    expect(face.need(CMAP).subtables.find((s) => s.format === 14)).toEqual({
      format: 14,
      varSelectors: [{ varSelector: 0xfe00, defaultRuns: [0x42, 0x42], nonDefault: [{ unicodeValue: 0x41, glyphID: 29 }] }],
    });
    expect(face.need(VMTX).advances[1]).toBe(1001);
  } finally {
    rmSync(dir, { recursive: true });
  }
});

/** Tables whose XML by fontTools differs between two files, with the first line that does. */
function compareXml(pairs: readonly (readonly [string, string])[]): Record<string, string[]> {
  return python(
    `
import io, re
from fontTools.ttLib import TTFont
def xml(font, tag):
    out = io.StringIO(); font.saveXML(out, tables=[tag], writeVersion=False)
    # The checksum, loca's format and the format of a coverage follow from the bytes; the order of names is free.
    lines = [re.sub(r'<(\\w*Coverage|\\w*ClassDef)( index="\\d+")? Format="\\d+"', r'<\\1\\2', l) for l in out.getvalue().split('\\n')]
    lines = [l for l in lines if not re.search(r'checkSumAdjustment|indexToLocFormat|<ttFont|<!--', l)]
    return sorted(lines) if tag == 'name' else lines
out = {}
for before, after in given:
    a, b = TTFont(before, lazy=True), TTFont(after, lazy=True)
    out[before] = []
    for tag in a.keys():
        # Printing the outlines of a variable font takes a minute; by hand they were compared, too.
        if tag in ('GlyphOrder', 'DSIG', 'loca') or ('fvar' in a and tag in ('gvar', 'glyf', 'CFF2', 'GPOS')): continue
        x, y = xml(a, tag), xml(b, tag)
        if x != y: out[before].append(tag + ': ' + str(next(((p, q) for p, q in zip(x, y) if p != q), (len(x), len(y)))))
print(json.dumps(out))
`,
    pairs,
  );
}

test('substitutions that hang on the place of an axis are read and written', () => {
  const dir = mkdtempSync(join(tmpdir(), 'varied-'));
  const path = join(dir, 'varied.ttf');
  // fontTools puts version 1.1 of GSUB into the face: another glyph for the dollar where it is bold and large.
  python(
    `
from fontTools.ttLib import TTFont
from fontTools.varLib.featureVars import addFeatureVariations
f = TTFont(given[0]); addFeatureVariations(f, [([{'wght': (0.5, 1.0), 'opsz': (-1.0, 0.25)}], {'dollar': 'cent'}), ([{'wght': (-1.0, -0.5)}], {'cent': 'dollar'})]); f.save(given[1]); print('null')`,
    [FONTS.serifVariable, path],
  );
  const face = open(path);
  const gsub = face.need(GSUB);
  expect([gsub.minorVersion, gsub.featureVariations?.featureVariationRecords?.length]).toEqual([1, 2]);
  const out = join(dir, 'varied-again.ttf');
  writeFileSync(out, writeSfnt({ ...face.font, tables: new Map(face.font.tables).set('GSUB', GSUB.write(gsub, face)) }));
  const [before, after] = python<[string, string]>(
    `
import io
from fontTools.ttLib import TTFont
from fontTools.misc.xmlWriter import XMLWriter
def said(path):
    f = TTFont(path); out = []
    for r in f['GSUB'].table.FeatureVariations.FeatureVariationRecord:
        conditions = [(c.AxisIndex, round(c.FilterRangeMinValue, 3), round(c.FilterRangeMaxValue, 3)) for c in r.ConditionSet.ConditionTable]
        subs = [(s.FeatureIndex, [f['GSUB'].table.LookupList.Lookup[i].SubTable[0].mapping for i in s.Feature.LookupListIndex if hasattr(f['GSUB'].table.LookupList.Lookup[i].SubTable[0], 'mapping')][-1]) for s in r.FeatureTableSubstitution.SubstitutionRecord][:1]
        out.append([conditions, subs])
    return json.dumps(out)
print(json.dumps([said(p) for p in given]))`,
    [path, out],
  );
  rmSync(dir, { recursive: true });
  expect(after).toBe(before);
  expect(before).toContain('cent');
});

test('fontTools prints the same XML of all tables before and after', () => {
  const dir = mkdtempSync(join(tmpdir(), 'tables-'));
  try {
    const pairs = COMPARED.map((path, i): [string, string] => {
      const before = join(dir, `${i}-a.otf`);
      const after = join(dir, `${i}-b.otf`);
      const face = open(path);
      writeFileSync(before, writeSfnt(face.font));
      writeFileSync(after, writeSfnt(rewritten(face)));
      return [before, after];
    });
    const differences = compareXml(pairs);
    expect(Object.fromEntries(COMPARED.map((path, i) => [path, differences[pairs[i]![0]!]]))).toEqual(
      Object.fromEntries(COMPARED.map((path) => [path, []])),
    );
    // OpenType Sanitizer, which browsers run, finds nothing in what we wrote that it did not find before.
    for (const [before, after] of pairs) {
      const verdictOf = (file: string): number | null => spawnSync('ots-sanitize', [file], { encoding: 'utf8' }).status;
      expect(verdictOf(after!)).toBe(verdictOf(before!));
    }
  } finally {
    rmSync(dir, { recursive: true });
  }
});

test('a damaged table raises a FontError and nothing else, soon', () => {
  const next = random(4);
  for (const path of [FONTS.serifVariableOtf, FONTS.notoSans, FONTS.scheherazade, FONTS.serifVariable]) {
    const face = open(path);
    for (const table of TABLES) {
      const data = face.bytes(table.tag);
      if (!data || ['loca', 'glyf', 'gvar'].includes(table.tag)) continue;
      for (let round = 0; round < 12; round++) {
        const damaged = data.slice(0, round % 3 === 0 ? Math.floor(next() * data.length) : data.length);
        for (let k = 0; k < 6 && damaged.length > 0; k++)
          damaged[Math.floor(next() * Math.min(damaged.length, 400))] = Math.floor(next() * 256);
        try {
          table.read(damaged, face);
        } catch (error) {
          if (!(error instanceof FontError)) throw new Error(`${table.tag} of ${path}: ${String(error)}`, { cause: error });
        }
      }
    }
  }
});
