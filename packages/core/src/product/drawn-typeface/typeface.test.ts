import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import { nodeCodec, nodePaths } from '@orderly-glyph/node';
import { readFont } from '../../../test/fonts.js';
import { python } from '../../../test/python.js';
import { judgeCoverage } from '../../coverage/index.js';
import { cellsFor, shapeOf, type CharacterWish } from '../../drawn/index.js';
import { openFace } from '../../font/index.js';
import { areaOf, ContourPen, drawContour, TransformPen, type Contour } from '../../outline/index.js';
import { buildTypeface, outlineOf, planTypeface, readTypeface, typefaceStops, writeTypeface, type Typeface } from './index.js';

// Noto Sans stands in for a hand: its letters, and its marks moved over the pale letter of the sheet, are the ink of the boxes.
const noto = openFace(readFont('notoSans'), nodeCodec, 0);
const paths = await nodePaths();
const moved = (contours: readonly Contour[], x: number, y: number): Contour[] => {
  const pen = new ContourPen();
  for (const c of contours) drawContour(c, new TransformPen([1, 0, 0, 1, x, y], pen));
  pen.closePath();
  return pen.contours;
};
function ink(character: string): Contour[] {
  const s = 1000 / noto.unitsPerEm;
  const pen = new ContourPen();
  noto.draw(noto.glyphOf(character.codePointAt(0)!), new TransformPen([s, 0, 0, s, 0, 0], pen));
  pen.closePath();
  const united = paths.unite(pen.contours, 1000) ?? pen.contours;
  if (!/\p{M}/u.test(character)) return united;
  const { box } = shapeOf(united)!;
  return moved(united, 260 - (box.xMin + box.xMax) / 2, box.yMax < 100 ? 0 : 480 - 536);
}
const LANGUAGES = ['en', 'pl', 'cy', 'vi', 'uk', 'el'];
const wish: CharacterWish = {
  languages: LANGUAGES,
  figures: true,
  punctuation: true,
  currency: true,
  fractions: true,
  capitalsOnly: false,
  variants: 0,
  ligatures: [],
  also: '',
};
const letters = cellsFor(wish).map(({ character, variant }, i) => ({ id: `l${i}`, character, variant, ink: ink(character), steps: [] }));
const second = ['a', 'o', 'l'].map((character) => ({
  id: `second ${character}`,
  character,
  variant: 1,
  ink: moved(ink(character), 0, 4),
  steps: [],
}));
const face: Typeface = {
  facts: {
    family: 'Hollin Hand',
    style: 'Regular',
    maker: 'Hollin Bank Seeds',
    license: 'All rights reserved',
    licenseUrl: 'https://hollin.example/hand',
    embedding: 8,
  },
  wish,
  letters: [...letters, ...second],
  adjusted: {},
  spacing: {},
  kerning: [],
  learned: null,
  white: null,
  kern: true,
  turns: true,
  tabular: true,
  connected: false,
};
const plan = planTypeface(face, paths);
const built = buildTypeface(face, 2, '2026-11-27', paths, nodeCodec);
const dir = mkdtempSync(join(tmpdir(), 'hand-'));
for (const f of built.files) writeFileSync(join(dir, f.name), f.bytes);
const ttf = join(dir, 'Hollin-Hand-Regular.ttf');
afterAll(() => rmSync(dir, { recursive: true }));
const shaped = (text: string, ...more: string[]): string =>
  spawnSync('hb-shape', ['--no-clusters', ...more, ttf, text], { encoding: 'utf8' }).stdout.trim();
const glyph = (character: string, variant = 0) => plan.glyphs.find((g) => g.character === character && g.variant === variant)!;

