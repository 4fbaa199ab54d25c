import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { faceFrom, faceOf } from '../../test/face.js';
import { patch16, readFont } from '../../test/fonts.js';
import { changedSinceReview } from '../../test/reviewed.js';
import { outcome, smallFace } from '../../test/small-face.js';
import type { Face } from '../font/index.js';
import {
  compareVersions,
  decodeEmbedding,
  drawGlyph,
  faceKey,
  findDoubles,
  inspectFace,
  judgeKind,
  leadOrder,
  MEASURED,
  measure,
  nameFace,
  nameKey,
  newerFirst,
  opticalOrder,
  readLetters,
  readPrints,
  readRepertoire,
  relateGlyph,
  styleTable,
  versionKey,
  weightWord,
  widthWord,
  type DoubleCandidate,
  type FaceFacts,
  type Letters,
} from './index.js';

// Faces of the packages that the project depends on, so that they are the same wherever the tests run.
const PACKAGES = join(process.cwd(), 'node_modules/@expo-google-fonts');
const files = (name: string): string[] =>
  readdirSync(join(PACKAGES, name), { withFileTypes: true })
    .filter((d) => d.isDirectory() && /^\d/.test(d.name))
    .flatMap((d) =>
      readdirSync(join(PACKAGES, name, d.name))
        .filter((f) => f.endsWith('.ttf'))
        .map((f) => join(PACKAGES, name, d.name, f)),
    )
    .sort();
const WHOLE: [string, Face][] = [
  ...[
    'atkinson-hyperlegible-next',
    'be-vietnam-pro',
    'caveat',
    'gfs-didot',
    'gochi-hand',
    'literata',
    'noto-sans',
    'noto-sans-arabic',
    'young-serif',
  ]
    .flatMap((name) => files(name).filter((_, i) => i % 6 === 0))
    .map((path): [string, Face] => [path.slice(path.lastIndexOf('/') + 1), faceOf(new Uint8Array(readFileSync(path)))]),
  ...(['serifOtf', 'serifVariable', 'serifVariableOtf', 'devanagari', 'scheherazade'] as const).map((n): [string, Face] => [
    n,
    faceOf(readFont(n)),
  ]),
];
const SMALL: [string, Face][] = [
  ['glyf', smallFace('literata', 'Áfi 1')],
  ['CFF', smallFace('serifOtf', 'Áffi 1')],
  ['variable', smallFace('serifVariable', 'Á i')],
];

test('faces of packages are read, measured and judged as when last reviewed', () => {
  const read = WHOLE.map(
    ([name, face]) =>
      [name, outcome(() => [inspectFace(face), judgeKind(readLetters(face)), measure(readLetters(face)), readPrints(face)])] as const,
  );
  expect(read.length).toBeGreaterThan(14);
  expect(changedSinceReview('faces', read)).toEqual([]);
});

