import { nameOf, type ActOf } from './act.js';

export const ARCHIVE: ActOf<'archive'> = {
  id: 'archive',
  async plan({ steps, families }, act) {
    const rows = await families(act.familyIds);
    rows.forEach((f) => steps.set('family', f, { archivedAt: act.on ? (f.archivedAt ?? new Date()) : null }));
    return { summary: `${nameOf(rows)} ${act.on ? 'archived' : 'back from the archive'}` };
  },
};
