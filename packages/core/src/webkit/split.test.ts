import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import { faceOf } from '../../test/face.js';
import { readFont } from '../../test/fonts.js';
import { recipeFor, render, runsOfLanguages, runsOfRanges } from '../convert/index.js';
import { splitForLanguages, unicodeRangeOf } from './index.js';

const tools = { codec: nodeCodec, subsetter: await nodeSubsetter() };
const noto = readFont('notoSans');
const face = faceOf(noto);
const members = (runs: readonly number[]): number[] => {
  const out: number[] = [];
  for (let i = 0; i < runs.length; i += 2) for (let c = runs[i]!; c <= runs[i + 1]!; c++) out.push(c);
  return out;
};
const size = (runs: readonly number[]): number => render(noto, 0, recipeFor(face, 'ttf', { to: 'woff2', runs }), tools).bytes.length;

test('no character is in two files, and each language finds all of its own in those that name it', () => {
  const tags = ['pl', 'de', 'el', 'vi', 'uk', 'sr-Latn'];
  const parts = splitForLanguages(face, tags);
  const all = parts.flatMap((p) => members(p.runs));
  expect(new Set(all).size).toBe(all.length);
  for (const tag of ['pl', 'de', 'vi']) {
    const own = new Set(parts.filter((p) => p.languages.includes(tag)).flatMap((p) => members(p.runs)));
    expect(members(runsOfLanguages([tag])).filter((c) => face.glyphOf(c) !== 0 && !own.has(c))).toEqual([]);
  }
  // Greek pages load Greek letters and what all scripts share, and none of the Latin letters.
  const greek = parts.filter((p) => p.languages.includes('el'));
  expect(greek.map((p) => p.name).sort()).toEqual(['common', 'grek']);
  expect(greek.flatMap((p) => members(p.runs)).filter((c) => /\p{Script=Latin}/u.test(String.fromCodePoint(c)))).toEqual([]);
  expect(new Set(parts.map((p) => p.name)).size).toBe(parts.length);
});

test('one language is one file, and several of one script share what they share', () => {
  const [polish, ...none] = splitForLanguages(face, ['pl']);
  expect([none, polish!.languages, polish!.name]).toEqual([[], ['pl'], 'latn']);
  expect(members(polish!.runs)).toEqual(members(runsOfLanguages(['pl'])).filter((c) => face.glyphOf(c) !== 0));
  expect(splitForLanguages(face, ['xx-nothing'])).toEqual([]);
  // Many languages, and every file still has a name of its own.
  const many = splitForLanguages(face, ['pl', 'de', 'fr', 'cs', 'vi', 'cy', 'lt', 'tr', 'ro', 'el', 'uk', 'sr', 'bg', 'mk']);
  expect(new Set(many.map((p) => p.name)).size).toBe(many.length);
  // Two letters of one language are no reason for a file: there are fewer files than languages.
  expect(many.length).toBeLessThan(14);
});

test('a page in Polish loads a third at most of what the usual ranges of Latin come to', () => {
  // The ranges that hosts of web fonts commonly cut Latin into: common practice, from memory.
  const LATIN =
    'U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+0304,U+0308,U+0329,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212,U+2215';
  const EXTENDED =
    'U+0100-02BA,U+02BD-02C5,U+02C7-02CC,U+02CE-02D7,U+02DD-02FF,U+1D00-1DBF,U+1E00-1E9F,U+1EF2-1EFF,U+2020,U+20A0-20AB,U+20AD-20C0,U+2113,U+2C60-2C7F,U+A720-A7FF';
  const usual = size(runsOfRanges(LATIN)!) + size(runsOfRanges(EXTENDED)!);
  for (const tags of [['pl'], ['pl', 'de', 'el', 'vi']]) {
    const parts = splitForLanguages(face, tags).filter((p) => p.languages.includes('pl'));
    expect(parts.reduce((sum, p) => sum + size(p.runs), 0) / usual).toBeLessThan(1 / 3);
  }
});

test('ranges are written as CSS has them', () => {
  expect(unicodeRangeOf([0x20, 0x7e, 0xa0, 0xa0, 0x1f331, 0x1f332])).toBe('U+0020-007E, U+00A0, U+1F331-1F332');
  expect(runsOfRanges(unicodeRangeOf([0x20, 0x7e, 0xa0, 0xa0]))).toEqual([0x20, 0x7e, 0xa0, 0xa0]);
});
