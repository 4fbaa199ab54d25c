import { spawnSync } from 'node:child_process';
import { FONTS, readFont } from '../../test/fonts.js';
import { openShaper, shapeLine, shapingRefusal } from './index.js';

interface Shaped {
  g: number;
  cl: number;
  dx: number;
  dy: number;
  ax: number;
}

/** What Debian's hb-shape makes of a line, in font units; clusters count code points there. */
function reference(font: string, text: string, features = ''): Shaped[] {
  const run = spawnSync(
    'hb-shape',
    [font, `--text=${text}`, '--output-format=json', '--no-glyph-names', ...(features ? [`--features=${features}`] : [])],
    {
      encoding: 'utf8',
    },
  );
  expect([run.status, run.stderr]).toEqual([0, '']);
  return JSON.parse(run.stdout) as Shaped[];
}

const LINES: [keyof typeof FONTS, string][] = [
  ['literata', 'AVATAR To, Wo. fi ffl „łąka” 12½'],
  ['serifOtf', 'Ffa dringo ‘Dyffryn’, €3,90'],
  ['gochiHand', 'Crimson-flowered broad bean'],
  ['devanagari', 'धूप में बोएँ, क्षत्रिय र्क'],
  ['khmer', 'ខ្មែរ ស្រី'],
  ['scheherazade', 'بذور الزهور والخضار'],
  ['notoSans', 'Хлеб ґ їжак ε̂ q̇'],
  ['didot', 'Σπόροι για κήπους'],
];

test.each(LINES)('a line in %s is shaped as hb-shape does: %s', (name, text) => {
  const ours = shapeLine(readFont(name), 0, text);
  const theirs = reference(FONTS[name], text);
  const points = (utf16: number): number => [...text.slice(0, utf16)].length;
  expect(ours.glyphs.map((g) => ({ g: g.glyph, cl: points(g.cluster), dx: g.xOffset, dy: g.yOffset, ax: g.xAdvance }))).toEqual(
    theirs.map(({ g, cl, dx, dy, ax }) => ({ g, cl, dx, dy, ax })),
  );
});

test.each<[keyof typeof FONTS, string, string, { tag: string; value: number }[]]>([
  [
    'serifOtf',
    '0123456789',
    'onum,pnum',
    [
      { tag: 'onum', value: 1 },
      { tag: 'pnum', value: 1 },
    ],
  ],
  ['serifOtf', 'Small capitals', 'smcp', [{ tag: 'smcp', value: 1 }]],
  [
    'literata',
    'fi ffi AVA',
    '-liga,-kern',
    [
      { tag: 'liga', value: 0 },
      { tag: 'kern', value: 0 },
    ],
  ],
])('features in %s: %s with %s', (name, text, features, list) => {
  expect(openShaper(readFont(name), 0).shape(text, list)).toEqual(
    reference(FONTS[name], text, features).map(({ g, ax, dx, dy }) => ({ glyph: g, xAdvance: ax, xOffset: dx, yOffset: dy })),
  );
});

test('a line is drawn where its glyphs stand', () => {
  const sfnt = readFont('gochiHand');
  const [one, two] = [shapeLine(sfnt, 0, 'H'), shapeLine(sfnt, 0, 'HH')];
  const numbers = (path: string): number[] => (path.match(/-?[\d.]+/g) ?? []).map(Number);
  const [first, both] = [numbers(one.path), numbers(two.path)];
  expect(both.slice(0, first.length)).toEqual(first);
  const second = both.slice(first.length);
  second.forEach((v, i) => expect(v - first[i]!).toBeCloseTo(i % 2 === 0 ? two.glyphs[0]!.xAdvance : 0, 3));
});

test('a face without a usable character map is refused in words', () => {
  expect(shapingRefusal(readFont('gochiHand'), 0)).toBeNull();
  expect(shapingRefusal(new Uint8Array(100), 0)).toMatch(/HarfBuzz/);
});

test('left and right of the ink are those of the outline', () => {
  const face = openShaper(readFont('gochiHand'), 0);
  const { glyph } = face.shape('H')[0]!;
  const xs = (shapeLine(readFont('gochiHand'), 0, 'H').path.match(/-?[\d.]+/g) ?? []).map(Number).filter((_, i) => i % 2 === 0);
  const ink = face.inkOf(glyph)!;
  expect([Math.round(ink.left), Math.round(ink.right)]).toEqual([Math.round(Math.min(...xs)), Math.round(Math.max(...xs))]);
  expect(face.inkOf(face.shape(' ')[0]!.glyph)).toBeNull();
});
