import { random } from '../../test/fonts.js';
import { decodeEmbedding } from '../face/index.js';
import { LIMIT_KEYS, LIMITS, STARTING_POINTS, USES, verdict, verdictTable, type Answer, type LicenseRecord, type Use } from './index.js';

const next = random(23);
const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
const DAY = '2026-06-15';
const DAYS = [null, '2025-01-01', '2026-06-14', DAY, '2026-06-16', '2027-01-01'] as const;
const some = <T>(keys: readonly string[], value: () => T): Record<string, T> =>
  Object.fromEntries(keys.filter(() => next() < 0.6).map((k) => [k, value()]));
let number = 0;
const anyRecord = (): LicenseRecord => ({
  id: String(number++),
  name: 'A license',
  kind: pick(['open', 'free', 'bought', 'subscription', 'made-here', 'lent', 'unknown']),
  spdxId: pick([null, null, 'OFL-1.1', 'MIT', 'CC-BY-NC-4.0']),
  confirmed: next() < 0.8,
  uses: some(USES, () => pick<Answer>(['yes', 'yes', 'ask', 'no'])),
  startsOn: pick(DAYS),
  endsOn: pick(DAYS),
  noticeOn: pick(DAYS),
  limits: some(LIMIT_KEYS, () => pick([1, 10, 1000])),
  counters: some(LIMIT_KEYS, () => pick([0, 8, 9, 11, 800, 2000])),
  reservedNames: pick([[], [], ['Plot']]),
  duties: pick([[], ['Credit the maker.']]),
});
const FILES = [0, 2, 4, 8, 0x100, 0x200, 0x302].map((v) => decodeEmbedding(v, 4));
const RANK: Record<Answer, number> = { yes: 0, ask: 1, no: 2 };
const cases = Array.from({ length: 4000 }, () => ({
  licenses: Array.from({ length: Math.floor(next() * 4) }, anyRecord),
  embedding: pick(FILES),
  use: pick(USES),
}));

/** What must hold for every license, file and use that anybody could bring. */
test('a yes always stands on a confirmed record that says yes, runs, and is within every limit', () => {
  let granted = 0;
  for (const { licenses, embedding, use } of cases) {
    const v = verdict(use, licenses, embedding, DAY);
    if (v.answer !== 'yes') continue;
    granted++;
    const by = licenses.find((l) => l.id === v.licenseId)!;
    expect([by.uses[use], by.confirmed]).toEqual(['yes', true]);
    expect([by.startsOn ?? DAY, DAY].sort()).toEqual([by.startsOn ?? DAY, DAY]);
    expect([DAY, by.endsOn ?? DAY].sort()).toEqual([DAY, by.endsOn ?? DAY]);
    for (const key of LIMIT_KEYS.filter((k) => LIMITS[k].use === use))
      expect((by.counters?.[key] ?? 0) <= (by.limits?.[key] ?? Infinity)).toBe(true);
    for (const duty of by.duties ?? []) expect(v.duties).toContain(duty);
  }
  expect(granted).toBeGreaterThan(200);
});

test('what the file forbids is never a plain yes', () => {
  const served: readonly Use[] = ['website', 'online-store', 'design-tool', 'documents', 'app'];
  for (const { licenses, embedding, use } of cases) {
    const { answer } = verdict(use, licenses, embedding, DAY);
    if (served.includes(use) && (embedding.level === 'restricted' || embedding.bitmapOnly)) expect(answer).not.toBe('yes');
    if (use === 'changing' && embedding.noSubsetting) expect(answer).not.toBe('yes');
  }
});

test('one more license never makes an answer worse, and their order does not matter', () => {
  for (const { licenses, embedding, use } of cases) {
    const before = verdict(use, licenses, embedding, DAY).answer;
    // Nothing on record is a question; a record that says no settles it.
    if (licenses.length > 0)
      expect(RANK[verdict(use, [...licenses, anyRecord()], embedding, DAY).answer]).toBeLessThanOrEqual(RANK[before]);
    expect(verdict(use, [...licenses].reverse(), embedding, DAY).answer).toBe(before);
  }
});

test('every answer has a reason, and a remedy exactly where it is not yes', () => {
  for (const { licenses, embedding, use } of cases) {
    const v = verdict(use, licenses, embedding, DAY);
    expect(v.reasons.length).toBeGreaterThan(0);
    expect(v.reasons.every((r) => /[.!]$/.test(r))).toBe(true);
    expect(v.remedy === null).toBe(v.answer === 'yes');
  }
});

test('the table says what single verdicts say', () => {
  const table = verdictTable(cases, DAY);
  cases.forEach(({ licenses, embedding }, i) => {
    expect(table[i]).toEqual(USES.map((use) => verdict(use, licenses, embedding, DAY)));
  });
});

test('a table keeps faces of the same licenses apart where their files differ', () => {
  const license = {
    ...anyRecord(),
    kind: 'bought' as const,
    spdxId: null,
    confirmed: true,
    uses: { website: 'yes' as const },
    startsOn: null,
    endsOn: null,
    limits: {},
  };
  // Source: OpenType specification, OS/2, fsType: 2 restricted, 0x100 no subsetting, 0x200 bitmaps only.
  const [open, restricted, bitmaps] = verdictTable(
    [0, 2, 0x200].map((fsType) => ({ licenses: [license], embedding: decodeEmbedding(fsType, 4) })),
    DAY,
  );
  const web = USES.indexOf('website');
  expect([open![web]!.answer, restricted![web]!.answer, bitmaps![web]!.answer]).toEqual(['yes', 'ask', 'ask']);
  const changes = { ...license, reservedNames: [], uses: { changing: 'yes' as const } };
  const [may, whole] = verdictTable(
    [0, 0x100].map((fsType) => ({ licenses: [changes], embedding: decodeEmbedding(fsType, 4) })),
    DAY,
  );
  const changing = USES.indexOf('changing');
  expect([may![changing]!.answer, whole![changing]!.answer]).toEqual(['yes', 'ask']);
});

describe('starting points', () => {
  const by = (id: string) => STARTING_POINTS.find((p) => p.id === id)!;
  test('each settles or asks every use, counts only what it allows, and has a name of its own', () => {
    for (const p of STARTING_POINTS) {
      expect([p.id, Object.keys(p.uses).sort()]).toEqual([p.id, [...USES].sort()]);
      for (const key of LIMIT_KEYS) if (p.limits?.[key] !== undefined) expect([p.id, p.uses[LIMITS[key].use]]).toEqual([p.id, 'yes']);
    }
    expect(new Set(STARTING_POINTS.map((p) => p.name)).size).toBe(STARTING_POINTS.length);
  });
  test('they say what is common practice for their kind', () => {
    // Common practice: personal use is nothing that is sold; a desktop license is no web license and the other way round;
    // what was made during a subscription may stay, the face must go.
    expect(Object.values(by('personal').uses)).not.toContain('yes');
    expect([by('desktop').uses.website, by('desktop').limits]).toEqual(['no', { 'design-work': 1 }]);
    expect([by('web').uses.website, by('web').uses['design-work']]).toEqual(['yes', 'no']);
    expect(by('subscription').duties!.join(' ')).toMatch(/when the subscription ends.*may stay/);
    expect(new Set(Object.values(by('made-here').uses))).toEqual(new Set(['yes']));
    // Others typing with a face, and passing it on, are granted by none that was bought.
    for (const id of ['desktop', 'web', 'subscription', 'lent'])
      expect([by(id).uses['customers-words'], by(id).uses['passing-on']]).toEqual(['no', 'no']);
  });
});
