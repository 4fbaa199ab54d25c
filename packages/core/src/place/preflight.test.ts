import { decodeEmbedding } from '../face/index.js';
import { verdict } from '../rights/index.js';
import { preflight, profile, type PreflightInput } from './index.js';

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
const input = (changes: Partial<PreflightInput> = {}): PreflightInput => ({
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
});
const codes = (changes: Partial<PreflightInput> = {}): string[] => preflight(website, input(changes)).map((f) => `${f.severity} ${f.code}`);

test('the container is foreseen, and the remedy is one press', () => {
  expect(codes()).toEqual(['stops format']);
  expect(preflight(website, input())[0]!.remedy).toEqual({ action: 'convert', to: 'woff2', label: 'Convert to WOFF2' });
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
  expect(preflight(website, input({ files: [{ format: 'woff', bytes: 2_000_000 }] }))[0]!.remedy).toMatchObject({ to: 'woff2' });
  expect(codes({ embedding: decodeEmbedding(2, 4) })).toContain('stops embedding-restricted');
  expect(codes({ embedding: decodeEmbedding(0x200, 4) })).toContain('stops embedding-bitmap-only');
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
  for (const f of preflight(website, input({ embedding: decodeEmbedding(2, 4) }))) {
    expect(f.message.split('. ').length).toBeGreaterThan(1);
    expect(f.remedy).not.toBeNull();
  }
});
