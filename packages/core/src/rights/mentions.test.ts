import { createRequire } from 'node:module';
import { join } from 'node:path';
import { MENTION_SET } from '../../test/mention-set.js';
import { compileLicenses, offeredAnswers, readFileMentions, readMentions, readText, USES } from './index.js';

const SPDX = createRequire(join(process.cwd(), 'package.json'))('spdx-license-list/full') as Record<string, { licenseText: string }>;
const index = compileLicenses(Object.entries(SPDX).map(([spdxId, l]) => ({ spdxId, text: l.licenseText })));

test.each(MENTION_SET)('“$text” is read as it should be', ({ text, grants, names }) => {
  const found = readMentions(text);
  expect(found.filter((m) => m.grants).map((m) => m.spdxId)).toEqual(grants === null ? [] : [grants]);
  // What is not granted is shown all the same, with the reason.
  if (grants === null) {
    const hint = found.find((m) => m.spdxId === names);
    expect(hint?.doubt).toMatch(/^.{15,}[.”]/);
    expect(text.slice(hint!.start).replace(/\s+/g, ' ').startsWith(hint!.sentence)).toBe(true);
    expect(offeredAnswers(hint!)).toEqual({});
  }
});

test('the notices that licenses recommend are read out of the license texts themselves', () => {
  // Sources: the "How to apply" parts of the GNU licenses and the appendix of the Apache License, in the SPDX texts.
  const notice = (id: string, from: RegExp, until: RegExp): string => {
    const text = SPDX[id]!.licenseText;
    const begin = text.search(from);
    return text.slice(begin, begin + text.slice(begin).search(until));
  };
  const granted = (text: string): (string | null)[] =>
    readMentions(text)
      .filter((m) => m.grants)
      .map((m) => m.spdxId);
  expect(granted(notice('GPL-2.0-only', /This program is free software/, /Also add information/))).toEqual(['GPL-2.0-or-later']);
  expect(granted(notice('GPL-3.0-only', /This program is free software/, /Also add information/))).toEqual(['GPL-3.0-or-later']);
  expect(granted(notice('AGPL-3.0-only', /This program is free software/, /Also add information/))).toEqual(['AGPL-3.0-or-later']);
  expect(granted(notice('Apache-2.0', /Licensed under the Apache License, Version/, /$(?![\s\S])/))).toEqual(['Apache-2.0']);
});

test('what the other fields of a font file say counts too', () => {
  const license = 'This Font Software is licensed under the SIL Open Font License, Version 1.1.';
  const of = (copyright: string | null, licenseUrl: string | null = null) => readFileMentions({ license, licenseUrl, copyright });
  expect(
    of('Copyright (c) 2012, A. Smith (a@b.example), with Reserved Font Names "Plot" and "Plot Sans". All rights reserved.'),
  ).toMatchObject([{ spdxId: 'OFL-1.1', grants: true, reservedNames: ['Plot', 'Plot Sans'] }]);
  expect(of('(c) 2012 A. Smith. For personal use only.')).toMatchObject([
    { spdxId: 'OFL-1.1', grants: false, doubt: expect.stringContaining('personal use') },
  ]);
  // An address alone is no sentence that grants anything.
  expect(readFileMentions({ license: null, licenseUrl: 'https://www.apache.org/licenses/LICENSE-2.0', copyright: null })).toMatchObject([
    { spdxId: 'Apache-2.0', grants: false },
  ]);
  expect(readFileMentions({ license: null, licenseUrl: null, copyright: null })).toEqual([]);
});

test('two licenses that are both named settle nothing', () => {
  const found = readMentions(
    'The font is licensed under the MIT License.\n\nThe font is licensed under the GNU General Public License, version 3.',
  );
  expect(found.map((m) => [m.spdxId, m.grants])).toEqual([
    ['MIT', false],
    ['GPL-3.0-only', false],
  ]);
});

test('words beside a license text that say it does not apply leave every use open', () => {
  const OFL = SPDX['OFL-1.1']!.licenseText;
  const { recognised, doubt } = readText(`The license below does not apply to this font; it is kept for reference.\n\n${OFL}`, index);
  expect(recognised.map((r) => r.spdxId)).toEqual(['OFL-1.1']);
  expect(doubt).toMatch(/does not apply/);
  expect(offeredAnswers(recognised[0]!, { doubt })).toEqual({});
  const plain = readText(OFL, index);
  expect([plain.doubt, plain.mentions]).toEqual([null, []]);
  expect(Object.keys(offeredAnswers(plain.recognised[0]!)).sort()).toEqual([...USES].sort());
  expect(offeredAnswers(plain.recognised[0]!, { narrowed: ['logo'] }).logo).toBeUndefined();
});

test('the time to read grows with the text and not faster', () => {
  const piece = 'licensed (((under <!-- the <<< 1. 2. a.b.c; - - - not not GNU GPL v CC BY BY BY ';
  const time = (n: number): number => {
    const text = piece.repeat(n);
    // The quickest of a few, so that a busy machine does not count.
    const runs = Array.from({ length: 4 }, () => {
      const began = performance.now();
      readMentions(text);
      return performance.now() - began;
    });
    return Math.min(...runs);
  };
  time(500);
  // Sixteen times the text: about 16 where each word is looked at once, 150 and more where each name reads the whole again.
  expect(time(8000) / Math.max(5, time(500))).toBeLessThan(70);
});
