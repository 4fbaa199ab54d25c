import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { faceOf } from '../../test/face.js';
import { FONTS, readFont } from '../../test/fonts.js';
import { python } from '../../test/python.js';
import { FontError } from '../sfnt/index.js';
import {
  answerOf,
  areTwins,
  composeWord,
  decodeShapes,
  editPicture,
  encodeShapes,
  findInk,
  groupsOf,
  inkOf,
  levelLadder,
  linesOf,
  takeApart,
  type Found,
  type PictureEdit,
} from './index.js';

interface Looked {
  letters: number;
  first: string;
  sureness: string;
  stretch: number;
  slant: number;
  turn: number;
  blur: number;
  scale: number;
  cut: number;
}

describe('words set by Skia in ten faces and spoiled as pictures are', () => {
  const seen = JSON.parse(
    execFileSync(process.execPath, [join('packages/core/test/pictures.mjs')], { encoding: 'utf8', maxBuffer: 1 << 26, timeout: 300_000 }),
  ) as {
    found: (Looked & { face: string; text: string; spoil: number })[];
    absent: (Looked & { face: string })[];
    lines: number[];
    guesses: string[];
    softness: [number, number, number];
    traced: number;
    noisy: { ink: [number, number, number]; parts: number; specks: number };
    bytes: number[];
  } & Record<'narrowed' | 'slanted' | 'upright' | 'joined' | 'touching' | 'few' | 'dirty' | 'turned' | 'accents', Looked>;

  test('are found first, whatever their size, softness, colors and turn, and never surely another', () => {
    expect(seen.found).toHaveLength(40);
    expect(seen.found.filter((f) => f.first !== f.face)).toEqual([]);
    expect(seen.found.filter((f) => f.sureness === 'surely').length).toBeGreaterThanOrEqual(28);
  });
  test('are none of ours where their face is not among them', () => {
    expect(seen.absent.map((a) => [a.face, a.sureness]).filter(([, s]) => s === 'surely' || s === 'probably')).toEqual([]);
    expect(seen.absent.filter((a) => a.sureness === 'none').length).toBeGreaterThanOrEqual(8);
  });
  test('are said to be narrowed, slanted and turned by as much as they were', () => {
    // Narrowed to 88%, leaning by 0.18 of the height, turned by two degrees.
    expect([seen.narrowed.first, seen.narrowed.stretch]).toEqual(['atkinson', expect.closeTo(0.88, 2)]);
    expect([seen.slanted.first, seen.slanted.slant]).toEqual(['vietnam', expect.closeTo(0.18, 2)]);
    expect(seen.turned.turn).toBeCloseTo((2 * Math.PI) / 180, 2);
    expect(Math.abs(seen.upright.slant)).toBeLessThan(0.01);
    expect(Math.abs(seen.upright.stretch - 1)).toBeLessThan(0.03);
  });
  test('letters that touch are cut apart to as many as the word has, and joined hands are compared as words', () => {
    expect(seen.touching).toMatchObject({ first: 'young', letters: 7 });
    expect(seen.touching.cut).toBeGreaterThan(0.3);
    expect(seen.joined.first).toBe('caveat');
  });
  test('two letters are never surely anything, and specks are no letters', () => {
    expect(seen.few.sureness).not.toBe('surely');
    expect(seen.dirty).toMatchObject({ first: 'literata', letters: 8, sureness: 'surely' });
  });
  test('letters with accents that nobody is indexed by are compared without them', () => {
    expect(seen.accents).toMatchObject({ first: 'noto', letters: 7 });
  });
  test('lines come apart, dots go with their letters, and shapes are guessed', () => {
    expect(seen.lines).toEqual([5, 4]);
    expect(seen.guesses[0]).toBe('Hamburg');
    expect([...seen.guesses[1]!].filter((c, i) => c === 'Foxtrend'[i]).length).toBeGreaterThanOrEqual(7);
  });
  test('softness is measured to a third of a px, and tracing covers what is there', () => {
    const [sharp, one, two] = seen.softness;
    expect(sharp).toBeLessThan(0.6);
    expect(Math.abs(one - 1)).toBeLessThan(0.35);
    expect(Math.abs(two - 2)).toBeLessThan(0.35);
    expect(seen.traced).toBeGreaterThan(0.975);
  });
  test('a few small letters in a large noisy picture are its ink, and noise alone breaks nothing', () => {
    expect(seen.noisy.ink.map((v, i) => Math.abs(v - [0x40, 0x10, 0x20][i]!) < 24)).toEqual([true, true, true]);
    expect(seen.noisy.parts).toBe(8);
    expect(seen.noisy.specks).toBe(400);
  });
  test('a face of Latin alone takes about 20 KB', () => {
    // Gochi Hand, Young Serif, Atkinson, its bold and Be Vietnam Pro; the others write Greek or Cyrillic as well.
    for (const i of [1, 3, 4, 5, 6]) expect(Math.abs(seen.bytes[i]! - 20_000)).toBeLessThan(5_000);
  });
});