/** The letters of a face changed as a hand would change them. */
const changedLetters = (letters: Letters, how: (x: number, y: number) => [number, number], keep: (c: string) => boolean): Letters => ({
  ...letters,
  drawn: new Map(
    [...letters.drawn]
      .filter(([c]) => keep(c))
      .map(([c, letter]) => {
        const polygons = letter.polygons.map((p) => {
          const out = p.slice();
          for (let i = 0; i < p.length; i += 2) [out[i], out[i + 1]] = how(p[i]!, p[i + 1]!);
          return out;
        });
        const [xs, ys] = [0, 1].map((k) => polygons.flatMap((p) => [...p].filter((_, i) => i % 2 === k)));
        const bounds = { xMin: Math.min(...xs!), xMax: Math.max(...xs!), yMin: Math.min(...ys!), yMax: Math.max(...ys!) };
        return [c, { ...letter, polygons, bounds }];
      }),
  ),
});
test('letters that are stretched, lifted or missing are measured and judged as when last reviewed', () => {
  const ways: [string, (x: number, y: number) => [number, number], (c: string) => boolean][] = [
    ['wider', (x, y) => [x * 1.3, y], () => true],
    ['lower', (x, y) => [x, y * 0.7 - 20], () => true],
    ['turned', (x, y) => [y, x], () => true],
    ['without capitals', (x, y) => [x, y], (c) => c > 'Z'],
    ['without small letters', (x, y) => [x, y], (c) => c < 'a'],
    ['every third', (x, y) => [x, y], (c) => c.charCodeAt(0) % 3 === 0],
    ['thirty', (x, y) => [x, y], (c) => 'abcdefghijklmnopqrstuvwxyzABCD'.includes(c)],
    ['twenty-nine', (x, y) => [x, y], (c) => 'abcdefghijklmnopqrstuvwxyzABC'.includes(c)],
    ['nothing', (x, y) => [x, y], () => false],
  ];
  const read = WHOLE.filter((_, i) => i % 3 === 0).flatMap(([name, face]) => {
    const letters = readLetters(face);
    return ways.map(
      ([way, how, keep]) =>
        [`${name} ${way}`, outcome(() => [judgeKind, measure].map((of) => of(changedLetters(letters, how, keep))))] as const,
    );
  });
  // Without one letter, with one alone, and with one that is a dot.
  const single = WHOLE.filter((_, i) => i % 9 === 0).flatMap(([name, face]) => {
    const letters = readLetters(face);
    const same = (x: number, y: number): [number, number] => [x, y];
    return [...MEASURED].map((c) => {
      const dot = changedLetters(
        letters,
        (x, y) => [x / 1e4, y / 1e4],
        (k) => k === c,
      );
      const seen = [
        changedLetters(letters, same, (k) => k !== c),
        changedLetters(letters, same, (k) => k === c),
        { ...letters, drawn: new Map([...letters.drawn, ...dot.drawn]) },
        { ...letters, drawn: new Map([...letters.drawn].map(([k, l]) => [k, k === c ? { ...l, polygons: [] } : l])) },
      ];
      return [`${name} ${c}`, seen.map((l) => outcome(() => measure(l)))] as const;
    });
  });
  expect(changedSinceReview('letters', [...read, ...single])).toEqual([]);
});

/** Values at the edges of what fields may hold: table, offset of a 16-bit field, values. Offsets: OpenType specification. */
const FIELDS: [string, number, number[]][] = [
  ['head', 12, [0x5f0f, 0]],
  ['head', 18, [0, 1, 15, 16, 17, 1000, 16384, 16385, 0xffff]],
  ['head', 44, [0, 1, 2, 3, 32, 64]],
  ['head', 50, [0, 1, 2, 3, 0xffff]],
  ['hhea', 4, [0, 1, 900, 0x8000]],
  ['hhea', 6, [0, 1, 900, 0xff00, 0x8000]],
  ['hhea', 8, [0, 5, 20, 40, 100, 0xff9c]],
  ['hhea', 34, [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 500]],
  ['maxp', 4, [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 500]],
  ['OS/2', 0, [0, 1, 2, 3, 4, 5, 6]],
  ['OS/2', 4, [0, 1, 4, 9, 10, 100, 449, 451, 550, 551, 999, 1000, 1001]],
  ['OS/2', 6, [0, 1, 4, 5, 6, 9, 10]],
  ['OS/2', 8, [0, 1, 2, 4, 6, 8, 10, 12, 14, 0x100, 0x102, 0x200, 0x208, 0x304]],
  ['OS/2', 62, [0, 1, 0x20, 0x21, 0x40, 0x80, 0xc0, 0x180, 0x200, 0x241]],
  ['OS/2', 68, [0, 700, 0x8000]],
  ['OS/2', 72, [0, 20, 21, 200, 0x8000]],
  ['OS/2', 86, [0, 1, 500, 0x8000]],
  ['OS/2', 88, [0, 1, 700, 0x8000]],
  ['post', 0, [0, 1, 2, 3, 4]],
  ['post', 4, [0, 1, 2, 0xfffe, 0xffff, 0xfff4]],
  ['post', 12, [0, 1]],
  ['post', 14, [0, 1]],
  ['fvar', 4, [0, 16, 17]],
  ['fvar', 8, [0, 1, 2, 3, 100]],
  ['fvar', 12, [0, 1, 9, 100]],
];
const told = (face: Face): unknown =>
  outcome(() => {
    const facts = inspectFace(face);
    return [facts, nameFace(facts, 'some/File-Bold.ttf'), faceKey(facts, 'some/File.ttf'), outcome(() => readPrints(face))];
  });
