import { faceOf } from '../../test/face.js';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { readFont } from '../../test/fonts.js';
import type { Polygon } from '../outline/index.js';
import { formOf } from './kind.js';
import { isSure, KINDS, SURE, type Kind } from '../kinds/index.js';
import { judgeKind, MEASURES, measure, readLetters, type Letters } from './index.js';

/**
 * Measures of faces of families the model never saw, with their kind as the metadata of the matching @fontsource packages
 * has it (scripts/train-shapes.mjs says how they were taken).
 */
const samples = (
  JSON.parse(gunzipSync(readFileSync(join(process.cwd(), 'packages/core/test/shape-samples.json.gz'))).toString('utf8')) as {
    kinds: { id: string; weight: number; kind: string; values: (number | null)[] }[];
  }
).kinds;
const FORMS = new Set<string>(KINDS);
const held = samples.filter((s) => FORMS.has(s.kind));
const answers = held.map((s) => {
  const { value, confidence } = formOf(s.values.map((v) => v ?? NaN));
  return { id: s.id, right: value === s.kind, confidence, kind: s.kind as Kind };
});
const share = (list: readonly { right: boolean }[]): number => list.filter((a) => a.right).length / list.length;

test('forms of unseen families are right in at least 94%', () => {
  expect(new Set(held.map((s) => s.id)).size).toBeGreaterThan(150);
  expect(share(answers)).toBeGreaterThanOrEqual(0.94);
});

test.each(KINDS)('%s is not bought with another kind', (kind) => {
  const own = answers.filter((a) => a.kind === kind);
  // Families of symbols are few; one of them more or less makes a sixth.
  expect(own.length).toBeGreaterThan(5);
  expect(share(own)).toBeGreaterThan(kind === 'symbols' ? 0.6 : 0.8);
});

test('confidence means something: what is not sure is wrong far more often', () => {
  const unsure = answers.filter((a) => !isSure(a.confidence));
  const sure = answers.filter((a) => isSure(a.confidence));
  expect(share(sure)).toBeGreaterThan(share(answers));
  expect(share(unsure)).toBeLessThan(0.85);
  expect(sure.length / answers.length).toBeGreaterThan(0.87);
  // How far is too far is the 97th percentile of one half of these families (by the MD5 of their name); this is the other.
  // SURE was chosen with both halves in view, so this keeps what was reached and is no measurement on unseen families.
  const other = sure.filter((a) => createHash('md5').update(a.id).digest()[0]! % 2 === 1);
  expect(other.length).toBeGreaterThan(100);
  expect(other.filter((a) => !a.right).length).toBeLessThanOrEqual(1);
});

/** A face whose every stroke is a row of dots along the outlines of another. */
function dotted(letters: Letters, diameter: number): Letters {
  const drawn = new Map(
    [...letters.drawn].map(([c, letter]) => {
      const polygons = letter.polygons.flatMap((polygon) => {
        const dots: Polygon[] = [];
        let left = 0;
        for (let i = 0; i < polygon.length; i += 2) {
          const [x, y] = [polygon[i]!, polygon[i + 1]!];
          const [u, v] = [polygon[(i + 2) % polygon.length]!, polygon[(i + 3) % polygon.length]!];
          const length = Math.hypot(u - x, v - y);
          for (; left < length; left += diameter * 1.3) {
            const [cx, cy] = [x + ((u - x) * left) / length, y + ((v - y) * left) / length];
            dots.push(
              Array.from({ length: 12 }, (_, k) => [
                cx + (diameter / 2) * Math.cos((k * Math.PI) / 6),
                cy + (diameter / 2) * Math.sin((k * Math.PI) / 6),
              ]).flat() as Polygon,
            );
          }
          left -= length;
        }
        return dots;
      });
      return [
        c,
        { ...letter, polygons, segments: 8 * polygons.length, straightLength: 0, curveLength: polygons.length * Math.PI * diameter },
      ] as const;
    }),
  );
  return { ...letters, drawn };
}

test.each([30, 60, 90])('a face made of dots of %i units is of no kind the model knows, and it is not sure', (diameter) => {
  for (const name of ['notoSans', 'literata', 'gochiHand'] as const) {
    const letters = readLetters(faceOf(readFont(name)));
    expect(judgeKind(dotted(letters, (diameter * letters.unitsPerEm) / 1000)).confidence).toBeLessThan(SURE);
  }
});

const packages = join(process.cwd(), 'node_modules/@expo-google-fonts');
test('the samples are what the code measures today, for every family that is here', () => {
  const byId = new Map(samples.map((s) => [`${s.id}/${s.weight}`, s]));
  let compared = 0;
  for (const id of readdirSync(packages))
    for (const style of readdirSync(join(packages, id)).filter((d) => /^\d{3}\w+$/.test(d) && !d.includes('Italic'))) {
      const sample = byId.get(`${id}/${style.slice(0, 3)}`);
      const file = existsSync(join(packages, id, style)) && readdirSync(join(packages, id, style)).find((f) => f.endsWith('.ttf'));
      if (!sample || !file) continue;
      const { values } = measure(readLetters(faceOf(new Uint8Array(readFileSync(join(packages, id, style, file))))));
      sample.values.forEach((v, i) => {
        if (v === null) expect([MEASURES[i], Number.isFinite(values[i])]).toEqual([MEASURES[i], false]);
        else expect(Math.abs(values[i]! - v)).toBeLessThan(0.002 + Math.abs(v) * 0.002);
      });
      compared++;
    }
  expect(compared).toBeGreaterThan(0);
});

test.each([
  ['literata', 'serif'],
  ['notoSans', 'sans'],
  ['notoMono', 'monospaced'],
  ['gochiHand', 'handwriting'],
  ['didot', 'serif'],
] as const)('%s is %s', (name, kind) => {
  const found = judgeKind(readLetters(faceOf(readFont(name))));
  expect([found.value, isSure(found.confidence)]).toEqual([kind, true]);
});

test('numbers of the shape are those of the letters', () => {
  const { numbers } = judgeKind(readLetters(faceOf(readFont('notoSans'))));
  // OS/2 of Noto Sans gives an x-height of 536 and capitals of 714.
  expect(numbers.xHeightRatio).toBeCloseTo(536 / 714, 2);
  expect(numbers.slant).toBe(0);
  expect(numbers.stemWeight).toBeGreaterThan(0.1);
  const italic = judgeKind(readLetters(faceOf(new Uint8Array(readFileSync('/usr/share/fonts/truetype/noto/NotoSans-Italic.ttf')))));
  // post.italicAngle of Noto Sans Italic is -12 degrees.
  expect(italic.numbers.slant).toBeCloseTo(12, 0);
});

test.each(['NotoSansKhmer', 'NotoNaskhArabic', 'NotoSansSyriac', 'NotoSansTamil', 'NotoSerifDevanagari', 'NotoSerifTibetan'])(
  '%s has letters of another script: it is not called symbols, and nothing is sure',
  (name) => {
    const file = `/usr/share/fonts/truetype/noto/${name}-Regular.ttf`;
    const found = judgeKind(readLetters(faceOf(new Uint8Array(readFileSync(file)))));
    expect([found.value, !isSure(found.confidence)]).toEqual(['sans', true]);
  },
);
