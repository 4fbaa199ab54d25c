import { createRequire } from 'node:module';
import { join } from 'node:path';
import { MENTION_SET } from '../../test/mention-set.js';
import { PUT_AWAY, PUT_AWAY_AGAIN, PUT_AWAY_LAST, TUNED, UNSEEN } from '../../test/passages.js';
import { changedSinceReview } from '../../test/reviewed.js';
import { TERMS_SET } from '../../test/terms-set.js';
import {
  belongings,
  compileLicenses,
  findingsOf,
  limitsOf,
  offeredAnswers,
  OPEN_LICENSES,
  openLicense,
  readFileMentions,
  readLicenses,
  readMentions,
  readTerms,
  readText,
  sayDay,
  USES,
  verdict,
  verdictTable,
  type Answer,
  type BundleFace,
  type BundleText,
  type Change,
  type LicenseRecord,
} from './index.js';
import { decodeEmbedding } from '../face/index.js';
import { takesBack } from './mentions.js';
import { readNarrowing } from './narrowing.js';
import { sentencesOf } from './sentences.js';

// SPDX License List texts, as the package spdx-license-list ships them.
const SPDX = createRequire(join(process.cwd(), 'package.json'))('spdx-license-list/full') as Record<string, { licenseText: string }>;
const index = compileLicenses(Object.entries(SPDX).map(([spdxId, l]) => ({ spdxId, text: l.licenseText })));
const short = (text: string): string => text.slice(0, 40).replace(/\s+/g, ' ');

const TEXTS = [...TUNED, ...PUT_AWAY, ...PUT_AWAY_AGAIN, ...PUT_AWAY_LAST, ...UNSEEN, ...TERMS_SET, ...MENTION_SET].map((t) => t.text);
/** Every text, and each with the end of the one before it, so that headings, exceptions and pointers meet others. */
const MET = TEXTS.flatMap((text, i) => [text, `${(TEXTS[i - 1] ?? '').slice(-160)}\n${text.slice(0, 400)}`]);

test('terms, narrowing and mentions are read as they were when last reviewed', () => {
  const read = MET.map((text, i) => [`${i} ${short(text)}`, [readTerms(text), readNarrowing(text), readMentions(text)]] as const);
  expect(changedSinceReview('terms', read)).toEqual([]);
});