describe('shapes of a face', () => {
  const bytes = encodeShapes(faceOf(readFont('literata')))!;
  const shapes = decodeShapes(bytes);
  test('have the boxes and advances that fontTools measures, in thousandths of the em', () => {
    const theirs = python<Record<string, [number, number, number, number, number]>>(`
from fontTools.ttLib import TTFont
from fontTools.pens.boundsPen import BoundsPen
f = TTFont(${JSON.stringify(FONTS.literata)}); glyphs = f.getGlyphSet(); cmap = f.getBestCmap(); k = 1000 / f['head'].unitsPerEm; out = {}
for c in 'AgRq8&i':
    pen = BoundsPen(glyphs); glyphs[cmap[ord(c)]].draw(pen); b = [v * k for v in pen.bounds]
    out[c] = [f['hmtx'][cmap[ord(c)]][0] * k, b[0], b[1], b[2] - b[0], b[3] - b[1]]
print(json.dumps(out))`);
    for (const [c, [advance, x, y, w, h]] of Object.entries(theirs)) {
      const own = shapes.letters.get(c.codePointAt(0)!)!;
      for (const [a, b] of [
        [own.advance, advance],
        [own.xMin, x],
        [own.yMin, y],
        [own.width, w],
        [own.height, h],
      ] as const)
        expect([c, Math.abs(a - b) <= 2]).toEqual([c, true]);
    }
  });
  test('rasters are the ink of the outlines, and outlines come back within their box', () => {
    for (const c of 'gO') {
      const own = shapes.letters.get(c.codePointAt(0)!)!;
      const ink = [...own.raster].reduce((s, v) => s + (v >> 4) + (v & 15), 0) / (15 * 256);
      let area = 0;
      for (const p of own.polygons())
        for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
          area += (p[j]! * p[i + 1]! - p[i]! * p[j + 1]!) / 2;
          expect(p[i]).toBeGreaterThanOrEqual(own.xMin);
          expect(p[i]! - own.xMin).toBeLessThanOrEqual(own.width);
          expect(p[i + 1]! - own.yMin).toBeLessThanOrEqual(own.height);
        }
      expect(ink).toBeCloseTo(Math.abs(area) / (own.width * own.height), 1);
    }
  });
  test('bytes that are cut or damaged are refused or read, and nothing else is thrown', () => {
    for (let length = 0; length < bytes.length; length += 211)
      try {
        for (const l of decodeShapes(bytes.slice(0, length)).letters.values()) l.polygons();
      } catch (error) {
        expect(error).toBeInstanceOf(FontError);
      }
    expect(() => decodeShapes(Uint8Array.of(9, 0, 0))).toThrow(FontError);
    for (let i = 0; i < 400; i++) {
      const broken = bytes.slice();
      broken[(i * 97) % 3000] = (i * 41) & 255;
      try {
        for (const l of decodeShapes(broken).letters.values()) l.polygons();
      } catch (error) {
        expect(error).toBeInstanceOf(FontError);
      }
    }
  });
  test('twins are the same letters, also at another em, and a bolder face is none', () => {
    const other = decodeShapes(encodeShapes(faceOf(readFont('serifTtf')))!);
    const same = decodeShapes(encodeShapes(faceOf(readFont('serifOtf')))!);
    const letters = [...'Hamburg'].map((c) => c.codePointAt(0)!);
    expect(areTwins(same, other, letters)).toBe(true);
    expect(areTwins(shapes, other, letters)).toBe(false);
    expect(areTwins(shapes, other, [0x4e00])).toBe(false);
  });
  test('a word stands by its advances, and a face without a letter of it has none', () => {
    const word = composeWord(shapes, 'ab')!;
    const [a, b] = ['a', 'b'].map((c) => shapes.letters.get(c.codePointAt(0)!)!);
    expect([word.xMin, word.xMin + word.width]).toEqual([a!.xMin, a!.advance + b!.xMin + b!.width]);
    expect(composeWord(shapes, 'a中')).toBeNull();
  });
});

