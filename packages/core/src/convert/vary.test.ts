import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import { faceOf } from '../../test/face.js';
import { readFont } from '../../test/fonts.js';
import { python } from '../../test/python.js';
import { openPlaced } from '../engines/index.js';
import { BoundsPen, CffOutlines, SvgPathPen } from '../outline/index.js';
import { FVAR, GVAR, writeSfnt } from '../sfnt/index.js';
import { OUTLINES } from './steps/outlines.js';
import { recipeFor, render } from './index.js';

const tools = { codec: nodeCodec, subsetter: await nodeSubsetter() };
const dir = mkdtempSync(join(tmpdir(), 'vary-'));
afterAll(() => rmSync(dir, { recursive: true }));
const file = (name: string, bytes: Uint8Array): string => {
  writeFileSync(join(dir, name), bytes);
  return join(dir, name);
};
const LETTERS = 'HagnÅ3&';
const source = tools.subsetter.subset(
  readFont('serifVariableOtf'),
  0,
  [...LETTERS].map((c) => c.codePointAt(0)!),
);
const made = render(source, 0, recipeFor(faceOf(source), 'otf', { to: 'ttf' }), tools);

test('a variable face with cubic outlines goes to quadratic ones with all its axes', () => {
  expect([made.comparison.equal, made.comparison.differences]).toEqual([true, []]);
  expect(spawnSync('ots-sanitize', [file('ots', made.bytes)]).status).toBe(0);
  expect(made.face.table(FVAR)).toEqual(faceOf(source).table(FVAR));
  expect(made.face.outlineKind).toBe('glyf');
});

test('fontTools makes instances of it that are where HarfBuzz draws the source', () => {
  for (const [wght, opsz] of [
    [900, 8],
    [250, 45],
  ] as const) {
    const there = openPlaced(
      source,
      0,
      new Map([
        ['wght', wght],
        ['opsz', opsz],
      ]),
    );
    const theirs = python<Record<string, [number, number, number, number, number]>>(
      `
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont
from fontTools.pens.boundsPen import BoundsPen
path, wght, opsz = given
f = instantiateVariableFont(TTFont(path), {'wght': wght, 'opsz': opsz}); gs = f.getGlyphSet(); out = {}
for c, g in f.getBestCmap().items():
    pen = BoundsPen(gs); gs[g].draw(pen)
    if pen.bounds: out[chr(c)] = [*pen.bounds, f['hmtx'][g][0]]
print(json.dumps(out))
`,
      [file('made.ttf', made.bytes), wght, opsz],
    );
    expect(Object.keys(theirs).length).toBeGreaterThanOrEqual([...LETTERS].length);
    for (const [c, [xMin, yMin, xMax, yMax, advance]] of Object.entries(theirs)) {
      const glyph = faceOf(source).glyphOf(c.codePointAt(0)!);
      const pen = new BoundsPen();
      there.draw(glyph, pen);
      const b = pen.bounds!;
      for (const [mine, other] of [
        [b.xMin, xMin],
        [b.yMin, yMin],
        [b.xMax, xMax],
        [b.yMax, yMax],
      ] as const)
        expect(Math.abs(mine - other)).toBeLessThan(2);
      expect(Math.abs(there.advance(glyph) - advance)).toBeLessThanOrEqual(1);
    }
  }
});

test('a glyph drawn with all of one region is where HarfBuzz draws it at the end of that axis', () => {
  const face = faceOf(source);
  const outlines = new CffOutlines(face.bytes('CFF2')!, true);
  const g = face.glyphOf(0x48);
  const regions = 30;
  const bounds = (draw: (pen: BoundsPen) => void): number[] => {
    const pen = new BoundsPen();
    draw(pen);
    return [pen.bounds!.xMin, pen.bounds!.xMax].map((v) => Math.round(v));
  };
  const heavy = bounds((pen) => openPlaced(source, 0, new Map([['wght', 900]])).draw(g, pen));
  // One of the regions has its peak at the heaviest weight alone.
  const each = Array.from({ length: regions }, (_, r) =>
    bounds((pen) =>
      outlines.draw(
        g,
        pen,
        Array.from({ length: regions }, (_x, k) => (k === r ? 1 : 0)),
      ),
    ),
  );
  expect(each).toContainEqual(heavy);
  // And none of them is the default instance.
  const path = (scalars: number[] | null): string => {
    const pen = new SvgPathPen();
    outlines.draw(g, pen, scalars);
    return pen.path;
  };
  expect(path(new Array<number>(regions).fill(0))).toBe(path(null));
});

test('other changes of one master, or of an advance, are not proved equal', () => {
  const before = faceOf(source);
  const gvar = made.face.need(GVAR);
  const glyph = made.face.glyphOf(0x48);
  const moved = gvar.glyphs.map((list, id) =>
    id === glyph ? list.map((t) => ({ ...t, xDeltas: t.xDeltas.map((d) => d + (d > 8 ? 6 : 0)) })) : list,
  );
  const tables = new Map(made.face.font.tables).set('gvar', GVAR.write({ ...gvar, glyphs: moved }, made.face));
  const other = faceOf(writeSfnt({ ...made.face.font, tables }));
  expect(OUTLINES.prove(before, made.face, { to: 'glyf' }).equal).toBe(true);
  expect(OUTLINES.prove(before, other, { to: 'glyf' }).differences.join()).toMatch(/outline of glyph \d+ is/);
  tables.set('gvar', made.face.bytes('gvar')!);
  tables.delete('HVAR');
  expect(OUTLINES.prove(before, faceOf(writeSfnt({ ...made.face.font, tables })), { to: 'glyf' }).differences.join()).toMatch(
    /HVAR table differs/,
  );
});

test('a variable face with quadratic outlines keeps them, as is said', () => {
  expect(() => render(readFont('serifVariable'), 0, [{ step: 'outlines', options: { to: 'CFF' } }], tools)).toThrow(
    /Choose one of its instances/,
  );
});
