import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { BESIDE_SET } from '../../test/beside-set.js';
import { compileLicenses, openLicense, readLicenses, readMentions, readText, recogniseText, reservedNames, USES } from './index.js';

// SPDX License List texts, as the package spdx-license-list ships them.
const SPDX = createRequire(join(process.cwd(), 'package.json'))('spdx-license-list/full') as Record<string, { licenseText: string }>;
const index = compileLicenses(Object.entries(SPDX).map(([spdxId, l]) => ({ spdxId, text: l.licenseText })));

/**
 * License files of 293 font packages as npm and Debian ship them (November 2026), with what each package declares.
 * `wanted` is what the file itself says, by its headings or read by hand; packages of icons and kits often declare the
 * license of their scripts, or an older one. Empty: the file only speaks of a license.
 */
const FILES = JSON.parse(
  gunzipSync(readFileSync(join(process.cwd(), 'packages/core/test/data/license-files.json.gz'))).toString('utf8'),
) as { source: string; package: string; declared: string | null; file: string; text: string; wanted: string[] }[];

const found = FILES.map((f) => {
  const { recognised, narrowing } = readText(f.text, index);
  return {
    ...f,
    got: recognised.map((r) => r.spdxId),
    narrowed: recognised.length > 0 && narrowing.length > 0,
    narrowing: narrowing[0]?.sentence ?? '',
  };
});

test('the license files of real font packages: at least 98% recognized, none wrongly', () => {
  expect(new Set(found.map((f) => `${f.source} ${f.package}`)).size).toBeGreaterThanOrEqual(100);
  expect(new Set(found.flatMap((f) => f.wanted)).size).toBeGreaterThanOrEqual(15);
  const wrong = found.flatMap((f) => f.got.filter((id) => !f.wanted.includes(id)).map((id) => `${f.package}: ${id}`));
  expect(wrong).toEqual([]);
  const all = found.flatMap((f) => f.wanted.map((id) => ({ name: `${f.package} ${f.file}: ${id}`, right: f.got.includes(id) })));
  const missed = all.filter((a) => !a.right).map((a) => a.name);
  // An OFL with another sentence about reserved names, a BSD of two and a half clauses, a Taiwanese text in one language.
  expect(missed.length).toBeLessThanOrEqual(5);
  expect(1 - missed.length / all.length).toBeGreaterThanOrEqual(0.98);
});

/** How license texts name themselves, in their own headings or first words. */
const HEADINGS: Readonly<Record<string, RegExp>> = {
  'OFL-1.1': /SIL OPEN FONT LICENSE\s+Version 1\.1/i,
  'Apache-2.0': /Apache License\s+Version 2\.0/i,
  MIT: /Permission is hereby granted, free of charge, to any person obtaining a copy\s+of this software/i,
  ISC: /Permission to use, copy, modify, and(\/or)? distribute this software/i,
  'GPL-2.0-only': /GNU GENERAL PUBLIC LICENSE\s+Version 2/,
  'GPL-3.0-only': /GNU GENERAL PUBLIC LICENSE\s+Version 3/,
  'Bitstream-Vera': /Bitstream Vera Fonts Copyright/i,
  'CC-BY-4.0': /Attribution 4\.0 International/i,
};

test('where a package declares another license than we find in its file, the file’s own heading bears us out', () => {
  const single = found.filter((f) => f.source === 'npm' && f.declared !== null && openLicense(f.declared) && f.got.length === 1);
  expect(single.length).toBeGreaterThanOrEqual(150);
  for (const f of single) {
    const declared = openLicense(f.declared!)!.spdxId;
    const got = f.got[0]!;
    if (declared === got) continue;
    expect([f.package, got, HEADINGS[got]?.test(f.text)]).toEqual([f.package, got, true]);
    expect([f.package, declared, HEADINGS[declared]?.test(f.text)]).toEqual([f.package, declared, false]);
  }
});