test('fields at the edges of what they may hold are told of as when last reviewed', () => {
  const without = (face: Face, ...tags: string[]): Face =>
    faceFrom({ ...face.font, tables: new Map([...face.font.tables].filter(([tag]) => !tags.includes(tag))) });
  const bare = SMALL.slice(0, 2).flatMap(([name, face]): [string, Face][] => [
    [`${name} without OS/2`, without(face, 'OS/2')],
    [`${name} without post and names`, without(face, 'post', 'name')],
  ]);
  const read = [...SMALL, ...bare].flatMap(([name, face]) =>
    FIELDS.filter(([tag]) => face.has(tag)).flatMap(([tag, offset, values]) =>
      values.map((value) => {
        const tables = new Map(face.font.tables).set(tag, patch16(face.bytes(tag)!, offset, value));
        return [`${name} ${tag} ${offset} ${value}`, told(faceFrom({ ...face.font, tables }))] as const;
      }),
    ),
  );
  expect(changedSinceReview('fields', read)).toEqual([]);
});

test('faces without a table, with a table cut short or with a byte changed are told of as when last reviewed', () => {
  const read = SMALL.flatMap(([name, face]) =>
    [...face.font.tables].map(([tag, data]) => {
      const cut = [0, 1, 2, 4, 10, Math.floor(data.length / 2), data.length - 4, data.length - 1].map((n) => data.slice(0, Math.max(0, n)));
      const step = Math.max(1, Math.ceil(data.length / 24));
      const bent = Array.from({ length: Math.ceil(data.length / step) }, (_, i) => {
        const copy = data.slice();
        copy[i * step] = [copy[i * step]! + 1, 0xff, copy[i * step]! ^ 0x80, 0][i % 4]!;
        return copy;
      });
      const without = new Map(face.font.tables);
      without.delete(tag);
      const seen = [without, ...[...cut, ...bent].map((d) => new Map(face.font.tables).set(tag, d))].map((tables) =>
        told(faceFrom({ ...face.font, tables })),
      );
      return [`${name} ${tag}`, seen] as const;
    }),
  );
  expect(changedSinceReview('faces-damaged', read)).toEqual([]);
});

test('names of every shape are read as when last reviewed', () => {
  const base = inspectFace(SMALL[0]![1]);
  const nobody: Partial<FaceFacts> = {
    family: null,
    subfamily: null,
    typographicFamily: null,
    typographicSubfamily: null,
    fullName: null,
    postScriptName: null,
  };
  const families = [
    null,
    'Plot',
    'Plot Bold',
    'Plot Semi Bold',
    'PlotSemiBold',
    'Plot_Extra-Light',
    'Plot Condensed',
    'Plot Extra Condensed Black',
    'Plot Old Italic',
    'Bold',
    'SemiBold',
    'Plot Caption',
    'Plot Display Thin Oblique',
    'Plot Extra',
    ' \u0007Plot\u200b ',
    'P'.repeat(200),
    'P'.repeat(201),
    'Plot Regular',
    'Plot Ultra',
    'Plot  Light',
  ];
  const styles = [
    null,
    'Regular',
    'Bold',
    'Italic',
    'Bold Italic',
    'Semi Bold',
    'ExtraLight Oblique',
    'Condensed Medium',
    'Display Black',
    'Book',
    'Rounded',
    'B'.repeat(201),
    'Roman',
    'Thin',
  ];
  const bodies: Partial<FaceFacts>[] = [
    { weightClass: 400 },
    { weightClass: 700, italic: true },
    { weightClass: 5, italicAngle: -12 },
    { weightClass: 0, widthClass: 0 },
    { weightClass: 1001, widthClass: 10, oblique: true },
    { weightClass: 551, widthClass: 3, italicAngle: 2 },
    { weightClass: 250, widthClass: 9, italicAngle: -1.9 },
    { weightClass: 9, axes: [{ tag: 'wght', min: 100, default: 400, max: 900, name: null, hidden: false }] },
    { weightClass: 10, axes: [{ tag: 'wdth', min: 75, default: 100, max: 125, name: null, hidden: false }], italicAngle: -8 },
  ];
  const read = families.flatMap((family, f) =>
    styles.map((subfamily) => {
      const seen = bodies.flatMap((body) => [
        nameFace({ ...base, ...nobody, ...body, family, subfamily }, 'fonts/Plot-BoldItalic.ttf'),
        nameFace({ ...base, ...nobody, ...body, typographicFamily: family, typographicSubfamily: subfamily, family: 'Other' }, 'a.ttf'),
        nameFace({ ...base, ...nobody, ...body, wwsFamily: family, wwsSubfamily: subfamily }, ''),
        nameFace({ ...base, ...nobody, ...body, fullName: family && `${family} ${subfamily}` }, 'x'),
        nameFace({ ...base, ...nobody, ...body, postScriptName: family && `${family.replace(/ /g, '')}-${subfamily}` }, 'x'),
      ]);
      return [`${f} ${family?.slice(0, 30)} / ${subfamily?.slice(0, 20)}`, seen] as const;
    }),
  );
  const words = [
    ['weights', Array.from({ length: 110 }, (_, i) => weightWord(i * 10))],
    ['widths', Array.from({ length: 12 }, (_, i) => widthWord(i))],
    ['optical', [null, 'Caption', 'Small Text', 'Text', 'Subhead', 'Display', 'Poster', 'Other'].map(opticalOrder)],
    ['embedding', Array.from({ length: 0x400 }, (_, bits) => decodeEmbedding(bits, bits % 5))],
    ['keys', ['Plot', 'plot-1', 'Ünï', '!', '', '日本'].map(nameKey)],
    [
      'versions',
      [null, '', '1', '1.0', '01.003', 'Version 2.10;x', '10', 'x2.y3', '0.9'].flatMap((v, _, all) => [
        versionKey(v),
        all.map((w) => Math.sign(newerFirst(v, w))),
      ]),
    ],
  ] as const;
  expect(changedSinceReview('namings', [...read, ...words])).toEqual([]);
});

