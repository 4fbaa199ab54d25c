import { createRequire } from 'node:module';
import { join } from 'node:path';
import { CORRECTIONS } from './data/corrections.js';
import { language, languages, reach, scriptName, scripts } from './index.js';

interface Territory {
  _population: string;
  languagePopulation?: Record<string, { _populationPercent: string; _officialStatus?: string }>;
}
// CLDR's own file, read here without our compiler.
const TERRITORIES = (
  createRequire(join(process.cwd(), 'package.json'))('cldr-core/supplemental/territoryInfo.json') as {
    supplemental: { territoryInfo: Record<string, Territory> };
  }
).supplemental.territoryInfo;

const people = (territory: string, tag: string): number => {
  const info = TERRITORIES[territory]!;
  return Math.round((Number(info._population) * Number(info.languagePopulation?.[tag]?._populationPercent ?? 0)) / 100);
};

test('speakers by territory are CLDR’s population times its share, and official is official', () => {
  let compared = 0;
  for (const l of languages())
    for (const s of l.speakers) {
      // A language in a script of its own has another key there.
      if (!TERRITORIES[s.territory]?.languagePopulation?.[l.tag]) continue;
      compared++;
      expect([l.tag, s.territory, s.people]).toEqual([l.tag, s.territory, people(s.territory, l.tag)]);
      const status = TERRITORIES[s.territory]!.languagePopulation![l.tag]!._officialStatus;
      expect([l.tag, s.territory, s.official]).toEqual([l.tag, s.territory, status === 'official' || status === 'de_facto_official']);
    }
  expect(compared).toBeGreaterThan(800);
});

test('reach in one territory lies between its largest language and the sum, never above everybody', () => {
  for (const tags of [['cy'], ['cy', 'en'], ['pl', 'uk'], ['hi', 'ta', 'bn']]) {
    const found = reach(tags);
    let least = 0;
    let most = 0;
    for (const territory of Object.keys(TERRITORIES)) {
      const each = tags.map((t) => people(territory, t));
      const everybody = Number(TERRITORIES[territory]!._population);
      least += Math.min(everybody, Math.max(...each));
      most += Math.min(
        everybody,
        each.reduce((a, b) => a + b, 0),
      );
    }
    // Tiny shares are left out of our data; together they are far below a percent.
    expect(found.atLeast / least).toBeCloseTo(1, 2);
    expect(found.atMost / most).toBeCloseTo(1, 2);
  }
});

/** Letters beyond A to Z that each language's own alphabet has; from the languages' official alphabets, from memory. */
test.each<[string, string]>([
  ['pl', 'ąćęłńóśźż'],
  ['cs', 'áčďéěíňóřšťúůýž'],
  ['sk', 'áäčďéíĺľňóôŕšťúýž'],
  ['hu', 'áéíóöőúüű'],
  ['de', 'äöüß'],
  ['da', 'æøå'],
  ['sv', 'åäö'],
  ['fi', 'åäö'],
  ['is', 'áðéíóúýþæö'],
  ['tr', 'çğıöşü'],
  ['ro', 'ăâîșț'],
  ['lt', 'ąčęėįšųūž'],
  ['lv', 'āčēģīķļņšūž'],
  ['et', 'äõöüšž'],
  ['hr', 'čćđšž'],
  ['es', 'áéíñóúü'],
  ['vi', 'ăâđêôơưạảấầẩẫậắằẳẵặẹẻẽếềểễệỉịọỏốồổỗộớờởỡợụủứừửữựỳỵỷỹ'],
  ['uk', 'абвгґдеєжзиіїйклмнопрстуфхцчшщьюя'],
  ['el', 'αβγδεζηθικλμνξοπρσςτυφχψωάέήίόύώ'],
])('%s asks for the letters of its alphabet', (tag, letters) => {
  const asked = new Set([...language(tag)!.letters].map((c) => String.fromCodePoint(c)));
  expect([...letters].filter((c) => !asked.has(c))).toEqual([]);
  // Capitals come along.
  expect([...letters].map((c) => c.toUpperCase()).filter((c) => [...c].length === 1 && c !== 'ẞ' && !asked.has(c))).toEqual([]);
});

test('letters of other alphabets are not asked for', () => {
  const asks = (tag: string, letter: string): boolean => language(tag)!.letters.includes(letter.codePointAt(0)!);
  expect([asks('pl', 'ř'), asks('de', 'ł'), asks('en', 'é'), asks('uk', 'ы'), asks('tr', 'w')]).toEqual([
    false,
    false,
    false,
    false,
    false,
  ]);
});

test('scripts carry ISO 15924 codes and each language’s script is one of them', () => {
  const codes = new Set(scripts().map((s) => s.code));
  expect([...codes].filter((c) => !/^[A-Z][a-z]{3}$/.test(c))).toEqual([]);
  expect(languages().filter((l) => !/^[A-Z][a-z]{3}$/.test(l.script))).toEqual([]);
  expect([scriptName('Latn'), scriptName('Deva'), scriptName('Zzzz')]).toEqual(['Latin', 'Devanagari', 'Zzzz']);
});

test('where CLDR misleads, letters are as they are written, each with its reason and source', () => {
  const has = (tag: string, letter: string): boolean => language(tag)!.letters.includes(letter.codePointAt(0)!);
  expect(['ἀ', 'ᾳ', 'ῶ', 'ὴ', 'ᾗ', 'Ὠ'].map((l) => has('el-polyton', l))).toEqual(Array(6).fill(true));
  // Vowel length is marked in dictionaries alone, and the acute has one place in Unicode after normalizing.
  expect([0x1fb1, 0x1fd0, 0x1f71].map((c) => has('el-polyton', String.fromCodePoint(c)))).toEqual([false, false, false]);
  expect([has('chr', 'Ꭰ'), has('chr', 'ꭰ')]).toEqual([true, false]);
  expect([has('uk', 'ʼ'), has('ar', 'ٰ'), has('ug', 'ه'), has('ug', 'ھ')]).toEqual([false, false, false, true]);
  for (const { tag, reason, source } of CORRECTIONS)
    expect([language(tag)?.tag, reason.length > 20, source.length > 10]).toEqual([tag, true, true]);
  // Every letter that is added is one character of the block and stays itself when normalized.
  for (const c of language('el-polyton')!.letters)
    if (c >= 0x1f00 && c < 0x2000) expect(String.fromCodePoint(c).normalize('NFC')).toBe(String.fromCodePoint(c));
});