test('every text of the SPDX list is recognized as itself, or as a license that it holds whole', () => {
  const other = index.templates.flatMap(({ spdxId, text }) => {
    const got = recogniseText(text, index)?.spdxId.replace(/-(only|or-later)$/, '');
    const want = (openLicense(spdxId)?.spdxId ?? spdxId).replace(/(-only|-or-later|\+)$/, '');
    return got === want ? [] : [`${want}: ${got}`];
  });
  expect(index.templates.length).toBeGreaterThan(600);
  expect(other).toEqual(['Net-SNMP: BSD-3-Clause', 'OpenSSL: OpenSSL-standalone', 'Sleepycat: BSD-3-Clause']);
});

const MIT = SPDX.MIT!.licenseText;
const OFL = SPDX['OFL-1.1']!.licenseText;

test.each([
  ['re-wrapped', (t: string) => t.replace(/\s+/g, ' ').replace(/(.{20,40}) /g, '$1\n')],
  ['in capitals', (t: string) => t.toUpperCase()],
  ['with typographic quotes', (t: string) => t.replace(/"([^"]*)"/g, '“$1”').replace(/'/g, '’')],
  ['as comments of a program', (t: string) => t.replace(/^/gm, ' * ')],
  ['words parted at the ends of lines', (t: string) => t.replace(/\bper(mission)\b/gi, 'per-\n$1')],
  [
    'with a filled-in copyright line',
    (t: string) => `Copyright © 2019–2024 Anna Nowak & the Plot authors <a@b.example>\n\n${t.replace(/^Copyright.*/m, '')}`,
  ],
  ['with prose around', (t: string) => `Hello,\nthanks for taking this font. Here are its terms.\n\n${t}\n\nHave fun! Write to us.`],
  ['after a byte order mark', (t: string) => `\ufeff${t}`],
])('%s it is the same license', (_how, change) => {
  expect(recogniseText(change(MIT), index)?.spdxId).toBe('MIT');
  expect(recogniseText(change(OFL), index)).toMatchObject({ spdxId: 'OFL-1.1' });
});

/** Small edits that change what the OFL grants or asks; each makes it another text. The edits are ours. */
test.each<[string, string, string]>([
  [
    'a restriction in square brackets',
    'Permission is hereby granted, free of charge, to',
    'Permission is hereby granted [for private use], free of charge, to',
  ],
  [
    'a restriction in angle brackets',
    'Permission is hereby granted, free of charge, to',
    'Permission is hereby granted <for thirty days>, free of charge, to',
  ],
  ['a restriction in braces', 'Permission is hereby granted', 'Permission {once paid} is hereby granted'],
  ['a fee', 'free of charge, to any', 'for a fee of ten euros, to any'],
  ['a fee beside it', 'free of charge, to any', 'free of charge for a year, to any'],
  ['a term of days', 'Permission is hereby granted', 'Permission is hereby granted for 30 days'],
  ['a narrower circle', 'to any person obtaining', 'to any student obtaining'],
  ['a narrower circle beside it', 'to any person obtaining', 'to any person of the parish obtaining'],
  ['a verb less', 'study, copy, merge, embed,', 'study, copy, merge,'],
  ['two verbs less', 'modify, redistribute, and sell modified', 'modify modified'],
  ['a ban turned around', 'may be sold by itself', 'may well be sold by itself'],
  ['neither made either', 'Neither the Font Software nor any of its', 'Either the Font Software or any of its'],
  [
    'a duty less',
    'The Font Software, modified or unmodified, in part or in whole, must be distributed entirely under this license, and must not be distributed under any other license.',
    '',
  ],
  [
    'no document clause',
    'The requirement for fonts to remain under this license does not apply to any document created using the Font Software.',
    '',
  ],
  [
    'a disclaimer less',
    'IN NO EVENT SHALL THE COPYRIGHT HOLDER BE LIABLE FOR ANY CLAIM',
    'THE COPYRIGHT HOLDER MAY BE LIABLE FOR ANY CLAIM',
  ],
  ['an added condition', 'PERMISSION & CONDITIONS', 'PERMISSION & CONDITIONS\nTell us about every use.'],
  ['a condition in a copyright line', 'DEFINITIONS', '(c) 2020 Plot; you pay ten euros a month\nDEFINITIONS'],
  ['a condition in brackets of a copyright line', 'DEFINITIONS', 'Copyright 2020 Plot (if you pay a fee)\nDEFINITIONS'],
  ['a holder with a condition', 'The name(s) of the Copyright Holder(s)', 'The name(s) of the Copyright Holder(s) or of whoever pays'],
  ['another word', 'explicit written permission', 'explicit spoken permission'],
  ['more permission needed', 'may be bundled,', 'may with written consent be bundled,'],
])('%s makes the OFL another text', (_what, from, to) => {
  const flat = OFL.replace(/[ \t]+/g, ' ')
    .replace(/([^\n])\n(?=[^\n])/g, '$1 ')
    .replace('PERMISSION & CONDITIONS Permission', 'PERMISSION & CONDITIONS\nPermission')
    .replace('DEFINITIONS "Font', 'DEFINITIONS\n"Font');
  expect(recogniseText(flat, index)?.spdxId).toBe('OFL-1.1');
  expect(flat).toContain(from);
  const { recognised, near } = readLicenses(flat.replace(from, to), index);
  expect(recognised.map((r) => r.spdxId)).toEqual([]);
  expect(near?.spdxId).toBe('OFL-1.1');
});

