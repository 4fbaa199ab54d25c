import { createRequire } from 'node:module';
import { join } from 'node:path';
import { belongings, compileLicenses, findingsOf, readText, type BundleFace, type BundleText } from './index.js';

const SPDX = createRequire(join(process.cwd(), 'package.json'))('spdx-license-list/full') as Record<string, { licenseText: string }>;
const index = compileLicenses(['OFL-1.1', 'Apache-2.0', 'MIT'].map((spdxId) => ({ spdxId, text: SPDX[spdxId]!.licenseText })));
const OFL = SPDX['OFL-1.1']!.licenseText;
const PERSONAL = 'Free for personal use only. You may not embed it on a website.';

const text = (path: string, content: string): BundleText => {
  const reading = readText(content, index);
  return {
    id: path,
    path,
    content,
    licenses: reading.recognised.map((r) => r.spdxId),
    findings: findingsOf(reading, { terms: true, receipt: false }),
  };
};
const face = (path: string, family: string, more: Partial<BundleFace> = {}): BundleFace => ({
  id: path,
  path,
  family,
  names: [],
  copyright: null,
  license: null,
  licenseUrl: null,
  ...more,
});
/** Faces by text, and why the others are left out. */
const of = (texts: BundleText[], faces: BundleFace[]) => {
  const all = belongings(texts, faces);
  return {
    covers: all.filter((b) => b.reason === null).map((b) => `${b.textId} > ${b.faceId}`),
    reasons: all.flatMap((b) => b.reason ?? []),
  };
};

test('a text counts for its own folder and not for its neighbors', () => {
  const { covers } = of(
    [text('Free One/OFL.txt', OFL), text('Paid Two/LICENSE.txt', PERSONAL)],
    [face('Free One/a.ttf', 'Free One'), face('Paid Two/b.ttf', 'Paid Two'), face('Bare Three/c.ttf', 'Bare Three')],
  );
  expect(covers).toEqual(['Free One/OFL.txt > Free One/a.ttf', 'Paid Two/LICENSE.txt > Paid Two/b.ttf']);
});

test('it counts for folders under it that hold no terms of their own, and a folder of texts belongs to the one above', () => {
  expect(of([text('Plot/OFL.txt', OFL)], [face('Plot/static/a.ttf', 'Plot'), face('Plot/b.ttf', 'Plot')]).covers).toHaveLength(2);
  expect(of([text('Plot/OFL.txt', OFL), text('Plot/static/TERMS.txt', PERSONAL)], [face('Plot/static/a.ttf', 'Plot')]).covers).toEqual([
    'Plot/static/TERMS.txt > Plot/static/a.ttf',
  ]);
  expect(of([text('Plot/license/OFL.txt', OFL)], [face('Plot/fonts/a.ttf', 'Plot')]).covers).toHaveLength(1);
});

test('a text at the top that names one family counts for that one alone', () => {
  const lines = `Copyright 2020 The Plot Project Authors (https://plot.example)\n\n${OFL}`;
  const { covers, reasons } = of([text('OFL.txt', lines)], [face('a/Plot.ttf', 'Plot'), face('b/Ridge.ttf', 'Ridge')]);
  expect(covers).toEqual(['OFL.txt > a/Plot.ttf']);
  expect(reasons).toEqual(['OFL.txt names Plot, and not Ridge.']);
  // One that names nobody counts for all that have nothing of their own.
  expect(of([text('OFL.txt', OFL)], [face('a/Plot.ttf', 'Plot'), face('b/Ridge.ttf', 'Ridge')]).covers).toHaveLength(2);
  // The file's name names, too.
  expect(of([text('OFL-Plot.txt', OFL)], [face('Plot.ttf', 'Plot'), face('Ridge.ttf', 'Ridge')]).covers).toEqual([
    'OFL-Plot.txt > Plot.ttf',
  ]);
});

test.each<[string, string, Partial<BundleFace>, RegExp]>([
  [
    'a reserved name of another family',
    `Copyright (c) 2010, A. Smith, with Reserved Font Name "Lobster".\n\n${OFL}`,
    {},
    /reserves the name “Lobster”/,
  ],
  [
    'another copyright holder',
    `Copyright (c) 2010, Anna Nowak\n\n${OFL}`,
    { copyright: 'Copyright 2015 Foundry Brothers' },
    /names others/,
  ],
  [
    'a license field that names another',
    OFL,
    { license: 'This font is licensed under the Apache License, Version 2.0.' },
    /Apache License 2.0/,
  ],
  ['a license field that denies it', OFL, { license: 'This font is NOT licensed under the SIL Open Font License 1.1.' }, /NOT licensed/],
  ['a license field that narrows it', OFL, { license: 'Personal use only.' }, /Personal use only/],
  ['a copyright line that narrows it', OFL, { copyright: '(c) Ridge. Demo version, not for commercial use.' }, /Demo version/],
  ['a license address of another', OFL, { licenseUrl: 'https://www.apache.org/licenses/LICENSE-2.0' }, /Apache License 2.0/],
  [
    'a license field that names an open license beside personal terms',
    PERSONAL,
    { license: 'This Font Software is licensed under the SIL Open Font License, Version 1.1.' },
    /which .* does not/,
  ],
])('%s speaks against it', (_what, content, more, reason) => {
  const { covers, reasons } = of([text('TEXT.txt', content)], [face('Ridge.ttf', 'Ridge', more)]);
  expect(covers).toEqual([]);
  expect(reasons).toEqual([expect.stringMatching(reason)]);
});

test('the same holder, the same reserved name and the same license speak for it', () => {
  const lines = `Copyright (c) 2010, Anna Nowak (a@b.example), with Reserved Font Name "Ridge".\n\n${OFL}`;
  const own = {
    copyright: 'Copyright (c) 2010, Anna Nowak (a@b.example), with Reserved Font Name "Ridge". All rights reserved.',
    license: 'This Font Software is licensed under the SIL Open Font License, Version 1.1.',
    licenseUrl: 'https://scripts.sil.org/OFL',
  };
  expect(of([text('OFL.txt', lines)], [face('Ridge.ttf', 'Ridge Sans', own)]).covers).toHaveLength(1);
});

test('two texts side by side that say different things settle nothing; notes on the same license do no harm', () => {
  const faces = [face('Ridge.ttf', 'Ridge')];
  expect(of([text('OFL.txt', OFL), text('README.txt', PERSONAL)], faces)).toEqual({
    covers: [],
    reasons: Array(2).fill('OFL.txt and README.txt stand side by side and say different things.'),
  });
  expect(of([text('OFL.txt', OFL), text('Apache.txt', SPDX['Apache-2.0']!.licenseText)], faces).covers).toEqual([]);
  const notes = 'Ridge is licensed under the SIL Open Font License 1.1. You may not sell it by itself.';
  expect(of([text('OFL.txt', OFL), text('FONTLOG.txt', notes)], faces).covers).toContain('OFL.txt > Ridge.ttf');
});
