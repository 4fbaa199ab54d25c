import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { decodeEmbedding } from '../face/index.js';
import {
  compileLicenses,
  openLicense,
  recogniseText,
  USES,
  verdict,
  type Answer,
  type Change,
  type Counters,
  type LicenseRecord,
  type Use,
  LIMIT_KEYS,
  LIMITS,
} from './index.js';

const DAY = '2026-06-15';
const record = (changes: Partial<LicenseRecord> = {}): LicenseRecord => ({
  id: 'l',
  name: 'Web license',
  kind: 'bought',
  spdxId: null,
  confirmed: true,
  uses: { website: 'yes', 'printed-goods': 'no', changing: 'yes', logo: 'ask' },
  startsOn: null,
  endsOn: null,
  ...changes,
});
/** fsType bits. Source: OpenType specification, OS/2, fsType: 1 restricted, 8 no subsetting, 9 bitmap embedding only. */
const file = {
  open: decodeEmbedding(0, 4),
  restricted: decodeEmbedding(0x2, 4),
  noSubsetting: decodeEmbedding(0x100, 4),
  bitmapOnly: decodeEmbedding(0x200, 4),
};

/** The rows of docs/verdicts.md. */
const ROWS: [number, string, LicenseRecord[], Use, keyof typeof file, Counters, Answer, RegExp][] = [
  [1, 'nothing', [], 'website', 'open', {}, 'ask', /No license/],
  [2, 'begins later', [record({ startsOn: '2026-06-16' })], 'website', 'open', {}, 'no', /only begins/],
  [3, 'ended', [record({ endsOn: '2026-06-14' })], 'website', 'open', {}, 'no', /ended on/],
  [3, 'ends that day', [record({ endsOn: DAY })], 'website', 'open', {}, 'yes', /allows/],
  [4, 'kind not known', [record({ kind: 'unknown', uses: {} })], 'website', 'open', {}, 'ask', /not known/],
  [5, 'left open', [record()], 'app', 'open', {}, 'ask', /does not settle/],
  [5, 'ask', [record()], 'logo', 'open', {}, 'ask', /does not settle/],
  [6, 'no', [record()], 'printed-goods', 'open', {}, 'no', /does not allow/],
  [6, 'kind not known, no', [record({ kind: 'unknown' })], 'printed-goods', 'open', {}, 'no', /does not allow/],
  [7, 'not confirmed', [record({ confirmed: false })], 'website', 'open', {}, 'ask', /confirmed/],
  [8, 'over the limit', [record({ limits: { website: 1000 } })], 'website', 'open', { website: 1001 }, 'no', /1,001 of 1,000 page views/],
  [9, 'near the limit', [record({ limits: { website: 1000 } })], 'website', 'open', { website: 800 }, 'yes', /allows/],
  [10, 'in notice', [record({ endsOn: '2026-07-01', noticeOn: '2026-06-01' })], 'website', 'open', {}, 'yes', /allows/],
  [11, 'reserved names', [record({ reservedNames: ['Plot'] })], 'changing', 'open', {}, 'ask', /“Plot”/],
  [12, 'restricted file', [record()], 'website', 'restricted', {}, 'ask', /forbids embedding/],
  [12, 'restricted file, no right', [record({ uses: { website: 'no' } })], 'website', 'restricted', {}, 'no', /does not allow/],
  [12, 'restricted file at home', [record({ uses: { 'design-work': 'yes' } })], 'design-work', 'restricted', {}, 'yes', /allows/],
  [13, 'bitmap only', [record()], 'website', 'bitmapOnly', {}, 'ask', /bitmaps/],
  [14, 'no subsetting', [record()], 'changing', 'noSubsetting', {}, 'ask', /leaving characters out/],
  [15, 'yes', [record()], 'website', 'open', {}, 'yes', /allows/],
];
test.each(ROWS)('row %i: %s', (_row, _name, licenses, use, embedding, counters, answer, reason) => {
  const found = verdict(use, licenses, file[embedding], DAY, { counters });
  expect([found.answer, found.reasons[0]]).toEqual([answer, expect.stringMatching(reason)]);
  // What would turn it to yes is said exactly where it is none.
  expect(found.remedy === null).toBe(answer === 'yes');
});