/** Texts that stand at the edges of rules: lengths, marks of lists, tables, questions, units and numbers. */
const EDGES = [
  ...[78, 79, 80, 81, 599, 600, 601, 602].flatMap((n) => [
    `Thanks for reading, but ${'we say so '.repeat(80)}`.slice(0, n - 1) + '.',
    `You may use it on your website ${'and print it '.repeat(60)}`.slice(0, n - 1) + '.',
    `Print it on at most 500 mugs ${'or shirts or bags '.repeat(60)}`.slice(0, n - 1) + '.',
  ]),
  ...['-', '*', '•', '–', '1.', '1)', '(a)', 'a)', 'iv.', '✓', '✗', '✔', '✘', '☑', '[x]', '[ ]', 'Yes:', 'No:', '+', '>'].flatMap(
    (mark) => [
      `You may:\n${mark} print posters\n${mark} make logos\n\nYou may not:\n${mark} put it on a website`,
      `${mark} Print posters.\n${mark} Make logos, but not for sale.`,
      `Allowed\n\n${mark} websites\n  ${mark} shops\n${mark} apps`,
    ],
  ),
  ...[' | ', '\t', '   ', ' : ', ': ', ' – ', ','].flatMap((gap) => [
    `Use${gap}Allowed\nPrint${gap}yes\nWebsite${gap}no\nApp${gap}not included`,
    `Posters${gap}✓\nLogos${gap}✗\nWebsites${gap}✓`,
    `Print${gap}yes${gap}5 seats\nWebsite${gap}no${gap}10,000 views`,
  ]),
  ...['May I print it?', 'Can I use it on my website?', 'Is a logo forbidden?', 'What about apps?', 'Do I need to pay for print?'].flatMap(
    (ask) =>
      ['Yes.', 'No.', 'Yes, but ask first.', 'No problem.', 'Of course!', 'Not without a license.', 'Sure, up to 500 copies.'].flatMap(
        (said) => [`${ask}\n${said}`, `Q: ${ask}\nA: ${said}`, `${ask} ${said}`],
      ),
  ),
  ...[
    '5',
    'five',
    'five (5)',
    '1,000',
    '1.000',
    '1 000',
    '1.5',
    '1,5',
    '2k',
    '2 million',
    '1.5m',
    '0',
    '12',
    '999',
    '10,00',
    '1’000',
  ].flatMap((n) =>
    [
      'seats',
      'computers',
      'users',
      'page views a month',
      'copies',
      'units',
      'titles',
      'apps',
      'e-books',
      'domains',
      'months',
      'years',
      'days',
    ].map((unit) => `The license covers ${n} ${unit}.`),
  ),
  ...['$5', '5 USD', '€ 5,50', '5 euros', '£10.99', 'EUR 20', '20 €', 'CHF 5'].map((sum) => `Print costs ${sum} a year.`),
  ...['more than', 'no more than', 'not more than', 'over', 'beyond', 'per', 'every', 'up to', 'at most', 'fewer than', 'a second'].map(
    (lead) => `Print ${lead} 500 copies. Install on ${lead} 3 computers.`,
  ),
  // Lines, headings and cells one letter shorter and longer than what ends or is one.
  ...[44, 45, 46, 59, 60, 61, 89, 90, 91].flatMap((n) => {
    const line = (words: string, end = ''): string => words.repeat(20).slice(0, n - end.length) + end;
    return [
      `You may not:\n${line('use it on a website or ')}\nprint it on mugs`,
      `${line('What you may do with it ', ':')}\n- print posters\n- make a logo`,
      `${line('What you may not do with it ')}\n- print posters\n- make a logo`,
      `You may use it\n${line('in print and on your ', 'x')}\nwebsite\n${line('and not in any app or ')}\nor shop.`,
      `Use   Allowed\n${line('Print on paper ')}   yes\n${line('Website ')}\tno`,
      `${line('Print')};yes\nWebsite;no`,
      `May I use it ${line('on my website ')}?\nNo.\n${line('Print is fine ')}\nLogo: no`,
      `Print ${line('.')} yes\nWebsite .... no`,
    ];
  }),
  ...[38, 39, 40, 41, 42].map((n) => `${'P'.repeat(n)};yes\nWebsite;${'n'.repeat(n)}`),
  '|Use|Allowed|\n|Print|yes|\n|Website|no|',
  'You can’t use it on a website. It isn’t allowed in apps. Don’t print it.',
  'Signs and posters are fine. Ask for shirts.',
  'You may design with it. You may draw posters. You may set letters with it for customers.',
  'You may:\n\n\n- print\n\n\n\nlogos\n\n\n\n\nNot:\n\n- apps\nWebsites\n\nPrint',
  '| Use | Yes |\n|---|:-:|\n| Print | yes |\n--- | ---\n| Web | no |\n\n| App | no |',
  'Can I print it?\nCan I sell it?\nYes.\n\nCan I lend it?\n\nNo.\nMay I?',
  'Yes: print ✓\nweb ✗\nLogos 👍\n👎 apps\nPosters ✓️',
  'You may print it, not sell it; you may embed it – not modify it, and never pass it on.',
  'Print: yes.\nWebsite: no.\nNot included: web, app.\nLogo: allowed: yes.',
  'A readme is with it. You may print it. With this one you can’t. It is free. That needs a license. This is not allowed.',
  'HEADING WITHOUT A SENTENCE\nAnother line without a stop\nA sentence. And one more! And? e.g. this, i.e. that, vs. these. v1.2 is out.',
];
test('texts at the edges of the rules are read as when last reviewed', () => {
  const read = EDGES.map(
    (text, i) => [`${i} ${short(text)}`, [readTerms(text), readNarrowing(text), readMentions(text), sentencesOf(text)]] as const,
  );
  expect(changedSinceReview('edges', read)).toEqual([]);
});

