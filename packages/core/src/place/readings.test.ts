import { changedSinceReview } from '../../test/reviewed.js';
import { decodeEmbedding } from '../face/index.js';
import type { Answer, Change, Verdict } from '../rights/index.js';
import type { FontFormat } from '../sfnt/index.js';
import {
  batchOf,
  chosenRemedies,
  contextFor,
  contradictions,
  fitOf,
  hardStop,
  isClear,
  isOverridable,
  mendAll,
  preflight,
  PROFILES,
  profileFrom,
  rulesOf,
  twinKey,
  wayTo,
  withRules,
  type CheckContext,
  type FaceThere,
  type Profile,
} from './index.js';
import { cutTo } from './remedies/smaller.js';
import { formatList, mib } from './finding.js';

/** Numerical Recipes' linear congruential generator: the same faces and places in every run. */
let seed = 1;
const random = (n: number): number => Math.floor(((seed = (1664525 * seed + 1013904223) >>> 0) / 2 ** 32) * n);
const one = <T>(of: readonly T[]): T => of[random(of.length)]!;

const verdictOf = (answer: Answer, use: Verdict['use']): Verdict => ({
  use,
  answer,
  reasons: [`It says ${answer}.`],
  licenseId: one([null, 'l1']),
  quote: null,
  clause: null,
  duties: [],
  remedy: null,
  attention: false,
});
const there = (most: number): FaceThere[] =>
  Array.from({ length: most }, (_, i) => ({
    name: `f${i}.woff2`,
    family: one(['Plot', 'plot', 'Ridge', 'Dale', `Other ${i}`]),
    style: one(['Regular', 'Bold']),
    sha256: one([null, 'a', 'b']),
    installId: one([null, `i${i}`, `i${i}`]),
    lastUsed: one([null, '2026-01-01', '2026-02-01', '2025-12-31']),
  }));
const INSTANCES = [
  { name: 'Light', coordinates: [300] },
  { name: 'Regular', coordinates: [400] },
  { name: null, coordinates: [450] },
  { name: 'Odd', coordinates: [] },
  { name: 'SemiBold', coordinates: [600] },
  { name: 'Bold', coordinates: [700] },
  { name: 'Black', coordinates: [900] },
];
/** A face that somebody wants to put at a place, with all that is known; sizes and counts at the edges of the place's rules. */
function context(profile: Profile): CheckContext {
  const { maxBytes } = profile.accepts;
  const size = (): number => one([300_000, maxBytes - 1, maxBytes, maxBytes + 1, 2 * maxBytes + 1, 1023, 1024, 1025, 1024 * 1024]);
  const formats: FontFormat[] = [
    ...new Set([one(['ttf', 'otf', 'ttc', 'woff', 'woff2', 'eot', 'svg'] as const), one(['ttf', 'woff2', 'ttc', 'woff'] as const)]),
  ].slice(0, 1 + random(2));
  const axes = random(4) === 0 ? [{ tag: 'wght', min: 100, default: 400, max: 900, name: null, hidden: false }] : [];
  const family = one(['Plot', 'Ridge', 'Dale', 'P'.repeat(31), 'P'.repeat(32), 'P'.repeat(64), 'P'.repeat(65), 'P'.repeat(121)]);
  const answer = one<Answer>(['yes', 'no', 'ask']);
  const recipe = one([
    [],
    [],
    [],
    [{ step: 'container', options: { to: one(['woff2', 'woff', 'ttf']) } }],
    [{ step: 'rename', options: { family: 'New' } }],
    [{ step: 'subset', options: { runs: [65, 90] } }],
  ]);
  const most = profile.limits.faces ?? 4;
  return contextFor(
    profile,
    {
      family,
      style: one(['Regular', 'Bold']),
      format: formats[0]!,
      facts: {
        outlines: one(['glyf', 'CFF', 'CFF2', 'none']),
        axes,
        color: random(5) === 0 ? ['COLR'] : [],
        embedding: decodeEmbedding(one([0, 0, 0, 2, 4, 8, 0x100, 0x200]), 4),
        findings: one([
          [],
          [],
          [{ code: 'bad-glyph', severity: 'blocks', message: 'Glyph 3 is damaged.' }],
          [{ code: 'x', severity: 'fault', message: 'Odd.' }],
        ]),
        instances: INSTANCES,
      },
      files: formats.map((format) => ({ format, bytes: size(), ...(format === 'ttc' && { whole: random(2) === 0 }) })),
      sha256: one([null, 'a']),
    },
    {
      fileName: one([null, null, 'a.ttf', 'a.otf', 'a.WOFF2', 'a', 'a.ttc', 'a.woff']),
      verdicts: random(3) === 0 ? [verdictOf(answer, profile.use), verdictOf(one(['yes', 'no']), 'changing')] : [],
      notes: random(6) === 0 ? ['It ends soon.'] : [],
      mayChange: one([
        null,
        (change: Change) => ({
          answer: change === 'container' ? ('yes' as const) : one<Answer>(['yes', 'no']),
          reasons: one([[], [`Not ${change}.`]]),
        }),
      ]),
      recipe,
      made:
        recipe.length > 0 && random(3) > 0
          ? { format: one(['woff2', 'ttf', 'woff'] as const), bytes: size(), sha256: one([null, 'b']) }
          : null,
      keep: one([null, [], [65, 90, 97, 122]]),
      estimate: one([null, () => size()]),
      there: one([null, { faces: there(one([0, 1, 3, most - 1, most])), types: one([null, null, ['woff2'], [], ['ttf', 'otf', 'woff']]) }]),
      batch: {
        position: one([0, 0, 1, 2]),
        total: one([1, 3, 10, 11, 21]),
        twin: one([null, null, null, 'Plot Bold']),
        families: [one(['Plot', family]), 'Ridge', family],
      },
      texts: one([
        [],
        [],
        [{ label: 'Menu', missing: ['ą'] }],
        [
          { label: 'Menu', missing: [] },
          { label: 'Sign', missing: [...'abcdefgh'] },
          { label: 'Card', missing: [...'abcdefghi'] },
        ],
        [1, 2, 3].map((n) => ({ label: `Text ${n}`, missing: ['ł', 'ż'] })),
      ]),
      joined: one([null, null, 'handwriting', 'Arabic']),
      role: one([null, ...profile.roles.map((r) => r.id)]),
      forDisplay: random(3) === 0,
      alike: one([[], [{ faceId: 'x', name: 'Dale Regular' }]]),
    },
  );
}