test('the permission may not be missing, and any word out of a clause makes another text', () => {
  const flat = OFL.replace(/\s+/g, ' ');
  const grant = /Permission is hereby granted.*?subject to the following conditions: /.exec(flat)![0];
  expect(readLicenses(flat.replace(grant, ''), index).recognised).toEqual([]);
  for (const [id, text] of [
    ['OFL-1.1', flat.slice(flat.indexOf('DEFINITIONS') - 5)],
    ['MIT', MIT.slice(MIT.indexOf('Permission')).replace(/\s+/g, ' ')],
    ['ISC', SPDX.ISC!.licenseText.slice(SPDX.ISC!.licenseText.indexOf('Permission')).replace(/\s+/g, ' ')],
  ] as const) {
    const whole = id === 'OFL-1.1' ? flat.slice(0, flat.indexOf('DEFINITIONS') - 5) + text : text;
    const lead = whole.slice(0, whole.length - text.length);
    const words = text.split(' ');
    // Every 29th word: the others behave alike, and each takes some milliseconds.
    for (let i = 5; i < words.length; i += 29) {
      if (!/^[a-z]{3,}$/.test(words[i]!)) continue;
      const without = lead + words.filter((_, k) => k !== i).join(' ');
      const withMore = lead + [...words.slice(0, i), 'rarely', ...words.slice(i)].join(' ');
      for (const twisted of [without, withMore])
        expect([words.slice(i - 3, i + 3).join(' '), readLicenses(twisted, index).recognised.map((r) => r.spdxId)]).toEqual([
          words.slice(i - 3, i + 3).join(' '),
          [],
        ]);
    }
  }
});

test('a word that turns it around makes it another text, and the passage is shown', () => {
  for (const [from, to] of [
    ['Permission is hereby granted', 'Permission is not granted'],
    ['to deal in the Software without restriction', 'to deal in the Software for personal purposes'],
    ['and/or sell copies of the Software', 'copies of the Software, but not sell them'],
  ] as const) {
    const text = MIT.replace(/\s+/g, ' ').replace(from, to);
    expect(text).toContain(to);
    const { recognised, near } = readLicenses(text, index);
    expect(recognised).toEqual([]);
    expect(near?.spdxId).toBe('MIT');
    for (const d of near!.differences.filter((x) => x.found !== '')) expect(text.slice(d.start, d.end).replace(/\s+/g, ' ')).toBe(d.found);
    expect(near!.differences.map((d) => d.found).join(' ')).toMatch(/not|personal/);
  }
});