test('another name that holds no reserved one settles it, and one that does forbids it', () => {
  // Source: SIL Open Font License 1.1, section 3.
  const changed = (newName: string | undefined, change: Change): Answer =>
    verdict('changing', [record({ reservedNames: ['Plot Sans'] })], file.open, DAY, {
      change,
      ...(newName === undefined ? {} : { newName }),
    }).answer;
  for (const change of ['subset', 'outlines', 'rename'] as const) {
    expect(changed('Packet', change)).toBe('yes');
    expect(changed('New PLOT-SANS Pro', change)).toBe('no');
  }
  expect([changed(undefined, 'subset'), changed(undefined, 'rename'), changed(undefined, 'container')]).toEqual(['ask', 'yes', 'yes']);
});

test('the document has every row that is tested, and no more', () => {
  const document = readFileSync(join(process.cwd(), 'docs/verdicts.md'), 'utf8');
  const rows = [...document.matchAll(/^\| (\d+) \|/gm)].map((m) => Number(m[1]));
  expect(rows).toEqual([...new Set(ROWS.map(([row]) => row))]);
});

test('attention is asked for near a limit and near an end', () => {
  const near = (changes: Partial<LicenseRecord>, counters: Counters = {}): boolean =>
    verdict('website', [record(changes)], file.open, DAY, { counters }).attention;
  expect(near({ limits: { website: 1000 } }, { website: 799 })).toBe(false);
  expect(near({ limits: { website: 1000 } }, { website: 800 })).toBe(true);
  expect(near({ endsOn: '2026-07-01', noticeOn: '2026-06-16' })).toBe(false);
  expect(near({ endsOn: '2026-07-01', noticeOn: DAY })).toBe(true);
});

test('of several licenses the best one counts, then the one that asks for nothing, then the one that lasts', () => {
  const best = (records: LicenseRecord[], counters: Counters = {}): string | null =>
    verdict('website', records, file.open, DAY, { counters }).licenseId;
  expect(best([record({ id: 'a', endsOn: '2020-01-01' }), record({ id: 'b' })])).toBe('b');
  expect(best([record({ id: 'a', limits: { website: 10 } }), record({ id: 'b', limits: { website: 1000 } })], { website: 9 })).toBe('b');
  expect(best([record({ id: 'a', endsOn: '2027-01-01' }), record({ id: 'b', endsOn: '2028-01-01' })])).toBe('b');
  expect(best([record({ id: 'a', endsOn: '2027-01-01' }), record({ id: 'b' })])).toBe('b');
});

test('the sentence of the record comes before that of the open license', () => {
  const own = record({ spdxId: 'OFL-1.1', quotes: { website: 'Use it on your site.' } });
  expect(verdict('website', [own], file.open, DAY).quote).toBe('Use it on your site.');
  expect(verdict('changing', [own], file.open, DAY).quote).toMatch(/Permission is hereby granted/);
});

test.each<[Change | undefined, Answer]>([
  [undefined, 'ask'],
  ['container', 'yes'],
  ['rename', 'yes'],
  ['subset', 'ask'],
  ['outlines', 'ask'],
])('reserved names under the OFL 1.1 when the change is %s: %s', (change, answer) => {
  // Source: OFL 1.1, section 3, and SIL's OFL FAQ: a subset is a modified version, a WOFF2 of the same tables is not.
  const ofl = record({ spdxId: 'OFL-1.1', reservedNames: ['Plot'] });
  expect(verdict('changing', [ofl], file.open, DAY, { change }).answer).toBe(answer);
});

test('a file that forbids subsetting stops a subset and no other change', () => {
  const of = (change?: Change): Answer => verdict('changing', [record()], file.noSubsetting, DAY, { change }).answer;
  expect([of(), of('subset'), of('container'), of('rename')]).toEqual(['ask', 'ask', 'yes', 'yes']);
});

test('domains are counted beside page views; the first limit that is passed says no', () => {
  const web = (counters: Counters): [Answer, boolean] => {
    const v = verdict('website', [record({ limits: { website: 1000, 'website-domains': 2 }, counters })], file.open, DAY);
    return [v.answer, v.attention];
  };
  expect(web({ website: 10, 'website-domains': 1 })).toEqual(['yes', false]);
  expect(web({ website: 10, 'website-domains': 2 })).toEqual(['yes', true]);
  expect(web({ website: 10, 'website-domains': 3 })).toEqual(['no', false]);
});

