import { decodeEmbedding } from '../face/index.js';
import { verdict } from '../rights/index.js';
import { containerRecipe } from '../convert/index.js';
import { CHECKS, hardStop, isOverridable, preflight, PROFILES, profile, type CheckContext } from './index.js';

const website = profile('website')!;
const record = {
  id: 'l',
  name: 'OFL',
  kind: 'open',
  spdxId: 'OFL-1.1',
  confirmed: true,
  uses: { website: 'yes' },
  startsOn: null,
  endsOn: null,
} as const;
/** `convertTo` stands for the recipe that changes the container, `converted` for what it made. */
interface Input extends Omit<CheckContext, 'profile' | 'recipe' | 'made' | 'state'> {
  convertTo: string | null;
  converted: CheckContext['made'];
}
const input = (changes: Partial<Input> = {}): CheckContext => {
  const { convertTo, converted, ...rest }: Input = {
    faceName: 'Literata Regular',
    placeName: 'the shop',
    embedding: decodeEmbedding(0, 4),
    faults: [],
    verdicts: [verdict('website', [record], decodeEmbedding(0, 4), '2026-01-01')],
    notes: [],
    files: [{ format: 'ttf', bytes: 300_000 }],
    converted: null,
    convertTo: null,
    ...changes,
  };
  return {
    ...rest,
    profile: website,
    state: { format: rest.files[0]!.format, outlines: 'glyf', variable: false, color: false },
    recipe: convertTo ? containerRecipe(convertTo) : [],
    made: converted,
  };
};
const codes = (changes: Partial<Input> = {}): string[] => preflight(input(changes)).map((f) => `${f.severity} ${f.code}`);

test('the container is foreseen, and the remedy is one press', () => {
  expect(codes()).toEqual(['stops format']);
  expect(preflight(input())[0]!.remedies).toEqual([
    { id: 'convert', label: 'Convert to WOFF2', steps: containerRecipe('woff2'), goTo: null },
  ]);
  expect(codes({ convertTo: 'woff2', converted: { format: 'woff2', bytes: 90_000 } })).toEqual(['mended converted']);
  expect(
    codes({
      files: [
        { format: 'ttf', bytes: 1 },
        { format: 'woff2', bytes: 90_000 },
      ],
    }),
  ).toEqual([]);
});

test('size, embedding permission, faults and rights are foreseen', () => {
  expect(codes({ convertTo: 'woff2', converted: { format: 'woff2', bytes: 1024 * 1024 + 1 } })).toEqual(['stops too-large']);
  expect(codes({ convertTo: 'woff2', converted: { format: 'woff2', bytes: 1024 * 1024 } })).toEqual(['mended converted']);
  expect(codes({ files: [{ format: 'woff', bytes: 2_000_000 }] })).toEqual(['stops too-large']);
  expect(preflight(input({ files: [{ format: 'woff', bytes: 2_000_000 }] }))[0]!.remedies[0]!.steps).toEqual(containerRecipe('woff2'));
  expect(codes({ embedding: decodeEmbedding(2, 4) })).toContain('stops embedding-restricted');
  expect(codes({ embedding: decodeEmbedding(0x200, 4) })).toContain('stops embedding-bitmap-only');
  // A place that does not look at the bits takes such files; the license is another matter.
  const indifferent = { ...website, embedding: { restricted: 'accepted', bitmapOnly: 'accepted' } as const };
  for (const bits of [2, 0x200])
    expect(preflight({ ...input({ embedding: decodeEmbedding(bits, 4) }), profile: indifferent }).map((f) => f.code)).toEqual(['format']);
  expect(codes({ faults: [{ code: 'bad-glyph', severity: 'blocks', message: 'Glyph 3 is damaged.' }] })).toContain('stops bad-glyph');
  expect(codes({ faults: [{ code: 'bad-weight', severity: 'fault', message: 'Weight 4000.' }] })).not.toContain('stops bad-weight');
  expect(codes({ verdicts: [verdict('website', [], decodeEmbedding(0, 4), '2026-01-01')] })).toContain('ask right-unclear');
  expect(codes({ verdicts: [verdict('website', [{ ...record, endsOn: '2025-01-01' }], decodeEmbedding(0, 4), '2026-01-01')] })).toContain(
    'stops no-right',
  );
});

test('a conversion asks the right to change the file, and what is near its end is said', () => {
  const own = { ...record, spdxId: null, kind: 'bought' } as const;
  const changing = (answer: 'yes' | 'no') =>
    verdict('changing', [{ ...own, uses: { changing: answer } }], decodeEmbedding(0, 4), '2026-01-01', { change: 'container' });
  const yes = input().verdicts[0]!;
  const mended = { convertTo: 'woff2', converted: { format: 'woff2', bytes: 90_000 } } as const;
  expect(codes({ ...mended, verdicts: [yes, changing('no')] })).toContain('stops no-right-to-change');
  expect(codes({ ...mended, verdicts: [yes, changing('yes')] })).toEqual(['mended converted']);
  expect(codes({ ...mended, notes: ['It ends on 2026-01-20.'] })).toContain('note right-near-its-end');
});

test('a finding says what is wrong, why the place minds, and what mends it', () => {
  for (const f of preflight(input({ embedding: decodeEmbedding(2, 4) }))) {
    expect(f.message.split('. ').length).toBeGreaterThan(1);
    expect(f.remedies).toHaveLength(1);
  }
});

test('what a place refuses nobody may override, a missing right an owner may', () => {
  const no = verdict('website', [{ ...record, endsOn: '2025-01-01' }], decodeEmbedding(0, 4), '2026-01-01');
  const ready = [{ format: 'woff2', bytes: 1000 }] as const;
  const right = preflight(input({ verdicts: [no], files: ready }));
  expect([isOverridable(right), hardStop(right)]).toEqual([true, null]);
  const both = preflight(input({ verdicts: [no], files: ready, embedding: decodeEmbedding(2, 4) }));
  expect([isOverridable(both), hardStop(both)]).toEqual([false, expect.stringMatching(/forbids embedding/)]);
});

test('every profile names checks that exist, and formats it prefers are formats it takes', () => {
  for (const p of PROFILES) {
    expect(p.checks.filter((id) => !CHECKS.some((c) => c.id === id))).toEqual([]);
    expect(p.accepts.formats).toContain(p.accepts.prefer);
    for (const word of ['{workspace}', '{face}', '{place}']) expect(p.statement).toContain(word);
  }
});

test('a face that no step turns into what a folder takes is told so', () => {
  const folder = profile('folder')!;
  const look = (format: 'woff' | 'ttc', outlines: 'glyf' | 'CFF') =>
    preflight({
      ...input({ files: [{ format, bytes: 1000 }] }),
      profile: folder,
      state: { format, outlines, variable: false, color: false },
    })[0];
  expect(look('woff', 'CFF')!.remedies[0]!.steps).toEqual(containerRecipe('otf'));
  expect(look('woff', 'glyf')!.remedies[0]!.steps).toEqual(containerRecipe('ttf'));
});