describe('the fonts', () => {
  test.each(['ttf', 'otf', 'woff2'])('%s is taken by OpenType Sanitizer', (format) => {
    const run = spawnSync('ots-sanitize', [join(dir, `Hollin-Hand-Regular.${format}`)], { encoding: 'utf8' });
    expect([run.status, run.stdout + run.stderr]).toEqual([0, expect.not.stringMatching(/WARNING|ERROR/)]);
  });
  test('fontTools reads every table, names and embedding', () => {
    const told = python<Record<string, unknown>>(`
from fontTools.ttLib import TTFont
f = TTFont(${JSON.stringify(ttf)})
for tag in f.keys():
    f[tag]
print(json.dumps({'names': [f['name'].getDebugName(i) for i in (1, 2, 4, 5, 13)], 'fsType': f['OS/2'].fsType, 'x': f['OS/2'].sxHeight, 'features': sorted({r.FeatureTag for t in ('GSUB', 'GPOS') for r in f[t].table.FeatureList.FeatureRecord}), 'scripts': sorted({r.ScriptTag for r in f['GPOS'].table.ScriptList.ScriptRecord})}))
`);
    expect(told).toEqual({
      names: ['Hollin Hand', 'Regular', 'Hollin Hand', 'Version 2.000', 'All rights reserved'],
      fsType: 8,
      x: 536,
      features: ['calt', 'ccmp', 'frac', 'kern', 'mark', 'mkmk', 'tnum'],
      scripts: ['DFLT', 'cyrl', 'grek', 'latn'],
    });
  });
  test('they write the languages that were asked for, by the judge that judges every face', () => {
    expect(plan.missing).toEqual([]);
    const { languages } = judgeCoverage(openFace(built.files[0]!.bytes, nodeCodec, 0));
    expect(LANGUAGES.map((tag) => [tag, languages.find((l) => l.tag === tag)?.level])).toEqual(LANGUAGES.map((tag) => [tag, 'full']));
  });
  test('the same typeface, number and day are the same bytes', () => {
    const again = buildTypeface(readTypeface(writeTypeface(face, null)).typeface, 2, '2026-11-27', paths, nodeCodec);
    expect(again.files.map((f) => Buffer.from(f.bytes).equals(built.files.find((b) => b.name === f.name)!.bytes))).toEqual([
      true,
      true,
      true,
    ]);
  });
});

describe('HarfBuzz shapes', () => {
  test('drawings in turn, over a letter that has one only as well', () => {
    expect(shaped('ooolla', '--no-positions')).toBe('[o|o.alt1|o|l.alt1|l|a.alt1]');
    expect(shaped('oto o', '--no-positions')).toBe('[o|t|o.alt1|space|o]');
  });
  test('marks at their anchors, i without its dot under them, fractions and figures of one width', () => {
    // No language here has an i with a breve, so no glyph of its own stands for it.
    expect(shaped('i\u0306', '--no-positions')).toBe('[uni0131|uni0306]');
    const [, x] = /uni0302@(-?\d+),/.exec(shaped('v\u0302'))!;
    const { box } = shapeOf(glyph('\u0302').contours)!;
    const v = glyph('v');
    // Over the middle of v, where its own ink has its middle.
    expect(Math.abs(v.advance + Number(x) + (box.xMax - box.xMin) / 2 - v.advance / 2)).toBeLessThan(12);
    expect(shaped('1/2', '--features=frac', '--no-positions')).toBe('[uni00BD]');
    const widths = [...shaped('0123456789', '--features=tnum').matchAll(/\+(\d+)/g)].map((m) => m[1]);
    expect([widths.length, new Set(widths).size]).toEqual([10, 1]);
  });
  test('i loses its dot under a mark above also when a mark below was typed first, and marks stack', () => {
    // Unicode, canonical order: marks below (class 220) come before marks above (230).
    expect(shaped('i\u0323\u0306', '--no-positions')).toBe('[uni0131|uni0323|uni0306]');
    expect(shaped('i\u0323', '--no-positions')).toMatch(/^\[(uni1ECB|i\|uni0323)\]$/);
    // A second mark stands clear of the first, over its middle.
    const marks = [...shaped('v\u0302\u0306').matchAll(/(uni030[26])@(-?\d+),(-?\d+)/g)].map((m) => ({
      box: shapeOf(glyph(String.fromCodePoint(parseInt(m[1]!.slice(3), 16))).contours)!.box,
      y: Number(m[3]),
    }));
    expect(marks).toHaveLength(2);
    const [first, second] = marks as [(typeof marks)[0], (typeof marks)[0]];
    const gap = second.box.yMin + second.y - (first.box.yMax + first.y);
    expect(gap).toBeGreaterThan(15);
    expect(gap).toBeLessThan(80);
  });
  test('pairs of classes: an accented letter moves as its letter does, and a pair that a person set is that pair', () => {
    const kern = (text: string, of: string = ttf): number => {
      const sum = (feature: string): number =>
        [
          ...spawnSync('hb-shape', ['--no-clusters', `--features=${feature},-calt`, of, text], { encoding: 'utf8' }).stdout.matchAll(
            /\+(\d+)/g,
          ),
        ].reduce((s, m) => s + Number(m[1]), 0);
      return sum('kern') - sum('-kern');
    };
    expect(kern('AV')).toBeLessThan(-30);
    expect([kern('ÁV'), kern('HH')]).toEqual([kern('AV'), 0]);
    const own = buildTypeface(
      {
        ...face,
        kerning: [
          { left: 'A', right: 'V', value: 7 },
          { left: 'H', right: 'H', value: -25 },
        ],
      },
      2,
      '2026-11-27',
      paths,
      nodeCodec,
    );
    writeFileSync(join(dir, 'own.ttf'), own.files[0]!.bytes);
    expect([kern('AV', join(dir, 'own.ttf')), kern('ÁV', join(dir, 'own.ttf')), kern('HH', join(dir, 'own.ttf'))]).toEqual([7, 7, -25]);
    expect(kern('LT', join(dir, 'own.ttf'))).toBe(kern('LT'));
  });
});

