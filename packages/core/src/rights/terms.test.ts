import { TERMS_SET } from '../../test/terms-set.js';
import { readTerms, type Answer, type Use } from './index.js';

interface Found {
  text: string;
  use: Use;
  wanted: Answer | undefined;
  got: Answer | undefined;
}
const all: Found[] = TERMS_SET.flatMap(({ text, expect: wanted }) => {
  const got = new Map(readTerms(text).suggestions.map((s) => [s.use, s.answer]));
  return [...new Set([...(Object.keys(wanted) as Use[]), ...got.keys()])].map((use) => ({
    text,
    use,
    wanted: wanted[use],
    got: got.get(use),
  }));
});

test('no suggestion says yes where a careful reader does not', () => {
  expect(TERMS_SET.length).toBeGreaterThanOrEqual(60);
  expect(all.filter((f) => f.got === 'yes' && f.wanted !== 'yes').map((f) => [f.text, f.use])).toEqual([]);
});

test('precision and recall over the labelled set', () => {
  const suggested = all.filter((f) => f.got !== undefined);
  const wanted = all.filter((f) => f.wanted !== undefined);
  const right = all.filter((f) => f.got !== undefined && f.got === f.wanted);
  const wrong = all.filter((f) => f.got !== f.wanted).map((f) => `${f.text} ${f.use}: ${f.wanted ?? '-'} read as ${f.got ?? '-'}`);
  if (right.length / suggested.length < 0.93 || right.length / wanted.length < 0.9) throw new Error(wrong.join('\n'));
  expect(right.length / suggested.length).toBeGreaterThanOrEqual(0.93);
  expect(right.length / wanted.length).toBeGreaterThanOrEqual(0.9);
});

test('amounts come along', () => {
  for (const { text, limits } of TERMS_SET)
    for (const [use, limit] of Object.entries(limits ?? {}))
      expect([text, readTerms(text).suggestions.find((s) => s.use === use)?.limit]).toEqual([text, limit]);
});

test('each suggestion stands beside its sentence, as written', () => {
  const text = 'Hello there.\nYou may use the font on your website. You may not modify it!';
  for (const s of readTerms(text).suggestions) expect(text.slice(s.start, s.start + s.sentence.length)).toBe(s.sentence);
  expect(readTerms('You must include this license. Please credit the designer.').duties).toHaveLength(2);
});

test('megabytes of terms, and none', () => {
  expect(readTerms('')).toEqual({ suggestions: [], duties: [], english: false });
  const long = 'You may use the font on your website. '.repeat(60_000);
  expect(readTerms(long).suggestions.find((s) => s.use === 'website')?.answer).toBe('yes');
  expect(readTerms('a'.repeat(2_000_000)).suggestions).toEqual([]);
});

test('a text in another language is told apart, and nothing is read into it', () => {
  const polish = 'Licencja na font. Wolno używać fontu w druku i na jednej stronie internetowej. Nie wolno sprzedawać ani zmieniać pliku.';
  const german = 'Die Schrift darf für private Zwecke genutzt werden. Für eine Website ist eine Lizenz in der Höhe von 40 Euro nötig.';
  expect([polish, german].map((t) => readTerms(t).english)).toEqual([false, false]);
  expect([polish, german].flatMap((t) => readTerms(t).suggestions.filter((s) => s.answer === 'yes'))).toEqual([]);
  expect(TERMS_SET.filter(({ text }) => text.split(' ').length > 8 && !readTerms(text).english).map(({ text }) => text)).toEqual([]);
});
