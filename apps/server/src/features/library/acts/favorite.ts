import { nameOf, type ActOf } from './act.js';

export const FAVORITE: ActOf<'favorite'> = {
  id: 'favorite',
  async plan({ steps, families }, act) {
    const rows = await families(act.familyIds);
    rows.forEach((f) => steps.set('family', f, { favorite: act.on }));
    return { summary: `${nameOf(rows)} ${act.on ? 'made a favorite' : 'no longer a favorite'}` };
  },
};
