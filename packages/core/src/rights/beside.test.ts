import { createRequire } from 'node:module';
import { judgeSentence } from './beside.js';
import { isNotice } from './notices.js';
import { withoutPackaging } from './packaging.js';
import { readText } from './read.js';
import { compileLicenses } from './recognise.js';
import { USES } from './uses.js';

const SPDX = createRequire(import.meta.url)('spdx-license-list/full') as Record<string, { licenseText: string }>;
const index = compileLicenses(Object.entries(SPDX).map(([spdxId, l]) => ({ spdxId, text: l.licenseText })));
const OFL = SPDX['OFL-1.1']!.licenseText;
const open = (text: string) => {
  const { recognised, narrowing, beside } = readText(text, index);
  return [recognised[0]?.spdxId, new Set(narrowing.map((n) => n.use)).size, beside[0]?.text ?? null];
};

test('one sentence beside an open license leaves every use open, and is shown', () => {
  expect(open(OFL)).toEqual(['OFL-1.1', 0, null]);
  for (const sentence of [
    'Commercial use requires a separate license.',
    'Private use.',
    'Not for companies.',
    'Trial.',
    'Superseded by the attached agreement.',
    'The italic styles are proprietary.',
    'Do not use.',
    'This work is licensed under CC BY-NC 4.0.',
    'Creative Commons Attribution-NonCommercial 4.0 International',
    'Plain SchoolsOnly 2.0',
    'Nur für privaten Gebrauch.',
    'Tylko do użytku prywatnego.',
    'Usage commercial interdit.',
    'Solo para uso personal.',
    'ライセンスが必要です',
    'Запрещено',
    'Website ✘',
    'The bold is not covered.',
    'All previous versions are under this, this one is not.',
    'It belongs to us.',
    '5 EUR',
    '$5',
    'Licensed to Acme Ltd.',
    'Version 2 is closed.',
    'See agreement.md',
    '<https://example.com/licenses/noncommercial/1.0.0>',
    'Preview',
    'You may use the glyphs at home.',
  ])
    for (const text of [`${sentence}\n\n${OFL}`, `${OFL}\n\n${sentence}\n`]) expect(open(text)).toEqual(['OFL-1.1', USES.length, sentence]);
});

test('copyright lines count as such where they hold years, names, addresses and reserved names alone', () => {
  for (const line of [
    'Copyright (c) 2011 Pablo Impallari (www.impallari.com|impallari@gmail.com), with Reserved Font Name Libre Caslon.',
    'Copyright 2020 The Inter Project Authors (https://github.com/rsms/inter)',
    'Copyright (c) 2010, Łukasz Dziedzic (dziedzic@typoland.com),',
    'Digitized data copyright (c) 2010 Google Corporation',
    'Copyright (c) 2003 by Bitstream, Inc. All Rights Reserved.',
    'Copyright 2010 王漢宗',
    'Copyright (c) 2000 tobias köhler (unci@example.com)',
    'Copyright 2013-2020 Khan Academy and other contributors',
  ])
    expect([line, isNotice(line)]).toEqual([line, true]);
  for (const more of [
    ' (trial)',
    ', desktop use',
    '. Licensed for schools.',
    ' for non-commercial use',
    '. Not for print.',
    ' Trial',
    ', Desktop License',
    ', only for members',
    '. Private.',
    ' Web Only',
    ' (students)',
    ', nur privat',
    ' pour usage privé',
  ]) {
    const line = `Copyright 2010 Anna Smith${more}`;
    expect([line, isNotice(line), open(`${line}\n\n${OFL}`)[1]]).toEqual([line, false, USES.length]);
  }
});

test('what comes with open fonts is recognized as harmless', () => {
  // Forms as they stand in READMEs and logs of packages; names and addresses are made up.
  const names = new Set(['plain', 'garden']);
  for (const sentence of [
    '# Installation',
    'Changelog',
    'Version 1.2, 3 May 2020',
    '- Fixed kerning of T and o.',
    '- Added Greek and Cyrillic glyphs',
    'This Font Software is licensed under the SIL Open Font License, Version 1.1.',
    'This license is copied below, and is also available with a FAQ at: http://scripts.sil.org/OFL',
    'Plain Garden is released under the SIL Open Font License.',
    'See the file OFL.txt for details.',
    'Unzip the archive at the root of an appropriate texmf tree, likely a personal or local tree.',
    'It was downloaded from https://example.com/plain.zip',
    'The support files were created by a script and are licensed under the terms of the LaTeX Project Public License.',
    '11 March 2012 (Jo Hand) Plain v1.000',
    'Source: https://example.com/plain',
    'Plain is a trademark of Garden Type in the United States and/or other countries.',
  ])
    expect([sentence, judgeSentence(sentence, names, ['OFL-1.1'])]).toEqual([sentence, null]);
});

test('a second license is told, unless it is that of something beside the fonts', () => {
  const own = ['OFL-1.1'];
  expect(judgeSentence('The font is dual licensed either GNU GPL 3 or OFL 1.1.', new Set(), own)).toMatch(/second/);
  expect(judgeSentence('The build scripts are licensed under the MIT License.', new Set(), own)).toBeNull();
  const stanzas = `Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/
Upstream-Name: plain

Files: *
Copyright: 2019 Jo Hand
License: OFL-1.1

Files: debian/*
Copyright: 2020 Kim Packer
License: GPL-2+

License: GPL-2+
 You may pay for it.
`;
  // Source: Debian, "Machine-readable debian/copyright file", format 1.0: what stands under a name counts for the files that name it.
  expect(withoutPackaging(stanzas).trim()).toBe('');
  expect(withoutPackaging(stanzas.replace('License: OFL-1.1', 'License: GPL-2+'))).toContain('You may pay for it.');
  expect(withoutPackaging('Files of ours:\nYou may pay for it.')).toContain('You may pay for it.');
});

test('however long, a text is read in time that grows with its length', () => {
  for (const hostile of [
    'a '.repeat(100_000),
    '(c) 2020 '.repeat(20_000),
    '- A B\n'.repeat(30_000),
    `Copyright ${'A '.repeat(50_000)}`,
    '"'.repeat(100_000),
  ])
    expect(readText(`${hostile}\n\n${OFL}`, index).recognised.length).toBeLessThan(2);
});
