import { blankLicense } from '@orderly-glyph/schema';
import { merge, put } from './merge';

test('what only one changed is taken, what both changed is listed and chosen', () => {
  const base = { ...blankLicense(['f1']), name: 'Plot', uses: { website: 'yes', logo: 'ask' } as const, limits: { website: 100 } };
  const mine = { ...base, name: 'Plot Web', uses: { website: 'no', logo: 'ask' } as const, note: 'mine' };
  const theirs = { ...base, name: 'Plot Web License', uses: { website: 'yes', logo: 'yes' } as const, limits: {}, endsOn: '2027-01-01' };
  const { merged, clashes } = merge(base, mine, theirs);
  expect(merged).toMatchObject({ name: 'Plot Web', uses: { website: 'no', logo: 'yes' }, note: 'mine', endsOn: '2027-01-01', limits: {} });
  expect(clashes).toEqual([{ path: 'name', label: 'Name', mine: 'Plot Web', theirs: 'Plot Web License' }]);
  expect(put(merged, 'name', theirs).name).toBe('Plot Web License');
  expect(merge(base, base, theirs)).toEqual({ merged: theirs, clashes: [] });
  expect(merge(base, { ...base, uses: { website: 'no' } }, { ...base, uses: {} }).clashes.map((c) => [c.label, c.mine, c.theirs])).toEqual([
    ['Website', 'no', 'nothing'],
  ]);
});
