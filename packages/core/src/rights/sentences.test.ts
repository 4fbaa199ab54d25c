import { sentencesOf } from './sentences.js';

const cut = (text: string): string[] => sentencesOf(text).map((s) => s.text);

test.each<[string, string[]]>([
  ['One. Two! Three?', ['One.', 'Two!', 'Three?']],
  ['Yes. ? No', ['Yes.', 'No']],
  ['One.Two. v1.2 is out.', ['One.Two.', 'v1.2 is out.']],
  ['He said “yes.” Then (no.) Then "why?" End', ['He said “yes.”', 'Then (no.)', 'Then "why?"', 'End']],
  ['Bold*one.* Next_two._ Third]three.] End', ['Bold*one.*', 'Next_two._', 'Third]three.]', 'End']],
  [
    'Plot Inc. made it, e.g. for signs (i.e. boards). See etc. and St. James.',
    ['Plot Inc. made it, e.g. for signs (i.e. boards).', 'See etc. and St. James.'],
  ],
  // "No. 5" is a number, "no." an answer; the number may stand up to four spaces away.
  ['License no. 5 is ours. Web: no. App: no.', ['License no. 5 is ours.', 'Web: no.', 'App: no.']],
  ['License no.    5 is ours.', ['License no. 5 is ours.']],
  ['License no.     5 is ours.', ['License no.', '5 is ours.']],
  ['Casino. 5 games.', ['Casino.', '5 games.']],
  ['One; two; three.', ['One; two; three.']],
  // Lines broken to fit a width belong together; empty lines, items and headings do not.
  ['You may print\nthe font.\n\nNo\n\nmore', ['You may print the font.', 'No', 'more']],
  [
    'You may\n- print\n* embed\n12. send\n123. sell\n(ab) lend\n(abc) give\n# Head',
    ['You may', '- print', '* embed', '12.', 'send 123.', 'sell', '(ab) lend (abc) give', '# Head'],
  ],
  ['One\r\n\r\nTwo', ['One', 'Two']],
  ['-- ** !!', []],
  ['', []],
])('“%s”', (text, sentences) => {
  expect(cut(text)).toEqual(sentences);
});

test('each begins where it stands in the text', () => {
  const text = '  One two.\n\n   Three  four?  Five';
  expect(sentencesOf(text).map((s) => [s.start, text.slice(s.start, s.start + 3)])).toEqual([
    [2, 'One'],
    [15, 'Thr'],
    [29, 'Fiv'],
  ]);
});
