import { nameOf, refuseStale, type ActOf } from './act.js';

export const NOTE: ActOf<'note'> = {
  id: 'note',
  async plan({ steps, families }, act) {
    const rows = await families(act.familyIds);
    refuseStale(rows, act.version);
    rows.forEach((f) => steps.set('family', f, { note: act.note || null }));
    return { summary: `Note on ${nameOf(rows)} ${act.note ? 'written' : 'removed'}` };
  },
};
