import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import { faceOf } from '../../test/face.js';
import { readFont, type FONTS } from '../../test/fonts.js';
import { colored } from '../../test/colored.js';
import { python } from '../../test/python.js';
import { openPlaced } from '../engines/index.js';
import { SvgPathPen, TransformPen } from '../outline/index.js';
import { FVAR, OS2 } from '../sfnt/index.js';
import { AXES } from './steps/axes.js';
import { SUBSET } from './steps/subset.js';
import { recipeFor, render, type Rendered } from './index.js';

const tools = { codec: nodeCodec, subsetter: await nodeSubsetter() };
const dir = mkdtempSync(join(tmpdir(), 'axes-'));
afterAll(() => rmSync(dir, { recursive: true }));
const file = (name: string, bytes: Uint8Array): string => {
  writeFileSync(join(dir, name), bytes);
  return join(dir, name);
};
const ots = (bytes: Uint8Array): number | null => spawnSync('ots-sanitize', [file('ots', bytes)]).status;
const small = (name: keyof typeof FONTS): Uint8Array =>
  tools.subsetter.subset(
    readFont(name),
    0,
    [...'Hagn ÅÉ3&'].map((c) => c.codePointAt(0)!),
  );
const FACES = { serifVariable: small('serifVariable'), serifVariableOtf: small('serifVariableOtf') };
const narrow = (name: keyof typeof FACES, axes: string): Rendered => {
  const bytes = FACES[name];
  const face = faceOf(bytes);
  return render(
    bytes,
    0,
    recipeFor(face, face.outlineKind === 'glyf' ? 'ttf' : 'otf', { to: face.outlineKind === 'glyf' ? 'ttf' : 'otf', axes }),
    tools,
  );
};

test.each(['serifVariable', 'serifVariableOtf'] as const)(
  '%s keeps a part of one axis and none of another, and all that lies within',
  (name) => {
    const made = narrow(name, 'wght=300:700,opsz=14');
    expect([made.comparison.equal, made.comparison.differences, ots(made.bytes)]).toEqual([true, [], 0]);
    // fontTools reads what is left: axes, instances and the axis values of STAT.
    const seen = python<{ axes: [string, number, number, number][]; instances: number[]; stat: number[]; cmap: number }>(
      `
from fontTools.ttLib import TTFont
f = TTFont(given); axes = [(a.axisTag, a.minValue, a.defaultValue, a.maxValue) for a in f['fvar'].axes]
stat = f['STAT'].table; order = [a.AxisTag for a in stat.DesignAxisRecord.Axis]
print(json.dumps({'axes': axes, 'instances': [i.coordinates['wght'] for i in f['fvar'].instances], 'cmap': len(f.getBestCmap()),
  'stat': [v.NominalValue for v in stat.AxisValueArray.AxisValue if v.Format == 2 and order[v.AxisIndex] == 'wght']}))
`,
      file(`${name}.bin`, made.bytes),
    );
    expect(seen.axes).toEqual([['wght', 300, 400, 700]]);
    expect(seen.instances.every((w) => w >= 300 && w <= 700)).toBe(true);
    expect(seen.stat.every((w) => w >= 300 && w <= 700)).toBe(true);
    expect(seen.cmap).toBe(faceOf(FACES[name]).characters!.codePoints.length);
  },
);

test('places within are those of fontTools’ instancer', () => {
  const made = narrow('serifVariable', 'wght=300:800');
  const source = file('source.ttf', FACES.serifVariable);
  for (const [wght, opsz] of [
    [300, 8],
    [550, 33],
  ] as const) {
    const here = openPlaced(
      made.bytes,
      0,
      new Map([
        ['wght', wght],
        ['opsz', opsz],
      ]),
    );
    const theirs = python<Record<string, number>>(
      `
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont
path, wght, opsz = given
f = instantiateVariableFont(TTFont(path), {'wght': wght, 'opsz': opsz}); m = f.getBestCmap()
print(json.dumps({chr(c): f['hmtx'][g][0] for c, g in m.items()}))
`,
      [source, wght, opsz],
    );
    for (const [c, advance] of Object.entries(theirs))
      expect(Math.abs(here.advance(made.face.glyphOf(c.codePointAt(0)!)) - advance)).toBeLessThanOrEqual(1);
  }
});

