import { faceOf } from '../../test/face.js';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { readFont } from '../../test/fonts.js';
import { readLetters } from '../face/index.js';
import { describeLetters, distance, findDrawn, likenessOf, rankAlike, RAW_LENGTH, type Likeness } from './index.js';

/** Descriptors of faces of families the model never saw (scripts/train-shapes.mjs). */
const { asked, pool } = (
  JSON.parse(gunzipSync(readFileSync(join(process.cwd(), 'packages/core/test/shape-samples.json.gz'))).toString('utf8')) as {
    alike: Record<'asked' | 'pool', { id: string; weight: number; raw: string }[]>;
  }
).alike;
const located = (p: { id: string; raw: string }): { id: string; likeness: Likeness } => {
  const raw = new Float32Array(RAW_LENGTH);
  new Int8Array(Buffer.from(p.raw, 'base64')).forEach((v, i) => (raw[i] = v === -128 ? NaN : v / 127));
  return { id: p.id, likeness: likenessOf(raw)! };
};
const faces = pool.map(located);

test('another weight of the same family is among the first three of 300 in at least 95%', () => {
  expect(asked.length).toBeGreaterThanOrEqual(40);
  expect(faces.length).toBeGreaterThanOrEqual(300);
  let found = 0;
  for (const own of asked.map(located)) {
    const first = rankAlike(
      own.likeness,
      faces.map((f) => ({ item: f, likeness: f.likeness })),
    ).slice(0, 3);
    if (first.some((r) => r.item.id === own.id)) found++;
  }
  expect(found / asked.length).toBeGreaterThanOrEqual(0.95);
});

const likeness = (bytes: Uint8Array): Likeness => likenessOf(describeLetters(readLetters(faceOf(bytes))))!;

test('one face in two kinds of outlines is nearer to itself than to any other', () => {
  const [otf, ttf] = [likeness(readFont('serifOtf')), likeness(readFont('serifTtf'))];
  expect(distance(otf, ttf)).toBeLessThan(3);
  for (const name of ['literata', 'didot', 'notoSans', 'gochiHand'] as const)
    expect(distance(otf, likeness(readFont(name)))).toBeGreaterThan(3 * distance(otf, ttf));
  expect(distance(otf, ttf)).toBe(distance(ttf, otf));
});

test('a face with too few letters is nowhere in that space', () => {
  expect(likenessOf(new Float32Array(RAW_LENGTH).fill(NaN))).toBeNull();
  expect(likenessOf(describeLetters(readLetters(faceOf(readFont('khmer')))))).toBeNull();
});

describe('a drawn character is found', () => {
  /** Points along an arc, in a pad of 320 by 320, y down. */
  const arc = (cx: number, cy: number, rx: number, ry: number, from: number, to: number): number[] =>
    Array.from({ length: 25 }, (_, i) => from + ((to - from) * i) / 24).flatMap((a) => [cx + rx * Math.cos(a), cy + ry * Math.sin(a)]);
  const T = Math.PI * 2;
  const drawings: [string, number[][]][] = [
    ['€', [arc(170, 160, 90, 120, T * 0.1, T * 0.9), [40, 140, 210, 140], [40, 180, 210, 180]]],
    [
      '+',
      [
        [60, 160, 260, 160],
        [160, 60, 160, 260],
      ],
    ],
    ['8', [arc(160, 100, 50, 60, 0, T), arc(160, 225, 62, 65, 0, T)]],
    ['L', [[100, 40, 100, 280, 240, 280]]],
    [
      'A',
      [
        [60, 280, 160, 40, 260, 280],
        [95, 200, 225, 200],
      ],
    ],
    ['%', [arc(90, 90, 45, 55, 0, T), arc(235, 225, 45, 55, 0, T), [250, 40, 70, 280]]],
    ['?', [arc(160, 100, 60, 60, T * 0.5, T * 1.15).concat([160, 170, 160, 205]), [160, 262, 162, 264]]],
  ];
  const font = faceOf(readFont('notoSans'));
  test.each(drawings)('%s is among the nearest six', (character, strokes) => {
    const found = findDrawn(font, strokes, 26).map((f) => String.fromCodePoint(f.codePoint));
    // Signs that are drawn alike, such as Cyrillic А and Greek Α, count as one.
    const twins: Record<string, string> = { А: 'A', Α: 'A', Λ: 'A' };
    expect(found.slice(0, 6).map((c) => twins[c] ?? c)).toContain(character);
  });
  test('nothing drawn finds nothing', () => expect(findDrawn(font, [], 26)).toEqual([]));
});