test.each(PROFILES.map((p) => [p.id, p] as const))(
  'faces of every kind at a place of the kind %s are told of as when last reviewed',
  (id, profile) => {
    const kinds: Profile[] = [
      profile,
      withRules(profile, {
        ...rulesOf(profile),
        twins: 'refused',
        replacing: 'remove-first',
        families: 2,
        limits: { perUpload: 10, faces: 4, familyName: 31 },
      }),
      withRules(profile, {
        ...rulesOf(profile),
        twins: 'replaces',
        accepts: { ...profile.accepts, variable: 'refused', color: 'refused', collections: 'accepted' },
      }),
    ];
    const read = Array.from({ length: 240 }, (_, i) => {
      seed = 97 * i + 13;
      const at = context(kinds[i % 3]!);
      const found = preflight(at);
      const ids = found.flatMap((f) => f.remedies.map((r) => r.id));
      return [
        `${id} ${i}`,
        [
          found,
          isClear(found),
          isOverridable(found),
          hardStop(found),
          fitOf(found),
          mendAll(found),
          chosenRemedies(at, ids.slice(0, 3)),
          cutTo(at, [65, 70]),
          wayTo(at.state, at.profile.accepts),
          at.instances,
        ],
      ] as const;
    });
    expect(changedSinceReview(`place-${id}`, read)).toEqual([]);
  },
);

test('names, sizes, batches and profiles of files come to what they did when last reviewed', () => {
  const sizes = [0, 1, 1023, 1024, 1025, 1024 ** 2 - 1, 1024 ** 2, 1024 ** 2 + 1, 1.5 * 1024 ** 2];
  const lists = [[], ['ttf'], ['ttf', 'otf'], ['ttf', 'ttf', 'woff'], ['ttf', 'otf', 'woff2']] as const;
  const pairs = [
    ['Plot', 'Bold'],
    ['plot', 'BOLD'],
    ['Plot-Sans', ''],
    ['Plot  Sans', '!'],
    ['Plоt', 'Bold'],
  ] as const;
  const given: unknown[] = [
    null,
    {},
    { like: 'website' },
    { like: 'x' },
    { like: 'store', name: 'Mine', families: 100 },
    { like: 'store', name: 'x'.repeat(120) },
    { like: 'store', name: 'x'.repeat(121) },
    { like: 'store', odd: 1 },
    { like: 'store', limits: { faces: 1 } },
    { like: 'store', twins: 'refused' },
    { like: 'store', families: 101 },
  ];
  const rules = rulesOf(PROFILES[0]!);
  // Every rule with something that it cannot be, alone and all together.
  const wrong: unknown[] = [
    null,
    [],
    {},
    ...Object.keys(rules).flatMap((key) => [null, 0, 'x', {}, []].map((v) => ({ ...rules, [key]: v }))),
    { ...rules, accepts: { ...rules.accepts, formats: ['ttf', 'ttf'], prefer: 'woff' } },
    { ...rules, twins: 'refused', replacing: 'over' },
  ];
  expect(
    changedSinceReview('place-words', [
      ['sizes', sizes.map(mib)],
      ['lists', lists.map((l) => formatList([...l]))],
      ['keys', pairs.map(([f, s]) => twinKey(f, s))],
      ['batch', batchOf([...pairs, ...pairs].map(([family, style]) => ({ family, style })))],
      ...wrong.map((w, i) => [`rules ${i}`, contradictions(w)] as const),
      ...given.map((g, i) => [`profile ${i}`, profileFrom(g)] as const),
    ]),
  ).toEqual([]);
});
