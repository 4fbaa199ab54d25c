import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { nodeCodec } from '@orderly-glyph/node';
import { FONTS, readFont } from '../../../test/fonts.js';
import { python } from '../../../test/python.js';
import { FontError, FVAR, MarkAnchors, readFontFile, readLayoutTags, readSubstitutions, type Tables } from '../index.js';

const NOTO = '/usr/share/fonts/truetype/noto';
/** Faces of many scripts with rich layout tables; every eighth of fonts-noto-core and the project's own. */
const FILES = [
  ...Object.values(FONTS).filter((f) => /\.(ttf|otf)$/.test(f)),
  ...readdirSync(NOTO)
    .filter((f) => /-Regular\.ttf$/.test(f))
    .sort()
    .filter((_, i) => i % 8 === 0)
    .map((f) => join(NOTO, f)),
];

const tables = (file: string): ReadonlyMap<string, Uint8Array> =>
  readFontFile(new Uint8Array(readFileSync(file)), nodeCodec).fonts[0]!.tables;

interface Theirs {
  tags: Record<string, { scripts: string[]; features: string[] }>;
  substitutions: string[];
  attached: string[];
  axes: [string, number, number, number][] | null;
  instances: number[][] | null;
}

/** The same read by fontTools, as sorted lines. */
const theirs = python<Record<string, Theirs>>(
  `
from fontTools.ttLib import TTFont
def subtables(lookup, extension):
    for sub in lookup.SubTable:
        yield (sub.ExtSubTable, sub.ExtSubTable.LookupType) if lookup.LookupType == extension else (sub, lookup.LookupType)
out = {}
for path in given:
    font = TTFont(path); order = font.getReverseGlyphMap()
    one = {'tags': {}, 'substitutions': [], 'attached': [], 'axes': None, 'instances': None}
    for tag in ('GSUB', 'GPOS'):
        if tag not in font: continue
        t = font[tag].table
        one['tags'][tag] = {'scripts': sorted({r.ScriptTag for r in t.ScriptList.ScriptRecord}) if t.ScriptList else [], 'features': sorted({r.FeatureTag for r in t.FeatureList.FeatureRecord}) if t.FeatureList else []}
    if 'GSUB' in font and font['GSUB'].table.FeatureList:
        t = font['GSUB'].table; lines = set()
        for record in t.FeatureList.FeatureRecord:
            for index in record.Feature.LookupListIndex:
                for sub, kind in subtables(t.LookupList.Lookup[index], 7):
                    if kind == 1:
                        for a, b in sub.mapping.items(): lines.add('%s %d > %d #1' % (record.FeatureTag, order[a], order[b]))
                    elif kind == 3:
                        for a, list_ in sub.alternates.items():
                            for n, b in enumerate(list_): lines.add('%s %d > %d #%d' % (record.FeatureTag, order[a], order[b], n + 1))
                    elif kind == 4:
                        for a, list_ in sub.ligatures.items():
                            for l in list_: lines.add('%s %s > %d #1' % (record.FeatureTag, '+'.join(str(order[g]) for g in [a] + l.Component), order[l.LigGlyph]))
        one['substitutions'] = sorted(lines)
    if 'GPOS' in font and font['GPOS'].table.LookupList:
        pairs = set()
        for lookup in font['GPOS'].table.LookupList.Lookup:
            for sub, kind in subtables(lookup, 9):
                if kind == 4: bases, records, marks, array, name = sub.BaseCoverage.glyphs, sub.BaseArray.BaseRecord, sub.MarkCoverage.glyphs, sub.MarkArray.MarkRecord, 'BaseAnchor'
                elif kind == 6: bases, records, marks, array, name = sub.Mark2Coverage.glyphs, sub.Mark2Array.Mark2Record, sub.Mark1Coverage.glyphs, sub.Mark1Array.MarkRecord, 'Mark2Anchor'
                else: continue
                for b, record in list(zip(bases, records))[::7]:
                    for m, mark in list(zip(marks, array))[::3]:
                        if getattr(record, name)[mark.Class] is not None: pairs.add('%d %d' % (order[b], order[m]))
        one['attached'] = sorted(pairs)
    if 'fvar' in font:
        one['axes'] = [[a.axisTag, a.minValue, a.defaultValue, a.maxValue] for a in font['fvar'].axes]
        one['instances'] = [[i.coordinates[a.axisTag] for a in font['fvar'].axes] for i in font['fvar'].instances]
    out[path] = one
print(json.dumps(out))`,
  FILES,
);

