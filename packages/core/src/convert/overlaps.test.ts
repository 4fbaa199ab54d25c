import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCodec, nodePaths, nodeSubsetter } from '@orderly-glyph/node';
import { faceOf } from '../../test/face.js';
import { readFont } from '../../test/fonts.js';
import { Builder, type Face } from '../font/index.js';
import { areaOf, ContourPen, sameInk, type Contour, type Pen } from '../outline/index.js';
import { writeSfnt } from '../sfnt/index.js';
import { OVERLAPS } from './steps/overlaps.js';
import { recipeFor, render } from './index.js';

const tools = { codec: nodeCodec, subsetter: await nodeSubsetter(), paths: await nodePaths() };
const dir = mkdtempSync(join(tmpdir(), 'overlaps-'));
afterAll(() => rmSync(dir, { recursive: true }));
const ots = (bytes: Uint8Array): number | null => {
  writeFileSync(join(dir, 'ots'), bytes);
  return spawnSync('ots-sanitize', [join(dir, 'ots')]).status;
};
const rectangle = (x: number, y: number, w: number, h: number, turn = false): Contour => {
  const corners = [
    [x + w, y],
    [x + w, y + h],
    [x, y + h],
  ];
  return { start: [x, y], segments: turn ? corners.reverse() : corners };
};
const contoursOf = (face: Face, glyph: number): Contour[] => {
  const pen = new ContourPen();
  face.draw(glyph, pen);
  pen.closePath();
  return pen.contours;
};
const area = (contours: readonly Contour[]): number => contours.reduce((sum, c) => sum + areaOf(c), 0);

test('two bars that cross become one outline, and a hole stays one', () => {
  const cross = tools.paths.unite([rectangle(0, 40, 100, 20), rectangle(40, 0, 20, 100)], 1000)!;
  // Twelve corners; 2000 + 2000 - 400 square units.
  expect([cross.length, cross[0]!.segments.length + 1, Math.round(area(cross))]).toEqual([1, 12, 3600]);
  const ring = tools.paths.unite([rectangle(0, 0, 100, 100), rectangle(20, 20, 60, 60, true), rectangle(90, 0, 50, 50)], 1000)!;
  expect([ring.length, Math.round(area(ring))]).toEqual([2, 10_000 - 3600 + 40 * 50]);
  expect(tools.paths.unite([], 1000)).toEqual([]);
});

test('the ink of two outlines is compared and not their contours', () => {
  const bars = [rectangle(0, 400, 1000, 200), rectangle(400, 0, 200, 1000)];
  const cross = tools.paths.unite(bars, 1000)!;
  expect(sameInk(bars, cross, 1)).toBe(true);
  // A side half a unit off is the same; a lost bar, a filled corner and a hole are not.
  expect(sameInk(bars, [...cross, rectangle(0, 399.5, 1000, 200.5)], 1)).toBe(true);
  expect(sameInk(bars, [bars[0]!], 1)).toBe(false);
  expect(sameInk(bars, [...cross, rectangle(600, 600, 60, 60)], 1)).toBe(false);
  expect(sameInk(bars, [...cross, rectangle(440, 440, 120, 120, true)], 1)).toBe(false);
  expect(sameInk(bars, [], 1)).toBe(false);
});

test('an instance of a variable face has no overlaps afterwards, the same ink, advances and features', () => {
  const letters = [...'ABÇQØgk&%@é€'].map((c) => c.codePointAt(0)!);
  const cut = tools.subsetter.subset(readFont('serifVariable'), 0, letters);
  const plain = render(cut, 0, recipeFor(faceOf(cut), 'ttf', { to: 'ttf', at: 'wght=700' }), tools);
  const made = render(cut, 0, recipeFor(faceOf(cut), 'ttf', { to: 'ttf', at: 'wght=700', unite: true }), tools);
  expect([made.comparison.equal, made.comparison.differences, ots(made.bytes)]).toEqual([true, [], 0]);
  let changed = 0;
  for (let glyph = 0; glyph < plain.face.glyphCount; glyph++) {
    const [before, after] = [contoursOf(plain.face, glyph), contoursOf(made.face, glyph)];
    if (JSON.stringify(before) === JSON.stringify(after)) continue;
    changed++;
    // Nothing is left to unite: the sum of the areas is the ink, and outer contours run clockwise in TrueType.
    const united = tools.paths.unite(after, 1000)!;
    expect(Math.abs(area(united) + area(after))).toBeLessThan(60);
    expect(area(after)).toBeLessThan(0);
  }
  expect(changed).toBeGreaterThan(3);
});

test('glyphs without overlaps stay byte for byte, and a face with cubic outlines is mended in its own kind', () => {
  const draw = (contours: readonly Contour[]) => (pen: Pen) => {
    for (const c of contours) {
      pen.moveTo(...c.start);
      for (const s of c.segments) pen.lineTo(s[0]!, s[1]!);
      pen.closePath();
    }
  };
  for (const outlines of ['glyf', 'CFF'] as const) {
    const builder = new Builder({ outlines, names: { 1: 'Crossed' }, direction: 'as drawn' });
    const turned = outlines === 'glyf';
    builder.add({ name: '.notdef', codePoints: [], advance: 500, draw: null });
    builder.add({
      name: 'plus',
      codePoints: [0x2b],
      advance: 600,
      draw: draw([rectangle(0, 200, 500, 100, turned), rectangle(200, 0, 100, 500, turned)]),
    });
    builder.add({ name: 'minus', codePoints: [0x2d], advance: 700, draw: draw([rectangle(0, 200, 500, 100, turned)]) });
    const bytes = writeSfnt(builder.build());
    const { face, comparison, bytes: out } = render(bytes, 0, [{ step: 'overlaps', options: {} }], tools);
    expect([comparison.equal, ots(out), face.outlineKind]).toEqual([true, 0, outlines]);
    expect([contoursOf(face, 1).length, Math.abs(area(contoursOf(face, 1)))]).toEqual([1, 90_000]);
    expect(contoursOf(face, 2)).toEqual(contoursOf(faceOf(bytes), 2));
    expect([0, 1, 2].map((g) => face.advances!.advanceWidth(g))).toEqual([500, 600, 700]);
    // What the proof is for: ink that is gone is no other way of drawing the same.
    const lost = new Builder({ outlines, names: { 1: 'Crossed' }, direction: 'as drawn' });
    lost.add({ name: '.notdef', codePoints: [], advance: 500, draw: null });
    lost.add({ name: 'plus', codePoints: [0x2b], advance: 600, draw: draw([rectangle(0, 200, 500, 100, turned)]) });
    lost.add({ name: 'minus', codePoints: [0x2d], advance: 700, draw: draw([rectangle(0, 200, 500, 100, turned)]) });
    expect(OVERLAPS.prove(faceOf(bytes), faceOf(writeSfnt(lost.build())), {}).differences.join()).toMatch(/ink of glyph 1/);
  }
});

test('a variable face and a drawing without outlines are refused in words', () => {
  expect(() => OVERLAPS.run({ face: faceOf(readFont('serifVariable')), format: 'ttf', bytes: new Uint8Array() }, {}, tools)).toThrow(
    /variable/,
  );
});
