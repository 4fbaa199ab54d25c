import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { nodeCodec } from '@orderly-glyph/node';
import { readFont } from '../../test/fonts.js';
import { nameFace, readFacts, styleTable, weightWord, type FaceFacts } from './index.js';

const base = readFacts(readFont('literata'), nodeCodec).faces[0]!;
/** A face with other names than its file has; the rest as in Literata Regular. */
const named = (names: Partial<FaceFacts>, fileName = 'file.ttf') =>
  nameFace(
    {
      ...base,
      family: null,
      subfamily: null,
      typographicFamily: null,
      typographicSubfamily: null,
      fullName: null,
      postScriptName: null,
      ...names,
    },
    fileName,
  );

test('typographic names come before style-linked ones, and WWS names where there are no typographic ones', () => {
  expect(
    named({
      family: 'Plot Light',
      subfamily: 'Italic',
      typographicFamily: 'Plot',
      typographicSubfamily: 'Light Italic',
      italic: true,
      weightClass: 300,
    }),
  ).toMatchObject({
    family: 'Plot',
    style: 'Light Italic',
    slope: 'italic',
    weightClass: 300,
    repairs: [],
  });
  expect(named({ wwsFamily: 'Plot Display', wwsSubfamily: 'Bold', weightClass: 700 })).toMatchObject({
    family: 'Plot Display',
    style: 'Bold',
  });
});

test('a style in the family name of a style-linked face is put where it belongs, with the reason', () => {
  const found = named({ family: 'Plot Semi Bold', subfamily: 'Italic', italic: true, weightClass: 600 });
  expect(found).toMatchObject({ family: 'Plot', weightClass: 600, slope: 'italic' });
  expect(found.style).toMatch(/Semi Bold.*Italic/);
  expect(found.repairs).toHaveLength(1);
  expect(found.repairs[0]!.reason).toContain('four styles');
});

test('weights and widths out of their ranges are read from the style, else as regular', () => {
  // OpenType, OS/2: usWeightClass 1 to 1000, usWidthClass 1 to 9. Some old fonts count weights 1 to 9.
  expect(named({ family: 'Plot', subfamily: 'Regular', weightClass: 4 }).weightClass).toBe(400);
  expect(named({ family: 'Plot', subfamily: 'Bold', weightClass: 0 })).toMatchObject({ weightClass: 700 });
  // A step and a half between what the style is called and what the file says is too far; one step is a maker's choice.
  expect([550, 551].map((weightClass) => named({ family: 'Plot', subfamily: 'Bold', weightClass }).weightClass)).toEqual([700, 551]);
  expect(named({ family: 'Plot', subfamily: 'Condensed', widthClass: 0 })).toMatchObject({ widthClass: 3 });
  expect(named({ family: 'Plot', subfamily: 'Bold', weightClass: 400 }).repairs[0]).toMatchObject({
    field: 'weight',
    found: '400',
    used: '700',
  });
  expect(weightWord(640)).toBe('Semi Bold');
});

test('missing names are made from the full name, the PostScript name or the file name', () => {
  expect(named({ fullName: 'Plot Black', weightClass: 900 })).toMatchObject({ family: 'Plot', style: 'Black' });
  expect(named({ postScriptName: 'Plot-BoldItalic', weightClass: 700, italic: true }).family).toBe('Plot');
  const bare = named({}, 'old/fonts/Market.TTF');
  expect(bare).toMatchObject({ family: 'Market', style: 'Regular' });
  expect(bare.repairs.map((r) => r.field)).toEqual(['family', 'style']);
  expect(named({ family: '\u0000\u200e ', subfamily: ' ' }, 'x.otf').family).toBe('x');
});