test('doubles, leading files and tables of styles are found as when last reviewed', () => {
  let seed = 7;
  const random = (n: number): number => (seed = (1664525 * seed + 1013904223) >>> 0) % n;
  const one = (i: number): DoubleCandidate => ({
    id: `f${i}`,
    cell: `c${random(6)}`,
    version: [null, '1.0', '1.1', 'Version 2.000', '0.9', 'x'][random(6)]!,
    axes: ['', 'wght', ''][random(3)]!,
    codePoints: [0, 100, 101, 250][random(4)]!,
    prints:
      random(4) === 0
        ? null
        : {
            all: `a${random(5)}`,
            basic: random(3) === 0 ? null : `b${random(4)}`,
            traits: {
              color: `${random(2)}`,
              features: `${random(2)}`,
              hinting: `${random(2)}`,
              metrics: `${random(2)}`,
              names: `${random(2)}`,
            },
          },
  });
  const found = Array.from(
    { length: 40 },
    (_, k) => [`doubles ${k}`, findDoubles(Array.from({ length: 2 + (k % 14) }, (_u, i) => one(i)))] as const,
  );
  const tables = Array.from({ length: 20 }, (_, k) => {
    const faces = Array.from({ length: 3 + k }, (_u, i) => ({
      id: `${i}`,
      style: `s${i}`,
      variable: random(6) === 0,
      weightClass: [400, 700, 250, 900][random(4)]!,
      widthClass: [5, 3, 7][random(3)]!,
      slope: (['upright', 'italic', 'oblique'] as const)[random(3)]!,
      opticalSize: [null, 'Caption', 'Display', 'Odd', 'Even'][random(5)]!,
    }));
    return [`styles ${k}`, styleTable(faces)] as const;
  });
  const formats = ['otf', 'ttf', 'ttc', 'woff2', 'woff', 'eot', 'svg'] as const;
  const order = formats.flatMap((a) =>
    formats.map((b) =>
      [0, 98, 99, 100, 101, 102, 103, 200].map((n) => Math.sign(leadOrder({ format: a, codePoints: 100 }, { format: b, codePoints: n }))),
    ),
  );
  expect(changedSinceReview('doubles', [...found, ...tables, ['lead', order]])).toEqual([]);
});

test('what is told of single glyphs and of versions is as when last reviewed', () => {
  const kerned: [string, Face][] = [
    ...SMALL,
    ['Devanagari', smallFace('devanagari', 'क्षि')],
    ['pairs', smallFace('literata', 'AVTo.fil')],
    ['a hand', smallFace('gochiHand', 'aA.')],
  ];
  const read = kerned.map(([name, face]) => {
    const glyphs = Array.from({ length: Math.min(face.glyphCount + 1, 30) }, (_, g) =>
      outcome(() => [drawGlyph(face, g), relateGlyph(face, g, [0x41, 0x66, 0x915, null][g % 4]!)]),
    );
    return [name, [outcome(() => readRepertoire(face)), glyphs, kerned.map(([, other]) => compareVersions(face, other))]] as const;
  });
  expect(changedSinceReview('single-glyphs', read)).toEqual([]);
});
