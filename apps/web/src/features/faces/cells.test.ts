import type { Characters, GlyphDetail } from '@orderly-glyph/schema';
import { cellOf, copiesOf, outlineAsSvg, rowsOf, type Cell, type Row } from './cells';

const points = (text: string): number[] => Array.from(text, (c) => c.codePointAt(0)!);
const found = (groups: [string, string][], variants: Characters['variants'] = []): Characters => ({
  total: 0,
  unreached: 0,
  groups: groups.map(([name, text]) => ({ name, codePoints: points(text) })) as Characters['groups'],
  variants,
});
const told = (rows: readonly Row[]): string[] =>
  rows.map((r) => ('heading' in r ? `${r.heading} ${r.size}` : r.cells.map((c) => c.text).join('')));

test('characters stand by block, or by general category whatever block they are in', () => {
  const characters = found([
    ['Basic Latin', 'Ab1,$+'],
    ['Latin-1 Supplement', 'Éß£'],
    ['Private Use Area', '\ue000'],
  ]);
  expect(told(rowsOf(characters, 'block', [], 4))).toEqual([
    'Basic Latin 6',
    'Ab1,',
    '$+',
    'Latin-1 Supplement 3',
    'Éß£',
    'Private Use Area 1',
    '\ue000',
  ]);
  // General categories Lu, Ll, Nd, Po, Sc, Sm and Co as UnicodeData.txt gives them.
  expect(told(rowsOf(characters, 'category', [], 9)).filter((_, i) => i % 2 === 0)).toEqual([
    'Capitals 2',
    'Small letters 2',
    'Figures and numbers 1',
    'Punctuation 1',
    'Currency signs 2',
    'Mathematical signs 1',
    'Private use 1',
  ]);
});

test('by script, what several scripts share stands last', () => {
  const rows = rowsOf(found([['x', '1aα2β']]), 'script', [['Greek', /^\p{Script=Greek}$/u], ['Latin', /^\p{Script=Latin}$/u]], 9); // prettier-ignore
  expect(told(rows)).toEqual(['Greek 2', 'αβ', 'Latin 1', 'a', 'Common to several scripts 2', '12']);
});

test('a glyph without a code point stands under its feature and is never copied as the character it stands in for', () => {
  const rows = rowsOf(found([['Basic Latin', 'a']], [{ glyph: 7, text: 'a', feature: 'smcp', value: 1 }, { glyph: 9, text: 'a', feature: 'salt', value: 2 }, { glyph: 8, text: 'b', feature: 'smcp', value: 1 }]), 'block', [], 9); // prettier-ignore
  expect(told(rows).slice(2)).toEqual([
    'Without a code point, through the feature smcp 2',
    'ab',
    'Without a code point, through the feature salt 1',
    'a',
  ]);
  const [, , , , , last] = rows as { cells: Cell[] }[];
  const glyph = {
    path: 'M0 0L10 20Z',
    bounds: { xMin: -5, yMin: -10, xMax: 25, yMax: 40 },
    advanceWidth: 30,
    unitsPerEm: 1000,
  } as GlyphDetail;
  expect(copiesOf(last!.cells[0]!, glyph)).toEqual([
    // The y axis of a font runs up and that of SVG down.
    {
      name: 'Outline as SVG',
      value: '<svg xmlns="http://www.w3.org/2000/svg" viewBox="-5 -40 30 50"><path transform="scale(1 -1)" d="M0 0L10 20Z"/></svg>',
    },
    { name: 'CSS', value: 'font-feature-settings: "salt" 2;' },
  ]);
  // A glyph without an outline still has room.
  expect(outlineAsSvg({ ...glyph, path: '', bounds: null })).toContain('viewBox="0 -1000 30 1000"');
});

test('a character is copied as HTML and CSS write it', () => {
  // Sources: HTML, numeric character references; CSS Syntax, escapes.
  expect(copiesOf(cellOf(0x1f388), null).map((c) => c.value)).toEqual(['🎈', '&#x1F388;', '\\1F388', 'U+1F388']);
  expect(copiesOf(cellOf(0xe9), null).map((c) => c.value)).toEqual(['é', '&#x00E9;', '\\00E9', 'U+00E9']);
});