describe('composed letters', () => {
  const box = (c: string) => shapeOf(glyph(c).contours)!.box;
  test('stand where Noto Sans has them, to fifteenths of the em', () => {
    // Its precomposed letters are drawn by people; ours are put together of its parts.
    for (const c of 'áéíóúàâäêîôûŵŷżźćńśėÁÉÓŻŚẤếộửїёάήΐ') {
      // Two marks over one another stand closer in Noto Sans than a hand has them.
      if (!plan.glyphs.some((g) => g.character === c) || c.normalize('NFD').length > 2) continue;
      const theirs = shapeOf(ink(c))!.box;
      const ours = box(c);
      expect([c, Math.abs(ours.yMax - theirs.yMax) < 66, Math.abs(ours.xMax - ours.xMin - (theirs.xMax - theirs.xMin)) < 66]).toEqual([
        c,
        true,
        true,
      ]);
    }
  });
  test('stacks rise, hooks hang, tonos stands before a capital, and the space of a letter is its own', () => {
    expect(box('ấ').yMax).toBeGreaterThan(box('â').yMax + 80);
    expect(box('ę').yMin).toBeLessThan(-100);
    expect(box('Ά').xMin).toBeLessThan(shapeOf(glyph('Α').contours)!.box.xMin - 20);
    expect([glyph('î').advance, glyph('ę').advance]).toEqual([glyph('ı').advance, glyph('e').advance]);
    expect(glyph('і').contours).toEqual(glyph('i').contours);
    const lifted = planTypeface({ ...face, adjusted: { é: [{ x: 5, y: 40 }] } }, paths).glyphs.find((g) => g.character === 'é')!;
    expect(shapeOf(lifted.contours)!.box.yMax - box('é').yMax).toBeCloseTo(40, 0);
  });
});

