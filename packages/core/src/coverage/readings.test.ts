import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { faceFrom, faceOf } from '../../test/face.js';
import { readFont } from '../../test/fonts.js';
import { changedSinceReview } from '../../test/reviewed.js';
import type { Face } from '../font/index.js';
import { CMAP, type CmapTable, type OpenTables } from '../sfnt/index.js';
import { languages } from '../unicode/index.js';
import { judgeCoverage, needsFor } from './index.js';

const PACKAGES = join(process.cwd(), 'node_modules/@expo-google-fonts');
/** The first face of a package that the project depends on: the same wherever the tests run. */
const packaged = (name: string): Face => {
  const folder = readdirSync(join(PACKAGES, name)).find((d) => d.startsWith('400Regular'))!;
  const file = readdirSync(join(PACKAGES, name, folder)).find((f) => f.endsWith('.ttf'))!;
  return faceOf(new Uint8Array(readFileSync(join(PACKAGES, name, folder, file))));
};
const FACES: [string, Face][] = [
  ...['be-vietnam-pro', 'caveat', 'gfs-didot', 'noto-sans', 'noto-sans-arabic', 'noto-sans-devanagari', 'young-serif'].map(
    (n): [string, Face] => [n, packaged(n)],
  ),
  ['serif', faceOf(readFont('serifOtf'))],
];

/** A face whose character map lacks some of its characters. */
function lacking(face: Face, lacks: (codePoint: number, i: number) => boolean): Face {
  const map = face.characters!;
  const kept = [...map.codePoints].map((c, i): [number, number] => [c, map.glyphs[i]!]).filter(([c], i) => !lacks(c, i));
  const table: CmapTable = {
    version: 0,
    encodingRecords: [{ platformID: 3, encodingID: 10, subtable: 0 }],
    subtables: [{ format: 12, language: 0, codePoints: Uint32Array.from(kept, ([c]) => c), glyphs: Uint16Array.from(kept, ([, g]) => g) }],
  };
  const none = { table: () => null } as unknown as OpenTables;
  return faceFrom({ ...face.font, tables: new Map(face.font.tables).set('cmap', CMAP.write(table, none)) });
}
const WAYS: [string, (c: number, i: number) => boolean][] = [
  ['whole', () => false],
  ['without hyphen', (c) => c === 0x2d],
  ['without hyphens', (c) => c === 0x2d || c === 0x2010 || c === 0x2011],
  ['without figures and signs', (c) => (c >= 0x30 && c <= 0x39) || (c >= 0x20a0 && c < 0x20d0) || c === 0x24],
  ['without every fortieth', (_c, i) => i % 40 === 0],
  ['without every ninth', (_c, i) => i % 9 === 4],
  ['without every third', (_c, i) => i % 3 === 0],
  ['without composed letters', (c) => c > 0xbf && c < 0x300],
  ['without marks', (c) => c >= 0x300 && c < 0x370],
  ['without five letters', (c) => 'qwxyz'.includes(String.fromCodePoint(c))],
];
test.each(FACES)('languages and scripts of %s, whole and with characters missing, are judged as when last reviewed', (name, face) => {
  const read = WAYS.flatMap(([way, lacks]) => {
    const cut = lacking(face, lacks);
    const judged = judgeCoverage(cut);
    const asked = languages().filter((_, i) => i % 23 === 5);
    return [[`${name} ${way}`, [judged, asked.map((l) => needsFor(cut, l.tag))]] as const];
  });
  expect(changedSinceReview(`coverage-${name}`, read)).toEqual([]);
});