test('what the record asks in return stands beside what the known text asks, once', () => {
  const own = record({ spdxId: 'OFL-1.1', duties: ['Credit “Plot Foundry”.', 'Pass the license text along with the font file.'] });
  const { duties } = verdict('website', [own], file.open, DAY);
  expect(duties).toContain('Credit “Plot Foundry”.');
  expect(duties.filter((d) => d.startsWith('Pass the license text'))).toHaveLength(1);
});

test('a place that refuses restricted files makes a yes a question, also where the use serves no file', () => {
  const rules = (restricted: 'refused' | 'accepted') => ({
    place: { name: 'The print shop', embedding: { restricted, bitmapOnly: restricted } },
  });
  const own = record({ uses: { 'customers-words': 'yes' } });
  const of = (embedding: keyof typeof file, restricted: 'refused' | 'accepted') =>
    verdict('customers-words', [own], file[embedding], DAY, rules(restricted));
  expect(of('restricted', 'accepted').answer).toBe('yes');
  expect(of('restricted', 'refused')).toMatchObject({
    answer: 'ask',
    reasons: [expect.stringContaining('The print shop refuses'), expect.anything()],
  });
  expect(of('bitmapOnly', 'refused').answer).toBe('ask');
  expect(of('open', 'refused').answer).toBe('yes');
});

test('a count that is kept on the license itself goes before one that is counted for all', () => {
  const key = LIMIT_KEYS.find((k) => LIMITS[k].use === 'website')!;
  const one = record({ kind: 'bought', spdxId: null, uses: { website: 'yes' }, limits: { [key]: 10 } });
  const of = (own: number | undefined, all: number) =>
    verdict('website', [own === undefined ? one : { ...one, counters: { [key]: own } }], file.open, DAY, { counters: { [key]: all } })
      .answer;
  expect([of(undefined, 5), of(undefined, 20), of(5, 20), of(20, 5)]).toEqual(['yes', 'no', 'yes', 'no']);
});

/**
 * From license texts, as packages and the SPDX list have them, to verdicts: the text is recognized, taken on record as it
 * is suggested, and weighed.
 */