describe('steps and what looks wrong', () => {
  const o = ink('o');
  const area = (contours: readonly Contour[]): number => contours.reduce((s, c) => s + areaOf(c), 0);
  test('strokes grow and shrink by what was said, and a mirror keeps ink ink', () => {
    const { box } = shapeOf(o)!;
    const grown = shapeOf(outlineOf({ ink: o, steps: [{ step: 'weight', by: 20 }] }, paths))!.box;
    expect([grown.xMax - box.xMax, box.xMin - grown.xMin].map(Math.round)).toEqual([10, 10]);
    expect(area(outlineOf({ ink: o, steps: [{ step: 'weight', by: -20 }] }, paths))).toBeLessThan(area(o));
    for (const across of ['vertical', 'horizontal'] as const)
      expect(area(outlineOf({ ink: o, steps: [{ step: 'flip', across }] }, paths))).toBeCloseTo(area(o), 0);
    // Nothing is left of a stroke that is taken away whole: then it stays.
    expect(area(outlineOf({ ink: ink('-'), steps: [{ step: 'weight', by: -200 }] }, paths))).toBeCloseTo(area(ink('-')), 0);
  });
  test('letters off their heights, thick ones, filled counters and specks are told, and no letter of a well-made face is', () => {
    expect(plan.glyphs.flatMap((g) => g.findings.map((f) => `${g.character} ${f.code}`))).toEqual([]);
    const spoilt = (character: string, change: (contours: Contour[]) => Contour[]): string[] =>
      planTypeface(
        { ...face, kern: false, letters: letters.map((l) => (l.character === character ? { ...l, ink: change([...l.ink]) } : l)) },
        paths,
      )
        .glyphs.find((g) => g.character === character)!
        .findings.map((f) => f.code);
    expect(spoilt('n', (c) => moved(c, 0, 90))).toEqual(['baseline', 'height']);
    expect(spoilt('H', (c) => outlineOf({ ink: c, steps: [{ step: 'scale', by: 0.8 }] }, paths))).toContain('height');
    expect(spoilt('o', (c) => c.filter((x) => areaOf(x) > 0))).toEqual(expect.arrayContaining(['counter-open', 'weight']));
    expect(
      spoilt('l', (c) => [
        ...c,
        {
          start: [400, 300],
          segments: [
            [420, 300],
            [420, 320],
            [400, 320],
          ],
        },
      ]),
    ).toEqual(['specks']);
  });
  test('sides that were set stay, follow another letter, and rings of followers are as computed', () => {
    const with_ = (spacing: Typeface['spacing']) => {
      const p = planTypeface({ ...face, kern: false, spacing }, paths);
      return (c: string): number[] => {
        const g = p.glyphs.find((x) => x.character === c)!;
        return [Math.round(g.left), Math.round(g.right)];
      };
    };
    const none = { left: null, right: null, leftAs: null, rightAs: null };
    const set = with_({ n: { ...none, left: 99 }, h: { ...none, leftAs: 'n' }, u: { ...none, leftAs: 'r' }, r: { ...none, leftAs: 'u' } });
    // Pairs do not take back what was set.
    const wide = planTypeface({ ...face, spacing: { b: { ...none, right: 240 } } }, paths);
    expect(wide.pairs).toEqual(plan.pairs);
    expect([set('n')[0], set('h')[0], set('ń')[0], set('u')[0]]).toEqual([99, 99, 99, with_({})('u')[0]]);
  });
});

