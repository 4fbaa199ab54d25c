import { blankLicense, filterFor, licenseFields, queryToWanted, wanted, wantedToQuery, type Filtered } from './index.js';

const family = (changes: Partial<Filtered> = {}): Filtered => ({
  id: 'f',
  name: 'Plot Serif',
  also: [],
  note: 'for the spring packets',
  labels: ['headlines'],
  favorite: false,
  archived: false,
  kind: 'serif',
  confidence: 0.9,
  scripts: ['Latn', 'Grek'],
  languages: ['en', 'pl', 'el'],
  features: ['onum', 'ss02', 'c2sc'],
  axes: ['wght'],
  color: false,
  places: ['shop.example'],
  sources: ['plot.zip'],
  verdicts: { website: 'yes', logo: 'ask', app: 'no' },
  formats: ['otf', 'woff2'],
  licenseName: 'Studio license',
  faces: [
    { style: 'Regular', weightClass: 400, widthClass: 5, italic: false, variable: false, ranges: {} },
    { style: 'Bold Condensed', weightClass: 700, widthClass: 3, italic: false, variable: false, ranges: {} },
  ],
  addedAt: '2026-03-05T10:00:00.000Z',
  ...changes,
});
const NAMES = new Map([
  ['Latn', 'Latin'],
  ['Grek', 'Greek'],
]);
const fits = (asked: Record<string, unknown>, f = family(), collected: ReadonlySet<string> | null = null): boolean =>
  filterFor(wanted.parse(asked), collected, NAMES)(f);

test.each<[string, Record<string, unknown>, Record<string, unknown>]>([
  ['kind', { kind: 'serif' }, { kind: 'sans' }],
  ['languages, all of them', { writes: ['pl', 'el'] }, { writes: ['pl', 'uk'] }],
  ['use, only a plain yes', { use: 'website' }, { use: 'logo' }],
  ['format', { format: 'woff2' }, { format: 'ttf' }],
  ['script', { script: 'Grek' }, { script: 'Arab' }],
  ['axis', { axis: 'wght' }, { axis: 'opsz' }],
  ['color', { color: 'no' }, { color: 'yes' }],
  ['place', { place: 'shop.example' }, { place: 'other.example' }],
  ['label', { label: 'headlines' }, { label: 'notes' }],
  ['source', { from: 'plot.zip' }, { from: 'other.zip' }],
  ['since, the day included', { since: '2026-03-05' }, { since: '2026-03-06' }],
  // Source: OpenType Layout tag registry. Small capitals come from lower case or from capitals; alternates have many tags.
  ['features by group', { features: ['smcp', 'salt'] }, { features: ['frac'] }],
  // One face must have all that is asked: the bold one is condensed, so no bold one is of normal width.
  ['weight and width of one style', { weight: 'bold', width: 'narrow' }, { weight: 'bold', width: 'normal' }],
  ['weight, at the edges', { weight: 'regular' }, { weight: 'light' }],
  ['slope', { slope: 'upright' }, { slope: 'slanted' }],
  ['everyday words for kind, weight, feature and use', { q: 'serifs bold alternates website' }, { q: 'serif swash' }],
  ['a use by its goods only where they are cleared', { q: 'web' }, { q: 't-shirts' }],
  ['words in name, label, note, place and script', { q: 'plot spring greek' }, { q: 'plot arabic' }],
])('%s', (_what, yes, no) => {
  expect([fits(yes), fits(no)]).toEqual([true, false]);
});

test('a variable face counts with all it can become', () => {
  const variable = family({
    faces: [
      { style: 'Regular', weightClass: 400, widthClass: 5, italic: false, variable: true, ranges: { wght: [200, 600], wdth: [75, 100] } },
    ],
  });
  const asked = [{ weight: 'light' }, { weight: 'bold' }, { width: 'narrow' }, { width: 'wide' }, { q: 'variable light' }, { q: 'bold' }];
  expect(asked.map((a) => fits(a, variable))).toEqual([true, false, true, false, true, false]);
  expect([
    fits({ q: 't-shirts' }, family({ verdicts: { 'printed-goods': 'yes' } })),
    fits({ q: 'serif' }, family({ name: 'Plot', confidence: 0.2 })),
  ]).toEqual([true, false]);
});

test('an unsure kind fits no kind, and nothing is hidden when none is asked for', () => {
  const unsure = family({ confidence: 0.2 });
  expect([fits({ kind: 'serif' }, unsure), fits({}, unsure)]).toEqual([false, true]);
});

test('archived families stand apart, favorites and collections choose', () => {
  const archived = family({ archived: true });
  expect([fits({}, archived), fits({ shelf: 'archived' }, archived), fits({ shelf: 'archived' })]).toEqual([false, true, false]);
  expect([fits({ shelf: 'favorites' }), fits({ shelf: 'favorites' }, family({ favorite: true }))]).toEqual([false, true]);
  const id = '00000000-0000-4000-8000-000000000001';
  expect([
    fits({ collection: id }, family(), new Set(['f'])),
    fits({ collection: id }, family(), new Set()),
    fits({ collection: id }),
  ]).toEqual([true, false, false]);
});

test('a sentence goes into an address and comes back the same', () => {
  const asked = wanted.parse({ q: 'łąka & "quotes"', writes: ['pl', 'uk'], features: ['tnum'], use: 'website', kind: 'sans' });
  const address = new URLSearchParams(wantedToQuery(asked)).toString();
  const back = wanted.parse(queryToWanted(Object.fromEntries(new URLSearchParams(address))));
  expect(back).toEqual(asked);
  expect(wantedToQuery(wanted.parse({}))).toEqual({});
});

test('a record of a license is checked field by field', () => {
  const field = (changes: object): string | undefined => {
    const result = licenseFields.safeParse({ ...blankLicense([]), name: 'x', ...changes });
    return result.success ? undefined : result.error.issues[0]!.path.join('.');
  };
  expect(field({})).toBeUndefined();
  // ISO 4217 names currencies; days are ISO 8601.
  for (const [changes, wrong] of [
    [{ name: '  ' }, 'name'],
    [{ kind: 'stolen' }, 'kind'],
    [{ currency: 'XYZW' }, 'currency'],
    [{ currency: 'eur' }, 'currency'],
    [{ endsOn: '31.12.2026' }, 'endsOn'],
    [{ endsOn: '2026-02-30' }, 'endsOn'],
    [{ price: -1 }, 'price'],
    [{ limits: { website: 0 } }, 'limits.website'],
    [{ limits: { 'design-work': 1.5 } }, 'limits.design-work'],
    [{ counters: { 'website-domains': -1 } }, 'counters.website-domains'],
    [{ uses: { website: 'maybe' } }, 'uses.website'],
    [{ duties: [''] }, 'duties.0'],
    [{ faceIds: ['not-an-id'] }, 'faceIds.0'],
  ] as const)
    expect([changes, field(changes)]).toEqual([changes, wrong]);
  for (const fine of [{ currency: 'PLN', price: 0 }, { limits: { website: 1 } }, { counters: { website: 0 } }, { endsOn: '2028-02-29' }])
    expect(field(fine)).toBeUndefined();
});
