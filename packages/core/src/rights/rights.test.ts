import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { decodeEmbedding } from '../face/index.js';
import { compileLicenses, OPEN_LICENSES, recogniseText, reservedNames, USES, verdict, type LicenseRecord } from './index.js';

// SPDX License List texts, as the package spdx-license-list ships them.
const SPDX = createRequire(join(process.cwd(), 'package.json'))('spdx-license-list/full') as Record<string, { licenseText: string }>;
const templates = compileLicenses(Object.entries(SPDX).map(([spdxId, l]) => ({ spdxId, text: l.licenseText })));
const shipped = (path: string): string => readFileSync(join(process.cwd(), 'node_modules', path), 'utf8');

test.each([
  '@expo-google-fonts/literata/LICENSE_FONT',
  '@expo-google-fonts/gochi-hand/LICENSE_FONT',
  '@expo-google-fonts/scheherazade-new/LICENSE_FONT',
  'source-serif/LICENSE.md',
  '@fontsource-variable/newsreader/LICENSE',
])('the license file %s, as its package ships it, is the OFL 1.1 it declares', (path) => {
  const found = recogniseText(shipped(path), templates);
  expect(found).toMatchObject({ spdxId: 'OFL-1.1' });
  expect(found!.score).toBeGreaterThan(0.95);
});

test('every open license we know uses for is recognized from its own SPDX text, and quotes it', () => {
  const flat = (s: string): string => s.replace(/[’']/g, "'").replace(/\s+/g, ' ');
  expect(OPEN_LICENSES.length).toBeGreaterThanOrEqual(30);
  for (const license of OPEN_LICENSES) {
    const [id, exception] = license.spdxId.split(' WITH ');
    // The GUST Font License grants what the LPPL grants.
    const own = SPDX[license.spdxId === 'LicenseRef-GUST-Font-License' ? 'LPPL-1.3c' : id!]!.licenseText;
    if (!exception && own === SPDX[license.spdxId]?.licenseText)
      expect(recogniseText(own, templates)?.spdxId.replace(/-only$/, '')).toBe(license.spdxId.replace(/-(only|or-later)$/, ''));
    const text = flat(own + (exception ? SPDX['GPL-2.0-with-font-exception']!.licenseText : ''));
    for (const use of USES) expect(text).toContain(flat(license.uses[use].quote));
  }
});

test('the clause noted for an answer is where its words stand', () => {
  // Source: the numbering of the SPDX texts themselves; licenses that are one paragraph have no numbers.
  const NUMBERS: [RegExp, RegExp][] = [
    [/^Condition (\d+)/, /(?:^|\n)\s*(\d+)\) /g],
    [/^Clause (\d+)/, /\n\s*(\d+)\. (?=[A-Z])/g],
    [/^Article (\d+)/, /\n\s*Article (\d+)/g],
    [/^Section (\d+)/, /\n\s*(?:Section )?(\d+)(?:\.| –)\s/g],
  ];
  let checked = 0;
  for (const license of OPEN_LICENSES) {
    const id = license.spdxId.split(' WITH ')[0]!;
    const text = SPDX[id === 'LicenseRef-GUST-Font-License' ? 'LPPL-1.3c' : id]!.licenseText;
    for (const use of USES) {
      const { quote, clause } = license.uses[use];
      expect([license.spdxId, use, clause]).toEqual([license.spdxId, use, expect.stringMatching(/^[A-Z]/)]);
      const kind = NUMBERS.find(([label]) => label.test(clause));
      const words = new RegExp(
        quote
          .replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
          .replace(/[’']/g, "[’']")
          .replace(/\s+/g, '\\s+'),
      );
      const at = words.exec(text)?.index;
      if (!kind || at === undefined || /^CC-/.test(id)) continue;
      const before = [...text.slice(0, at + 1).matchAll(kind[1])].at(-1);
      expect([id, use, clause, before?.[1] ?? '0']).toEqual([id, use, clause, kind[0].exec(clause)![1]]);
      checked++;
    }
  }
  expect(checked).toBeGreaterThan(120);
});

test('reserved names are read from the copyright line', () => {
  expect(reservedNames(shipped('source-serif/LICENSE.md'))).toEqual(['Source']);
  expect(reservedNames('Copyright (c) 2010, A (a@b.example), with Reserved Font Names "Alpha" and "Beta Two".')).toEqual([
    'Alpha',
    'Beta Two',
  ]);
  expect(reservedNames(SPDX['OFL-1.1-no-RFN']!.licenseText)).toEqual([]);
});

const open = decodeEmbedding(0, 4);
const license = (changes: Partial<LicenseRecord> = {}): LicenseRecord => ({
  id: 'l',
  name: 'Web license',
  kind: 'bought',
  spdxId: null,
  confirmed: true,
  uses: { website: 'yes', 'printed-goods': 'no' },
  startsOn: null,
  endsOn: null,
  ...changes,
});
const answers = (records: LicenseRecord[], embedding = open, day = '2026-06-15'): string =>
  verdict('website', records, embedding, day).answer;

test('a verdict needs a confirmed record that covers the use on the day', () => {
  expect(answers([])).toBe('ask');
  expect(answers([license()])).toBe('yes');
  expect(answers([license({ confirmed: false })])).toBe('ask');
  // What a person recorded and confirmed counts, whatever the kind; what they left open is a question.
  expect(answers([license({ kind: 'unknown' })])).toBe('yes');
  expect(answers([license({ kind: 'unknown', uses: { website: 'no' } })])).toBe('no');
  expect(answers([license({ kind: 'unknown', uses: {} })])).toBe('ask');
  expect(answers([license({ uses: {} })])).toBe('ask');
  expect(answers([license({ uses: { website: 'no' } })])).toBe('no');
  expect(answers([license({ endsOn: '2026-06-14' })])).toBe('no');
  expect(answers([license({ endsOn: '2026-06-15' })])).toBe('yes');
  expect(answers([license({ startsOn: '2026-06-16' })])).toBe('no');
  expect(verdict('printed-goods', [license()], open, '2026-06-15').reasons[0]).toContain('does not allow');
});

test('the best of several licenses counts, and is named', () => {
  expect(verdict('website', [license({ id: 'a', endsOn: '2020-01-01' }), license({ id: 'b' })], open, '2026-06-15')).toMatchObject({
    answer: 'yes',
    licenseId: 'b',
  });
});

test('a file that forbids embedding makes a granted website right a question', () => {
  const restricted = decodeEmbedding(2, 4);
  expect(answers([license()], restricted)).toBe('ask');
  expect(answers([license({ uses: { website: 'no' } })], restricted)).toBe('no');
  expect(verdict('website', [license()], restricted, '2026-06-15').reasons[0]).toContain('forbids embedding');
});