describe('a connected hand', () => {
  /** A bowl on the line, with a stroke of 40 leading out to the right at a height, or none. */
  const letter = (character: string, out: number | null, width = 300): Typeface['letters'][number] => {
    const box = (x0: number, y0: number, x1: number, y1: number): Contour => ({
      start: [x0, y0],
      segments: [
        [x1, y0],
        [x1, y1],
        [x0, y1],
      ],
    });
    const stroke = out === null ? [] : [box(width - 20, out - 20, width + 120, out + 20)];
    return { id: character, character, variant: 0, steps: [], ink: paths.unite([box(0, 0, width, 480), ...stroke], 1000)! };
  };
  const hand = (connected: boolean) =>
    planTypeface(
      {
        ...face,
        connected,
        letters: [letter('n', 60), letter('a', 60), letter('u', 70), letter('m', 60, 460), letter('o', null), letter('x', 60)],
        wish: { ...wish, languages: [], figures: false, punctuation: false, currency: false, fractions: false },
      },
      paths,
    );
  const at = (plan_: ReturnType<typeof hand>, c: string) => plan_.glyphs.find((g) => g.character === c)!;
  test('strokes that lead out end within the next letter, and what has none stands apart and is told', () => {
    const [plain, joined] = [hand(false), hand(true)];
    // From the end of the stroke to the stem of the letter after it.
    const gap = (p: typeof plain, a: string, b: string): number => at(p, a).right + at(p, b).left;
    for (const pair of ['na', 'au', 'um', 'mn']) {
      expect(gap(plain, pair[0]!, pair[1]!)).toBeGreaterThan(0);
      expect(gap(joined, pair[0]!, pair[1]!)).toBeLessThanOrEqual(-10);
      expect(gap(joined, pair[0]!, pair[1]!)).toBeGreaterThanOrEqual(-40);
    }
    expect(gap(joined, 'o', 'n')).toBeGreaterThan(40);
    expect(joined.glyphs.flatMap((g) => g.findings.map((f) => `${g.character} ${f.code}`))).toContain('o no-join');
    expect(joined.glyphs.flatMap((g) => g.findings.filter((f) => f.code === 'no-join')).length).toBe(1);
    // Two letters that meet are not pulled apart again, or over one another.
    expect(joined.pairs.filter((p) => /[a-z]/.test(p.left) && /[a-z]/.test(p.right))).toEqual([]);
  });
  test('letters of print do not lead out: a face of bowls and stems stays as it is', () => {
    const stiff = planTypeface({ ...face, connected: true }, paths);
    const told = stiff.glyphs.filter((g) => g.kind === 'small' && g.of === null);
    expect(told.filter((g) => 'nmohubdpqil'.includes(g.character) && g.findings.every((f) => f.code !== 'no-join'))).toEqual([]);
  });
  test('files of before say nothing about it, and it comes back where they do', () => {
    const file = JSON.parse(writeTypeface({ ...face, connected: true }, null)) as { typeface: Record<string, unknown> };
    expect(readTypeface(JSON.stringify(file)).typeface.connected).toBe(true);
    delete file.typeface.connected;
    expect(readTypeface(JSON.stringify(file)).typeface.connected).toBe(false);
  });
});

test('the file of a typeface is as its schema says, and a file that is not is found', () => {
  // JSON Schema read by Zod, another reader than ours.
  const schema = z.fromJSONSchema(
    JSON.parse(readFileSync('docs/drawn-typeface.schema.json', 'utf8')) as Parameters<typeof z.fromJSONSchema>[0],
  );
  const file = JSON.parse(
    writeTypeface(
      { ...face, letters: face.letters.map((l, i) => (i === 0 ? { ...l, steps: [{ step: 'weight', by: 5 }, { step: 'cut' }] } : l)) },
      null,
    ),
  ) as { typeface: object };
  expect(schema.safeParse(file).success).toBe(true);
  expect(schema.safeParse({ ...file, typeface: { ...file.typeface, kern: 'much' } }).success).toBe(false);
});

test('what contradicts itself is not made, and a file that is none is refused in words', () => {
  expect(typefaceStops({ ...face, letters: [] })).toEqual(['There is no letter in it yet.']);
  expect(typefaceStops({ ...face, letters: [letters[0]!, { ...letters[0]!, id: 'x' }] }).join()).toMatch(/two drawings for “a”/);
  expect(() => buildTypeface({ ...face, facts: { ...face.facts, family: ' ' } }, 1, '2026-11-27', paths, nodeCodec)).toThrow(/family name/);
  const file = JSON.parse(writeTypeface(face, { number: 2, day: '2026-11-27' })) as { typeface: Record<string, unknown> };
  expect(readTypeface(JSON.stringify(file)).release).toEqual({ number: 2, day: '2026-11-27' });
  for (const [wrong, words] of [
    ['x', /it is no JSON/],
    [{ ...file, format: 'icon-set' }, /“format”/],
    [{ ...file, typeface: { ...file.typeface, white: 'wide' } }, /“white”/],
    [{ ...file, typeface: { ...file.typeface, letters: [{ ...letters[0], steps: [{ step: 'sing' }] }] } }, /not known here/],
    [
      { ...file, typeface: { ...file.typeface, letters: [{ ...letters[0], ink: [{ start: [0, 1e9], segments: [] }] }] } },
      /not a number from/,
    ],
  ] as const)
    expect(() => readTypeface(typeof wrong === 'string' ? wrong : JSON.stringify(wrong))).toThrow(words);
});