test('half a license, added clauses and plain terms are not recognized', () => {
  expect(readLicenses(OFL.slice(0, 2000), index).recognised).toEqual([]);
  const clause =
    'You shall pay the author ten euros for every thousand labels that carry the font and report the number of them each month. ';
  expect(readLicenses(MIT.replace('THE SOFTWARE IS', `${clause}THE SOFTWARE IS`), index)).toMatchObject({
    recognised: [],
    near: { spdxId: 'MIT' },
  });
  expect(readLicenses('Free for personal use only. For commercial use buy a license.', index)).toEqual({ recognised: [], near: null });
});

test('words around a license that narrow it are read; those that do not, say nothing', () => {
  const around = (text: string) => readText(text, index);
  const narrowed = around(`This font is free for personal use only.\n\n${OFL}`);
  expect(narrowed.recognised.map((r) => r.spdxId)).toEqual(['OFL-1.1']);
  expect(narrowed.narrowing.map((n) => n.use)).toContain('printed-goods');
  // The sentence is shown, above all uses, and nothing is suggested beside a license.
  expect(narrowed.reading!.general.map((g) => g.sentence)).toContain('This font is free for personal use only.');
  expect(narrowed.reading!.suggestions).toEqual([]);
  const [first] = narrowed.narrowing;
  expect(`This font is free for personal use only.\n\n${OFL}`.slice(first!.start, first!.start + first!.sentence.length)).toBe(
    first!.sentence,
  );
  expect(around(`# Installation\n\nVersion 1.2, 3 May 2020\nFixed kerning of T and o.\n\n${OFL}`).reading).toBeNull();
  // Over the real files: two collections of icons reserve brand logos; of the rest, few hold something that is not known.
  const told = found.filter((f) => f.narrowed).map((f) => f.narrowing);
  expect(told.map((t) => /brand logos/.test(t)).filter(Boolean)).toHaveLength(2);
  // Each was read: a second license, another part, a language that is not read, or a line of an unusual form.
  expect([...new Set(told.map((t) => t.slice(0, 60)))].sort()).toEqual([
    '# License for the font file',
    '**Please do not use brand logos for any purpose except',
    '---------------------------------------------- Non-Arabic gl',
    '/!\\ The MIT License only applies to all CSS and LESS files i',
    '<http://unlicense.org/>',
    '<http://unlicense.org>',
    'Artwork available under the CC BY-SA Licence, also below.',
    'Bitstream Vera Fonts',
    'Copyright © 2017 Creation Studio Limited.',
    'Git Logo by [Jason Long](https://bsky.app/profile/jasonlong.',
    'Glyphs and data from Noto Serif font are licensed under the ',
    'Glyphs and data from Open Sans font are licensed under the A',
    'Glyphs and data from Roboto font are licensed under the Apac',
    'IPAフォントライセンスv1.0',
    'License: GPL-2 with Font embedding exception and M+ FONTS Li',
    'Modified by: Arne Goetje http://www.freedesktop.org/wiki/Sof',
    'No modification of the license is permitted, only',
    'No modification of the license is permitted, only verbatim c',
    'Permission is hereby granted, free of charge, to any person ',
    'See the Alioth project for co-maintainership of open fonts: ',
    'Source package: scalable-cyrfonts',
    'The Entypo pictograms by Daniel Bruce http://www.entypo.com/',
    'The following TeX Live packages were downloaded from http://',
    'The font is dual licensed either GNU GPL 3 or OFL 1.1.',
    'The work in the DejaVu project was committed to the public d',
    'This package is distributed under the terms of GNU General P',
    'This package was debianized by:',
    'To avoid name conflicts with other products named "Terminus"',
    '](http://wiki.creativecommons.org/Considerations_for_licenso',
    'airplay, alert-circle, alert-octagon, alert-triangle, apertu',
    '저작권자는 이 서체를 자유롭게 사용, 복사, 수정 및 배포할 수 있도록 허가합니다.',
  ]);
});

