import { fold } from './ledger.js';
import type { InstallEventKind } from './rows.js';

const at = (i: number): Date => new Date(Date.UTC(2026, 0, 1, 0, i));
const standing = (...kinds: InstallEventKind[]) =>
  fold(kinds.map((kind, i) => ({ kind, at: at(i), note: kind === 'assigned' ? 'headings' : '' })));

test('a role that another face took over is its role no longer', () => {
  const events = [
    { kind: 'verified', at: at(0), note: '' },
    { kind: 'assigned', at: at(1), note: 'headings' },
    { kind: 'assigned', at: at(2), note: '' },
    { kind: 'verified', at: at(3), note: '' },
  ] as const;
  expect(fold(events.slice(0, 2)).role).toBe('headings');
  expect(fold(events).role).toBeNull();
});

test('how an install stands follows from its events alone', () => {
  expect(standing('planned')).toMatchObject({ state: 'open', installedAt: null });
  expect(standing('planned', 'put')).toMatchObject({ state: 'put', installedAt: null });
  expect(standing('planned', 'put', 'verified')).toMatchObject({ state: 'installed', installedAt: at(2), removedAt: null });
  expect(standing('planned', 'put', 'verified', 'assigned')).toMatchObject({ state: 'installed', role: 'headings' });
  expect(standing('planned', 'absent')).toMatchObject({ state: 'gone', installedAt: null });
  expect(standing('planned', 'unknown')).toMatchObject({ state: 'unknown', installedAt: null });
  // Until somebody knows that it is off, it counts as being there.
  expect(standing('planned', 'put', 'verified', 'removing')).toMatchObject({ state: 'open', removedAt: null });
  expect(standing('planned', 'put', 'verified', 'removing', 'unknown')).toMatchObject({ state: 'unknown', removedAt: null });
  expect(standing('planned', 'put', 'verified', 'removing', 'withdrawn')).toMatchObject({ state: 'gone', removedAt: at(4) });
  // A place that would not let go of it: it is where it was.
  expect(standing('planned', 'put', 'verified', 'removing', 'verified')).toMatchObject({
    state: 'installed',
    installedAt: at(2),
    removedAt: null,
  });
});
