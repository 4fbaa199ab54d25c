import { SENTENCES } from './data/sentences.js';
import { auxiliaryLetters, language, languages, sampleOf } from './index.js';

// Source: CLDR, exemplarCharacters main, auxiliary, numbers and punctuation of each language.
test.each(Object.entries(SENTENCES))('the sentence in %s is written with the letters CLDR gives it', (tag, sentence) => {
  const found = language(tag)!;
  const known = new Set([...found.letters, ...found.punctuation].map((c) => String.fromCodePoint(c)));
  const parts = new Set(found.clusters.flatMap((c) => [...c]));
  const strange = [...sentence.normalize('NFC')].filter(
    (c) => /[\p{L}\p{M}]/u.test(c) && !known.has(c) && !parts.has(c) && ![...c.normalize('NFD')].every((p) => known.has(p) || parts.has(p)),
  );
  expect(strange.filter((c) => !auxiliaryLetters(tag).includes(c.codePointAt(0)!))).toEqual([]);
  // Not one that any language could have written: what is peculiar to it must stand in it, where it is not plain A to Z.
  const own = [...found.letters].filter((c) => c > 127);
  const plain = new Set(['en', 'eu', 'id', 'ms', 'sw', 'nl', 'af']);
  expect(plain.has(tag) || [...sentence].some((c) => own.includes(c.codePointAt(0)!))).toBe(true);
});

test('every language has words to be seen in, in its own script', () => {
  for (const { tag, letters } of languages()) {
    const sample = sampleOf(tag)!;
    expect([tag, sample.length > 0 && sample.length <= 400]).toEqual([tag, true]);
    expect([tag, [...sample].some((c) => letters.includes(c.codePointAt(0)!))]).toEqual([tag, true]);
  }
  expect(sampleOf('cym-none')).toBeNull();
});