const SPDX = createRequire(join(process.cwd(), 'package.json'))('spdx-license-list/full') as Record<string, { licenseText: string }>;
const index = compileLicenses(Object.entries(SPDX).map(([spdxId, l]) => ({ spdxId, text: l.licenseText })));
const fromText = (text: string): LicenseRecord => {
  const found = recogniseText(text, index)!;
  const known = openLicense(found.spdxId)!;
  return record({
    spdxId: found.spdxId,
    kind: known.kind,
    uses: Object.fromEntries(USES.map((use) => [use, known.uses[use].answer])),
    reservedNames: found.reservedNames,
  });
};
const source = readFileSync(join(process.cwd(), 'node_modules/source-serif/LICENSE.md'), 'utf8');
test.each<[string, string, Use, Change | undefined, Answer, RegExp]>([
  // OFL 1.1: "with Reserved Font Name 'Source'" stands in this file.
  ['OFL with a reserved name', source, 'changing', 'subset', 'ask', /redistribute, and sell modified/],
  ['OFL with a reserved name', source, 'changing', 'container', 'yes', /redistribute, and sell modified/],
  ['OFL with a reserved name', source, 'printed-goods', undefined, 'yes', /does not apply to any document created/],
  ['OFL without one', SPDX['OFL-1.1-no-RFN']!.licenseText, 'changing', 'subset', 'yes', /redistribute, and sell modified/],
  ['Apache', SPDX['Apache-2.0']!.licenseText, 'changing', 'subset', 'yes', /prepare Derivative Works/],
  ['CC0', SPDX['CC0-1.0']!.licenseText, 'app', undefined, 'yes', /waives/],
  ['CC BY-NC', SPDX['CC-BY-NC-4.0']!.licenseText, 'printed-goods', undefined, 'no', /NonCommercial purposes only/],
  ['CC BY-ND', SPDX['CC-BY-ND-4.0']!.licenseText, 'changing', 'subset', 'ask', /but not Share, Adapted Material/],
  ['GPL without the exception', SPDX['GPL-3.0-only']!.licenseText, 'documents', undefined, 'ask', /convey/],
  [
    'GPL with the exception',
    `${SPDX['GPL-3.0-only']!.licenseText}\n${SPDX['GPL-2.0-with-font-exception']!.licenseText}`,
    'documents',
    undefined,
    'yes',
    /does not by itself cause the resulting document/,
  ],
  // Where the text asks something, nothing says yes without a question; the clause stands beside the answer.
  ['IPA', SPDX.IPA!.licenseText, 'changing', 'subset', 'ask', /No one may use or include the name/],
  ['IPA', SPDX.IPA!.licenseText, 'website', undefined, 'ask', /may not alter or otherwise modify/],
  ['IPA', SPDX.IPA!.licenseText, 'printed-goods', undefined, 'yes', /in printed materials/],
  ['Bitstream Vera', SPDX['Bitstream-Vera']!.licenseText, 'changing', 'subset', 'ask', /only if the fonts are renamed/],
  ['Bitstream Vera', SPDX['Bitstream-Vera']!.licenseText, 'website', undefined, 'yes', /reproduce and distribute/],
  ['Ubuntu 1.0', SPDX['Ubuntu-font-1.0']!.licenseText, 'website', undefined, 'ask', /by changing formats/],
  ['Ubuntu 1.0', SPDX['Ubuntu-font-1.0']!.licenseText, 'changing', 'subset', 'ask', /must be renamed/],
  ['Ubuntu 1.0', SPDX['Ubuntu-font-1.0']!.licenseText, 'printed-goods', undefined, 'yes', /propagate/],
  ['CC BY-SA', SPDX['CC-BY-SA-4.0']!.licenseText, 'app', undefined, 'ask', /Effective Technological Measures/],
  ['CC BY-SA', SPDX['CC-BY-SA-4.0']!.licenseText, 'documents', undefined, 'ask', /Effective Technological Measures/],
  ['CC BY', SPDX['CC-BY-4.0']!.licenseText, 'logo', undefined, 'ask', /retain the following/],
  ['CC BY', SPDX['CC-BY-4.0']!.licenseText, 'printed-goods', undefined, 'yes', /reproduce and Share/],
  ['CC BY', SPDX['CC-BY-4.0']!.licenseText, 'documents', undefined, 'ask', /Effective Technological Measures/],
  ['CC BY 3.0', SPDX['CC-BY-3.0']!.licenseText, 'documents', undefined, 'ask', /effective technological measures/],
  ['CC BY-ND', SPDX['CC-BY-ND-4.0']!.licenseText, 'website', undefined, 'yes', /reproduce and Share/],
  ['OFL 1.0, without an exception for documents', SPDX['OFL-1.0']!.licenseText, 'documents', undefined, 'ask', /under any other license/],
  ['OFL 1.0', SPDX['OFL-1.0']!.licenseText, 'printed-goods', undefined, 'yes', /Permission is hereby granted/],
  ['LPPL, a part of a package', SPDX['LPPL-1.3c']!.licenseText, 'website', undefined, 'ask', /Distribution of only part of the Work/],
  ['LPPL', SPDX['LPPL-1.3c']!.licenseText, 'design-work', undefined, 'yes', /act of running the Work is not restricted/],
  ['LPPL', SPDX['LPPL-1.3c']!.licenseText, 'changing', 'subset', 'ask', /provided the following conditions are met/],
  ['Arphic, another format', SPDX['Arphic-1999']!.licenseText, 'website', undefined, 'ask', /converting format/],
  ['Arphic', SPDX['Arphic-1999']!.licenseText, 'changing', 'subset', 'ask', /Freely Available as a whole/],
  ['Arphic', SPDX['Arphic-1999']!.licenseText, 'app', undefined, 'yes', /verbatim copies/],
  ['ParaType', SPDX['ParaType-Free-Font-1.3']!.licenseText, 'changing', 'subset', 'ask', /under the Original name/],
])('%s: %s', (_name, text, use, change, answer, quote) => {
  const found = verdict(use, [fromText(text)], file.open, DAY, { change });
  const own = openLicense(fromText(text).spdxId!)!.uses[use];
  expect([found.answer, found.quote ?? own.quote]).toEqual([answer, expect.stringMatching(quote)]);
  expect(found.clause).toBe(found.quote === null ? null : own.clause);
});

test('open licenses ask for their text to be passed along, wherever the file goes', () => {
  for (const id of ['OFL-1.1', 'Apache-2.0', 'MIT', 'Ubuntu-font-1.0', 'IPA', 'LPPL-1.3c', 'GPL-2.0-only'])
    expect([id, verdict('passing-on', [fromText(SPDX[id]!.licenseText)], file.open, DAY).duties.join(' ')]).toEqual([
      id,
      expect.stringMatching(/license text/i),
    ]);
});