test('scripts, features, substitutions, anchors and axes are those fontTools reads', () => {
  let substitutions = 0;
  let attached = 0;
  for (const file of FILES) {
    const own = tables(file);
    const want = theirs[file]!;
    for (const tag of ['GSUB', 'GPOS'] as const) {
      const data = own.get(tag);
      if (data) expect([file, readLayoutTags(data, tag)]).toEqual([file, want.tags[tag]]);
    }
    const gsub = own.get('GSUB');
    if (gsub) {
      const lines = new Set(readSubstitutions(gsub).map((s) => `${s.feature} ${s.from.join('+')} > ${s.to} #${s.value}`));
      expect([file, [...lines].sort()]).toEqual([file, [...want.substitutions].sort()]);
      substitutions += lines.size;
    }
    const gpos = own.get('GPOS');
    if (gpos) {
      const anchors = new MarkAnchors(gpos);
      const missing = want.attached.filter((pair) => {
        const [base, mark] = pair.split(' ').map(Number) as [number, number];
        return !(anchors.offsets(base, mark).length > 0);
      });
      expect([file, missing]).toEqual([file, []]);
      attached += want.attached.length;
    }
    const fvar = own.get('fvar');
    if (fvar) {
      const { axes, instances } = FVAR.read(fvar, {} as Tables);
      expect(axes.map((a) => [a.axisTag, a.minValue, a.defaultValue, a.maxValue])).toEqual(want.axes);
      instances.forEach((instance, i) => instance.coordinates.forEach((v, k) => expect(v).toBeCloseTo(want.instances![i]![k]!, 3)));
    }
  }
  // The comparison is not empty.
  expect([substitutions > 3000, attached > 5000]).toEqual([true, true]);
});

test('what fontTools does not attach is not attached', () => {
  const file = FONTS.notoSans;
  const anchors = new MarkAnchors(tables(file).get('GPOS')!);
  const wrong = python<string[]>(
    `
from fontTools.ttLib import TTFont
font = TTFont(given); order = font.getReverseGlyphMap(); yes = set(); bases = set(); marks = set()
for lookup in font['GPOS'].table.LookupList.Lookup:
    for sub in lookup.SubTable:
        kind = lookup.LookupType
        if kind == 9: kind = sub.ExtSubTable.LookupType; sub = sub.ExtSubTable
        if kind != 4: continue
        for b, record in zip(sub.BaseCoverage.glyphs, sub.BaseArray.BaseRecord):
            for m, mark in zip(sub.MarkCoverage.glyphs, sub.MarkArray.MarkRecord):
                bases.add(b); marks.add(m)
                if record.BaseAnchor[mark.Class] is not None: yes.add((b, m))
marked = {g for lookup in font['GPOS'].table.LookupList.Lookup for s in lookup.SubTable for g in ([] if lookup.LookupType != 6 else s.Mark2Coverage.glyphs)}
print(json.dumps(['%d %d' % (order[b], order[m]) for b in sorted(bases)[::9] for m in sorted(marks)[::9] if (b, m) not in yes and b not in marked]))`,
    file,
  );
  expect(wrong.length).toBeGreaterThan(100);
  expect(
    wrong.filter((pair) => {
      const [base, mark] = pair.split(' ').map(Number) as [number, number];
      return anchors.offsets(base, mark).length > 0;
    }),
  ).toEqual([]);
});

test('damaged layout tables are read in part or refused, never worse', () => {
  const own = readFontFile(readFont('devanagari'), nodeCodec).fonts[0]!.tables;
  for (const tag of ['GSUB', 'GPOS'] as const) {
    const whole = own.get(tag);
    if (!whole) continue;
    for (let i = 0; i < whole.length; i += 29)
      for (const value of [0, 0xff]) {
        const data = whole.slice();
        data[i] = value;
        readSubstitutions(data);
        new MarkAnchors(data).offsets(5, 9);
        try {
          readLayoutTags(data, tag);
        } catch (error) {
          expect(error).toBeInstanceOf(FontError);
        }
      }
  }
});