/** A picture of `#` for ink and anything else for ground. */
function drawn(rows: readonly string[], ink: readonly number[] = [0, 0, 0], ground: readonly number[] = [255, 255, 255]) {
  const [width, height] = [rows[0]!.length, rows.length];
  const data = new Uint8ClampedArray(4 * width * height);
  rows.forEach((row, y) => [...row].forEach((c, x) => data.set([...(c === '#' ? ink : ground), 255], 4 * (y * width + x))));
  return { width, height, data };
}
const shown = (values: Float32Array, width: number): string[] => {
  const out: string[] = [];
  for (let i = 0; i < values.length; i += width) out.push(Array.from(values.subarray(i, i + width), (v) => (v > 0.5 ? '#' : '.')).join(''));
  return out;
};

describe('a picture', () => {
  const ROWS = ['............', '.###....##..', '.#.#....##..', '.###........', '............', '..........#.', '............'];
  test('has the same ink whatever its colors', () => {
    for (const [ink, ground] of [
      [
        [0, 0, 0],
        [255, 255, 255],
      ],
      [
        [240, 230, 200],
        [20, 60, 40],
      ],
      [
        [200, 30, 30],
        [30, 30, 120],
      ],
    ] as const)
      expect(shown(findInk(drawn(ROWS, ink, ground)).field.values, 12)).toEqual(ROWS.map((r) => r.replace(/[^#]/g, '.')));
  });
  test('colors that a person picks are taken, and the level moves where ink begins', () => {
    const gray = drawn(ROWS, [128, 128, 128]);
    expect(findInk(gray, { ink: [0, 0, 0] }).field.values.some((v) => v > 0.5)).toBe(false);
    expect(shown(findInk(gray, { ink: [0, 0, 0], level: 0.4 }).field.values, 12)).toEqual(ROWS);
  });
  test('specks are left out and pinholes filled, by their area', () => {
    const whole = editPicture(drawn(ROWS), []);
    expect(shown(inkOf(whole, { specks: 1 }).field.values, 12)[5]).toBe('............');
    expect(shown(inkOf(whole, { pinholes: 1 }).field.values, 12)[2]).toBe('.###....##..');
    expect(shown(inkOf(whole, { specks: 4 }).field.values, 12)[1]).toBe('.###........');
    expect(shown(inkOf(whole, {}).field.values, 12)).toEqual(ROWS);
    expect(levelLadder(whole, {}).map((l) => l.parts)).toEqual([3, 3, 3, 3, 3, 3, 3]);
  });
  test('edits are carried out one after another, and the picture itself stays', () => {
    const picture = drawn(ROWS);
    const before = [...picture.data];
    const after = (...edits: PictureEdit[]): string[] => {
      const edited = editPicture(picture, edits);
      return shown(inkOf(edited, { ink: [0, 0, 0], ground: [255, 255, 255] }).field.values, edited.picture.width);
    };
    expect(after({ edit: 'crop', x0: 1, y0: 1, x1: 4, y1: 4 })).toEqual(['###', '#.#', '###']);
    // Clockwise: what was left is on top.
    expect(after({ edit: 'crop', x0: 0, y0: 0, x1: 5, y1: 4 }, { edit: 'turn', degrees: 90 })).toEqual([
      '....',
      '###.',
      '#.#.',
      '###.',
      '....',
    ]);
    expect(
      after({ edit: 'corners', corners: [[8, 1], [10, 1], [10, 3], [8, 3]] }), // prettier-ignore
    ).toEqual(['##', '##']);
    expect(after({ edit: 'stroke', ink: false, radius: 0.6, points: [[10.5, 5.5]] })[5]).toBe('............'); // prettier-ignore
    expect(after({ edit: 'stroke', ink: true, radius: 0.6, points: [[0.5, 6.5], [2.5, 6.5]] })[6]).toBe('###.........'); // prettier-ignore
    expect(after({ edit: 'cut', from: [2.5, 0], to: [2.5, 4] }).slice(1, 4)).toEqual(['.#.#....##..', '.#.#....##..', '.#.#........']);
    // Marks go along when the picture is cut out afterwards.
    expect(after({ edit: 'stroke', ink: false, radius: 0.6, points: [[2.5, 1.5]] }, { edit: 'crop', x0: 1, y0: 1, x1: 4, y1: 3 })).toEqual(['#.#', '#.#']); // prettier-ignore
    expect([...picture.data]).toEqual(before);
    expect(() => editPicture(picture, [{ edit: 'crop', x0: 3, y0: 3, x1: 3, y1: 9 }])).toThrow('Nothing would be left');
    expect(() => editPicture(picture, [{ edit: 'corners', corners: [[0, 0], [1, 1], [2, 2], [3, 3]] }])).toThrow(FontError); // prettier-ignore
  });
  test('an empty one has no letters, and no more parts than a line may have', () => {
    expect(linesOf(takeApart(findInk(drawn(['........', '........', '........'])).field).parts)).toEqual([]);
    const dots = Array.from({ length: 60 }, (_, y) => Array.from({ length: 60 }, (__, x) => ((x + y) % 2 && y % 2 ? '#' : '.')).join(''));
    expect(takeApart(findInk(drawn(dots)).field).parts.length).toBeLessThanOrEqual(400);
  });
  test('parts over one another are one letter, parts beside one another are two', () => {
    // Dots a quarter as high as their stems.
    const rows = [
      '.......',
      ...new Array<string>(3).fill('..###..'),
      '.......',
      '.......',
      ...new Array<string>(12).fill('..###..'),
      '.......',
    ];
    const taken = takeApart(findInk(drawn(rows.map((r) => r.repeat(3)))).field);
    expect(groupsOf(taken.parts, linesOf(taken.parts)[0]!).map((g) => g.parts.length)).toEqual([2, 2, 2]);
  });
});

describe('an answer', () => {
  const shapes = decodeShapes(encodeShapes(faceOf(readFont('literata')))!);
  const other = decodeShapes(encodeShapes(faceOf(readFont('gochiHand')))!);
  const found = (item: string, score: number) => ({ item, score }) as Found<string>;
  const answer = (list: Found<string>[], letters = 'Orchard', tall = 40) =>
    answerOf(
      { found: list, blur: 1, tall },
      (i) => i.split(' ')[0]!,
      (i) => (i.startsWith('C') ? other : shapes),
      [...letters].map((c) => c.codePointAt(0)!),
    );
  test('puts siblings and twins with the face that they are like', () => {
    const { families } = answer([
      found('A one', 0.01),
      found('A two', 0.011),
      found('B one', 0.012),
      found('C one', 0.05),
      found('A far', 0.3),
    ]);
    expect(families.map((f) => [f.best.item, f.siblings.map((s) => s.item), f.twins.map((t) => t.item)])).toEqual([
      ['A one', ['A two'], ['B one']],
      ['C one', [], []],
    ]);
  });
  test('is sure only when little is left over, the next is far, and there are letters enough', () => {
    const near = (a: number, b: number, letters = 'Orchard'): string => answer([found('A', a), found('C', b)], letters).sureness;
    expect(near(0.008, 0.05)).toBe('surely');
    expect(near(0.008, 0.05, 'Oxo')).toBe('probably');
    expect(near(0.008, 0.0135)).toBe('probably');
    expect(near(0.03, 0.2)).toBe('probably');
    expect(near(0.03, 0.031)).toBe('nearest');
    expect(near(0.06, 0.5)).toBe('nearest');
    expect(near(0.09, 0.5)).toBe('none');
    expect(answer([]).sureness).toBe('none');
    // Beside nothing else nobody can say how near it is.
    expect(answer([found('A', 0.002)]).sureness).toBe('probably');
  });
});
