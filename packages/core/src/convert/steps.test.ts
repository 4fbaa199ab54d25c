import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import { faceOf } from '../../test/face.js';
import { readFont, type FONTS } from '../../test/fonts.js';
import { python } from '../../test/python.js';
import { FontError, HEAD, OS2, writeSfnt } from '../sfnt/index.js';
import {
  accepted,
  changesOf,
  containerRecipe,
  plan,
  recipeKey,
  render,
  stateOf,
  STEPS,
  type FaceState,
  type Recipe,
  type Step,
} from './index.js';

const tools = async () => ({ codec: nodeCodec, subsetter: await nodeSubsetter() });
const run = async (name: keyof typeof FONTS, recipe: Recipe) => render(readFont(name), 0, recipe, await tools());
const POLISH = 'Zażółć gęślą jaźń';
const runs = [...new Set(POLISH.normalize('NFC'))].map((c) => c.codePointAt(0)!).flatMap((c) => [c, c]);

/** What fontTools and OpenType Sanitizer say of a file. */
function outside(bytes: Uint8Array): { ots: number | null; names: Record<string, string>; cmap: number[]; cff: string | null } {
  const dir = mkdtempSync(join(tmpdir(), 'steps-'));
  try {
    const file = join(dir, 'a.otf');
    writeFileSync(file, bytes);
    const read = python<Omit<ReturnType<typeof outside>, 'ots'>>(
      `
from fontTools.ttLib import TTFont
f = TTFont(given)
print(json.dumps({'names': {str(n.nameID): n.toUnicode() for n in f['name'].names if n.platformID == 3}, 'cmap': sorted(f.getBestCmap()), 'cff': f['CFF '].cff.fontNames[0] if 'CFF ' in f else None}))`,
      file,
    );
    return { ots: spawnSync('ots-sanitize', [file]).status, ...read };
  } finally {
    rmSync(dir, { recursive: true });
  }
}

test.each(['literata', 'serifOtf'] as const)('%s cut down to a sentence has just that, drawn as before', async (name) => {
  const made = await run(name, [{ step: 'subset', options: { runs } }]);
  expect(made.comparison).toMatchObject({ equal: true, differences: [], glyphsCompared: new Set(POLISH).size });
  const { ots, cmap } = outside(made.bytes);
  expect([ots, cmap]).toEqual([0, [...new Set(POLISH)].map((c) => c.codePointAt(0)!).sort((a, b) => a - b)]);
  expect(made.face.writes(POLISH)).toEqual([]);
});

test('a comparison of a subset notices a glyph that is gone or drawn otherwise', async () => {
  const { SUBSET } = await import('./steps/subset.js');
  const face = faceOf(readFont('gochiHand'));
  const whole = { runs: [0x41, 0x5a] };
  expect(SUBSET.prove(face, face, whole).equal).toBe(true);
  expect(SUBSET.prove(face, faceOf(readFont('khmer')), whole).equal).toBe(false);
  const other = (await run('gochiHand', [{ step: 'subset', options: { runs: [0x41, 0x59] } }])).face;
  expect(SUBSET.prove(face, other, whole).differences).toEqual(['U+005A is gone.']);
});

test.each(['literata', 'serifOtf', 'serifVariable', 'didot'] as const)(
  '%s under another name says it everywhere, and nothing else of it changed',
  async (name) => {
    const before = faceOf(readFont(name));
    const old = before.name(16) ?? before.name(1)!;
    const made = await run(name, [{ step: 'rename', options: { family: 'Packet Serif', version: 3 } }]);
    expect(made.comparison.differences).toEqual([]);
    const { ots, names, cff } = outside(made.bytes);
    expect(ots).toBe(0);
    expect([names[1], names[5], names[16] ?? 'Packet Serif']).toEqual([
      expect.stringMatching(/^Packet Serif/),
      'Version 3.000',
      'Packet Serif',
    ]);
    expect([names[6], cff ?? names[6]]).toEqual([expect.stringMatching(/^PacketSerif-/), names[6]]);
    for (const id of [1, 3, 4, 6, 16, 25]) expect([id, names[id] ?? '']).toEqual([id, expect.not.stringContaining(old)]);
    // Who made it and under which terms stays.
    for (const id of [0, 9, 13, 14]) expect(names[id] ?? null).toBe(before.name(id));
  },
);

test('a style of its own, its version, vendor and license are written by the rules of linked families', async () => {
  // Source: OpenType specification, name (IDs 1, 2, 4, 6, 16, 17), OS/2 (fsSelection, achVendID), head (macStyle).
  const named = async (options: Record<string, string | number>) => {
    const made = await run('serifOtf', [{ step: 'rename', options }]);
    expect(made.comparison.differences).toEqual([]);
    const { ots, names } = outside(made.bytes);
    expect(ots).toBe(0);
    return { names, os2: made.face.need(OS2), head: made.face.need(HEAD) };
  };
  const light = await named({ family: 'Packet', style: 'Light Italic', version: 2.5, vendor: 'HB', license: 'Ours alone', licenseUrl: '' });
  expect([1, 2, 4, 5, 6, 13, 14, 16, 17].map((id) => light.names[id] ?? null)).toEqual([
    'Packet Light',
    'Italic',
    'Packet Light Italic',
    'Version 2.500',
    'Packet-LightItalic',
    'Ours alone',
    null,
    'Packet',
    'Light Italic',
  ]);
  expect([light.os2.achVendID, light.os2.fsSelection & 0x61, light.head.macStyle & 3, light.head.fontRevision]).toEqual([
    'HB  ',
    1,
    2,
    2.5,
  ]);
  const bold = await named({ style: 'Bold' });
  expect([1, 2, 6, 16, 17].map((id) => bold.names[id] ?? null)).toEqual(['Source Serif 4', 'Bold', 'SourceSerif4-Bold', null, null]);
  expect([bold.os2.fsSelection & 0x61, bold.head.macStyle & 3]).toEqual([0x20, 1]);
  // What is not given stays: a license alone touches no name that programs know the face by.
  const before = faceOf(readFont('serifOtf'));
  const licensed = await named({ license: 'Ours' });
  for (const id of [1, 2, 3, 4, 5, 6, 16, 17]) expect(licensed.names[id] ?? null).toBe(before.name(id));
});

