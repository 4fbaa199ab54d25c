import type { EntityManager } from 'typeorm';
import { libraryAct } from '@orderly-glyph/schema';
import type { FamilyRow } from '../../faces/index.js';
import { type Act, ACTS, type ActContext, Steps } from './index.js';

test('every act of the schema has its file, and no other', () => {
  const told = libraryAct.options.map((o) => o.shape.act.value as string);
  expect(ACTS.map((a) => a.id).sort()).toEqual(told.sort());
});

/** An act that is not shipped: all labels of some families in capitals. */
const SHOUT: Act<{ act: string; familyIds: string[] }> = {
  id: 'shout',
  async plan({ steps, families }, { familyIds }) {
    const rows = await families(familyIds);
    rows.forEach((f) => steps.set('family', f, { labels: (f.labels ?? []).map((l) => l.toUpperCase()) }));
    return { summary: `${rows.length} families shouted` };
  },
};

test('one more act says what it changes, and only what really differs is a step', async () => {
  const rows = [
    { id: 'a', labels: ['market', 'spring'] },
    { id: 'b', labels: ['LOUD'] },
  ] as FamilyRow[];
  const steps = new Steps();
  const context = { manager: {} as EntityManager, workspaceId: 'w', steps, families: () => Promise.resolve(rows) } as unknown as ActContext;
  expect(await SHOUT.plan(context, { act: 'shout', familyIds: ['a', 'b'] })).toEqual({ summary: '2 families shouted' });
  expect(steps.list).toEqual([
    { table: 'family', id: 'a', before: { labels: ['market', 'spring'] }, after: { labels: ['MARKET', 'SPRING'] } },
  ]);
});