test('sentences beside a license about money, time, people, trials and parts hold every use back, and so does talk that is not known', () => {
  // The half put away was looked at once: none of 15 that hold was missed, and one of 15 harmless ones held.
  const wrong = BESIDE_SET.filter(({ text, holds }) => {
    const { recognised, narrowing } = readText(`${text}\n\n${OFL}`, index);
    return recognised[0]?.spdxId !== 'OFL-1.1' || (holds && narrowing.length === 0);
  });
  expect(wrong.map((w) => w.text)).toEqual([]);
  const { narrowing } = readText(`You pay ten euros a month.\n\n${OFL}`, index);
  expect(narrowing.map((n) => n.use).sort()).toEqual([...USES].sort());
});

test('a longer license that is nearly there casts doubt on the shorter one within it', () => {
  // SPDX License List: BSD-2-Clause-Views is BSD-2-Clause with a sentence behind it.
  const views = SPDX['BSD-2-Clause-Views']!.licenseText;
  expect(readLicenses(views, index).recognised.map((r) => r.spdxId)).toEqual(['BSD-2-Clause-Views']);
  const other = views.replace(
    /and should not be interpreted as[\s\S]*$/,
    'and should be asked of them first by whoever wants to print something with it or put it on a page.',
  );
  expect(other).not.toBe(views);
  expect(readLicenses(other, index).recognised).toEqual([]);
});

test('reserved names stand as they are told, without the words of the license’s own pattern', () => {
  // OFL 1.1, first lines: "with Reserved Font Name <Reserved Font Name>".
  expect(reservedNames('Copyright 2010, with Reserved Font Name <Reserved Font Name>.')).toEqual([]);
  expect(reservedNames('(c) 2010 with Reserved Font Names Plot, Ridge Sans and Dale.')).toEqual(['Plot', 'Ridge Sans', 'Dale']);
  expect(reservedNames('with the Reserved Font Name: "Plot", “Ridge” and ‘Dale.’ All rights.')).toEqual(['Plot', 'Ridge', 'Dale']);
  expect(reservedNames('with Reserved Font Name Plot. Copyright (c) 2011 Lis, with Reserved Font Name ...')).toEqual(['Plot']);
});

test('several licenses in one file are all found', () => {
  const text = `Fonts:\n${OFL}\n\nScripts:\n${MIT}\n\nDrawings:\n${SPDX['CC-BY-4.0']!.licenseText}`;
  expect(
    readLicenses(text, index)
      .recognised.map((r) => r.spdxId)
      .sort(),
  ).toEqual(['CC-BY-4.0', 'MIT', 'OFL-1.1']);
});

test('the GNU GPL with and without later versions and the exception for documents', () => {
  const gpl = SPDX['GPL-2.0-only']!.licenseText;
  // Source: SPDX License List, Font-exception-2.0, and the FSF's words for applying the license.
  const exception = SPDX['GPL-2.0-with-font-exception']!.licenseText.replace('insert GPL v2 license text here', '');
  const notice = 'either version 2 of the License, or (at your option) any later version.';
  const id = (text: string): string | undefined => recogniseText(text, index)?.spdxId;
  expect(id(gpl)).toBe('GPL-2.0-only');
  expect(id(`This font is free software; ${notice}\n\n${gpl}`)).toBe('GPL-2.0-or-later');
  expect(id(`${gpl}\n\n${exception}`)).toBe('GPL-2.0-only WITH Font-exception-2.0');
  const mention = `under the terms of the GNU General Public License as published by the Free Software Foundation; ${notice}`;
  expect(readMentions(mention)[0]?.spdxId).toBe('GPL-2.0-or-later');
  expect(readMentions(`${mention}\n${exception}`)[0]?.spdxId).toBe('GPL-2.0-or-later WITH Font-exception-2.0');
  // What the exception settles is a question without it.
  expect([
    openLicense('GPL-2.0-or-later')!.uses.documents.answer,
    openLicense('GPL-2.0-or-later WITH Font-exception-2.0')!.uses.documents.answer,
  ]).toEqual(['ask', 'yes']);
});

test('hostile and odd texts end soon and quietly', () => {
  for (const text of ['', 'a', '\0'.repeat(1000), 'permission is hereby granted '.repeat(20_000), `${OFL}\n`.repeat(40)])
    expect(() => readLicenses(text, index)).not.toThrow();
});
