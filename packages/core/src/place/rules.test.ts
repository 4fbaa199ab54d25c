import { contradictions, PROFILES, profileFrom, rulesOf, type Profile } from './index.js';

const rules = rulesOf(PROFILES.find((p) => p.id === 'website')!);
const wrong = (changes: object): string[] => contradictions({ ...rules, ...changes });
const role = (id: unknown, name: unknown = 'x', label: unknown = 'x') => ({ id, name, label });

/** Each limit at its edges: what still holds and what no longer does. The limits are ours. */
const EDGES: [string, (v: unknown) => object, unknown[], unknown[]][] = [
  ['largest file', (v) => ({ accepts: { ...rules.accepts, maxBytes: v } }), [1024, 1024 ** 3], [1023, 1024 ** 3 + 1, 2048.5, '2048', null]],
  ['files in one upload', (v) => ({ limits: { ...rules.limits, perUpload: v } }), [1, 10_000, null], [0, 10_001, 1.5, '3']],
  ['faces in all', (v) => ({ limits: { ...rules.limits, faces: v } }), [1, 100_000, null], [0, 100_001, -1]],
  ['letters of a name', (v) => ({ limits: { ...rules.limits, familyName: v } }), [1, 255, null], [0, 256]],
  ['families', (v) => ({ families: v }), [1, 100, null], [0, 101]],
  ['collections', (v) => ({ accepts: { ...rules.accepts, collections: v } }), ['accepted', 'refused'], [true, 'maybe', null]],
  ['variable faces', (v) => ({ accepts: { ...rules.accepts, variable: v } }), ['accepted', 'refused'], ['']],
  ['color', (v) => ({ accepts: { ...rules.accepts, color: v } }), ['accepted', 'refused'], [1]],
  ['restricted embedding', (v) => ({ embedding: { ...rules.embedding, restricted: v } }), ['accepted', 'refused'], [false]],
  ['bitmaps only', (v) => ({ embedding: { ...rules.embedding, bitmapOnly: v } }), ['accepted', 'refused'], [undefined]],
  ['twins', (v) => ({ twins: v }), ['beside', 'replaces'], ['both', null]],
  ['replacing', (v) => ({ replacing: v }), ['over', 'remove-first'], ['under']],
  ['words shown', (v) => ({ shows: { ...rules.shows, text: v } }), ['', 'x'.repeat(5000)], ['x'.repeat(5001), null]],
  ['capitals', (v) => ({ shows: { ...rules.shows, capitals: v } }), [true, false], ['yes']],
  ['spacing', (v) => ({ shows: { ...rules.shows, spaced: v } }), [true, false], [0]],
  ['use', (v) => ({ use: v }), ['website', 'logo'], ['wall', undefined]],
  [
    'roles',
    (v) => ({ roles: v }),
    [
      [],
      [role('a')],
      [role('a1-b', 'x'.repeat(60), 'x'.repeat(120))],
      Array.from({ length: 20 }, (_, i) => role(`r${i}`)),
      [role('a'.repeat(40))],
    ],
    [
      null,
      Array.from({ length: 21 }, (_, i) => role(`r${i}`)),
      [role('A')],
      [role('1a')],
      [role('a'.repeat(41))],
      [role('a', 'x'.repeat(61))],
      [role('a', 'x', 'x'.repeat(121))],
      [role('a', 7)],
      ['a'],
      [role('a'), role('a')],
    ],
  ],
  [
    'formats',
    (v) => ({ accepts: { ...rules.accepts, formats: v, prefer: 'woff2' } }),
    [['woff2'], ['ttf', 'otf', 'woff', 'woff2']],
    [[], ['eot'], ['woff'], ['woff2', 'woff2'], 'woff2'],
  ],
];
test.each(EDGES)('%s: what holds and what does not', (_name, with_, holds, fails) => {
  for (const v of holds) expect([v, wrong(with_(v))]).toEqual([v, []]);
  for (const v of fails) expect([v, wrong(with_(v)).length > 0]).toEqual([v, true]);
});

test('a place that refuses twins is given a new version only once the old one is gone', () => {
  expect(wrong({ twins: 'refused', replacing: 'over' })).toEqual([expect.stringMatching(/after the old one is removed/)]);
  expect(wrong({ twins: 'refused', replacing: 'remove-first' })).toEqual([]);
});

test('a part that is missing is named, and nothing is thrown', () => {
  for (const name of ['accepts', 'embedding', 'limits', 'shows'])
    expect(wrong({ [name]: undefined })).toContain(`“${name}” is missing or no object.`);
  for (const given of [null, [], 'x', 7]) expect(contradictions(given)).toEqual(['Rules of a place are an object with named fields.']);
});

test('a file’s rules lie over those of the kind that it is like, part by part', () => {
  const own = profileFrom({ like: 'website', limits: { faces: 7 }, families: 2, roles: [role('body')] }) as Profile;
  const base = PROFILES.find((p) => p.id === 'website')!;
  expect(own).toMatchObject({
    name: base.name,
    limits: { ...base.limits, faces: 7 },
    families: 2,
    roles: [role('body')],
    accepts: base.accepts,
  });
  expect((profileFrom({ like: 'website', name: 'x'.repeat(120) }) as Profile).name).toHaveLength(120);
  expect((profileFrom({ like: 'website', name: 'x'.repeat(121) }) as Profile).name).toBe(base.name);
  expect(profileFrom(['website'])).toEqual(['A profile is an object with “like” and the rules that differ.']);
});