test('a default outside of what is left moves to its end, and the weight class with it', () => {
  const made = narrow('serifVariable', 'wght=600:900');
  expect(made.comparison.equal).toBe(true);
  const axis = made.face.table(FVAR)!.axes.find((a) => a.axisTag === 'wght')!;
  expect([axis.minValue, axis.defaultValue, axis.maxValue, made.face.need(OS2).usWeightClass]).toEqual([600, 600, 900, 600]);
});

test('axes that are not there, values outside, and nothing left are told in words', () => {
  const refused = (axes: string) => expect(() => narrow('serifVariable', axes));
  refused('wdth=75:100').toThrow(/no axis “wdth”; it has wght, opsz/);
  refused('wght=100:700').toThrow(/from 200 to 900; 100 lies outside/);
  refused('wght=700:300').toThrow(/from 700 down to 300/);
  refused('wght=').toThrow(/no range/);
  refused('wght=300:400,wght=500').toThrow(/named twice/);
  refused('wght=400,opsz=20').toThrow(/No axis would be left/);
  refused(' ').toThrow(/which axis/);
  expect(() => render(readFont('gochiHand'), 0, [{ step: 'axes', options: { keep: 'wght=1:2' } }], tools)).toThrow(/not variable/);
});

test('another outline within what is left, or another range, is not proved equal', () => {
  const before = faceOf(FACES.serifVariable);
  const options = { keep: 'wght=300:700' };
  const right = narrow('serifVariable', 'wght=300:700').face;
  expect(AXES.prove(before, right, options).equal).toBe(true);
  expect(AXES.prove(before, narrow('serifVariable', 'wght=300:690').face, options).differences[0]).toMatch(/axis wght is not what/);
  expect(AXES.prove(before, narrow('serifVariable', 'wght=300:700,opsz=30').face, options).differences[0]).toMatch(/axis opsz changed/);
  // The same axes and characters, and one letter that stands elsewhere.
  const other = faceOf(
    tools.subsetter.subset(
      readFont('serifVariable'),
      0,
      [...'Hagn ÅÉ3&'.replace('3', '8')].map((c) => c.codePointAt(0)!),
    ),
  );
  expect(AXES.prove(before, other, { keep: 'wght=200:900' }).equal).toBe(false);
});

test('a colored face becomes plain with its outlines, and one that has none beneath its color is left alone', () => {
  const source = colored(true);
  expect(faceOf(source).color.length).toBeGreaterThan(0);
  const made = render(source, 0, recipeFor(faceOf(source), 'ttf', { to: 'woff2', plain: true }), tools);
  expect([made.comparison.equal, made.comparison.differences, made.face.color.length, ots(made.bytes)]).toEqual([true, [], 0, 0]);
  const path = (bytes: Uint8Array, c: number): string => {
    const face = faceOf(bytes);
    const pen = new SvgPathPen();
    face.draw(face.glyphOf(c), new TransformPen([1, 0, 0, 1, 0, 0], pen));
    return pen.path;
  };
  for (const c of [65, 66]) expect([path(made.bytes, c), path(made.bytes, c) === '']).toEqual([path(source, c), false]);
  expect(() => render(colored(false), 0, [{ step: 'plain', options: {} }], tools)).toThrow(/no outlines beneath/);
  expect(() => render(readFont('gochiHand'), 0, [{ step: 'plain', options: {} }], tools)).toThrow(/no color/);
});

test('color that would be lost where characters are left out is told, and nothing is made', () => {
  const source = colored(true);
  const cut = (wish: object): Rendered =>
    render(source, 0, recipeFor(faceOf(source), 'ttf', { to: 'ttf', runs: [65, 65], ...wish }), tools);
  expect(() => cut({})).toThrow(/colored in a way \(COLR\) that cannot be kept/);
  // Without its color it is a face like any other; and a proof that is asked notices.
  const plain = cut({ plain: true });
  expect([plain.comparison.equal, plain.face.color, plain.face.characters!.codePoints.length]).toEqual([true, [], 1]);
  expect(SUBSET.prove(faceOf(source), plain.face, { runs: [65, 65] }).differences.join()).toMatch(/color \(COLR\) is gone/);
});
