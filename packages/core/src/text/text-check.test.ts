import { random } from '../../test/fonts.js';
import { missingFrom, smallestSet, suspicions, writesOf, type Writes } from './index.js';

const has = (letters: string, ...clusters: string[]): Writes => ({
  has: (codePoint) => letters.includes(String.fromCodePoint(codePoint)),
  sets: (cluster) => clusters.includes(cluster),
});

test('what is missing comes in order of appearance, counted, composed letters as one', () => {
  // Ł has no decomposition in Unicode; ż given apart is the letter it composes to (NFC).
  expect(missingFrom('Łubin żółty, z\u0307ółty', has('ubintyół, z')).map((m) => [String.fromCodePoint(m.codePoint), m.count])).toEqual([
    ['Ł', 1],
    ['ż', 2],
  ]);
});

test('what draws nothing is never missing: controls, joiners, other spaces where there is a space', () => {
  expect(missingFrom('a\n\ta\u200d\ufe0f\u00ad a\u00a0\u2009', has('a '))).toEqual([]);
  expect(missingFrom('a\u00a0', has('a')).map((m) => m.codePoint)).toEqual([0xa0]);
  // Line and paragraph separators end a line; the hyphen that breaks none is drawn as the one that may (Unicode 17, 6.2).
  expect(missingFrom('a\u2028a\u2029a\u2011a', has('a\u2010'))).toEqual([]);
  expect(missingFrom('a\u2011a', has('a-')).map((m) => m.codePoint)).toEqual([0x2011]);
});

test('letters beyond the first plane count once each', () => {
  expect(missingFrom('😀😀𝒜', has('')).map((m) => [m.codePoint, m.count])).toEqual([
    [0x1f600, 2],
    [0x1d49c, 1],
  ]);
});

test('marks that have no character with their letter count by where they stand', () => {
  // Unicode has no single character for q with a dot above, nor for Cyrillic а with an acute.
  expect(missingFrom('q\u0307', has('q\u0307'))).toEqual([{ codePoint: 0x307, count: 1 }]);
  expect(missingFrom('q\u0307', has('q\u0307', 'q\u0307'))).toEqual([]);
  expect(missingFrom('а\u0301б', has('аб\u0301')).map((m) => m.codePoint)).toEqual([0x301]);
  // In scripts whose syllables were tried as a whole marks count by themselves.
  expect(missingFrom('कि', has('कि'))).toEqual([]);
  const kept = writesOf([0x61, 0x7a, 0x307, 0x307], ['q\u0307']);
  expect(missingFrom('aq\u0307z\u0307!', kept).map((m) => m.codePoint)).toEqual([0x17c, 0x21]);
});

test('the set of faces covers what can be covered and comes near the smallest there is', () => {
  const next = random(11);
  for (let round = 0; round < 60; round++) {
    const wanted = Array.from({ length: 12 }, (_, i) => i);
    const faces = Array.from({ length: 7 }, (_, i) => {
      const own = new Set(wanted.filter(() => next() < 0.35));
      return { id: String(i), own, has: (c: number) => own.has(c) };
    });
    const chosen = smallestSet(wanted, faces);
    const covered = (ids: readonly string[]): number => wanted.filter((c) => faces.some((f) => ids.includes(f.id) && f.has(c))).length;
    const all = covered(faces.map((f) => f.id));
    expect(covered(chosen)).toBe(all);
    // The least of all 128 subsets; greedy is within the harmonic number of the largest set (Chvátal 1979).
    let least = 7;
    for (let subset = 0; subset < 128; subset++) {
      const ids = faces.filter((_, i) => subset & (1 << i)).map((f) => f.id);
      if (covered(ids) === all) least = Math.min(least, ids.length);
    }
    const largest = Math.max(...faces.map((f) => f.own.size));
    const harmonic = Array.from({ length: largest }, (_, i) => 1 / (i + 1)).reduce((a, b) => a + b, 0);
    expect(chosen.length).toBeLessThanOrEqual(Math.max(1, least * harmonic));
  }
});

/** Kind, what stands there and what was probably meant. */
const found = (text: string): [string, string, string | null][] => suspicions(text).map((s) => [s.kind, s.text, s.suggestion]);

test.each<[string, [string, string, string | null][]]>([
  // а, е, о, р, с are Cyrillic here. Source: Unicode confusables.txt.
  [
    'Ca\u0440rot s\u0435eds',
    [
      ['mixed-scripts', 'Ca\u0440rot', 'Caprot'],
      ['mixed-scripts', 's\u0435eds', 'seeds'],
    ],
  ],
  ['\u043d\u0430\u0441i\u043d\u043d\u044f', [['mixed-scripts', '\u043d\u0430\u0441i\u043d\u043d\u044f', 'насіння']]],
  ['Насіння і квіти', []],
  ['T\u03bfmato', [['mixed-scripts', 'T\u03bfmato', 'Tomato']]],
  ['Σπόροι', []],
  ['Stra\u03b2e', [['sharp-s', 'Stra\u03b2e', 'Straße']]],
  ['STRAßE', [['sharp-s', 'STRAßE', 'STRAẞE']]],
  // Amtliche Regelung, section 25: ß after a long vowel; only where the text is German.
  ['Samen für die Strasse und den Garten', [['sharp-s', 'Strasse', 'Straße']]],
  ['La strasse est und', []],
  ['Masse und Klasse für die Wiese', []],
  ['za\u0301hon', [['decomposed', 'za\u0301hon', 'záhon']]],
  ['bean\u200b pod', [['invisible', '\u200b', '']]],
  ["gardener's", [['apostrophe', "'", '’']]],
  ["'quoted' 5' tall", []],
  ['gardener’s', []],
])('%s', (text, wanted) => {
  expect(found(text)).toEqual(wanted);
});

test('each suspicion stands where it says, and taking it mends it', () => {
  const text = "Ca\u0440rot's  za\u0301hon\u200b STRAßE";
  let mended = text;
  for (const s of suspicions(text).reverse()) {
    expect(text.slice(s.start, s.end)).toBe(s.text);
    if (s.suggestion !== null) mended = mended.slice(0, s.start) + s.suggestion + mended.slice(s.end);
  }
  expect(mended).toBe('Caprot’s  záhon STRAẞE');
  expect(suspicions(mended)).toEqual([]);
});