/** Names of licenses in the words around which they are meant, denied, doubted or compared. */
const NAMES = [
  'SIL Open Font License 1.1',
  'OFL',
  'MIT License',
  'Apache License, Version 2.0',
  'GPL v3',
  'GNU GPL version 2 or later',
  'CC BY 4.0',
  'CC0',
  'https://openfontlicense.org',
  'Creative Commons Attribution-ShareAlike 3.0',
  'BSD',
  'Ubuntu Font Licence 1.0',
  'https://creativecommons.org/licenses/by-sa/4.0/',
  'CC-BY-NC-ND 3.0',
  'Creative Commons Attribution-NonCommercial 2.0',
  'LGPL-2.1+',
  'Affero GPL 3',
];
const AROUND: ((name: string) => string)[] = [
  (n) => `This font is licensed under the ${n}.`,
  (n) => `Not licensed under the ${n}.`,
  (n) => `This font is licensed under the ${n}. It is not for commercial use.`,
  (n) => `License: ${n}`,
  (n) => n,
  (n) => `Unlike fonts under the ${n}, this one is sold.`,
  (n) => `Is it under the ${n}? No.`,
  (n) => `The scripts are under the ${n}; the font is ours.`,
  (n) => `Copyright 2020 Plot. Released under the terms of the ${n} with Reserved Font Name “Plot” and 'Ridge'.`,
  (n) => `It was once available under the ${n} and may be so again.`,
  (n) => `Either the ${n} or, at your option, the MIT License.`,
];
test('names of licenses are read as when last reviewed', () => {
  const read = NAMES.flatMap((name) =>
    AROUND.map((around, i) => {
      const text = around(name);
      const copyright = 'Copyright (c) 2010, Anna Nowak, with Reserved Font Name Plot.';
      return [`${name} ${i}`, [readMentions(text), readFileMentions({ license: text, licenseUrl: null, copyright })]] as const;
    }),
  );
  expect(changedSinceReview('names', read)).toEqual([]);
});