// Common practice: the width, then the weight, then the slope; the weight is left out where a slope already names a Regular.
test.each([
  [{ weightClass: 400 }, 'Regular'],
  [{ weightClass: 400, italic: true }, 'Italic'],
  [{ weightClass: 700, italic: true }, 'Bold Italic'],
  [{ weightClass: 300, widthClass: 3, italic: true }, 'Condensed Light Italic'],
  [{ weightClass: 400, widthClass: 7 }, 'Expanded Regular'],
  [{ weightClass: 400, oblique: true }, 'Oblique'],
])('a face without a style’s name and with %o is called %s', (facts, style) => {
  expect(named({ family: 'Plot', ...facts }).style).toBe(style);
});

test('names of a thousand characters are shortened, right-to-left names stay', () => {
  const long = named({ family: 'x'.repeat(1000), subfamily: 'Regular' });
  expect(long.family.length).toBeLessThan(210);
  expect(long.repairs[0]!.found).toContain('1000');
  expect(named({ family: 'خط السوق', subfamily: 'Regular' }).family).toBe('خط السوق');
});

/** fontconfig's weights against usWeightClass. Source: fontconfig, fcweight.c (FcWeightFromOpenTypeDouble). */
const WEIGHTS: readonly [number, number][] = [
  [0, 100],
  [40, 200],
  [50, 300],
  [80, 400],
  [100, 500],
  [180, 600],
  [200, 700],
  [205, 800],
  [210, 900],
];

test('family, weight, width and slope agree with fontconfig over fonts-noto-core', () => {
  const dir = '/usr/share/fonts/truetype/noto';
  const files = readdirSync(dir).filter((f) => f.endsWith('.ttf'));
  const listed = execFileSync(
    'fc-scan',
    ['--format', '%{file}\t%{family}\t%{weight}\t%{width}\t%{slant}\n', ...files.map((f) => `${dir}/${f}`)],
    {
      encoding: 'utf8',
      maxBuffer: 1 << 26,
    },
  );
  let compared = 0;
  const mended: string[] = [];
  for (const line of listed.trim().split('\n')) {
    const [file, families, weight, width, slant] = line.split('\t') as [string, string, string, string, string];
    const facts = readFacts(new Uint8Array(readFileSync(file)), nodeCodec).faces[0]!;
    const found = nameFace(facts, file);
    expect(families.split(',')).toContain(found.family);
    const known = WEIGHTS.find(([w]) => w === Number(weight));
    if (found.repairs.some((r) => r.field === 'weight')) mended.push(file.split('/').pop()!);
    else if (known) expect([file, found.weightClass]).toEqual([file, known[1]]);
    expect([file, found.widthClass === 5]).toEqual([file, Number(width) === 100]);
    expect([file, found.slope === 'upright']).toEqual([file, Number(slant) === 0]);
    compared++;
  }
  expect(compared).toBeGreaterThan(150);
  // Called Bold, and 400 by OS/2, which fontconfig believes.
  expect(mended).toEqual(['NotoNastaliqUrdu-Bold.ttf', 'NotoSerifMyanmar-Bold.ttf']);
});

test('a family lies in rows of weight and columns of width and slope, its variable face apart', () => {
  const face = (id: string, weightClass: number, slope: 'upright' | 'italic', widthClass = 5, opticalSize: string | null = null) => ({
    id,
    style: id,
    weightClass,
    widthClass,
    slope,
    opticalSize,
    variable: false,
  });
  const table = styleTable([
    face('b', 700, 'upright'),
    face('r', 400, 'upright'),
    face('i', 400, 'italic'),
    face('c', 400, 'upright', 3),
    face('d', 400, 'upright', 5, 'Display'),
    { ...face('v', 400, 'upright'), variable: true },
  ]);
  expect(table.columns.map((c) => c.label)).toEqual(['Condensed Upright', 'Upright', 'Italic', 'Display Upright']);
  expect(table.rows.map((r) => [r.label, r.cells])).toEqual([
    ['Regular', [['c'], ['r'], ['i'], ['d']]],
    ['Bold', [[], ['b'], [], []]],
  ]);
  expect(table.variable).toEqual(['v']);
});