test('names that no font can have are refused in words', async () => {
  const refused = (options: Record<string, string | number>, name: 'serifOtf' | 'serifVariable' = 'serifOtf') =>
    expect(run(name, [{ step: 'rename', options }])).rejects;
  await refused({ family: ' ' }).toThrow(/needs a family/);
  await refused({ family: 'x'.repeat(121) }).toThrow(/at most 120/);
  await refused({ family: 'a\u0007b' }).toThrow(/control characters/);
  await refused({ vendor: 'HOLLIN' }).toThrow(/at most 4/);
  await refused({ vendor: 'Łó' }).toThrow(/plain letters/);
  await refused({ version: -1 }).toThrow(/from 0 to 32,767/);
  await refused({ style: 'Bold' }, 'serifVariable').toThrow(/instances/);
});

test('the shortest way is found, and none where there is none', () => {
  const state = (changes: Partial<FaceState>): FaceState => ({
    format: 'ttf',
    outlines: 'glyf',
    variable: false,
    color: false,
    ...changes,
  });
  const web = { formats: ['woff2', 'woff'], prefer: 'woff2' } as const;
  expect(plan(state({}), web)).toEqual(containerRecipe('woff2'));
  expect(plan(state({ format: 'woff' }), web)).toEqual([]);
  expect(plan(state({}), { formats: ['otf'], prefer: 'otf' })).toEqual([{ step: 'outlines', options: { to: 'CFF' } }]);
  // What changes the face less is taken even where the other format is preferred.
  expect(plan(state({ format: 'woff' }), { formats: ['otf', 'ttf'], prefer: 'otf' })).toEqual(containerRecipe('ttf'));
  expect(plan(state({ variable: true }), { ...web, variable: 'refused' })?.map((r) => r.step)).toEqual(['instance', 'container']);
  expect(plan(state({ color: true }), { ...web, color: 'refused' })?.map((r) => r.step)).toEqual(['plain', 'container']);
  expect(plan(state({ color: true, outlines: 'none' }), { ...web, color: 'refused' })).toBeNull();
  expect(accepted(state({ format: 'woff2', color: true }), { ...web, color: 'refused' })).toBe(false);
  const face = faceOf(readFont('serifVariable'));
  expect(stateOf(face, 'ttf')).toEqual({ format: 'ttf', outlines: 'glyf', variable: true, color: false });
});

/** A step that is not shipped: it freezes a variable face by leaving its axes out. */
const FREEZE: Step = {
  id: 'freeze',
  version: 1,
  change: 'outlines',
  label: () => 'frozen',
  needs: (state) => (state.variable ? [{ options: {}, after: { ...state, variable: false, format: 'ttf' } }] : []),
  run({ face }) {
    const tables = new Map(face.font.tables);
    for (const tag of ['fvar', 'gvar', 'avar', 'HVAR', 'MVAR', 'STAT']) tables.delete(tag);
    return writeSfnt({ ...face.font, tables });
  },
  prove: (before, after) => ({ equal: before.glyphCount === after.glyphCount, differences: [], glyphsCompared: 0 }),
};

test('one more step is planned, keyed, carried out and proved like the others', async () => {
  const steps = [...STEPS.filter((s) => s.id !== 'instance'), FREEZE];
  const face = faceOf(readFont('serifVariable'));
  const accepts = { formats: ['woff2'], prefer: 'woff2', variable: 'refused' } as const;
  const way = plan(stateOf(face, 'ttf'), accepts, steps)!;
  expect(way.map((r) => r.step)).toEqual(['freeze', 'container']);
  expect(changesOf(way, steps)).toEqual(['outlines', 'container']);
  expect(recipeKey(way, steps)).toBe('freeze@1([])>container@1([["to","woff2"]])');
  // Another version of a step is another key, so what it made before is made anew.
  expect(recipeKey(way, [...steps.slice(0, -1), { ...FREEZE, version: 2 }])).not.toBe(recipeKey(way, steps));
  const made = render(readFont('serifVariable'), 0, way, await tools(), steps);
  expect([made.format, made.face.has('fvar'), made.comparison.equal]).toEqual(['woff2', false, true]);
  expect(() => render(readFont('serifVariable'), 0, way, { codec: nodeCodec })).toThrow(FontError);
});

test('options are keyed whatever order they stand in', () => {
  expect(recipeKey([{ step: 'rename', options: { family: 'A', version: 1 } }])).toBe(
    recipeKey([{ step: 'rename', options: { version: 1, family: 'A' } }]),
  );
});