/** Small changes of a license's text, at places that move on from one to the next. */
const EDITS: ((words: string[], at: number) => string[])[] = [
  (w) => w,
  (w, i) => w.toSpliced(i, 1),
  (w, i) => w.toSpliced(i, 5),
  (w, i) => w.toSpliced(i, 0, 'rarely'),
  (w, i) => w.toSpliced(i, 2, 'Plot', 'and', 'Ridge', 'Foundry'),
  (w, i) => w.toSpliced(i, 0, ...w.slice(i, i + 12)),
  (w, i) => w.slice(i),
  (w, i) => w.slice(0, w.length - (i % 60)),
  (w) => [
    'Hello.\n\n',
    ...w.slice(0, Math.floor(w.length / 2)),
    '\n\nMore words stand here, at the middle.\n\n',
    ...w.slice(Math.floor(w.length / 2)),
  ],
  (w, i) => w.toSpliced(i, 1, `<${w[i]}>`),
  (w, i) => w.toSpliced(i, 0, 'https://plot.example/terms '),
  (w, i) => w.toSpliced(i, 1, 'zzyzx '),
  (w, i) => w.toSpliced(i, 0, 'see plot.com/a ', 'b) '),
  (w, i) => w.toSpliced(i, 0, 'viii) ', 'A. ', '12. ', 'abcde) '),
  (w) => [...w, '\n\n', ...w],
  (w, i) => [...w.slice(0, i + 30), '\n', ...w],
  (w) => w.map((x) => x.replace(/^(\d{1,2})\.(\s)/, '($1)$2').replace(/^\*(\s)/, 'ix.$1')),
  (w) =>
    w.map((x) =>
      x
        .replace(/^the(\s)/, 'the\u00ad$1')
        .replace(/^or(\s)/, 'OR$1')
        .replace(/"/g, '“'),
    ),
];
/** Whose license it is: names of one to eighteen words, initials, figures and words that names do not hold. */
const HOLDERS_SAID = [
  ...[1, 2, 15, 16, 17, 18].map((n) => Array.from({ length: n }, (_, i) => `Nowak${String.fromCharCode(97 + i)}`).join(' ')),
  'A. B. Nowak',
  'Nowak 3',
  'Nowak 1234',
  'Nowak and Sons, Inc.',
  'whoever pays',
  'https://plot.example',
  'us (plot.com)',
  'a b',
  '',
];
test('holders of every kind in the place of a license’s own are read as when last reviewed', () => {
  const ids = ['BSD-3-Clause', 'OFL-1.1', 'MIT', 'ISC', 'Apache-2.0'];
  const read = ids.flatMap((id) =>
    HOLDERS_SAID.map((name) => {
      const text = SPDX[id]!.licenseText.replace(/(?:the )?copyright holders?(?: or contributors)?|<owner>|the author/gi, name);
      return [`${id} ${name}`, readLicenses(text, index)] as const;
    }),
  );
  expect(changedSinceReview('holders', read)).toEqual([]);
});
test('several licenses in one text are read as when last reviewed', () => {
  const ids = ['MIT', 'OFL-1.1', 'ISC', 'BSD-2-Clause', 'BSD-3-Clause', 'CC0-1.0', 'GPL-2.0-only', 'Unlicense', 'Zlib'];
  const read = ids.flatMap((a, i) =>
    ids
      .slice(i + 1, i + 4)
      .map(
        (b) =>
          [
            `${a} ${b}`,
            readText(`Fonts\n\n${SPDX[a]!.licenseText}\n\nMore\n\n${SPDX[b]!.licenseText.slice(0, 20_000)}\nEnd.`, index),
          ] as const,
      ),
  );
  expect(changedSinceReview('several', read)).toEqual([]);
});
test('license texts, whole and changed in small ways, are read as when last reviewed', () => {
  const known = index.templates.filter((t) => openLicense(t.spdxId) && t.words.length < 2500);
  expect(known.length).toBeGreaterThan(20);
  const read = known.flatMap(({ spdxId, text }, n) =>
    EDITS.flatMap((edit, k) => {
      // All edits of a few, two of each other.
      if (n % 3 !== 0 && k !== 0 && k % 6 !== n % 6) return [];
      const words = text.split(/(?<=\s)(?=\S)/);
      const changed = edit(words, (17 * n + 29 * k + 11) % Math.min(words.length, 300)).join('');
      const { reading, ...known } = k === 0 ? readText(changed, index) : { ...readLicenses(changed, index), reading: null };
      return [[`${spdxId} ${k}`, [known, reading]] as const];
    }),
  );
  expect(changedSinceReview('licenses', read)).toEqual([]);
});

/** Sentences of one length after another, numbers after "no.", and quotes and brackets at their ends. */
const LENGTHS = [155, 156, 157, 158, 159, 160, 161, 599, 600, 601, 3999, 4000, 4001];
test('sentences at the edges of what is read as one are read as when last reviewed', () => {
  const ending = (n: number, end: string): string =>
    `${'This font is licensed under the SIL Open Font License 1.1 as we say in our long words. '
      .repeat(60)
      .slice(0, n - end.length)
      .replace(/\./g, ',')}${end}`;
  const read = [
    ...LENGTHS.flatMap((n) =>
      ['.', ' and not more.', ' for personal use only.'].map((end) => {
        const text = ending(n, end);
        return [
          `${n}${end}`,
          [readMentions(text), readMentions(`Licensed under the OFL 1.1. ${text}`), readTerms(text), takesBack({ text, start: 0 })],
        ] as const;
      }),
    ),
    ...[
      'no. 5',
      'no.  5',
      'no.   5',
      'no.    5',
      'no.     5',
      '(no. 5)',
      'App: no. Web: no.',
      'v. 2',
      'xv. 2',
      'etc. And',
      '(e.g. one) two',
      'Plot Inc. is',
      'a…b. ”C” d!) e?" f;g; h.i',
      'One.” Two.) Three.* Four._ Five.',
    ].map(
      (text) => [text, sentencesOf(`Start ${text} goes on. Then\n\n${text}\n- ${text}\n12. ${text}\n(ab) ${text}\n(abc) ${text}`)] as const,
    ),
  ];
  expect(changedSinceReview('sentences', read)).toEqual([]);
});

/** Numerical Recipes' linear congruential generator: the same cases in every run. */
let seed = 1;
const random = (n: number): number => Math.floor(((seed = (1664525 * seed + 1013904223) >>> 0) / 2 ** 32) * n);
const one = <T>(of: readonly T[]): T => of[random(of.length)]!;
const days = [null, '2025-12-31', '2026-01-01', '2026-01-02', '2026-06-30'] as const;
const record = (i: number): LicenseRecord => {
  const spdxId = one([null, null, 'OFL-1.1', 'Apache-2.0', 'CC-BY-4.0', 'GPL-3.0-only', 'Bitstream-Vera', 'odd']);
  return {
    id: `l${i}`,
    name: one(['Plot terms', 'Ridge terms']),
    kind: one(['bought', 'open', 'unknown', 'gift'] as LicenseRecord['kind'][]),
    spdxId,
    confirmed: random(4) > 0,
    uses: Object.fromEntries(
      USES.flatMap((use) => ((a) => (a ? [[use, a]] : []))(one<Answer | null>(['yes', 'yes', 'yes', 'no', 'ask', null]))),
    ),
    startsOn: one([null, null, null, ...days]),
    endsOn: one([null, null, ...days]),
    noticeOn: one([null, ...days]),
    ...(random(2) === 0 && {
      limits: Object.fromEntries(USES.flatMap((u) => limitsOf(u)).map((key) => [key, one([1, 10, 100, 1234, 1_000_000])])),
    }),
    ...(random(3) === 0 && {
      counters: Object.fromEntries(USES.flatMap((u) => limitsOf(u)).map((key) => [key, one([0, 1, 8, 10, 79, 80, 81, 100, 101])])),
    }),
    ...(random(3) === 0 && { quotes: Object.fromEntries(USES.map((use) => [use, `Of ${use}.`])) }),
    ...(random(2) === 0 && { reservedNames: one([[], ['Plot'], ['Plot', 'Ridge Sans']]) }),
    ...(random(3) === 0 && { duties: ['Name us.'] }),
  };
};
test('verdicts of records of every kind come out as when last reviewed', () => {
  const places = [
    undefined,
    ...(['refused', 'accepted'] as const).flatMap((a) =>
      (['refused', 'accepted'] as const).map((b) => ({ name: 'the shop', embedding: { restricted: a, bitmapOnly: b } })),
    ),
  ];
  const read = Array.from({ length: 500 }, (_, i) => {
    seed = 31 * i + 7;
    const licenses = Array.from({ length: [0, 1, 1, 2, 3][i % 5]! }, (_u, k) => record(k));
    const counters = random(2) === 0 ? { website: one([0, 8, 80, 100, 101]), 'design-work': one([1, 10, 11]) } : {};
    const [e, today] = [decodeEmbedding(one([0, 0, 2, 4, 8, 0x100, 0x200, 0x104]), 4), '2026-01-01'];
    const told = USES.map((use) =>
      verdict(use, licenses, e, today, {
        counters,
        ...((change) => change && { change })(one<Change | null>([null, 'container', 'subset', 'rename', 'outlines'])),
        ...((newName) => newName && { newName })(one([null, 'New', 'plot-two', 'Rídge Sans'])),
        ...((place) => place && { place })(one(places)),
      }),
    );
    return [
      `verdict ${i}`,
      [
        told,
        verdictTable(
          [
            { licenses, embedding: e },
            { licenses: [], embedding: e },
            { licenses, embedding: decodeEmbedding(2, 4) },
          ],
          today,
          counters,
        ),
      ],
    ] as const;
  });
  const offered = OPEN_LICENSES.map(
    ({ spdxId }) =>
      [
        `offered ${spdxId}`,
        [
          offeredAnswers({ spdxId }),
          offeredAnswers({ spdxId }, { doubt: 'Not so.' }),
          offeredAnswers({ spdxId }, { narrowed: ['app'] }),
          sayDay('2026-03-09'),
        ],
      ] as const,
  );
  expect(changedSinceReview('verdicts', [...read, ...offered])).toEqual([]);
});

const OFL = SPDX['OFL-1.1']!.licenseText;
/** Texts that come with faces, as they may stand side by side. */
const BUNDLED = [
  OFL,
  SPDX.MIT!.licenseText,
  SPDX['GPL-3.0-only']!.licenseText,
  `Copyright (c) 2010, Anna Nowak, with Reserved Font Name "Plot".\n\n${OFL}`,
  `Copyright (c) 2010, Anna Nowak (plot.example)\n\n${OFL}`,
  'Free for personal use only. You may not embed it.',
  `Copyright (c) 2010 Nowak\n\n${OFL}`,
  `Copyright (c) 2011, Jan Lis, with Reserved Font Name <Reserved Font Name>, "Ridge" and 'Dale.'\n\n${OFL}`,
  'Plot is licensed under the SIL Open Font License 1.1. You may not sell it by itself.',
  'Ridge is licensed under the MIT License.',
  'Thanks for taking Plot Sans!',
  `The license below does not apply to this font.\n\n${OFL}`,
  ...[392, 394, 396, 398, 400, 402].map((n) => `${'We like type. '.repeat(40).slice(0, n)}Ridge`),
];
test('texts of bundles belong to faces as when last reviewed', () => {
  const readings = BUNDLED.map((content) => readText(content, index));
  const texts = (folders: readonly string[]): BundleText[] =>
    folders.map((folder, i) => {
      const k = random(BUNDLED.length);
      const path = `${folder}${one(['OFL', 'LICENSE', 'README', 'Ridge', 'notes'])}${i}.txt`;
      return {
        id: path,
        path,
        content: BUNDLED[k]!,
        licenses: readings[k]!.recognised.map((r) => r.spdxId),
        findings: findingsOf(readings[k]!, { terms: k % 2 === 0, receipt: k % 3 === 0 }),
      };
    });
  const long = (n: number): string =>
    `${'This is our font and we like it so much that we say so here. '.repeat(60).slice(0, n - 23)} For personal use only.`;
  const face = (path: string): BundleFace => ({
    id: path,
    path,
    family: one(['Plot', 'Plot Sans', 'Ridge', 'Ab', 'Abc', '!']),
    names: one([[], ['Plot'], ['Ridge Bold']]),
    copyright: one([
      null,
      null,
      'Copyright (c) 2010 Anna Nowak',
      '(c) 2012 Foundry Brothers',
      'Plot is ours. Demo version. All rights reserved.',
    ]),
    license: one([
      null,
      null,
      'Licensed under the SIL Open Font License, Version 1.1.',
      'This font is licensed under the MIT License.',
      'This font is NOT licensed under the SIL Open Font License 1.1.',
      `This font is NOT licensed under the SIL Open Font License 1.1, ${'and so on and on '.repeat(14)}`,
      long(199),
      long(201),
      long(1999),
      long(2000),
      long(2001),
    ]),
    licenseUrl: one([null, null, 'https://openfontlicense.org', 'https://www.apache.org/licenses/LICENSE-2.0']),
  });
  const read = Array.from({ length: 600 }, (_, i) => {
    seed = 53 * i + 3;
    const some = texts([['', 'a/'], ['a/', 'a/'], ['a/', 'b/'], ['a/licenses/'], ['a/', 'a/', 'a/'], ['']][i % 6]!);
    return [
      `bundle ${i}`,
      [belongings(some, ['a/x.ttf', 'a/static/y.ttf', 'b/z.ttf', 'c.ttf'].slice(0, 1 + (i % 4)).map(face)), some.map((t) => t.findings)],
    ] as const;
  });
  expect(changedSinceReview('bundles', read)).toEqual([]);
});
